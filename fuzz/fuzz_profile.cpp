// SPDX-License-Identifier: GPL-3.0-or-later
// Players.
#include <array>

#include "core/body/sticking.h"
#include "core/io/profile_json.h"
#include "core/song/kit.h"
#include "fuzz/support.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace uneven;
  const auto profile = readProfile(fuzz::textOf(data, size), "fuzzed");
  if (!profile) {
    fuzz::insistOnOneLine(profile.error());
    return 0;
  }
  const auto again = readProfile(writeProfile(*profile), "again");
  fuzz::insist(again && *again == *profile, "it comes back as it was");
  const Body body(houseKit(), *profile);
  std::vector<BodyStroke> hands;
  for (std::uint32_t i = 0; i < 8; ++i) {
    BodyStroke s;
    s.grid = Milliseconds(70.0 * i);
    s.place = s.hit = i;
    s.written = 0.25 * i;
    s.piece = i % 3 == 0 ? piece::kSnare : piece::kHat;
    s.velocity = Velocity(static_cast<int>(40 + 10 * i));
    hands.push_back(s);
  }
  const HandPlan plan = solve(body, hands);
  const double cost = costOf(strains(body, hands, plan.hands));
  fuzz::insist(std::abs(cost - plan.cost) <= 1e-6 * (1 + cost), "the plan costs what it says");
  return 0;
}
