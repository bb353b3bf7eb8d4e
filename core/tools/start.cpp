// SPDX-License-Identifier: GPL-3.0-or-later
// Starting points: patterns to begin from, as data (data/starting-points/*.ustick).
#include <fmt/format.h>

#include <cassert>

#include "core/base/embedded.h"
#include "core/io/song_json.h"
#include "core/tools/call.h"
#include "core/tools/groups.h"

namespace uneven {
namespace {

const std::vector<Groove>& startingPoints() {
  static const std::vector<Groove> all = [] {
    std::vector<Groove> out;
    for (const EmbeddedText& file : embeddedStartingPoints()) {
      const Result<Song> song = readSong(file.text, file.name);
      assert(song);  // tests read what ships
      if (!song) continue;
      for (const auto& groove : song->grooves) out.push_back(*groove);
    }
    return out;
  }();
  return all;
}

void start(ToolCall& call) {
  for (const Groove& point : startingPoints()) {
    if (point.id != call.text("pattern")) continue;
    Groove& groove = call.groove;
    const int bars = call.whole("bars");
    groove.meter = point.meter;
    groove.grid = point.grid;
    groove.bars = bars;
    groove.beatGrids.clear();
    if (groove.pedal) groove.pedal->moves.clear();
    groove.hits.clear();
    const Beat length = groove.length();
    for (Beat at; at < length; at += point.length()) {
      for (Hit hit : point.hits) {
        hit.at += at;
        if (hit.at < length) groove.hits.push_back(std::move(hit));
      }
    }
    call.note(
        fmt::format("{}, {} of {}", point.name, countOf(bars, "bar"), groove.meter.toString()));
    return;
  }
}

}  // namespace

std::vector<Tool> startTools() {
  std::vector<std::string> names;
  for (const Groove& point : startingPoints()) names.push_back(point.id);
  return {{"start",
           "Starting point",
           "A pattern to begin from, in place of what the groove has",
           {choiceParameter("pattern", "which pattern", std::move(names)),
            wholeParameter("bars", "2", "how many bars, 1 to 64", 1, kBarsMax)},
           start}};
}

}  // namespace uneven
