// SPDX-License-Identifier: GPL-3.0-or-later
// Reading aside.
#include "app/play/guide_desk.h"

#include "app/controls/labels.h"

namespace uneven {

GuideDesk::GuideDesk(QObject* parent) : QObject(parent) {}

void GuideDesk::want(const QString& file) {
  wanted_ = file;
  if (aside_.busy() && reading_ == file) return;
  const bool was = aside_.busy();
  aside_.cancel();
  if (!file.isEmpty() && file != read_ && file != refused_) {
    begin();
  } else if (was) {
    Q_EMIT changed();
  }
}

void GuideDesk::forget() {
  refused_.clear();
  want(wanted_);
}

void GuideDesk::begin() {
  reading_ = wanted_;
  aside_.ask(
      [file = reading_.toStdString()](const AsideWork& work) -> Read {
        Result<std::shared_ptr<const GuideSound>> sound =
            readGuide(file, [&work](double) { return !work.cancelled(); });
        if (!sound) return sound.error();
        return std::make_shared<GuideVoice>(*std::move(sound));
      },
      [this](const Read& read) { take(read); });
  Q_EMIT changed();
}

void GuideDesk::take(const Read& read) {
  if (read) {
    voice_ = *read;
    read_ = reading_;
    if (!voice_->status()) Q_EMIT failed(qs(voice_->status().error().line()));
  } else {
    refused_ = reading_;
    Q_EMIT failed(qs(read.error().line()));
  }
  Q_EMIT changed();
}

}  // namespace uneven
