// SPDX-License-Identifier: GPL-3.0-or-later
// Tools that put hits elsewhere in time.
#include <fmt/format.h>

#include <algorithm>
#include <map>

#include "core/tools/call.h"
#include "core/tools/groups.h"

namespace uneven {
namespace {

// Gives each concerned hit a new position. What falls outside the groove is dropped, two hits of
// one piece that meet become the later one of the list.
void reposition(ToolCall& call, const std::function<Beat(Beat)>& to) {
  std::vector<Hit> moved;
  std::vector<Hit> kept;
  for (Hit& hit : call.groove.hits) (call.concerns(hit) ? moved : kept).push_back(hit);
  call.groove.hits = std::move(kept);
  const Beat length = call.groove.length();
  const auto dropped = static_cast<int>(std::erase_if(moved, [&](Hit& hit) {
    hit.at = to(hit.at);
    return !hit.at.valid() || hit.at < Beat(0) || hit.at >= length ||
           hit.at.den() > kDenominatorMax;
  }));
  const auto count = static_cast<int>(moved.size());
  const int met = placeHits(call.groove, std::move(moved));
  call.note(countOf(count, "hit") + " moved");
  if (dropped > 0) call.note(countOf(dropped, "hit") + " fell off the end");
  if (met > 0) call.note(countOf(met, "hit") + " replaced what stood there");
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
  reposition(call, [&](Beat at) { return wrapped(at + by, call.from(), call.to()); });
}

void shift(ToolCall& call) {
  const Beat by = call.length("by");
  reposition(call, [&](Beat at) { return at + by; });
}

void reverse(ToolCall& call) {
  if (spanIsEmpty(call)) return;
  // Slots are reversed, not moments: the first slot of the span becomes the last.
  const std::vector<Beat> slots = call.slots(call.from(), call.to());
  const Beat last = slots.empty() ? Beat(0) : slots.back();
  reposition(call,
             [&](Beat at) { return wrapped(call.from() + last - at, call.from(), call.to()); });
}

void stretch(ToolCall& call) {
  const Beat factor = call.text("to_time") == "half" ? Beat(2) : Beat(1, 2);
  const Beat length = call.groove.length() * factor;
  if (call.flag("bars")) {
    const Beat bars = length / call.groove.meter.barLength();
    if (bars.den() != 1 || bars > Beat(kBarsMax)) {
      return call.fail(ErrorCode::kLimit, "the groove would have " + bars.toString() +
                                              " bars; 1..64 whole ones are "
                                              "allowed (bars=no keeps the length)");
    }
    call.groove.bars = static_cast<int>(bars.num());
    call.groove.beatGrids.clear();  // the beats are others now
    if (call.groove.pedal) {
      for (PedalMove& move : call.groove.pedal->moves) {
        move.at = move.at * factor;
        move.length = move.length * factor;
      }
    }
  }
  reposition(call, [&](Beat at) { return at * factor; });
}

void mirror(ToolCall& call) {
  const int count = call.forEach([&](Hit& hit) {
    const Limb limb = call.limbOf(hit);
    if (limb == Limb::kRightHand || limb == Limb::kLeftHand) hit.limb = mirrored(limb);
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
  std::vector<Hit> copies;
  for (Hit hit : call.groove.hits) {
    if (hit.at < from || hit.at >= from + length) continue;
    hit.at = hit.at - from + onto;
    copies.push_back(std::move(hit));
  }
  std::erase_if(call.groove.hits,
                [&](const Hit& hit) { return hit.at >= onto && hit.at < onto + length; });
  for (Hit& hit : copies) call.groove.hits.push_back(std::move(hit));
  std::map<Beat, Grid> grids;
  for (const auto& [at, grid] : call.groove.beatGrids) {
    if (at < onto || at >= onto + length) grids[at] = grid;
    if (at >= from && at < from + length) grids[at - from + onto] = grid;
  }
  call.groove.beatGrids = std::move(grids);
  std::stable_sort(call.groove.hits.begin(), call.groove.hits.end(), writtenBefore);
  call.note(countOf(static_cast<int>(copies.size()), "hit") + " copied");
}

void copySpan(ToolCall& call) {
  if (spanIsEmpty(call)) return;
  std::vector<Hit> copies;
  const Beat span = call.to() - call.from();
  Beat onto = call.text("onto") == "behind" ? call.to() : call.length("onto");
  for (int i = 0; i < call.whole("times"); ++i, onto += span) {
    for (Hit hit : call.groove.hits) {
      if (!call.concerns(hit)) continue;
      hit.at = hit.at - call.from() + onto;
      if (hit.at < call.groove.length()) copies.push_back(std::move(hit));
    }
  }
  const auto count = static_cast<int>(copies.size());
  const int met = placeHits(call.groove, std::move(copies));
  call.note(countOf(count, "hit") + " copied");
  if (met > 0) call.note(countOf(met, "hit") + " replaced what stood there");
}

// What else stands at positions of the groove: beats with their own grids, drawn moves of the
// pedal.
void moveRest(Groove& groove, Beat from, Beat by) {
  std::map<Beat, Grid> moved;
  for (const auto& [at, grid] : groove.beatGrids) moved[at < from ? at : at + by] = grid;
  groove.beatGrids = std::move(moved);
  if (!groove.pedal) return;
  for (PedalMove& move : groove.pedal->moves) {
    if (move.at >= from) move.at += by;
  }
}
void eraseRest(Groove& groove, Beat from, Beat to) {
  const auto inside = [&](Beat at) { return at >= from && at < to; };
  std::erase_if(groove.beatGrids, [&](const auto& own) { return inside(own.first); });
  if (!groove.pedal) return;
  std::erase_if(groove.pedal->moves, [&](const PedalMove& move) { return inside(move.at); });
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
  moveRest(call.groove, at, Beat(count) * bar);
  for (Hit& hit : call.groove.hits) {
    if (hit.at >= at) hit.at += Beat(count) * bar;
  }
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
  std::erase_if(call.groove.hits, [&](const Hit& h) { return h.at >= from && h.at < to; });
  for (Hit& hit : call.groove.hits) {
    if (hit.at >= to) hit.at -= Beat(count) * bar;
  }
  eraseRest(call.groove, from, to);
  moveRest(call.groove, to, Beat(-count) * bar);
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
  const std::size_t before = call.groove.hits.size();
  call.groove = withMeter(std::move(call.groove), *meter, bars, change);
  const auto lost = static_cast<int>(before - call.groove.hits.size());
  call.note(fmt::format("{} of {}", countOf(call.groove.bars, "bar"), meter->toString()));
  if (lost > 0) call.note(countOf(lost, "hit") + " fell off the end");
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
