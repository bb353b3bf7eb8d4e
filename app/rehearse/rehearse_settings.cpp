// SPDX-License-Identifier: GPL-3.0-or-later
// What Rehearse remembers from one start to the next.
#include <QSettings>
#include <cmath>

#include "app/controls/labels.h"
#include "app/rehearse/rehearsing.h"

namespace uneven {
namespace {

// Each setting with its name and limits, for both ways.
template <typename Visit>
void visit(RehearseSettings& s, Visit number) {
  number("by", s.by, 0, 5);
  number("climb", s.climb, 0, 1);
  number("step", s.step, 0, 50);
  number("percent", s.percent, 0, 1);
  number("up", s.up, 1, 20);
  number("down", s.down, 0, 20);
  number("rounds", s.rounds, 0, 64);
  number("run-on", s.runOn, 0, 1);
  number("behind", s.behind, 0, 2);
  number("times", s.times, 1, 16);
  number("count-in", s.countIn, 0, 2);
  number("late", s.limits.late, 1, 200);
  number("spread", s.limits.sd, 1, 100);
  number("left", s.limits.left, 0, 100);
  number("pad-clean", s.pads[0], -1, 127);
  number("pad-not-yet", s.pads[1], -1, 127);
  number("pad-next", s.pads[2], -1, 127);
  number("pad-back", s.pads[3], -1, 127);
  number("minutes", s.minutes, 1, kPlanMinutesMax);
  number("days", s.days, 1, kPlanDaysMax);
  number("rest-every", s.restEvery, 0, 14);
  number("caution-read", s.cautionRead, 0, 1);
}

double plain(Milliseconds ms) {
  return ms.count();
}
template <typename T>
double plain(T value) {
  return static_cast<double>(value);
}

}  // namespace

void Rehearsing::readSettings(const QSettings& settings) {
  visit(settings_, [&](const char* name, auto& value, double least, double most) {
    bool good = false;
    const double read =
        settings.value(QStringLiteral("rehearse/") + QLatin1String(name)).toDouble(&good);
    if (!good || !std::isfinite(read)) return;
    value = std::remove_reference_t<decltype(value)>(std::clamp(read, least, most));
  });
  if (const ClickPattern* click =
          findClick(settings.value(QStringLiteral("rehearse/click")).toString().toStdString()))
    settings_.click = *click;
  settings_.fill = settings.value(QStringLiteral("rehearse/fill")).toString().toStdString();
  const QVariantMap latencies = settings.value(QStringLiteral("rehearse/latencies")).toMap();
  for (auto it = latencies.begin(); it != latencies.end(); ++it) {
    const double ms = it.value().toDouble();
    if (std::abs(ms) < 1000) latencies_[it.key().toStdString()] = ms;
  }
  breakDown();
}

void Rehearsing::writeSettings(QSettings& settings) const {
  RehearseSettings now = settings_;
  visit(now, [&](const char* name, auto& value, double, double) {
    settings.setValue(QStringLiteral("rehearse/") + QLatin1String(name), plain(value));
  });
  settings.setValue(QStringLiteral("rehearse/click"), qs(settings_.click.id));
  settings.setValue(QStringLiteral("rehearse/fill"), qs(settings_.fill));
  QVariantMap latencies;
  for (const auto& [source, ms] : latencies_) latencies[qs(source)] = ms;
  settings.setValue(QStringLiteral("rehearse/latencies"), latencies);
}

}  // namespace uneven
