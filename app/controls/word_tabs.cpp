// SPDX-License-Identifier: GPL-3.0-or-later
// The row of words.
#include "app/controls/word_tabs.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QPainter>
#include <QToolTip>

#include "app/controls/theme.h"

namespace uneven {

WordTabs::WordTabs(QWidget* parent) : QWidget(parent) {
  setFixedHeight(28);
  setFocusPolicy(Qt::TabFocus);
}

void WordTabs::setPurpose(const QString& purpose) {
  purpose_ = purpose;
  tell();
}

void WordTabs::tell() {
  setAccessibleName(tr("%1: %2").arg(purpose_, words_.value(current_)));
}

void WordTabs::addWord(const QString& word, const QString& tip) {
  words_ << word;
  tips_ << tip;
  update();
  tell();
}

void WordTabs::setWord(int index, const QString& word) {
  words_[index] = word;
  update();
  tell();
}

void WordTabs::setCurrent(int index) {
  current_ = index;
  update();
  tell();
}

QRect WordTabs::wordRect(int index) const {
  const auto count = std::max<int>(1, static_cast<int>(words_.size()));
  const int left = width() * index / count;
  return {left, 0, width() * (index + 1) / count - left, height()};
}

int WordTabs::wordAt(const QPoint& p) const {
  for (int i = 0; i < words_.size(); ++i) {
    if (wordRect(i).contains(p)) return i;
  }
  return -1;
}

void WordTabs::paintEvent(QPaintEvent* /*event*/) {
  QPainter p(this);
  for (int i = 0; i < words_.size(); ++i) {
    const QRect rect = wordRect(i);
    const bool here = i == current_;
    p.setFont(theme::font(13, here ? theme::Weight::kSemiBold : theme::Weight::kRegular));
    p.setPen(here ? theme::kInk : theme::kQuiet);
    p.drawText(rect, Qt::AlignCenter, words_[i]);
    if (!here) continue;
    p.fillRect(QRect(rect.left() + 6, rect.bottom() - 3, rect.width() - 12, 2), theme::kBrassEdge);
    if (hasFocus()) {
      p.setPen(QPen(theme::kBrassEdge, 1, Qt::DotLine));
      p.drawRect(rect.adjusted(2, 2, -3, -6));
    }
  }
}

void WordTabs::mousePressEvent(QMouseEvent* event) {
  const int word = wordAt(event->position().toPoint());
  if (word >= 0) Q_EMIT chosen(word);
}

void WordTabs::keyPressEvent(QKeyEvent* event) {
  const int last = static_cast<int>(words_.size()) - 1;
  if (event->key() == Qt::Key_Right) return Q_EMIT chosen(std::min(last, current_ + 1));
  if (event->key() == Qt::Key_Left) return Q_EMIT chosen(std::max(0, current_ - 1));
  QWidget::keyPressEvent(event);
}

bool WordTabs::event(QEvent* event) {
  if (event->type() == QEvent::ToolTip) {
    const auto* help = static_cast<QHelpEvent*>(event);
    const int word = wordAt(help->pos());
    if (word >= 0) QToolTip::showText(help->globalPos(), tips_[word], this);
    return true;
  }
  return QWidget::event(event);
}

}  // namespace uneven
