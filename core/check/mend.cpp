// SPDX-License-Identifier: GPL-3.0-or-later
// Mendings, applied.
#include "core/check/mend.h"

#include <algorithm>

#include "core/base/number.h"
#include "core/measure/level.h"
#include "core/measure/pivot.h"
#include "core/measure/pull_together.h"

namespace uneven {
namespace {

template <typename Wanted, typename Change>
Groove changed(Groove groove, Wanted wanted, Change change) {
  for (Hit& hit : groove.hits) {
    if (wanted(hit)) change(hit);
  }
  return groove;
}

Groove movedTo(Groove groove, const HitRef& ref, PieceId to) {
  const auto index = indexOf(groove, ref);
  if (!index) return groove;
  Hit moved = groove.hits[*index];
  moved.piece = to;
  moved.stroke = StrokeKind::kNormal;
  moved.open = 0;
  return withHit(withoutHits(std::move(groove), {ref}), std::move(moved));
}

Groove barForward(Groove groove, int late, int period) {
  const Beat length = groove.meter.barLength();
  std::vector<Hit> hits;
  for (const Hit& h : groove.hits) {
    if (h.at < Beat(late) * length) hits.push_back(h);
  }
  for (int bar = late; bar < groove.bars; ++bar) {
    const Beat from = Beat(bar % period) * length;
    for (Hit h : groove.hits) {
      if (h.at < from || h.at >= from + length) continue;
      h.at = h.at - from + Beat(bar) * length;
      hits.push_back(std::move(h));
    }
  }
  groove.hits = std::move(hits);
  return groove;
}

// Calls change(opening, length) for an opening, a hit's or a drawn one, where it still is.
template <typename Change>
Groove opening(Groove groove, const Mend& mend, Change change) {
  if (!mend.drawn) {
    for (const HitRef& ref : mend.hits) {
      if (const auto index = indexOf(groove, ref))
        change(groove.hits[*index].open, groove.hits[*index].openFor);
    }
    return groove;
  }
  if (!groove.pedal) return groove;
  for (PedalMove& move : groove.pedal->moves) {
    if (move.at == *mend.drawn) change(move.open, move.length);
  }
  return groove;
}

}  // namespace

Velocity louderBy(Velocity velocity, double db) {
  return Velocity(static_cast<int>(roundToInt(louder(velocity, db))));
}

std::string_view mendWord(MendKind kind) {
  switch (kind) {
    case MendKind::kLeaveOut:
      return "leave-out";
    case MendKind::kPutIn:
      return "put-in";
    case MendKind::kFreeHands:
      return "free-hands";
    case MendKind::kMoveTo:
      return "move-to";
    case MendKind::kLouder:
      return "louder";
    case MendKind::kVelocity:
      return "velocity";
    case MendKind::kAlternate:
      return "alternate";
    case MendKind::kPlain:
      return "plain";
    case MendKind::kNoNudges:
      return "no-nudges";
    case MendKind::kTogether:
      return "together";
    case MendKind::kDisplacement:
      return "displacement";
    case MendKind::kTempo:
      return "tempo";
    case MendKind::kOpen:
      return "open";
    case MendKind::kOpenFor:
      return "open-for";
    case MendKind::kHeelUp:
      return "heel-up";
    case MendKind::kBarForward:
      return "bar-forward";
    case MendKind::kInTriplets:
      break;
  }
  return "in-triplets";
}

Groove mendedGroove(const Song& song, const Mend& mend) {
  const Groove* found = song.findGroove(mend.groove);
  if (found == nullptr) return {};
  Groove groove = *found;
  const Selection meant(mend.hits.begin(), mend.hits.end());
  const auto ofHits = [&](const Hit& h) { return meant.contains({h.at, h.piece}); };
  const auto isOf = [&](const Hit& h) {
    return std::find(mend.pieces.begin(), mend.pieces.end(), h.piece) != mend.pieces.end();
  };
  switch (mend.kind) {
    case MendKind::kLeaveOut:
      return withoutHits(std::move(groove), meant);
    case MendKind::kPutIn:
      for (const Hit& h : mend.strokes) groove = withHit(std::move(groove), h);
      return groove;
    case MendKind::kFreeHands:
      return changed(std::move(groove), ofHits, [](Hit& h) { h.limb = Limb::kAutomatic; });
    case MendKind::kMoveTo:
      for (const HitRef& ref : mend.hits)
        groove = movedTo(std::move(groove), ref, mend.pieces.front());
      return groove;
    case MendKind::kLouder:
      return changed(
          std::move(groove),
          [&](const Hit& h) {
            return isOf(h) && (mend.role ? h.role == *mend.role : h.role != Role::kGhost);
          },
          [&](Hit& h) { h.velocity = louderBy(h.velocity, mend.value); });
    case MendKind::kVelocity:
      return changed(std::move(groove), ofHits,
                     [&](Hit& h) { h.velocity = Velocity(static_cast<int>(mend.value)); });
    case MendKind::kAlternate: {
      std::map<PieceId, int> count;
      return changed(
          std::move(groove), [&](const Hit& h) { return isOf(h) && count[h.piece]++ % 2 != 0; },
          [&](Hit& h) { h.velocity = louderBy(h.velocity, mend.value); });
    }
    case MendKind::kPlain:
      return changed(std::move(groove), ofHits, [](Hit& h) { h.ornament = Ornament::kNone; });
    case MendKind::kNoNudges:
      return changed(std::move(groove), ofHits, [](Hit& h) { h.nudge = Milliseconds(0); });
    case MendKind::kTogether: {
      const auto pulled = pullTogether(song, mend.groove, {mend.at}, {}, Milliseconds(0));
      return pulled ? pulled->groove : groove;
    }
    case MendKind::kOpen:
      return opening(std::move(groove), mend, [&](double& open, Beat&) { open = mend.value; });
    case MendKind::kOpenFor:
      return opening(std::move(groove), mend, [&](double&, Beat& length) { length = mend.length; });
    case MendKind::kHeelUp:
      if (!groove.pedal) groove.pedal.emplace();
      groove.pedal->technique = PedalTechnique::kHeelUp;
      return groove;
    case MendKind::kBarForward:
      return barForward(std::move(groove), mend.bar, mend.period);
    case MendKind::kDisplacement:
    case MendKind::kTempo:
    case MendKind::kInTriplets:
      break;
  }
  return groove;
}

Song withMend(Song song, const Mend& mend) {
  if (mend.kind == MendKind::kTempo) return withTempoAt(std::move(song), mend.at, Bpm{mend.value});
  if (mend.kind == MendKind::kDisplacement) {
    for (Feel& feel : song.feels) {
      if (feel.id != mend.feel) continue;
      for (const auto& [piece, ms] : mend.displacement) feel.displacement[piece] = ms;
    }
    return song;
  }
  const Groove* now = song.findGroove(mend.groove);
  if (now == nullptr) return song;
  if (mend.kind == MendKind::kInTriplets) {
    return withFeelChanged(song, mend.groove, [now](Feel& feel) {
      feel.swing = writtenAs(*now, feel.swing, Written::kTriplet);
    });
  }
  return withGroove(song, mendedGroove(song, mend));
}

}  // namespace uneven
