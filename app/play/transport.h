// SPDX-License-Identifier: GPL-3.0-or-later
// Playing what is edited: where from, round what, how fast, and who is listened to.
//
// What plays is a session (sound/play/session.h), where it sounds is the desk's
// (app/play/sound_desk.h). Each edit makes a new programme of the take that everything else shows,
// heard from the next stroke on.
#pragma once

#include <QObject>
#include <QTimer>
#include <optional>

#include "app/edit/editing.h"
#include "app/play/guide_desk.h"
#include "app/play/sound_desk.h"
#include "sound/play/session.h"

class QSettings;

namespace uneven {

class Transport : public QObject {
  Q_OBJECT
 public:
  using Range = PlayRange;
  using Plan = PlayPlan;
  static constexpr double kSlowest = PlayPlan::kSlowest, kFastest = PlayPlan::kFastest;
  static constexpr double kLevelMin = -60, kLevelMax = 0, kLevelFirst = -18;  // dB

  Transport(Editing& editing, FileSystem& files, Outputs& outputs, QObject* parent = nullptr);

  bool playing() const { return session_.playing(); }
  void toggle() { playing() ? stop() : play(); }
  void play();
  void stop();

  // A stage may play something of its own, and gives back what was set before. Only that is
  // remembered from one start to the next.
  void lend(Plan plan);  // once more: another plan in place of the one that was lent
  void giveBack();
  bool lent() const { return session_.lent(); }
  const Plan& plan() const { return session_.plan; }

  Range range() const { return session_.plan.range; }
  void setRange(Range range);
  bool loops() const { return session_.plan.loop; }
  void setLoops(bool loop);
  double percent() const { return session_.plan.percent; }
  void setPercent(double percent);
  int countInBars() const { return session_.plan.countIn; }
  void setCountInBars(int bars);
  double levelDb() const { return levelDb_; }
  void setLevelDb(double db);
  const ClickPlan& click() const { return session_.plan.click; }
  void setClick(ClickPlan click);
  bool room() const { return room_; }  // the house kit's
  void setRoom(bool on);
  const Listening& listening() const { return listening_; }
  void setListening(Listening listening);
  const Heard& heard() const { return session_.plan.heard; }
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
  std::optional<double> recordingAt(Player::Time moment) const;
  bool byEar() const { return byEar_; }
  void setByEar(bool on) { byEar_ = on; }
  SoundDesk& sound() { return sound_; }
  const SoundDesk& sound() const { return sound_; }
  // The sound bank's file; empty: the house kit. Errors leave the one that is.
  Status setBank(const QString& file);
  // Pads that are heard at once, as they are put into this queue: nullptr: none are.
  void hearPads(NoteQueue* pads);

  // Where the song is heard, for what is shown.
  using Playhead = PlaySession::Playhead;
  const std::optional<Playhead>& playhead() const { return playhead_; }
  // Where a moment falls in the groove at hand while it plays; nothing: elsewhere, or in a
  // count-in.
  std::optional<Milliseconds> inGroove(Player::Time moment) const;
  // How far into what is played a moment lies, at the song's tempo, all rounds counted; below 0: in
  // the count-in. Nothing: nothing plays.
  std::optional<Milliseconds> sinceStart(Player::Time moment) const;
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
  void songChanged();
  void songTaken();
  void remake();
  void send();
  void begun();
  void wantGuide();
  void beginRecording();
  void look();  // where it is by now
  SharedTake takeForRange();
  PlayPlace place() const;
  PlaySounds sounds();
  // The player's clock while it plays what was last asked for.
  std::optional<Player::FrameClock> clock() const;

  Editing& editing_;
  SoundDesk sound_;
  PlaySession session_;
  QTimer frames_;
  QTimer edits_;  // many edits between two frames make one programme

  double levelDb_ = kLevelFirst;
  Listening listening_;
  bool byEar_ = true, room_ = true;
  std::optional<Playhead> playhead_;
  GuidePlan guide_;
  GuideDesk desk_;
  struct Alone {
    QString file;
    double from = 0;  // s
  };
  std::optional<Alone> alone_;  // a recording that plays, or will once it has been read
  bool awaited_ = false;        // the song's take, to be played
  // The whole song in another way of listening, once it has been performed.
  struct Differently {
    std::uint64_t revision = 0;
    Heard heard;
    SharedTake take;
  };
  Differently differently_;
  Aside<SharedTake> performing_;
};

}  // namespace uneven
