// SPDX-License-Identifier: GPL-3.0-or-later
// The search.
#include "core/body/search.h"
#include "core/body/weights.h"

#include <algorithm>
#include <array>
#include <numeric>
#include <tuple>

namespace uneven {
namespace {

constexpr std::size_t kKept = 12, kKeptAlike = 2;

struct Node {
  double cost = 0, tired = 0;
  HandPasts pasts;
  std::uint16_t parent = 0;
  Limb first = Limb::kAutomatic;
};

// The cheapest into `kept`, not too many that differ in what lies behind them alone.
void thin(const std::vector<Node>& nodes, std::vector<std::uint16_t>& order,
          std::vector<Node>& kept) {
  order.resize(nodes.size());
  std::iota(order.begin(), order.end(), std::uint16_t{0});
  std::sort(order.begin(), order.end(), [&](std::uint16_t x, std::uint16_t y) {
    const Node &a = nodes[x], &b = nodes[y];
    return std::tie(a.cost, a.tired, x) < std::tie(b.cost, b.tired, y);
  });
  kept.clear();
  for (const std::uint16_t i : order) {
    const Node& n = nodes[i];
    const auto alike = std::count_if(kept.begin(), kept.end(), [&](const Node& k) {
      return k.pasts.right.stroke == n.pasts.right.stroke &&
             k.pasts.left.stroke == n.pasts.left.stroke;
    });
    if (alike >= static_cast<std::ptrdiff_t>(kKeptAlike)) continue;
    kept.push_back(n);
    if (kept.size() == kKept) break;
  }
}

}  // namespace

void searchHands(const SearchCall& call, const HandPasts& pasts, std::vector<Limb>& plan) {
  std::vector<Node> now(1), next;
  now.front().pasts = pasts;
  now.reserve(kKept);
  next.reserve(2 * kKept);
  std::vector<std::uint16_t> order;
  struct Step {
    std::array<std::pair<std::uint16_t, Limb>, kKept> from;
  };
  std::vector<Step> steps(call.end - call.from);
  for (std::size_t p = call.from; p < call.end; ++p) {
    const HandPlace& place = call.places[p];
    const Limb set = p < call.to ? setHand(call.hands, place) : plan[p];
    next.clear();
    for (std::size_t n = 0; n < now.size(); ++n) {
      for (const Limb first : {call.body.lead(), mirrored(call.body.lead())}) {
        if (set != Limb::kAutomatic && first != set) continue;
        Node node = now[n];
        node.parent = static_cast<std::uint16_t>(n);
        node.first = first;
        bool time = false;
        for (std::uint32_t i = place.from; i < place.to; ++i) {
          const BodyStroke& stroke = call.hands[i];
          const Limb limb = handOf(stroke, first);
          const Strain s = call.body.next(stroke, limb, node.pasts.of(limb),
                                          node.pasts.of(mirrored(limb)), call.pace);
          time = time || stroke.ostinato;
          if (call.goal == SearchFor::kLeastDeparture) {
            if (!s.playable()) node.cost += weight::kCannot * std::min(s.strain, 10.0);
          } else {
            node.cost =
                std::max(node.cost, call.goal == SearchFor::kLeastStrain ? s.strain : s.effort);
          }
        }
        if (call.goal == SearchFor::kLeastDeparture && first != plan[p])
          node.cost += time ? weight::kLeaveTime : weight::kLeave;
        node.tired = node.pasts.right.tired + node.pasts.left.tired;
        next.push_back(node);
      }
    }
    thin(next, order, now);
    auto& step = steps[p - call.from];
    for (std::size_t n = 0; n < now.size(); ++n) step.from[n] = {now[n].parent, now[n].first};
  }
  std::size_t at = 0;
  for (std::size_t p = call.end; p-- > call.from;) {
    const auto& [parent, first] = steps[p - call.from].from[at];
    if (p < call.to) plan[p] = first;
    at = parent;
  }
}

}  // namespace uneven
