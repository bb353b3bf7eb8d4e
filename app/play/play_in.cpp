// SPDX-License-Identifier: GPL-3.0-or-later
// Playing in.
#include "app/play/play_in.h"

#include <algorithm>
#include <random>

#include "app/controls/labels.h"

namespace uneven {
namespace {

constexpr int kLookMs = 10;
constexpr double kUnevenMs = 6;  // of the simulated player, standard deviation; from memory

// A plain beat of the bar, for a groove that has nothing to be played.
std::vector<Hit> plainBeat(const Groove& groove) {
  std::vector<Hit> out;
  const auto put = [&](Beat at, PieceId piece, int velocity) {
    if (at < groove.length())
      out.push_back(playedHit({.piece = piece, .velocity = Velocity(velocity)}, at));
  };
  for (Beat at; at < groove.length(); at += Beat(1, 2)) put(at, piece::kHat, 70);
  for (Beat at; at < groove.length(); at += Beat(2)) {
    put(at, piece::kKick, 100);
    put(at + Beat(1), piece::kSnare, 110);
  }
  return out;
}

}  // namespace

PlayIn::PlayIn(Transport& transport, Editing& editing, QObject* parent)
    : QObject(parent), transport_(transport), editing_(editing) {
  look_.setInterval(kLookMs);
  connect(&look_, &QTimer::timeout, this, &PlayIn::take);
  connect(&transport_, &Transport::changed, this, [this] {
    if (!transport_.playing() && recording_) setRecording(false);
  });
}

PlayIn::~PlayIn() {
  queue_.setHeard({});
}

QStringList PlayIn::ports() const {
  QStringList out;
  for (const std::string& port : midiInputs()) out << qs(port);
  return out;
}

Status PlayIn::setSource(const QString& source) {
  std::unique_ptr<MidiSource> opened;
  if (!source.isEmpty() && source != QLatin1String(kSimulated)) {
    Result<std::unique_ptr<MidiSource>> port = openMidiInput(source.toStdString(), queue_);
    if (!port) return port.error();
    opened = *std::move(port);
  }
  before_.reset();
  midi_ = std::move(opened);
  transport_.hearPads(midi_ == nullptr ? nullptr : &queue_);
  source_ = source;
  if (source.isEmpty()) {
    look_.stop();
  } else {
    look_.start();
  }
  Q_EMIT changed();
  return Done{};
}

void PlayIn::setRecording(bool on) {
  if (on == recording_) return;
  if (on && !transport_.playing()) transport_.play();
  recording_ = on && transport_.playing();
  if (recording_) {
    take_ = std::make_unique<SongGesture>(editing_.document());
    (void)queue_.takeAll();
    look_.start();
    if (source_.isEmpty() || source_ == QLatin1String(kSimulated)) simulate(1);
    Q_EMIT said(source_.isEmpty() ? tr("Nothing is connected: the simulated player plays")
                                  : tr("Recording what %1 plays").arg(source_));
  } else {
    if (source_.isEmpty()) look_.stop();
    if (source_.isEmpty() || source_ == QLatin1String(kSimulated)) midi_.reset();
    take_.reset();
  }
  Q_EMIT changed();
}

void PlayIn::startTake() {
  if (taking_) return;
  setRecording(false);
  notes_.clear();
  (void)queue_.takeAll();
  taking_ = true;
  look_.start();
  if (source_.isEmpty() || source_ == QLatin1String(kSimulated)) {
    if (!transport_.playing() || transport_.playsRecording()) transport_.play();
    simulate(kSimulatedRounds);
    Q_EMIT said(tr("Nothing is connected: the simulated player plays %1 rounds of the groove")
                    .arg(kSimulatedRounds));
  } else {
    Q_EMIT said(tr("Listening to what %1 plays").arg(source_));
  }
  Q_EMIT changed();
}

std::vector<NoteIn> PlayIn::endTake() {
  if (!taking_) return {};
  take();
  taking_ = false;
  if (source_.isEmpty()) look_.stop();
  if (source_.isEmpty() || source_ == QLatin1String(kSimulated)) midi_.reset();
  Q_EMIT changed();
  return std::exchange(notes_, {});
}

void PlayIn::listen(Ears ears) {
  (void)queue_.takeAll();
  ears_ = std::move(ears);
  if (!ears_) endSimulated();
  if (ears_ && !source_.isEmpty()) look_.start();
}

void PlayIn::simulateNotes(std::vector<NoteIn> notes) {
  before_ = std::exchange(midi_, std::make_unique<SimulatedPlayer>(queue_, std::move(notes)));
}

void PlayIn::endSimulated() {
  if (!simulates()) return;
  midi_.reset();
  before_.reset();
  (void)queue_.takeAll();
}

void PlayIn::take() {
  std::vector<PlayedStroke> strokes;
  const int before = reader_.unknown();
  for (const NoteIn& note : queue_.takeAll()) {
    if (taking_) {
      notes_.push_back(note);
      continue;
    }
    if (ears_) {
      ears_(note);
      continue;
    }
    std::optional<PlayedStroke> stroke =
        reader_.read(note, transport_.sound().portMap(), *editing_.document().song().kit);
    if (!stroke) continue;
    if (recording_) {
      const auto at = transport_.inGroove(note.when);
      if (!at) continue;
      stroke->at = *at;
      strokes.push_back(*stroke);
    } else if (!transport_.playing()) {
      editing_.hits().enterPlayed(*stroke);
    }
  }
  const int unknown = reader_.unknown() - before;
  if (unknown > 0) {
    Q_EMIT said(tr("%1 notes have no piece in the kit map %2")
                    .arg(unknown)
                    .arg(qs(transport_.sound().portMap().name)));
  }
  if (!strokes.empty()) editing_.hits().playIn(strokes, take_->merge());
}

void PlayIn::simulate(int rounds) {
  const auto now = std::chrono::steady_clock::now();
  const auto here = transport_.inGroove(now);
  if (!here) {  // a count-in, or the sound's thread has not begun yet
    if (recording_ || taking_) QTimer::singleShot(kLookMs, this, [=, this] { simulate(rounds); });
    return;
  }
  const Groove& groove = editing_.groove();
  const Document& document = editing_.document();
  const KitMap& map = transport_.sound().portMap();
  const std::vector<Hit> hits = groove.hits.empty() ? plainBeat(groove) : groove.hits;
  Groove model = groove;
  model.hits = hits;
  const Result<SharedTake> take =
      Take::ofGroove(withGroove(document.song(), model), groove.id, document.at());
  if (!take) return;
  const Score& score = (*take)->score();
  const Milliseconds start = score.tempo.msAt(score.blocks.front().start);
  const Milliseconds length =
      score.tempo.msAt(score.blocks.front().start + groove.length()) - start;
  std::mt19937 random(1);
  std::normal_distribution<double> uneven(0, kUnevenMs);
  std::vector<NoteIn> notes;
  for (const Stroke& s : (*take)->strokes()) {
    if (s.part != 0) continue;
    const KitMapRow* row = rowFor(map, (*document.song().kit)[s.piece], s.stroke, s.opening);
    if (row == nullptr) continue;
    const Milliseconds first = toMilliseconds(s.time) - start - *here;
    for (int round = 0; round < rounds; ++round) {
      // From the next round on where it has gone by already.
      Milliseconds ahead = first + Milliseconds(uneven(random));
      if (first < Milliseconds(0)) ahead += length;
      ahead = (ahead + round * length) / (transport_.percent() / 100);
      notes.push_back({now + std::chrono::duration_cast<std::chrono::nanoseconds>(ahead), row->note,
                       std::clamp(s.velocity.value() + static_cast<int>(uneven(random)), 1, 127)});
    }
  }
  std::sort(notes.begin(), notes.end(),
            [](const NoteIn& a, const NoteIn& b) { return a.when < b.when; });
  simulateNotes(std::move(notes));
}

}  // namespace uneven
