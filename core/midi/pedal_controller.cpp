// SPDX-License-Identifier: GPL-3.0-or-later
// Thinning the pedal's path.
#include "core/midi/pedal_controller.h"

#include <algorithm>
#include <cmath>

namespace uneven {
namespace {

struct Corner {
  Moment time;
  double value;
  std::size_t flatTo = 0;  // before this corner all have the same value
};

// How many corners one line may pass: a bound on the work, far beyond what any foot does.
constexpr std::size_t kRunMost = 256;

// Whether a straight line from a to b (both rounded) passes all corners between near enough.
bool straight(const std::vector<Corner>& corners, std::size_t a, std::size_t b) {
  constexpr double kNear = kTolerance - 0.6;  // leaves room for the rounding to ticks
  const double from = std::round(corners[a].value);
  const double to = std::round(corners[b].value);
  if (b < corners[a].flatTo) return true;
  const auto span = static_cast<double>((corners[b].time - corners[a].time).count());
  for (std::size_t i = a + 1; i < b; ++i) {
    const auto along = static_cast<double>((corners[i].time - corners[a].time).count());
    if (std::abs(std::lerp(from, to, span == 0 ? 1 : along / span) - corners[i].value) > kNear) {
      return false;
    }
  }
  return true;
}

}  // namespace

std::vector<ControllerKnot> pedalKnots(const HatPedal& pedal, int down,
                                       const std::function<std::int64_t(Moment)>& tickOf) {
  const auto valueOf = [&](double opening) {
    return down > 0 ? 127 * (1 - opening) : 127 * opening;
  };
  std::vector<Corner> corners;
  corners.reserve(pedal.path.size() + 1);
  const bool early = !pedal.path.empty() && tickOf(pedal.path.front().time) < 0;
  if (early) {
    // What comes before the file is where it is at the file's start.
    corners.push_back({Moment(0), valueOf(pedal.openingAt(Moment(0)))});
  } else if (pedal.path.empty() || tickOf(pedal.path.front().time) > 0) {
    const double first = pedal.path.empty() ? 0 : pedal.path.front().opening;
    // Without a lead-in the file starts with the song; with one, before everything.
    const bool fromZero = tickOf(Moment(0)) == 0;
    corners.push_back({fromZero ? Moment(0) : Moment::min() / 4, valueOf(first)});
  }
  for (const PedalVertex& vertex : pedal.path) {
    if (early && vertex.time <= Moment(0)) continue;
    corners.push_back({vertex.time, valueOf(vertex.opening)});
  }
  for (std::size_t i = corners.size(); i-- > 0;) {
    const bool flat = i + 1 < corners.size() && corners[i].value == corners[i + 1].value;
    corners[i].flatTo = flat ? corners[i + 1].flatTo : i + 1;
  }
  std::vector<ControllerKnot> out;
  const Moment apart = toMoment(Milliseconds(1));
  std::vector<Moment> sent;  // of each knot
  const auto put = [&](const Corner& corner) {
    const bool start = corner.time < Moment::min() / 8;
    const std::int64_t tick = start ? 0 : std::max<std::int64_t>(0, tickOf(corner.time));
    const ControllerKnot knot{tick, static_cast<int>(std::lround(corner.value))};
    // The last corner may stand too near; it counts more than the one before.
    while (!out.empty() && (out.back().tick == tick || corner.time - sent.back() < apart)) {
      out.pop_back();
      sent.pop_back();
    }
    out.push_back(knot);
    sent.push_back(corner.time);
  };
  std::size_t at = 0;
  while (at < corners.size()) {
    put(corners[at]);
    std::size_t next = at + 1;
    while (next + 1 < corners.size() && next - at < kRunMost && straight(corners, at, next + 1)) {
      ++next;
    }
    while (next + 1 < corners.size() && corners[next].time - corners[at].time < apart) ++next;
    at = next;
  }
  // An unchanging end says nothing new.
  while (out.size() > 1 && out.back().value == out[out.size() - 2].value) out.pop_back();
  return out;
}

}  // namespace uneven
