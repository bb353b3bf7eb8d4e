// SPDX-License-Identifier: GPL-3.0-or-later
// What one stroke asks of a limb.
#include "core/body/strain.h"

#include <algorithm>
#include <cmath>

#include "core/base/number.h"
#include "core/body/weights.h"

namespace uneven {
namespace {

constexpr double kStrainMost = 1'000;

RunLimits longer(const RunLimits& limits, double times) {
  const auto of = [times](const TimeLimit& l) {
    return TimeLimit{l.comfortable * times, l.playable * times};
  };
  return {of(limits.second), of(limits.run), of(limits.sustained)};
}

}  // namespace

std::string_view reasonText(StrainReason reason) {
  switch (reason) {
    case StrainReason::kNone:
      break;
    case StrainReason::kDouble:
      return "two in a row";
    case StrainReason::kRun:
      return "three or more in a row";
    case StrainReason::kSustained:
      return "eight or more in a row";
    case StrainReason::kPullOut:
      return "a ghost straight into an accent";
    case StrainReason::kTravel:
      return "the way from piece to piece";
    case StrainReason::kBounce:
      return "the two of a diddle";
    case StrainReason::kTwoAtOnce:
      return "two pieces at once";
  }
  return "nothing";
}

std::string_view stateWord(const Strain& strain) {
  return strain.comfortable() ? "comfortable" : strain.playable() ? "hard" : "not-playable";
}

TimeLimit limitAt(const RunLimits& limits, double tired) {
  const auto between = [](const TimeLimit& a, const TimeLimit& b, double share) {
    return TimeLimit{a.comfortable + (b.comfortable - a.comfortable) * share,
                     a.playable + (b.playable - a.playable) * share};
  };
  constexpr double kRun = RunLimits::kRunFrom, kSustained = RunLimits::kSustainedFrom;
  if (tired >= kSustained) return limits.sustained;
  if (tired >= kSustained - 1)
    return between(limits.run, limits.sustained, tired - (kSustained - 1));
  if (tired >= kRun) return limits.run;
  if (tired >= kRun - 1) return between(limits.second, limits.run, tired - (kRun - 1));
  return between({}, limits.second, std::max(0.0, tired - 1));
}

void LimbPast::push(Milliseconds gap) {
  std::shift_right(gaps.begin(), gaps.end(), 1);
  gaps[0] = gap;
}

double tiredAfter(Milliseconds gap, const LimbPast& before, const RunLimits& limits,
                  Milliseconds runGap) {
  if (before.stroke == nullptr) return 1;
  // How far each gap, from this one back, lets the strokes before it count.
  double tired = 1, counts = 1;
  Milliseconds now = gap;
  const Milliseconds easy = limits.sustained.comfortable;
  const Milliseconds fresh = std::max(runGap, weight::kFresh * easy);
  for (std::size_t k = 0; k <= before.gaps.size(); ++k) {
    const double longer = now / gap;
    const double reach = longer <= 1   ? 1
                         : longer <= 2 ? 1 - (1 - weight::kSingleToDouble) * (longer - 1)
                                       : weight::kSingleToDouble * std::max(0.0, 3 - longer);
    const Milliseconds next = k < before.gaps.size() ? before.gaps[k] : Milliseconds(0);
    const double anew = next > Milliseconds(0) ? std::clamp(2 - now / next, 0.0, 1.0) : 1;
    counts *= reach * anew * std::clamp((fresh - now) / (fresh - easy), 0.0, 1.0);
    tired += counts;
    if (counts <= 0 || next <= Milliseconds(0)) break;
    now = next;
  }
  return std::min(tired, static_cast<double>(RunLimits::kSustainedFrom));
}

Body::Body(const Kit& kit, const Profile& profile)
    : profile_(profile),
      setup_(profile.setup.value_or(kit.setup)),
      strongHand_(profile.leadHand.value_or(profile.hand)),
      weakHand_(longer(profile.hand, profile.weakHand)),
      strongFoot_(profile.foot),
      weakFoot_(longer(profile.foot, profile.weakFoot)) {
  const double mirror = setup_.kit == Side::kLeft ? -1 : 1;
  std::vector<std::optional<PlanPlace>> plan;
  Kit seen = kit;
  seen.setup = setup_;
  for (std::size_t i = 0; i < kit.pieces.size(); ++i) {
    const Piece& piece = kit.pieces[i];
    const PieceId id{static_cast<std::uint8_t>(i)};
    plan.push_back(placeOf(profile, piece));
    Known known;
    known.keepsTime = uneven::keepsTime(kit, id);
    known.snare = piece.kind() == "snare";
    if (plan.back()) known.x = mirror * plan.back()->x;
    const Limb usual = seen.usualLimb(id);
    known.timeHand = setup_.openHanded && isHand(usual) ? usual : lead();
    known.usual = known.keepsTime || !isHand(usual) ? lead() : usual;
    pieces_.push_back(known);
  }
  for (std::size_t from = 0; from < plan.size(); ++from) {
    for (std::size_t to = 0; to < plan.size(); ++to) {
      const bool near =
          !plan[from] || !plan[to] ||
          std::hypot(plan[from]->x - plan[to]->x, plan[from]->y - plan[to]->y) <= profile.nearby;
      ways_.push_back(from == to ? Milliseconds(0) : near ? profile.neighbour : profile.across);
    }
  }
}

const RunLimits& Body::limitsOf(Limb limb, PieceId piece) const {
  if (isHand(limb)) return limb == lead() ? strongHand_ : weakHand_;
  if (piece == piece::kHatFoot || piece == piece::kHat) return profile_.hatFoot;
  const Limb strong = setup_.kit == Side::kLeft ? Limb::kLeftFoot : Limb::kRightFoot;
  return limb == strong ? strongFoot_ : weakFoot_;
}

Strain Body::next(const BodyStroke& stroke, Limb limb, LimbPast& same, const LimbPast& other,
                  double pace) const {
  Strain out;
  out.limb = limb;
  const Milliseconds now = stroke.at(pace);
  const Milliseconds over = now + stroke.heldFor(pace);
  const BodyStroke* before = same.stroke;
  // Of one ornament: one motion.
  if (before != nullptr && before->place == stroke.place && isHand(limb)) {
    if (before->hit == stroke.hit) {
      same.stroke = &stroke;
      same.end = std::max(same.end, over);
      out.run = static_cast<int>(roundToInt(same.tired));
      return out;
    }
    out.strain = out.effort = kStrainMost;
    out.reason = StrainReason::kTwoAtOnce;
    same.stroke = &stroke;
    same.end = std::max(same.end, over);
    return out;
  }
  const RunLimits& limits = limitsOf(limb, stroke.piece);
  const Milliseconds gap = std::max(now - same.end, Milliseconds(1e-3));
  double tired = tiredAfter(gap, same, limits, profile_.runGap);
  if (before != nullptr) {
    out.gap = now - same.end;
    const TimeLimit base = limitAt(limits, tired);
    Milliseconds comfortable = base.comfortable, playable = base.playable;
    out.reason = tired > RunLimits::kSustainedFrom - 0.5 ? StrainReason::kSustained
                 : tired > RunLimits::kRunFrom - 0.5     ? StrainReason::kRun
                                                         : StrainReason::kDouble;
    if (isHand(limb) && before->role == Role::kGhost && stroke.role == Role::kAccent) {
      const double weak = limb == lead() ? 1 : profile_.weakHand;
      const Milliseconds easy = profile_.pullOut.comfortable * weak;
      if (easy > comfortable) out.reason = StrainReason::kPullOut;
      comfortable = std::max(comfortable, easy);
      playable = std::max(playable, profile_.pullOut.playable * weak);
    }
    if (isHand(limb) && before->piece != stroke.piece) {
      Milliseconds way = ways_[before->piece.value * pieces_.size() + stroke.piece.value];
      const auto to = across(stroke.piece);
      const BodyStroke* there = other.stroke;
      if (there != nullptr && there->place != stroke.place && there->piece != stroke.piece && to &&
          across(before->piece) && across(there->piece)) {
        // A hand that is crossed over already is not crossed over anew.
        const double side = limb == Limb::kRightHand ? -1 : 1;
        const double beyond = side * (*to - *across(there->piece));
        const double was = side * (*across(before->piece) - *across(there->piece));
        const bool near = now - other.end <= 2 * profile_.runGap;
        if (near && beyond > weight::kCrossed && was <= weight::kCrossed) way = profile_.crossed;
      }
      const bool byWay = (gap < comfortable + way && gap >= comfortable) ||
                         (gap < playable + way && gap >= playable);
      if (byWay) out.reason = StrainReason::kTravel;
      comfortable += way;
      playable += way;
    }
    out.strain = std::min(kStrainMost, playable / gap);
    out.effort = std::min(kStrainMost, comfortable / gap);
  }
  LimbPast after = same;
  if (before != nullptr) after.push(gap);
  after.stroke = &stroke;
  after.end = now;
  if (stroke.bounce > Milliseconds(0)) {
    const Milliseconds bounce = stroke.bounceFixed ? stroke.bounce : stroke.bounce / pace;
    tired = tiredAfter(bounce, after, limits, profile_.runGap);
    after.push(bounce);
    after.end = now + bounce;
    const TimeLimit limit = limitAt(limits, tired);
    const double strain = std::min(kStrainMost, limit.playable / bounce);
    out.effort = std::max(out.effort, std::min(kStrainMost, limit.comfortable / bounce));
    if (strain > out.strain) {
      out.strain = strain;
      out.reason = StrainReason::kBounce;
      out.gap = bounce;
    }
  }
  after.end = std::max(after.end, over);
  after.tired = tired;
  same = after;
  out.run = static_cast<int>(roundToInt(tired));
  return out;
}

}  // namespace uneven
