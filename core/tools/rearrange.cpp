// SPDX-License-Identifier: GPL-3.0-or-later
// Tools that put hits elsewhere in time.
#include <fmt/format.h>

#include <algorithm>
#include <map>

#include "core/song/slots.h"
#include "core/tools/call.h"
#include "core/tools/groups.h"

namespace uneven {
namespace {

void tell(ToolCall& call, const Moved& moved) {
  call.note(countOf(moved.hits, "hit") + " moved");
  if (const std::string lost = moved.lostText(); !lost.empty()) call.note(lost);
  if (moved.replaced > 0) call.note(countOf(moved.replaced, "hit") + " replaced what stood there");
}

// Gives what is concerned a new position. Beats with a grid of their own go along by `beats` where
// the whole part moves and all of them land on beats; else they stay.
void reposition(ToolCall& call, const std::function<Beat(Beat)>& to,
                const std::function<Beat(Beat)>& beats) {
  PositionMap map;
  map.hits = [&](const Hit& hit) { return call.concerns(hit); };
  map.openings = [&](const PedalMove& move) { return call.concerns(move); };
  // What stands outside the span stays.
  const auto inside = [&call](const std::function<Beat(Beat)>& where) {
    return [&call, where](Beat at) { return call.inSpan(at) ? where(at) : at; };
  };
  map.to = inside(to);
  if (call.concernsAll() && beatsLand(call.groove, inside(beats))) map.beats = inside(beats);
  tell(call, mapPositions(call.groove, map));
}

Beat wrapped(Beat at, Beat from, Beat to) {
  const Beat span = to - from;
  const Beat offset = at - from;
  return from + offset - Beat(offset.floorDiv(span)) * span;
}

bool spanIsEmpty(ToolCall& call) {
  if (call.to() > call.from()) return false;
  call.fail(ErrorCode::kLimit, "the span is empty: \"to\" must lie behind \"from\"");
  return true;
}

void rotate(ToolCall& call) {
  if (spanIsEmpty(call)) return;
  const Beat by = call.length("by");
  const auto to = [&](Beat at) { return wrapped(at + by, call.from(), call.to()); };
  reposition(call, to, to);
}

void shift(ToolCall& call) {
  const Beat by = call.length("by");
  const auto to = [by](Beat at) { return at + by; };
  reposition(call, to, to);
}

void reverse(ToolCall& call) {
  if (spanIsEmpty(call)) return;
  const Beat from = call.from();
  const Beat to = call.to();
  const Beat unit = call.groove.meter.countUnit();
  const auto mirroredBeat = [=](Beat start) { return from + to - unit - start; };
  const bool ownGrids =
      std::any_of(call.groove.beatGrids.begin(), call.groove.beatGrids.end(),
                  [&](const auto& own) { return call.inSpan(own.first); }) &&
      call.concernsAll() && call.text("grid") == "groove" &&
      beatsLand(call.groove, [&](Beat at) { return call.inSpan(at) ? mirroredBeat(at) : at; });
  // Slots are reversed, not moments: the first slot of the span becomes the last. Where beats have
  // grids of their own each slot goes by its own length.
  if (ownGrids) {
    const Groove before = call.groove;
    return reposition(
        call,
        [&](Beat at) {
          const Beat step = gridAt(before, at).step();
          return wrapped(from + to - step - at, from, to);
        },
        mirroredBeat);
  }
  const std::vector<Beat> slots = call.slots(from, to);
  const Beat last = slots.empty() ? Beat(0) : slots.back();
  reposition(
      call, [=](Beat at) { return wrapped(from + last - at, from, to); }, mirroredBeat);
}

// A beat with a grid of its own becomes two of a grid twice as coarse, or two of one grid become
// one of a grid twice as fine; what no grid can say goes.
void stretchBeats(Groove& groove, bool half) {
  const Beat unit = groove.meter.countUnit();
  std::map<Beat, Grid> out;
  for (const auto& [start, grid] : groove.beatGrids) {
    Grid changed = grid;
    changed.division = half ? grid.division / 2 : grid.division * 2;
    if (!Grid::parse(changed.toString())) continue;
    if (half) {
      out[start * Beat(2)] = out[start * Beat(2) + unit] = changed;
      continue;
    }
    const auto partner = groove.beatGrids.find(start + unit);
    const bool first = start.floorDiv(unit) % 2 == 0;
    if (first && partner != groove.beatGrids.end() && partner->second == grid) {
      out[start / Beat(2)] = changed;
    }
  }
  groove.beatGrids = std::move(out);
}

void stretch(ToolCall& call) {
  const bool half = call.text("to_time") == "half";
  const Beat factor = half ? Beat(2) : Beat(1, 2);
  const Beat length = call.groove.length() * factor;
  if (call.flag("bars")) {
    const Beat bars = length / call.groove.meter.barLength();
    if (bars.den() != 1 || bars > Beat(kBarsMax)) {
      return call.fail(ErrorCode::kLimit, "the groove would have " + bars.toString() +
                                              " bars; 1..64 whole ones are "
                                              "allowed (bars=no keeps the length)");
    }
    call.groove.bars = static_cast<int>(bars.num());
  }
  const std::size_t ownGrids = call.groove.beatGrids.size();
  stretchBeats(call.groove, half);
  PositionMap map;
  map.to = [factor](Beat at) { return at * factor; };
  map.lengths = factor;
  map.beats = [](Beat at) { return at; };  // they have been stretched already
  tell(call, mapPositions(call.groove, map));
  if (ownGrids > 0 && call.groove.beatGrids.empty()) call.note("the beats' own grids are gone");
}

void mirror(ToolCall& call) {
  const int count = call.forEach([&](Hit& hit) {
    const Limb limb = call.limbOf(hit);
    if (isHand(limb)) hit.limb = mirrored(limb);
  });
  call.note(countOf(count, "hit") + " mirrored");
}

void copyBars(ToolCall& call) {
  const Beat bar = call.groove.meter.barLength();
  const Beat from = Beat(call.whole("bar") - 1) * bar;
  const Beat length = Beat(call.whole("count")) * bar;
  const Beat onto = Beat(call.whole("onto") - 1) * bar;
  if (from + length > call.groove.length() || onto + length > call.groove.length()) {
    return call.fail(ErrorCode::kLimit, "the groove has only " + countOf(call.groove.bars, "bar"));
  }
  call.note(countOf(copyPositions(call.groove, from, length, onto), "hit") + " copied");
}

void copySpan(ToolCall& call) {
  if (spanIsEmpty(call)) return;
  const Groove before = call.groove;
  const Beat span = call.to() - call.from();
  Beat onto = call.text("onto") == "behind" ? call.to() : call.length("onto");
  std::vector<Hit> copies;
  for (int i = 0; i < call.whole("times") && onto < before.length(); ++i, onto += span) {
    const auto copyOf = [&](Beat at) { return at - call.from() + onto; };
    for (Hit hit : before.hits) {
      if (!call.concerns(hit)) continue;
      hit.at = copyOf(hit.at);
      if (hit.at < before.length() && hit.at.den() <= kDenominatorMax) {
        copies.push_back(std::move(hit));
      }
    }
    for (const PedalMove& move : before.pedal.value_or(Pedal{}).moves) {
      const Beat at = copyOf(move.at);
      if (!call.concerns(move) || at >= before.length() || at.den() > kDenominatorMax) continue;
      putMove(*call.groove.pedal, {at, move.open, move.length, move.extras});
    }
    for (const auto& [start, grid] : before.beatGrids) {
      const Beat at = copyOf(start);
      if (!call.concernsAll() || !call.inSpan(start) || at >= before.length()) continue;
      if (beatStart(before, at) == at) call.groove.beatGrids[at] = grid;
    }
  }
  const auto count = static_cast<int>(copies.size());
  const int met = placeHits(call.groove, std::move(copies));
  call.note(countOf(count, "hit") + " copied");
  if (met > 0) call.note(countOf(met, "hit") + " replaced what stood there");
}

void insertBars(ToolCall& call) {
  const Beat bar = call.groove.meter.barLength();
  const int count = call.whole("count");
  const int before = call.whole("before");
  if (call.groove.bars + count > kBarsMax || before > call.groove.bars + 1) {
    return call.fail(ErrorCode::kLimit,
                     "the groove has " + countOf(call.groove.bars, "bar") + ", and 64 are allowed");
  }
  const Beat at = Beat(before - 1) * bar;
  call.groove.bars += count;
  PositionMap map;
  map.to = [=](Beat old) { return old < at ? old : old + Beat(count) * bar; };
  map.beats = map.to;
  mapPositions(call.groove, map);
  call.note(countOf(count, "bar") + " inserted");
}

void deleteBars(ToolCall& call) {
  const Beat bar = call.groove.meter.barLength();
  const int count = call.whole("count");
  const int first = call.whole("bar");
  if (first + count - 1 > call.groove.bars || count >= call.groove.bars) {
    return call.fail(ErrorCode::kLimit,
                     "the groove has " + countOf(call.groove.bars, "bar") + ", and one must stay");
  }
  const Beat from = Beat(first - 1) * bar;
  const Beat to = from + Beat(count) * bar;
  PositionMap map;
  map.to = [=](Beat at) {
    if (at >= from && at < to) return Beat::invalid();
    return at < from ? at : at - Beat(count) * bar;
  };
  map.beats = map.to;
  mapPositions(call.groove, map);
  call.groove.bars -= count;
  call.note(countOf(count, "bar") + " deleted");
}

void changeMeter(ToolCall& call) {
  const auto meter = Meter::parse(call.text("meter"));
  if (!meter) {
    return call.fail(ErrorCode::kLimit, "meter: 1..64 over 1, 2, 4, 8, 16 or 32 is, as 7/8");
  }
  const std::string& hits = call.text("hits");
  const MeterChange change = hits == "keep-bars"    ? MeterChange::kKeepBars
                             : hits == "scale-bars" ? MeterChange::kScaleBars
                                                    : MeterChange::kKeepDistance;
  const int bars = call.whole("bars") == 0 ? call.groove.bars : call.whole("bars");
  Moved moved;
  call.groove = withMeter(std::move(call.groove), *meter, bars, change, &moved);
  call.note(fmt::format("{} of {}", countOf(call.groove.bars, "bar"), meter->toString()));
  if (const std::string lost = moved.lostText(); !lost.empty()) call.note(lost);
}

}  // namespace

std::vector<Tool> rearrangeTools() {
  return {
      {"rotate", "Rotate",
       "Moves hits round the span: what leaves at the end comes in at the start",
       whose({lengthParameter("by", "1/4", "quarter notes, − is earlier", -256, 256)}), rotate},
      {"shift", "Shift", "Pushes hits later or earlier; what leaves the groove is dropped",
       whose({lengthParameter("by", "1/4", "quarter notes, − is earlier", -256, 256)}), shift},
      {"reverse", "Reverse", "The last slot becomes the first", whose({gridParameter()}), reverse},
      {"stretch",
       "Stretch",
       "Half time or double time",
       {choiceParameter("to_time", "half: twice as long; double: half as long", {"half", "double"}),
        flagParameter("bars", "yes", "yes: the number of bars changes with it")},
       stretch},
      {"mirror", "Mirror hands", "Right becomes left", whose({}), mirror},
      {"copy-span", "Copy and repeat a span",
       "Copies beats, or any span, once or several times in a row",
       whose({lengthParameter("onto", "behind", "where to, quarter notes; behind: after itself", 0,
                              16'384),
              wholeParameter("times", "1", "how many copies in a row", 1, 256)}),
       copySpan},
      {"copy-bars",
       "Copy bars",
       "Copies bars over others",
       {wholeParameter("bar", "1", "first bar to copy", 1, kBarsMax),
        wholeParameter("count", "1", "how many", 1, kBarsMax),
        wholeParameter("onto", "2", "first bar to copy onto", 1, kBarsMax)},
       copyBars},
      {"insert-bars",
       "Insert bars",
       "Inserts empty bars",
       {wholeParameter("before", "1", "before this bar", 1, kBarsMax + 1),
        wholeParameter("count", "1", "how many", 1, kBarsMax)},
       insertBars},
      {"delete-bars",
       "Delete bars",
       "Deletes bars with their hits",
       {wholeParameter("bar", "1", "first bar", 1, kBarsMax),
        wholeParameter("count", "1", "how many", 1, kBarsMax)},
       deleteBars},
      {"meter",
       "Change the meter",
       "Another meter, with a choice of what becomes of the hits",
       {textParameter("meter", "4/4", "1..64 over 1, 2, 4, 8, 16 or 32"),
        choiceParameter("hits",
                        "keep-distance: from the start, across the new bar lines; keep-bars: "
                        "their place in their bar; scale-bars: their share of the bar",
                        {"keep-distance", "keep-bars", "scale-bars"}),
        wholeParameter("bars", "0", "bars then; 0: as many as now", 0, kBarsMax)},
       changeMeter}};
}

}  // namespace uneven
