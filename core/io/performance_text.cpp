// SPDX-License-Identifier: GPL-3.0-or-later
// Strokes as CSV and JSON.
#include "core/io/performance_text.h"

#include <fmt/format.h>

#include <iterator>

#include "core/song/names.h"

namespace uneven {
namespace {

// Whole nanoseconds as exact decimal milliseconds.
std::string msText(Moment moment) {
  const std::int64_t ns = moment.count();
  const std::uint64_t size =
      ns < 0 ? 0 - static_cast<std::uint64_t>(ns) : static_cast<std::uint64_t>(ns);
  return fmt::format("{}{}.{:06}", ns < 0 ? "-" : "", size / 1'000'000, size % 1'000'000);
}

}  // namespace

std::string performanceCsv(const Performance& performance, const Kit& kit) {
  std::string out = "bar,at,piece,stroke,role,limb,velocity,opening,grid_ms,time_ms\n";
  for (const Stroke& s : performance.strokes) {
    fmt::format_to(std::back_inserter(out), "{},{},{},{},{},{},{},{},{},{}\n", s.bar + 1,
                   s.at.toString(), kit[s.piece].id, textOf(s.stroke), textOf(s.role),
                   textOf(s.limb), s.velocity.value(), s.opening, msText(s.grid), msText(s.time));
  }
  return out;
}

std::string performanceJson(const Performance& performance, const Kit& kit) {
  std::string out = "[";
  bool first = true;
  for (const Stroke& s : performance.strokes) {
    // Ids and names hold no character that JSON would escape.
    fmt::format_to(std::back_inserter(out),
                   "{}\n  {{\"bar\": {}, \"at\": \"{}\", \"piece\": \"{}\", \"stroke\": \"{}\", "
                   "\"role\": \"{}\", \"limb\": \"{}\", \"velocity\": {}, \"opening\": {}, "
                   "\"grid_ms\": {}, \"time_ms\": {}}}",
                   first ? "" : ",", s.bar + 1, s.at.toString(), kit[s.piece].id, textOf(s.stroke),
                   textOf(s.role), textOf(s.limb), s.velocity.value(), s.opening, msText(s.grid),
                   msText(s.time));
    first = false;
  }
  return out + (first ? "]\n" : "\n]\n");
}

}  // namespace uneven
