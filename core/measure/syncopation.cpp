// SPDX-License-Identifier: GPL-3.0-or-later
// Syncopation and density.
#include "core/measure/syncopation.h"

#include <algorithm>
#include <numeric>

#include "core/song/slots.h"

namespace uneven {
namespace {

int primeFactors(std::int64_t of) {
  int count = 0;
  for (std::int64_t p = 2; p * p <= of; ++p) {
    for (; of % p == 0; of /= p) ++count;
  }
  return count + (of > 1 ? 1 : 0);
}

int weightIn(const Groove& groove, Beat at) {
  const Beat bar = groove.meter.barLength();
  return metricalWeight(at - Beat(at.floorDiv(bar)) * bar, groove.meter);
}

// A note of the voice, and what it adds beyond the difference where it is syncopated.
struct Note {
  Beat at;
  int more = 0;
};

std::vector<int> byBar(const Groove& groove, const std::vector<Note>& notes,
                       const WeighedSlots& weighed) {
  std::vector<int> out(static_cast<std::size_t>(groove.bars), 0);
  if (notes.empty()) return out;
  const std::vector<Beat>& slots = weighed.slots;
  const std::vector<int>& weights = weighed.weights;
  constexpr int kNone = -1'000;
  const auto heaviest = [&](Beat after, Beat before) {
    int most = kNone;
    auto slot = std::upper_bound(slots.begin(), slots.end(), after);
    for (; slot != slots.end() && *slot < before; ++slot) {
      most = std::max(most, weights[static_cast<std::size_t>(slot - slots.begin())]);
    }
    return most;
  };
  for (std::size_t i = 0; i < notes.size(); ++i) {
    int silent = kNone;
    if (i + 1 < notes.size()) {
      silent = heaviest(notes[i].at, notes[i + 1].at);
    } else {
      silent = std::max(heaviest(notes[i].at, groove.length()), heaviest(Beat(-1), notes[0].at));
    }
    const int by = silent - weightIn(groove, notes[i].at);
    if (by <= 0) continue;
    out[static_cast<std::size_t>(notes[i].at.floorDiv(groove.meter.barLength()))] +=
        by + notes[i].more;
  }
  return out;
}

int sum(const std::vector<int>& of) {
  return std::accumulate(of.begin(), of.end(), 0);
}

}  // namespace

int metricalWeight(Beat inBar, Meter meter) {
  const Beat unit = meter.countUnit();
  const std::int64_t counts = meter.barLength().floorDiv(unit);
  const std::int64_t count = inBar.floorDiv(unit);
  const Beat inside = inBar - Beat(count) * unit;
  if (inside == Beat(0)) return -primeFactors(Beat(count, counts).den());
  // A dotted count falls into three and those into halves: the middle one of six is a half of the
  // second third, not half of the count.
  const Beat third = inside / unit * Beat(3);
  if (meter.compound()) return -primeFactors(counts) - 1 - primeFactors(third.den());
  return -primeFactors(counts) - primeFactors((inside / unit).den());
}

WeighedSlots::WeighedSlots(const Groove& groove)
    : slots(slotsOf(groove, Beat(0), groove.length())) {
  weights.reserve(slots.size());
  for (const Beat slot : slots) weights.push_back(weightIn(groove, slot));
}

namespace {

std::vector<Note> notesOf(const Groove& groove, const std::set<PieceId>& pieces) {
  std::vector<Note> notes;
  for (const Hit& hit : groove.hits) {
    if (!pieces.contains(hit.piece) || (!notes.empty() && notes.back().at == hit.at)) continue;
    notes.push_back({hit.at, 0});
  }
  return notes;
}

std::vector<Note> kitNotes(const Groove& groove) {
  constexpr int kKickMore = 2, kSnareMore = 1;
  std::vector<Note> notes;
  for (const Hit& hit : groove.hits) {
    if (hit.piece != piece::kKick && hit.piece != piece::kSnare) continue;
    const int more = hit.piece == piece::kKick ? kKickMore : kSnareMore;
    if (!notes.empty() && notes.back().at == hit.at) {
      notes.back().more = std::max(notes.back().more, more);
    } else {
      notes.push_back({hit.at, more});
    }
  }
  return notes;
}

}  // namespace

std::vector<int> syncopationByBar(const Groove& groove, const std::set<PieceId>& pieces) {
  return byBar(groove, notesOf(groove, pieces), WeighedSlots(groove));
}
int syncopation(const Groove& groove, const std::set<PieceId>& pieces, const WeighedSlots& slots) {
  return sum(byBar(groove, notesOf(groove, pieces), slots));
}
int syncopation(const Groove& groove, const std::set<PieceId>& pieces) {
  return syncopation(groove, pieces, WeighedSlots(groove));
}

std::vector<int> kitSyncopationByBar(const Groove& groove) {
  return byBar(groove, kitNotes(groove), WeighedSlots(groove));
}
int kitSyncopation(const Groove& groove, const WeighedSlots& slots) {
  return sum(byBar(groove, kitNotes(groove), slots));
}
int kitSyncopation(const Groove& groove) {
  return kitSyncopation(groove, WeighedSlots(groove));
}

std::vector<double> densityByBar(const Groove& groove) {
  std::vector<double> out(static_cast<std::size_t>(groove.bars), 0);
  const Beat bar = groove.meter.barLength();
  for (const Hit& hit : groove.hits) out[static_cast<std::size_t>(hit.at.floorDiv(bar))] += 1;
  for (double& d : out) d /= bar.toDouble();
  return out;
}

double density(const Groove& groove) {
  return static_cast<double>(groove.hits.size()) / groove.length().toDouble();
}

}  // namespace uneven
