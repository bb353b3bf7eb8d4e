// SPDX-License-Identifier: GPL-3.0-or-later
// Listening aside.
#include "app/stage/listener.h"

#include "app/controls/labels.h"

namespace uneven {

Listener::Listener(FileSystem& files, QObject* parent) : QObject(parent), files_(files) {
  constexpr int kTickMs = 50;
  tick_.setInterval(kTickMs);
  connect(&tick_, &QTimer::timeout, this, [this] { Q_EMIT progressed(reader_.done()); });
}

void Listener::open(const QString& file) {
  if (reading()) return;
  givenUp_ = false;
  reader_.ask(
      [&files = files_, file](const AsideWork& work) {
        return listen(files, file.toStdString(), houseKit(), nullptr, [&work](double done) {
          work.done = done;
          return !work.cancelled();
        });
      },
      [this](Result<Recording> result) {
        tick_.stop();
        if (result) return take(*std::move(result));
        if (!givenUp_) Q_EMIT failed(qs(result.error().line()));
        Q_EMIT changed();
      });
  tick_.start();
  Q_EMIT changed();
}

void Listener::cancel() {
  givenUp_ = true;
  reader_.stop();
}

void Listener::close() {
  cancel();
  if (!recording_) return;
  recording_.reset();
  kept_.reset();
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
  fitter_.cancel();
  Q_EMIT changed();
  if (!recording_) return;
  fitter_.ask([onsets = recording_->onsets, wanted = wanted_, kept = kept_](
                  const AsideWork& work) { return fit(onsets, wanted, kept.get(), work.stop); },
              [this](std::optional<Fit> found) {
                fit_ = std::move(found);
                fresh_ = true;
                const GridWanted& where = wanted_.where;
                if (!where.bpm && !where.meter && !where.swing)
                  readings_ = fit_ ? fit_->grid.readings : std::vector<ReadingTold>{};
                Q_EMIT changed();
              });
}

}  // namespace uneven
