// SPDX-License-Identifier: GPL-3.0-or-later
// Tools that put hits elsewhere in time.
#include <algorithm>

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
  int dropped = 0;
  int met = 0;
  for (Hit& hit : moved) {
    hit.at = to(hit.at);
    if (!hit.at.valid() || hit.at < Beat(0) || hit.at >= call.groove.length() ||
        hit.at.den() > kDenominatorMax) {
      ++dropped;
      continue;
    }
    if (call.occupied(hit.at, hit.piece)) ++met;
    call.put(std::move(hit));
  }
  call.note(countOf(static_cast<int>(moved.size()) - dropped, "hit") + " moved");
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
  const Beat step = call.step("grid");
  const Beat last = call.to() - step;
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
  }
  reposition(call, [&](Beat at) { return at * factor; });
}

void mirror(ToolCall& call) {
  const int count = call.forEach([&](Hit& hit) {
    switch (call.limbOf(hit)) {
      case Limb::kRightHand:
        hit.limb = Limb::kLeftHand;
        break;
      case Limb::kLeftHand:
        hit.limb = Limb::kRightHand;
        break;
      default:
        break;
    }
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
  std::stable_sort(call.groove.hits.begin(), call.groove.hits.end(), writtenBefore);
  call.note(countOf(static_cast<int>(copies.size()), "hit") + " copied");
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
  call.groove.bars -= count;
  call.note(countOf(count, "bar") + " deleted");
}

}  // namespace

std::vector<Tool> rearrangeTools() {
  const auto whose = [](std::vector<ToolParameter> list) {
    list.push_back(orAny(pieceParameter("piece", "any", "whose hits; any: all")));
    list.push_back(orAny(limbParameter("limb", "any", "played by")));
    list.push_back(spanFrom());
    list.push_back(spanTo());
    return list;
  };
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
       deleteBars}};
}

}  // namespace uneven
