// SPDX-License-Identifier: GPL-3.0-or-later
// The first step of the pipeline: the arrangement laid out on the song's beats.
//
//   Song --arrange--> Score --perform--> Performance --voice--> MIDI events --write--> file
//
// A Score is a list of blocks; a block is one groove of a section's pass, as the section plays it
// (core/perform/passage.h): what is alike in many passes is one value, and hits are not copied for
// each. A hit of a block stands at block.start + hit.at on the song's beats. Threads: a plain
// value.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/song/song.h"

namespace uneven {

struct Score {
  struct Block {
    Beat start;                 // on the song's beats
    int firstBar = 0;           // of the song, from 0
    std::uint32_t section = 0;  // index into `sections`
    std::uint32_t pass = 0;     // of the section, from 0
    std::uint32_t feel = 0;     // index into `feels`
    SharedValue<Groove> groove;
    // Over [morphStart, morphEnd) on the song's beats the feel `before` turns into `feel`; equal:
    // it does not.
    std::uint32_t before = 0;
    Beat morphStart;
    Beat morphEnd;

    bool morphs() const { return morphStart < morphEnd; }
  };

  std::vector<Section> sections;  // as played
  // Of each of them, on the song's beats.
  struct Span {
    Beat start, end;
  };
  std::vector<Span> spans;
  std::vector<Feel> feels;  // the song's, then one that changes nothing; slots in order
  std::vector<Block> blocks;
  SharedValue<Kit> kit;
  TempoMap tempo;
  Beat length;
  Beat songLength;  // of the whole song, also where only a groove of it is laid out
  int bars = 0;
  std::int64_t hits = 0;     // over all blocks
  std::int64_t strokes = 0;  // at most, ornaments included
};

// Errors: kUnknown for a groove or feel that the song does not have, kLimit when the song grows
// beyond kSongBarsMax, kStrokesMax, kPedalMovesMax or kDriftLengthMax. No file or line: the song
// need not come from a file.
Result<Score> arrange(const Song& song);

// Only one groove, once, at a place that plays it, else where the arrangement plays it first (at
// the song's start when it is not arranged). What an editor of that groove shows.
Result<Score> arrangeGroove(const Song& song, const std::string& grooveId, const AtPlace& at = {});

// Where a score has a groove at a place, or first; nullptr: nowhere.
const Score::Block* blockAt(const Score& score, const std::string& grooveId, const AtPlace& at);

}  // namespace uneven
