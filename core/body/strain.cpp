// SPDX-License-Identifier: GPL-3.0-or-later
// What one stroke asks of a limb.
#include "core/body/strain.h"

#include <algorithm>
#include <cmath>

namespace uneven {
namespace {

constexpr double kAtLimit = 4, kRepeat = 1.5, kRebound = 0.5, kUnplayable = 100,
                 kUnplayableSlope = 1'000, kTwoAtOnceCost = 2'000;
constexpr double kPullOutCost = 1, kNearCost = 0.1, kAcrossCost = 0.3, kCrossCost = 1;
constexpr double kLeaveOstinato = 2, kLeaveUsual = 0.25, kWeakOnBeat = 0.2;
const double kReboundRatio = std::pow(10, 6 / 40.0);  // 6 dB
constexpr double kStrainMost = 1'000;
constexpr double kCrossed = 0.2;  // forearms beyond the other hand

double ms(Milliseconds m) {
  return m.count();
}
double sixth(double x) {
  const double cube = x * x * x;
  return cube * cube;
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

namespace {

RunLimits longer(const RunLimits& limits, double times) {
  const auto of = [times](const TimeLimit& l) {
    return TimeLimit{l.comfortable * times, l.playable * times};
  };
  return {of(limits.second), of(limits.run), of(limits.sustained)};
}

}  // namespace

Body::Body(const Kit& kit, const Profile& profile)
    : profile_(profile),
      setup_(profile.setup.value_or(kit.setup)),
      strongHand_(profile.leadHand.value_or(profile.hand)),
      weakHand_(longer(profile.hand, profile.weakHand)),
      strongFoot_(profile.foot),
      weakFoot_(longer(profile.foot, profile.weakFoot)) {
  const double mirror = setup_.kit == Side::kLeft ? -1 : 1;
  std::vector<std::optional<PlanPlace>> plan;
  for (const Piece& piece : kit.pieces) {
    plan.push_back(placeOf(profile, piece));
    places_.push_back({plan.back().has_value(), plan.back() ? mirror * plan.back()->x : 0});
    const std::string& kind = piece.kind();
    drum_.push_back(kind == "snare" || kind.rfind("tom", 0) == 0 ? 1 : 0);
  }
  for (std::size_t from = 0; from < plan.size(); ++from) {
    for (std::size_t to = 0; to < plan.size(); ++to) {
      const bool near =
          !plan[from] || !plan[to] ||
          std::hypot(plan[from]->x - plan[to]->x, plan[from]->y - plan[to]->y) <= profile.nearby;
      ways_.push_back(from == to ? Way{}
                      : near     ? Way{ms(profile.neighbour), kNearCost}
                                 : Way{ms(profile.across), kAcrossCost});
    }
  }
  double longest = std::max(ms(profile.runGap), ms(profile.pullOut.comfortable) * profile.weakHand);
  for (const RunLimits& limits :
       {strongHand_, weakHand_, strongFoot_, weakFoot_, profile.hatFoot}) {
    for (const TimeLimit& limit : {limits.second, limits.run, limits.sustained}) {
      longest = std::max(longest, ms(limit.comfortable));
    }
  }
  reach_ = longest + std::max({ms(profile.neighbour), ms(profile.across), ms(profile.crossed)});
}

Body::Meeting Body::meet(const BodyStroke& stroke, Limb limb, const BodyStroke* same,
                         const BodyStroke* other, double pace) const {
  Meeting m;
  m.hand = isHand(limb);
  const bool onHats = stroke.piece == piece::kHatFoot || stroke.piece == piece::kHat;
  const Limb strongFoot = setup_.kit == Side::kLeft ? Limb::kLeftFoot : Limb::kRightFoot;
  if (m.hand) {
    m.limits = limb == strong() ? &strongHand_ : &weakHand_;
  } else {
    m.limits = onHats ? &profile_.hatFoot : limb == strongFoot ? &strongFoot_ : &weakFoot_;
  }
  const double now = stroke.at(pace);
  if (other != nullptr && now - other->at(pace) > reach_) other = nullptr;
  m.gap = same == nullptr ? reach_ + 1 : now - same->at(pace) - same->bounce / pace;
  m.within = m.gap <= reach_;
  if (m.within) {
    m.goesOn = m.gap <= ms(profile_.runGap);
    if (m.hand) {
      m.twoAtOnce = same->place == stroke.place && !same->grace && !stroke.grace;
      m.pullOut = same->role == Role::kGhost && stroke.role == Role::kAccent;
      m.rebound = same->velocity.value() >= kReboundRatio * stroke.velocity.value();
      m.alone = !stroke.ostinato && (other == nullptr || other->at(pace) < same->at(pace));
      if (same->piece != stroke.piece) {
        const Place& to = places_[stroke.piece.value];
        Way way = ways_[same->piece.value * places_.size() + stroke.piece.value];
        if (other != nullptr && other->piece != stroke.piece && to.known &&
            places_[same->piece.value].known && places_[other->piece.value].known) {
          const double beyond = to.x - places_[other->piece.value].x;
          if (limb == Limb::kRightHand ? beyond < -kCrossed : beyond > kCrossed) {
            way = {ms(profile_.crossed), kCrossCost};
          }
        }
        m.way = way.ms;
        m.cost += way.cost;
      }
    }
  }
  if (stroke.bounce > 0) {
    m.bounce = stroke.bounce / pace;
    m.bounceStrain = ms(m.limits->second.playable) / m.bounce;
    m.bounceEffort = ms(m.limits->second.comfortable) / m.bounce;
  }
  if (!m.hand) return m;
  if (stroke.usual != Limb::kAutomatic && limb != stroke.usual) {
    m.cost += stroke.ostinato ? kLeaveOstinato : kLeaveUsual;
  }
  if (limb != strong() && stroke.onBeat && drum_[stroke.piece.value] != 0) m.cost += kWeakOnBeat;
  return m;
}

Body::Asked Body::price(const Meeting& m, int run) const {
  Asked out;
  out.cost = m.cost;
  Strain& s = out.strain;
  s.run = run;
  if (m.within) {
    s.gap = m.gap;
    const TimeLimit& base = m.limits->at(std::max(run, 2));
    double comfortable = ms(base.comfortable), playable = ms(base.playable);
    s.reason = run >= RunLimits::kSustainedFrom ? StrainReason::kSustained
               : run >= RunLimits::kRunFrom     ? StrainReason::kRun
                                                : StrainReason::kDouble;
    if (m.pullOut) {
      const double weak = m.limits == &strongHand_ ? 1 : profile_.weakHand;
      const double easy = ms(profile_.pullOut.comfortable) * weak;
      if (m.gap < easy) out.cost += kPullOutCost;
      if (easy > comfortable) s.reason = StrainReason::kPullOut;
      comfortable = std::max(comfortable, easy);
      playable = std::max(playable, ms(profile_.pullOut.playable) * weak);
    }
    if (m.way > 0) {
      const bool byWay = (m.gap < comfortable + m.way && m.gap >= comfortable) ||
                         (m.gap < playable + m.way && m.gap >= playable);
      if (byWay) s.reason = StrainReason::kTravel;
      comfortable += m.way;
      playable += m.way;
    }
    if (m.twoAtOnce) {
      s.strain = s.effort = kStrainMost;
      s.reason = StrainReason::kTwoAtOnce;
    } else {
      const double time = std::max(m.gap, 1e-3);
      s.strain = std::min(kStrainMost, playable / time);
      s.effort = std::min(kStrainMost, comfortable / time);
    }
  }
  if (m.bounceStrain > s.strain) {
    s.strain = m.bounceStrain;
    s.effort = std::max(s.effort, m.bounceEffort);
    s.reason = StrainReason::kBounce;
    s.gap = m.bounce;
  }
  if (!m.hand) return out;
  if (s.reason == StrainReason::kTwoAtOnce) {
    out.cost += kTwoAtOnceCost;
  } else if (s.strain > 1) {
    out.cost += kAtLimit + kUnplayable + kUnplayableSlope * (s.strain - 1);
  } else {
    const double repeat = m.alone && m.within ? kRepeat * s.effort * s.effort : 0;
    const bool rebound = m.rebound && m.within && run == 2;
    out.cost += (kAtLimit * sixth(s.strain) + repeat) * (rebound ? kRebound : 1);
  }
  return out;
}

Body::Asked Body::ask(const BodyStroke& stroke, Limb limb, const BodyStroke* same, int sameRun,
                      const BodyStroke* other, double pace) const {
  const Meeting m = meet(stroke, limb, same, other, pace);
  Asked out = price(m, m.goesOn ? std::min(sameRun + 1, RunLimits::kSustainedFrom) : 1);
  out.strain.limb = limb;
  return out;
}

}  // namespace uneven
