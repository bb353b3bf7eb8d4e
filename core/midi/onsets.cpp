// SPDX-License-Identifier: GPL-3.0-or-later
// Strokes of a MIDI file.
#include "core/midi/onsets.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace uneven {
namespace {

constexpr int kDrums = 9;  // channel 10
constexpr double kUsualTempo = 500'000;

struct StruckKey {
  std::int64_t tick = 0;
  int number = 0, velocity = 0;
};

std::vector<StruckKey> struckKeys(const MidiSequence& sequence) {
  std::vector<StruckKey> drums, all;
  for (const MidiTrack& track : sequence.tracks) {
    for (const MidiEvent& e : track.events) {
      if (!e.isNoteOn()) continue;
      all.push_back({e.tick, e.data1, e.data2});
      if ((e.status & 0x0F) == kDrums) drums.push_back(all.back());
    }
  }
  std::vector<StruckKey>& out = drums.empty() ? all : drums;
  std::stable_sort(out.begin(), out.end(),
                   [](const StruckKey& a, const StruckKey& b) { return a.tick < b.tick; });
  return std::move(out);
}

// How far the pedal has the hats open at a tick, by the map's controller; empty where the file does
// not move it.
std::map<std::int64_t, double> openingsOf(const MidiSequence& sequence, const KitMap& map) {
  std::map<std::int64_t, double> out;
  constexpr std::uint8_t kControl = 0xB0;
  constexpr double kMost = 127;
  for (const MidiTrack& track : sequence.tracks) {
    for (const MidiEvent& e : track.events) {
      if ((e.status & 0xF0) != kControl || e.data1 != map.pedalController) continue;
      out[e.tick] = std::abs(e.data2 - map.pedalDown) / kMost;
    }
  }
  return out;
}

BeatLine lineOf(const MidiSequence& sequence) {
  std::map<std::int64_t, double> tempos{{0, kUsualTempo}};
  for (const MidiTrack& track : sequence.tracks) {
    for (const MetaEvent& m : track.metas) {
      if (m.type != kMetaTempo || m.data.size() < 3) continue;
      double us = 0;
      for (int i = 0; i < 3; ++i)
        us = us * 256 + static_cast<unsigned char>(m.data[static_cast<std::size_t>(i)]);
      if (us > 0) tempos[m.tick] = us;
    }
  }
  std::vector<BeatLine::Point> points;
  double seconds = 0, us = kUsualTempo;
  std::int64_t before = 0;
  const double perQuarter = sequence.ticksPerQuarter;
  for (const auto& [tick, tempo] : tempos) {
    seconds += static_cast<double>(tick - before) / perQuarter * us / 1e6;
    if (!points.empty() && tick == before) points.pop_back();
    points.push_back({static_cast<double>(tick) / perQuarter, seconds});
    before = tick;
    us = tempo;
  }
  // The last tempo goes on.
  points.push_back({points.back().quarters + 1, points.back().seconds + us / 1e6});
  return BeatLine(points);
}

std::optional<Meter> meterOf(const MidiSequence& sequence) {
  const MetaEvent* first = nullptr;
  for (const MidiTrack& track : sequence.tracks) {
    for (const MetaEvent& m : track.metas) {
      if (m.type != kMetaMeter || m.data.size() < 2) continue;
      if (first == nullptr || m.tick < first->tick) first = &m;
    }
  }
  if (first == nullptr) return std::nullopt;
  const int n = static_cast<unsigned char>(first->data[0]);
  const int power = static_cast<unsigned char>(first->data[1]);
  if (power > 5) return std::nullopt;
  return Meter::parse(std::to_string(n) + "/" + std::to_string(1 << power));
}

}  // namespace

MidiOnsets onsetsOf(const MidiSequence& sequence, const Kit& kit, const KitMap* map) {
  MidiOnsets out;
  const std::vector<StruckKey> notes = struckKeys(sequence);
  if (map == nullptr) {
    std::ptrdiff_t most = -1;
    for (const KitMap& m : builtInKitMaps()) {
      const auto known = std::count_if(notes.begin(), notes.end(), [&](const StruckKey& n) {
        return struckBy(m, kit, n.number).has_value();
      });
      if (known <= most) continue;
      most = known;
      map = &m;
    }
  }
  out.map = map->name;
  out.line = lineOf(sequence);
  out.meter = meterOf(sequence);
  const std::map<std::int64_t, double> openings = openingsOf(sequence, *map);
  std::map<int, std::optional<NoteStruck>> known;
  std::map<PieceId, std::size_t> last;
  for (const StruckKey& note : notes) {
    const auto [found, isNew] = known.try_emplace(note.number);
    if (isNew) found->second = struckBy(*map, kit, note.number);
    Onset o;
    o.seconds = out.line.secondsAt(static_cast<double>(note.tick) / sequence.ticksPerQuarter);
    o.velocity = note.velocity;
    if (found->second) {
      o.piece = found->second->piece;
      o.opening = found->second->opening;
      // The pedal knows better than the note's zone.
      const auto after = openings.upper_bound(note.tick);
      if (o.piece == piece::kHat && after != openings.begin()) o.opening = std::prev(after)->second;
    } else {
      ++out.strange;
    }
    const auto before = last.find(o.piece);
    constexpr double kOne = 0.001;
    if (before != last.end() && o.seconds - out.onsets[before->second].seconds < kOne) {
      Onset& same = out.onsets[before->second];
      same.velocity = std::max(same.velocity, o.velocity);
      continue;
    }
    last[o.piece] = out.onsets.size();
    out.onsets.push_back(o);
  }
  return out;
}

}  // namespace uneven
