// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/midi/render.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <vector>

#include "core/midi/smf.h"
#include "core/song/edit.h"
#include "tests/support/made.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

using testing::hitAt;
using testing::songOf;

const KitMap& generalMidi() {
  return *builtInKitMap("general-midi");
}

Hit opened(double open, Beat openFor = {}) {
  Hit h = hitAt(0, piece::kHat);
  h.open = open;
  h.openFor = openFor;
  return h;
}

Rendering rendered(const Song& song, const RenderOptions& options = {},
                   const KitMap& map = generalMidi()) {
  Result<Rendering> r = render(song, map, options);
  EXPECT_TRUE(r);
  return *r;
}

std::string listed(const MidiTrack& track) {
  std::string out;
  for (const MidiEvent& e : track.events) {
    if ((e.status & 0xF0) == 0xB0) continue;  // the pedal has tests of its own
    const char* kind = e.isNoteOn() ? "on" : (e.status & 0xF0) == 0xA0 ? "pressure" : "off";
    out += std::to_string(e.tick) + " " + kind + " " + std::to_string(e.data1) + "; ";
  }
  return out;
}

// Milliseconds at a tick as any player of the file computes them from its tempo events.
class PlayersClock {
 public:
  explicit PlayersClock(const MidiSequence& s) : ppq_(s.ticksPerQuarter) {
    for (const MetaEvent& m : s.tracks[0].metas) {
      if (m.type != kMetaTempo) continue;
      const auto b = [&](int i) {
        return static_cast<std::uint8_t>(m.data[static_cast<std::size_t>(i)]);
      };
      tempos_[m.tick] = (b(0) << 16) | (b(1) << 8) | b(2);
    }
  }
  double ms(std::int64_t tick) const {
    double sum = 0;
    for (auto it = tempos_.begin(); it != tempos_.end() && it->first <= tick; ++it) {
      const auto next = std::next(it);
      const std::int64_t end = next == tempos_.end() ? tick : std::min(tick, next->first);
      sum += static_cast<double>(end - it->first) / ppq_ * it->second / 1000;
    }
    return sum;
  }
  // The longer of the ticks on both sides: the tempo may change at this one.
  double tickMs(std::int64_t tick) const {
    return std::max(ms(tick + 1) - ms(tick), tick > 0 ? ms(tick) - ms(tick - 1) : 0);
  }

 private:
  int ppq_;
  std::map<std::int64_t, int> tempos_;
};

