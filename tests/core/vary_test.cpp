// SPDX-License-Identifier: GPL-3.0-or-later
// Walks: as many variants as there are, each once, nothing changed that is kept; measures
// by hand.
#include "core/vary/walks.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <map>
#include <set>
#include <string>
#include <vector>

#include "core/io/song_json.h"
#include "core/take/take.h"
#include "core/vary/measures.h"
#include "core/vary/regrid.h"
#include "core/vary/walk.h"
#include "tests/support/random_song.h"
#include "tests/support/varied.h"

namespace uneven {
namespace {

using testing::namesOfWalk;
using testing::pick;
using testing::plainBeat;
using testing::Random;
using testing::rounds;
using testing::varied;
using testing::variedSong;
using testing::walkOf;

std::uint64_t nOver(std::uint64_t n, std::uint64_t k) {
  std::uint64_t out = 1;
  for (std::uint64_t i = 1; i <= k; ++i) out = out * (n - k + i) / i;
  return out;
}

TEST(Placement, AreAllSetsOfFreePlacesInOrder) {
  const Song song = plainBeat();
  const Walk one = walkOf(song, "placement", {{"piece", "kick"}});
  EXPECT_EQ(one.count, 14U) << "16 sixteenths but 1 and 3";
  EXPECT_EQ(one.at(0).name, "kick on 4 a");
  EXPECT_EQ(one.at(13).name, "kick on 1 e");
  const Walk first = walkOf(song, "placement", {{"piece", "kick"}, {"order", "first-last"}});
  EXPECT_EQ(first.at(0).name, "kick on 1 e");
  for (int strokes = 1; strokes <= 4; ++strokes) {
    const Walk all =
        walkOf(song, "placement", {{"piece", "kick"}, {"strokes", std::to_string(strokes)}});
    EXPECT_EQ(all.count, nOver(14, static_cast<std::uint64_t>(strokes)));
    std::set<std::string> keys;
    for (std::uint64_t i = 0; i < all.count; ++i) {
      const Variant v = all.at(i);
      EXPECT_TRUE(keys.insert(v.key).second) << v.name;
      EXPECT_EQ(v.groove.hits.size(), 12U + static_cast<std::size_t>(strokes));
    }
  }
  // Neighbours first, the last ones before the others.
  const Walk two = walkOf(song, "placement", {{"piece", "kick"}, {"strokes", "2"}});
  EXPECT_EQ(two.at(0).name, "kick on 4 & and 4 a");
  EXPECT_EQ(two.at(12).name, "kick on 1 e and 1 &");
  EXPECT_EQ(two.at(13).name, "kick on 4 e and 4 a") << "apart";
  // Beyond what anybody makes, it is only counted.
  const Walk many =
      walkOf(plainBeat(4), "placement", {{"piece", "kick"}, {"strokes", "4"}, {"grid", "1/32"}});
  EXPECT_EQ(many.count, nOver(4 * 32 - 8, 4));
  EXPECT_EQ(many.at(many.count - 1).groove.hits.size(), 52U);
}

TEST(Partials, AreAllSubsetsInTheOrderTheyAreTaught) {
  const Song song = plainBeat();
  const Walk triplets = walkOf(song, "partials", {{"piece", "kick"}, {"grid", "1/8T"}});
  EXPECT_EQ(namesOfWalk(triplets),
            (std::vector<std::string>{"kick on each let", "kick on each beat and let",
                                      "kick on each trip", "kick on each trip and let",
                                      "kick on each beat and trip", "kick on every partial",
                                      "kick out", "kick on each beat"}));
  EXPECT_EQ(walkOf(song, "partials", {{"piece", "kick"}, {"grid", "1/16"}}).count, 16U);
  // Beat by beat each subset of each beat but what is there.
  EXPECT_EQ(walkOf(song, "partials", {{"piece", "kick"}, {"grid", "1/16"}, {"each", "beat"}}).count,
            4 * 15U);
  const Result<Walk> odd =
      makeWalk("partials", song, "g", {{"piece", "kick"}, {"grid", "1/4T"}}, Profile{});
  EXPECT_FALSE(odd) << "a count is no whole number of them";
}

TEST(Displacement, GoesRoundTheBarBySlots) {
  Song song = variedSong({varied(0, piece::kKick), varied(Beat(3, 4), piece::kKick),
                          varied(1, piece::kSnare, Role::kAccent)});
  const Walk all = walkOf(song, "displace", {{"piece", "kick"}});
  EXPECT_EQ(all.count, 16U) << "and comes home";
  EXPECT_EQ(all.at(0).name, "kick one sixteenth later");
  EXPECT_EQ(all.at(15).groove, *song.grooves.front());
  for (std::uint64_t i = 0; i < all.count; ++i) {
    std::set<Beat> kicks;
    for (const Hit& h : all.at(i).groove.hits)
      if (h.piece == piece::kKick) kicks.insert(h.at);
    std::set<Beat> wanted;
    for (const Beat at : {Beat(0), Beat(3, 4)}) {
      const Beat there = at + Beat(static_cast<std::int64_t>(i) + 1, 4);
      wanted.insert(there - Beat(there.floorDiv(Beat(4))) * Beat(4));
    }
    EXPECT_EQ(kicks, wanted);
  }
  EXPECT_EQ(walkOf(song, "displace", {{"piece", "kick"}, {"by", "1/2"}}).count, 8U);
  // What goes round itself is the same sooner: no variant comes twice.
  EXPECT_EQ(walkOf(plainBeat(), "displace", {{"piece", "hat"}}).count, 2U);
}

TEST(Backbeats, GoToTheAndAndASlotAside) {
  const std::vector<std::string> all = namesOfWalk(walkOf(plainBeat(), "backbeat"));
  for (const char* name : {"backbeat of 4 on 4 &", "backbeat of 2 on 2 &", "backbeat of 4 on 3 a",
                           "backbeat of 2 on 2 e", "backbeats a slot late"})
    EXPECT_NE(std::find(all.begin(), all.end(), name), all.end()) << name;
}

// The eight one-slot openings of two beats, as in Open's own walk.
TEST(Openings, AreTheWalkOfOpenWithItsMarks) {
  Song song = plainBeat();
  const Walk all = walkOf(song, "openings", {{"from", "0"}, {"to", "2"}});
  EXPECT_EQ(all.count, placements(*song.grooves.front(), 0, 2).size());
  for (int i = 0; i < 8; ++i) {
    EXPECT_EQ(all.at(static_cast<std::uint64_t>(i)).key, placementText({{Beat(7 - i, 4)}, 1}));
  }
  const Groove marked = withVerdict(*song.grooves.front(), "7/4 for 1", WalkMark::kAwkward, "late");
  const WalkNote* note = verdictOf(marked, all.at(0).key);
  ASSERT_NE(note, nullptr);
  EXPECT_EQ(note->note, "late");
}

TEST(Accents, FallOnBeatsOffbeatsAndEveryThird) {
  const Walk all = walkOf(plainBeat(), "accents", {{"limb", "right-hand"}});
  const std::vector<std::string> told = namesOfWalk(all);
  for (const char* name : {"right hand: accents on the beats", "right hand: accents on the &s",
                           "right hand: accents on every third from the second"})
    EXPECT_NE(std::find(told.begin(), told.end(), name), told.end()) << name;
  const Variant beats = all.at(0);
  for (const Hit& h : beats.groove.hits) {
    if (h.piece != piece::kHat) continue;
    EXPECT_EQ(h.role == Role::kAccent, h.at.den() == 1);
  }
}

TEST(Hands, EachRudimentThatFitsIsOne) {
  std::vector<Hit> hits;
  for (int i = 0; i < 16; ++i) hits.push_back(varied(Beat(i, 4), piece::kSnare));
  const Walk all = walkOf(variedSong(std::move(hits)), "hands");
  const std::vector<std::string> told = namesOfWalk(all);
  EXPECT_NE(std::find(told.begin(), told.end(), "single paradiddle"), told.end());
  EXPECT_EQ(std::find(told.begin(), told.end(), "double paradiddle"), told.end()) << "12 of 16";
  for (std::uint64_t i = 0; i < all.count; ++i) {
    const Variant v = all.at(i);
    if (v.name != "single paradiddle") continue;
    std::string hands;
    for (const Hit& h : v.groove.hits) hands += h.limb == Limb::kRightHand ? 'R' : 'L';
    EXPECT_EQ(hands, "RLRRLRLLRLRRLRLL");  // Percussive Arts Society
  }
}

TEST(Bursts, TellWhichFootLeadsAfter) {
  const std::vector<std::string> told = namesOfWalk(
      walkOf(variedSong({varied(0, piece::kHat)}), "bursts", {{"from", "0"}, {"to", "2"}}));
  EXPECT_NE(std::find(told.begin(), told.end(), "kick 3 from 1; the other foot leads next"),
            told.end());
  EXPECT_NE(std::find(told.begin(), told.end(), "kick 4 from 1; the same foot leads next"),
            told.end());
  EXPECT_NE(std::find(told.begin(), told.end(),
                      "kick: three sextuplets from 1 let; the other foot leads next"),
            told.end());
}

// --- Properties, over grooves that have everything ---

TEST(Walks, KeepWhatIsKeptAndComeOnce) {
  Random random(71);
  int seen = 0;
  for (int i = 0; i < rounds(12); ++i) {
    const Song song = testing::randomSong(random);
    const Groove& core = *song.grooves.front();
    for (const WalkKind& kind : walks()) {
      for (const char* keep : {"none", "backbeat", "hands", "feet"}) {
        Arguments arguments;
        const bool keeps = std::any_of(kind.parameters.begin(), kind.parameters.end(),
                                       [](const ToolParameter& p) { return p.name == "keep"; });
        if (keeps) arguments["keep"] = keep;
        const Result<Walk> made = makeWalk(kind.name, song, core.id, arguments, Profile{});
        if (!made) continue;  // a grid that does not divide the count
        std::set<std::string> keys;
        const std::uint64_t step = std::max<std::uint64_t>(1, made->count / 12);
        for (std::uint64_t k = 0; k < made->count; k += step) {
          const Variant v = made->at(k);
          ++seen;
          EXPECT_FALSE(v.name.empty());
          if (kind.name != "free") {
            EXPECT_TRUE(keys.insert(v.key).second) << kind.name << ": " << v.name;
          }
          // It can be played, and read again.
          const Song with = withGroove(song, v.groove);
          ASSERT_TRUE(Take::ofGroove(with, core.id)) << kind.name << ": " << v.name;
          if (k == 0) {
            const auto again = readSong(writeSong(with), "v.ustick");
            ASSERT_TRUE(again) << kind.name << ": " << again.error().line();
            EXPECT_TRUE(*again == with) << kind.name << ": " << v.name;
          }
          EXPECT_TRUE(std::is_sorted(v.groove.hits.begin(), v.groove.hits.end(), writtenBefore));
          if (!keeps || keep == std::string("none") || kind.name == "against" ||
              kind.name == "openings")
            continue;
          for (const Hit& h : core.hits) {
            const Limb limb = h.limb == Limb::kAutomatic ? song.kit->usualLimb(h.piece) : h.limb;
            const bool foot = isFoot(limb);
            const std::string kept = keep;
            if ((kept == "hands" && !foot) || (kept == "feet" && foot)) {
              const auto there = indexOf(v.groove, {h.at, h.piece});
              ASSERT_TRUE(there) << kind.name << " keep=" << keep << ": " << v.name;
              EXPECT_TRUE(v.groove.hits[*there] == h) << kind.name << ": " << v.name;
            }
          }
        }
      }
    }
  }
  EXPECT_GT(seen, 1'000);
}

TEST(Walks, ChangesAndTheirKeysAreExact) {
  Random random(72);
  for (int i = 0; i < 40; ++i) {
    const Song a = testing::randomSong(random);
    Groove core = *a.grooves.front();
    Groove other = core;
    for (int k = 0; k < 5 && !other.hits.empty(); ++k) {
      const auto at =
          static_cast<std::size_t>(pick(random, 0, static_cast<int>(std::ssize(other.hits)) - 1));
      if (k % 2 == 0) {
        const HitRef gone = refOf(other, at);
        other = withoutHits(std::move(other), {gone});
      } else {
        other.hits[at].velocity = Velocity(pick(random, 1, 127));
      }
    }
    const Changes changes = changesBetween(core, other);
    EXPECT_TRUE(withChanges(core, changes) == other);
    EXPECT_TRUE(effective(core, changes) == changes) << "nothing that changes nothing";
    EXPECT_EQ(keyOf(core, changes, *a.kit), keyOf(core, changesBetween(core, other), *a.kit));
    EXPECT_LE(keyOf(core, changes, *a.kit).size(), 160U);
  }
}

TEST(Walks, OrdersAndFiltersAreWhatTheySay) {
  const Song song = plainBeat();
  const Profile player;
  const Walk easy = walkOf(song, "placement", {{"piece", "kick"}, {"order", "easiest"}});
  EXPECT_EQ(easy.count, 14U);
  double before = 1e9;
  for (std::uint64_t i = 0; i < easy.count; ++i) {
    const double now = ceilingOf(song, easy.at(i).groove, player)->playable;
    EXPECT_LE(now, before + 1e-9);
    before = now;
  }
  const Walk calm = walkOf(song, "placement", {{"piece", "kick"}, {"order", "least-syncopated"}});
  int least = -100;
  for (std::uint64_t i = 0; i < calm.count; ++i) {
    const int now = measure(*song.grooves.front(), calm.at(i).groove, piece::kKick).syncopation;
    EXPECT_GE(now, least);
    least = now;
  }
  const Walk linear = walkOf(song, "placement", {{"piece", "snare"}, {"only", "linear"}});
  EXPECT_EQ(linear.count, 0U) << "kick and hats stand together already";
  // Exactly those of all in which no three strokes come together.
  const Walk all = walkOf(song, "add");
  std::vector<std::string> two;
  for (std::uint64_t i = 0; i < all.count; ++i) {
    const Variant v = all.at(i);
    std::map<Beat, int> at;
    int most = 0;
    for (const Hit& h : v.groove.hits) most = std::max(most, ++at[h.at]);
    if (most <= 2) two.push_back(v.name);
  }
  EXPECT_GT(two.size(), 0U);
  EXPECT_LT(two.size(), all.count);
  EXPECT_EQ(namesOfWalk(walkOf(song, "add", {{"together", "2"}})), two);
  Song fast = song;
  fast.tempo = {{Beat(0), Bpm{380}, {}}};
  EXPECT_EQ(walkOf(fast, "placement", {{"piece", "kick"}, {"only", "playable"}}).count, 0U);
  EXPECT_EQ(walkOf(song, "placement", {{"piece", "kick"}, {"first", "5"}}).count, 5U);
  const auto refused =
      makeWalk("placement", plainBeat(8), "g",
               {{"piece", "kick"}, {"strokes", "4"}, {"order", "easiest"}}, player);
  ASSERT_FALSE(refused);
  EXPECT_EQ(refused.error().code, ErrorCode::kLimit);
  // 5985 variants may be put in order, but not be asked of the hands where each has 772 hits.
  const auto longOne = [&](const char* key, const char* value) {
    return makeWalk("placement", plainBeat(64), "g",
                    {{"piece", "kick"}, {"strokes", "4"}, {"to", "6"}, {key, value}}, player);
  };
  for (const auto& [key, value] : {std::pair("order", "easiest"), std::pair("only", "playable"),
                                   std::pair("only", "comfortable")}) {
    const auto measured = longOne(key, value);
    ASSERT_FALSE(measured) << value;
    EXPECT_NE(measured.error().message.find("too many to be measured"), std::string::npos);
  }
  const auto first = longOne("first", "3");
  EXPECT_TRUE(first) << first.error().line();
}

TEST(Walks, WhatCannotBeIsRefused) {
  const Song song = plainBeat();
  const Profile player;
  EXPECT_EQ(makeWalk("nothing", song, "g", {}, player).error().code, ErrorCode::kUnknown);
  EXPECT_EQ(makeWalk("move", song, "none", {}, player).error().code, ErrorCode::kUnknown);
  EXPECT_FALSE(makeWalk("placement", song, "g", {{"piece", "bagpipe"}}, player));
  EXPECT_FALSE(makeWalk("placement", song, "g", {{"strokes", "5"}}, player));
  EXPECT_FALSE(makeWalk("placement", song, "g", {{"colour", "red"}}, player));
  EXPECT_FALSE(makeWalk("displace", song, "g", {{"by", "0"}}, player));
  EXPECT_FALSE(makeWalk("openings", song, "g", {{"open", "1.01"}}, player));
  EXPECT_FALSE(makeWalk("regrid", song, "g", {{"to_grid", "1/17"}}, player));
  // Counted before anything is made.
  Song large = plainBeat(64);
  for (const auto& [kind, arguments] : std::vector<std::pair<const char*, Arguments>>{
           {"move", {{"piece", "any"}, {"to_where", "anywhere"}}},
           {"displace", {{"by", "1/10080"}}},
           {"openings", {}},
           {"add", {{"grid", "1/32:7"}, {"piece", "any"}}}}) {
    const auto refused = makeWalk(kind, large, "g", arguments, player);
    if (std::string(kind) == "add" && refused) continue;  // few enough
    ASSERT_FALSE(refused) << kind;
    EXPECT_EQ(refused.error().code, ErrorCode::kLimit) << kind;
  }
  // Where nothing can change nothing comes, at once.
  const auto none = makeWalk("free", variedSong({}), "g", {{"bars", "10000"}}, player);
  ASSERT_TRUE(none);
  EXPECT_EQ(none->count, 0U);
  for (const char* cell : {"", "0/4", "-3/8", "3/0", "x", "3 x", "999999999999", "300", "3 -1"})
    EXPECT_FALSE(makeWalk("against", song, "g", {{"cell", cell}}, player)) << cell;
  EXPECT_TRUE(makeWalk("against", song, "g", {{"cell", "1/64"}}, player));
  EXPECT_FALSE(makeWalk("against", song, "g", {{"cell", "1/65"}}, player));
}

// --- Free play ---

TEST(FreePlay, IsTheSameForASeedAndGoesByVerdicts) {
  Song song = plainBeat(2);
  const Arguments arguments{{"bars", "60"}, {"seed", "5"}, {"apart", "10"}, {"closeness", "1"}};
  const Walk all = walkOf(song, "free", arguments);
  ASSERT_EQ(all.count, 60U);
  EXPECT_EQ(namesOfWalk(all), namesOfWalk(walkOf(song, "free", arguments)));
  EXPECT_NE(namesOfWalk(all),
            namesOfWalk(walkOf(song, "free", {{"bars", "60"}, {"seed", "6"}, {"closeness", "1"}})));
  std::vector<std::string> keys;
  for (std::uint64_t i = 0; i < all.count; ++i) keys.push_back(all.at(i).key);
  for (std::size_t i = 0; i < keys.size(); ++i) {
    for (std::size_t k = i + 1; k < std::min(keys.size(), i + 11); ++k)
      EXPECT_NE(keys[i], keys[k]) << "never again within ten";
  }
  // Not for me: never. Good: more often than the others.
  Groove marked = *song.grooves.front();
  for (std::size_t i = 0; i < 30; ++i)
    marked = withVerdict(std::move(marked), keys[i], WalkMark::kNotForMe, "");
  const Walk without = walkOf(withGroove(song, marked), "free",
                              {{"bars", "200"}, {"seed", "9"}, {"closeness", "1"}, {"apart", "0"}});
  const std::set<std::string> never(keys.begin(), keys.begin() + 30);
  for (std::uint64_t i = 0; i < without.count; ++i) EXPECT_FALSE(never.contains(without.at(i).key));
}

TEST(FreePlay, MakesEveryKindOfSmallChangeOfWhatIsThere) {
  const Song song = plainBeat(2);
  const Groove& core = *song.grooves.front();
  const Walk bars =
      walkOf(song, "free", {{"bars", "200"}, {"closeness", "1"}, {"apart", "0"}, {"keep", "feet"}});
  std::map<std::string, int> kinds;
  for (std::uint64_t i = 0; i < bars.count; ++i) {
    const Groove after = bars.at(i).groove;
    std::vector<const Hit*> gone, come;
    for (const Hit& h : core.hits) {
      const auto at = indexOf(after, {h.at, h.piece});
      if (!at) {
        gone.push_back(&h);
      } else if (after.hits[*at].role != h.role) {
        ++kinds["accented"];
      } else if (after.hits[*at].ornament != h.ornament) {
        ++kinds["ornamented"];
      }
    }
    for (const Hit& h : after.hits) {
      if (!indexOf(core, {h.at, h.piece})) come.push_back(&h);
      EXPECT_TRUE(h.piece == piece::kHat || h.piece == piece::kSnare || h.piece == piece::kKick)
          << "nothing is struck that was not";
    }
    ASSERT_LE(come.size(), 1U);
    ASSERT_LE(gone.size(), 1U);
    if (!come.empty()) {
      EXPECT_NE(come.front()->piece, piece::kKick) << "the feet are kept";
      ++kinds[gone.empty() ? "put" : "moved"];
    } else if (!gone.empty()) {
      ++kinds["taken"];
    }
    if (come.empty() || gone.empty()) continue;
    // By one slot, of sixteenths.
    const Beat by = come.front()->at - gone.front()->at;
    EXPECT_TRUE(by == Beat(1, 4) || by == Beat(-1, 4)) << by.toString();
    EXPECT_EQ(come.front()->piece, gone.front()->piece);
  }
  for (const char* kind : {"put", "moved", "taken", "accented", "ornamented"})
    EXPECT_GT(kinds[kind], 5) << kind;
}

// --- Measures ---

TEST(Distance, IsTheSwapDistanceAndAMetricOfRhythmsWithAsManyStrokes) {
  const Beat slot(1, 4);
  // Two strokes two and one slots aside.
  EXPECT_EQ(rhythmDistance({0, 1}, {Beat(1, 2), Beat(5, 4)}, slot), 3);
  EXPECT_EQ(rhythmDistance({0, 1, 2}, {0, 2}, slot), 1) << "one taken away";
  EXPECT_EQ(rhythmDistance({0, 1, 2}, {Beat(1, 4), 2}, slot), 2) << "and one moved by one";
  EXPECT_EQ(rhythmDistance({}, {0, 1}, slot), 2);
  Random random(74);
  const auto rhythm = [&](int strokes) {
    std::set<Beat> out;
    while (std::ssize(out) < strokes) out.insert(Beat(pick(random, 0, 15), 4));
    return std::vector<Beat>(out.begin(), out.end());
  };
  for (int i = 0; i < 500; ++i) {
    const int strokes = pick(random, 0, 8);
    const auto a = rhythm(strokes), b = rhythm(strokes), c = rhythm(strokes),
               d = rhythm(pick(random, 0, 8));
    EXPECT_EQ(rhythmDistance(a, b, slot), rhythmDistance(b, a, slot));
    EXPECT_EQ(rhythmDistance(a, d, slot), rhythmDistance(d, a, slot));
    EXPECT_EQ(rhythmDistance(a, b, slot) == 0, a == b);
    EXPECT_EQ(rhythmDistance(a, d, slot) == 0, a == d);
    EXPECT_LE(rhythmDistance(a, c, slot), rhythmDistance(a, b, slot) + rhythmDistance(b, c, slot));
  }
}

TEST(Measures, ByHand) {
  const Song song = plainBeat();
  const Groove& core = *song.grooves.front();
  const Measures same = measure(core, core, piece::kKick);
  EXPECT_EQ(same.changed + same.added + same.removed, 0);
  EXPECT_EQ(same.syncopation, 0) << "on the beats";
  EXPECT_EQ(same.density, 3);
  EXPECT_EQ(same.distance, 0);
  // The a of 2 before a silent 3: Longuet-Higgins & Lee, -1 less -4.
  Groove moved = withoutHits(core, {{Beat(2), piece::kKick}});
  moved = withHit(std::move(moved), varied(Beat(7, 4), piece::kKick));
  const Measures m = measure(core, moved, piece::kKick);
  EXPECT_EQ(m.syncopation, 3);
  EXPECT_EQ(m.added, 1);
  EXPECT_EQ(m.removed, 1);
  EXPECT_EQ(m.distance, 1);
}

TEST(Measures, TheCeilingSaysWhatHoldsItBack) {
  std::vector<Hit> hits;
  for (int i = 0; i < 16; ++i) hits.push_back(varied(Beat(i, 4), piece::kHat));
  const Song song = variedSong(std::move(hits));
  const auto c = ceilingOf(song, *song.grooves.front(), Profile{});
  ASSERT_TRUE(c);
  EXPECT_GT(c->playable, c->comfortable);
  EXPECT_FALSE(c->limit.empty());
  Groove third = *song.grooves.front();
  third = withHit(std::move(third), varied(0, piece::kSnare));
  third = withHit(std::move(third), varied(0, piece::kCrash));
  EXPECT_EQ(ceilingOf(song, third, Profile{})->playable, 0);
  EXPECT_EQ(ceilingOf(song, third, Profile{})->limit, "a third hand at once");
  // What any tempo leaves easy has no limit to name.
  const Song easy = variedSong({varied(0, piece::kSnare), varied(0, piece::kKick)}, 4);
  const auto any = ceilingOf(easy, *easy.grooves.front(), Profile{});
  ASSERT_TRUE(any);
  EXPECT_EQ(any->playable, kBpmMax);
  EXPECT_EQ(any->limit, "");
}

TEST(Verdicts, StayWithTheSongAndAreReported) {
  Song song = plainBeat();
  const Walk all = walkOf(song, "placement", {{"piece", "kick"}});
  Groove groove =
      withVerdict(*song.grooves.front(), all.at(0).key, WalkMark::kGood, "sits, \"well\"");
  groove = withVerdict(std::move(groove), all.at(1).key, WalkMark::kNotForMe, "");
  groove = withVerdict(std::move(groove), all.at(1).key, WalkMark::kAwkward, "");
  EXPECT_EQ(groove.walk.size(), 2U);
  song = withGroove(song, groove);
  const auto again = readSong(writeSong(song), "a.ustick");
  ASSERT_TRUE(again);
  EXPECT_TRUE(*again == song);
  // Found again in another walk.
  const Walk add = walkOf(song, "add", {{"piece", "kick"}});
  int found = 0;
  for (std::uint64_t i = 0; i < add.count; ++i)
    found += verdictOf(groove, add.at(i).key) != nullptr ? 1 : 0;
  EXPECT_EQ(found, 2);
  EXPECT_EQ(verdictReport(song, VerdictFormat::kText),
            "G: +15/4 kick: good, sits, \"well\"\nG: +7/2 kick: awkward\n");
  EXPECT_EQ(verdictReport(song, VerdictFormat::kCsv),
            "groove,variant,mark,note\n\"g\",\"+15/4 kick\",good,\"sits, \"\"well\"\"\"\n"
            "\"g\",\"+7/2 kick\",awkward,\"\"\n");
}

}  // namespace
}  // namespace uneven
