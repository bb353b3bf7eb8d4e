// SPDX-License-Identifier: GPL-3.0-or-later
// From strokes to a song.
#include "core/match/song_of.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/number.h"
#include "core/match/numbers.h"
#include "core/match/pulses.h"
#include "core/match/weights.h"
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
    if (!p.used || p.bar < 0 || p.bar >= bars || onsets[i].piece == kNotInKit) continue;
    Block& block = out[static_cast<std::size_t>(p.bar / period)];
    block.places.emplace(Beat(p.bar % period) * length + p.at, onsets[i].piece);
    block.onsets.push_back(i);
  }
  return out;
}

// What strokes that only one of two blocks has are worth; how much two blocks that are alike may
// differ by.
class Likeness {
 public:
  Likeness(const Fit& fit, const std::vector<Onset>& onsets) : bySound_(fit.bySound) {
    const double loud = loudSnare(onsets);
    std::map<Place, std::pair<int, int>> soft;  // ghosts, and all
    const Beat bar = fit.grid.meter.barLength();
    for (std::size_t i = 0; i < onsets.size(); ++i) {
      if (onsets[i].piece != piece::kSnare || !fit.placed[i].used) continue;
      auto& [ghosts, all] = soft[{fit.placed[i].at, onsets[i].piece}];
      ghosts += onsets[i].velocity < loud ? 1 : 0;
      ++all;
    }
    for (const auto& [place, count] : soft) {
      if (2 * count.first > count.second) ghosts_.insert(place.first);
    }
    bar_ = bar;
  }
  double apart(const std::set<Place>& a, const std::set<Place>& b) const {
    std::vector<Place> only;
    std::set_symmetric_difference(a.begin(), a.end(), b.begin(), b.end(), std::back_inserter(only));
    double sum = 0;
    for (const Place& place : only) sum += worth(place);
    return sum;
  }
  bool alike(const std::set<Place>& a, const std::set<Place>& b) const {
    const auto most = static_cast<double>(std::max(a.size(), b.size()));
    if (a.empty() != b.empty()) return false;
    return apart(a, b) <= (bySound_ ? std::max(ear::kAlikeHeardLeast, ear::kAlikeHeardShare * most)
                                    : ear::kAlikePlayed);
  }

 private:
  double worth(const Place& place) const {
    const Beat inBar = place.first - Beat(place.first.floorDiv(bar_)) * bar_;
    const bool soft = place.second == piece::kHat || place.second == piece::kRide ||
                      (place.second == piece::kSnare && ghosts_.contains(inBar));
    if (soft) return bySound_ ? 0.15 : 0.34;
    return bySound_ ? 0.5 : 1;
  }
  bool bySound_;
  std::set<Beat> ghosts_;  // places in the bar where the snare is soft
  Beat bar_;
};

// Blocks that are alike, the most usual first; those in which nothing was used come last, however
// many a take that starts late has.
struct Alike {
  std::set<Place> places;
  std::vector<std::size_t> blocks;
};
std::vector<Alike> kindsOf(const std::vector<Block>& blocks, const Likeness& likeness) {
  std::map<std::set<Place>, Alike> kinds;
  for (std::size_t b = 0; b < blocks.size(); ++b) {
    Alike& known = kinds[blocks[b].places];
    known.places = blocks[b].places;
    known.blocks.push_back(b);
  }
  std::vector<Alike> sorted;
  sorted.reserve(kinds.size());
  for (auto& [places, kind] : kinds) sorted.push_back(std::move(kind));
  const auto usualFirst = [](const Alike& a, const Alike& b) {
    if (a.places.empty() != b.places.empty()) return b.places.empty();
    return a.blocks.size() != b.blocks.size() ? a.blocks.size() > b.blocks.size()
                                              : a.blocks.front() < b.blocks.front();
  };
  std::stable_sort(sorted.begin(), sorted.end(), usualFirst);
  std::vector<Alike> out;
  const auto into = [](Alike& to, const Alike& kind) {
    to.blocks.insert(to.blocks.end(), kind.blocks.begin(), kind.blocks.end());
  };
  for (Alike& kind : sorted) {
    const auto nearest =
        std::min_element(out.begin(), out.end(), [&](const Alike& a, const Alike& b) {
          return likeness.apart(a.places, kind.places) < likeness.apart(b.places, kind.places);
        });
    const bool full = out.size() == kGroovesMost;
    if (nearest != out.end() && (full || likeness.alike(nearest->places, kind.places))) {
      into(*nearest, kind);
    } else {
      out.push_back(std::move(kind));
    }
  }
  // What most of them have.
  for (Alike& kind : out) {
    std::map<Place, std::size_t> counts;
    for (const std::size_t b : kind.blocks) {
      for (const Place& place : blocks[b].places) ++counts[place];
    }
    kind.places.clear();
    for (const auto& [place, count] : counts) {
      if (2 * count > kind.blocks.size()) kind.places.insert(place);
    }
    std::sort(kind.blocks.begin(), kind.blocks.end());
  }
  std::stable_sort(out.begin(), out.end(), usualFirst);
  return out;
}

