// SPDX-License-Identifier: GPL-3.0-or-later
// Small sticks.
#include "layout/mini_scene.h"

#include <algorithm>

namespace uneven {

MiniSpan miniSpan(const Groove& groove, const Changes& changes, int bars) {
  const Beat bar = groove.meter.barLength();
  if (groove.bars <= bars || changes.empty())
    return {Beat(0), Beat(std::min(bars, groove.bars)) * bar};
  const std::int64_t first =
      std::clamp<std::int64_t>(changes.begin()->first.at.floorDiv(bar), 0, groove.bars - bars);
  return {Beat(first) * bar, Beat(first + bars) * bar};
}

MiniScene miniScene(const Groove& groove, const Groove* core, const Kit& kit, const Rect& room,
                    int bars) {
  constexpr double kFeet = 0.32;  // of the height
  constexpr double kEdge = 4, kBeforeBar = 2, kAir = 2, kLeast = 0.25, kBeside = 1.5;
  const Changes changes = core == nullptr || core->length() != groove.length()
                              ? Changes{}
                              : changesBetween(*core, groove);
  const bool some = changes.size() * 2 <= std::max<std::size_t>(groove.hits.size(), 8);
  const MiniSpan span = miniSpan(groove, changes, bars);
  const auto shows = [&](Beat at) { return at >= span.from && at < span.to; };
  MiniScene out;
  out.span = span;
  out.axis = TimeAxis(room.left + kEdge, room.right - kEdge, span.from.toDouble(),
                      (span.to - span.from).toDouble());
  out.line = room.bottom - kFeet * room.height();
  const auto x = [&](Beat at) { return out.axis.xFromQuarters(at.toDouble()); };
  const Beat bar = groove.meter.barLength();
  for (Beat at = span.from + bar; at < span.to; at += bar) out.bars.push_back(x(at) - kBeforeBar);
  for (const Hit& hit : groove.hits) {
    if (!shows(hit.at)) continue;
    MiniStick stick;
    stick.limb = hit.limb == Limb::kAutomatic ? kit.usualLimb(hit.piece) : hit.limb;
    stick.role = hit.role;
    stick.differs = some && changes.contains({hit.at, hit.piece});
    const bool foot = isFoot(stick.limb);
    const double tall = (foot ? kFeet : 1 - kFeet) * room.height() - kAir;
    const double size = tall * (kLeast + (1 - kLeast) * hit.velocity.value() / Velocity::kMax);
    // Hands beside each other where they stand together.
    const double at = x(hit.at) + (stick.limb == Limb::kLeftHand ? kBeside : 0);
    stick.foot = {at, out.line};
    stick.head = {at, foot ? out.line + size : out.line - size};
    out.sticks.push_back(stick);
  }
  for (const auto& [ref, hit] : changes) {
    if (!hit && some && shows(ref.at)) out.gone.push_back({x(ref.at), out.line});
  }
  return out;
}

}  // namespace uneven
