// SPDX-License-Identifier: GPL-3.0-or-later
// Looking at a song on a worker.
#include "app/check/checker.h"

#include <QtConcurrent/QtConcurrentRun>

namespace uneven {

Checker::Checker(Editing& editing, QObject* parent) : QObject(parent), editing_(editing) {
  soon_.setSingleShot(true);
  soon_.setInterval(0);
  connect(&soon_, &QTimer::timeout, this, &Checker::begin);
  connect(&worker_, &QFutureWatcherBase::finished, this, [this] {
    if (worker_.future().resultCount() == 0) return;  // it threw, and waits for nobody
    last_ = worker_.result();
    if (now() == nullptr) return begin();  // the song is another by now
    Q_EMIT looked();
  });
  connect(&editing_.document(), &Document::changed, this, &Checker::songChanged);
}

Checker::~Checker() {
  worker_.waitForFinished();
}

void Checker::setWanted(bool wanted) {
  wanted_ = wanted;
  if (wanted && now() == nullptr) begin();
}

const Looked* Checker::now() const {
  const Document& document = editing_.document();
  const bool fresh = last_ != nullptr && last_->revision == document.revision() &&
                     last_->groove == document.grooveId();
  return fresh ? last_.get() : nullptr;
}

void Checker::songChanged() {
  if (!wanted_) return;
  Q_EMIT looked();
  soon_.start();
}

void Checker::begin() {
  if (!wanted_ || worker_.isRunning() || now() != nullptr) return;
  const Document& document = editing_.document();
  worker_.setFuture(QtConcurrent::run(
      [song = document.song(), groove = document.grooveId(), revision = document.revision(),
       map = document.kitMaps().orDefault(document.song().map), profile = profile_] {
        auto out = std::make_shared<Looked>();
        out->revision = revision;
        out->groove = groove;
        Result<SharedTake> take = Take::ofSong(song);
        if (!take) take = Take::ofGroove(song, groove);
        if (take) out->checked = check(**take, profile, map);
        Result<HandReport> report = handReport(song, groove, profile);
        if (report) out->report = *std::move(report);
        return out;
      }));
}

}  // namespace uneven
