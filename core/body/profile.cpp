// SPDX-License-Identifier: GPL-3.0-or-later
// The plan of the kit.
#include "core/body/profile.h"

namespace uneven {

std::map<std::string, PlanPlace> Profile::housePlan() {
  return {{"snare", {0, 0}},         {"hat", {-0.8, 0.3}},    {"hat-foot", {-0.8, 0.3}},
          {"tom-high", {-0.4, 0.8}}, {"tom-mid", {0.4, 0.8}}, {"tom-floor", {1, 0}},
          {"ride", {1.2, 0.8}},      {"crash", {-0.9, 1.2}},  {"crash-2", {0.9, 1.4}},
          {"china", {1.8, 0.8}},     {"splash", {0, 1.3}},    {"stack", {-1.4, 0.8}},
          {"cowbell", {0.2, 1.1}},   {"kick", {0.2, 0.6}}};
}

const std::vector<Technique>& techniques() {
  const auto limit = [](double comfortable, double playable) {
    return TimeLimit{Milliseconds(comfortable), Milliseconds(playable)};
  };
  static const std::vector<Technique> all{
      {"wrist", "each stroke from the wrist", {limit(120, 95), limit(120, 95), limit(165, 125)}},
      {"two-to-a-motion",
       "two strokes to a motion",
       {limit(75, 50), limit(105, 85), limit(145, 112)}},
      {"fingers", "the fingers", {limit(80, 60), limit(100, 80), limit(130, 105)}},
  };
  return all;
}

const Technique* techniqueOf(const RunLimits& limits) {
  for (const Technique& technique : techniques()) {
    if (technique.limits == limits) return &technique;
  }
  return nullptr;
}

std::optional<PlanPlace> placeOf(const Profile& profile, const Piece& piece) {
  auto found = profile.plan.find(piece.id);
  if (found == profile.plan.end()) found = profile.plan.find(piece.like);
  if (found == profile.plan.end()) return std::nullopt;
  return found->second;
}

}  // namespace uneven
