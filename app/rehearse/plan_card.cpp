// SPDX-License-Identifier: GPL-3.0-or-later
// The card of the plan.
#include "app/rehearse/plan_card.h"

#include <QGridLayout>
#include <QLabel>
#include <cmath>

#include "app/controls/action_button.h"
#include "app/controls/labels.h"

namespace uneven {
namespace {

QString itemText(const PlanItem& item) {
  const QString minutes =
      numberText(item.minutes, item.minutes == std::floor(item.minutes) ? 0 : 1);
  if (item.groove.empty()) return PlanCard::tr("%1 min  %2").arg(minutes, qs(item.step));
  const QString tempos =
      item.bpmFrom == item.bpmTo
          ? numberText(item.bpmTo, 0)
          : PlanCard::tr("%1 to %2").arg(numberText(item.bpmFrom, 0), numberText(item.bpmTo, 0));
  return PlanCard::tr("%1 min  %2, %3 BPM").arg(minutes, qs(item.step), tempos);
}

}  // namespace

PlanCard::PlanCard(Rehearsing& rehearsing, QWidget* parent)
    : FieldCard(parent), rehearsing_(rehearsing) {
  QGridLayout* grid = section(tr("Days"));
  const auto number = [&](const Row& row, const QString& unit, NumberField::Range range,
                          auto member) {
    addNumber(
        grid, row, unit, range,
        [this, member] { return static_cast<double>(rehearsing_.settings().*member); },
        [this, member](double v, bool) {
          rehearsing_.change([&](RehearseSettings& s) {
            s.*member = static_cast<std::remove_reference_t<decltype(s.*member)>>(v);
          });
        });
  };
  number(
      {tr("Minutes a day"), "plan-minutes", tr("No day has more. From 20 on a tenth is a break")},
      tr("min"), {1, kPlanMinutesMax, 1, 0, false}, &RehearseSettings::minutes);
  number({tr("Days"), "plan-days", tr("How far ahead, 1 to 366")}, tr("days"),
         {1, kPlanDaysMax, 1, 0, false}, &RehearseSettings::days);
  number({tr("A rest every"), "plan-rest", tr("So many days; 0: none")}, tr("days"),
         {0, 14, 1, 0, false}, &RehearseSettings::restEvery);
  section(tr("Today"));
  today_ = addText(QStringLiteral("plan-today"));
  addButton(tr("Take it"), QStringLiteral("plan-take"),
            tr("Sets step, tempos and click by today's sheet (S)"),
            [this] { rehearsing_.takeToday(); });
  section(tr("The next days"));
  ahead_ = addText(QStringLiteral("plan-ahead"));
  pace_ = addText(QStringLiteral("plan-pace"));
  addButton(tr("Calendar…"), QStringLiteral("plan-calendar"),
            tr("All days as an iCalendar file, for a calendar"),
            [this] { Q_EMIT calendarWanted(); });
  addButton(
      tr("Copy"), QStringLiteral("plan-copy"), tr("All days as text, on the clipboard (Ctrl+C)"),
      [this] { Q_EMIT copyWanted(); }, true);
  addStretch();
  connect(&rehearsing_, &Rehearsing::changed, this, [this] {
    if (isVisible()) read();
  });
}

QString PlanCard::sheet() const {
  const auto& plan = rehearsing_.plan();
  if (!plan || plan->days.empty()) return rehearsing_.planError();
  QStringList lines;
  for (const PlanItem& item : plan->days.front().items) lines << itemText(item);
  return lines.isEmpty() ? tr("a rest") : lines.join(QLatin1Char('\n'));
}

void PlanCard::read() {
  FieldCard::read();
  today_->setText(sheet());
  QStringList days;
  const auto& plan = rehearsing_.plan();
  const std::chrono::sys_days today = rehearsing_.today();
  for (std::size_t i = 1; plan && i < plan->days.size() && i < 8; ++i) {
    const PlanDay& day = plan->days[i];
    days << tr("%1: %2").arg(qs(spokenDate(day.date, today)),
                             day.items.empty() ? tr("a rest") : itemText(day.items.front()));
  }
  ahead_->setText(days.join(QLatin1Char('\n')));
  QString pace = qs(paceText(rehearsing_.log().summary().days, rehearsing_.ladder().to));
  if (plan) {
    for (const std::string& note : plan->notes) pace += QStringLiteral("\n") + qs(note);
  }
  pace_->setText(pace);
}

}  // namespace uneven
