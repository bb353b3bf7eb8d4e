// SPDX-License-Identifier: GPL-3.0-or-later
// The rehearsal at hand: which step, at which tempo, what is heard, what was played, what is kept.
//
// While the stage is shown the transport plays the step (Transport::lend), and what comes from the
// MIDI port chosen under Sound is listened to. Where nothing is connected a time through is judged
// by hand.
#pragma once

#include <QObject>
#include <QTimer>
#include <array>
#include <chrono>
#include <optional>

#include "app/controls/aside.h"
#include "app/play/play_in.h"
#include "app/play/transport.h"
#include "app/rehearse/log_desk.h"
#include "app/stage/checker.h"
#include "core/rehearse/plan.h"
#include "core/rehearse/rehearsal.h"
#include "core/rehearse/simulated.h"

class QSettings;

namespace uneven {

// How a groove is broken down: the schools of StepsBy, and what holds the tempo back alone.
enum class BrokenDown : std::uint8_t { kVoice, kLimb, kBeat, kSurface, kHardSpot, kWhole };
// What stands behind the groove: nothing, a bar of the player's own, a fill.
enum class Behind : std::uint8_t { kNothing, kFreeBar, kFill };

struct RehearseSettings {
  BrokenDown by = BrokenDown::kVoice;
  Climb climb = Climb::kWholeGroove;
  double step = 2;  // BPM or percent; 0: three tempos
  bool percent = false;
  int up = 3, down = 3;
  int rounds = 0;      // of the step in a time through; 0: as many as make two bars
  bool runOn = false;  // else it stops where the next step or tempo begins
  Behind behind = Behind::kNothing;
  int times = 3;     // of the groove before what stands behind it
  std::string fill;  // of the library; empty: its first
  CleanLimits limits;
  ClickPattern click;
  int countIn = 1;  // bars
  // Pads (notes) that say what a key does; none: -1.
  enum Command { kClean, kNotYet, kNext, kBack, kCommands };
  std::array<int, kCommands> pads = {-1, -1, -1, -1};
  double minutes = 5;  // a day
  int days = 30, restEvery = 7;
  bool cautionRead = false;
};

class Rehearsing : public QObject {
  Q_OBJECT
 public:
  using Command = RehearseSettings::Command;

  Rehearsing(Editing& editing, Transport& transport, PlayIn& playIn, Checker& checker,
             QString logFile, QObject* parent);

  Editing& editing() { return editing_; }
  const Groove& groove() const { return editing_.groove(); }
  LogDesk& log() { return log_; }
  const LogDesk& log() const { return log_; }

  // While it is shown the transport is lent; hidden, it plays what it did before.
  void setShown(bool shown);

  const RehearseSettings& settings() const { return settings_; }
  void setSettings(RehearseSettings settings);
  void change(const std::function<void(RehearseSettings&)>& how);
  void readSettings(const QSettings& settings);
  void writeSettings(QSettings& settings) const;

  // --- What is practised ---
  const std::vector<RehearsalStep>& steps() const { return steps_; }
  const Ladder& ladder() const { return ladder_; }
  void setLadder(double from, double to);
  const std::vector<double>& rungs() const { return rungs_; }
  const RehearsalPlace& place() const { return place_; }
  const RehearsalStep& step() const { return steps_[place_.step]; }
  double bpm() const { return rungs_[place_.rung]; }
  double songBpm() const;
  // What the player's limits call comfortable, BPM; nothing: not known yet.
  std::optional<double> comfortable() const;
  void goTo(std::size_t step, std::size_t rung);
  void moveStep(int by);  // in the order, with the place
  void run(Command command);

  // --- What was played ---
  bool listens() const { return !playIn_.source().isEmpty(); }
  QString sourceText() const;
  // The time through that is played, as far as it is, else the last one; nothing: none yet.
  const std::optional<Alignment>& heard() const { return heard_; }
  const std::optional<TimeThrough>& last() const { return last_; }
  // What plays of it now: the round of the time through, from 0, and the place in the groove.
  struct Now {
    int time = 0;
    Beat at;
    bool counting = false;
  };
  std::optional<Now> now() const;
  QString nextText() const;  // what the next time through asks: "2 more clean ones, then 86"
  // Of the last time through.
  void feels(const QString& what);
  Groove practised() const;  // the step, with what stands behind it

  // Ten strokes on a click: what arrives late of all of them is taken off from then on.
  void measureLatency();
  bool measuringLatency() const { return measuring_; }
  Milliseconds latency() const;
  void setSkill(const Skill& skill) { skill_ = skill; }  // of the simulated player

  // --- Days ---
  const std::optional<PracticePlan>& plan() const { return plan_; }
  const QString& planError() const { return planError_; }
  PlanAsked asked() const;
  // A take from elsewhere, held against the step: shown, not kept.
  void show(Alignment alignment);
  // The first item of today: step and tempos.
  void takeToday();
  std::chrono::sys_days today() const;
  void setToday(std::chrono::sys_days day) { today_ = day; }  // in place of the clock's

 Q_SIGNALS:
  void changed();  // steps, place, settings, result
  void played();   // a stroke, or where it is
  void said(const QString& what);
  void refused(const QString& why);

 private:
  void grooveChanged();
  void breakDown();
  void planAhead();
  void lend();
  void lookAround();
  void began();
  void ended();
  void beginTime(int time);
  void timeOver(Alignment alignment);
  void judge(bool clean, bool byHand);
  void goOn(RehearsalPlace next);
  void hear(const NoteIn& note);
  void simulate(int time);
  void latencyHeard(Milliseconds at);
  RehearsalRules rules() const;
  Groove unit(std::size_t step) const;  // what one time through is made of
  int rounds() const;
  SharedTake partOf(const Groove& groove) const;
  double rate() const;
  TimeThrough newTime() const;
  void setPlace(const RehearsalPlace& place);

  Editing& editing_;
  Transport& transport_;
  PlayIn& playIn_;
  Checker& checker_;
  LogDesk log_;
  RehearseSettings settings_;
  bool shown_ = false;
  Groove of_;  // what is broken down, as it was then
  double songBpm_ = 0;
  std::vector<RehearsalStep> steps_;
  Ladder ladder_;
  bool ladderSet_ = false;  // by hand
  std::vector<double> rungs_;
  RehearsalPlace place_;
  std::optional<RehearsalPlace> pending_;  // from the next time through on
  std::vector<std::pair<Beat, Beat>> free_;
  std::optional<Ear> ear_;
  bool nextPart_ = false;  // the ear goes on with the step's own part
  int time_ = -1;          // that plays
  NoteReader reader_;
  std::optional<Alignment> heard_;
  bool heardMore_ = false;           // than it tells
  std::map<int, TimeThrough> open_;  // times that have begun and are not told
  std::optional<TimeThrough> last_;
  RehearsalPlace before_;       // of the last result
  std::optional<bool> marked_;  // by hand, of the time that plays
  Skill skill_;
  std::optional<std::chrono::sys_days> today_;
  bool measuring_ = false;
  std::vector<Milliseconds> late_;
  std::map<std::string, double> latencies_;  // ms, by source
  std::optional<PracticePlan> plan_;
  QString planError_;
  Aside<Result<PracticePlan>> planning_;
  QTimer look_;
};

}  // namespace uneven
