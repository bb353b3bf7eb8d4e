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
  const Beat end = start + groove.meter.barLength();
  const auto stepped = [](Beat from, Beat step, Beat past) {
    return from + Beat((past - from).floorDiv(step) + 1) * step;
  };
  const Beat beat = beatStart(groove, at);
  const auto own = groove.beatGrids.find(beat);
  Beat limit = beat;
  if (own != groove.beatGrids.end()) {
    const Beat next = stepped(beat, own->second.step(), at);
    limit = beat + groove.meter.countUnit();
    if (next < limit) return next;
    if (limit >= end || groove.beatGrids.contains(limit)) return limit;
    // On the groove's grid behind this beat a slot may stand on its very end.
    const Beat last =
        start + Beat((limit - start).floorDiv(groove.grid.step())) * groove.grid.step();
    if (last == limit) return limit;
    at = limit;
  }
  const auto further = groove.beatGrids.upper_bound(limit);
  const Beat until = further == groove.beatGrids.end() ? end : std::min(further->first, end);
  return std::min(stepped(start, groove.grid.step(), at), until);
}

Beat slotBefore(const Groove& groove, Beat at) {
  if (at <= Beat(0)) return {};
  const Beat unit = groove.meter.countUnit();
  Beat start = barStart(groove, at);
  if (start == at) start -= groove.meter.barLength();
  const auto stepped = [](Beat from, Beat step, Beat before) {
    const std::int64_t steps = (before - from).floorDiv(step);
    return from + Beat(from + Beat(steps) * step == before ? steps - 1 : steps) * step;
  };
  for (;;) {
    // The last beat with a grid of its own that begins before here.
    const auto behind = groove.beatGrids.lower_bound(at);
    const auto own =
        behind == groove.beatGrids.begin() ? groove.beatGrids.end() : std::prev(behind);
    const bool inBar = own != groove.beatGrids.end() && own->first >= start;
    if (inBar && at <= own->first + unit) return stepped(own->first, own->second.step(), at);
    const Beat plain = stepped(start, groove.grid.step(), at);
    if (!inBar || plain >= own->first + unit) return plain;
    at = own->first + unit;
  }
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
