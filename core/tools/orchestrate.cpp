// SPDX-License-Identifier: GPL-3.0-or-later
// Tools that move hits to other pieces.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/measure/level.h"
#include "core/tools/call.h"
#include "core/tools/groups.h"

namespace uneven {
namespace {

constexpr const char* kLastTwo = "last-two";

// Moves these hits, which stand in the groove's order, each to a piece of its own; what already
// stands there gives way.
int moveTo(ToolCall& call, const std::vector<HitRef>& refs,
           const std::function<PieceId(std::size_t)>& targetOf) {
  const Selection selection(refs.begin(), refs.end());
  std::size_t index = 0;
  call.groove = changeHits(call.groove, selection, [&](Hit& hit) {
                  hit.piece = targetOf(index++);
                  if (hit.piece != piece::kHat) {
                    hit.open = 0;
                    hit.openFor = Beat(0);
                  }
                }).groove;
  return static_cast<int>(selection.size());
}

int moveTo(ToolCall& call, const std::vector<HitRef>& refs, PieceId target) {
  return moveTo(call, refs, [target](std::size_t) { return target; });
}

// All by the same ratio, so that their differences in dB stay and their median is that of what the
// target already has.
void fitLevels(ToolCall& call, const std::vector<HitRef>& refs, PieceId target) {
  std::vector<int> there;
  for (const Hit& hit : call.groove.hits) {
    if (hit.piece == target) there.push_back(hit.velocity.value());
  }
  if (there.empty() || refs.empty()) {
    return call.note("velocities kept: the piece has no hits to fit them to");
  }
  std::vector<int> moved;
  moved.reserve(refs.size());
  for (const HitRef& ref : refs) {
    moved.push_back(call.groove.hits[*indexOf(call.groove, ref)].velocity.value());
  }
  const double ratio = medianOf(there) / medianOf(moved);
  for (const HitRef& ref : refs) {
    Hit& hit = call.groove.hits[*indexOf(call.groove, ref)];
    hit.velocity = Velocity(static_cast<int>(roundToInt(hit.velocity.value() * ratio)));
  }
  call.note(fmt::format("fitted by {:+.1f} dB", 40 * std::log10(ratio)));
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
  if (call.flag("fit")) fitLevels(call, refs, target);
  call.note(countOf(moveTo(call, refs, target), "hit") + " moved");
}

// Hand-to-hand hits over two pieces: the left hand's go to another.
void splitHits(ToolCall& call) {
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
void fillToms(ToolCall& call) {
  const PieceId toms[] = {piece::kTomHigh, piece::kTomMid, piece::kTomFloor};
  const Beat twoBeats = std::min(Beat(2), call.groove.length());
  const Beat from = call.text("from") == kLastTwo ? call.groove.length() - twoBeats : call.from();
  std::vector<HitRef> refs;
  for (std::size_t i = 0; i < call.groove.hits.size(); ++i) {
    Hit& hit = call.groove.hits[i];
    if (hit.piece != piece::kHat || hit.at < from || hit.at >= call.to()) continue;
    if (call.occupied(hit.at, piece::kKick) || call.occupied(hit.at, piece::kSnare)) continue;
    // Whoever kept time, the hands take turns on drums.
    hit.limb = Limb::kAutomatic;
    refs.push_back(refOf(call.groove, i));
  }
  // A third of them for each tom.
  const std::size_t all = refs.size();
  const int count = moveTo(call, refs, [&](std::size_t i) {
    std::size_t third = 0;
    while (i >= all * (third + 1) / 3) ++third;
    return toms[third];
  });
  call.note(countOf(count, "hit") + " moved to the toms");
}

// After an opening, the stroke that shuts the hats is the same sound by hand or by foot.
void handAndFoot(ToolCall& call) {
  const bool toFoot = call.text("to_limb") == "foot";
  std::vector<HitRef> refs;
  bool open = false;
  for (std::size_t i = 0; i < call.groove.hits.size(); ++i) {
    Hit& hit = call.groove.hits[i];
    const bool hand = hit.piece == piece::kHat;
    if (!hand && hit.piece != piece::kHatFoot) continue;
    const bool wanted = toFoot ? hand && hit.open == 0 : !hand;
    if (open && wanted && call.inSpan(hit.at)) {
      hit.limb = Limb::kAutomatic;
      refs.push_back(refOf(call.groove, i));
    }
    open = hand && hit.open > 0;
  }
  // The opening lasts until that stroke, whoever makes it.
  for (Hit& hit : call.groove.hits) {
    if (hit.piece != piece::kHat || hit.open <= 0) continue;
    const bool shutByOne = std::any_of(refs.begin(), refs.end(), [&](const HitRef& ref) {
      return ref.at > hit.at && hit.at + hit.openFor >= ref.at;
    });
    if (shutByOne) hit.openFor = Beat(0);
  }
  const Selection selection(refs.begin(), refs.end());
  call.groove = changeHits(call.groove, selection, [&](Hit& hit) {
                  hit.piece = toFoot ? piece::kHatFoot : piece::kHat;
                }).groove;
  call.note(countOf(static_cast<int>(refs.size()), "hit") +
            (toFoot ? " given to the foot" : " given to the hand"));
}

}  // namespace

std::vector<Tool> orchestrateTools() {
  return {
      {"orchestrate",
       "Orchestrate",
       "Moves hits to another piece, velocities kept or fitted",
       {pieceParameter("onto", "ride", "where to"),
        orAny(pieceParameter("piece", "any", "whose hits; any: all the limb's")),
        orAny(limbParameter("limb", "any", "played by")), spanFrom(), spanTo(),
        wholeParameter("every", "1", "only every nth hit", 1, 64),
        wholeParameter("first", "1", "starting with this one", 1, 64),
        flagParameter("fit", "no", "yes: levels as of what the piece has already")},
       orchestrate},
      {"split",
       "Split over two pieces",
       "Every second hit goes to the left hand and its piece",
       {pieceParameter("piece", "hat", "whose hits"),
        pieceParameter("left", "snare", "what the left hand strikes"), spanFrom(), spanTo()},
       splitHits},
      {"hand-and-foot",
       "Hand and foot on the hats",
       "The stroke that shuts the hats after an opening, by foot in place of the hand or back",
       {choiceParameter("to_limb", "who makes the stroke", {"foot", "hand"}), spanFrom(), spanTo()},
       handAndFoot},
      {"tom-fill",
       "Fill on the toms",
       "The hats' hits between kick and snare go down the toms; kick and backbeat stay",
       {lengthParameter("from", kLastTwo,
                        "start of the span, quarter notes from the groove's start; last-two: two "
                        "before its end",
                        0, 16'384),
        spanTo()},
       fillToms}};
}

}  // namespace uneven
