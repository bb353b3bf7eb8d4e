// SPDX-License-Identifier: GPL-3.0-or-later
// The rail of stages.
#include "app/frame/stage_rail.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QPainter>
#include <QToolTip>

#include "app/controls/theme.h"

namespace uneven {

namespace {
constexpr int kStageRow = 44;
constexpr int kRailTop = 22;
}  // namespace

StageRail::StageRail(QWidget* parent) : QWidget(parent) {
  setObjectName(QStringLiteral("rail"));
  setFixedWidth(116);
  setFocusPolicy(Qt::TabFocus);
}

void StageRail::addStage(const QString& name, const QString& purpose) {
  names_ << name;
  purposes_ << purpose;
  update();
}

void StageRail::setCurrent(int index) {
  current_ = index;
  setAccessibleName(tr("Stage: %1").arg(names_.value(index)));
  update();
}

void StageRail::setCount(int index, std::optional<int> count) {
  counts_[index] = count;
  update();
}

std::optional<int> StageRail::count(int index) const {
  const auto found = counts_.find(index);
  return found == counts_.end() ? std::nullopt : found->second;
}

QRect StageRail::rowRect(int index) const {
  return {0, kRailTop + index * kStageRow, width() - 8, kStageRow - 6};
}

int StageRail::rowAt(const QPoint& p) const {
  for (int i = 0; i < names_.size(); ++i) {
    if (rowRect(i).contains(p)) return i;
  }
  return -1;
}

void StageRail::paintEvent(QPaintEvent* /*event*/) {
  QPainter p(this);
  for (int i = 0; i < names_.size(); ++i) {
    const QRect row = rowRect(i);
    if (i == current_) {
      p.fillRect(row, theme::kRailChosen);
      p.fillRect(QRect(0, row.top(), 4, row.height()), theme::kInk);
    }
    if (i == current_ && hasFocus()) {
      p.setPen(QPen(theme::kBrassEdge, 1, Qt::DotLine));
      p.drawRect(row.adjusted(8, 3, -4, -4));
    }
    p.setPen(theme::kInk);
    p.setFont(theme::font(13, i == current_ ? theme::Weight::kSemiBold : theme::Weight::kRegular));
    p.drawText(row.adjusted(20, 0, 0, 0), Qt::AlignVCenter | Qt::AlignLeft, names_[i]);
    const auto counted = counts_.find(i);
    if (counted == counts_.end() || counted->second == 0) continue;
    // Faint while it is being counted anew.
    p.setPen(counted->second ? theme::kBrassEdge : theme::kLine);
    p.setFont(theme::font(12, theme::Weight::kSemiBold));
    p.drawText(row.adjusted(0, 0, -10, 0), Qt::AlignVCenter | Qt::AlignRight,
               counted->second ? QString::number(*counted->second) : QStringLiteral("\u2026"));
  }
}

void StageRail::mousePressEvent(QMouseEvent* event) {
  const int row = rowAt(event->position().toPoint());
  if (row >= 0) Q_EMIT chosen(row);
}

void StageRail::keyPressEvent(QKeyEvent* event) {
  const int last = static_cast<int>(names_.size()) - 1;
  if (event->key() == Qt::Key_Down) return Q_EMIT chosen(std::min(last, current_ + 1));
  if (event->key() == Qt::Key_Up) return Q_EMIT chosen(std::max(0, current_ - 1));
  QWidget::keyPressEvent(event);
}

bool StageRail::event(QEvent* event) {
  if (event->type() == QEvent::ToolTip) {
    const auto* help = static_cast<QHelpEvent*>(event);
    const int row = rowAt(help->pos());
    if (row >= 0) QToolTip::showText(help->globalPos(), purposes_[row], this);
    return true;
  }
  return QWidget::event(event);
}

}  // namespace uneven
