// SPDX-License-Identifier: GPL-3.0-or-later
// The pedal's path and its sounds.
#include "core/perform/hat_pedal.h"

#include <algorithm>
#include <cmath>
#include <optional>
#include <utility>

#include "core/base/nearly_sorted.h"

namespace uneven {
namespace {

constexpr double kSpeedUnit = 35;  // ms: a whole way in this time is loudest
constexpr double kLoudest = 90;

double between(const PedalVertex& a, const PedalVertex& b, Moment time) {
  if (b.time == a.time) return b.opening;
  const double along =
      static_cast<double>((time - a.time).count()) / static_cast<double>((b.time - a.time).count());
  return std::lerp(a.opening, b.opening, along);
}

// The line's value where `after` is its first vertex behind the moment.
double valueBefore(const std::vector<PedalVertex>& path, std::size_t after, Moment time) {
  if (after == 0) return 0;
  if (after == path.size()) return path.back().opening;
  return between(path[after - 1], path[after], time);
}

double valueAt(const std::vector<PedalVertex>& path, Moment time) {
  const auto after = std::upper_bound(path.begin(), path.end(), time,
                                      [](Moment t, const PedalVertex& v) { return t < v.time; });
  return valueBefore(path, static_cast<std::size_t>(after - path.begin()), time);
}

double valueAt(const std::vector<PedalVertex>& path, Moment time, std::size_t& near) {
  near = std::min(near, path.size());
  while (near < path.size() && path[near].time <= time) ++near;
  while (near > 0 && path[near - 1].time > time) --near;
  return valueBefore(path, near, time);
}

std::uint8_t chickVelocity(double lost, Moment took) {
  const double ms = toMilliseconds(took).count();
  if (ms <= 0 || lost <= 0 || 1000 * lost / ms < kChickSpeed) return 0;
  const auto velocity = roundToInt(kLoudest * std::sqrt(lost / ms * kSpeedUnit));
  return static_cast<std::uint8_t>(std::clamp<long>(velocity, Velocity::kMin, Velocity::kMax));
}

// The line of the moves that hits, written foot strokes and drawn moves make; 0 elsewhere.
class MoveLine {
 public:
  const std::vector<PedalVertex>& path() const { return path_; }
  double goal() const { return path_.empty() ? 0 : path_.back().opening; }

  // Reaches `opening` at `time`, setting out early enough; what was there before is passed where
  // the way is longer than the room.
  void open(Moment time, double opening, Milliseconds travel) {
    cut(time);
    const double now = goal();
    if (opening <= now) return;
    const auto reach = [&](Moment t) {  // how far the foot must be at t to arrive in time
      return opening - toMilliseconds(time - t) / travel;
    };
    while (path_.size() > 1 && path_.back().opening < reach(path_.back().time)) {
      const PedalVertex over = path_.back();
      path_.pop_back();
      const PedalVertex before = path_.back();
      if (before.opening < reach(before.time)) continue;  // further back
      const double gapBefore = before.opening - reach(before.time);
      const double gapOver = reach(over.time) - over.opening;
      const double along = gapBefore / (gapBefore + gapOver);
      const auto span = static_cast<double>((over.time - before.time).count());
      const Moment at = before.time + Moment(roundToInt(along * span));
      if (at > before.time) path_.push_back({at, between(before, over, at)});
      break;
    }
    if (path_.size() == 1 && path_.back().opening < reach(path_.back().time)) path_.clear();
    const Moment start = time - toMoment(travel * (opening - goal()));
    if (path_.empty() || path_.back().time < start) path_.push_back({start, goal()});
    path_.push_back({time, opening});
  }

  // Comes down to `opening` at `time`, or as soon as the foot can. Gives where the closing sets
  // out, and when it arrives; nothing when the hats are no further open.
  struct Closing {
    PedalVertex from;
    Moment arrives;
  };
  std::optional<Closing> close(Moment time, Milliseconds travel, double opening = 0) {
    const double now = goal();
    if (now <= opening) return std::nullopt;
    const Moment way = toMoment(travel * (now - opening));
    const Moment start = std::max(path_.back().time, time - way);
    if (path_.back().time < start) path_.push_back({start, now});
    path_.push_back({start + way, opening});
    return Closing{{start, now}, start + way};
  }

