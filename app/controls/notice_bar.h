// SPDX-License-Identifier: GPL-3.0-or-later
// A bar over the stage for something that needs an answer but does not stop the work.
#pragma once

#include <QWidget>
#include <functional>

class QLabel;
class QProgressBar;

namespace uneven {

class ActionButton;

class NoticeBar : public QWidget {
  Q_OBJECT
 public:
  // Lies over the foot of `over`, which stays as it is; as wide as that, and as high as it must be.
  explicit NoticeBar(QWidget& over);

  // Shows the bar; either answer hides it again. Without `no` there is only one button.
  void ask(const QString& text, const QString& yes, std::function<void()> onYes,
           const QString& no = {}, std::function<void()> onNo = {});
  // Something that takes its time, with a bar of how far it is; ended by the caller's hide().
  void showProgress(const QString& text, std::function<void()> onCancel);
  void setProgress(double done);  // 0..1

 protected:
  void paintEvent(QPaintEvent* event) override;
  void showEvent(QShowEvent* event) override;
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void place();

  QWidget& over_;
  QLabel* text_;
  QProgressBar* bar_;
  ActionButton* yes_;
  ActionButton* no_;
  std::function<void()> onYes_;
  std::function<void()> onNo_;
};

}  // namespace uneven
