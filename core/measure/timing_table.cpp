// SPDX-License-Identifier: GPL-3.0-or-later
// The timing table.
#include "core/measure/timing_table.h"

#include <fmt/format.h>

#include <algorithm>
#include <iterator>

#include "core/time/count.h"

namespace uneven {

std::vector<TimingRow> timingRows(const Take& take, std::optional<int> wanted) {
  const Score& alone = take.score();
  const Score::Block& block = alone.blocks.front();
  const Groove& groove = *block.groove;
  const Feel& feel = alone.feels[block.feel];
  std::vector<TimingRow> out;
  for (const Stroke& s : take.strokes()) {
    if (s.part > 0 || (wanted && s.bar - block.firstBar != *wanted)) continue;
    const Hit& hit = groove.hits[s.hit];
    const Beat bar = block.start + hit.at - s.at;
    const Tempo tempo = alone.tempo.tempoAt(block.start + hit.at);
    const Milliseconds barLine = alone.tempo.msAt(bar);
    TimingRow row;
    row.ref = refOf(groove, s.hit);
    row.bar = s.bar - block.firstBar;
    row.at = s.at;
    row.limb = s.limb;
    row.straight = alone.tempo.msAt(block.start + hit.at) - barLine;
    row.swung = toMilliseconds(s.grid) - barLine;
    row.performed = toMilliseconds(s.time) - barLine;
    row.ticks = row.difference() / tempo.quarter() * kTableTicks;
    row.parts = shiftOf(feel, hit, s.limb, s.at, shareFactor(feel, tempo));
    row.drift = toMilliseconds(s.drift);
    out.push_back(row);
  }
  std::stable_sort(out.begin(), out.end(),
                   [](const TimingRow& a, const TimingRow& b) { return a.ref < b.ref; });
  for (auto first = out.begin(); first != out.end();) {
    const auto last = std::find_if(
        first, out.end(), [&](const TimingRow& row) { return row.ref.at != first->ref.at; });
    const auto [earliest, latest] = std::minmax_element(
        first, last,
        [](const TimingRow& a, const TimingRow& b) { return a.performed < b.performed; });
    const Milliseconds spread = latest->performed - earliest->performed;
    for (; first != last; ++first) first->spread = spread;
  }
  return out;
}

std::string timingText(const std::vector<TimingRow>& rows, const Kit& kit, Meter meter,
                       char divider) {
  std::string out =
      "bar,count,at,piece,straight_ms,swung_ms,performed_ms,difference_ms,ticks,piece_ms,limb_ms,"
      "slot_ms,nudge_ms,drift_ms,spread_ms\n";
  std::replace(out.begin(), out.end(), ',', divider);
  for (const TimingRow& r : rows) {
    const double numbers[] = {r.straight.count(),
                              r.swung.count(),
                              r.performed.count(),
                              r.difference().count(),
                              r.ticks,
                              r.parts.piece.count(),
                              r.parts.limb.count(),
                              r.parts.slot.count(),
                              r.parts.nudge.count(),
                              r.drift.count(),
                              r.spread.count()};
    fmt::format_to(std::back_inserter(out), "{1}{0}{2}{0}{3}{0}{4}", divider, r.bar + 1,
                   countName(r.at, meter).text(), r.at.toString(), kit[r.ref.piece].id);
    for (const double number : numbers) {
      fmt::format_to(std::back_inserter(out), "{}{:.3f}", divider, number);
    }
    out += '\n';
  }
  return out;
}

}  // namespace uneven
