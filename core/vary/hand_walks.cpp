// SPDX-License-Identifier: GPL-3.0-or-later
// What the hands play on, and which of them plays what.
#include <fmt/format.h>

#include <algorithm>

#include "core/tools/groups.h"
#include "core/tools/sticking.h"
#include "core/vary/walk_call.h"

namespace uneven {
namespace {

Walk orchestrateWalk(WalkCall& call) {
  const Limb lead = call.kit().setup.lead == Side::kLeft ? Limb::kLeftHand : Limb::kRightHand;
  const Limb other = lead == Limb::kRightHand ? Limb::kLeftHand : Limb::kRightHand;
  const Beat count = call.core().meter.countUnit();
  WalkList list(call);
  const auto onBeat = [&](const Hit& hit) {
    return Beat(hit.at.floorDiv(count)) * count == hit.at;
  };
  // The strokes of a limb on another piece, as its own kind of stroke.
  const auto move = [&](Limb limb, PieceId to, auto which, StrokeKind stroke,
                        const std::string& words) {
    Changes changes;
    for (const Hit& hit : call.free()) {
      if (call.limbOf(hit) != limb || !which(hit)) continue;
      if (hit.piece == to && hit.stroke == stroke) continue;
      if (hit.piece != to && call.occupied(hit.at, to)) continue;
      Hit there = hit;
      there.piece = to;
      there.stroke = stroke;
      there.open = 0;
      there.openFor = Beat(0);
      // Who plays it where another would.
      if (call.kit().usualLimb(to) != limb) there.limb = limb;
      changes[{hit.at, hit.piece}] = std::nullopt;
      changes[{there.at, to}] = there;
    }
    list.add(words, std::move(changes));
  };
  const auto all = [](const Hit&) { return true; };
  const auto name = [](Limb limb) {
    return limb == Limb::kRightHand ? std::string("right hand") : std::string("left hand");
  };
  for (const PieceId piece : call.kit().order) {
    const Limb usual = call.kit().usualLimb(piece);
    if (!isHand(usual) || piece == piece::kSnare || piece == piece::kClick) continue;
    move(lead, piece, all, StrokeKind::kNormal,
         fmt::format("{} on the {}", name(lead), call.pieceName(piece)));
  }
  move(lead, piece::kRide, onBeat, StrokeKind::kBell, "bell of the ride on the beats");
  move(
      lead, piece::kRide, [&](const Hit& hit) { return !onBeat(hit); }, StrokeKind::kBell,
      "bell of the ride off the beats");
  for (const PieceId piece : call.kit().order) {
    const std::string id = call.kit()[piece].id;
    if (id.rfind("tom", 0) != 0) continue;
    move(
        other, piece, [&](const Hit& hit) { return !call.isBackbeat(hit); }, StrokeKind::kNormal,
        fmt::format("{} on the {}, the backbeat stays", name(other), call.pieceName(piece)));
    move(
        other, piece, [&](const Hit& hit) { return hit.role == Role::kGhost; }, StrokeKind::kNormal,
        fmt::format("ghosts on the {}", call.pieceName(piece)));
  }
  // Which hand reaches over.
  const auto hands = [&](Limb hats, Limb snare, const std::string& words) {
    Changes changes;
    for (const Hit& hit : call.free()) {
      if (hit.piece != piece::kHat && hit.piece != piece::kSnare) continue;
      Hit there = hit;
      there.limb = hit.piece == piece::kHat ? hats : snare;
      changes[{hit.at, hit.piece}] = there;
    }
    list.add(words, std::move(changes));
  };
  hands(other, lead, fmt::format("open-handed: {} on the hats", name(other)));
  hands(lead, other, fmt::format("crossed: {} on the hats", name(lead)));
  return std::move(list).walk(piece::kHat);
}

// The hands of a rudiment where it is nothing but right and left.
std::optional<std::vector<Limb>> lettersOf(const Rudiment& rudiment) {
  std::vector<Limb> out;
  for (const char c : rudiment.sticking) {
    if (c == ' ' || c == '>') continue;
    if (c != 'R' && c != 'L') return std::nullopt;
    out.push_back(c == 'R' ? Limb::kRightHand : Limb::kLeftHand);
  }
  // Its shortest period: RLRL RLRL is RL.
  for (std::size_t period = 1; period < out.size(); ++period) {
    if (out.size() % period != 0) continue;
    bool same = true;
    for (std::size_t i = period; i < out.size(); ++i) same = same && out[i] == out[i - period];
    if (same) {
      out.resize(period);
      break;
    }
  }
  return out;
}

Walk handsWalk(WalkCall& call) {
  // Strokes of the hands that stand alone, in order.
  std::vector<Hit> strokes;
  const std::vector<Hit> free = call.free();
  for (std::size_t i = 0; i < free.size(); ++i) {
    if (!isHand(call.limbOf(free[i]))) continue;
    const bool shared = std::any_of(free.begin(), free.end(), [&](const Hit& h) {
      return h.at == free[i].at && h.piece != free[i].piece && isHand(call.limbOf(h));
    });
    if (!shared) strokes.push_back(free[i]);
  }
  WalkList list(call);
  const auto play = [&](const std::vector<Limb>& by, std::size_t from, const std::string& words) {
    Changes changes;
    for (std::size_t i = 0; i < strokes.size(); ++i) {
      Hit hit = strokes[i];
      hit.limb = by[(i + from) % by.size()];
      changes[{hit.at, hit.piece}] = hit;
    }
    list.add(words, std::move(changes));
  };
  if (strokes.empty()) {
    call.note("no stroke of a hand stands alone in the span");
    return std::move(list).walk(piece::kSnare);
  }
  for (const Rudiment& rudiment : rudiments()) {
    const auto letters = lettersOf(rudiment);
    // It fits where it comes out even.
    if (!letters || strokes.size() % letters->size() != 0) continue;
    std::string name(rudiment.name);
    std::replace(name.begin(), name.end(), '-', ' ');
    play(*letters, 0, name);
  }
  play({Limb::kRightHand, Limb::kLeftHand}, 0, "hand to hand from the right");
  play({Limb::kLeftHand, Limb::kRightHand}, 0, "hand to hand from the left");
  play({Limb::kRightHand}, 0, "the right hand alone");
  play({Limb::kLeftHand}, 0, "the left hand alone");
  // The same hands, the rhythm displaced under them.
  std::vector<Limb> now;
  now.reserve(strokes.size());
  for (const Hit& hit : strokes) now.push_back(call.limbOf(hit));
  for (std::size_t from = 1; from < std::min<std::size_t>(strokes.size(), 16); ++from) {
    const std::size_t nth = from + 1;
    const char* const ending = nth == 2 ? "nd" : nth == 3 ? "rd" : "th";
    play(now, from, fmt::format("the same hands from their {}{} stroke on", nth, ending));
  }
  return std::move(list).walk(piece::kSnare);
}

}  // namespace

std::vector<WalkKind> handWalks() {
  std::vector<WalkKind> out(2);
  out[0] = {{"orchestrate",
             "Orchestrate",
             "The leading hand on each cymbal or drum, the other on the toms, the bell, crossed or "
             "open-handed",
             inSpan({}),
             {}},
            orchestrateWalk};
  out[1] = {{"hands",
             "Hands",
             "Each rudiment that fits the rhythm, hand to hand, one hand, the same hands displaced",
             inSpan({orAny(pieceParameter("piece", "any", "whose strokes; any: all")),
                     orAny(limbParameter("limb", "any", "played by"))}),
             {}},
            handsWalk};
  return out;
}

}  // namespace uneven
