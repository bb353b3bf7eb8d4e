// SPDX-License-Identifier: GPL-3.0-or-later
// From strokes to a song.
#include "core/match/song_of.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/number.h"
#include "core/match/numbers.h"
#include "core/song/edit.h"

namespace uneven {
namespace {

constexpr std::size_t kGroovesMost = 64;
constexpr std::size_t kBarsKept = 20'000;

using Place = std::pair<Beat, PieceId>;  // in the block
struct Block {
  std::set<Place> places;
  std::vector<std::size_t> onsets;
};

std::vector<Block> blocksOf(const Fit& fit, const std::vector<Onset>& onsets, int period,
                            std::int64_t bars) {
  const auto count = static_cast<std::size_t>((bars + period - 1) / period);
  std::vector<Block> out(count);
  const Beat length = fit.grid.meter.barLength();
  for (std::size_t i = 0; i < onsets.size(); ++i) {
    const Placed& p = fit.placed[i];
    if (!p.used || p.bar < 0 || p.bar >= bars || onsets[i].piece == piece::kClick) continue;
    Block& block = out[static_cast<std::size_t>(p.bar / period)];
    block.places.emplace(Beat(p.bar % period) * length + p.at, onsets[i].piece);
    block.onsets.push_back(i);
  }
  return out;
}

std::size_t distance(const Block& a, const Block& b) {
  std::vector<Place> apart;
  std::set_symmetric_difference(a.places.begin(), a.places.end(), b.places.begin(), b.places.end(),
                                std::back_inserter(apart));
  return apart.size();
}

// Blocks that are alike, the most usual first; those in which nothing was used come last, however
// many a take that starts late has.
struct Kind {
  std::size_t first = 0;
  std::vector<std::size_t> blocks;
};
std::vector<Kind> kindsOf(const std::vector<Block>& blocks) {
  std::map<std::set<Place>, Kind> kinds;
  for (std::size_t b = 0; b < blocks.size(); ++b) {
    const auto [known, isNew] = kinds.emplace(blocks[b].places, Kind{b, {}});
    known->second.blocks.push_back(b);
  }
  std::vector<Kind> out;
  out.reserve(kinds.size());
  for (auto& [places, kind] : kinds) out.push_back(std::move(kind));
  std::stable_sort(out.begin(), out.end(), [&](const Kind& a, const Kind& b) {
    const bool silentA = blocks[a.first].places.empty(), silentB = blocks[b.first].places.empty();
    if (silentA != silentB) return silentB;
    return a.blocks.size() != b.blocks.size() ? a.blocks.size() > b.blocks.size()
                                              : a.first < b.first;
  });
  while (out.size() > kGroovesMost) {
    const Kind last = out.back();
    out.pop_back();
    const auto nearest =
        std::min_element(out.begin(), out.end(), [&](const Kind& a, const Kind& b) {
          return distance(blocks[a.first], blocks[last.first]) <
                 distance(blocks[b.first], blocks[last.first]);
        });
    nearest->blocks.insert(nearest->blocks.end(), last.blocks.begin(), last.blocks.end());
  }
  return out;
}

Role roleOf(PieceId piece, double velocity, double loud) {
  return piece == piece::kSnare ? roleByLoudness(velocity, loud) : Role::kNormal;
}

std::string letters(std::size_t index) {
  std::string out(1, static_cast<char>('A' + index % 26));
  if (index >= 26) out += std::to_string(index / 26);
  return out;
}

}  // namespace

std::vector<TempoMark> tempoOf(const std::vector<TempoFound>& marks) {
  std::vector<TempoMark> out;
  for (const TempoFound& mark : marks) {
    const double bpm = std::clamp(roundedTo(mark.bpm, 10'000), kBpmMin, kBpmMax);
    if (!out.empty() && out.back().at >= mark.at) continue;
    out.push_back({mark.at, Bpm{bpm}, {}});
  }
  if (out.empty()) out.push_back({});
  return out;
}

Milliseconds offsetOf(double start) {
  return Milliseconds(roundedTo(start * 1'000, 10));
}

Song songOf(const Fit& fit, const std::vector<Onset>& onsets, const Kit& kit,
            const SongWanted& wanted) {
  Song song = blankSong();
  song.kit = SharedValue<Kit>(kit);
  song.title = wanted.title;
  song.tempo = tempoOf(fit.marks);
  song.feels = {feelOf(fit, "measured", "Measured")};
  std::int64_t bars = 1;
  for (std::size_t i = 0; i < onsets.size(); ++i) {
    if (fit.placed[i].used) bars = std::max(bars, fit.placed[i].bar + 1);
  }
  bars = std::min<std::int64_t>(bars, kBarsKept);
  int period = 1;
  for (const int p : {1, 2, 4, 8}) {
    if (bars / 2 < p) break;
    const std::vector<Block> blocks = blocksOf(fit, onsets, p, bars);
    const auto struck = std::count_if(blocks.begin(), blocks.end(),
                                      [](const Block& b) { return !b.places.empty(); });
    if (std::ssize(kindsOf(blocks).front().blocks) * 5 < struck * 3) continue;
    period = p;
    break;
  }
  const std::vector<Block> blocks = blocksOf(fit, onsets, period, bars);
  const std::vector<Kind> kinds = kindsOf(blocks);
  std::map<PieceId, std::vector<double>> velocities;
  for (std::size_t i = 0; i < onsets.size(); ++i)
    velocities[onsets[i].piece].push_back(onsets[i].velocity);
  std::map<PieceId, double> loud;
  for (auto& [piece, of] : velocities) {
    std::sort(of.begin(), of.end());
    loud[piece] = of[of.size() * 9 / 10];
  }
  song.grooves.clear();
  std::vector<std::string> ids(blocks.size());
  const Beat barLength = fit.grid.meter.barLength();
  for (std::size_t k = 0; k < kinds.size(); ++k) {
    Groove groove;
    groove.id = fmt::format("bars-{}", k + 1);
    groove.name = "Bars " + letters(k);
    groove.meter = fit.grid.meter;
    groove.bars = period;
    groove.grid = fit.slots;
    groove.feel = "measured";
    std::map<Place, std::vector<std::size_t>> struck;
    for (const std::size_t b : kinds[k].blocks) {
      ids[b] = groove.id;
      for (const std::size_t i : blocks[b].onsets) {
        const Beat at = Beat(fit.placed[i].bar % period) * barLength + fit.placed[i].at;
        struck[{at, onsets[i].piece}].push_back(i);
      }
    }
    for (const Place& place : blocks[kinds[k].first].places) {
      std::vector<double> velocity, ms, opening;
      for (const std::size_t i : struck[place]) {
        velocity.push_back(onsets[i].velocity);
        ms.push_back(fit.placed[i].ms);
        opening.push_back(onsets[i].opening);
      }
      Hit hit;
      hit.at = place.first;
      hit.piece = place.second;
      const double v = medianOfReals(velocity);
      hit.velocity = Velocity(static_cast<int>(roundToInt(v)));
      hit.role = roleOf(hit.piece, v, loud[hit.piece]);
      if (hit.piece == piece::kHat) hit.open = roundedTo(medianOfReals(opening), 100);
      if (wanted.nudges) {
        const auto piece = fit.pieces.find(hit.piece);
        const double lean = piece == fit.pieces.end() ? 0 : piece->second.ms;
        hit.nudge = Milliseconds(roundedTo(
            std::clamp(medianOfReals(ms) - lean, -kShiftMax.count(), kShiftMax.count()), 10));
      }
      groove.hits.push_back(std::move(hit));
    }
    std::stable_sort(groove.hits.begin(), groove.hits.end(), writtenBefore);
    song.grooves.emplace_back(std::move(groove));
  }
  if (wanted.nudges) song.feels.front().slots.clear();
  song.arrangement.clear();
  for (const std::string& id : ids) {
    if (!song.arrangement.empty() && song.arrangement.back().groove == id) {
      ++song.arrangement.back().repeat;
      continue;
    }
    Section section;
    section.groove = id;
    section.name = song.findGroove(id)->name;
    song.arrangement.push_back(std::move(section));
  }
  return song;
}

}  // namespace uneven
