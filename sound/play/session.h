// SPDX-License-Identifier: GPL-3.0-or-later
// What of a song is played: round what, from where, how fast, with which click.
//
//   Take, Plan, Place --PlaySession--> Wish --Player--> sound
//                     <--where a moment falls-- the player's state and clock
//
// A session knows no device, no thread and no hour: who owns it gives the wish to a player, and
// asks with what the player says. Threads: a plain value.
#pragma once

#include <optional>

#include "sound/play/heard.h"
#include "sound/play/player.h"

namespace uneven {

// What is played round, or through.
enum class PlayRange : std::uint8_t { kGroove, kBar, kSelection, kSection, kSong };

struct PlayPlan {
  static constexpr double kSlowest = 25, kFastest = 150;  // % of the song's tempo

  PlayRange range = PlayRange::kGroove;
  bool loop = true;
  bool fromStart = false;  // of the range, wherever the cursor is
  double percent = 100;    // of the song's tempo
  int countIn = 0;         // bars
  ClickPlan click;
  Heard heard;

  bool song() const { return range == PlayRange::kSection || range == PlayRange::kSong; }
};

// Where the hand is in the song: playing goes by it.
struct PlayPlace {
  const Groove* groove = nullptr;  // at hand; it lives while the place is used
  AtPlace at;
  Beat cursor;
  // The first and the last position of a selection of more than one hit.
  std::optional<std::pair<Beat, Beat>> selected;
};

// What a programme is made with besides: the notes of what sounds, who is listened to, and the kit
// map of a port where strokes are sent to one.
struct PlaySounds {
  const KitMap& map;
  Listening listening;
  const KitMap* port = nullptr;
};

class PlaySession {
 public:
  PlayPlan plan;

  bool playing() const { return playing_; }
  // Another plan in place of one's own, until it is given back; once more: in place of the one that
  // was lent.
  void lend(PlayPlan other);
  bool giveBack();  // whether there was one
  bool lent() const { return own_.has_value(); }
  const PlayPlan& own() const { return own_ ? *own_ : plan; }

  // From where the plan and the hand say, with its count-in.
  void play(SharedTake take, const PlayPlace& place, const PlaySounds& sounds);
  // A recording by itself: nothing is struck for so many seconds, from one of them on. `beside`:
  // what the rest of the window goes by meanwhile.
  void playRecording(SharedTake beside, double lasts, double from);
  // Another take, place, plan or other listening for what plays; it goes on from where it is.
  // `take`: nullptr where it is not there yet, so that what plays goes on as it was.
  void remake(const SharedTake& take, const PlayPlace& place, const PlaySounds& sounds);
  void stop();

  // What of a wish is the session's: programme, start, from, lead and rate.
  void fill(Wish& wish) const;
  // Whether a player has begun what was last asked for.
  bool begun(const Player::State& state) const { return playing_ && state.start == starts_; }
  bool begun(const Player::FrameClock& clock) const { return playing_ && clock.start == starts_; }
  const SharedTake& take() const { return take_; }

  // Where the song is heard: a place in a groove.
  struct Playhead {
    std::string groove;
    Quarters at;            // from the groove's start
    Beat slot;              // that sounds: of those written, the last whose time has come
    bool counting = false;  // in the count-in, before it begins
    Quarters song;          // from the song's start
  };
  std::optional<Playhead> playhead(const Player::State& state) const;
  // The song time of a moment. In a loop it is one of the loop's, whichever round the clock is in
  // by now: who plays just before the end is heard of just after.
  Moment heardAt(const Player::FrameClock& clock, Player::Time moment) const;
  // Where that falls in a groove that plays, just before it begins too; nothing: elsewhere, or in
  // the count-in. Where a part of a groove is played round, what is struck after half of its last
  // slot is meant for its first position.
  std::optional<Milliseconds> inGroove(const std::string& groove, const Player::FrameClock& clock,
                                       Player::Time moment) const;
  // How far into what is played a moment lies, at the song's tempo, all rounds counted; below 0: in
  // the count-in.
  Milliseconds sinceStart(const Player::FrameClock& clock, Player::Time moment) const;

 private:
  std::optional<PlayPlan> own_;  // while another is lent
  bool playing_ = false;
  SharedTake take_;
  std::optional<Span> span_;  // that is played round or through
  Moment upbeat_{0};          // of the round's end, that belongs to its start
  std::shared_ptr<const Programme> programme_;
  std::vector<SoundEvent> lead_;
  Moment from_{0};
  std::uint64_t starts_ = 0;
};

// What a plan plays of a take; nothing: nothing of it is in the take.
std::optional<Span> playedSpan(const Take& take, const PlayPlan& plan, const PlayPlace& place);
// How much of its end is nearer to its start, where a part of a groove is played round: half of its
// last slot. 0 where all of it is.
Moment upbeatOf(const Take& take, const PlayPlan& plan, const PlayPlace& place);
// Where it begins.
Moment playedFrom(const Take& take, const PlayPlan& plan, const PlayPlace& place);

}  // namespace uneven
