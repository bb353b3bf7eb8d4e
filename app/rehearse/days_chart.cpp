// SPDX-License-Identifier: GPL-3.0-or-later
// Days as a chart.
#include "app/rehearse/days_chart.h"

#include <QPainter>
#include <algorithm>

#include "app/controls/labels.h"
#include "app/controls/theme.h"

namespace uneven {
namespace {

constexpr double kDaysLeft = 30, kDaysRight = 8, kDaysTop = 14, kDaysMinutes = 46, kDaysDates = 18;
constexpr int kDaysShown = 42, kDaysLeast = 10;

}  // namespace

DaysChart::DaysChart(Rehearsing& rehearsing, QWidget* parent)
    : QWidget(parent), rehearsing_(rehearsing) {
  setObjectName(QStringLiteral("days-chart"));
  setFixedHeight(250);
  setAccessibleName(tr("Tempo over days"));
  setToolTip(
      tr("The fastest clean tempo of each day, with the goal; below, the minutes of each day, "
         "all grooves"));
}

void DaysChart::paintEvent(QPaintEvent* /*event*/) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const LogSummary& log = rehearsing_.log().summary();
  const std::chrono::sys_days today = rehearsing_.today();
  std::chrono::sys_days first = today - std::chrono::days(kDaysLeast - 1);
  if (!log.days.empty()) first = std::min(first, log.days.front().date);
  first = std::max(first, today - std::chrono::days(kDaysShown - 1));
  const auto count = static_cast<double>((today - first).count()) + 1;
  const double bottom = height() - kDaysDates, floor = bottom - kDaysMinutes;
  const double goal = rehearsing_.ladder().to;
  double least = std::min(goal, rehearsing_.ladder().from), most = goal;
  for (const PractisedDay& day : log.days) {
    if (day.cleanBpm <= 0 || day.date < first) continue;
    least = std::min(least, day.cleanBpm);
    most = std::max(most, day.cleanBpm);
  }
  least -= 4;
  most += 4;
  const double each = (width() - kDaysLeft - kDaysRight) / count;
  const auto x = [&](std::chrono::sys_days date) {
    return kDaysLeft + (static_cast<double>((date - first).count()) + 0.5) * each;
  };
  const auto y = [&](double bpm) {
    return floor - 10 - (bpm - least) / (most - least) * (floor - 10 - kDaysTop);
  };
  p.setFont(theme::font(11));
  p.setPen(QPen(theme::kAttention, 1, Qt::DashLine));
  p.drawLine(QPointF(kDaysLeft, y(goal)), QPointF(width() - kDaysRight, y(goal)));
  p.setPen(theme::kQuiet);
  p.drawText(QRectF(0, y(goal) - 8, kDaysLeft - 4, 16), Qt::AlignRight | Qt::AlignVCenter,
             numberText(goal, 0));
  const double start = rehearsing_.ladder().from;
  p.fillRect(QRectF(kDaysLeft, y(start), width() - kDaysLeft - kDaysRight, 1), theme::kFaintLine);
  p.drawText(QRectF(0, y(start) - 8, kDaysLeft - 4, 16), Qt::AlignRight | Qt::AlignVCenter,
             numberText(start, 0));
  QPolygonF line;
  for (const PractisedDay& day : log.days) {
    if (day.cleanBpm > 0 && day.date >= first) line << QPointF(x(day.date), y(day.cleanBpm));
  }
  p.setPen(QPen(theme::kInk, 1.6));
  p.drawPolyline(line);
  p.setBrush(theme::kInk);
  for (const QPointF& point : line) p.drawEllipse(point, 3, 3);
  double longest = rehearsing_.settings().minutes;
  for (const auto& day : log.minutes) {
    const auto date = readDate(day.day);
    if (date && std::chrono::sys_days(*date) >= first) longest = std::max(longest, day.minutes);
  }
  p.fillRect(QRectF(kDaysLeft, bottom, width() - kDaysLeft - kDaysRight, 1), theme::kLaneLine);
  for (const auto& day : log.minutes) {
    const auto date = readDate(day.day);
    if (!date || std::chrono::sys_days(*date) < first || std::chrono::sys_days(*date) > today)
      continue;
    const double h = (kDaysMinutes - 8) * day.minutes / longest;
    p.fillRect(QRectF(x(*date) - 0.35 * each, bottom - h, 0.7 * each, h), theme::kBrass);
  }
  p.setPen(theme::kQuiet);
  p.drawText(QRectF(0, bottom - kDaysMinutes + 2, kDaysLeft - 4, 14), Qt::AlignRight,
             tr("%1′").arg(numberText(longest, 0)));
  const auto label = [&](std::chrono::sys_days date, Qt::Alignment side) {
    p.drawText(QRectF(kDaysLeft, bottom + 3, width() - kDaysLeft - kDaysRight, kDaysDates - 3),
               side, qs(spokenDate(date, today)));
  };
  label(first, Qt::AlignLeft);
  label(today, Qt::AlignRight);
  if (!line.isEmpty()) return;
  p.setFont(theme::font(12));
  p.drawText(
      QRectF(kDaysLeft, kDaysTop + 20, width() - kDaysLeft - kDaysRight, floor - kDaysTop - 40),
      Qt::AlignCenter | Qt::TextWordWrap, tr("No day with a clean time through yet"));
}

}  // namespace uneven