TEST(Voice, GivesTimesBackWithinOneTick) {
  testing::Random random(4);
  std::size_t checked = 0;
  for (int i = 0; i < 300; ++i) {
    const Song song = testing::randomSong(random);
    RenderOptions options;
    options.ppq = testing::pick(random, 24, 15'360);
    options.type = testing::pick(random, 0, 1);
    options.leadInBars = testing::pick(random, 0, 2);
    const Performance performance = (*Take::ofSong(song))->performance();
    const Rendering r = rendered(song, options);
    const PlayersClock clock(r.sequence);
    const auto score = arrange(song);
    const double lead =
        clock.ms(0) +
        (score->blocks.empty()
             ? 0
             : std::round((Beat(options.leadInBars) * score->blocks[0].groove->meter.barLength() *
                           Beat(options.ppq))
                              .toDouble()) /
                   options.ppq * score->tempo.steps()[0].tempo.quarter().count());
    for (const MidiTrack& track : r.sequence.tracks) {
      for (const MidiEvent& e : track.events) {
        if (!e.isNoteOn() || e.stroke == MidiEvent::kNoStroke) continue;
        const Stroke& s = performance.strokes.at(e.stroke);
        const double wanted = std::max(0.0, toMilliseconds(s.time).count() + lead);
        ASSERT_NEAR(clock.ms(e.tick), wanted, 0.5 * clock.tickMs(e.tick) + 1e-5);
        ASSERT_EQ(e.data2, s.velocity.value());
        ++checked;
      }
    }
  }
  EXPECT_GT(checked, 10'000U);
}

// What rings on to the end stops with the song, or as long after its stroke as any note is.
TEST(Voice, AnOpenHatAtTheEndIsANoteOfItsLength) {
  const auto lengthOf = [](Beat at) {
    Hit h = opened(1);
    h.at = at;
    const Rendering r = rendered(songOf({h}));
    std::int64_t on = -1, off = -1;
    for (const MidiEvent& e : r.sequence.tracks.back().events) {
      if (e.isNoteOn()) {
        on = e.tick;
      } else if ((e.status & 0xF0) == 0x80) {
        off = e.tick;
      }
    }
    return Beat(off - on, r.sequence.ticksPerQuarter);
  };
  EXPECT_EQ(lengthOf(Beat(3)), Beat(1));
  EXPECT_EQ(lengthOf(Beat(63, 16)), Beat(1, 8));
}

// Hats that stay shut leave the pedal alone.
TEST(Voice, ThePedalIsSentWhereItMoves) {
  const auto controllers = [](const std::vector<Hit>& hits, const KitMap& map) {
    const Rendering r = rendered(songOf(hits), {}, map);
    std::ptrdiff_t sent = 0;
    for (const MidiTrack& track : r.sequence.tracks) {
      sent += std::count_if(track.events.begin(), track.events.end(),
                            [](const MidiEvent& e) { return (e.status & 0xF0) == 0xB0; });
    }
    return sent;
  };
  const Hit hat = hitAt(1, piece::kHat), snare = hitAt(2, piece::kSnare);
  std::ptrdiff_t moved = 0;
  for (const KitMap& map : builtInKitMaps()) {
    EXPECT_EQ(controllers({hat, snare}, map), 0) << map.name;
    moved += controllers({opened(1), hat}, map);
  }
  EXPECT_GT(moved, 0);
}

TEST(Voice, NotesNeverOverlapTheSameNoteAndAllEnd) {
  testing::Random random(6);
  for (int i = 0; i < 300; ++i) {
    RenderOptions options;
    options.ppq = testing::pick(random, 24, 960);
    options.trackPerPiece = testing::pick(random, 0, 1) == 1;
    const Song song = testing::randomSong(random);
    const Rendering r = rendered(song, options);
    for (const MidiTrack& track : r.sequence.tracks) {
      std::map<int, std::int64_t> sounding;
      std::int64_t before = 0;
      for (const MidiEvent& e : track.events) {
        ASSERT_GE(e.tick, before);
        before = e.tick;
        if (e.isNoteOn()) {
          ASSERT_FALSE(sounding.contains(e.data1)) << "note " << int{e.data1} << " at " << e.tick;
          sounding[e.data1] = e.tick;
        } else if ((e.status & 0xF0) != 0xB0) {
          ASSERT_TRUE(sounding.contains(e.data1));
          ASSERT_GT(e.tick, sounding[e.data1]) << "of some length";
          sounding.erase(e.data1);
        }
      }
      ASSERT_TRUE(sounding.empty());
    }
  }
}

TEST(Voice, EveryStrokeBecomesANoteOrIsReported) {
  testing::Random random(10);
  for (int i = 0; i < 200; ++i) {
    const Song song = testing::randomSong(random);
    const Performance performance = (*Take::ofSong(song))->performance();
    const Rendering r = rendered(song);
    std::size_t notes = 0;
    for (const MidiEvent& e : r.sequence.tracks[1].events) {
      notes += e.isNoteOn() && e.stroke != MidiEvent::kNoStroke ? 1 : 0;
    }
    std::size_t merged = 0;
    for (const std::string& notice : r.notices) {
      if (notice.find("the louder was kept") != std::string::npos) merged = std::stoul(notice);
    }
    EXPECT_EQ(notes + merged, performance.strokes.size());
  }
}

TEST(Voice, OpenHatsAreShutByTheNextHatStroke) {
  const Rendering r = rendered(songOf({opened(0.6), hitAt(1, piece::kHat)}));
  EXPECT_EQ(listed(r.sequence.tracks[1]), "0 on 46; 960 off 46; 960 on 42; 1080 off 42; ");
}

TEST(Voice, OpenHatsAreShutByTheFootAtTheEndOfOpenFor) {
  const Rendering r = rendered(songOf({opened(0.6, Beat(1, 2)), hitAt(2, piece::kHat)}));
  EXPECT_EQ(listed(r.sequence.tracks[1]),
            "0 on 46; 480 off 46; 480 on 44; 600 off 44; 1920 on 42; 2040 off 42; ");
}

TEST(Voice, TheMapChoosesWhatEndsAnOpenSound) {
  const Song song = songOf({opened(0.6, Beat(1, 2))});
  KitMap map = generalMidi();
  map.shutBy = ShutBy::kClosedNote;
  EXPECT_EQ(listed(rendered(song, {}, map).sequence.tracks[1]),
            "0 on 46; 480 off 46; 480 on 42; 600 off 42; ");
  map.shutBy = ShutBy::kPolyPressure;
  EXPECT_EQ(listed(rendered(song, {}, map).sequence.tracks[1]),
            "0 on 46; 480 pressure 46; 480 off 46; ");
}

TEST(Voice, AStrokeBeforeTheStartIsKeptByALeadInElseReported) {
  Song song = songOf({hitAt(0, piece::kKick)});
  song.arrangement.front().feel = song.feels[0].id;
  song.feels[0].displacement[piece::kKick] = Milliseconds(-25);
  const Rendering held = rendered(song);
  EXPECT_EQ(held.sequence.tracks[1].events[0].tick, 0);
  ASSERT_EQ(held.notices.size(), 1U);
  EXPECT_NE(held.notices[0].find("the earliest by 25.0 ms"), std::string::npos);
  RenderOptions options;
  options.leadInBars = 1;
  const Rendering kept = rendered(song, options);
  EXPECT_EQ(kept.sequence.tracks[1].events[0].tick, 3840 - 48);  // 25 ms at 120 bpm: 48 ticks
  EXPECT_TRUE(kept.notices.empty());
}

TEST(Voice, TwoStrokesOnOneNoteAndTickBecomeTheLouder) {
  Hit right = hitAt(0, piece::kSnare, 80);
  Hit left = hitAt(0, piece::kSnare, 110);
  const Rendering r = rendered(songOf({right, left}));
  EXPECT_EQ(listed(r.sequence.tracks[1]), "0 on 38; 120 off 38; ");
  EXPECT_EQ(r.sequence.tracks[1].events[0].data2, 110);
  ASSERT_EQ(r.notices.size(), 1U);
}

TEST(Voice, ReportsPiecesTheMapDoesNotServe) {
  KitMap map = generalMidi();
  std::erase_if(map.rows, [](const KitMapRow& row) { return row.piece == "kick"; });
  const Rendering r = rendered(songOf({hitAt(0, piece::kKick)}), {}, map);
  EXPECT_TRUE(r.sequence.tracks[1].events.empty());
  ASSERT_EQ(r.notices.size(), 1U);
  EXPECT_NE(r.notices[0].find("no note for Kick: 1 stroke left out"), std::string::npos);
}

TEST(Voice, TheConductorCarriesTitleTempoMeterAndMarkers) {
  Song song = songOf({hitAt(0, piece::kKick)}, 2);
  song.title = "Title";
  song.tempo = {{0, {120}, {}}, {Beat(8), {60}, {}}};
  Groove odd;
  odd.id = "odd";
  odd.meter = {7, 8};
  song.grooves.emplace_back(odd);
  Section section;
  section.name = "Odd";
  section.groove = "odd";
  song.arrangement.push_back(section);
  const MidiTrack conductor = rendered(song).sequence.tracks[0];
  const auto at = [](std::int64_t tick, std::uint8_t type, std::string data) {
    return MetaEvent{tick, type, std::move(data)};
  };
  const std::vector<MetaEvent> wanted = {at(0, kMetaName, "Title"),
                                         at(0, kMetaTempo, std::string("\x07\xA1\x20")),
                                         at(0, kMetaMeter, "\x04\x02\x18\x08"),
                                         at(0, kMetaMarker, "Groove"),
                                         at(7680, kMetaTempo, std::string("\x0F\x42\x40")),
                                         at(7680, kMetaMeter, "\x07\x03\x0C\x08"),
                                         at(7680, kMetaMarker, "Odd")};
  EXPECT_EQ(conductor.metas, wanted);
  EXPECT_EQ(conductor.endTick, 7680 + 3360);
}

TEST(Voice, RefusesOptionsOutOfRange) {
  const Song song = blankSong();
  for (const RenderOptions& bad :
       {RenderOptions{23, 1, false, 0}, RenderOptions{15'361, 1, false, 0},
        RenderOptions{960, 2, false, 0}, RenderOptions{960, 1, false, 17},
        RenderOptions{960, 0, true, 0}}) {
    const auto r = render(song, generalMidi(), bad);
    ASSERT_FALSE(r);
    EXPECT_EQ(r.error().code, ErrorCode::kLimit);
  }
}

}  // namespace
}  // namespace uneven
