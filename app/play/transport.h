// SPDX-License-Identifier: GPL-3.0-or-later
// Playing what is edited: where from, round what, how fast, and who is listened to.
//
// Nothing of sound is loaded before the first time it is asked for. Each edit makes a new programme
// of the take that everything else shows, heard from the next stroke on. Without a device the
// transport runs silently on the machine's clock, and says so once.
#pragma once

#include <QObject>
#include <QTimer>
#include <functional>
#include <memory>
#include <optional>

#include "app/controls/aside.h"
#include "app/edit/editing.h"
#include "app/play/guide_desk.h"
#include "app/play/heard.h"
#include "core/time/quarters.h"
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

class Transport : public QObject {
  Q_OBJECT
 public:
  // What is played round, or through.
  enum class Range { kGroove, kBar, kSelection, kSection, kSong };
  static constexpr double kSlowest = 25, kFastest = 150;  // % of the song's tempo
  static constexpr double kLevelMin = -60, kLevelMax = 0, kLevelFirst = -18;  // dB

  Transport(Editing& editing, FileSystem& files, Outputs& outputs, QObject* parent = nullptr);
  ~Transport() override;

  bool playing() const { return playing_; }
  void toggle() { playing_ ? stop() : play(); }
  void play();
  void stop();

  // What plays, round what, how fast, with which click: a stage may play something of its own, and
  // gives back what was set before. Only that is remembered from one start to the next.
  struct Plan {
    Range range = Range::kGroove;
    bool loop = true;
    bool fromStart = false;  // of the range, wherever the cursor is
    double percent = 100;    // of the song's tempo
    int countIn = 0;         // bars
    ClickPlan click;
    Heard heard;
  };
  void lend(Plan plan);  // once more: another plan in place of the one that was lent
  void giveBack();
  bool lent() const { return own_.has_value(); }
  const Plan& plan() const { return plan_; }

  Range range() const { return plan_.range; }
  void setRange(Range range);
  bool loops() const { return plan_.loop; }
  void setLoops(bool loop);
  double percent() const { return plan_.percent; }
  void setPercent(double percent);
  int countInBars() const { return plan_.countIn; }
  void setCountInBars(int bars);
  double levelDb() const { return levelDb_; }
  void setLevelDb(double db);
  const ClickPlan& click() const { return plan_.click; }
  void setClick(ClickPlan click);
  bool room() const { return room_; }  // the house kit's
  void setRoom(bool on);
  const Listening& listening() const { return listening_; }
  void setListening(Listening listening);
  const Heard& heard() const { return plan_.heard; }
  void setHeard(Heard heard);
  // The recording that the song names, beside the part; it is read when it is first wanted.
  struct GuidePlan {
    bool on = false;
    bool alone = false;  // the part is silent
    double levelDb = -6;
    bool operator==(const GuidePlan&) const = default;
  };
  static constexpr double kGuideMin = -40, kGuideMax = 6;  // dB
  const GuidePlan& guide() const { return guide_; }
  void setGuide(GuidePlan plan);
  const GuideDesk& guideDesk() const { return desk_; }
  // Where the song's recording is; empty: it has none.
  QString guideFile() const;
  // A recording by itself, from one of its moments on; the part is silent meanwhile.
  void playRecording(const QString& file, double seconds);
  bool playsRecording() const { return alone_.has_value(); }
  // The second of the recording that is heard at a moment; nothing: none is.
  std::optional<double> recordingAt(std::chrono::steady_clock::time_point moment) const;
  bool byEar() const { return byEar_; }
  void setByEar(bool on) { byEar_ = on; }
  // The sound bank's file; empty: the house kit. Errors leave the one that is.
  Status setBank(const QString& file);
  const QString& bank() const { return bank_; }
  // The driver that is wanted, "alsa:plughw:CARD=PCH" for one of its cards; empty: whatever there
  // is.
  void setDriver(const QString& driver);
  const QString& driver() const { return driver_; }
  QStringList drivers() const;
  std::vector<AudioCard> cards() const { return outputs_.cards(); }
  // Where strokes are sent as MIDI while it plays: nowhere (""), the simulated module, a port of
  // our own, or a port by its name.
  static constexpr const char* kModule = "simulated module";
  static constexpr const char* kOwnPort = "our own port";
  Status setMidiOut(const QString& port);
  const QString& midiOut() const { return midiOut_; }
  QStringList midiPorts() const;                       // the machine's
  SimulatedModule* module() { return module_.get(); }  // nullptr: none has been asked for
  const KitMap& portMap() const;
  // Where the sound goes now: "pulseaudio", or "silent"; empty before it was first asked for.
  QString outputName() const;

