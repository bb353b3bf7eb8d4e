// SPDX-License-Identifier: GPL-3.0-or-later
// Where a player's sound goes: a device, or nowhere at the same pace.
//
// An output pulls from its player on a thread of its own until it is destroyed.
#pragma once

#include <atomic>
#include <memory>
#include <string>
#include <thread>
#include <vector>

#include "core/base/result.h"
#include "sound/play/player.h"

namespace uneven {

class AudioOutput {
 public:
  virtual ~AudioOutput() = default;
  virtual std::string name() const = 0;
  virtual bool silent() const { return false; }
};

// No device: the transport runs on the machine's own steady clock.
class SilentOutput final : public AudioOutput {
 public:
  explicit SilentOutput(Player& player);
  ~SilentOutput() override;
  std::string name() const override { return "silent"; }
  bool silent() const override { return true; }

 private:
  std::atomic<bool> over_{false};
  std::thread thread_;
};

// The drivers that FluidSynth was built with, those that are likeliest first: "pipewire",
// "pulseaudio", "jack", "alsa". None where FluidSynth is missing.
std::vector<std::string> audioDrivers();

// One output of a machine's sound cards: what openDevice() takes, and how it is called.
struct AudioCard {
  std::string driver;  // "alsa:plughw:CARD=PCH,DEV=0"
  std::string name;    // "HDA Intel PCH, ALC269VC Analog"
  bool operator==(const AudioCard&) const = default;
};
// Those of ALSA, from the texts of /proc/asound/cards and /proc/asound/pcm. What cannot be read is
// passed over.
std::vector<AudioCard> alsaCards(const std::string& cards, const std::string& pcm);

// A driver's own device, or, after a colon, another one by the name that the driver has for it.
// Errors: kNotFound where the driver has no device or no server, or FluidSynth is missing.
Result<std::unique_ptr<AudioOutput>> openDevice(Player& player, const std::string& driver);

}  // namespace uneven