 private:
  // Takes off what lies behind `time`: something else begins there.
  void cut(Moment time) {
    if (path_.empty() || path_.back().time <= time) return;
    const double now = valueAt(path_, time);
    while (!path_.empty() && path_.back().time >= time) path_.pop_back();
    path_.push_back({time, now});
  }

  std::vector<PedalVertex> path_;
};

class Builder {
 public:
  Builder(const std::vector<HatEvent>& events, const std::vector<PumpPress>& presses)
      : events_(events), presses_(presses) {}

  HatPedal build() {
    for (const HatEvent& event : events_) take(event);
    pumpPath();
    mergePump();
    const auto earlier = [](const FootSound& a, const FootSound& b) { return a.time < b.time; };
    sortByTiles(out_.sounds.begin(), out_.sounds.end(), earlier);
    const auto own = static_cast<std::ptrdiff_t>(out_.sounds.size());
    addPumpSounds();
    std::inplace_merge(out_.sounds.begin(), out_.sounds.begin() + own, out_.sounds.end(), earlier);
    maskSounds();
    return std::move(out_);
  }

 private:
  void take(const HatEvent& event) {
    switch (event.kind) {
      case HatEvent::Kind::kShut:
        if (opener_ && *opener_ == event.opener) close(event, false);
        return;
      case HatEvent::Kind::kStroke:
      case HatEvent::Kind::kMove:
        if (event.open > 0) {
          // From wide to less: down to it, not through shut.
          if (!line_.close(event.time, event.travel, event.open)) {
            line_.open(event.time, event.open, event.travel);
            line_.close(event.time, event.travel, event.open);  // where it was on its way down
          }
          opener_ = event.opener;
        } else {
          close(event, false);
        }
        return;
      case HatEvent::Kind::kFoot:
      case HatEvent::Kind::kSplash:
        foot(event);
        return;
    }
  }

  void close(const HatEvent& event, bool written) {
    opener_.reset();
    const auto closing = line_.close(event.time, event.travel);
    if (!closing) return;
    addSound(event, closing->arrives, written,
             chickVelocity(closing->from.opening, closing->arrives - closing->from.time));
  }

  void foot(const HatEvent& event) {
    if (line_.goal() <= 0) {
      const Moment way = toMoment(event.travel * kChickLift);
      line_.open(event.time - way, kChickLift, event.travel);
    }
    close(event, true);
    if (out_.sounds.empty() || event.kind != HatEvent::Kind::kSplash) return;
    out_.sounds.back().sound = FootSoundKind::kSplash;
    line_.open(event.time + toMoment(event.travel * kSplashOpening), kSplashOpening, event.travel);
  }

  void addSound(const HatEvent& event, Moment time, bool written, std::uint8_t velocity) {
    FootSound sound;
    sound.time = time;
    sound.grid = event.grid;
    sound.at = event.at;
    sound.bar = event.bar;
    sound.block = event.block;
    sound.velocity = velocity;
    sound.written = written;
    out_.sounds.push_back(sound);
  }

  static double liftOf(const PumpPress& press, Moment half) {
    if (press.travel.count() <= 0) return press.lift;
    return std::min(press.lift, toMilliseconds(half) / press.travel);
  }

  void pumpPath() {
    pump_.reserve(2 * presses_.size());
    for (std::size_t i = 0; i < presses_.size(); ++i) {
      const PumpPress& press = presses_[i];
      highest_ = std::max(highest_, press.lift);
      pump_.push_back({press.time, 0});
      if (press.last || i + 1 == presses_.size()) continue;
      const Moment half = (presses_[i + 1].time - press.time) / 2;
      pump_.push_back({press.time + half, liftOf(press, half)});
    }
  }

  // From a pump that lifts further than the move opens, the foot has a longer way: down.
  Moment setOut(const PedalVertex& from, const PedalVertex& to, Moment earliest) {
    if (valueAt(pump_, from.time, near_) <= to.opening || to.opening <= 0) return from.time;
    const auto travel = static_cast<double>((to.time - from.time).count()) / to.opening;
    const Moment start = to.time - Moment(roundToInt(travel * highest_));
    return std::max({start, earliest, out_.path.empty() ? start : out_.path.back().time});
  }

