// SPDX-License-Identifier: GPL-3.0-or-later
// The recording beside the part, and by itself.
#include <QDir>
#include <QFileInfo>
#include <algorithm>

#include "app/controls/labels.h"
#include "app/play/transport.h"

namespace uneven {

QString Transport::guideFile() const {
  return editing_.document().recording();
}

void Transport::wantGuide() {
  if (alone_) return desk_.want(alone_->file);
  if (guide_.on) desk_.want(guideFile());
}

void Transport::setGuide(GuidePlan plan) {
  plan.levelDb = std::clamp(plan.levelDb, kGuideMin, kGuideMax);
  if (plan == guide_) return;
  if (plan.on && !guide_.on) desk_.forget();
  guide_ = plan;
  wantGuide();
  remake();
  Q_EMIT changed();
}

void Transport::playRecording(const QString& file, double seconds) {
  stop();
  ready();
  alone_ = Alone{file, std::max(0.0, seconds)};
  desk_.want(file);
  desk_.forget();
  beginRecording();
}

void Transport::beginRecording() {
  const std::shared_ptr<GuideVoice> voice = desk_.voice();
  if (!alone_ || playing_ || voice == nullptr) return;
  Programme made;
  made.end = toMoment(Milliseconds(voice->sound()->seconds() * 1'000));
  programme_ = std::make_shared<const Programme>(std::move(made));
  from_ = toMoment(Milliseconds(alone_->from * 1'000));
  lead_.clear();
  take_ = editing_.document().sharedTake();
  playing_ = true;
  send(true);
  frames_.start();
  Q_EMIT changed();
}

std::optional<double> Transport::recordingAt(std::chrono::steady_clock::time_point moment) const {
  if (!playing_ || player_->state().start != starts_ || desk_.voice() == nullptr)
    return std::nullopt;
  const double at = toMilliseconds(player_->frameClock().at(moment)).count() / 1'000;
  if (alone_) return at;
  const std::optional<Guide>& audio = editing_.document().song().audio;
  if (!guide_.on || !audio) return std::nullopt;
  return at + audio->offset.count() / 1'000;
}

}  // namespace uneven
