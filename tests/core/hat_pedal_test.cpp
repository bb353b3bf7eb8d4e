// SPDX-License-Identifier: GPL-3.0-or-later
// The hats' pedal: hand-worked cases, laws over random songs, findings, and the way into MIDI.
#include "core/perform/hat_pedal.h"

#include <fmt/format.h>
#include <gtest/gtest.h>

#include <cmath>

#include "core/check/finding.h"
#include "core/io/performance_text.h"
#include "core/midi/render.h"
#include "core/song/edit.h"
#include "core/vary/variant.h"
#include "core/vary/walk.h"
#include "core/voice/pedal_knots.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

struct Played {
  SharedTake take;
  Performance performance;
  double at(double ms) const { return performance.pedal.openingAt(toMoment(Milliseconds(ms))); }
};

Played onHats(const Song& song) {
  const Result<SharedTake> take = Take::ofSong(song);
  EXPECT_TRUE(take);
  return {*take, (*take)->performance()};
}

// Sixteenths on the hats through one bar.
Song sixteenths(double bpm) {
  Song song = blankSong();
  song.tempo[0].bpm = Bpm{bpm};
  song.grooves[0].edit([](Groove& g) {
    g.bars = 1;
    for (int i = 0; i < 16; ++i) {
      Hit hit;
      hit.at = Beat(i, 4);
      hit.piece = piece::kHat;
      g.hits.push_back(hit);
    }
  });
  return song;
}

void open(Song& song, std::size_t hit, double amount, Beat length) {
  song.grooves[0].edit([&](Groove& g) {
    g.hits[hit].open = amount;
    g.hits[hit].openFor = length;
  });
}

void draw(Song& song, Beat at, double amount, Beat length) {
  song.grooves[0].edit([&](Groove& g) {
    if (!g.pedal) g.pedal.emplace();
    g.pedal->moves.push_back({at, amount, length, {}});
  });
}

void pump(Song& song, PumpPhase phase, double lift, const std::string& cell = {}) {
  song.grooves[0].edit([&](Groove& g) {
    g.pedal.emplace();
    g.pedal->pump = Pump{{8, 0}, phase, cell, lift, {}};
  });
}

TEST(HatPedal, ABarkOpensOnItsStrokeAndIsShutOnTheNext) {
  // A sixteenth at 98 BPM lasts 153.06 ms (arithmetic); heel down the whole way takes 60 ms.
  Song song = sixteenths(98);
  open(song, 2, 0.5, Beat(1, 4));
  const Played p = onHats(song);
  const double sixteenth = 60'000.0 / 98 / 4;
  EXPECT_NEAR(sixteenth, 153.06, 0.005);
  EXPECT_NEAR(p.at(2 * sixteenth - 30), 0, 1e-3) << "half the way takes 30 ms";
  EXPECT_NEAR(p.at(2 * sixteenth - 15), 0.25, 1e-3);
  EXPECT_NEAR(p.at(2 * sixteenth), 0.5, 1e-3);
  EXPECT_EQ(p.performance.strokes[2].opening, 0.5F);
  EXPECT_NEAR(p.at(3 * sixteenth - 30), 0.5, 1e-3);
  EXPECT_NEAR(p.at(3 * sixteenth), 0, 1e-3);
  EXPECT_EQ(p.performance.strokes[3].opening, 0);
  ASSERT_EQ(p.performance.pedal.sounds.size(), 1U);
  EXPECT_TRUE(p.performance.pedal.sounds[0].masked) << "the hand strikes there";
  EXPECT_TRUE(hatFindings(*p.take).empty());
}

TEST(HatPedal, EighthsPumpedUnderSixteenthsLeaveTheEsAndAsOpen) {
  Song song = sixteenths(98);
  pump(song, PumpPhase::kOn, 0.3);
  const Played p = onHats(song);
  for (std::size_t i = 0; i < 16; ++i) {
    EXPECT_NEAR(p.performance.strokes[i].opening.value(), i % 2 == 0 ? 0 : 0.3, 1e-5) << i;
  }
}

TEST(HatPedal, StompedOffbeatsLeaveTheOneOpenTheEHalfTheAndShut) {
  Song song = sixteenths(98);
  pump(song, PumpPhase::kOff, 0.6);
  const Played p = onHats(song);
  const double expected[] = {0.6, 0.3, 0, 0.3};
  for (std::size_t i = 0; i < 16; ++i) {
    EXPECT_NEAR(p.performance.strokes[i].opening.value(), expected[i % 4], 1e-5) << i;
  }
  // The same by a cell.
  pump(song, PumpPhase::kOn, 0.6, ".x");
  EXPECT_EQ(onHats(song).performance.pedal.path, p.performance.pedal.path);
}

