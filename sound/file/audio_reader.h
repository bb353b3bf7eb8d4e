// SPDX-License-Identifier: GPL-3.0-or-later
// Reading audio files in pieces: whatever libsndfile reads, any rate and number of channels.
#pragma once

#include <functional>
#include <memory>
#include <span>
#include <string>

#include "core/base/result.h"

namespace uneven {

// What is listened to is read in pieces; what sounds beside the part is kept in memory whole. A
// minute more than is said, so that a render of as much can be read with what rings out behind it.
inline constexpr double kAudioMostSeconds = 2 * 3'600 + 60, kGuideMostSeconds = 30 * 60 + 60;

class AudioReader {
 public:
  // Opens it and looks at its head. Errors: kNotFound for the file or for libsndfile, kSyntax for
  // what is no audio, kLimit for one of more than two hours, all with the file's name.
  static Result<std::unique_ptr<AudioReader>> open(const std::string& file);
  virtual ~AudioReader() = default;
  virtual double rate() const = 0;  // frames a second
  virtual int channels() const = 0;
  virtual std::int64_t frames() const = 0;  // as the head says
  // The next frames as one channel, the mean of all: how many there were; 0 at the end.
  virtual Result<std::size_t> readMono(std::span<float> into) = 0;
  // The next frames as two channels, one beside the other in each frame: of one channel both are
  // that one, of more than two the first two.
  virtual Result<std::size_t> readStereo(std::span<float> into) = 0;
};

}  // namespace uneven
