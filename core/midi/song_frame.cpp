// SPDX-License-Identifier: GPL-3.0-or-later
// The frame of a MIDI file.
#include "core/midi/song_frame.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>

#include "core/base/utf8.h"
#include "core/midi/smf.h"

namespace uneven {
namespace {

constexpr std::int64_t kFine = 960;
constexpr std::size_t kMarksMost = 20'000;

template <typename Value>
std::vector<std::pair<Beat, Value>> listed(std::map<Beat, Value> byPosition) {
  return {byPosition.begin(), byPosition.end()};
}

}  // namespace

Result<SongFrame> readFrame(std::string_view bytes, const std::string& file) {
  const Result<MidiSequence> sequence = readSmf(bytes, file);
  if (!sequence) return sequence.error();
  const auto fail = [&](std::string text) {
    return Error{ErrorCode::kLimit, std::move(text), {file, 0, 0, std::nullopt}};
  };
  const auto at = [&](std::int64_t tick) {
    const std::int64_t whole = tick / sequence->ticksPerQuarter;
    const std::int64_t rest = tick % sequence->ticksPerQuarter;
    return Beat(whole) +
           Beat((rest * kFine + sequence->ticksPerQuarter / 2) / sequence->ticksPerQuarter, kFine);
  };
  std::map<Beat, double> tempos{{Beat(0), 120.0}};
  std::map<Beat, Meter> meters{{Beat(0), Meter{}}};
  std::map<Beat, std::string> markers;
  std::int64_t last = 0;
  SongFrame out;
  for (const MidiTrack& track : sequence->tracks) {
    last = std::max(last, track.endTick);
    for (const MetaEvent& meta : track.metas) {
      last = std::max(last, meta.tick);
      const auto byte = [&](std::size_t i) { return static_cast<unsigned char>(meta.data[i]); };
      if (meta.type == kMetaTempo && meta.data.size() >= 3) {
        const double us = 65536.0 * byte(0) + 256.0 * byte(1) + byte(2);
        const double bpm = us > 0 ? 60e6 / us : 0;
        if (bpm < kBpmMin || bpm > kBpmMax)
          return fail(
              fmt::format("a tempo of {:.1f} BPM at quarter note {}; {:g} to {:g} are "
                          "allowed",
                          bpm, at(meta.tick).toDouble(), kBpmMin, kBpmMax));
        tempos[at(meta.tick)] = bpm;
      } else if (meta.type == kMetaMeter && meta.data.size() >= 2) {
        const auto meter =
            byte(1) > 5 ? std::nullopt : Meter::parse(fmt::format("{}/{}", byte(0), 1 << byte(1)));
        if (!meter) return fail("a meter that is none");
        meters[at(meta.tick)] = *meter;
      } else if (meta.type == kMetaMarker && !meta.data.empty()) {
        markers[at(meta.tick)] = isUtf8(meta.data) ? meta.data : std::string("Marker");
      }
      if (tempos.size() > kMarksMost || markers.size() > kMarksMost)
        return fail(fmt::format("more than {} tempos or markers", kMarksMost));
    }
    for (const MidiEvent& event : track.events) {
      last = std::max(last, event.tick);
      if (!event.isNoteOn()) continue;
      const std::int64_t quarter = event.tick / sequence->ticksPerQuarter;
      if (Beat(quarter) > kPositionMost) return fail("longer than a song can be");
      if (out.density.size() <= static_cast<std::size_t>(quarter))
        out.density.resize(static_cast<std::size_t>(quarter) + 1);
      ++out.density[static_cast<std::size_t>(quarter)];
    }
  }
  if (at(last) > kPositionMost) return fail("longer than a song can be");
  for (const auto& [position, bpm] : tempos) {
    TempoMark mark;
    mark.at = position;
    mark.bpm = Bpm{bpm};
    // Said twice in a row it is one.
    if (out.tempo.empty() || out.tempo.back().bpm != mark.bpm) out.tempo.push_back(mark);
  }
  out.meters = listed(std::move(meters));
  out.markers = listed(std::move(markers));
  out.length = std::max(at(last), Beat(1));
  return out;
}

}  // namespace uneven
