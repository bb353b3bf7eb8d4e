// SPDX-License-Identifier: GPL-3.0-or-later
// What of the transport can be set, and what is remembered of it.
#include <QSettings>
#include <algorithm>
#include <cmath>

#include "app/play/transport.h"

namespace uneven {

void Transport::setRange(Range range) {
  if (range == session_.plan.range) return;
  session_.plan.range = range;
  // Another stretch: from its own start or the cursor.
  if (playing()) play();
  Q_EMIT changed();
}

void Transport::lend(Plan plan) {
  const bool anew = plan.range != range();
  session_.lend(std::move(plan));
  // Another stretch begins anew; the rest holds from the next block on.
  if (playing() && anew) return play();
  remake();
  send();
  Q_EMIT changed();
}

void Transport::giveBack() {
  if (!session_.giveBack()) return;
  if (playing()) stop();
  Q_EMIT changed();
}

void Transport::setLoops(bool loop) {
  session_.plan.loop = loop;
  remake();
  Q_EMIT changed();
}

void Transport::setPercent(double percent) {
  session_.plan.percent = std::clamp(percent, kSlowest, kFastest);
  send();
  Q_EMIT changed();
}

void Transport::setCountInBars(int bars) {
  session_.plan.countIn = std::clamp(bars, 0, 2);
  Q_EMIT changed();
}

void Transport::setLevelDb(double db) {
  levelDb_ = std::clamp(db, kLevelMin, kLevelMax);
  send();
  Q_EMIT changed();
}

void Transport::setClick(ClickPlan click) {
  session_.plan.click = std::move(click);
  remake();
  Q_EMIT changed();
}

void Transport::setRoom(bool on) {
  room_ = on;
  send();
  Q_EMIT changed();
}

void Transport::setListening(Listening listening) {
  listening_ = std::move(listening);
  remake();
  Q_EMIT changed();
}

void Transport::setHeard(Heard heard) {
  if (heard == session_.plan.heard) return;
  session_.plan.heard = std::move(heard);
  remake();
  Q_EMIT changed();
}

Status Transport::setBank(const QString& file) {
  if (Status tried = sound_.tryBank(file); !tried) return tried;
  const bool again = playing();
  stop();
  sound_.setBank(file);
  if (again) play();
  Q_EMIT changed();
  return Done{};
}

void Transport::readSettings(const QSettings& settings) {
  const auto number = [&](const char* key, double fallback) {
    bool good = false;
    const double value = settings.value(QLatin1String(key)).toDouble(&good);
    return good && std::isfinite(value) ? value : fallback;
  };
  const auto whole = [&](const char* key, int fallback, int least, int most) {
    return std::clamp(static_cast<int>(number(key, fallback)), least, most);
  };
  session_.plan.range = static_cast<Range>(whole("sound/range", 0, 0, 4));
  session_.plan.loop = settings.value(QStringLiteral("sound/loop"), true).toBool();
  session_.plan.countIn = whole("sound/count-in", 0, 0, 2);
  levelDb_ = std::clamp(number("sound/level", kLevelFirst), kLevelMin, kLevelMax);
  session_.plan.click.unit = static_cast<ClickUnit>(whole("sound/click", 0, 0, 4));
  session_.plan.click.subdivideBelowBpm =
      std::clamp(number("sound/subdivide-below", 0), 0.0, kBpmMax);
  session_.plan.click.barsOn = whole("sound/click-bars-on", 1, 1, 16);
  session_.plan.click.barsOff = whole("sound/click-bars-off", 0, 0, 16);
  session_.plan.click.accentOne =
      settings.value(QStringLiteral("sound/click-accent"), true).toBool();
  session_.plan.click.levelDb = std::clamp(number("sound/click-level", -6), -40.0, 6.0);
  room_ = settings.value(QStringLiteral("sound/room"), true).toBool();
  byEar_ = settings.value(QStringLiteral("sound/by-ear"), true).toBool();
  guide_.levelDb = std::clamp(number("sound/guide-level", -6), kGuideMin, kGuideMax);
  sound_.readSettings(settings);
  Q_EMIT changed();
}

void Transport::writeSettings(QSettings& settings) const {
  const Plan& plan = session_.own();
  settings.setValue(QStringLiteral("sound/range"), static_cast<int>(plan.range));
  settings.setValue(QStringLiteral("sound/loop"), plan.loop);
  settings.setValue(QStringLiteral("sound/count-in"), plan.countIn);
  settings.setValue(QStringLiteral("sound/level"), levelDb_);
  settings.setValue(QStringLiteral("sound/click"), static_cast<int>(plan.click.unit));
  settings.setValue(QStringLiteral("sound/subdivide-below"), plan.click.subdivideBelowBpm);
  settings.setValue(QStringLiteral("sound/click-bars-on"), plan.click.barsOn);
  settings.setValue(QStringLiteral("sound/click-bars-off"), plan.click.barsOff);
  settings.setValue(QStringLiteral("sound/click-accent"), plan.click.accentOne);
  settings.setValue(QStringLiteral("sound/click-level"), plan.click.levelDb);
  settings.setValue(QStringLiteral("sound/by-ear"), byEar_);
  settings.setValue(QStringLiteral("sound/room"), room_);
  settings.setValue(QStringLiteral("sound/guide-level"), guide_.levelDb);
  sound_.writeSettings(settings);
}

}  // namespace uneven
