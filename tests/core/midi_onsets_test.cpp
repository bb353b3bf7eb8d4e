// SPDX-License-Identifier: GPL-3.0-or-later
// Strokes of a Standard MIDI File in seconds, by the file's own tempo: arithmetic of the format.
#include "core/midi/onsets.h"

#include <gtest/gtest.h>

#include "core/song/kit.h"

namespace uneven {
namespace {

MidiEvent note(std::int64_t tick, int number, int velocity, int channel = 9) {
  MidiEvent e;
  e.tick = tick;
  e.status = static_cast<std::uint8_t>(0x90 | channel);
  e.data1 = static_cast<std::uint8_t>(number);
  e.data2 = static_cast<std::uint8_t>(velocity);
  return e;
}

MetaEvent tempo(std::int64_t tick, int microseconds) {
  const auto byte = [&](int shift) { return static_cast<char>((microseconds >> shift) & 0xFF); };
  return {tick, kMetaTempo, {byte(16), byte(8), byte(0)}};
}

// 120 BPM for two quarters, 60 for one, then 240 to the end.
TEST(MidiOnsets, FollowTheFilesTempoToItsEnd) {
  MidiSequence file;
  file.ticksPerQuarter = 480;
  file.tracks.resize(2);
  file.tracks[0].metas = {tempo(0, 500'000),
                          tempo(960, 1'000'000),
                          tempo(1'440, 250'000),
                          {0, kMetaMeter, std::string("\x07\x03\x18\x08", 4)}};
  for (const int tick : {0, 480, 1'200, 1'440, 1'920, 3'360})
    file.tracks[1].events.push_back(note(tick, 38, 90));
  const MidiOnsets found = onsetsOf(file, houseKit());
  ASSERT_EQ(found.onsets.size(), 6U);
  const double wanted[] = {0, 0.5, 1.5, 2, 2.25, 3};
  for (std::size_t i = 0; i < 6; ++i) {
    EXPECT_NEAR(found.onsets[i].seconds, wanted[i], 1e-9) << i;
    EXPECT_EQ(found.onsets[i].piece, piece::kSnare);
  }
  EXPECT_NEAR(found.line.periodAt(100), 0.25, 1e-9);
  EXPECT_EQ(found.meter, (Meter{7, 8}));
  EXPECT_EQ(found.strange, 0);
}

TEST(MidiOnsets, TheFirstMeterCountsAndWithoutTempoItIs120) {
  MidiSequence file;
  file.ticksPerQuarter = 96;
  file.tracks.resize(1);
  file.tracks[0].metas = {{960, kMetaMeter, std::string("\x03\x02\x18\x08", 4)},
                          {0, kMetaMeter, std::string("\x05\x02\x18\x08", 4)}};
  file.tracks[0].events = {note(96, 36, 100)};
  const MidiOnsets found = onsetsOf(file, houseKit());
  ASSERT_EQ(found.onsets.size(), 1U);
  EXPECT_NEAR(found.onsets[0].seconds, 0.5, 1e-9);
  EXPECT_EQ(found.onsets[0].piece, piece::kKick);
  EXPECT_EQ(found.meter, (Meter{5, 4}));
  file.tracks[0].metas.clear();
  EXPECT_FALSE(onsetsOf(file, houseKit()).meter);
}

// Two of one piece within a millisecond are one, as loud as the louder; where channel 10 has notes,
// the others' are no drums; what the map does not know is counted.
TEST(MidiOnsets, WhatIsOneStrokeAndWhatIsNone) {
  MidiSequence file;
  file.ticksPerQuarter = 1'000;
  file.tracks.resize(1);
  file.tracks[0].events = {note(0, 38, 40), note(1, 38, 100),     note(1, 36, 70),
                           note(4, 38, 50), note(500, 60, 80, 0), note(1'000, 3, 60)};
  const MidiOnsets found = onsetsOf(file, houseKit());
  ASSERT_EQ(found.onsets.size(), 4U);
  EXPECT_EQ(found.onsets[0].piece, piece::kSnare);
  EXPECT_EQ(found.onsets[0].velocity, 100);
  EXPECT_EQ(found.onsets[1].piece, piece::kKick);
  EXPECT_EQ(found.onsets[2].velocity, 50);
  EXPECT_EQ(found.strange, 1);
}

}  // namespace
}  // namespace uneven
