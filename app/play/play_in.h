// SPDX-License-Identifier: GPL-3.0-or-later
// Playing in: pads or keys put hits. While nothing plays each note goes where the cursor stands,
// which moves on; while it plays and records, notes go onto the grid with their timing kept as
// nudges.
//
// A simulated player stands in where nothing is connected: it plays the groove at hand once, a
// little unevenly, or a plain beat where the groove is empty.
#pragma once

#include <QObject>
#include <QStringList>
#include <QTimer>
#include <functional>
#include <memory>

#include "app/play/transport.h"
#include "sound/midi/input.h"

namespace uneven {

class PlayIn : public QObject {
  Q_OBJECT
 public:
  static constexpr const char* kSimulated = "simulated player";

  PlayIn(Transport& transport, Editing& editing, QObject* parent = nullptr);
  ~PlayIn() override;

  // "", the simulated player, or a port by its name.
  Status setSource(const QString& source);
  const QString& source() const { return source_; }
  QStringList ports() const;
  bool recording() const { return recording_; }
  void setRecording(bool on);
  NoteQueue& queue() { return queue_; }

  // A take for its own sake: what is played from here on is kept as notes and written nowhere. The
  // simulated player plays the groove at hand, so many rounds of it.
  static constexpr int kSimulatedRounds = 8;
  bool taking() const { return taking_; }
  std::size_t taken() const { return notes_.size(); }
  void startTake();
  // What has come since; none: nobody played.
  std::vector<NoteIn> endTake();

  // Notes go to these ears in place of the song; {}: to the song again.
  using Ears = std::function<void(const NoteIn&)>;
  void listen(Ears ears);
  bool simulates() const { return source_ == QLatin1String(kSimulated); }
  // The simulated player plays these, each at its moment, beside what it has not ended yet.
  void simulateNotes(std::vector<NoteIn> notes);
  void endSimulated();  // what it has not played is not played

 Q_SIGNALS:
  void changed();
  void said(const QString& what);

 private:
  void take();
  void simulate(int rounds);

  Transport& transport_;
  Editing& editing_;
  NoteQueue queue_;
  NoteReader reader_;
  Ears ears_;
  std::unique_ptr<MidiSource> midi_, before_;
  QString source_;
  QTimer look_;
  bool recording_ = false;
  bool taking_ = false;
  std::vector<NoteIn> notes_;          // of the take
  std::unique_ptr<SongGesture> take_;  // a recording is one step of undo
};

}  // namespace uneven
