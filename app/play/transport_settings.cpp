// SPDX-License-Identifier: GPL-3.0-or-later
// What of the transport can be set, and what is remembered of it.
#include <QSettings>
#include <algorithm>
#include <cmath>

#include "app/controls/labels.h"
#include "app/play/transport.h"
#include "sound/synth/load_instrument.h"

namespace uneven {

void Transport::setRange(Range range) {
  if (range == plan_.range) return;
  plan_.range = range;
  // Another stretch: from its own start or the cursor.
  if (playing_) play();
  Q_EMIT changed();
}

void Transport::lend(Plan plan) {
  if (!own_) own_ = plan_;
  const bool anew = plan.range != plan_.range;
  plan_ = std::move(plan);
  // Another stretch begins anew; the rest holds from the next block on.
  if (playing_ && anew) return play();
  remake();
  send(false);
  Q_EMIT changed();
}

void Transport::giveBack() {
  if (!own_) return;
  plan_ = *std::exchange(own_, std::nullopt);
  if (playing_) stop();
  Q_EMIT changed();
}

void Transport::setLoops(bool loop) {
  plan_.loop = loop;
  remake();
  Q_EMIT changed();
}

void Transport::setPercent(double percent) {
  plan_.percent = std::clamp(percent, kSlowest, kFastest);
  send(false);
  Q_EMIT changed();
}

void Transport::setCountInBars(int bars) {
  plan_.countIn = std::clamp(bars, 0, 2);
  Q_EMIT changed();
}

void Transport::setLevelDb(double db) {
  levelDb_ = std::clamp(db, kLevelMin, kLevelMax);
  send(false);
  Q_EMIT changed();
}

void Transport::setClick(ClickPlan click) {
  plan_.click = click;
  remake();
  Q_EMIT changed();
}

void Transport::setRoom(bool on) {
  room_ = on;
  send(false);
  Q_EMIT changed();
}

void Transport::setListening(Listening listening) {
  listening_ = std::move(listening);
  remake();
  Q_EMIT changed();
}

void Transport::setHeard(Heard heard) {
  if (heard == plan_.heard) return;
  plan_.heard = heard;
  remake();
  Q_EMIT changed();
}

Status Transport::setBank(const QString& file) {
  if (!file.isEmpty()) {
    Result<std::unique_ptr<Instrument>> tried = loadInstrument(files_, file.toStdString());
    if (!tried) return tried.error();
  }
  const bool again = playing_;
  stop();
  loading_.cancel();
  midi_.reset();
  output_.reset();
  if (pads_ != nullptr) pads_->setHeard({});
  player_.reset();
  bank_ = file;
  if (again) play();
  Q_EMIT changed();
  return Done{};
}

void Transport::setDriver(const QString& driver) {
  if (driver == driver_) return;
  driver_ = driver;
  saidSilent_ = false;
  if (player_ != nullptr) connectOutput();
  Q_EMIT changed();
}

QStringList Transport::drivers() const {
  QStringList out;
  for (const std::string& driver : outputs_.drivers()) out << qs(driver);
  return out;
}

QString Transport::outputName() const {
  return output_ == nullptr ? QString() : qs(output_->name());
}

float Transport::takePeak() {
  return player_ == nullptr ? 0 : player_->takePeak();
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
  plan_.range = static_cast<Range>(whole("sound/range", 0, 0, 4));
  plan_.loop = settings.value(QStringLiteral("sound/loop"), true).toBool();
  plan_.countIn = whole("sound/count-in", 0, 0, 2);
  levelDb_ = std::clamp(number("sound/level", kLevelFirst), kLevelMin, kLevelMax);
  plan_.click.unit = static_cast<ClickUnit>(whole("sound/click", 0, 0, 4));
  plan_.click.subdivideBelowBpm = std::clamp(number("sound/subdivide-below", 0), 0.0, kBpmMax);
  plan_.click.barsOn = whole("sound/click-bars-on", 1, 1, 16);
  plan_.click.barsOff = whole("sound/click-bars-off", 0, 0, 16);
  plan_.click.accentOne = settings.value(QStringLiteral("sound/click-accent"), true).toBool();
  plan_.click.levelDb = std::clamp(number("sound/click-level", -6), -40.0, 6.0);
  room_ = settings.value(QStringLiteral("sound/room"), true).toBool();
  byEar_ = settings.value(QStringLiteral("sound/by-ear"), true).toBool();
  bank_ = settings.value(QStringLiteral("sound/bank")).toString();
  driver_ = settings.value(QStringLiteral("sound/driver")).toString();
  midiOut_ = settings.value(QStringLiteral("sound/midi-out")).toString();
  guide_.levelDb = std::clamp(number("sound/guide-level", -6), kGuideMin, kGuideMax);
  Q_EMIT changed();
}

void Transport::writeSettings(QSettings& settings) const {
  const Plan& plan = own_ ? *own_ : plan_;
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
  settings.setValue(QStringLiteral("sound/bank"), bank_);
  settings.setValue(QStringLiteral("sound/driver"), driver_);
  settings.setValue(QStringLiteral("sound/midi-out"), midiOut_);
  settings.setValue(QStringLiteral("sound/guide-level"), guide_.levelDb);
}

}  // namespace uneven
