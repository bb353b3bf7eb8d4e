// SPDX-License-Identifier: GPL-3.0-or-later
// Strokes as FluidSynth's notes.
#include "sound/synth/fluid_instrument.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <cmath>
#include <cstring>
#include <vector>

#include "core/base/number.h"
#include "sound/bank/lead.h"
#include "sound/synth/fluid_api.h"

namespace uneven {

struct FluidInstrument::Synth {
  explicit Synth(const FluidApi& functions) : api(functions) {}
  Synth(const Synth&) = delete;
  Synth& operator=(const Synth&) = delete;
  ~Synth() {
    if (synth != nullptr) api.delete_fluid_synth(synth);
    if (settings != nullptr) api.delete_fluid_settings(settings);
  }

  const FluidApi& api;
  fluid_settings_t* settings = nullptr;
  fluid_synth_t* synth = nullptr;
  // Frames of a sample to a frame of ours, where samples have a lead; else 0.
  double leadPerFrame = 0;
  std::array<int, kChannels> notes{};  // what each channel struck last
  // Of each note: frames of its sample to a frame of ours. Samples of one bank differ in rate and
  // pitch; with one figure for all their leads would last differently.
  std::array<double, 128> perFrame{};

  // Strikes every note twice, with less of its lead and with more.
  void measureLeads() {
    constexpr int kFrames = 2'048, kVelocity = 100, kLess = 224;
    std::vector<float> left(kFrames), right(kFrames);
    const auto onset = [&](int note, int leftOut) -> std::optional<int> {
      api.fluid_synth_set_gen(synth, 0, GEN_STARTADDROFS, static_cast<float>(leftOut));
      if (api.fluid_synth_noteon(synth, 0, note, kVelocity) == FLUID_FAILED) return std::nullopt;
      api.fluid_synth_write_float(synth, kFrames, left.data(), 0, 1, right.data(), 0, 1);
      api.fluid_synth_all_sounds_off(synth, -1);
      const auto loud = [&](std::size_t i) { return std::abs(left[i]) + std::abs(right[i]); };
      float peak = 0;
      for (std::size_t i = 0; i < kFrames; ++i) peak = std::max(peak, loud(i));
      int at = 0;
      while (peak > 0 && loud(static_cast<std::size_t>(at)) < 0.1F * peak) ++at;
      api.fluid_synth_write_float(synth, kBlock, left.data(), 0, 1, right.data(), 0, 1);
      return peak > 0 ? std::optional(at) : std::nullopt;
    };
    for (std::size_t note = 0; note < perFrame.size(); ++note) {
      const auto late = onset(static_cast<int>(note), 0);
      const auto soon = late ? onset(static_cast<int>(note), kLess) : std::nullopt;
      perFrame[note] = leadPerFrame;
      if (soon && *late > *soon) perFrame[note] = static_cast<double>(kLess) / (*late - *soon);
    }
  }
};

namespace {

// A bank in memory as FluidSynth reads a file. Its name is the address and a number: FluidSynth
// takes two banks of one name for the same.
struct BytesRead {
  const std::string* bytes;
  std::size_t at = 0;
};
std::string addressOf(const std::string& bytes) {
  static std::atomic<unsigned> count{0};
  return std::to_string(reinterpret_cast<std::uintptr_t>(&bytes)) + "-" + std::to_string(++count);
}
void* openBytes(const char* name) {
  // NOLINTNEXTLINE(performance-no-int-to-ptr): the address that addressOf wrote
  const auto* bytes = reinterpret_cast<const std::string*>(std::strtoull(name, nullptr, 10));
  return bytes == nullptr ? nullptr : new BytesRead{bytes};
}
int readBytes(void* into, fluid_long_long_t count, void* handle) {
  auto& from = *static_cast<BytesRead*>(handle);
  if (count < 0 || static_cast<std::size_t>(count) > from.bytes->size() - from.at)
    return FLUID_FAILED;
  std::memcpy(into, from.bytes->data() + from.at, static_cast<std::size_t>(count));
  from.at += static_cast<std::size_t>(count);
  return FLUID_OK;
}
int seekBytes(void* handle, fluid_long_long_t offset, int whence) {
  auto& from = *static_cast<BytesRead*>(handle);
  const auto size = static_cast<fluid_long_long_t>(from.bytes->size());
  const fluid_long_long_t base = whence == SEEK_SET   ? 0
                                 : whence == SEEK_CUR ? static_cast<fluid_long_long_t>(from.at)
                                                      : size;
  if (base + offset < 0 || base + offset > size) return FLUID_FAILED;
  from.at = static_cast<std::size_t>(base + offset);
  return FLUID_OK;
}
fluid_long_long_t tellBytes(void* handle) {
  return static_cast<fluid_long_long_t>(static_cast<BytesRead*>(handle)->at);
}
int closeBytes(void* handle) {
  delete static_cast<BytesRead*>(handle);
  return FLUID_OK;
}

// The drum kit of the bank: bank 128's first program, else its first of all.
bool selectKit(const FluidApi& api, fluid_synth_t* synth, int font) {
  fluid_sfont_t* sfont = api.fluid_synth_get_sfont_by_id(synth, font);
  int bank = 128, program = 0;
  if (api.fluid_sfont_get_preset(sfont, bank, program) == nullptr) {
    api.fluid_sfont_iteration_start(sfont);
    fluid_preset_t* first = nullptr;
    while (fluid_preset_t* preset = api.fluid_sfont_iteration_next(sfont)) {
      if (first == nullptr || api.fluid_preset_get_banknum(preset) == 128) first = preset;
      if (api.fluid_preset_get_banknum(first) == 128) break;
    }
    if (first == nullptr) return false;
    bank = api.fluid_preset_get_banknum(first);
    program = api.fluid_preset_get_num(first);
  }
  for (int channel = 0; channel < FluidInstrument::kChannels; ++channel) {
    api.fluid_synth_set_channel_type(synth, channel, CHANNEL_TYPE_DRUM);
    api.fluid_synth_program_select(synth, channel, font, bank, program);
  }
  return true;
}

}  // namespace

Result<std::unique_ptr<Instrument>> FluidInstrument::load(FileSystem& files,
                                                          const std::string& bankFile) {
  const Result<const FluidApi*> found = fluidApi();
  if (!found) return found.error();
  const FluidApi& api = **found;
  Result<std::string> file = files.read(bankFile);
  if (!file) return file.error();
  auto synth = std::make_unique<Synth>(api);
  Result<bank::LedBank> led = bank::withLead(*file, bankFile);
  if (led) {
    *file = std::move(led->bytes);
    synth->leadPerFrame = static_cast<double>(led->rate) / kSoundRate;
  } else if (led.error().code != ErrorCode::kVersion) {
    return led.error();
  }
  synth->settings = api.new_fluid_settings();
  fluid_settings_t* settings = synth->settings;
  api.fluid_settings_setnum(settings, "synth.sample-rate", kSoundRate);
  api.fluid_settings_setint(settings, "synth.midi-channels", kChannels);
  api.fluid_settings_setint(settings, "synth.polyphony", 1024);
  api.fluid_settings_setint(settings, "synth.reverb.active", 0);
  api.fluid_settings_setint(settings, "synth.chorus.active", 0);
  // One thread plays it: nothing to lock.
  api.fluid_settings_setint(settings, "synth.threadsafe-api", 0);
  api.fluid_settings_setnum(settings, "synth.gain", 1.0);
  synth->synth = api.new_fluid_synth(settings);
  const auto failed = [&](const std::string& why) {
    return Error{ErrorCode::kSyntax, why, {bankFile, 0, 0, std::nullopt}};
  };
  if (synth->synth == nullptr) return failed("FluidSynth does not start");
  fluid_sfloader_t* loader = api.new_fluid_defsfloader(settings);
  api.fluid_sfloader_set_callbacks(loader, openBytes, readBytes, seekBytes, tellBytes, closeBytes);
  api.fluid_synth_add_sfloader(synth->synth, loader);
  const int font = api.fluid_synth_sfload(synth->synth, addressOf(*file).c_str(), 0);
  if (font == FLUID_FAILED || !selectKit(api, synth->synth, font)) {
    return failed("is not a sound bank that can be played: it is cut off or damaged");
  }
  if (synth->leadPerFrame > 0) synth->measureLeads();
  return std::unique_ptr<Instrument>(new FluidInstrument(std::move(synth)));
}

FluidInstrument::FluidInstrument(std::unique_ptr<Synth> synth) : synth_(std::move(synth)) {}

FluidInstrument::~FluidInstrument() = default;

Instrument::Sounding FluidInstrument::strike(const StrikeSound& sound, int delay) {
  const FluidApi& api = synth_->api;
  fluid_synth_t* synth = synth_->synth;
  const Sounding stroke = strokes_++;
  const auto channel = static_cast<int>(stroke % kChannels);
  // Generators count from what the bank says: frames, centibels, tenths of a per cent.
  if (synth_->leadPerFrame > 0) {
    const auto note = static_cast<std::size_t>(std::clamp(sound.note, 0, 127));
    const double left = delay * synth_->perFrame[note];
    const double out = std::max(0.0, bank::kLeadFrames - left);
    api.fluid_synth_set_gen(synth, channel, GEN_STARTADDROFS, static_cast<float>(roundToInt(out)));
  }
  api.fluid_synth_set_gen(synth, channel, GEN_ATTENUATION, static_cast<float>(-10 * sound.levelDb));
  api.fluid_synth_set_gen(synth, channel, GEN_PAN, static_cast<float>(500 * sound.pan));
  synth_->notes[static_cast<std::size_t>(channel)] = sound.note;
  api.fluid_synth_noteon(synth, channel, sound.note, sound.velocity);
  return stroke;
}

void FluidInstrument::shut(Sounding stroke) {
  // Its channel may be another stroke's by now; then it has long died away.
  if (strokes_ - stroke > kChannels) return;
  const auto channel = static_cast<int>(stroke % kChannels);
  synth_->api.fluid_synth_noteoff(synth_->synth, channel,
                                  synth_->notes[static_cast<std::size_t>(channel)]);
}

void FluidInstrument::render(float* left, float* right) {
  synth_->api.fluid_synth_write_float(synth_->synth, kBlock, left, 0, 1, right, 0, 1);
}

void FluidInstrument::silence() {
  synth_->api.fluid_synth_all_sounds_off(synth_->synth, -1);
}

}  // namespace uneven
