// SPDX-License-Identifier: GPL-3.0-or-later
// Tools that move hits to other pieces.
#include <algorithm>

#include "core/tools/call.h"
#include "core/tools/groups.h"

namespace uneven {
namespace {

// Moves the hits of these indices; what already stands there gives way.
int moveTo(ToolCall& call, const std::vector<HitRef>& refs, PieceId target) {
  const Selection selection(refs.begin(), refs.end());
  call.groove = changeHits(call.groove, selection, [&](Hit& hit) {
                  hit.piece = target;
                  if (target != piece::kHat) {
                    hit.open = 0;
                    hit.openFor = Beat(0);
                  }
                }).groove;
  return static_cast<int>(selection.size());
}

void orchestrate(ToolCall& call) {
  const int every = call.whole("every");
  const int first = call.whole("first");
  const PieceId target = *call.piece("onto");
  std::vector<HitRef> refs;
  int seen = 0;
  for (std::size_t i = 0; i < call.groove.hits.size(); ++i) {
    if (!call.concerns(call.groove.hits[i]) || call.groove.hits[i].piece == target) continue;
    ++seen;
    if (seen >= first && (seen - first) % every == 0) refs.push_back(refOf(call.groove, i));
  }
  call.note(countOf(moveTo(call, refs, target), "hit") + " moved");
}

// Hand-to-hand hits over two pieces: the left hand's go to another.
void split(ToolCall& call) {
  const PieceId target = *call.piece("left");
  std::vector<HitRef> refs;
  bool left = false;
  for (std::size_t i = 0; i < call.groove.hits.size(); ++i) {
    Hit& hit = call.groove.hits[i];
    if (!call.concerns(hit)) continue;
    hit.limb = left ? Limb::kLeftHand : Limb::kRightHand;
    if (left) refs.push_back(refOf(call.groove, i));
    left = !left;
  }
  call.note(countOf(moveTo(call, refs, target), "hit") + " moved to the left hand's piece");
}

// The hats' hits between kick and snare go round the toms; kick and backbeat stay.
void fill(ToolCall& call) {
  const PieceId toms[] = {piece::kTomHigh, piece::kTomMid, piece::kTomFloor};
  std::vector<HitRef> refs;
  for (std::size_t i = 0; i < call.groove.hits.size(); ++i) {
    const Hit& hit = call.groove.hits[i];
    if (hit.piece != piece::kHat || !call.inSpan(hit.at)) continue;
    if (call.occupied(hit.at, piece::kKick) || call.occupied(hit.at, piece::kSnare)) continue;
    refs.push_back(refOf(call.groove, i));
  }
  const auto count = static_cast<int>(refs.size());
  for (int third = 0; third < 3; ++third) {
    const auto begin = refs.begin() + count * third / 3;
    const auto end = refs.begin() + count * (third + 1) / 3;
    moveTo(call, {begin, end}, toms[third]);
  }
  call.note(countOf(count, "hit") + " moved to the toms");
}

}  // namespace

std::vector<Tool> orchestrateTools() {
  return {{"orchestrate",
           "Orchestrate",
           "Moves hits to another piece, velocities kept",
           {pieceParameter("onto", "ride", "where to"),
            orAny(pieceParameter("piece", "any", "whose hits; any: all the limb's")),
            orAny(limbParameter("limb", "any", "played by")), spanFrom(), spanTo(),
            wholeParameter("every", "1", "only every nth hit", 1, 64),
            wholeParameter("first", "1", "starting with this one", 1, 64)},
           orchestrate},
          {"split",
           "Split over two pieces",
           "Every second hit goes to the left hand and its piece",
           {pieceParameter("piece", "hat", "whose hits"),
            pieceParameter("left", "snare", "what the left hand strikes"), spanFrom(), spanTo()},
           split},
          {"tom-fill",
           "Fill on the toms",
           "The hats' hits between kick and snare go down the toms; kick and backbeat stay",
           {spanFrom(), spanTo()},
           fill}};
}

}  // namespace uneven
