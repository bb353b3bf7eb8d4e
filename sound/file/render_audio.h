// SPDX-License-Identifier: GPL-3.0-or-later
// A song as audio files: the mix, and its parts beside it.
//
//   OUT.wav   OUT-kick.wav  OUT-snare.wav ...  (or OUT-right-hand.wav ...)   OUT-click.wav
//
// A stroke begins at its time_ms to the frame (at 44.1 and 96 kHz to the nearest sample of the
// resampling). The file goes on until all has rung out. Where the mix would come nearer to full
// scale than kPeakDb, all files are turned down alike, by as much as was measured; nothing is ever
// turned up. Parts are as long as the mix, with its gain, and add up to it. All files are written,
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
inline constexpr int kAudioRates[] = {44'100, 48'000, 96'000};

enum class Stems : std::uint8_t { kNone, kPieces, kLimbs };

struct AudioCall {
  std::string out;   // ends in .wav or .flac
  std::string bank;  // a sound bank's file; empty: the house kit
  AudioFormat format;
  Stems stems = Stems::kNone;
  bool click = false;              // quarters, in a file of its own
  int leadInBars = 0;              // 0..kLeadInMax
  std::vector<std::string> reads;  // files that none of these may be written over
};

struct AudioReport {
  std::vector<std::string> files;
  double seconds = 0;
  double peakDb = 0;  // of the mix as written
  double gainDb = 0;  // 0, or what all was turned down by
  std::vector<std::string> notices;
};

// "12.3 s, peak -3.2 dBFS, turned down by 2.1 dB".
std::string audioText(const AudioReport& report);

// Gets the share that is done, 0..1; false: give up, without an error's fault.
using Progress = std::function<bool(double)>;

// `map`: of the bank; for the house kit its own is taken. Errors: kLimit for what would be too long
// or a rate that is not offered, kUsage for a name with another ending or that is read, those of
// the bank, of writing, and kInputOutput "given up" where `progress` said so.
Result<AudioReport> renderAudio(FileSystem& files, const Take& take, const KitMap& map,
                                const AudioCall& call, const Progress& progress = {});

}  // namespace uneven
