// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/support/lanes.h"

#include <gtest/gtest.h>

#include <algorithm>

#include "core/io/song_json.h"
#include "core/song/edit.h"
#include "core/song/kit.h"
#include "tests/support/made.h"

namespace uneven::testing {
namespace {

Hit hitOf(char letter, Beat step) {
  Hit hit;
  const auto is = [&](int velocity, Role role) {
    hit.velocity = Velocity(velocity);
    hit.role = role;
  };
  is(80, Role::kNormal);
  switch (letter) {
    case 'X':
      is(112, Role::kAccent);
      break;
    case 'A':
      is(92, Role::kAccent);
      break;
    case 's':
      is(66, Role::kNormal);
      break;
    case 'g':
      is(30, Role::kGhost);
      break;
    case 'h':
      is(26, Role::kGhost);
      break;
    case 't':
      is(78, Role::kNormal);
      hit.stroke = StrokeKind::kCrossStick;
      break;
    case 'f':
    case 'D':
    case 'r':
      is(112, Role::kAccent);
      hit.ornament = letter == 'f'   ? Ornament::kFlam
                     : letter == 'D' ? Ornament::kDrag
                                     : Ornament::kRuff;
      break;
    case 'd':
      is(72, Role::kNormal);
      hit.ornament = Ornament::kDiddle;
      break;
    case 'z':
      is(60, Role::kNormal);
      hit.ornament = Ornament::kBuzz;
      break;
    case 'o':
    case 'b':
      is(84, Role::kNormal);
      hit.open = letter == 'o' ? 0.6 : 0.5;
      if (letter == 'b') hit.openFor = step;
      break;
    case 'R':
    case 'L':
      hit.limb = letter == 'R' ? Limb::kRightHand : Limb::kLeftHand;
      break;
    default:
      EXPECT_EQ(letter, 'x');
  }
  return hit;
}

}  // namespace

Beat stepOf(const std::string& grid) {
  const std::map<std::string, Beat> steps{{"1/8", Beat(1, 2)},
                                          {"1/16", Beat(1, 4)},
                                          {"1/32", Beat(1, 8)},
                                          {"1/8T", Beat(1, 3)},
                                          {"1/16T", Beat(1, 6)}};
  return steps.at(grid);
}

Song songOfLanes(const Lanes& lanes, Beat step, double bpm, Meter meter,
                 std::optional<Setup> setup) {
  Song song = blankSong();
  song.tempo = {{Beat(0), Bpm{bpm}, {}}};
  if (setup) song.kit.edit([&](Kit& kit) { kit.setup = *setup; });
  song.grooves[0].edit([&](Groove& g) {
    g.meter = meter;
    g.hits.clear();
    std::size_t slots = 0;
    for (const auto& [id, lane] : lanes) slots = std::max(slots, lane.size());
    const Beat length = Beat(static_cast<std::int64_t>(slots)) * step;
    g.bars = static_cast<int>((length - Beat(1, 64)).floorDiv(meter.barLength())) + 1;
    g.grid = step == Beat(1, 3)   ? Grid{8, 3}
             : step == Beat(1, 6) ? Grid{16, 3}
                                  : Grid{static_cast<int>((Beat(4) / step).toDouble()), 0};
    for (const auto& [id, lane] : lanes) {
      for (std::size_t i = 0; i < lane.size(); ++i) {
        if (lane[i] == '.') continue;
        Hit hit = hitOf(lane[i], step);
        hit.at = Beat(static_cast<std::int64_t>(i)) * step;
        hit.piece = *song.kit->find(id);
        g = withHit(std::move(g), std::move(hit));
      }
    }
  });
  return song;
}

Song songOfEntry(const nlohmann::json& entry) {
  const Beat step = stepOf(entry["grid"]);
  const std::string meter = entry.value("meter", "4/4");
  Lanes lanes = entry["lanes"];
  // Pieces of one's own come with the kit.
  Lanes own;
  for (const auto& [id, lane] : lanes) {
    if (!houseKit().find(id)) own[id] = lane;
  }
  for (const auto& [id, lane] : own) lanes.erase(id);
  auto json = nlohmann::json::parse(
      writeSong(songOfLanes(lanes, step, entry["bpm"],
                            {std::stoi(meter), std::stoi(meter.substr(meter.find('/') + 1))})));
  nlohmann::json& groove = json["grooves"][0];
  for (const auto& [id, lane] : own) {
    for (std::size_t i = 0; i < lane.size(); ++i) {
      const Beat at = Beat(static_cast<std::int64_t>(i)) * step;
      if (lane[i] != '.')
        groove["hits"].push_back({{"at", at.toString()}, {"piece", id}, {"velocity", 80}});
    }
  }
  const nlohmann::json changes = entry.value("hits", nlohmann::json::object());
  for (const auto& [where, change] : changes.items()) {
    const std::string piece = where.substr(0, where.find(' '));
    const Beat at = Beat(std::stoi(where.substr(piece.size() + 1))) * step;
    for (nlohmann::json& hit : groove["hits"]) {
      if (hit["piece"] == piece && hit["at"] == at.toString()) hit.merge_patch(change);
    }
  }
  groove.merge_patch(entry.value("groove", nlohmann::json::object()));
  if (entry.contains("kit")) json["kit"] = entry["kit"];
  if (entry.contains("feel")) {
    json["feels"] = nlohmann::json::array({entry["feel"]});
    json["feels"][0]["id"] = "f";
    groove["feel"] = "f";
  }
  const auto song = readSong(json.dump(), entry["name"].get<std::string>());
  EXPECT_TRUE(song) << entry["name"] << ": " << (song ? "" : song.error().line());
  return song ? *song : blankSong();
}

Song verseAndChorus(double bpm) {
  Song song = songOfLanes(
      {{"hat", "x.x.x.x.x.x.x.x."}, {"snare", "....X..g.g..X..."}, {"kick", "x.....x.x......."}},
      Beat(1, 4), bpm);
  song.arrangement[0].name = "Verse";
  song.arrangement[0].repeat = 8;
  song.arrangement.push_back(song.arrangement[0]);
  song.arrangement[1].name = "Chorus";
  song.arrangement[1].repeat = 4;
  return song;
}

}  // namespace uneven::testing
