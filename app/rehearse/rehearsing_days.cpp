// SPDX-License-Identifier: GPL-3.0-or-later
// The delay of pads, the plan of the days, and what changes as settings do.
#include <algorithm>
#include <cmath>

#include "app/controls/labels.h"
#include "app/rehearse/rehearsing.h"

namespace uneven {

void Rehearsing::measureLatency() {
  if (!listens()) return Q_EMIT refused(tr("Choose what plays under Sound, MIDI from, first"));
  if (transport_.playing()) transport_.stop();
  measuring_ = true;
  lend();
  transport_.play();
  Q_EMIT said(tr("Play ten strokes on the click, on any pad"));
  Q_EMIT changed();
}

void Rehearsing::latencyHeard(Milliseconds at) {
  if (at.count() < 0) return;
  const double unit =
      (editing_.document().tempo().quarter() * groove().meter.countUnit().toDouble()).count();
  late_.emplace_back(std::remainder(at.count(), unit));
  if (late_.size() < kLatencyLeast) {
    Q_EMIT said(tr("%1 of %2").arg(late_.size()).arg(kLatencyLeast));
    return;
  }
  const Result<Milliseconds> found = latencyOf(std::exchange(late_, {}));
  transport_.stop();
  if (!found) return Q_EMIT refused(qs(found.error().message));
  latencies_[playIn_.source().toStdString()] = found->count();
  Q_EMIT said(tr("What %1 plays arrives %2 ms late: taken off from now on")
                  .arg(playIn_.source(), numberText(found->count(), 0)));
  Q_EMIT changed();
}

// --- Days ---

PlanAsked Rehearsing::asked() const {
  PlanAsked out;
  out.groove = groove().id;
  out.minutes = settings_.minutes;
  out.days = settings_.days;
  out.restEvery = settings_.restEvery;
  out.from = std::chrono::year_month_day(today());
  out.goal = ladder_.to;
  out.history = log_.summary().history;
  return out;
}

void Rehearsing::planAhead() {
  if (!shown_) return;
  planning_.ask([song = editing_.document().song(), asked = asked(), profile = checker_.profile()](
                    const AsideWork& work) { return planOf(song, asked, profile, work.stop); },
                [this](Result<PracticePlan> plan) {
                  planError_ = plan ? QString() : qs(plan.error().message);
                  plan_ = plan ? std::optional(*std::move(plan)) : std::nullopt;
                  Q_EMIT changed();
                });
}

void Rehearsing::takeToday() {
  if (!plan_ || plan_->days.empty() || plan_->days.front().items.empty())
    return Q_EMIT refused(tr("Today is a rest"));
  const PlanItem& item = plan_->days.front().items.front();
  RehearseSettings settings = settings_;
  settings.by = BrokenDown::kVoice;
  settings.step = item.bpmStep;
  settings.percent = false;
  if (const ClickPattern* click = findClick(item.click)) settings.click = *click;
  setSettings(std::move(settings));
  setLadder(item.bpmFrom, item.bpmTo);
  std::size_t step = steps_.size() - 1;
  for (std::size_t i = 0; i < steps_.size(); ++i) {
    if (steps_[i].title == item.step) step = i;
  }
  goTo(step, 0);
}

// --- Settings ---

void Rehearsing::setSettings(RehearseSettings settings) {
  const bool days = settings.minutes != settings_.minutes || settings.days != settings_.days ||
                    settings.restEvery != settings_.restEvery;
  const bool steps = settings.by != settings_.by;
  const bool plays = !(settings.click == settings_.click) || settings.behind != settings_.behind ||
                     settings.fill != settings_.fill || settings.times != settings_.times ||
                     settings.rounds != settings_.rounds || settings.countIn != settings_.countIn;
  const double before = bpm();
  settings_ = std::move(settings);
  // Another length of a time through: it begins anew.
  if (plays && ear_) transport_.stop();
  if (steps) place_.step = 0;
  breakDown();
  for (std::size_t i = 0; i < rungs_.size(); ++i) {
    if (std::abs(rungs_[i] - before) < std::abs(rungs_[place_.rung] - before)) place_.rung = i;
  }
  if (shown_ && !ear_) lend();
  if (days) planAhead();
  Q_EMIT changed();
}

void Rehearsing::change(const std::function<void(RehearseSettings&)>& how) {
  RehearseSettings changed = settings_;
  how(changed);
  setSettings(std::move(changed));
}

}  // namespace uneven
