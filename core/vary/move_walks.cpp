// SPDX-License-Identifier: GPL-3.0-or-later
// Moving what is there.
#include <fmt/format.h>

#include <algorithm>

#include "core/song/slots.h"
#include "core/tools/groups.h"
#include "core/vary/walk_call.h"

namespace uneven {
namespace {

Hit movedTo(Hit hit, Beat at) {
  hit.at = at;
  return hit;
}

Walk moveOne(WalkCall& call) {
  const std::vector<Beat> slots = call.spanSlots();
  const bool anywhere = call.text("to_where") == "anywhere";
  WalkList list(call);
  std::vector<Hit> hits = call.free();
  if (call.tooMany(hits.size() * (anywhere ? slots.size() : 2))) return {};
  std::reverse(hits.begin(), hits.end());
  for (const Hit& hit : hits) {
    // The nearest slots on both sides, or all.
    const auto after = std::upper_bound(slots.begin(), slots.end(), hit.at);
    const auto here = std::lower_bound(slots.begin(), slots.end(), hit.at);
    std::vector<Beat> to;
    if (anywhere) {
      to.assign(slots.rbegin(), slots.rend());
    } else {
      if (after != slots.end()) to.push_back(*after);
      if (here != slots.begin()) to.push_back(*std::prev(here));
    }
    for (const Beat at : to) {
      if (at == hit.at || call.occupied(at, hit.piece)) continue;
      list.addInstead(fmt::format("{} from {} to {}", call.pieceName(hit.piece), call.place(hit.at),
                                  call.place(at)),
                      hit, movedTo(hit, at));
    }
  }
  return std::move(list).walk(call.piece("piece").value_or(piece::kKick));
}

// What is concerned goes round in the span; what meets a stroke that stays gives way to it.
Walk displaceWalk(WalkCall& call) {
  const Beat from = call.from(), length = call.to() - from;
  const Beat bar = std::min(call.core().meter.barLength(), length);
  const Beat by =
      call.realIfGiven("by") || call.text("by") != "slot" ? call.length("by") : call.step();
  if (by <= Beat(0) || length <= Beat(0)) {
    call.fail(ErrorCode::kLimit, "by: it must move by more than nothing");
    return {};
  }
  const auto piece = call.piece("piece");
  const auto limb = call.limb("limb");
  std::string who = piece ? call.pieceName(*piece) : limb ? "the limb" : "everything";
  if (!piece && limb) {
    who = call.text("limb");
    std::replace(who.begin(), who.end(), '-', ' ');
  }
  WalkList list(call);
  list.welcomeCore();
  const std::vector<Hit> hits = call.free();
  const auto times = static_cast<std::size_t>(bar.floorDiv(by));
  if (call.tooMany(times, 2 * hits.size())) return {};
  for (std::int64_t k = 1; k <= static_cast<std::int64_t>(times); ++k) {
    Changes changes;
    for (const Hit& hit : hits) changes[{hit.at, hit.piece}] = std::nullopt;
    for (const Hit& hit : hits) {
      Beat at = hit.at - from + Beat(k) * by;
      at = from + at - Beat(at.floorDiv(length)) * length;
      const HitRef there{at, hit.piece};
      const bool stays = indexOf(call.core(), there).has_value() && !changes.contains(there);
      if (!stays) changes[there] = movedTo(hit, at);
    }
    list.add(fmt::format("{} {} later", who, lengthName(Beat(k) * by)), std::move(changes));
  }
  return std::move(list).walk(piece.value_or(piece::kKick));
}

Walk backbeatWalk(WalkCall& call) {
  std::vector<Hit> beats;
  for (const Hit& hit : call.core().hits) {
    if (call.inSpan(hit.at) && call.isBackbeat(hit)) beats.push_back(hit);
  }
  const Beat count = call.core().meter.countUnit(), bar = call.core().meter.barLength();
  WalkList list(call);
  const auto shift = [&](const std::vector<Hit>& which, Beat by, const std::string& name) {
    Changes changes;
    for (const Hit& hit : which) changes[{hit.at, hit.piece}] = std::nullopt;
    for (const Hit& hit : which) {
      const Beat at = hit.at + by;
      if (at < Beat(0) || at >= call.core().length()) return;
      changes[{at, hit.piece}] = movedTo(hit, at);
    }
    list.add(name, std::move(changes));
  };
  struct Way {
    Beat by;
    const char* words;
  };
  const Way ways[] = {{count / Beat(2), "half a count late"},
                      {Beat(0) - count / Beat(2), "half a count early"},
                      {call.step(), "a slot late"},
                      {Beat(0) - call.step(), "a slot early"}};
  // By their counts: all 4s, all 2s, then all of them, then each by itself.
  std::map<Beat, std::vector<Hit>> byCount;
  for (const Hit& hit : beats) byCount[hit.at - Beat(hit.at.floorDiv(bar)) * bar].push_back(hit);
  for (const Way& way : ways) {
    for (auto it = byCount.rbegin(); it != byCount.rend(); ++it) {
      const Beat to = it->first + way.by;
      const std::string where = to >= Beat(0) && to < bar ? call.place(to) : way.words;
      shift(it->second, way.by, fmt::format("backbeat of {} on {}", call.place(it->first), where));
    }
    if (byCount.size() > 1) shift(beats, way.by, fmt::format("backbeats {}", way.words));
  }
  for (const Way& way : ways) {
    for (auto it = beats.rbegin(); it != beats.rend(); ++it)
      shift({*it}, way.by, fmt::format("backbeat on {} {}", call.place(it->at), way.words));
  }
  return std::move(list).walk(piece::kSnare);
}

}  // namespace

std::vector<WalkKind> moveWalks() {
  std::vector<WalkKind> out(3);
  out[0] = {{"move",
             "Move one",
             "Each stroke of a piece one slot earlier or later, or anywhere",
             inSpan({orAny(pieceParameter("piece", "kick", "whose strokes; any: all")),
                     orAny(limbParameter("limb", "any", "played by")),
                     choiceParameter("to_where", "the slots beside it, or every free one",
                                     {"beside", "anywhere"})}),
             {}},
            moveOne};
  out[1] = {{"displace",
             "Displace",
             "A voice, a limb or all of it goes round the bar, slot by slot",
             inSpan({orAny(pieceParameter("piece", "any", "which voice; any: all")),
                     orAny(limbParameter("limb", "any", "played by")),
                     lengthParameter("by", "slot", "so far each time, quarter notes; slot: a slot",
                                     0, 64)}),
             {}},
            displaceWalk};
  out[2] = {{"backbeat",
             "Move the backbeat",
             "4 to the & of 4, 2 to the & of 2, a slot early or late; all of them, and each",
             inSpan({}),
             {}},
            backbeatWalk};
  return out;
}

}  // namespace uneven
