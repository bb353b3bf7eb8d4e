// SPDX-License-Identifier: GPL-3.0-or-later
// A song as audio files: the mix, and its parts beside it.
//
//   OUT.wav   OUT-kick.wav  OUT-snare.wav ...  (or OUT-right-hand.wav ...)   OUT-click.wav
//
// A stroke begins at its time_ms to the frame (at 44.1 and 96 kHz to the nearest sample of the
// resampling). The file goes on until all has rung out. The mix leaves at kLufs, or where
// its peak is at kPeakDb, whichever comes first; all files are turned alike, by as much as was
// measured. Parts are as long as the mix, with its gain, and add up to it. All files are written,
// or none. Threads: one call at a time for each file name.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "core/io/file_system.h"
#include "core/take/take.h"
#include "core/voice/kit_map.h"
#include "sound/file/audio_writer.h"

namespace uneven {

inline constexpr double kPeakDb = -1;  // dBFS, at most
inline constexpr double kLufs = -16;   // of the mix: music for streaming, common practice
inline constexpr int kAudioRates[] = {44'100, 48'000, 96'000};

enum class Stems : std::uint8_t { kNone, kPieces, kLimbs };

struct AudioCall {
  std::string out;   // ends in .wav or .flac
  std::string bank;  // a sound bank's file; empty: the house kit
  AudioFormat format;
  Stems stems = Stems::kNone;
  bool click = false;              // quarters, in a file of its own
  bool room = true;                // of the house kit, also in its parts
  int leadInBars = 0;              // 0..kLeadInMax
  std::vector<std::string> reads;  // files that none of these may be written over
};

struct AudioReport {
  std::vector<std::string> files;
  double seconds = 0;
  double peakDb = 0;  // of the mix as written
  double lufs = 0;    // likewise; minus infinity: too short or soft to be measured
  double gainDb = 0;  // what all was turned up or down by
  std::vector<std::string> notices;
};

// "12.3 s, -16.0 LUFS, peak -3.2 dBFS, turned down by 2.1 dB".
std::string audioText(const AudioReport& report);

// Gets the share that is done, 0..1; false: give up, without an error's fault.
using Progress = std::function<bool(double)>;

// `map`: of the bank; for the house kit its own is taken. Errors: kLimit for what would be too long
// or a rate that is not offered, kUsage for a name with another ending or that is read, those of
// the bank, of writing, and givenUp() where `progress` said so.
Result<AudioReport> renderAudio(FileSystem& files, const Take& take, const KitMap& map,
                                const AudioCall& call, const Progress& progress = {});

}  // namespace uneven
