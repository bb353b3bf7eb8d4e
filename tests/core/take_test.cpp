// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/take/take.h"

#include <gtest/gtest.h>

#include "core/song/edit.h"
#include "core/voice/notes.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

using Indices = std::vector<std::uint32_t>;

Indices listed(Take::Indices indices) {
  return {indices.begin(), indices.end()};
}

// What a search through all strokes finds.
template <typename Test>
Indices searched(const Take& take, Test test) {
  Indices out;
  for (std::uint32_t i = 0; i < take.strokes().size(); ++i) {
    if (test(take.strokes()[i])) out.push_back(i);
  }
  return out;
}

TEST(Take, ItsIndexFindsWhatASearchFinds) {
  testing::Random random(1101);
  std::size_t ornaments = 0;
  for (int round = 0; round < 150; ++round) {
    const auto made = Take::ofSong(testing::randomSong(random));
    ASSERT_TRUE(made);
    const Take& take = **made;
    const Score& score = take.score();
    for (std::uint32_t b = 0; b < score.blocks.size(); ++b) {
      for (std::uint32_t h = 0; h < score.blocks[b].groove->hits.size(); ++h) {
        const Indices ofHit = listed(take.ofHit(b, h));
        ornaments += ofHit.size() > 1 ? 1 : 0;
        ASSERT_EQ(ofHit,
                  searched(take, [&](const Stroke& s) { return s.block == b && s.hit == h; }));
      }
    }
    for (int bar = -1; bar <= score.bars; ++bar) {
      Indices ofBar = listed(take.ofBar(bar));
      for (std::size_t i = 1; i < ofBar.size(); ++i) {
        const Stroke& before = take.strokes()[ofBar[i - 1]];
        ASSERT_LE(before.hit, take.strokes()[ofBar[i]].hit) << "in the order of the hits";
      }
      std::sort(ofBar.begin(), ofBar.end());
      ASSERT_EQ(ofBar, searched(take, [&](const Stroke& s) { return s.bar == bar; })) << bar;
    }
    for (int i = 0; i < 20 && !take.strokes().empty(); ++i) {
      const auto any = [&] {
        const auto last = static_cast<int>(take.strokes().size()) - 1;
        return take.strokes()[static_cast<std::size_t>(testing::pick(random, 0, last))].time +
               Moment(testing::pick(random, -1, 1));
      };
      const Moment from = any();
      const Moment to = any();
      const Take::Range range = take.between(from, to);
      Indices found;
      for (std::uint32_t s = range.begin; s < range.end; ++s) found.push_back(s);
      ASSERT_EQ(found,
                searched(take, [&](const Stroke& s) { return s.time >= from && s.time < to; }));
    }
  }
  EXPECT_GT(ornaments, 100U) << "hits of several strokes must have been looked at";
}

TEST(Take, OfOneGrooveIsWhereTheSongPlaysItFirst) {
  Song song = blankSong();
  song.grooves[0].edit([](Groove& g) { g.hits.push_back({}); });
  Groove other = *song.grooves[0];
  other.id = "other";
  song.grooves.push_back(SharedValue<Groove>(other));
  song.arrangement[0].repeat = 3;
  song.arrangement.push_back(song.arrangement[0]);
  song.arrangement[1].groove = "other";
  const auto take = Take::ofGroove(song, "other");
  ASSERT_TRUE(take);
  EXPECT_EQ((*take)->strokes().size(), 1U);
  EXPECT_EQ((*take)->strokes()[0].bar, 3 * song.grooves[0]->bars);
  EXPECT_EQ((*take)->song(), song);
  const auto none = Take::ofGroove(song, "nothing");
  ASSERT_FALSE(none);
  EXPECT_EQ(none.error().code, ErrorCode::kUnknown);
}

