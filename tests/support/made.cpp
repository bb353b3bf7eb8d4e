// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/support/made.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <utility>

#include "core/perform/score.h"
#include "core/song/edit.h"

namespace uneven::testing {

Hit hitAt(Beat at, PieceId piece, int velocity, Role role) {
  Hit hit;
  hit.at = at;
  hit.piece = piece;
  hit.velocity = Velocity(velocity);
  hit.role = role;
  return hit;
}

Song songOf(std::vector<Hit> hits, int bars) {
  Song song = blankSong();
  song.tempo = {{Beat(0), Bpm{120}, {}}};
  Groove groove = *song.grooves.front();
  groove.bars = bars;
  groove.feel.clear();
  std::stable_sort(hits.begin(), hits.end(), writtenBefore);
  groove.hits = std::move(hits);
  song.grooves = {groove};
  song.arrangement.resize(1);
  song.arrangement.front().groove = groove.id;
  song.arrangement.front().feel.clear();
  song.arrangement.front().repeat = 1;
  return song;
}

Performance played(const Song& song) {
  const Result<Score> score = arrange(song);
  EXPECT_TRUE(score);
  return perform(*score);
}

}  // namespace uneven::testing