  // Where the song is heard, for what is shown: a place in a groove.
  struct Playhead {
    std::string groove;
    Quarters at;            // from the groove's start
    Beat slot;              // that sounds: of those written, the last whose time has come
    bool counting = false;  // in the count-in, before it begins
    Quarters song;          // from the song's start
  };
  const std::optional<Playhead>& playhead() const { return playhead_; }
  // Where a moment falls in the groove at hand while it plays; nothing: elsewhere, or in a
  // count-in.
  std::optional<Milliseconds> inGroove(std::chrono::steady_clock::time_point moment) const;
  // How far into what is played a moment lies, at the song's tempo, all rounds counted; below 0: in
  // the count-in. Nothing: nothing plays.
  std::optional<Milliseconds> sinceStart(std::chrono::steady_clock::time_point moment) const;
  // The highest peak since it was last asked, 0..1 and beyond.
  float takePeak();
  // Pads that are heard at once, as they are put into this queue: nullptr: none are.
  void hearPads(NoteQueue* pads);
  // One stroke at once: strike by ear.
  void hear(const Hit& hit);

  void readSettings(const QSettings& settings);
  void writeSettings(QSettings& settings) const;

 Q_SIGNALS:
  void changed();  // playing or a setting
  void moved();    // the playhead
  void struck();   // a single stroke
  void said(const QString& what);

 private:
  void ready();  // with an instrument and an output
  void load();
  void loadAside();
  void rest();  // gives the device back while nobody listens
  Result<std::unique_ptr<Instrument>> instrument(const QString& bank) const;
  void take(Result<std::unique_ptr<Instrument>> instrument);
  void connectOutput();
  void songChanged();
  void remake();
  void send(bool anew);
  void beginRecording();
  void wantGuide();
  void look();             // where it is by now
  bool playsSong() const;  // or one of its sections
  SharedTake takeForRange();
  void songTaken();
  void tunePads();
  const Score::Block* blockIn(const Take& take) const;
  std::optional<Span> loopSpan(const Take& take) const;
  Moment startMoment(const Take& take) const;
  static Beat slotAt(const Score& score, const Score::Block& block, Quarters at);
  Beat originOf(const Take& take) const;
  const KitMap& map() const;
  Status connectMidi();

  Editing& editing_;
  FileSystem& files_;
  Outputs& outputs_;
  std::unique_ptr<Player> player_;
  std::unique_ptr<AudioOutput> output_;  // after the player: it pulls from it
  std::unique_ptr<SimulatedModule> module_;
  std::unique_ptr<LiveMidi> midi_;  // after both: it reads the one and feeds the other
  std::string midiMap_;             // id, of what is connected
  QTimer frames_;
  QTimer resting_;
  QTimer edits_;  // many edits between two frames make one programme

  bool playing_ = false;
  Plan plan_;
  std::optional<Plan> own_;  // while another is lent
  double levelDb_ = kLevelFirst;
  Listening listening_;
  bool byEar_ = true, room_ = true;
  QString bank_, driver_, midiOut_;

  SharedTake take_;  // that plays
  std::shared_ptr<const Programme> programme_;
  std::vector<SoundEvent> lead_;
  Moment from_{0};
  std::uint64_t starts_ = 0, tries_ = 0;
  StrikeSound tried_;
  std::uint8_t triedMidi_ = QueuedStrike::kNoNote;
  std::optional<Playhead> playhead_;
  std::int64_t pulledBefore_ = 0;
  int framesWithoutPull_ = 0;
  GuidePlan guide_;
  GuideDesk desk_;
  struct Alone {
    QString file;
    double from = 0;  // s
  };
  std::optional<Alone> alone_;  // a recording that plays, or will once it has been read
  NoteQueue* pads_ = nullptr;
  bool saidSilent_ = false;
  bool awaited_ = false;  // the song's take, to be played
  // The whole song in another way of listening, once it has been performed.
  struct Differently {
    std::uint64_t revision = 0;
    Heard heard;
    SharedTake take;
  };
  Differently differently_;
  Aside<SharedTake> performing_;
  // For a single stroke the bank is read aside: no key waits for it.
  Aside<Result<std::unique_ptr<Instrument>>> loading_;
};

}  // namespace uneven
