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

std::optional<PlanPlace> placeOf(const Profile& profile, const Piece& piece) {
  auto found = profile.plan.find(piece.id);
  if (found == profile.plan.end()) found = profile.plan.find(piece.like);
  if (found == profile.plan.end()) return std::nullopt;
  return found->second;
}

}  // namespace uneven
