// SPDX-License-Identifier: GPL-3.0-or-later
// Playing in.
#include "core/rehearse/play_in.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>

#include "core/song/slots.h"
#include "core/take/take.h"

namespace uneven {
namespace {

struct SlotTime {
  Beat at;
  Milliseconds time;  // from the groove's start, as performed
};

// When a piece would be struck on each slot of the groove.
Result<std::vector<SlotTime>> slotTimes(const Song& song, const Groove& groove, PieceId piece,
                                        AtPlace place) {
  Groove grid = groove;
  grid.hits.clear();
  grid.pedal.reset();
  for (const Beat at : slotsOf(groove, Beat(0), groove.length())) {
    grid.hits.push_back(playedHit({.piece = piece}, at));
    grid.hits.back().limb = song.kit->usualLimb(piece);  // whose hand it is, all of it says
  }
  const Result<SharedTake> take =
      Take::ofGroove(withGroove(song, std::move(grid)), groove.id, place);
  if (!take) return take.error();
  const Score& score = (*take)->score();
  const Milliseconds start = score.tempo.msAt(score.blocks.front().start);
  std::vector<SlotTime> out;
  for (const Stroke& stroke : (*take)->strokes()) {
    const Beat at = score.blocks.front().groove->hits[stroke.hit].at;
    out.push_back({at, toMilliseconds(stroke.time) - start});
  }
  return out;
}

// Nudges so that each hit is performed when it was played, whoever's hand it has become.
Groove whenPlayed(const Song& song, Groove groove, const std::map<HitRef, Milliseconds>& times,
                  AtPlace place) {
  const Result<SharedTake> take = Take::ofGroove(withGroove(song, groove), groove.id, place);
  if (!take) return groove;
  const Score& score = (*take)->score();
  const Beat from = score.blocks.front().start;
  const double start = score.tempo.msAt(from).count();
  const double round = score.tempo.msAt(from + groove.length()).count() - start;
  for (const Stroke& s : (*take)->strokes()) {
    Hit& hit = groove.hits[s.hit];
    const auto time = times.find({hit.at, hit.piece});
    if (s.part != 0 || time == times.end()) continue;
    // On whichever side of the loop's end it came.
    const double off =
        std::remainder(time->second.count() - (toMilliseconds(s.time).count() - start), round);
    hit.nudge =
        std::clamp(Milliseconds(roundedTo(hit.nudge.count() + off, 100)), -kShiftMax, kShiftMax);
  }
  return groove;
}

}  // namespace

Hit playedHit(const PlayedStroke& stroke, Beat at) {
  Hit hit;
  hit.at = at;
  hit.piece = stroke.piece;
  hit.stroke = stroke.stroke;
  hit.velocity = stroke.velocity;
  const int velocity = stroke.velocity.value();
  hit.role = velocity >= kPlayedAccent  ? Role::kAccent
             : velocity <= kPlayedGhost ? Role::kGhost
                                        : Role::kNormal;
  if (stroke.piece == piece::kHat) hit.open = stroke.opening;
  return hit;
}

Result<PlayedIn> playIn(const Song& song, const std::string& grooveId,
                        const std::vector<PlayedStroke>& played, AtPlace place) {
  const Groove* groove = song.findGroove(grooveId);
  if (groove == nullptr) {
    return Error{ErrorCode::kUnknown, "there is no groove \"" + grooveId + "\"", {}};
  }
  Song still = song;
  for (Feel& feel : still.feels) feel.drift.reset();
  const Result<Score> score = arrangeGroove(still, grooveId, place);
  if (!score) return score.error();
  const Beat start = score->blocks.front().start;
  const Milliseconds round = score->tempo.msAt(start + groove->length()) - score->tempo.msAt(start);
  std::map<PieceId, std::vector<SlotTime>> slots;
  std::map<HitRef, Milliseconds> cameAt;
  PlayedIn out{*groove, {}};
  for (const PlayedStroke& stroke : played) {
    auto known = slots.find(stroke.piece);
    if (known == slots.end()) {
      Result<std::vector<SlotTime>> times = slotTimes(still, *groove, stroke.piece, place);
      if (!times) return times.error();
      known = slots.emplace(stroke.piece, *std::move(times)).first;
    }
    const SlotTime* nearest = nullptr;
    Milliseconds nudge{std::numeric_limits<double>::infinity()};
    for (const SlotTime& slot : known->second) {
      for (const int turn : {-1, 0, 1}) {
        const Milliseconds off = stroke.at + turn * round - slot.time;
        if (std::abs(off.count()) >= std::abs(nudge.count())) continue;
        nudge = off;
        nearest = &slot;
      }
    }
    if (nearest == nullptr) continue;
    Hit hit = playedHit(stroke, nearest->at);
    hit.nudge = std::clamp(Milliseconds(roundedTo(nudge.count(), 100)), -kShiftMax, kShiftMax);
    out.put.insert({hit.at, hit.piece});
    cameAt[{hit.at, hit.piece}] = stroke.at;
    out.groove = withHit(std::move(out.groove), std::move(hit));
  }
  out.groove = whenPlayed(still, std::move(out.groove), cameAt, place);
  return out;
}

}  // namespace uneven
