// SPDX-License-Identifier: GPL-3.0-or-later
// Plays the house kit: every stroke on its frame, between the layers that its velocity lies
// between and, of the hats, between the openings; what the pedal does while they ring is heard.
//
// A stroke is the sum of up to four samples, louder by 40 log10(v / 127) dB, on its side, with its
// share of the room. Threads: one at a time; nothing but load() allocates or locks.
#pragma once

#include <memory>

#include "core/io/file_system.h"
#include "sound/bank/house_bank.h"
#include "sound/synth/instrument.h"
#include "sound/synth/room.h"

namespace uneven {

class HouseInstrument final : public Instrument {
 public:
  // The sounds are read once and shared by all instruments of the program, as long as the file is
  // the same. Errors: those of reading the file and readHouseBank.
  static Result<std::unique_ptr<Instrument>> load(FileSystem& files, const std::string& file);
  explicit HouseInstrument(std::shared_ptr<const bank::HouseBank> bank);

  Sounding strike(const StrikeSound& sound, int delay) override;
  void shut(Sounding sounding) override;
  void pedal(double opening) override;
  void setRoom(bool on) override { room_ = on; }
  void render(float* left, float* right) override;
  void silence() override;

 private:
  static constexpr std::size_t kVoices = 192, kStreams = 4;
  struct Stream {
    const std::int16_t* left = nullptr;
    const std::int16_t* right = nullptr;
    std::size_t frames = 0;
    float gain = 0;
  };
  struct Voice {
    Sounding name = -1;  // none
    std::array<Stream, kStreams> streams;
    std::size_t used = 0;
    std::size_t at = 0, frames = 0;
    int wait = 0;  // frames until it begins
    float left = 0, right = 0, send = 0;
    float fade = 1, perFrame = 1;  // what takes it away before its end
    bool hats = false;
    double opening = 0, ring = 0;
  };
  void add(Voice& voice, const bank::HouseSound& sound, double force, int take, double share);
  Voice& freeVoice();
  void mix(Voice& voice, float* left, float* right, float* sentLeft, float* sentRight);

  std::shared_ptr<const bank::HouseBank> bank_;
  std::array<const bank::HouseSound*, 128> byNote_{};
  std::vector<std::vector<const bank::HouseSound*>> hats_;  // by group, ascending opening
  std::array<Voice, kVoices> voices_;
  Sounding strokes_ = 0;
  bool room_ = true;
  int still_ = 0;  // blocks since anything sounded
  Room walls_;
};

// Where the house kit's sounds are, beside the program: share/uneven-stick/house-kit.sounds.
std::string houseBankFile();

}  // namespace uneven