// Seldom, and more drums than are usual: over the toms, or a filled snare.
bool isFill(const Alike& kind, const Alike& usual, std::size_t blocks) {
  if (kind.blocks.size() * ear::kFillSeldom > blocks || kind.places == usual.places) return false;
  const auto drums = [](const Alike& of, bool toms) {
    return std::count_if(of.places.begin(), of.places.end(), [toms](const Place& place) {
      const bool tom = place.second == piece::kTomHigh || place.second == piece::kTomMid ||
                       place.second == piece::kTomFloor;
      return tom || (!toms && place.second == piece::kSnare);
    });
  };
  return drums(kind, true) > drums(usual, true) ||
         drums(kind, false) >= drums(usual, false) + ear::kFillMore;
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
    const double bpm = std::clamp(roundedTo(mark.bpm.value, 10'000), kBpmMin, kBpmMax);
    if (!out.empty() && out.back().at >= mark.at) continue;
    out.push_back({mark.at, Bpm{bpm}, {}});
  }
  if (out.empty()) out.push_back({});
  return out;
}

MeasuredClock clockOf(const Fit& fit, const TempoMap& tempo, Seconds start) {
  MeasuredClock out;
  out.unit = Grid{16, 0};
  constexpr double kFarthest = 200;  // ms
  const std::size_t cells = std::min(fit.body.size(), kMeasuredMost);
  for (std::size_t k = 0; k < cells; ++k) {
    const double grid = tempo.msAt(Quarters(static_cast<double>(k) / 4)).count();
    const double ms = Milliseconds(fit.body[k] - start).count() - grid;
    out.ms.push_back(std::clamp(roundedTo(ms, 100), -kFarthest, kFarthest));
  }
  return out;
}

Milliseconds offsetOf(Seconds start) {
  return Milliseconds(roundedTo(Milliseconds(start).count(), 10));
}

Song songOf(const Fit& fit, const std::vector<Onset>& onsets, const Kit& kit,
            const SongWanted& wanted) {
  Song song = blankSong();
  song.kit = SharedValue<Kit>(kit);
  song.title = wanted.title;
  song.tempo = tempoOf(fit.marks);
  song.feels = {feelOf(fit, "measured", "Measured")};
  if (wanted.replay) {
    Drift& drift = song.feels.front().drift.emplace();
    drift.exponent = fit.drift.exponent.value_or(1);
    drift.measured = clockOf(fit, song.tempoMap(), fit.start);
  }
  std::int64_t bars = 1;
  for (std::size_t i = 0; i < onsets.size(); ++i) {
    if (fit.placed[i].used) bars = std::max(bars, fit.placed[i].bar + 1);
  }
  bars = std::min<std::int64_t>(bars, kBarsKept);
  const Likeness likeness(fit, onsets);
  int period = 1;
  for (const int p : {1, 2, 4, 8}) {
    if (bars / 2 < p) break;
    const std::vector<Block> blocks = blocksOf(fit, onsets, p, bars);
    const auto struck = std::count_if(blocks.begin(), blocks.end(),
                                      [](const Block& b) { return !b.places.empty(); });
    if (std::ssize(kindsOf(blocks, likeness).front().blocks) * 5 < struck * 3) continue;
    period = p;
    break;
  }
  const std::vector<Block> blocks = blocksOf(fit, onsets, period, bars);
  const std::vector<Alike> kinds = kindsOf(blocks, likeness);
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
  std::size_t fillsNamed = 0, barsNamed = 0;
  for (std::size_t k = 0; k < kinds.size(); ++k) {
    Groove groove;
    const bool fills = isFill(kinds[k], kinds.front(), blocks.size());
    std::size_t& named = fills ? fillsNamed : barsNamed;
    groove.id = fmt::format("{}-{}", fills ? "fill" : "bars", named + 1);
    groove.name = (fills ? "Fill " : "Bars ") + letters(named++);
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
    for (const Place& place : kinds[k].places) {
      std::vector<double> velocity, ms, opening;
      for (const std::size_t i : struck[place]) {
        velocity.push_back(onsets[i].velocity);
        ms.push_back(fit.placed[i].late.count());
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
        hit.nudge = asShift(Milliseconds(medianOfReals(ms)) - fit.leanOf(hit.piece));
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
