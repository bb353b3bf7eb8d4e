// SPDX-License-Identifier: GPL-3.0-or-later
// One window a song file, among all programs of this user.
//
// Whoever has a file open holds a local socket of its name, which the system takes away when the
// program ends, however it ends. Whoever cannot have the name knocks at it, and the window that has
// it comes to the front. Threads: the interface's.
#pragma once

#include <QObject>
#include <QString>
#include <functional>
#include <memory>

class QSocketNotifier;

namespace uneven {

class OnlyWindow : public QObject {
  Q_OBJECT
 public:
  // `knocked`: somebody else wanted the file.
  // nullptr: another window has it, and has been told. Links lead to one file.
  static std::unique_ptr<OnlyWindow> of(const QString& file, std::function<void()> knocked);
  ~OnlyWindow() override;
  OnlyWindow(const OnlyWindow&) = delete;
  OnlyWindow& operator=(const OnlyWindow&) = delete;

 private:
  OnlyWindow(int socket, std::function<void()> knocked);
  int socket_;  // -1: this system has none; then nobody is asked
  std::function<void()> knocked_;
};

}  // namespace uneven