TEST(HatPedal, AnOpeningWinsOverThePumpUntilTheNextPress) {
  Song song = sixteenths(98);
  pump(song, PumpPhase::kOn, 0.3);
  open(song, 4, 1, Beat(3, 4));  // over the press on the & of 2
  const Played p = onHats(song);
  EXPECT_EQ(p.performance.strokes[4].opening, 1);
  EXPECT_EQ(p.performance.strokes[5].opening, 0) << "the next stroke of the hand shuts them";
  EXPECT_GE(p.performance.pedal.pressesOverridden, 1);
  EXPECT_NEAR(p.performance.strokes[9].opening.value(), 0.3, 1e-5) << "and the pump goes on";
}

TEST(HatPedal, FromAHighPumpTheFootComesDownToASmallOpeningInTime) {
  Song song = sixteenths(98);
  pump(song, PumpPhase::kOff, 0.8);
  open(song, 4, 0.2, Beat(1, 4));  // on the 2, where the pump alone would stand at 0.8
  const Played p = onHats(song);
  EXPECT_EQ(p.performance.strokes[4].opening, 0.2F);
  EXPECT_NEAR(p.performance.strokes[3].opening.value(), 0.4, 1e-5)
      << "the stroke before keeps the pump's";
  const auto& path = p.performance.pedal.path;
  for (std::size_t k = 1; k < path.size(); ++k) {
    const double ms = toMilliseconds(path[k].time - path[k - 1].time).count();
    EXPECT_LE(std::abs(path[k].opening - path[k - 1].opening), ms / kTravelHeelDown.count() + 1e-6)
        << "no quicker than the foot";
  }
}

TEST(HatPedal, AWayThatIsTooLongArrivesLate) {
  // 37.5 ms between sixteenths at 400 BPM; heel down the whole way takes 60.
  Song song = sixteenths(400);
  open(song, 2, 1, Beat(1, 4));
  const Played p = onHats(song);
  EXPECT_NEAR(p.performance.strokes[1].opening.value(), 1 - 37.5 / 60, 1e-4)
      << "already on its way";
  EXPECT_EQ(p.performance.strokes[2].opening, 1);
  EXPECT_NEAR(p.performance.strokes[3].opening.value(), 1 - 37.5 / 60, 1e-4);
  const std::vector<Finding> findings = hatFindings(*p.take);
  std::map<FindingKind, Finding> byKind;
  for (const Finding& f : findings) byKind[f.kind] = f;
  ASSERT_TRUE(byKind.contains(FindingKind::kNoRoom));
  EXPECT_EQ(byKind[FindingKind::kNoRoom].text,
            "the foot needs 60 ms to open and has 38; it would work up to 250 BPM");
  ASSERT_TRUE(byKind.contains(FindingKind::kEarlyOpening));
  EXPECT_EQ(byKind[FindingKind::kEarlyOpening].text, "already 38 % open at the stroke before");
  ASSERT_TRUE(byKind.contains(FindingKind::kLateClose));
  EXPECT_EQ(byKind[FindingKind::kLateClose].text,
            "still 38 % open at the next stroke, shut 22 ms late");
  EXPECT_EQ(byKind[FindingKind::kLateClose].fix(), "play it heel up");
  // The fix mends it.
  song.grooves[0] =
      SharedValue<Groove>(mendedGroove(song, byKind[FindingKind::kLateClose].mends.front()));
  const Played mended = onHats(song);
  EXPECT_TRUE(hatFindings(*mended.take).empty());
}

TEST(HatPedal, AFootInTwoPlacesAndAnEarlyCloseAreFoundAndMended) {
  Song song = blankSong();
  song.grooves[0].edit([](Groove& g) {
    Hit hat;
    hat.piece = piece::kHat;
    hat.open = 0.5;
    hat.openFor = Beat(1);
    Hit foot;
    foot.at = Beat(1, 2);
    foot.piece = piece::kHatFoot;
    Hit second = hat;
    second.at = Beat(2);
    second.openFor = Beat(1, 8);
    g.hits = {hat, foot, second};
  });
  Played p = onHats(song);
  std::vector<Finding> findings = hatFindings(*p.take);
  ASSERT_EQ(findings.size(), 2U);
  EXPECT_EQ(findings[0].kind, FindingKind::kTwoPlaces);
  EXPECT_EQ(findings[1].kind, FindingKind::kEarlyClose);
  // A thirty-second at 120 BPM lasts 62.5 ms.
  EXPECT_EQ(findings[1].text, "shut 62 ms before the next slot: it sounds as an extra note");
  for (const Finding& finding : findings) {
    song.grooves[0] = SharedValue<Groove>(mendedGroove(song, finding.mends.front()));
  }
  p = onHats(song);
  EXPECT_TRUE(hatFindings(*p.take).empty());
}

