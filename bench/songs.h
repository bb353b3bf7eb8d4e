// SPDX-License-Identifier: GPL-3.0-or-later
// Songs of a given size for measuring.
#pragma once

#include <cstdint>

#include "core/song/edit.h"

namespace uneven::bench {

// A groove of eight bars of sixteenths with kick, snare and ghosts, swung and displaced; about 25
// hits a bar. Every bar is a little different, so that nothing can be reused by chance.
inline Groove denseGroove(const std::string& id, int bars) {
  Groove groove;
  groove.id = id;
  groove.name = id;
  groove.bars = bars;
  groove.feel = "straight";
  for (int i = 0; i < 16 * bars; ++i) {
    const auto put = [&](PieceId piece, int velocity) {
      Hit hit;
      hit.at = Beat(i, 4);
      hit.piece = piece;
      hit.velocity = Velocity(velocity);
      groove.hits.push_back(hit);
    };
    put(piece::kHat, 50 + (i * 7) % 40);
    if (i % 8 == 4) put(piece::kSnare, 110);
    if (i % 4 == 3) put(piece::kSnare, 30);
    if ((i * 5) % 8 < 2) put(piece::kKick, 100);
  }
  std::stable_sort(groove.hits.begin(), groove.hits.end(), writtenBefore);
  return groove;
}

// The same with all that costs: ghosts and accents, openings, flams, nudges, a beat of triplets a
// bar, a pumping heel.
inline Groove richGroove(const std::string& id, int bars) {
  Groove groove = denseGroove(id, bars);
  int i = 0;
  for (Hit& hit : groove.hits) {
    ++i;
    if (hit.velocity.value() < 40) hit.role = Role::kGhost;
    if (hit.velocity.value() > 105) hit.role = Role::kAccent;
    if (hit.piece == piece::kHat && i % 7 == 0) {
      hit.open = 0.1 + 0.05 * (i % 16);
      hit.openFor = Beat(1, 4);
    }
    if (hit.piece == piece::kSnare && i % 5 == 0) hit.ornament = Ornament::kFlam;
    if (i % 3 == 0) hit.nudge = Milliseconds(i % 11 - 5.5);
  }
  for (int bar = 0; bar < bars; ++bar) groove.beatGrids[Beat(4 * bar + 3)] = {8, 3};
  groove.pedal.emplace();
  groove.pedal->pump = Pump{{4, 0}, PumpPhase::kOn, "", 0.2, {}};
  return groove;
}

inline void enrich(Feel& feel) {
  feel.swing.ratio = 1.5;
  feel.displacement = {{piece::kHat, Milliseconds(-4)}, {piece::kSnare, Milliseconds(12)}};
  for (int i = 0; i < 16; ++i) {
    feel.slots.push_back({Beat(i, 4), Milliseconds(i % 3), i % 5 - 2, std::nullopt, {}});
  }
}

// A song in which all of at least `hits` hits are written, not repeated.
inline Song songOfDistinctHits(std::int64_t hits) {
  Song song = blankSong();
  enrich(song.feels[0]);
  song.grooves.clear();
  song.arrangement.clear();
  // 20 000 bars of 4/4 hold less than half a million: beyond that the bars are longer.
  const int longer = hits > 400'000 ? 4 : 1;
  for (std::int64_t made = 0; made < hits;) {
    const std::string id = "groove " + std::to_string(song.grooves.size());
    Groove groove = richGroove(id, longer * kBarsMax);
    groove.meter = {4 * longer, 4};
    groove.bars = kBarsMax;
    song.grooves.emplace_back(std::move(groove));
    made += std::ssize(song.grooves.back()->hits);
    Section section;
    section.name = section.groove = id;
    song.arrangement.push_back(section);
  }
  return song;
}

// A song of at least `hits` hits, all played: one groove of eight bars, repeated.
inline Song songOfHits(std::int64_t hits, bool rich = false) {
  Song song = blankSong();
  song.feels[0].swing.ratio = 1.5;
  song.feels[0].displacement = {{piece::kHat, Milliseconds(-4)}, {piece::kSnare, Milliseconds(12)}};
  song.grooves = {rich ? richGroove("dense", 8) : denseGroove("dense", 8)};
  if (rich) enrich(song.feels[0]);
  const auto each = std::ssize(song.grooves[0]->hits);
  song.arrangement[0].groove = "dense";
  song.arrangement[0].repeat = static_cast<int>((hits + each - 1) / each);
  // 20 000 bars hold about half a million such hits: beyond that, more to the bar.
  if (song.arrangement[0].repeat * 8 > kSongBarsMax) {
    song.grooves[0].edit([](Groove& g) {
      g.meter = {16, 4};
      const Beat bars4 = Beat(32);
      const std::vector<Hit> first = g.hits;
      for (int copy = 1; copy < 4; ++copy) {
        for (Hit hit : first) {
          hit.at += Beat(copy) * bars4;
          g.hits.push_back(hit);
        }
      }
    });
    song.arrangement[0].repeat = static_cast<int>((hits + 4 * each - 1) / (4 * each));
  }
  return song;
}

// 500 bars in grooves of 64 at most, about 15 000 strokes: a long song as it is edited.
inline Song songOf500Bars() {
  Song song = songOfHits(1);
  enrich(song.feels[0]);
  song.grooves.clear();
  song.arrangement.clear();
  for (int i = 0; i < 8; ++i) {
    const int bars = i < 7 ? 64 : 52;
    song.grooves.emplace_back(richGroove("groove " + std::to_string(i), bars));
    Section section;
    section.name = section.groove = "groove " + std::to_string(i);
    song.arrangement.push_back(section);
  }
  return song;
}

}  // namespace uneven::bench