  // The pump's line, but the moves' own from where each sets out to the first press behind its end.
  void mergePump() {
    const auto& moves = line_.path();
    out_.path.reserve(pump_.size() + moves.size());
    auto next = pump_.begin();
    Moment held = Moment::min();  // the foot stays down until here
    std::size_t i = 0;
    while (i < moves.size()) {
      std::size_t end = i + 1;
      while (end < moves.size() && moves[end].opening > 0) ++end;
      Moment start = moves[i].time;
      if (start >= held && i + 1 < moves.size()) start = setOut(moves[i], moves[i + 1], held);
      for (; next != pump_.end() && next->time < start; ++next) out_.path.push_back(*next);
      if (out_.path.empty() || out_.path.back().time < start) {
        out_.path.push_back({start, start < held ? 0 : valueAt(pump_, start, near_)});
      }
      for (std::size_t k = i + 1; k <= end && k < moves.size(); ++k) out_.path.push_back(moves[k]);
      const Moment until = end < moves.size() ? moves[end].time : Moment::max();
      for (; next != pump_.end() && (next->time < until || next->opening > 0); ++next) {
        if (next->opening <= 0) ++out_.pressesOverridden;
      }
      held = next == pump_.end() ? Moment::max() : next->time;
      overridden_.emplace_back(start, held);
      // One move may set out at the very moment the last one ends.
      i = end + 1 < moves.size() && moves[end + 1].opening > 0 ? end : end + 1;
    }
    out_.path.insert(out_.path.end(), next, pump_.end());
  }

  void addPumpSounds() {
    auto over = overridden_.begin();
    for (std::size_t i = 1; i < presses_.size(); ++i) {
      const PumpPress& press = presses_[i];
      const PumpPress& before = presses_[i - 1];
      if (press.imagined || before.last) continue;
      while (over != overridden_.end() && over->second <= press.time) ++over;
      if (over != overridden_.end() && press.time > over->first) continue;
      FootSound sound;
      sound.time = press.time;
      sound.grid = press.grid;
      sound.at = press.at;
      sound.bar = press.bar;
      sound.block = press.block;
      sound.velocity = chickVelocity(liftOf(before, (press.time - before.time) / 2),
                                     (press.time - before.time) / 2);
      out_.sounds.push_back(sound);
    }
  }

  void maskSounds() {
    const Moment mask = toMoment(kShutMask);
    std::vector<Moment> hand;
    std::vector<Moment> foot;
    for (const HatEvent& e : events_) {
      if (e.kind == HatEvent::Kind::kStroke) hand.push_back(e.time);
      if (e.kind == HatEvent::Kind::kFoot || e.kind == HatEvent::Kind::kSplash) {
        foot.push_back(e.time);
      }
    }
    const auto near = [mask](const std::vector<Moment>& times, std::size_t& next, Moment time) {
      while (next < times.size() && times[next] < time - mask) ++next;
      return next < times.size() && times[next] <= time + mask;
    };
    std::size_t nextHand = 0;
    std::size_t nextFoot = 0;
    for (FootSound& sound : out_.sounds) {
      const bool byFoot = near(foot, nextFoot, sound.time);
      sound.masked = near(hand, nextHand, sound.time) || (byFoot && !sound.written);
    }
  }

  const std::vector<HatEvent>& events_;
  const std::vector<PumpPress>& presses_;
  MoveLine line_;
  std::optional<std::uint32_t> opener_;
  std::vector<PedalVertex> pump_;
  std::size_t near_ = 0;  // of pump_, where it was asked for last
  double highest_ = 0;    // that the pump lifts anywhere
  std::vector<std::pair<Moment, Moment>> overridden_;
  HatPedal out_;
};

}  // namespace

double HatPedal::openingAt(Moment time) const {
  return valueAt(path, time);
}

double HatPedal::openingAt(Moment time, std::size_t& near) const {
  return valueAt(path, time, near);
}

bool pumpPresses(const Pump& pump, std::size_t i) {
  if (!pump.cell.empty()) return pump.cell[i % pump.cell.size()] == 'x';
  return pump.phase == PumpPhase::kOn || i % 2 == 1;
}

Milliseconds travelOf(const std::optional<Pedal>& pedal) {
  if (pedal && pedal->travel > Milliseconds(0)) return pedal->travel;
  const bool heelUp = pedal && pedal->technique == PedalTechnique::kHeelUp;
  return heelUp ? kTravelHeelUp : kTravelHeelDown;
}

HatPedal hatPedal(const std::vector<HatEvent>& events, const std::vector<PumpPress>& presses) {
  return Builder(events, presses).build();
}

}  // namespace uneven
