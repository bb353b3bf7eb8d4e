// SPDX-License-Identifier: GPL-3.0-or-later
// Slots.
#include "core/song/slots.h"

#include <algorithm>

namespace uneven {
namespace {

Beat barStart(const Groove& groove, Beat at) {
  const Beat bar = groove.meter.barLength();
  return Beat(at.floorDiv(bar)) * bar;
}

// Adds the slots of one bar.
void addBar(const Groove& groove, Beat start, std::vector<Beat>& out) {
  const Beat end = start + groove.meter.barLength();
  const Beat step = groove.grid.step();
  auto own = groove.beatGrids.lower_bound(start);
  Beat at = start;
  while (at < end) {
    if (own == groove.beatGrids.end() || own->first >= end) {
      for (; at < end; at += step) out.push_back(at);
      return;
    }
    for (; at < own->first; at += step) out.push_back(at);
    const Beat beatEnd = std::min(own->first + groove.meter.countUnit(), end);
    for (Beat inner = own->first; inner < beatEnd; inner += own->second.step()) {
      out.push_back(inner);
    }
    // The groove's own grid goes on where it would have been.
    while (at < beatEnd) at += step;
    ++own;
  }
}

}  // namespace

std::vector<Beat> slotsOf(const Groove& groove, Beat from, Beat to) {
  std::vector<Beat> out;
  const Beat end = std::min(to, groove.length());
  if (!(from < end)) return out;
  const Beat bar = groove.meter.barLength();
  for (Beat start = barStart(groove, from); start < end; start += bar) addBar(groove, start, out);
  std::erase_if(out, [&](Beat at) { return at < from || at >= end; });
  return out;
}

Beat slotAfter(const Groove& groove, Beat at) {
  const Beat start = barStart(groove, at);
  std::vector<Beat> bar;
  addBar(groove, start, bar);
  const auto next = std::upper_bound(bar.begin(), bar.end(), at);
  return next == bar.end() ? start + groove.meter.barLength() : *next;
}

Beat slotBefore(const Groove& groove, Beat at) {
  if (at <= Beat(0)) return {};
  Beat start = barStart(groove, at);
  if (start == at) start -= groove.meter.barLength();
  std::vector<Beat> bar;
  addBar(groove, start, bar);
  return *std::prev(std::lower_bound(bar.begin(), bar.end(), at));
}

Beat slotLength(const Groove& groove, Beat at) {
  // A bar without beats of their own is the common case, and is asked for every ornament.
  if (groove.beatGrids.empty()) return groove.grid.step();
  const Beat next = slotAfter(groove, at);
  return next - slotBefore(groove, next);
}

Beat beatStart(const Groove& groove, Beat at) {
  const Beat start = barStart(groove, at);
  const Beat unit = groove.meter.countUnit();
  return start + Beat((at - start).floorDiv(unit)) * unit;
}

Grid gridAt(const Groove& groove, Beat at) {
  const auto own = groove.beatGrids.find(beatStart(groove, at));
  return own == groove.beatGrids.end() ? groove.grid : own->second;
}

Groove withBeatGrid(Groove groove, Beat at, Grid grid) {
  const Beat start = beatStart(groove, at);
  if (grid == groove.grid) {
    groove.beatGrids.erase(start);
  } else {
    groove.beatGrids[start] = grid;
  }
  return groove;
}

}  // namespace uneven
