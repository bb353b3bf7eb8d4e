// SPDX-License-Identifier: GPL-3.0-or-later
// Long work on a thread of its own, asked for one question at a time.
//
//   Aside<Rendering> aside;
//   aside.ask([take](const AsideWork& work) { return renderLong(take, work); },
//             [this](Rendering made) { show(std::move(made)); });
//
// The latest question wins: what runs is told to give up, its answer is dropped, and the new one
// begins once it has ended. An answer comes with the event loop, to the callback of its own
// question and to no other. What the work throws is thrown in the event that brings the answer.
//
// Threads: all but the work itself belong to the interface's thread. The work holds copies, never a
// widget. Nothing waits but the destructor, for work that does not look at `cancelled`.
#pragma once

#include <QFutureWatcher>
#include <QThreadPool>
#include <QtConcurrent/QtConcurrentRun>
#include <atomic>
#include <functional>
#include <memory>
#include <optional>

namespace uneven {

// What the work and its owner tell each other.
struct AsideWork {
  std::atomic<bool> cancelled = false;
  mutable std::atomic<double> done = 0;  // 0..1
};

template <typename T>
class Aside {
 public:
  using Work = std::function<T(const AsideWork&)>;
  using Answer = std::function<void(T)>;

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

  void ask(Work work, Answer answer) {
    cancel();
    next_ = Question{std::move(work), std::move(answer)};
    if (!running_) begin();
  }
  // Forgets what was asked.
  void cancel() {
    next_.reset();
    answer_ = {};
    if (work_ != nullptr) work_->cancelled = true;
  }
  // The work is to end early; what it answers still comes.
  void stop() {
    if (work_ != nullptr) work_->cancelled = true;
  }
  // Whether an answer is to come.
  bool busy() const { return next_.has_value() || static_cast<bool>(answer_); }
  double done() const { return work_ == nullptr ? 0 : work_->done.load(); }

 private:
  struct Question {
    Work work;
    Answer answer;
  };

  void begin() {
    Question question = *std::exchange(next_, std::nullopt);
    answer_ = std::move(question.answer);
    work_ = std::make_shared<AsideWork>();
    running_ = true;
    watcher_.setFuture(QtConcurrent::run(pool_, [run = std::move(question.work), work = work_] {
      return std::make_shared<T>(run(*work));
    }));
  }

  void ended() {
    running_ = false;
    const Answer answer = std::exchange(answer_, {});
    QFuture<std::shared_ptr<T>> future = watcher_.future();
    watcher_.setFuture({});  // what nobody waits for any more is let go
    if (next_) begin();
    if (!answer) return;
    future.waitForFinished();  // what it threw is thrown here
    answer(std::move(*future.result()));
  }

  QThreadPool* pool_;
  QFutureWatcher<std::shared_ptr<T>> watcher_;
  std::shared_ptr<AsideWork> work_;
  std::optional<Question> next_;
  Answer answer_;
  bool running_ = false;
};

}  // namespace uneven
