// SPDX-License-Identifier: GPL-3.0-or-later
// The feet: on the hats, on the kick; and openings.
#include <fmt/format.h>

#include <algorithm>
#include <memory>

#include "core/song/slots.h"
#include "core/time/count.h"
#include "core/tools/groups.h"
#include "core/vary/walk.h"
#include "core/vary/walk_call.h"

namespace uneven {
namespace {

Walk footWalk(WalkCall& call) {
  const bool splash = call.text("stroke") == "splash";
  const std::string name = splash ? "foot splash" : "foot chick";
  const Beat count = call.core().meter.countUnit(), step = call.step();
  std::vector<Beat> beats;
  for (const Hit& hit : call.core().hits) {
    if (call.inSpan(hit.at) && call.isBackbeat(hit)) beats.push_back(hit.at);
  }
  WalkList list(call);
  if (beats.empty()) call.note("there is no backbeat to put the foot around");
  // A backbeat is a count at least behind the bar line: no place is before the groove.
  const auto put = [&](const std::vector<Beat>& places, const std::string& words) {
    Changes changes;
    for (const Beat at : places) {
      if (at >= call.core().length()) return;
      if (call.occupied(at, piece::kHatFoot)) return;
      Hit hit = call.fresh(piece::kHatFoot, at);
      if (splash) hit.stroke = StrokeKind::kSplash;
      changes[{at, piece::kHatFoot}] = hit;
    }
    list.add(words, std::move(changes));
  };
  std::vector<Beat> offsets;
  for (Beat by = step; by < count; by += step) {
    offsets.push_back(Beat(0) - by);
    offsets.push_back(by);
  }
  for (const Beat by : offsets) {
    std::vector<Beat> places;
    places.reserve(beats.size());
    for (const Beat at : beats) places.push_back(at + by);
    if (places.empty()) continue;
    put(places,
        fmt::format("{} {} {} each backbeat", name, lengthName(by < Beat(0) ? Beat(0) - by : by),
                    by < Beat(0) ? "before" : "after"));
  }
  for (auto at = beats.rbegin(); at != beats.rend(); ++at) {
    for (const Beat by : offsets)
      put({*at + by}, fmt::format("{} on {}", name, call.place(*at + by)));
  }
  return std::move(list).walk(piece::kHatFoot);
}

Walk openingsWalk(WalkCall& call) {
  struct Ground {
    Groove core;
    Beat from, to;
    double open = 0;
    std::set<HitRef> kept;
    std::vector<Placement> all;
    std::vector<std::string> names;
  };
  const std::size_t slots = slotsOf(call.core(), call.from(), call.to()).size();
  if (call.tooMany(slots * (slots + 1) / 2 + slots)) return {};
  auto ground = std::make_shared<Ground>();
  ground->core = call.core();
  ground->from = call.from();
  ground->to = call.to();
  ground->open = call.real("open");
  ground->kept = call.kept();
  ground->all = placements(call.core(), call.from(), call.to());
  std::erase_if(ground->all, [&](const Placement& p) {
    return std::any_of(p.at.begin(), p.at.end(), [&](Beat at) {
      return ground->kept.contains({at, piece::kHat}) || !call.onCounts(at);
    });
  });
  for (const Placement& p : ground->all) {
    ground->names.push_back(
        p.slots == 1 ? fmt::format("open on {}", call.places(p.at))
                     : fmt::format("open on {} for {} slots", call.places(p.at), p.slots));
  }
  Walk out;
  out.voice = piece::kHat;
  out.count = ground->all.size();
  out.at = [ground = std::shared_ptr<const Ground>(std::move(ground))](std::uint64_t i) {
    const Placement& p = ground->all[i];
    return Variant{
        ground->names[i], placementText(p),
        withPlacement(ground->core, ground->from, ground->to, p, ground->open, ground->kept)};
  };
  return out;
}

Walk burstsWalk(WalkCall& call) {
  const PieceId piece = *call.piece("piece");
  const std::string name = call.pieceName(piece);
  const Beat step = call.step(), count = call.core().meter.countUnit();
  WalkList list(call);
  // Which foot leads when it comes round: an odd number of alternating strokes changes it.
  const auto lead = [](std::size_t strokes) {
    return strokes % 2 == 0 ? "the same foot leads next" : "the other foot leads next";
  };
  const auto put = [&](const std::vector<Beat>& places, const std::string& words) {
    Changes changes;
    for (const Beat at : places) {
      if (at < Beat(0) || at >= call.to()) return;
      if (!call.occupied(at, piece)) changes[{at, piece}] = call.fresh(piece, at);
    }
    if (!changes.empty())
      list.add(fmt::format("{}; {}", words, lead(places.size())), std::move(changes));
  };
  const std::vector<Beat> slots = call.spanSlots();
  constexpr std::size_t kCells = 5;
  if (call.tooMany(kCells * slots.size(), 6)) return {};
  struct Cell {
    const char* words;
    std::vector<int> strokes;  // slots from the start
  };
  const Cell cells[] = {{"3", {0, 1, 2}},
                        {"4", {0, 1, 2, 3}},
                        {"5", {0, 1, 2, 3, 4}},
                        {"6", {0, 1, 2, 3, 4, 5}},
                        {"2 and 2", {0, 1, 3, 4}}};
  for (const Cell& cell : cells) {
    for (auto at = slots.rbegin(); at != slots.rend(); ++at) {
      std::vector<Beat> places;
      for (const int s : cell.strokes) places.push_back(*at + Beat(s) * step);
      put(places, fmt::format("{} {} from {}", name, cell.words, call.place(*at)));
    }
  }
  // Faster from count to count.
  for (Beat at = Beat(call.from().floorDiv(count)) * count; at + Beat(3) * count <= call.to();
       at += count) {
    if (at < call.from()) continue;
    std::vector<Beat> places;
    for (const auto& [k, n] : {std::pair{0, 2}, {1, 4}, {2, 6}}) {
      for (int i = 0; i < n; ++i) places.push_back(at + Beat(k) * count + Beat(i, n) * count);
    }
    put(places, fmt::format("{} in eighths, sixteenths, sextuplets from {}", name, call.place(at)));
  }
  // Groups with a gap, over and over.
  for (int group = 2; group <= 6; ++group) {
    std::vector<Beat> places;
    for (std::size_t i = 0; i < slots.size(); ++i) {
      if (static_cast<int>(i) % (group + 1) != group) places.push_back(slots[i]);
    }
    put(places, fmt::format("{} in groups of {} and a gap", name, group));
  }
  // Three of six in a triplet or eighth of each count.
  for (Beat at = Beat(call.from().floorDiv(count)) * count; at < call.to(); at += count) {
    for (const Beat part : {Beat(0), Beat(1, 3), Beat(1, 2), Beat(2, 3)}) {
      const Beat start = at + part * count;
      if (start < call.from() || start + count / Beat(2) > call.to()) continue;
      std::vector<Beat> places;
      places.reserve(3);
      for (int i = 0; i < 3; ++i) places.push_back(start + Beat(i, 6) * count);
      put(places, fmt::format("{}: three sextuplets from {}", name, call.place(start)));
    }
  }
  return std::move(list).walk(piece);
}

}  // namespace

std::vector<WalkKind> footWalks() {
  std::vector<WalkKind> out(3);
  out[0] = {{"foot",
             "Foot on the hats",
             "A chick or splash on each partial before and after the backbeats",
             inSpan({choiceParameter("stroke", "what the foot does", {"chick", "splash"})}),
             {}},
            footWalk};
  out[1] = {{"openings",
             "Openings of the hats",
             "Every way to open the hats once or twice in the span: its marks are Open's",
             inSpan({realParameter("open", "0.7", "how far, 0 shut to 1 wide", 0.01, 1)}),
             {}},
            openingsWalk};
  out[2] = {{"bursts",
             "Bursts",
             "Cells of 3 to 6, 2 and 2, faster and faster, groups with a gap, three sextuplets",
             inSpan({pieceParameter("piece", "kick", "what is struck")}),
             {}},
            burstsWalk};
  return out;
}

}  // namespace uneven
