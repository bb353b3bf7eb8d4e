// SPDX-License-Identifier: GPL-3.0-or-later
// Where the sound comes from and goes: the instrument, the device, the MIDI port, the pads.
//
// Nothing of sound is loaded before the first time it is asked for, and the device is given back
// while nobody listens. Without a device all runs silently on the machine's clock, which is said
// once.
#pragma once

#include <QObject>
#include <QTimer>
#include <memory>

#include "app/controls/aside.h"
#include "app/edit/document.h"
#include "sound/midi/input.h"
#include "sound/midi/module.h"
#include "sound/play/audio_output.h"

class QSettings;

namespace uneven {

// Makes the output that is wanted ("": whatever there is); tests bring their own.
struct Outputs {
  virtual ~Outputs() = default;
  virtual std::vector<std::string> drivers() = 0;
  virtual std::vector<AudioCard> cards() = 0;  // of those, that can be chosen by themselves
  virtual Result<std::unique_ptr<AudioOutput>> open(Player& player, const std::string& driver) = 0;
};
// The machine's.
Outputs& deviceOutputs();

class SoundDesk : public QObject {
  Q_OBJECT
 public:
  SoundDesk(const Document& document, FileSystem& files, Outputs& outputs,
            QObject* parent = nullptr);
  ~SoundDesk() override;

  // With an instrument, an output and the port.
  void ready();
  // As ready() where the instrument is there. Else it is read aside: no key waits for it.
  bool readyAtOnce();
  Player* player() const { return player_.get(); }  // nullptr: nothing has been loaded yet
  // Looks after a device or a port that is gone, while it plays.
  void watch();

  // The sound bank's file; empty: the house kit.
  const QString& bank() const { return bank_; }
  Status tryBank(const QString& file) const;
  void setBank(const QString& file);  // one that has been tried; nothing plays
  // The driver that is wanted, "alsa:plughw:CARD=PCH" for one of its cards; empty: whatever there
  // is.
  void setDriver(const QString& driver);
  const QString& driver() const { return driver_; }
  QStringList drivers() const;
  std::vector<AudioCard> cards() const { return outputs_.cards(); }
  // Where the sound goes now: "pulseaudio", or "silent"; empty before it was first asked for.
  QString outputName() const;
  // The highest peak since it was last asked, 0..1 and beyond.
  float takePeak() { return player_ == nullptr ? 0 : player_->takePeak(); }

  // Where strokes are sent as MIDI while it plays: nowhere (""), the simulated module, a port of
  // our own, or a port by its name. Errors leave the one that is.
  static constexpr const char* kModule = "simulated module";
  static constexpr const char* kOwnPort = "our own port";
  Status setMidiOut(const QString& port);
  const QString& midiOut() const { return midiOut_; }
  QStringList midiPorts() const;                       // the machine's
  SimulatedModule* module() { return module_.get(); }  // nullptr: none has been asked for

  const KitMap& map() const;      // of what sounds
  const KitMap& portMap() const;  // of a port
  // That of the port that is connected, which goes by the song's by then; nullptr: none is.
  const KitMap* sentMap();

  // Pads that are heard at once, as they are put into this queue: nullptr: none are.
  void hearPads(NoteQueue* pads);
  void tunePads();  // to the song as it is

  // One stroke at once, by the next wish; false: the kit has no sound for it.
  bool strike(const Hit& hit);
  // What of a wish is the desk's: the strokes at once.
  void fill(Wish& wish) const;

  void readSettings(const QSettings& settings);
  void writeSettings(QSettings& settings) const;

 Q_SIGNALS:
  void changed();  // device or port
  void said(const QString& what);

 private:
  Result<std::unique_ptr<Instrument>> instrument(const QString& bank) const;
  void load();
  void take(Result<std::unique_ptr<Instrument>> instrument);
  void connectOutput();
  Status connectMidi();
  void rest();
  MixSetting mixOf(PieceId piece) const;

  const Document& document_;
  FileSystem& files_;
  Outputs& outputs_;
  std::unique_ptr<Player> player_;
  std::unique_ptr<AudioOutput> output_;  // after the player: it pulls from it
  std::unique_ptr<SimulatedModule> module_;
  std::unique_ptr<LiveMidi> midi_;  // after both: it reads the one and feeds the other
  std::string midiMap_;             // id, of what is connected
  QTimer resting_;
  QString bank_, driver_, midiOut_;
  std::uint64_t tries_ = 0;
  StrikeSound tried_;
  std::uint8_t triedMidi_ = QueuedStrike::kNoNote;
  std::int64_t pulledBefore_ = 0;
  int looksWithoutPull_ = 0;
  NoteQueue* pads_ = nullptr;
  bool saidSilent_ = false;
  Aside<Result<std::unique_ptr<Instrument>>> loading_;
};

}  // namespace uneven