TEST(HatPedal, ADrawnOpeningIsMeasuredAsAStrokesIs) {
  // 37.5 ms between sixteenths at 400 BPM, drawn open halfway between two: 18.75 ms each way.
  Song song = sixteenths(400);
  draw(song, Beat(5, 8), 0.8, Beat(1, 8));
  const Played p = onHats(song);
  std::map<FindingKind, Finding> byKind;
  for (const Finding& f : hatFindings(*p.take)) byKind[f.kind] = f;
  ASSERT_TRUE(byKind.contains(FindingKind::kLateClose));
  const Finding& late = byKind[FindingKind::kLateClose];
  EXPECT_EQ(late.drawn, Beat(5, 8));
  EXPECT_EQ(late.at, Beat(3, 4));
  // 48 ms of way and 18.75 of room leave (48 - 18.75) / 60 open.
  EXPECT_EQ(late.text, "still 49 % open at the next stroke, shut 29 ms late");
  EXPECT_EQ(byKind[FindingKind::kEarlyOpening].text, "already 49 % open at the stroke before");
  EXPECT_EQ(byKind[FindingKind::kNoRoom].drawn, Beat(5, 8));
  const Groove fixed = mended(song, song.grooves[0]->id);
  // Even heel up, 28 ms, is too long: 18.75 / 60 at most.
  EXPECT_NEAR(fixed.pedal->moves[0].open, 0.31, 1e-9);
  song.grooves[0] = SharedValue<Groove>(fixed);
  const Played after = onHats(song);
  EXPECT_TRUE(hatFindings(*after.take).empty());
}

TEST(HatPedal, AStrokeWhereAnOpeningIsDrawnBelongsToIt) {
  Song song = sixteenths(98);
  draw(song, Beat(1), 0.5, Beat(1, 4));
  const Played p = onHats(song);
  EXPECT_NEAR(p.performance.strokes[4].opening.value(), 0.5, 1e-6);
  EXPECT_FALSE(meantShut(*song.grooves[0], song.grooves[0]->hits[4]));
  EXPECT_TRUE(meantShut(*song.grooves[0], song.grooves[0]->hits[5]));
  EXPECT_TRUE(hatFindings(*p.take).empty());
}

TEST(HatPedal, AFootThatStrikesWhereTheHatsOpenIsTakenOff) {
  for (const bool drawn : {false, true}) {
    Song song = sixteenths(98);
    if (drawn) {
      song.grooves[0].edit([](Groove& g) {
        g = withoutHits(std::move(g), {{Beat(1), piece::kHat}});
      });
      draw(song, Beat(1), 0.6, Beat(1, 4));
    } else {
      open(song, 4, 0.6, Beat(1, 4));
    }
    song.grooves[0].edit([](Groove& g) {
      Hit foot;
      foot.at = Beat(1);
      foot.piece = piece::kHatFoot;
      g = withHit(std::move(g), foot);
    });
    const Played p = onHats(song);
    const std::vector<Finding> findings = hatFindings(*p.take);
    ASSERT_EQ(findings.size(), 1U) << drawn;
    EXPECT_EQ(findings[0].kind, FindingKind::kTwoPlaces);
    EXPECT_EQ(findings[0].text, "the foot strikes where the hats are to open");
    EXPECT_EQ(findings[0].drawn.has_value(), drawn);
    song.grooves[0] = SharedValue<Groove>(mendedGroove(song, findings[0].mends.front()));
    EXPECT_FALSE(indexOf(*song.grooves[0], {Beat(1), piece::kHatFoot}));
    const Played after = onHats(song);
    EXPECT_TRUE(hatFindings(*after.take).empty());
  }
}

