// SPDX-License-Identifier: GPL-3.0-or-later
// Listening aside.
#include "app/stage/listener.h"

#include <QTimer>
#include <QtConcurrent/QtConcurrentRun>

#include "app/controls/labels.h"

namespace uneven {

Listener::Listener(FileSystem& files, QObject* parent) : QObject(parent), files_(files) {
  connect(&reader_, &QFutureWatcherBase::finished, this, [this] {
    const std::shared_ptr<Reading> reading = std::move(reading_);
    reading_ = nullptr;
    if (reader_.future().resultCount() == 0) return;
    Result<Recording>& result = *reader_.result();
    if (!result) {
      if (reading == nullptr || !reading->cancelled) Q_EMIT failed(qs(result.error().line()));
      Q_EMIT changed();
      return;
    }
    take(*std::move(result));
  });
  connect(&fitter_, &QFutureWatcherBase::finished, this, [this] {
    if (fitter_.future().resultCount() == 0) return;
    fit_ = fitter_.result();
    if (again_) return fitAside();
    fresh_ = true;
    const GridWanted& where = wanted_.where;
    if (!where.bpm && !where.meter && !where.swing)
      readings_ = fit_->has_value() ? (*fit_)->grid.readings : std::vector<ReadingTold>{};
    Q_EMIT changed();
  });
}

Listener::~Listener() {
  cancel();
  reader_.waitForFinished();
  fitter_.waitForFinished();
}

void Listener::open(const QString& file) {
  if (reading_ != nullptr) return;
  reading_ = std::make_shared<Reading>();
  auto* tick = new QTimer(this);
  connect(tick, &QTimer::timeout, this, [this, tick] {
    if (reading_ == nullptr) return tick->deleteLater();
    Q_EMIT progressed(reading_->done);
  });
  constexpr int kTickMs = 50;
  tick->start(kTickMs);
  reader_.setFuture(QtConcurrent::run([&files = files_, file, reading = reading_] {
    return std::make_shared<Result<Recording>>(
        listen(files, file.toStdString(), houseKit(), nullptr, [reading](double done) {
          reading->done = done;
          return !reading->cancelled;
        }));
  }));
  Q_EMIT changed();
}

void Listener::cancel() {
  if (reading_ != nullptr) reading_->cancelled = true;
}

void Listener::close() {
  cancel();
  if (!recording_) return;
  recording_.reset();
  readings_.clear();
  wanted_ = {};
  refit();
}

void Listener::take(Recording recording) {
  recording_ = std::move(recording);
  kept_ = std::make_shared<KeptFit>();
  startOver();
}

void Listener::startOver() {
  if (!recording_) return;
  for (Onset& o : recording_->onsets) o.used = true;
  wanted_ = {};
  wanted_.foundWithin = recording_->foundWithin;
  wanted_.where.played = recording_->line;
  wanted_.where.playedMeter = recording_->meter;
  refit();
}

void Listener::setWanted(FitWanted wanted) {
  wanted_ = std::move(wanted);
  refit();
}

void Listener::takeReading(std::size_t which) {
  if (which >= readings_.size()) return;
  FitWanted wanted = wanted_;
  wanted.where.bpm = readings_[which].bpm;
  wanted.where.meter = readings_[which].meter;
  wanted.where.swing = readings_[which].kind;
  setWanted(std::move(wanted));
}

void Listener::leaveOut(std::size_t onset, bool out) {
  if (!recording_ || onset >= recording_->onsets.size()) return;
  recording_->onsets[onset].used = !out;
  refit();
}

void Listener::leaveOutBars(std::int64_t from, std::int64_t to, bool out) {
  const Fit* now = found();
  if (now == nullptr) return;
  for (std::size_t i = 0; i < now->placed.size(); ++i) {
    const std::int64_t bar = now->placed[i].bar;
    if (bar >= from && bar <= to) recording_->onsets[i].used = !out;
  }
  refit();
}

void Listener::onlyBars(std::int64_t from, std::int64_t to) {
  const Fit* now = found();
  if (now == nullptr) return;
  for (std::size_t i = 0; i < now->placed.size(); ++i) {
    const std::int64_t bar = now->placed[i].bar;
    recording_->onsets[i].used = bar >= from && bar <= to;
  }
  refit();
}

void Listener::refit() {
  fresh_ = false;
  Q_EMIT changed();
  fitAside();
}

void Listener::fitAside() {
  again_ = fitter_.isRunning();
  if (again_ || !recording_) return;
  fitter_.setFuture(QtConcurrent::run([onsets = recording_->onsets, wanted = wanted_, kept = kept_] {
    return std::make_shared<std::optional<Fit>>(fit(onsets, wanted, kept.get()));
  }));
}

}  // namespace uneven
