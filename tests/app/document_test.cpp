// SPDX-License-Identifier: GPL-3.0-or-later
// The takes that a document holds.
#include "app/edit/document.h"

#include <QSignalSpy>
#include <QTest>

#include "core/song/edit.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

Song songOfBars(int repeat) {
  Song song = blankSong();
  song.grooves[0].edit([](Groove& g) {
    g.bars = 1;
    for (int i = 0; i < 16; ++i) {
      Hit hit;
      hit.at = Beat(i, 4);
      hit.piece = piece::kHat;
      g.hits.push_back(hit);
    }
  });
  song.arrangement[0].repeat = repeat;
  return song;
}

Song louder(Song song, int velocity) {
  song.grooves[0].edit([&](Groove& g) { g.hits[0].velocity = Velocity(velocity); });
  return song;
}

class Takes : public ::testing::Test {
 protected:
  PosixFileSystem files;
  KitMapLibrary maps;
  Document document{files, maps, [] { return Milliseconds(0); }};
};

TEST_F(Takes, TheSongIsPerformedOnceAnEdit) {
  document.replace(songOfBars(4), {});
  const SharedTake take = document.songTake();
  ASSERT_TRUE(take);
  EXPECT_EQ(document.songTake(), take) << "not again";
  EXPECT_EQ(take->song(), document.song());
  ASSERT_TRUE(document.apply(QStringLiteral("louder"), louder(document.song(), 101)));
  const SharedTake after = document.songTake();
  ASSERT_TRUE(after);
  EXPECT_EQ(after->strokes()[0].velocity, Velocity(101));
  EXPECT_NE(take->strokes()[0].velocity, Velocity(101)) << "a take never changes";
  document.undo();
  EXPECT_EQ(document.songTake()->strokes()[0].velocity, take->strokes()[0].velocity);
}

TEST_F(Takes, ALongSongIsPerformedAsideAndNeverAStaleOneShown) {
  document.replace(songOfBars(5'000), {});
  QSignalSpy taken(&document, &Document::songTaken);
  EXPECT_FALSE(document.songTake()) << "not while it is made";
  ASSERT_TRUE(document.apply(QStringLiteral("louder"), louder(document.song(), 101)));
  EXPECT_FALSE(document.songTake()) << "what was begun is of another song";
  EXPECT_EQ(document.take().strokes()[0].velocity, Velocity(101)) << "the groove is there at once";
  ASSERT_TRUE(taken.wait(30'000));
  const SharedTake take = document.songTake();
  ASSERT_TRUE(take);
  EXPECT_EQ(take->song(), document.song());
  EXPECT_EQ(take->strokes().size(), 80'000U);
  EXPECT_EQ(taken.count(), 1) << "of the song as it is, and of no other";
  ASSERT_TRUE(document.apply(QStringLiteral("louder"), louder(document.song(), 102)));
  EXPECT_FALSE(document.songTake());
}

TEST_F(Takes, ThePlaceIsWhereTheSongPlaysTheGrooveFirst) {
  Song song = songOfBars(3);
  Groove other = *song.grooves[0];
  other.id = "other";
  song.grooves.push_back(SharedValue<Groove>(other));
  document.replace(song, {});
  document.chooseGroove("other");
  EXPECT_EQ(document.place().block, std::nullopt) << "it is not played";
  song.arrangement.push_back(song.arrangement[0]);
  song.arrangement[1].groove = "other";
  document.replace(song, {});
  document.chooseGroove("other");
  EXPECT_EQ(document.place().block, 3U);
  EXPECT_EQ(document.place().bar, 3);
  EXPECT_EQ(document.take().score().blocks.front().start, document.songScore()->blocks[3].start);
}

}  // namespace
}  // namespace uneven
