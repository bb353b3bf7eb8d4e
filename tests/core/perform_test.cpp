// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/perform/performance.h"

#include <gtest/gtest.h>

#include <cmath>
#include <map>
#include <tuple>

#include "core/song/edit.h"
#include "tests/support/made.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

using testing::hitAt;
using testing::played;
using testing::Random;
using testing::randomSong;

Song feltSong(std::vector<Hit> hits, Feel feel = {}) {
  Song song = blankSong();
  feel.id = "straight";
  song.feels = {feel};
  song.grooves[0].edit([&](Groove& g) { g.hits = std::move(hits); });
  return song;
}

// What the formulas say, written down again from the definitions and in floating point only.
double bpmAt(const Song& song, double quarters) {
  double bpm = song.tempo[0].bpm.value;
  for (const TempoMark& mark : song.tempo) {
    if (mark.at.toDouble() <= quarters + 1e-12) bpm = mark.bpm.value;
  }
  return bpm;
}

double pairOf(const Feel& feel) {
  return feel.swing.unit == SwingUnit::kEighth ? 1 : 0.5;
}

// Quarter notes from the block's start.
double expectedQuarters(const Song& song, const Feel& feel, const Groove& groove, double blockStart,
                        const Hit& h, Limb limb) {
  const double bar = 4.0 * groove.meter.n / groove.meter.d;
  const double at = static_cast<double>(h.at.num()) / static_cast<double>(h.at.den());
  const double barStart = std::floor(at / bar + 1e-12) * bar;
  const double inBar = at - barStart;
  const double pair = pairOf(feel);
  const double pairStart = std::floor(inBar / pair + 1e-12) * pair;
  double swung = inBar;
  // A beat with a grid of triplets is in triplets already.
  const double count = groove.meter.countUnit().toDouble();
  const bool triplets =
      feel.swing.written == Written::kStraight &&
      std::any_of(groove.beatGrids.begin(), groove.beatGrids.end(), [&](const auto& own) {
        const double from = own.first.toDouble() - 1e-12;
        return own.second.tuplet == 3 && at >= from && at < from + count;
      });
  if (!triplets && pairStart + pair <= bar + 1e-12) {
    const double w = feel.swing.written == Written::kStraight ? 0.5 : 2.0 / 3.0;
    double r = feel.swing.ratio;
    if (feel.swing.linked) {
      const double bpm = bpmAt(song, blockStart + barStart + pairStart);
      r = std::clamp((pair * std::round(60e6 / bpm) / 1000 - 100) / 100, 1.0, 3.5);
    }
    double depth = feel.swing.depth.contains(h.piece) ? feel.swing.depth.at(h.piece) : 1;
    if (feel.swing.limbDepth.contains(limb)) depth *= feel.swing.limbDepth.at(limb);
    const double t = w + depth * (r / (1 + r) - w);
    const double p = (inBar - pairStart) / pair;
    const double moved = p <= w + 1e-12 ? p * t / w : t + (p - w) * (1 - t) / (1 - w);
    swung = pairStart + pair * moved;
  }
  return barStart + swung;
}

double msAt(const Song& song, double quarters) {
  double ms = 0;
  for (std::size_t i = 0; i < song.tempo.size(); ++i) {
    const double from = song.tempo[i].at.toDouble();
    const double to = i + 1 < song.tempo.size() ? song.tempo[i + 1].at.toDouble() : 1e300;
    const double us = std::round(60e6 / song.tempo[i].bpm.value);
    if (quarters > from) ms += (std::min(quarters, to) - from) * us / 1000;
  }
  return ms;
}

double expectedShiftMs(const Feel& feel, const Groove& groove, const Hit& h, Limb limb,
                       double bpm) {
  const Beat bar = groove.meter.barLength();
  const Beat inBar = h.at - Beat(h.at.floorDiv(bar)) * bar;
  double shift = 0;
  if (feel.displacement.contains(h.piece)) shift += feel.displacement.at(h.piece).count();
  if (feel.limbDisplacement.contains(limb)) shift += feel.limbDisplacement.at(limb).count();
  for (const Slot& slot : feel.slots) {
    if (slot.at == inBar && (!slot.piece || *slot.piece == h.piece)) shift += slot.shift.count();
  }
  if (feel.shareOf) {
    shift *= std::round(60e6 / bpm) / std::round(60e6 / feel.shareOf->value);
  }
  shift += h.nudge.count();
  if (feel.limits.contains(h.role)) {
    const double limit = feel.limits.at(h.role).count();
    shift = std::clamp(shift, -limit, limit);
  }
  return shift;
}

