// SPDX-License-Identifier: GPL-3.0-or-later
// Sound that is not ours: drum programs of the sampled General MIDI banks that Debian has, each
// stroke placed to the sample by where it reaches a tenth of its peak; a band beside them.
#pragma once

#include <map>
#include <memory>
#include <string>
#include <utility>
#include <vector>

#include "tests/support/played_takes.h"

namespace uneven::testing {

inline constexpr int kTakeRate = 48'000;

class SampledKit {
 public:
  // "tim" or "fluid". std::runtime_error where the bank is missing.
  explicit SampledKit(const std::string& bank);
  ~SampledKit();
  SampledKit(const SampledKit&) = delete;
  SampledKit& operator=(const SampledKit&) = delete;

  struct Sample {
    std::vector<float> sound;  // mono, kTakeRate
    std::size_t onset = 0;     // where a tenth of the peak is reached
    float peak = 0;
  };
  // Of the drums' bank: 0 standard, 8 room, 16 power, 24 electronic, 25 an old drum machine.
  void choose(int program);
  const Sample& drum(int note, int velocity);
  const Sample& tone(int program, int note, int velocity, double seconds);

 private:
  struct Synth;
  Sample rendered(int channel, int note, int velocity, double held, double seconds);
  std::unique_ptr<Synth> synth_;
  int program_ = 0;
  std::map<std::pair<int, int>, Sample> drums_;
  std::map<std::pair<int, std::pair<int, int>>, Sample> tones_;
};

// All that may lie over the drums. Levels are dB of the part's RMS beside that of the drums.
struct Around {
  bool bass = false, band = false, room = false, clipped = false;
  double level = -6;
  double noise = 0;  // dB under the drums; 0: none
};
std::vector<float> soundOf(const PlayedTake& take, SampledKit& kit, const Around& around,
                           unsigned seed);

}  // namespace uneven::testing
