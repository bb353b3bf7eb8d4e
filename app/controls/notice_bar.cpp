// SPDX-License-Identifier: GPL-3.0-or-later
// The notice bar.
#include "app/controls/notice_bar.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QProgressBar>
#include <algorithm>

#include "app/controls/action_button.h"
#include "app/controls/theme.h"

namespace uneven {

NoticeBar::NoticeBar(QWidget& over)
    : QWidget(over.parentWidget()),
      over_(over),
      text_(new QLabel(this)),
      bar_(new QProgressBar(this)),
      yes_(new ActionButton({}, ActionButton::Tone::kMain, this)),
      no_(new ActionButton({}, ActionButton::Tone::kQuiet, this)) {
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(20, 8, 20, 8);
  text_->setWordWrap(true);
  text_->setTextFormat(Qt::PlainText);
  layout->addWidget(text_, 1);
  bar_->setTextVisible(false);
  bar_->setFixedWidth(260);
  bar_->hide();
  layout->addWidget(bar_);
  layout->addWidget(no_);
  layout->addWidget(yes_);
  yes_->setObjectName(QStringLiteral("notice-yes"));
  no_->setObjectName(QStringLiteral("notice-no"));
  const auto answer = [this](std::function<void()>& chosen) {
    const std::function<void()> run = chosen;
    hide();
    if (run) run();
  };
  connect(yes_, &QPushButton::clicked, this, [this, answer] { answer(onYes_); });
  connect(no_, &QPushButton::clicked, this, [this, answer] { answer(onNo_); });
  over.installEventFilter(this);
  hide();
}

void NoticeBar::place() {
  const QRect room = over_.geometry();
  const int height = layout()->hasHeightForWidth() ? layout()->heightForWidth(room.width())
                                                   : layout()->sizeHint().height();
  const int high = std::min(height, room.height());
  setGeometry(room.x(), room.y() + room.height() - high, room.width(), high);
  raise();
}

void NoticeBar::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  place();
}

bool NoticeBar::eventFilter(QObject* watched, QEvent* event) {
  const bool moved = event->type() == QEvent::Resize || event->type() == QEvent::Move;
  if (watched == &over_ && moved && isVisible()) place();
  return QWidget::eventFilter(watched, event);
}

void NoticeBar::ask(const QString& text, const QString& yes, std::function<void()> onYes,
                    const QString& no, std::function<void()> onNo) {
  text_->setText(text);
  bar_->hide();
  yes_->setText(yes);
  no_->setText(no);
  no_->setVisible(!no.isEmpty());
  onYes_ = std::move(onYes);
  onNo_ = std::move(onNo);
  show();
  place();
}

void NoticeBar::showProgress(const QString& text, std::function<void()> onCancel) {
  ask(text, tr("Cancel"), std::move(onCancel));
  bar_->setRange(0, 0);
  bar_->show();
}

void NoticeBar::setProgress(double done) {
  if (done <= 0) return;
  bar_->setRange(0, 1000);
  bar_->setValue(static_cast<int>(1000 * done));
}

void NoticeBar::paintEvent(QPaintEvent* /*event*/) {
  QPainter p(this);
  p.fillRect(rect(), theme::kChosen);
  p.fillRect(0, 0, width(), 1, theme::kChosenEdge);
}

}  // namespace uneven
