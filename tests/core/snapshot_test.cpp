// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/song/snapshot.h"

#include <gtest/gtest.h>

#include "core/song/edit.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

using testing::pick;
using testing::Random;

TEST(Snapshot, GivesEverySongBackAndTellsThemApart) {
  Random random(311);
  for (int i = 0; i < 40; ++i) {
    // A history: each song is the one before with a groove changed, or another altogether.
    std::vector<Song> songs{testing::randomSong(random)};
    std::vector<std::shared_ptr<const SongSnapshot>> kept{SongSnapshot::of(songs[0], nullptr)};
    for (int k = 0; k < 6; ++k) {
      Song next = songs.back();
      if (pick(random, 0, 4) == 0) {
        next = testing::randomSong(random);
      } else {
        const auto which =
            static_cast<std::size_t>(pick(random, 0, static_cast<int>(next.grooves.size()) - 1));
        Hit hit;
        hit.piece = piece::kCowbell;
        hit.velocity = Velocity(pick(random, 1, 127));
        next = withGroove(next, withHit(*next.grooves[which], hit));
      }
      songs.push_back(next);
      kept.push_back(SongSnapshot::of(next, kept.back().get()));
    }
    for (std::size_t a = 0; a < songs.size(); ++a) {
      for (std::size_t b = 0; b < songs.size(); ++b) {
        EXPECT_EQ(kept[a]->song(songs[b], *kept[b]), songs[a]);
        EXPECT_EQ(*kept[a] == *kept[b], songs[a] == songs[b]);
      }
    }
  }
}

TEST(Snapshot, OutlivesTheSongItIsOf) {
  Random random(312);
  const Song song = testing::randomSong(random);
  std::shared_ptr<const SongSnapshot> kept;
  {
    Song copy = song;
    for (auto& groove : copy.grooves) groove.edit([](Groove&) {});  // owned by nobody else
    kept = SongSnapshot::of(copy, nullptr);
  }
  const auto other = SongSnapshot::of(blankSong(), kept.get());
  EXPECT_EQ(kept->song(blankSong(), *other), song);
}

}  // namespace
}  // namespace uneven
