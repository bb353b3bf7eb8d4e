// SPDX-License-Identifier: GPL-3.0-or-later
// A button: the one thing to do (dark), or the other answer (quiet).
#pragma once

#include <QPushButton>

namespace uneven {

class ActionButton : public QPushButton {
  Q_OBJECT
 public:
  enum class Tone { kMain, kQuiet };
  ActionButton(const QString& text, Tone tone, QWidget* parent = nullptr);
  QSize sizeHint() const override;

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  Tone tone_;
};

}  // namespace uneven