// How far the morph has come in the middle of the hit's pair; `from` quarter notes after its start.
double expectedWeight(const Feel& feel, const Feel& before, const Groove& groove, const Hit& h,
                      double from, double stretch) {
  const double bar = 4.0 * groove.meter.n / groove.meter.d;
  const double at = h.at.toDouble();
  const double barStart = std::floor(at / bar + 1e-12) * bar;
  const double pair = std::max(pairOf(feel), pairOf(before));
  const double cell = barStart + std::floor((at - barStart) / pair + 1e-12) * pair;
  const double x = std::clamp((from + cell + pair / 2) / stretch, 0.0, 1.0);
  return x * x * (3 - 2 * x);
}

TEST(Perform, GivesTheTimesOfAnIndependentCalculation) {
  Random random(7);
  std::size_t strokes = 0;
  std::size_t exact = 0;
  std::size_t held = 0;
  std::size_t morphed = 0;
  for (int i = 0; i < 400; ++i) {
    const Song song = testing::asWritten(randomSong(random));
    const Performance performance = played(song);
    // By section, repetition and hit, in the order they are written.
    std::map<std::pair<std::uint32_t, std::uint32_t>, const Stroke*> byHit;
    for (const Stroke& s : performance.strokes) {
      if (s.part == 0) byHit[{s.block, s.hit}] = &s;
    }
    struct Place {
      Beat at;  // on the song's beats
      double expected;
      const Stroke* stroke;
    };
    std::map<PieceId, std::vector<Place>> lanes;
    std::uint32_t block = 0;
    std::string feelBefore;
    Beat start;
    int bar = 0;
    for (const Section& section : song.sections()) {
      const Groove& groove = *song.findGroove(section.groove);
      const std::string feelId = section.feel.empty() ? groove.feel : section.feel;
      const Feel feel = feelId.empty() ? Feel{} : *song.findFeel(feelId);
      const bool changes = block > 0 && section.morph > Beat(0) && feelId != feelBefore;
      const Feel before = !changes || feelBefore.empty() ? Feel{} : *song.findFeel(feelBefore);
      feelBefore = feelId;
      const double sectionStart = start.toDouble();
      const double stretch =
          std::min(section.morph.toDouble(), section.repeat * groove.length().toDouble());
      for (int repeat = 0; repeat < section.repeat; ++repeat, ++block) {
        for (std::uint32_t h = 0; h < groove.hits.size(); ++h, ++strokes) {
          const Hit& hit = groove.hits[h];
          const Stroke& s = *byHit.at({block, h});
          const double bpm = bpmAt(song, (start + hit.at).toDouble());
          const double at = start.toDouble();
          double quarters = expectedQuarters(song, feel, groove, at, hit, s.limb);
          double shift = expectedShiftMs(feel, groove, hit, s.limb, bpm);
          if (changes && at < sectionStart + stretch) {
            const double w = expectedWeight(feel, before, groove, hit, at - sectionStart, stretch);
            const double from = expectedQuarters(song, before, groove, at, hit, s.limb);
            quarters = (1 - w) * from + w * quarters;
            shift = (1 - w) * expectedShiftMs(before, groove, hit, s.limb, bpm) + w * shift;
            ++morphed;
          }
          const double grid = msAt(song, at + quarters);
          ASSERT_NEAR(toMilliseconds(s.grid).count(), grid, 2e-6);
          ASSERT_EQ(s.bar, bar + hit.at.floorDiv(groove.meter.barLength()));
          lanes[hit.piece].push_back(
              {start + hit.at, grid + shift + toMilliseconds(s.drift).count(), &s});
        }
        start += groove.length();
        bar += groove.bars;
      }
    }
    // A piece whose strokes keep their order by themselves is exact; any other is in order.
    for (const auto& [piece, lane] : lanes) {
      bool ordered = true;
      double latest = -1e300;  // of what is written earlier
      double here = latest;
      for (std::size_t k = 0; k < lane.size(); ++k) {
        if (k > 0 && lane[k].at != lane[k - 1].at) latest = here;
        ordered = ordered && lane[k].expected >= latest - 1e-5;
        here = std::max(here, lane[k].expected);
      }
      Moment before = Moment::min();
      Moment now = Moment::min();
      for (std::size_t k = 0; k < lane.size(); ++k) {
        const Stroke& s = *lane[k].stroke;
        if (k > 0 && lane[k].at != lane[k - 1].at) before = now;
        if (ordered) {
          ASSERT_NEAR(toMilliseconds(s.time).count(), lane[k].expected, 3e-6);
          ++exact;
        } else {
          ASSERT_GE(s.time, before) << "a stroke passes its neighbour";
        }
        now = std::max(now, s.time);
      }
      held += ordered ? 0 : 1;
    }
    ASSERT_EQ(byHit.size(), static_cast<std::size_t>(arrange(song)->hits));
    ASSERT_LE(performance.strokes.size(), static_cast<std::size_t>(arrange(song)->strokes));
  }
  EXPECT_GT(strokes, 10'000U);
  EXPECT_GT(exact, 5'000U);
  EXPECT_GT(held, 20U);
  EXPECT_GT(morphed, 500U);
}

TEST(Perform, IsInOrderOfTimeThenPiece) {
  Random random(8);
  for (int i = 0; i < 200; ++i) {
    const Song song = randomSong(random);
    const Performance performance = played(song);
    const auto key = [&](const Stroke& s) {
      return std::make_tuple(s.time, (*song.kit)[s.piece].id, s.velocity);
    };
    for (std::size_t k = 1; k < performance.strokes.size(); ++k) {
      ASSERT_LE(key(performance.strokes[k - 1]), key(performance.strokes[k]));
    }
  }
}

TEST(Perform, SwingingTheHatsLeavesTheBeatAlone) {
  // Common practice: kick and snare on the beat keep their time when the hats swing.
  std::vector<Hit> hits{hitAt(0, piece::kKick), hitAt(1, piece::kSnare)};
  for (int i = 0; i < 16; ++i) hits.push_back(hitAt(Beat(i, 4), piece::kHat));
  std::stable_sort(hits.begin(), hits.end(), writtenBefore);
  Feel straight, swung;
  swung.swing.unit = SwingUnit::kSixteenth;
  swung.swing.ratio = 1.8;
  const Performance a = played(feltSong(hits, straight));
  const Performance b = played(feltSong(hits, swung));
  int moved = 0;
  for (std::size_t i = 0; i < a.strokes.size(); ++i) {
    const bool onEighth = a.strokes[i].at.den() <= 2;
    EXPECT_EQ(onEighth, a.strokes[i].time == b.strokes[i].time);
    moved += onEighth ? 0 : 1;
  }
  EXPECT_EQ(moved, 8);
}

TEST(Perform, HoldsVelocitiesInRange) {
  Feel feel;
  feel.slots = {{0, Milliseconds(0), 60, {}, {}}, {1, Milliseconds(0), -60, {}, {}}};
  const Performance p =
      played(feltSong({hitAt(0, piece::kKick, 100), hitAt(1, piece::kKick, 20)}, feel));
  EXPECT_EQ(p.strokes[0].velocity, Velocity(127));
  EXPECT_EQ(p.strokes[1].velocity, Velocity(1));
}

TEST(Perform, APushedFirstStrokeComesBeforeTheStart) {
  Feel feel;
  feel.displacement[piece::kKick] = Milliseconds(-12);
  const Performance p = played(feltSong({hitAt(0, piece::kKick)}, feel));
  EXPECT_EQ(p.strokes[0].time, toMoment(Milliseconds(-12)));
  EXPECT_EQ(p.strokes[0].grid, Moment(0));
}

TEST(Perform, NamesTheUsualLimbUnlessOneIsGiven) {
  Hit left = hitAt(Beat(1), piece::kHat);
  left.limb = Limb::kLeftHand;
  const Performance p = played(feltSong({hitAt(0, piece::kHat), left, hitAt(2, piece::kKick)}));
  EXPECT_EQ(p.strokes[0].limb, Limb::kRightHand);
  EXPECT_EQ(p.strokes[1].limb, Limb::kLeftHand);
  EXPECT_EQ(p.strokes[2].limb, Limb::kRightFoot);
}

TEST(Perform, ASectionsFeelOverridesItsGrooves) {
  Song song = feltSong({hitAt(Beat(1, 2), piece::kHat)});
  Feel late;
  late.id = "late";
  late.displacement[piece::kHat] = Milliseconds(20);
  song.feels.push_back(late);
  song.arrangement.push_back(song.arrangement[0]);
  song.arrangement[1].feel = "late";
  const Performance p = played(song);
  EXPECT_EQ(p.strokes[0].time, p.strokes[0].grid);
  EXPECT_EQ(p.strokes[1].time - p.strokes[1].grid, toMoment(Milliseconds(20)));
}

TEST(Perform, TripletsReplayedAsSixteenths) {
  // 24 partials last 6 quarter notes as sixteenths; the apparent tempo is 4/3 (arithmetic).
  EXPECT_EQ(Beat(24) * Beat(1, 4), Beat(6));
  Song song = feltSong({hitAt(Beat(23, 3), piece::kHat)});
  const Moment asTriplet = played(song).strokes[0].time;
  song.grooves[0].edit([](Groove& g) { g.hits[0].at = Beat(23, 4); });
  const Moment asSixteenth = played(song).strokes[0].time;
  EXPECT_NEAR(static_cast<double>(asTriplet.count()) / static_cast<double>(asSixteenth.count()),
              4.0 / 3.0, 1e-9);
}

Hit openHat(Beat at, double open, Beat openFor) {
  Hit h = hitAt(at, piece::kHat);
  h.open = open;
  h.openFor = openFor;
  return h;
}

std::vector<FootSound> heard(const Performance& p) {
  std::vector<FootSound> out = p.pedal.sounds;
  std::erase_if(out, [](const FootSound& sound) { return !sound.heard(); });
  return out;
}

TEST(Perform, TheFootEndsAnOpeningThatNoStrokeEnds) {
  const Performance p = played(feltSong({openHat(0, 0.6, Beat(1, 2)), hitAt(2, piece::kHat)}));
  ASSERT_EQ(heard(p).size(), 1U);
  EXPECT_EQ(heard(p)[0].time, toMoment(Milliseconds(250)));  // an eighth at 120 bpm
}

TEST(Perform, AStrokeOnTheHatsEndsAnOpening) {
  EXPECT_TRUE(heard(played(feltSong({openHat(0, 0.6, Beat(1, 2)), hitAt(Beat(1, 2), piece::kHat)})))
                  .empty());
  EXPECT_TRUE(
      heard(played(feltSong({openHat(0, 0.6, Beat(1, 2)), hitAt(Beat(1, 4), piece::kHatFoot)})))
          .empty());
  Hit late = hitAt(Beat(1, 2), piece::kHat);
  late.nudge = Milliseconds(10);  // within kShutMask
  EXPECT_TRUE(heard(played(feltSong({openHat(0, 0.6, Beat(1, 2)), late}))).empty());
}

Hit ornamented(Beat at, Ornament ornament, Beat length = {}) {
  Hit h = hitAt(at, piece::kSnare, 100);
  h.role = Role::kAccent;
  h.ornament = ornament;
  h.ornamentFor = length;
  return h;
}

std::string listed(const Performance& p) {
  std::string out;
  for (const Stroke& s : p.strokes) {
    out += std::to_string(std::lround(toMilliseconds(s.time).count())) + ":" +
           std::to_string(s.velocity.value()) + (s.role == Role::kGrace ? "g " : " ");
  }
  return out;
}

TEST(Ornaments, BecomeStrokesAroundTheMainOne) {
  // 120 bpm, sixteenths of 125 ms.
  EXPECT_EQ(listed(played(feltSong({ornamented(1, Ornament::kFlam)}))), "470:45g 500:100 ");
  EXPECT_EQ(listed(played(feltSong({ornamented(1, Ornament::kDrag)}))), "440:45g 470:45g 500:100 ");
  EXPECT_EQ(listed(played(feltSong({ornamented(1, Ornament::kRuff)}))),
            "410:45g 440:45g 470:45g 500:100 ");
  EXPECT_EQ(listed(played(feltSong({ornamented(1, Ornament::kDiddle)}))), "500:100 563:90 ");
  EXPECT_EQ(listed(played(feltSong({ornamented(1, Ornament::kBuzz)}))),
            "500:100 525:75g 550:56g 575:42g 600:32g ");
  EXPECT_EQ(listed(played(feltSong({ornamented(1, Ornament::kRoll, Beat(1, 2))}))),
            "500:100 563:85 625:85 688:85 ");
}

TEST(Ornaments, GapsAreMillisecondsAtAnyTempo) {
  Song song = feltSong({ornamented(1, Ornament::kFlam)});
  song.tempo[0].bpm = Bpm{60};
  EXPECT_EQ(listed(played(song)), "970:45g 1000:100 ");
}

TEST(Ornaments, SqueezeRatherThanPassTheStrokeBefore) {
  Hit before = hitAt(1, piece::kSnare, 80);
  before.nudge = Milliseconds(110);  // 15 ms before the drag's main stroke
  const Performance p = played(feltSong({before, ornamented(Beat(5, 4), Ornament::kDrag)}));
  EXPECT_EQ(listed(p), "610:80 615:45g 620:45g 625:100 ");
  EXPECT_EQ(p.squeezed, 1);
}

TEST(Ornaments, NeverFallBeforeTheStrokeBeforeThemOnTheirPiece) {
  Random random(91);
  int graces = 0;
  for (int i = 0; i < 300; ++i) {
    const Song song = randomSong(random);
    const Result<Score> score = arrange(song);
    Performance p = perform(*score);
    // In written order: block, hit, part.
    std::sort(p.strokes.begin(), p.strokes.end(), [](const Stroke& a, const Stroke& b) {
      return std::tie(a.block, a.hit, a.part) < std::tie(b.block, b.hit, b.part);
    });
    std::map<PieceId, Moment> before;  // the latest stroke of each piece, of hits written earlier
    for (std::size_t k = 0; k < p.strokes.size();) {
      const Stroke& main = p.strokes[k];
      ASSERT_EQ(main.part, 0);
      const auto last = before.find(main.piece);
      Moment latest = last == before.end() ? main.time : std::max(last->second, main.time);
      std::size_t next = k + 1;
      for (; next < p.strokes.size() && p.strokes[next].part > 0; ++next) {
        const Stroke& s = p.strokes[next];
        latest = std::max(latest, s.time);
        if (s.time >= main.time || last == before.end()) continue;
        ++graces;
        ASSERT_GE(s.time, std::min(main.time, last->second));
      }
      before[main.piece] = latest;
      k = next;
    }
  }
  EXPECT_GT(graces, 500);
}

TEST(Ornaments, ARollThatIsTooLongIsRefusedBeforeItIsLaidOut) {
  Song song = feltSong({ornamented(0, Ornament::kRoll, Beat(256))});
  song.arrangement[0].repeat = 5'000;
  const auto refused = arrange(song);
  ASSERT_FALSE(refused);
  EXPECT_NE(refused.error().message.find("strokes; at most 4000000"), std::string::npos);
}

TEST(Arrange, RefusesASongThatIsTooLongBeforeLayingItOut) {
  Song song = feltSong({hitAt(0, piece::kHat)});
  song.arrangement[0].repeat = 20'000;
  const auto tooManyBars = arrange(song);
  ASSERT_FALSE(tooManyBars);
  EXPECT_EQ(tooManyBars.error().code, ErrorCode::kLimit);
  EXPECT_NE(tooManyBars.error().message.find("40000 bars; at most 20000"), std::string::npos);
  song.arrangement[0].groove = "nobody";
  EXPECT_EQ(arrange(song).error().code, ErrorCode::kUnknown);
}

TEST(ArrangeGroove, StandsWhereTheArrangementPlaysItFirst) {
  Random random(9);
  int compared = 0;
  for (int i = 0; i < 100; ++i) {
    const Song song = testing::asWritten(randomSong(random));
    const Performance whole = played(song);
    for (const auto& groove : song.grooves) {
      const Result<Score> alone = arrangeGroove(song, groove->id);
      ASSERT_TRUE(alone);
      const Performance one = perform(*alone);
      const auto score = arrange(song);
      const auto first =
          std::find_if(score->blocks.begin(), score->blocks.end(),
                       [&](const Score::Block& b) { return b.groove->id == groove->id; });
      // Alone, no feel turns into it, and no stroke is held beside one of the block before.
      if (first == score->blocks.end() || whole.held > 0 || first->morphs()) continue;
      std::map<std::uint32_t, Moment> times;
      for (const Stroke& s : whole.strokes) {
        if (s.part == 0 && s.block == static_cast<std::uint32_t>(first - score->blocks.begin())) {
          times[s.hit] = s.time;
        }
      }
      ASSERT_EQ(times.size(), groove->hits.size());
      for (const Stroke& s : one.strokes) {
        if (s.part > 0) continue;
        ASSERT_EQ(s.time, times.at(s.hit));
        ++compared;
      }
    }
  }
  EXPECT_GT(compared, 500);
}

}  // namespace
}  // namespace uneven