TEST(HatPedal, TheChickIsLouderTheFasterTheHatsClose) {
  int before = 0;
  for (const double travel : {400.0, 200.0, 100.0, 60.0, 35.0, 20.0}) {
    Song song = blankSong();
    song.grooves[0].edit([&](Groove& g) {
      Hit hat;
      hat.piece = piece::kHat;
      hat.open = 0.8;
      hat.openFor = Beat(2);
      g.hits = {hat};
      g.pedal.emplace();
      g.pedal->travel = Milliseconds(travel);
    });
    const std::vector<FootSound> sounds = onHats(song).performance.pedal.sounds;
    ASSERT_EQ(sounds.size(), 1U);
    EXPECT_TRUE(sounds[0].heard());
    EXPECT_GT(sounds[0].velocity, before) << travel;
    EXPECT_EQ(sounds[0].velocity, std::lround(90 * std::sqrt(35 / travel)));
    before = sounds[0].velocity;
  }
}

TEST(HatPedal, ASplashLetsGoAgainUntilTheNextStroke) {
  Song song = sixteenths(98);
  song.grooves[0].edit([](Groove& g) {
    g.hits.resize(1);
    Hit foot;
    foot.at = Beat(1);
    foot.piece = piece::kHatFoot;
    foot.stroke = StrokeKind::kSplash;
    Hit next = g.hits[0];
    next.at = Beat(2);
    g.hits.push_back(foot);
    g.hits.push_back(next);
  });
  const Played p = onHats(song);
  const double beat = 60'000.0 / 98;
  EXPECT_NEAR(p.at(beat), 0, 1e-3);
  EXPECT_NEAR(p.at(beat + 100), kSplashOpening, 1e-3);
  EXPECT_NEAR(p.at(2 * beat), 0, 1e-3);
  EXPECT_EQ(p.performance.pedal.sounds[0].sound, FootSoundKind::kSplash);
}

// Laws over random songs.
TEST(HatPedal, ThePathIsContinuousInBoundsAndNoQuickerThanTheFoot) {
  testing::Random random(404);
  for (int i = 0; i < testing::rounds(300); ++i) {
    const Played p = onHats(testing::randomSong(random));
    const auto& path = p.performance.pedal.path;
    for (std::size_t k = 0; k < path.size(); ++k) {
      ASSERT_GE(path[k].opening, 0);
      ASSERT_LE(path[k].opening, 1);
      if (k == 0) continue;
      ASSERT_GE(path[k].time, path[k - 1].time);
      const double ms = toMilliseconds(path[k].time - path[k - 1].time).count();
      // No step without time: 10 ms is the quickest foot that a song can have.
      ASSERT_LE(std::abs(path[k].opening - path[k - 1].opening), ms / 10 + 1e-3) << k;
    }
    if (!path.empty()) {
      ASSERT_EQ(path.front().opening, 0);
    }
    for (const Stroke& s : p.performance.strokes) {
      if (s.piece != piece::kHat) continue;
      ASSERT_NEAR(s.opening.value(), p.performance.pedal.openingAt(s.time), 2e-6);
    }
  }
}

TEST(HatPedal, ItsTextHasEverySoundThatIsLoudEnough) {
  testing::Random random(406);
  std::ptrdiff_t silent = 0;
  for (int i = 0; i < testing::rounds(100); ++i) {
    const HatPedal pedal = onHats(testing::randomSong(random)).performance.pedal;
    std::string csv = "time_ms,opening,sound,velocity,masked\n";
    for (const PedalVertex& v : pedal.path)
      csv += fmt::format("{:.6f},{:.6f},,,\n", toMilliseconds(v.time).count(), v.opening);
    for (const FootSound& s : pedal.sounds) {
      if (s.velocity > 0)
        csv += fmt::format("{:.6f},,{},{},{}\n", toMilliseconds(s.time).count(),
                           s.sound == FootSoundKind::kSplash ? "splash" : "chick", s.velocity,
                           s.masked ? "yes" : "no");
      silent += s.velocity == 0 ? 1 : 0;
    }
    std::string text;
    TextOut out([&](std::string_view block) {
      text += block;
      return true;
    });
    pedalCsv(out, pedal);
    out.finish();
    ASSERT_EQ(text, csv);
  }
  EXPECT_GT(silent, 0);
}

TEST(HatPedal, NoChickDoublesAStroke) {
  testing::Random random(405);
  for (int i = 0; i < testing::rounds(200); ++i) {
    const Played p = onHats(testing::randomSong(random));
    for (const FootSound& sound : p.performance.pedal.sounds) {
      if (!sound.heard()) continue;
      for (const Stroke& s : p.performance.strokes) {
        const bool hats = s.piece == piece::kHat || s.piece == piece::kHatFoot;
        if (!hats || s.part > 0) continue;
        ASSERT_GT(std::abs((s.time - sound.time).count()), toMoment(kShutMask).count());
      }
    }
  }
}

