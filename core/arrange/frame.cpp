// SPDX-License-Identifier: GPL-3.0-or-later
// Frames.
#include "core/arrange/frame.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/arrange/fills.h"
#include "core/arrange/sections.h"

namespace uneven {
namespace {

struct FrameBar {
  Beat start;
  Meter meter;
};

Result<std::vector<FrameBar>> barsOf(const SongFrame& frame) {
  std::vector<FrameBar> out;
  for (std::size_t i = 0; i < frame.meters.size(); ++i) {
    const auto& [from, meter] = frame.meters[i];
    const bool last = i + 1 == frame.meters.size();
    const Beat to = last ? frame.length : frame.meters[i + 1].first;
    Beat at = from;
    for (; at < to; at += meter.barLength()) {
      out.push_back({at, meter});
      if (out.size() <= static_cast<std::size_t>(kSongBarsMax)) continue;
      return Error{ErrorCode::kLimit, fmt::format("it has more than {} bars", kSongBarsMax), {}};
    }
    if (last || at == to) continue;
    return Error{ErrorCode::kLimit,
                 fmt::format("the meter {} begins inside bar {}",
                             frame.meters[i + 1].second.toString(), out.size()),
                 {}};
  }
  return out;
}

}  // namespace

Result<FramedSong> withFrame(Song song, const SongFrame& frame) {
  const Result<std::vector<FrameBar>> bars = barsOf(frame);
  if (!bars) return bars.error();
  if (bars->empty()) return Error{ErrorCode::kLimit, "it has no bars", {}};
  // Where sections begin, as bars.
  std::vector<std::pair<std::size_t, std::string>> begins;
  int moved = 0;
  for (const auto& [at, name] : frame.markers) {
    std::size_t nearest = 0;
    const auto after = std::lower_bound(bars->begin(), bars->end(), at,
                                        [](const FrameBar& bar, Beat x) { return bar.start < x; });
    nearest = static_cast<std::size_t>(after - bars->begin());
    if (after == bars->end() ||
        (after != bars->begin() && at - std::prev(after)->start < after->start - at))
      --nearest;
    moved += (*bars)[nearest].start == at ? 0 : 1;
    if (!begins.empty() && begins.back().first == nearest) {
      begins.back().second += ", " + name;
    } else {
      begins.emplace_back(nearest, name);
    }
  }
  if (begins.empty() || begins.front().first > 0)
    begins.insert(begins.begin(), {0, begins.empty() ? "Song" : "Before"});
  const std::vector<Section> before = song.sections();
  const std::string feel = song.feels.empty() ? std::string() : song.feels.front().id;
  std::vector<Section> sections;
  int known = 0;
  for (std::size_t i = 0; i < begins.size(); ++i) {
    const std::size_t from = begins[i].first;
    const std::size_t to = i + 1 < begins.size() ? begins[i + 1].first : bars->size();
    const Beat length = (to < bars->size() ? (*bars)[to].start
                                           : bars->back().start + bars->back().meter.barLength()) -
                        (*bars)[from].start;
    const auto same = std::find_if(before.begin(), before.end(),
                                   [&](const Section& s) { return s.name == begins[i].second; });
    if (same != before.end()) {
      const Beat pass = passLength(song, *same);
      const Beat times = pass > Beat(0) ? length / pass : Beat(0);
      if (times.den() == 1 && times >= Beat(1)) {
        sections.push_back(*same);
        sections.back().repeat = static_cast<int>(times.num());
        ++known;
        continue;
      }
    }
    Section section;
    section.name = begins[i].second;
    bool oneMeter = true;
    for (std::size_t b = from; b < to; ++b) {
      const Meter meter = (*bars)[b].meter;
      oneMeter = oneMeter && meter == (*bars)[from].meter;
      Groove empty;
      empty.name = "Empty " + meter.toString();
      empty.meter = meter;
      empty.grid = Grid{16, 0};
      empty.feel = feel;
      section.grooves.push_back(
          b > from && meter == (*bars)[b - 1].meter
              ? section.grooves.back()
              : addGroove(song, std::move(empty), fmt::format("empty-{}-{}", meter.n, meter.d)));
    }
    section.groove = section.grooves.front();
    if (oneMeter) {
      section.repeat = static_cast<int>(to - from);
      section.grooves.clear();
    } else if (section.grooves.size() > kPassMost) {
      return Error{ErrorCode::kLimit,
                   fmt::format("\"{}\" changes its meter and has more than {} bars: it wants more "
                               "markers",
                               section.name, kPassMost),
                   {}};
    }
    sections.push_back(std::move(section));
  }
  FramedSong out;
  song.arrangement = std::move(sections);
  song.tempo = frame.tempo;
  out.note = fmt::format("{} sections over {} bars", song.arrangement.size(), bars->size());
  if (known > 0) out.note += fmt::format(", {} of them as they were", known);
  if (moved > 0) out.note += fmt::format("; {} markers put to the nearest bar line", moved);
  out.song = std::move(song);
  return out;
}

}  // namespace uneven
