// SPDX-License-Identifier: GPL-3.0-or-later
// Reading aside.
#include "app/play/guide_desk.h"

#include <QFileInfo>
#include <QtConcurrent/QtConcurrentRun>

#include "app/controls/labels.h"

namespace uneven {

GuideDesk::GuideDesk(QObject* parent) : QObject(parent) {
  connect(&watcher_, &QFutureWatcherBase::finished, this, &GuideDesk::done);
}

GuideDesk::~GuideDesk() {
  if (reading_ != nullptr) reading_->cancelled = true;
  watcher_.waitForFinished();
}

void GuideDesk::want(const QString& file) {
  wanted_ = file;
  if (reading_ != nullptr) {
    reading_->cancelled = reading_->file != file;
    return;
  }
  if (!file.isEmpty() && file != read_ && file != refused_) begin();
}

void GuideDesk::forget() {
  refused_.clear();
  want(wanted_);
}

void GuideDesk::begin() {
  reading_ = std::make_shared<Reading>();
  reading_->file = wanted_;
  watcher_.setFuture(QtConcurrent::run([reading = reading_]() -> Read {
    using Made = Result<std::shared_ptr<GuideVoice>>;
    Result<std::shared_ptr<const GuideSound>> sound =
        readGuide(reading->file.toStdString(), [reading](double) { return !reading->cancelled; });
    if (!sound) return std::make_shared<Made>(sound.error());
    return std::make_shared<Made>(std::make_shared<GuideVoice>(*std::move(sound)));
  }));
  Q_EMIT changed();
}

void GuideDesk::done() {
  const std::shared_ptr<Reading> reading = std::exchange(reading_, nullptr);
  if (reading == nullptr || watcher_.future().resultCount() == 0) return;
  const Read read = watcher_.result();
  if (*read) {
    voice_ = **read;
    read_ = reading->file;
    if (!voice_->status()) Q_EMIT failed(qs(voice_->status().error().line()));
  } else if (!reading->cancelled) {
    refused_ = reading->file;
    Q_EMIT failed(qs((*read).error().line()));
  }
  Q_EMIT changed();
  want(wanted_);
}

}  // namespace uneven