// Every stroke that is meant to be shut is, or a finding says why not.
TEST(HatPedal, WhatStaysOpenIsFound) {
  testing::Random random(406);
  int loose = 0;
  for (int i = 0; i < testing::rounds(300); ++i) {
    Song song = sixteenths(testing::pickReal(random, 100, 400));
    for (std::size_t h = 0; h < 16; ++h) {
      if (testing::pick(random, 0, 3) == 0) {
        open(song, h, testing::pickReal(random, 0.05, 1), Beat(testing::pick(random, 0, 3), 4));
      }
    }
    if (i % 3 == 0) {
      draw(song, Beat(testing::pick(random, 1, 31), 8), testing::pickReal(random, 0.05, 1),
           Beat(testing::pick(random, 0, 6), 8));
    }
    const Played p = onHats(song);
    const bool found = !hatFindings(*p.take).empty();
    const Groove& groove = *song.grooves[0];
    for (const Stroke& s : p.performance.strokes) {
      if (!meantShut(groove, groove.hits[s.hit]) || s.opening <= kLoose) continue;
      ++loose;
      ASSERT_TRUE(found) << "open " << s.opening.value() << " at " << s.at.toString();
    }
  }
  EXPECT_GT(loose, 20) << "the test meets the case";
}

TEST(HatPedal, FixesNeverMakeItWorse) {
  testing::Random random(407);
  for (int i = 0; i < testing::rounds(100); ++i) {
    Song song = sixteenths(testing::pickReal(random, 150, 400));
    open(song, static_cast<std::size_t>(testing::pick(random, 1, 14)), 1, Beat(1, 4));
    for (int round = 0; round < 6; ++round) {
      const Played p = onHats(song);
      const std::vector<Finding> findings = hatFindings(*p.take);
      if (findings.empty()) break;
      ASSERT_LT(round, 5) << findings[0].text;
      song.grooves[0] = SharedValue<Groove>(mendedGroove(song, findings[0].mends.front()));
    }
  }
}

// Whatever was written, what is mended has no findings left, and no opening has gone.
TEST(HatPedal, AllMendedIsMended) {
  testing::Random random(409);
  std::size_t found = 0;
  for (int i = 0; i < testing::rounds(150); ++i) {
    Song song = sixteenths(testing::pickReal(random, 80, 400));
    for (std::size_t h = 0; h < 16; ++h) {
      if (testing::pick(random, 0, 2) != 0) continue;
      open(song, h, testing::pickReal(random, 0.05, 1), Beat(testing::pick(random, 0, 6), 8));
    }
    song.grooves[0].edit([&](Groove& g) {
      for (int k = testing::pick(random, 0, 2); k > 0; --k) {
        Hit foot;
        foot.at = Beat(testing::pick(random, 1, 15), 4);
        foot.piece = piece::kHatFoot;
        g = withHit(std::move(g), foot);
      }
    });
    if (i % 2 == 0) {
      draw(song, Beat(testing::pick(random, 1, 31), 8), testing::pickReal(random, 0.05, 1),
           Beat(testing::pick(random, 1, 6), 8));
    }
    const auto findingsOf = [](const Song& s) {
      const Played p = onHats(s);
      return hatFindings(*p.take);
    };
    const auto openings = [](const Groove& g) {
      return std::count_if(g.hits.begin(), g.hits.end(), [](const Hit& h) { return h.open > 0; });
    };
    found += findingsOf(song).size();
    const Groove fixed = mended(song, song.grooves[0]->id);
    ASSERT_EQ(openings(fixed), openings(*song.grooves[0])) << i;
    song.grooves[0] = SharedValue<Groove>(fixed);
    const std::vector<Finding> left = findingsOf(song);
    ASSERT_TRUE(left.empty()) << i << ": " << left.front().text << " -> " << left.front().fix();
  }
  EXPECT_GT(found, 100U) << "the test meets the case";
}

// Whether corners of the path stand too near each other there for both to be sent.
bool crowded(const HatPedal& pedal, Moment from, Moment to) {
  const Moment ms = toMoment(Milliseconds(1));
  for (std::size_t k = 1; k < pedal.path.size(); ++k) {
    const Moment a = pedal.path[k - 1].time;
    const Moment b = pedal.path[k].time;
    if (b >= from - 2 * ms && a <= to + 2 * ms && b - a < ms) return true;
  }
  return false;
}

