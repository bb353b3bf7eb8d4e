// SPDX-License-Identifier: GPL-3.0-or-later
// Sound that is not ours.
#include "tests/sound/sampled_kit.h"

#include <algorithm>
#include <cmath>
#include <stdexcept>

#include "sound/synth/fluid_api.h"

namespace uneven::testing {

struct SampledKit::Synth {
  const FluidApi& api;
  fluid_settings_t* settings = nullptr;
  fluid_synth_t* synth = nullptr;
  int font = -1;
  explicit Synth(const FluidApi& a) : api(a) {}
  ~Synth() {
    if (synth != nullptr) api.delete_fluid_synth(synth);
    if (settings != nullptr) api.delete_fluid_settings(settings);
  }
};

SampledKit::SampledKit(const std::string& bank) {
  const Result<const FluidApi*> api = fluidApi();
  if (!api) throw std::runtime_error("FluidSynth is missing");
  synth_ = std::make_unique<Synth>(**api);
  Synth& s = *synth_;
  s.settings = s.api.new_fluid_settings();
  s.api.fluid_settings_setnum(s.settings, "synth.sample-rate", kTakeRate);
  s.api.fluid_settings_setint(s.settings, "synth.reverb.active", 0);
  s.api.fluid_settings_setint(s.settings, "synth.chorus.active", 0);
  s.synth = s.api.new_fluid_synth(s.settings);
  const std::string file =
      bank == "tim" ? "/usr/share/sounds/sf2/TimGM6mb.sf2" : "/usr/share/sounds/sf2/FluidR3_GM.sf2";
  s.font = s.api.fluid_synth_sfload(s.synth, file.c_str(), 1);
  if (s.font < 0) throw std::runtime_error(file + " is missing");
  s.api.fluid_synth_set_channel_type(s.synth, 9, CHANNEL_TYPE_DRUM);
  choose(0);
}
void SampledKit::choose(int program) {
  program_ = program;
  synth_->api.fluid_synth_program_select(synth_->synth, 9, synth_->font, 128, program);
}
SampledKit::~SampledKit() = default;

SampledKit::Sample SampledKit::rendered(int channel, int note, int velocity, double held,
                                        double seconds) {
  Synth& s = *synth_;
  s.api.fluid_synth_all_sounds_off(s.synth, channel);
  std::vector<float> left(static_cast<std::size_t>(seconds * kTakeRate)), right(left.size());
  // What still rings is let go.
  std::vector<float> rest(4'800), other(4'800);
  s.api.fluid_synth_write_float(s.synth, 4'800, rest.data(), 0, 1, other.data(), 0, 1);
  s.api.fluid_synth_noteon(s.synth, channel, note, velocity);
  const auto until = static_cast<int>(held * kTakeRate);
  s.api.fluid_synth_write_float(s.synth, until, left.data(), 0, 1, right.data(), 0, 1);
  s.api.fluid_synth_noteoff(s.synth, channel, note);
  s.api.fluid_synth_write_float(s.synth, static_cast<int>(left.size()) - until, left.data() + until,
                                0, 1, right.data() + until, 0, 1);
  Sample out;
  out.sound.resize(left.size());
  for (std::size_t i = 0; i < left.size(); ++i) {
    out.sound[i] = (left[i] + right[i]) / 2;
    out.peak = std::max(out.peak, std::abs(out.sound[i]));
  }
  while (out.onset < left.size() && std::abs(out.sound[out.onset]) < out.peak / 10) ++out.onset;
  return out;
}

const SampledKit::Sample& SampledKit::drum(int note, int velocity) {
  velocity = std::clamp((velocity + 2) / 4 * 4, 4, 127);
  const auto [at, isNew] = drums_.try_emplace({program_ * 128 + note, velocity});
  // Held to their end: some would break off with a click.
  const double length = note == 49 || note == 51 ? 2.5 : 1.2;
  if (isNew) at->second = rendered(9, note, velocity, length, length);
  return at->second;
}

const SampledKit::Sample& SampledKit::tone(int program, int note, int velocity, double seconds) {
  const int held = static_cast<int>(seconds * 20);
  const auto [at, isNew] = tones_.try_emplace({program * 128 + note, {velocity, held}});
  if (isNew) {
    Synth& s = *synth_;
    s.api.fluid_synth_program_select(s.synth, 0, s.font, 0, program);
    at->second = rendered(0, note, velocity, seconds, seconds + 0.6);
  }
  return at->second;
}

namespace {

int noteOf(PieceId piece) {
  if (piece == piece::kKick) return 36;
  if (piece == piece::kSnare) return 38;
  if (piece == piece::kHat) return 42;
  if (piece == piece::kHatFoot) return 44;
  if (piece == piece::kRide) return 51;
  if (piece == piece::kCrash) return 49;
  return piece == piece::kTomHigh ? 48 : 41;
}

void add(std::vector<float>& out, const SampledKit::Sample& sample, double seconds, float gain) {
  const auto start = static_cast<std::ptrdiff_t>(std::llround(seconds * kTakeRate)) -
                     static_cast<std::ptrdiff_t>(sample.onset);
  for (std::size_t i = 0; i < sample.sound.size(); ++i) {
    const std::ptrdiff_t at = start + static_cast<std::ptrdiff_t>(i);
    if (at >= 0 && at < std::ssize(out))
      out[static_cast<std::size_t>(at)] += gain * sample.sound[i];
  }
}

double rmsOf(const std::vector<float>& x) {
  double sum = 0;
  for (const float v : x) sum += double{v} * v;
  return std::sqrt(sum / static_cast<double>(std::max<std::size_t>(1, x.size())));
}

}  // namespace

std::vector<float> soundOf(const PlayedTake& take, SampledKit& kit, const Around& around,
                           unsigned seed) {
  Random random(seed);
  const double length = take.onsets.back().seconds + 2;
  std::vector<float> drums(static_cast<std::size_t>(length * kTakeRate));
  for (const Onset& o : take.onsets)
    add(drums, kit.drum(noteOf(o.piece), static_cast<int>(o.velocity)), o.seconds, 1);
  if (around.room) {
    // A short room: reflections that die in a third of a second.
    std::vector<float> wet = drums;
    for (int k = 0; k < 60; ++k) {
      const double at = pickReal(random, 0.008, 0.35);
      const auto later = static_cast<std::size_t>(at * kTakeRate);
      const auto gain =
          static_cast<float>(0.16 * std::exp(-at / 0.09) * (pick(random, 0, 1) * 2 - 1));
      for (std::size_t i = later; i < wet.size(); ++i) wet[i] += gain * drums[i - later];
    }
    drums = std::move(wet);
  }
  std::vector<float> others(drums.size());
  if (around.bass || around.band) {
    const int roots[] = {40, 45, 43, 38};
    const double beat = 60 / take.bpm;
    for (std::size_t b = 0; b + 1 < take.bars.size(); ++b) {
      const int root = roots[b % 4];
      const double from = take.bars[b], to = take.bars[b + 1];
      for (double at = from; at < to - 0.01; at += beat) {
        // A bassist is as uneven as a drummer.
        if (around.bass && pick(random, 0, 3) > 0)
          add(others, kit.tone(33, root - 12 + (pick(random, 0, 3) == 0 ? 7 : 0), 96, 0.8 * beat),
              at + pickReal(random, -0.008, 0.012), 1);
        if (around.band && pick(random, 0, 2) == 0)
          for (const int third : {0, 4, 7})
            add(others, kit.tone(0, root + 12 + third, 76, 0.9 * beat),
                at + pickReal(random, -0.01, 0.015), 0.5F);
      }
      if (around.band)
        for (const int third : {0, 7, 16})
          add(others, kit.tone(48, root + 12 + third, 70, to - from), from, 0.4F);
    }
    const double by =
        rmsOf(drums) * std::pow(10, around.level / 20) / std::max(1e-9, rmsOf(others));
    for (std::size_t i = 0; i < drums.size(); ++i) drums[i] += static_cast<float>(by) * others[i];
  }
  if (around.noise != 0) {
    const double by = rmsOf(drums) * std::pow(10, -around.noise / 20) * 1.732;
    for (float& v : drums) v += static_cast<float>(by * pickReal(random, -1, 1));
  }
  float peak = 1e-9F;
  for (const float v : drums) peak = std::max(peak, std::abs(v));
  const float gain = (around.clipped ? 2.5F : 0.9F) / peak;
  for (float& v : drums) v = std::clamp(v * gain, -0.999F, 0.999F);
  return drums;
}

}  // namespace uneven::testing
