// SPDX-License-Identifier: GPL-3.0-or-later
// Thinning the pedal's path.
#include "core/voice/pedal_knots.h"

#include <algorithm>
#include <cmath>

#include "core/base/number.h"

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
  const double from = roundedTo(corners[a].value, 1);
  const double to = roundedTo(corners[b].value, 1);
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

std::vector<PedalKnot> pedalKnots(const HatPedal& pedal, int down, Moment start) {
  const auto valueOf = [&](double opening) {
    return down > 0 ? 127 * (1 - opening) : 127 * opening;
  };
  std::vector<Corner> corners;
  corners.reserve(pedal.path.size() + 1);
  if (pedal.path.empty() || pedal.path.front().time != start) {
    const bool early = !pedal.path.empty() && pedal.path.front().time < start;
    const double first = pedal.path.empty() ? 0 : pedal.path.front().opening;
    corners.push_back({start, valueOf(early ? pedal.openingAt(start) : first)});
  }
  for (const PedalVertex& vertex : pedal.path) {
    if (vertex.time < start || (vertex.time == start && !corners.empty())) continue;
    corners.push_back({vertex.time, valueOf(vertex.opening)});
  }
  for (std::size_t i = corners.size(); i-- > 0;) {
    const bool flat = i + 1 < corners.size() && corners[i].value == corners[i + 1].value;
    corners[i].flatTo = flat ? corners[i + 1].flatTo : i + 1;
  }
  std::vector<PedalKnot> out;
  const Moment apart = toMoment(Milliseconds(1));
  const auto put = [&](const Corner& corner) {
    // The last corner may stand too near; it counts more than the one before.
    while (!out.empty() && corner.time - out.back().time < apart) out.pop_back();
    out.push_back({corner.time, static_cast<int>(roundToInt(corner.value))});
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
  return out;
}

}  // namespace uneven
