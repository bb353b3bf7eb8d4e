// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/midi/smf.h"

#include <gtest/gtest.h>

#include "tests/support/random_song.h"

namespace uneven {
namespace {

std::string bytes(std::initializer_list<int> list) {
  std::string out;
  for (const int b : list) out += static_cast<char>(b);
  return out;
}

TEST(Vlq, MatchesTheStandardsTable) {
  // MIDI Manufacturers Association, Standard MIDI Files 1.0 (RP-001).
  const std::pair<std::uint32_t, std::string> table[] = {
      {0x00, bytes({0x00})},
      {0x40, bytes({0x40})},
      {0x7F, bytes({0x7F})},
      {0x80, bytes({0x81, 0x00})},
      {0x2000, bytes({0xC0, 0x00})},
      {0x3FFF, bytes({0xFF, 0x7F})},
      {0x4000, bytes({0x81, 0x80, 0x00})},
      {0x1FFFFF, bytes({0xFF, 0xFF, 0x7F})},
      {0x200000, bytes({0x81, 0x80, 0x80, 0x00})},
      {0x0FFFFFFF, bytes({0xFF, 0xFF, 0xFF, 0x7F})}};
  for (const auto& [value, wanted] : table) {
    std::string got;
    appendVlq(got, value);
    EXPECT_EQ(got, wanted) << value;
  }
}

MidiSequence randomSequence(testing::Random& random) {
  MidiSequence sequence;
  sequence.type = testing::pick(random, 0, 1);
  sequence.ticksPerQuarter = testing::pick(random, 24, 15'360);
  sequence.tracks.resize(
      sequence.type == 0 ? 1 : static_cast<std::size_t>(testing::pick(random, 1, 4)));
  for (MidiTrack& track : sequence.tracks) {
    std::int64_t tick = 0;
    for (int i = testing::pick(random, 0, 40); i > 0; --i) {
      tick += testing::pick(random, 0, 3) == 0 ? testing::pick(random, 0, 1 << 28) % (1 << 28)
                                               : testing::pick(random, 0, 200);
      MidiEvent event;
      event.tick = tick;
      event.status = static_cast<std::uint8_t>(testing::pick(random, 0x80, 0xEF));
      event.data1 = static_cast<std::uint8_t>(testing::pick(random, 0, 127));
      const int kind = event.status & 0xF0;
      if (kind != 0xC0 && kind != 0xD0) {
        event.data2 = static_cast<std::uint8_t>(testing::pick(random, 0, 127));
      }
      track.events.push_back(event);
      if (testing::pick(random, 0, 3) == 0) {
        track.metas.push_back({tick, kMetaMarker, std::string(testing::pick(random, 0, 300), 'm')});
      }
    }
    track.endTick = tick + testing::pick(random, 0, 5000);
  }
  return sequence;
}

TEST(Smf, ReadsBackWhatItWrote) {
  testing::Random random(2);
  for (int i = 0; i < 500; ++i) {
    const MidiSequence sequence = randomSequence(random);
    const Result<std::string> file = writeSmf(sequence);
    ASSERT_TRUE(file);
    const Result<MidiSequence> back = readSmf(*file, "x.mid");
    ASSERT_TRUE(back) << back.error().line();
    ASSERT_TRUE(*back == sequence);
  }
}

TEST(Smf, RefusesASilenceThatTheFormatCannotHold) {
  MidiSequence sequence;
  sequence.tracks.resize(1);
  sequence.tracks[0].events.push_back({kVlqMax + 1, 0, 0x99, 36, 100});
  const auto file = writeSmf(sequence);
  ASSERT_FALSE(file);
  EXPECT_EQ(file.error().code, ErrorCode::kLimit);
}

const std::string kHeader = std::string("MThd") + bytes({0, 0, 0, 6, 0, 0, 0, 1, 0, 96});

std::string fileWithTrack(const std::string& body) {
  return kHeader + "MTrk" + bytes({0, 0, 0, static_cast<int>(body.size())}) + body;
}

TEST(Smf, ReadsRunningStatusUnknownChunksAndMetas) {
  const std::string track = bytes({0x00, 0x99, 36,   100,  0x10, 38,   90,  // running status
                                   0x00, 0xFF, 0x7F, 2,    1,    2,         // unknown meta
                                   0x00, 0xF0, 3,    1,    2,    0xF7,      // system exclusive
                                   0x05, 0xC9, 3,    0x00, 0xFF, 0x2F, 0});
  const std::string file = kHeader + "XFIH" + bytes({0, 0, 0, 3, 9, 9, 9}) + "MTrk" +
                           bytes({0, 0, 0, static_cast<int>(track.size())}) + track;
  const Result<MidiSequence> read = readSmf(file, "x.mid");
  ASSERT_TRUE(read) << read.error().line();
  const MidiTrack& t = read->tracks.at(0);
  ASSERT_EQ(t.events.size(), 3U);
  EXPECT_EQ(t.events[1].tick, 16);
  EXPECT_EQ(t.events[1].status, 0x99);
  EXPECT_EQ(t.events[1].data1, 38);
  EXPECT_EQ(t.events[2].status, 0xC9);
  EXPECT_EQ(t.metas.at(0).data, bytes({1, 2}));
  EXPECT_EQ(t.endTick, 21);
}

struct BadFile {
  std::string file;
  std::uint64_t byte;
  const char* message;
};

TEST(Smf, NamesTheByteOfALie) {
  const std::string end = bytes({0x00, 0xFF, 0x2F, 0});
  const BadFile bad[] = {
      {"RIFF", 0, "does not start with"},
      {kHeader.substr(0, 10) + bytes({0, 2, 0, 96}), 10, "type 0 has one track"},
      {kHeader.substr(0, 8) + bytes({0, 2, 0, 1, 0, 96}), 8, "type 2"},
      {kHeader.substr(0, 12) + bytes({0xE7, 0x28}), 12, "ticks per quarter"},
      {kHeader, 10, "promises 1 tracks, the file holds 0"},
      {kHeader + "MTrk" + bytes({0x7F, 0xFF, 0xFF, 0xFF}), 18, "but only 0 follow"},
      {fileWithTrack(bytes({0x00, 0x24, 100}) + end), 23, "data byte where a status"},
      {fileWithTrack(bytes({0x00, 0x99, 36, 0x90}) + end), 25, "status byte where a data"},
      {fileWithTrack(bytes({0x00, 0xF1, 0}) + end), 23, "no place in a file"},
      {fileWithTrack(bytes({0x00, 0x99, 36, 100})), 26, "without its end"},
      {fileWithTrack(end + bytes({0, 0})), 26, "after the end"},
      {fileWithTrack(bytes({0x00, 0xFF, 0x51, 2, 1, 1}) + end), 25, "must have 3 bytes"},
      {fileWithTrack(bytes({0x00, 0xFF, 0x01, 99}) + end), 25, "99 bytes"},
      {fileWithTrack(bytes({0x80, 0x80, 0x80, 0x80, 0x00}) + end), 22, "longer than four"}};
  for (const BadFile& b : bad) {
    const auto read = readSmf(b.file, "x.mid");
    ASSERT_FALSE(read) << b.message;
    EXPECT_EQ(read.error().code, ErrorCode::kSyntax);
    EXPECT_EQ(read.error().where.byte, b.byte) << read.error().line();
    EXPECT_NE(read.error().message.find(b.message), std::string::npos) << read.error().line();
  }
}

std::string midiFile(const std::string& track) {
  std::string out("MThd\0\0\0\6\0\0\0\1\3\xC0MTrk\0\0\0", 21);
  return out + static_cast<char>(track.size()) + track;
}

TEST(Smf, ALengthOfFiveBytesIsNone) {
  const std::string end("\0\xFF\x2F\0", 4);
  const std::string note("\x90\x24\x40", 3);
  ASSERT_TRUE(
      readSmf(midiFile("\xFF\xFF\xFF\x7F" + note + std::string(1, '\0') + note + end), "f"));
  EXPECT_FALSE(
      readSmf(midiFile("\xFF\xFF\xFF\xFF\x7F" + note + std::string(1, '\0') + note + end), "f"));
}

TEST(Smf, AMessageMayEndWhereItsTrackEnds) {
  // What is missing then is the track's end, not a part of the message.
  const auto read = readSmf(midiFile(std::string("\0\xF0\x02\x01\xF7", 5)), "f");
  if (!read) {
    EXPECT_EQ(read.error().message.find("runs past"), std::string::npos) << read.error().line();
  }
  const auto past = readSmf(midiFile(std::string("\0\xF0\x03\x01\xF7", 5)), "f");
  ASSERT_FALSE(past);
  EXPECT_NE(past.error().message.find("runs past"), std::string::npos);
}

TEST(Smf, AGapOfAsManyTicksAsAFileCanSay) {
  MidiSequence sequence;
  sequence.tracks.resize(1);
  sequence.type = 0;
  MidiEvent note;
  note.status = 0x99;
  note.data1 = 38;
  note.data2 = 90;
  note.tick = kVlqMax;
  sequence.tracks[0].events = {note};
  sequence.tracks[0].endTick = note.tick;
  EXPECT_TRUE(writeSmf(sequence));
  ++sequence.tracks[0].events[0].tick;
  ++sequence.tracks[0].endTick;
  EXPECT_FALSE(writeSmf(sequence));
}

}  // namespace
}  // namespace uneven
