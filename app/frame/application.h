// SPDX-License-Identifier: GPL-3.0-or-later
// The Qt application, which lets no exception through.
//
// Nothing of ours throws on purpose, but memory can run out and we can be wrong. What is thrown
// while an event is handled ends that event, not the program: the handler keeps the work aside and
// says what happened.
#pragma once

#include <QApplication>
#include <functional>

namespace uneven {

class Application : public QApplication {
  Q_OBJECT
 public:
  using QApplication::QApplication;

  // Called with what an exception says.
  void setFailureHandler(std::function<void(const QString& what)> handler);

  bool notify(QObject* receiver, QEvent* event) override;

 private:
  void failed(const char* what) noexcept;

  std::function<void(const QString&)> handler_;
  bool handling_ = false;
};

}  // namespace uneven
