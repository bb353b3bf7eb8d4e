// SPDX-License-Identifier: GPL-3.0-or-later
#include <gtest/gtest.h>

#include "core/io/song_json.h"
#include "core/song/core_groove.h"
#include "core/song/limbs.h"
#include "core/song/mix.h"
#include "core/voice/kit_map.h"
#include "tests/support/made.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

TEST(Kit, TheSetupMirrorsAndUncrosses) {
  Kit kit = houseKit();
  EXPECT_EQ(kit.usualLimb(piece::kHat), Limb::kRightHand);
  EXPECT_EQ(kit.usualLimb(piece::kSnare), Limb::kLeftHand);
  kit.setup.openHanded = true;
  EXPECT_EQ(kit.usualLimb(piece::kHat), Limb::kLeftHand);
  EXPECT_EQ(kit.usualLimb(piece::kSnare), Limb::kRightHand);
  EXPECT_EQ(kit.usualLimb(piece::kRide), Limb::kRightHand);
  kit.setup.kit = Side::kLeft;
  EXPECT_EQ(kit.usualLimb(piece::kHat), Limb::kRightHand);
  EXPECT_EQ(kit.usualLimb(piece::kKick), Limb::kLeftFoot);
  EXPECT_EQ(kit.usualLimb(piece::kClick), Limb::kAutomatic);
}

// Hats left, ride right as the drummer sits; the other way round in a mirrored kit.
TEST(HouseMix, GoesWithTheSideOfTheKit) {
  Kit kit = houseKit();
  EXPECT_LT(houseMix(kit, piece::kHat).pan, 0);
  EXPECT_GT(houseMix(kit, piece::kRide).pan, 0);
  EXPECT_GT(houseMix(kit, piece::kTomFloor).pan, houseMix(kit, piece::kTomHigh).pan);
  EXPECT_EQ(houseMix(kit, piece::kKick).pan, 0);
  Kit mirrored = kit;
  mirrored.setup.kit = Side::kLeft;
  for (const PieceId piece : kit.order) {
    EXPECT_EQ(houseMix(mirrored, piece).pan, -houseMix(kit, piece).pan) << kit[piece].id;
    EXPECT_EQ(houseMix(mirrored, piece).levelDb, houseMix(kit, piece).levelDb);
  }
}

TEST(Kit, ADoublePedalTakesTheFeetInTurn) {
  Kit kit = houseKit();
  Groove groove;
  for (const Beat at : {Beat(0), Beat(1, 4), Beat(1, 2), Beat(1), Beat(5, 4)}) {
    Hit hit;
    hit.at = at;
    hit.piece = piece::kKick;
    groove.hits.push_back(hit);
  }
  using enum Limb;
  EXPECT_EQ(limbsOf(groove, kit), std::vector<Limb>(5, kRightFoot));
  kit.setup.doublePedal = true;
  EXPECT_EQ(limbsOf(groove, kit),
            (std::vector<Limb>{kRightFoot, kLeftFoot, kRightFoot, kRightFoot, kLeftFoot}));
  groove.hits[1].limb = kRightFoot;  // set by hand: stays, and the next one changes over
  EXPECT_EQ(limbsOf(groove, kit)[2], kLeftFoot);
}

TEST(Kit, PiecesAreRenamedHiddenAddedAndOrdered) {
  const char* text =
      R"({"format": "uneven-stick-song", "version": 1, "tempo": [{"at": "0", "bpm": 90}],
    "kit": {"id": "mine", "handed": "left", "double_pedal": true,
      "pieces": [{"id": "cowbell", "name": "Bell of the boat", "shown": true},
                 {"id": "floor-rim", "limb": "right-hand", "strokes": ["edge"], "like": "tom-floor"}],
      "order": ["kick", "floor-rim"]},
    "grooves": [{"id": "g", "hits": [{"at": "0", "piece": "floor-rim", "velocity": 90}]}]})";
  const Result<Song> song = readSong(text, "kit.ustick");
  ASSERT_TRUE(song) << song.error().line();
  const Kit& kit = *song->kit;
  EXPECT_EQ(kit.pieces.size(), houseKit().pieces.size() + 1);
  EXPECT_EQ(kit[piece::kCowbell].name, "Bell of the boat");
  EXPECT_EQ(kit.order.front(), piece::kKick);
  const PieceId own = *kit.find("floor-rim");
  EXPECT_EQ(kit.order[1], own);
  EXPECT_EQ(kit[own].strokes, std::vector<StrokeKind>{StrokeKind::kEdge});
  const KitMap& map = *builtInKitMap("general-midi");
  ASSERT_NE(rowFor(map, kit[own], StrokeKind::kEdge, 0), nullptr);
  EXPECT_EQ(rowFor(map, kit[own], StrokeKind::kEdge, 0)->note,
            map.find("tom-floor", StrokeKind::kNormal, 0)->note);
  EXPECT_EQ(writeSong(*readSong(writeSong(*song), "again")), writeSong(*song));
}

// What is as in the house's kit is not written; new pieces stand behind its own.
TEST(Kit, AnOrderIsWrittenWhereItIsAnotherOnly) {
  Song song = testing::songOf({testing::hitAt(Beat(0), piece::kSnare)});
  const auto written = [&](const Kit& kit) {
    song.kit = SharedValue<Kit>(kit);
    return writeSong(song);
  };
  Kit kit = houseKit();
  kit.id = "mine";
  kit.setup.openHanded = true;
  EXPECT_EQ(written(kit).find("\"order\""), std::string::npos);
  kit.pieces.push_back(kit.pieces.back());
  kit.pieces.back().id = "brake-drum";
  kit.order.push_back(*kit.find("brake-drum"));
  EXPECT_EQ(written(kit).find("\"order\""), std::string::npos);
  std::swap(kit.order[0], kit.order[1]);
  EXPECT_NE(written(kit).find("\"order\""), std::string::npos);
}

TEST(CoreGroove, TellsWhatAVersionAddsAndGoesBack) {
  testing::Random random(5);
  for (int i = 0; i < 100; ++i) {
    Groove core = testing::randomGroove(random, "core", "");
    core.bars = 1;
    std::erase_if(core.hits, [&](const Hit& h) { return h.at >= core.length(); });
    Groove version = backToCore(core, core);
    ASSERT_EQ(version.hits, core.hits);
    version.bars = 2;
    version = backToCore(core, version);
    ASSERT_EQ(version.hits.size(), 2 * core.hits.size());
    ASSERT_TRUE(addedTo(core, version).empty());
    Hit hit;
    hit.at = Beat(1, 99);  // where nothing stands
    hit.piece = piece::kClick;
    const Groove more = withHit(version, hit);
    ASSERT_EQ(addedTo(core, more), (Selection{{hit.at, hit.piece}}));
    ASSERT_EQ(leftOutOf(core, more), 0);
    if (!version.hits.empty()) {
      ASSERT_EQ(leftOutOf(core, withoutHits(version, {refOf(version, 0)})), 1);
    }
    ASSERT_EQ(backToCore(core, more), version);
  }
}

}  // namespace
}  // namespace uneven