// Strokes, and the foot where no stroke stands for it, in one order.
TEST(Sounds, AreTheStrokesAndWhatTheFootDoesBesides) {
  testing::Random random(1103);
  int besides = 0;
  for (int round = 0; round < 200; ++round) {
    const auto take = Take::ofSong(testing::randomSong(random));
    ASSERT_TRUE(take);
    const Performance& performance = (*take)->performance();
    const Kit& kit = *(*take)->score().kit;
    std::size_t foot = 0;
    for (const FootSound& s : performance.pedal.sounds) {
      foot += !s.masked && !s.written && s.velocity > 0 ? 1 : 0;
    }
    besides += static_cast<int>(foot);
    std::vector<Stroke> heard;
    forEachSound(performance, kit, [&](const Stroke& s) {
      heard.push_back(s);
      return true;
    });
    ASSERT_EQ(heard.size(), performance.strokes.size() + foot);
    for (std::size_t i = 1; i < heard.size(); ++i) {
      ASSERT_LE(std::pair(heard[i - 1].time, kit[heard[i - 1].piece].id),
                std::pair(heard[i].time, kit[heard[i].piece].id));
    }
    if (heard.size() < 2) continue;
    std::size_t calls = 0;
    forEachSound(performance, kit, [&](const Stroke&) { return ++calls < 2; });
    ASSERT_EQ(calls, 2U) << "it ends when told";
  }
  EXPECT_GT(besides, 50);
}

Song openThenShut() {
  Song song = blankSong();
  song.grooves[0].edit([](Groove& g) {
    g.bars = 1;
    for (int i = 0; i < 4; ++i) {
      Hit hit;
      hit.at = Beat(i);
      hit.piece = piece::kHat;
      if (i == 1) hit.open = 1;
      if (i == 1) hit.openFor = Beat(1, 2);
      g.hits.push_back(hit);
    }
  });
  return song;
}

// 120 bpm: the hats open at 500 ms and the foot shuts them at 750.
TEST(Notes, AnOpenNoteRingsUntilTheFootShutsIt) {
  const SharedTake held = *Take::ofSong(openThenShut());
  const Take& take = *held;
  const Notes notes = voice(take, *builtInKitMap("general-midi"));
  std::vector<NoteEvent> open;
  std::vector<NoteEvent> shut;
  for (const NoteEvent& e : notes.events) {
    if (e.kind == NoteEvent::Kind::kStrike && e.rings) open.push_back(e);
    if (e.kind == NoteEvent::Kind::kShut) shut.push_back(e);
  }
  ASSERT_EQ(open.size(), 1U);
  EXPECT_EQ(open[0].note, 46) << "the open hat of General MIDI Level 1";
  EXPECT_EQ(open[0].time, take.strokes()[1].time);
  ASSERT_EQ(shut.size(), 1U);
  EXPECT_EQ(shut[0].note, 46);
  EXPECT_EQ(shut[0].time, take.performance().pedal.sounds.front().time);
  EXPECT_NEAR(toMilliseconds(shut[0].time).count(), 750, 0.01);
  ASSERT_FALSE(notes.pedal.empty());
  EXPECT_EQ(notes.pedal.front(), (PedalKnot{Moment(0), 127})) << "the foot is down at first";
}

TEST(Notes, ANoteThatRingsIsShutBeforeAnotherOfTheHatsBegins) {
  testing::Random random(1102);
  int rang = 0;
  for (int round = 0; round < 200; ++round) {
    const auto take = Take::ofSong(testing::randomSong(random));
    ASSERT_TRUE(take);
    for (const KitMap& map : builtInKitMaps()) {
      const Notes notes = voice(**take, map);
      std::optional<int> ringing;
      std::size_t strikes = 0;
      Moment before = Moment::min();
      for (const NoteEvent& e : notes.events) {
        ASSERT_GE(e.time, before);
        before = e.time;
        if (e.kind != NoteEvent::Kind::kStrike) {
          ASSERT_EQ(ringing, e.note) << "only what rings is shut or pressed";
          if (e.kind == NoteEvent::Kind::kShut) ringing.reset();
          continue;
        }
        strikes += e.stroke == NoteEvent::kNoStroke ? 0 : 1;
        const PieceId piece =
            e.stroke == NoteEvent::kNoStroke ? piece::kHatFoot : (*take)->strokes()[e.stroke].piece;
        if (piece != piece::kHat && piece != piece::kHatFoot) continue;
        if (ringing) {
          ASSERT_EQ(*ringing, e.note) << "the same note begins anew, another never";
        }
        ringing.reset();
        if (e.rings) ringing = e.note;
        rang += e.rings ? 1 : 0;
      }
      int unmapped = 0;
      for (const auto& [piece, count] : notes.unmapped) unmapped += count;
      ASSERT_EQ(strikes + static_cast<std::size_t>(unmapped), (*take)->strokes().size());
    }
  }
  EXPECT_GT(rang, 200);
}

}  // namespace
}  // namespace uneven
