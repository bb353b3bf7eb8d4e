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

std::string_view soundText(FootSoundKind sound) {
  return sound == FootSoundKind::kSplash ? "splash" : "chick";
}

}  // namespace

std::string pedalCsv(const HatPedal& pedal) {
  std::string out = "time_ms,opening,sound,velocity,masked\n";
  for (const PedalVertex& v : pedal.path) {
    fmt::format_to(std::back_inserter(out), "{},{:.6f},,,\n", msText(v.time), v.opening);
  }
  for (const FootSound& s : pedal.sounds) {
    if (s.velocity == 0) continue;
    fmt::format_to(std::back_inserter(out), "{},,{},{},{}\n", msText(s.time), soundText(s.sound),
                   s.velocity, s.masked ? "yes" : "no");
  }
  return out;
}

std::string pedalJson(const HatPedal& pedal) {
  std::string out = "{\n  \"path\": [";
  const char* comma = "";
  for (const PedalVertex& v : pedal.path) {
    fmt::format_to(std::back_inserter(out), "{}\n    {{\"time_ms\": {}, \"opening\": {:.6f}}}",
                   comma, msText(v.time), v.opening);
    comma = ",";
  }
  out += pedal.path.empty() ? "],\n  \"sounds\": [" : "\n  ],\n  \"sounds\": [";
  comma = "";
  for (const FootSound& s : pedal.sounds) {
    if (s.velocity == 0) continue;
    fmt::format_to(std::back_inserter(out),
                   "{}\n    {{\"time_ms\": {}, \"sound\": \"{}\", \"velocity\": {}, "
                   "\"masked\": {}}}",
                   comma, msText(s.time), soundText(s.sound), s.velocity, s.masked);
    comma = ",";
  }
  return out + (*comma == 0 ? "]\n}\n" : "\n  ]\n}\n");
}

std::string performanceCsv(const Performance& performance, const Kit& kit) {
  std::string out =
      "bar,at,piece,stroke,role,limb,velocity,opening,grid_ms,time_ms,"
      "displacement_ms,drift_ms\n";
  for (const Stroke& s : soundsOf(performance, kit)) {
    fmt::format_to(std::back_inserter(out), "{},{},{},{},{},{},{},{},{},{},{},{}\n", s.bar + 1,
                   s.at.toString(), kit[s.piece].id, textOf(s.stroke), textOf(s.role),
                   textOf(s.limb), s.velocity.value(), s.opening, msText(s.grid), msText(s.time),
                   msText(s.time - s.grid - s.drift), msText(s.drift));
  }
  return out;
}

std::string performanceJson(const Performance& performance, const Kit& kit) {
  std::string out = "[";
  bool first = true;
  for (const Stroke& s : soundsOf(performance, kit)) {
    // Ids and names hold no character that JSON would escape.
    fmt::format_to(std::back_inserter(out),
                   "{}\n  {{\"bar\": {}, \"at\": \"{}\", \"piece\": \"{}\", \"stroke\": \"{}\", "
                   "\"role\": \"{}\", \"limb\": \"{}\", \"velocity\": {}, \"opening\": {}, "
                   "\"grid_ms\": {}, \"time_ms\": {}, \"displacement_ms\": {}, "
                   "\"drift_ms\": {}}}",
                   first ? "" : ",", s.bar + 1, s.at.toString(), kit[s.piece].id, textOf(s.stroke),
                   textOf(s.role), textOf(s.limb), s.velocity.value(), s.opening, msText(s.grid),
                   msText(s.time), msText(s.time - s.grid - s.drift), msText(s.drift));
    first = false;
  }
  return out + (first ? "]\n" : "\n]\n");
}

}  // namespace uneven
