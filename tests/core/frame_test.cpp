// SPDX-License-Identifier: GPL-3.0-or-later
// Frames of other files, as sections.
#include "core/arrange/frame.h"

#include <gtest/gtest.h>

#include "core/midi/render.h"
#include "core/midi/smf.h"
#include "core/midi/song_frame.h"
#include "core/voice/kit_map.h"
#include "tests/support/lanes.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

using testing::verseAndChorus;

// A section within which the meter changes has a groove for each of its bars.
TEST(Frame, BarsOfASectionKeepTheirMeters) {
  SongFrame frame;
  frame.tempo = {{Beat(0), Bpm{110}, {}}};
  frame.meters = {{Beat(0), Meter{4, 4}}, {Beat(8), Meter{7, 8}}};
  frame.markers = {{Beat(0), "Both"}};
  frame.length = Beat(8) + Beat(7);
  const Result<FramedSong> framed = withFrame(blankSong(), frame);
  ASSERT_TRUE(framed) << framed.error().line();
  ASSERT_EQ(framed->song.arrangement.size(), 1U);
  const std::vector<std::string>& grooves = framed->song.arrangement[0].grooves;
  ASSERT_EQ(grooves.size(), 4U);
  for (std::size_t bar = 0; bar < 4; ++bar) {
    EXPECT_EQ(framed->song.findGroove(grooves[bar])->meter, (bar < 2 ? Meter{4, 4} : Meter{7, 8}))
        << bar;
  }
  EXPECT_EQ(grooves[0], grooves[1]);
  EXPECT_EQ(grooves[2], grooves[3]);
}

TEST(Frame, SectionsStandAtTheMarkers) {
  SongFrame frame;
  TempoMark mark;
  mark.bpm = Bpm{110};
  frame.tempo = {mark};
  frame.meters = {{Beat(0), Meter{4, 4}}, {Beat(16), Meter{7, 8}}};
  frame.markers = {{Beat(8), "Verse"}, {Beat(31, 2), "Seven"}};
  frame.length = Beat(16) + Beat(14);
  Song song = verseAndChorus();
  const Result<FramedSong> framed = withFrame(song, frame);
  ASSERT_TRUE(framed);
  ASSERT_EQ(framed->song.arrangement.size(), 3U);
  EXPECT_EQ(framed->song.arrangement[0].name, "Before");
  EXPECT_EQ(framed->song.arrangement[1].groove, song.arrangement[0].groove);  // as it was
  EXPECT_EQ(framed->song.arrangement[1].repeat, 2);
  EXPECT_EQ(framed->song.findGroove(framed->song.arrangement[2].groove)->meter, (Meter{7, 8}));
  EXPECT_EQ(framed->song.arrangement[2].repeat, 4);
  EXPECT_NE(framed->note.find("1 markers put to the nearest"), std::string::npos) << framed->note;
  EXPECT_EQ(framed->song.tempo, frame.tempo);
  frame.meters[1].first = Beat(15);
  EXPECT_FALSE(withFrame(song, frame));
  frame.meters = {{Beat(0), Meter{1, 32}}};
  frame.length = kPositionMost;
  EXPECT_FALSE(withFrame(song, frame));  // more bars than a song can have
}

// Bytes as in Standard MIDI Files 1.0: one track, a tick a quarter note, one note on at that one.
TEST(Frame, ANoteMayStandWhereTheLongestSongEnds) {
  const auto file = [](std::int64_t quarter) {
    std::string track;
    for (const int shift : {21, 14, 7})
      track += static_cast<char>(0x80 | ((quarter >> shift) & 0x7F));
    track += static_cast<char>(quarter & 0x7F);
    track += std::string("\x99\x24\x40\x00\xFF\x2F\x00", 7);
    std::string head("MThd\0\0\0\6\0\0\0\1\0\1MTrk\0\0\0", 21);
    return head + static_cast<char>(track.size()) + track;
  };
  const std::int64_t most = kPositionMost.floorDiv(Beat(1));
  const Result<SongFrame> last = readFrame(file(most), "long.mid");
  ASSERT_TRUE(last) << last.error().line();
  ASSERT_EQ(last->density.size(), static_cast<std::size_t>(most) + 1);
  EXPECT_EQ(last->density.back(), 1);
  const Result<SongFrame> beyond = readFrame(file(most + 1), "long.mid");
  ASSERT_FALSE(beyond);
  EXPECT_NE(beyond.error().line().find("longer than a song can be"), std::string::npos);
}

TEST(Frame, ADamagedFileIsRefused) {
  const Result<Rendering> rendering =
      render(verseAndChorus(), *builtInKitMap("general-midi"), RenderOptions{});
  ASSERT_TRUE(rendering);
  const std::string bytes = *writeSmf(rendering->sequence);
  const Result<SongFrame> whole = readFrame(bytes, "song.mid");
  ASSERT_TRUE(whole);
  EXPECT_EQ(whole->markers.size(), 2U);
  EXPECT_EQ(whole->length, Beat(48));
  for (std::size_t cut = 0; cut < bytes.size(); ++cut)
    EXPECT_FALSE(readFrame(bytes.substr(0, cut), "song.mid")) << cut;
  testing::Random random(3);
  for (int i = 0; i < testing::rounds(400); ++i) {
    std::string damaged = bytes;
    damaged[random() % damaged.size()] = static_cast<char>(random());
    const Result<SongFrame> read = readFrame(damaged, "song.mid");
    if (read) (void)withFrame(verseAndChorus(), *read);
  }
}

}  // namespace
}  // namespace uneven