TEST(PedalController, GivesThePathWithinTwoSteps) {
  testing::Random random(408);
  std::size_t corners = 0;
  std::size_t knots = 0;
  int strict = 0;
  for (int i = 0; i < testing::rounds(200); ++i) {
    const Played p = onHats(testing::randomSong(random));
    const HatPedal& pedal = p.performance.pedal;
    if (pedal.path.empty()) continue;
    const auto found = pedalKnots(pedal, 127, std::min(Moment(0), pedal.path.front().time));
    corners += pedal.path.size();
    knots += found.size();
    for (std::size_t k = 1; k < found.size(); ++k) {
      ASSERT_GE(found[k].time - found[k - 1].time, toMoment(Milliseconds(1)));
    }
    for (std::size_t k = 0; k + 1 < found.size(); ++k) {
      for (int step = 0; step <= 8; ++step) {
        const double along = step / 8.0;
        const Moment time = found[k].time + (found[k + 1].time - found[k].time) * step / 8;
        const double read = std::lerp(found[k].value, found[k + 1].value, along);
        const double wanted = 127 * (1 - pedal.openingAt(time));
        // Corners less than a millisecond apart cannot both be sent.
        ASSERT_NEAR(read, wanted, 2 + 127 * 0.1) << "never far off";
        if (!crowded(pedal, found[k].time, found[k + 1].time)) {
          ASSERT_NEAR(read, wanted, 2.0) << i << " " << k;
          ++strict;
        }
      }
    }
  }
  EXPECT_LT(knots, corners) << "thinned";
  EXPECT_GT(strict, 10'000);
}

TEST(PedalController, BeginsWhereTheFileDoes) {
  HatPedal pedal;
  pedal.path = {{Moment(0), 0.2}, {toMoment(Milliseconds(400)), 0.6}};
  EXPECT_EQ(pedalKnots(pedal, 127, Moment(0)).front(), (PedalKnot{Moment(0), 102}));
  const Moment half = toMoment(Milliseconds(200));
  EXPECT_EQ(pedalKnots(pedal, 127, half).front(), (PedalKnot{half, 76}));
  EXPECT_EQ(pedalKnots(pedal, 127, -half).front(), (PedalKnot{-half, 102}));
}

TEST(PedalController, TheOtherDirectionIsItsMirror) {
  Song song = sixteenths(98);
  open(song, 2, 0.5, Beat(1, 4));
  const HatPedal pedal = onHats(song).performance.pedal;
  const auto down = pedalKnots(pedal, 127, Moment(0));
  const auto up = pedalKnots(pedal, 0, Moment(0));
  ASSERT_EQ(down.size(), up.size());
  for (std::size_t i = 0; i < down.size(); ++i) {
    EXPECT_EQ(down[i].time, up[i].time);
    EXPECT_NEAR(down[i].value + up[i].value, 127, 1);
  }
}

TEST(Walk, TwoBeatsOfSixteenthsHaveEightPlacementsFromTheLastToTheFirst) {
  const Groove groove = *sixteenths(98).grooves[0];
  const std::vector<Placement> all = placements(groove, Beat(0), Beat(2));
  ASSERT_GE(all.size(), 8U);
  for (int i = 0; i < 8; ++i) {
    EXPECT_EQ(all[static_cast<std::size_t>(i)], (Placement{{Beat(7 - i, 4)}, 1}));
  }
  EXPECT_EQ(all[8], (Placement{{Beat(6, 4)}, 2}));
  // Eight of one slot, seven of two, 21 pairs that do not touch.
  EXPECT_EQ(all.size(), 8U + 7U + 21U);
  const Groove opened = withPlacement(groove, Beat(0), Beat(2), all[0], 0.6);
  int open = 0;
  for (const Hit& hit : opened.hits) open += hit.open > 0 ? 1 : 0;
  EXPECT_EQ(open, 1);
  const Groove marked = withVerdict(groove, placementText(all[0]), WalkMark::kAwkward, "rushes");
  ASSERT_NE(verdictOf(marked, placementText(all[0])), nullptr);
  EXPECT_EQ(verdictOf(marked, placementText(all[0]))->note, "rushes");
  EXPECT_EQ(verdictOf(marked, placementText(all[1])), nullptr);
  EXPECT_EQ(withVerdict(marked, placementText(all[0]), WalkMark::kGood, "").walk.size(), 1U);
}

}  // namespace
}  // namespace uneven
