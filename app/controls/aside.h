// SPDX-License-Identifier: GPL-3.0-or-later
// Long work on a thread of its own, asked for one question at a time.
//
//   Aside<Rendering> aside;
//   aside.ask([take](const AsideWork& work) { return renderLong(take, work.stop); },
//             [this](Rendering made) { show(std::move(made)); });
//
// The latest question wins: what runs is told to give up, its answer is dropped, and the new one
// begins once it has ended. An answer comes with the event loop, to the callback of its own
// question and to no other. What the work throws is thrown in the event that brings the answer,
// once its question's `failed` has been told.
//
// Threads: all but the work itself belong to the interface's thread. The work holds copies, never a
// widget, and may refer to what outlives its owner, such as the file system: the destructor waits
// for work that has begun. Work looks at `stop` often enough for that to last 50 ms at most (bench
// rows `stoppedFit`, `stoppedCheck`); what has not begun never does.
#pragma once

#include <QFutureWatcher>
#include <QThreadPool>
#include <QtConcurrent/QtConcurrentRun>
#include <atomic>
#include <exception>
#include <functional>
#include <memory>
#include <optional>
#include <stop_token>
#include <utility>

namespace uneven {

// What the work and its owner tell each other.
struct AsideWork {
  std::stop_token stop;
  mutable std::atomic<double> done = 0;  // 0..1

  bool cancelled() const { return stop.stop_requested(); }
};

template <typename T>
class Aside {
 public:
  using Work = std::function<T(const AsideWork&)>;
  using Answer = std::function<void(T)>;
  using Failed = std::function<void()>;

  // `pool`: where it waits its turn; the program's where none is given.
  explicit Aside(QThreadPool* pool = QThreadPool::globalInstance()) : pool_(pool) {
    QObject::connect(&watcher_, &QFutureWatcherBase::finished, &watcher_, [this] { ended(); });
  }
  ~Aside() {
    cancel();
    watcher_.disconnect();
    watcher_.future().waitForFinished();
  }
  Aside(const Aside&) = delete;
  Aside& operator=(const Aside&) = delete;

  void ask(Work work, Answer answer, Failed failed = {}) {
    cancel();
    next_ = Question{std::move(work), std::move(answer), std::move(failed)};
    if (job_ == nullptr) begin();
  }
  // Forgets what was asked.
  void cancel() {
    next_.reset();
    now_ = {};
    if (job_ == nullptr) return;
    job_->dropped = true;
    job_->source.request_stop();
  }
  // The work is to end early; what it answers still comes.
  void stop() {
    if (job_ != nullptr) job_->source.request_stop();
  }
  // Until what runs has ended. Its answer comes with the event loop all the same.
  void wait() { watcher_.future().waitForFinished(); }
  // Whether an answer is to come.
  bool busy() const { return next_.has_value() || static_cast<bool>(now_.answer); }
  double done() const { return job_ == nullptr ? 0 : job_->work.done.load(); }

 private:
  struct Question {
    Work work;
    Answer answer;
    Failed failed;
  };
  struct Job {
    std::stop_source source;
    AsideWork work{source.get_token()};
    std::atomic<bool> dropped = false;  // nobody asks any more
    // Of the worker's until it has ended.
    std::optional<T> made;
    std::exception_ptr thrown;
  };

  void begin() {
    now_ = *std::exchange(next_, std::nullopt);
    job_ = std::make_shared<Job>();
    watcher_.setFuture(QtConcurrent::run(pool_, [run = std::exchange(now_.work, {}), job = job_] {
      if (job->dropped) return;
      try {
        job->made = run(job->work);
      } catch (...) {
        job->thrown = std::current_exception();
      }
    }));
  }

  void ended() {
    const Question asked = std::exchange(now_, {});
    const std::shared_ptr<Job> job = std::exchange(job_, nullptr);
    if (next_) begin();
    if (!asked.answer) return;
    if (job->thrown) {
      if (asked.failed) asked.failed();
      std::rethrow_exception(job->thrown);
    }
    asked.answer(std::move(*job->made));
  }

  QThreadPool* pool_;
  QFutureWatcher<void> watcher_;
  std::shared_ptr<Job> job_;      // that runs; nullptr: none
  Question now_;                  // its question, but for the work
  std::optional<Question> next_;  // waits for it to end
};

}  // namespace uneven
