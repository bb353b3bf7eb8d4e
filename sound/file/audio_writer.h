// SPDX-License-Identifier: GPL-3.0-or-later
// Audio files in memory: WAV and FLAC by libsndfile.
#pragma once

#include <cstdint>
#include <memory>
#include <span>
#include <string>

#include "core/base/result.h"

namespace uneven {

enum class AudioKind : std::uint8_t { kWav, kFlac };
enum class AudioBits : std::uint8_t { k16, k24, kFloat };

struct AudioFormat {
  AudioKind kind = AudioKind::kWav;
  AudioBits bits = AudioBits::k24;
  int rate = 48'000;

  int bytesPerFrame() const {
    return 2 * (bits == AudioBits::k16 ? 2 : bits == AudioBits::k24 ? 3 : 4);
  }
  bool operator==(const AudioFormat&) const = default;
};

// Writes stereo frames. Whole numbers are dithered with noise of a triangle's distribution, two
// steps wide (Lipshitz, Wannamaker & Vanderkooy 1992, JAES 40(5)), the same from run to run;
// silence stays silence.
class AudioWriter {
 public:
  // Errors: kNotFound where libsndfile is missing, kUsage for a format it cannot write (FLAC has no
  // float).
  static Result<std::unique_ptr<AudioWriter>> open(const AudioFormat& format);
  virtual ~AudioWriter() = default;
  // Left and right by turns, 1 is full scale.
  virtual Status write(std::span<const float> frames) = 0;
  // The whole file.
  virtual Result<std::string> finish() = 0;
};

}  // namespace uneven
