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
  sound_.ready();
  alone_ = Alone{file, std::max(0.0, seconds)};
  desk_.want(file);
  desk_.forget();
  beginRecording();
}

void Transport::beginRecording() {
  const std::shared_ptr<GuideVoice> voice = desk_.voice();
  if (!alone_ || playing() || voice == nullptr) return;
  session_.playRecording(editing_.document().sharedTake(), voice->sound()->seconds(), alone_->from);
  begun();
  Q_EMIT changed();
}

std::optional<double> Transport::recordingAt(Player::Time moment) const {
  const std::optional<Player::FrameClock> now = clock();
  if (!now || desk_.voice() == nullptr) return std::nullopt;
  if (alone_) return toMilliseconds(now->at(moment)).count() / 1'000;
  const std::optional<Guide>& audio = editing_.document().song().audio;
  if (!guide_.on || !audio) return std::nullopt;
  return toMilliseconds(session_.heardAt(*now, moment)).count() / 1'000 +
         audio->offset.count() / 1'000;
}

}  // namespace uneven
