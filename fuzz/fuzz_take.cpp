// SPDX-License-Identifier: GPL-3.0-or-later
// A MIDI file as a take: its notes as strokes, the beat in them, the feel and the song of that.
#include "core/match/song_of.h"
#include "core/midi/onsets.h"
#include "core/midi/smf.h"
#include "fuzz/support.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace uneven;
  const auto sequence = readSmf(fuzz::textOf(data, size), "fuzzed");
  if (!sequence) return 0;
  const MidiOnsets found = onsetsOf(*sequence, houseKit(), nullptr);
  // The beat of thousands of notes takes longer than a round may.
  if (found.onsets.size() > 400) return 0;
  FitWanted wanted;
  wanted.where.played = found.line;
  wanted.where.meter = found.meter;
  const auto fitted = fit(found.onsets, wanted);
  if (!fitted) return 0;
  fuzz::insist(fitted->confidence >= 0 && fitted->confidence <= 1, "a chance is 0 to 1");
  const Song song = songOf(*fitted, found.onsets, houseKit(), {"fuzzed", true});
  fuzz::insist(!song.tempo.empty(), "a song has a tempo");
  return 0;
}
