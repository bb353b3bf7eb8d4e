// SPDX-License-Identifier: GPL-3.0-or-later
// Unisons.
#include "core/measure/unison.h"

#include <algorithm>
#include <numeric>

namespace uneven {

std::vector<Unison> unisons(const Performance& performance) {
  const auto& strokes = performance.strokes;
  std::vector<std::size_t> order(strokes.size());
  std::iota(order.begin(), order.end(), std::size_t{0});
  std::erase_if(order, [&](std::size_t i) { return strokes[i].part > 0; });
  // Strokes come in order of time, which is nearly the written one.
  std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) {
    const Stroke& x = strokes[a];
    const Stroke& y = strokes[b];
    return x.bar != y.bar ? x.bar < y.bar : x.at < y.at;
  });
  std::vector<Unison> out;
  for (std::size_t i = 0; i < order.size();) {
    Unison u;
    u.bar = strokes[order[i]].bar;
    u.at = strokes[order[i]].at;
    Moment first = Moment::max(), last = Moment::min();
    for (; i < order.size(); ++i) {
      const Stroke& s = strokes[order[i]];
      if (s.bar != u.bar || s.at != u.at) break;
      first = std::min(first, s.time - s.drift);
      last = std::max(last, s.time - s.drift);
      u.strokes.push_back(order[i]);
    }
    if (u.strokes.size() < 2) continue;
    u.spread = toMilliseconds(strokes[u.strokes.back()].time - strokes[u.strokes.front()].time);
    u.plain = toMilliseconds(last - first);
    out.push_back(std::move(u));
  }
  return out;
}

namespace {

const Unison* widestBy(const std::vector<Unison>& unisons, Milliseconds Unison::*spread) {
  const auto found = std::max_element(
      unisons.begin(), unisons.end(),
      [spread](const Unison& a, const Unison& b) { return a.*spread < b.*spread; });
  return found == unisons.end() ? nullptr : &*found;
}

}  // namespace

const Unison* widest(const std::vector<Unison>& unisons) {
  return widestBy(unisons, &Unison::spread);
}

const Unison* widestWritten(const std::vector<Unison>& unisons) {
  return widestBy(unisons, &Unison::plain);
}

}  // namespace uneven
