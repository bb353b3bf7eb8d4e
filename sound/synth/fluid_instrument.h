// SPDX-License-Identifier: GPL-3.0-or-later
// A sound bank played by FluidSynth.
//
// FluidSynth begins a note at the start of its next block. Samples are given silence in front, of
// which a stroke leaves out as much as makes it begin on its very frame (sound/bank/lead.h). Only
// samples that are compressed (.sf3) can't be; they begin up to 1.4 ms late. Each stroke has a
// channel to itself for the time of kChannels strokes: strokes on one note ring over each other as
// they do on a drum, and only a choke ends one early.
//
// Threads: one at a time.
#pragma once

#include <memory>
#include <string>

#include "core/io/file_system.h"
#include "sound/synth/instrument.h"

namespace uneven {

class FluidInstrument final : public Instrument {
 public:
  // Channel 255 means "none" inside FluidSynth 2.3: what is set for it goes to voices that are
  // none.
  static constexpr int kChannels = 240;

  // Errors: those of reading the file; kNotFound where FluidSynth is missing, kSyntax where the
  // file is no sound bank that it can read.
  static Result<std::unique_ptr<Instrument>> load(FileSystem& files, const std::string& bankFile);
  ~FluidInstrument() override;

  Sounding strike(const StrikeSound& sound, int delay) override;
  void shut(Sounding stroke) override;
  void render(float* left, float* right) override;
  void silence() override;

 private:
  struct Synth;
  explicit FluidInstrument(std::unique_ptr<Synth> synth);

  std::unique_ptr<Synth> synth_;
  Sounding strokes_ = 0;  // so far
};

}  // namespace uneven
