// SPDX-License-Identifier: GPL-3.0-or-later
// Long work aside: the latest question wins, and nobody waits for what is not wanted any more.
#include "app/controls/aside.h"

#include <gtest/gtest.h>

#include <QElapsedTimer>
#include <QSemaphore>
#include <QtTest/QTest>
#include <stdexcept>
#include <thread>

#include "app/frame/application.h"

namespace uneven {
namespace {

// Ends when it is told to.
int untilStopped(const AsideWork& work) {
  while (!work.cancelled()) std::this_thread::yield();
  return -1;
}

TEST(Aside, TheLatestQuestionIsAnsweredAndTheOthersAreNot) {
  Aside<int> aside;
  std::vector<int> answers;
  const auto note = [&](int answer) { answers.push_back(answer); };
  aside.ask(untilStopped, note);
  aside.ask([](const AsideWork&) { return 2; }, note);
  aside.ask([](const AsideWork&) { return 3; }, note);
  EXPECT_TRUE(aside.busy());
  ASSERT_TRUE(QTest::qWaitFor([&] { return !aside.busy(); }, 10'000));
  QTest::qWait(20);
  EXPECT_EQ(answers, std::vector<int>{3});
}

TEST(Aside, WhatIsStoppedAnswersAndWhatIsCancelledDoesNot) {
  Aside<int> aside;
  int answer = 0;
  aside.ask(untilStopped, [&](int made) { answer = made; });
  aside.stop();
  ASSERT_TRUE(QTest::qWaitFor([&] { return answer != 0; }, 10'000));
  EXPECT_EQ(answer, -1);
  answer = 0;
  aside.ask(untilStopped, [&](int made) { answer = made; });
  aside.cancel();
  EXPECT_FALSE(aside.busy());
  aside.wait();
  QTest::qWait(20);
  EXPECT_EQ(answer, 0);
}

TEST(Aside, AnAnswerComesWithTheEventLoopAlsoWhereItIsWaitedFor) {
  Aside<int> aside;
  int answer = 0;
  aside.ask([](const AsideWork&) { return 7; }, [&](int made) { answer = made; });
  aside.wait();
  EXPECT_EQ(answer, 0);
  EXPECT_TRUE(QTest::qWaitFor([&] { return answer == 7; }, 10'000));
}

TEST(Aside, WhatIsThrownIsToldAndThenThrown) {
  auto* app = qobject_cast<Application*>(qApp);
  ASSERT_NE(app, nullptr);
  QString told;
  app->setFailureHandler([&](const QString& what) { told = what; });
  Aside<int> aside;
  bool failed = false, answered = false;
  aside.ask([](const AsideWork&) -> int { throw std::runtime_error("no more room"); },
            [&](int) { answered = true; }, [&] { failed = true; });
  EXPECT_TRUE(QTest::qWaitFor([&] { return !told.isEmpty(); }, 10'000));
  app->setFailureHandler({});
  EXPECT_TRUE(told.contains("no more room")) << told.toStdString();
  EXPECT_TRUE(failed);
  EXPECT_FALSE(answered);
  EXPECT_FALSE(aside.busy());
}

TEST(Aside, WhatIsThrownWhenNobodyAsksAnyMoreIsNotTold) {
  QSemaphore begun;
  {
    Aside<int> aside;
    aside.ask(
        [&](const AsideWork& work) -> int {
          begun.release();
          throw std::runtime_error(std::to_string(untilStopped(work)));
        },
        [](int) { FAIL() << "nobody is there any more"; });
    begun.acquire();
  }
  QTest::qWait(20);
}

TEST(Aside, ItsEndWaitsForWhatHasBegunAndNeverBeginsTheRest) {
  QThreadPool one;
  one.setMaxThreadCount(1);
  QSemaphore begun;
  std::atomic<bool> ended = false, began = false;
  {
    Aside<int> first(&one);
    first.ask(
        [&](const AsideWork& work) {
          begun.release();
          const int answer = untilStopped(work);
          ended = true;
          return answer;
        },
        [](int) { FAIL() << "nobody is there any more"; });
    begun.acquire();
    // It waits its turn behind one that nobody has told to stop.
    Aside<int> second(&one);
    second.ask(
        [&](const AsideWork&) {
          began = true;
          return 1;
        },
        [](int) { FAIL() << "nobody is there any more"; });
  }
  EXPECT_TRUE(ended);
  one.waitForDone();
  EXPECT_FALSE(began);
}

}  // namespace
}  // namespace uneven
