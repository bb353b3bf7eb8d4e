// SPDX-License-Identifier: GPL-3.0-or-later
// The recording beside the part.
#include "sound/play/guide.h"

#include <rubberband/rubberband-c.h>

#include <algorithm>
#include <cmath>

#include "core/base/number.h"
#include "sound/synth/shared_library.h"

namespace uneven {
namespace {

constexpr double kApart = 0.010 * kSoundRate;  // frames
constexpr double kEarly = 400;
constexpr unsigned kFedAtOnce = 512;
constexpr int kTakenAtOnce = 512;
constexpr float kFull = 32'768;

}  // namespace

struct StretchApi {
  decltype(&::rubberband_new) make = nullptr;
  decltype(&::rubberband_delete) drop = nullptr;
  decltype(&::rubberband_reset) reset = nullptr;
  decltype(&::rubberband_set_time_ratio) setRatio = nullptr;
  decltype(&::rubberband_set_max_process_size) setMost = nullptr;
  decltype(&::rubberband_get_preferred_start_pad) pad = nullptr;
  decltype(&::rubberband_get_start_delay) delay = nullptr;
  decltype(&::rubberband_process) process = nullptr;
  decltype(&::rubberband_available) available = nullptr;
  decltype(&::rubberband_retrieve) retrieve = nullptr;
};

namespace {

Result<const StretchApi*> stretchApi() {
  return functionsOf<StretchApi>("librubberband.so.2", [](SharedLibrary& library, StretchApi& api) {
    library.find(api.make, "rubberband_new");
    library.find(api.drop, "rubberband_delete");
    library.find(api.reset, "rubberband_reset");
    library.find(api.setRatio, "rubberband_set_time_ratio");
    library.find(api.setMost, "rubberband_set_max_process_size");
    library.find(api.pad, "rubberband_get_preferred_start_pad");
    library.find(api.delay, "rubberband_get_start_delay");
    library.find(api.process, "rubberband_process");
    library.find(api.available, "rubberband_available");
    library.find(api.retrieve, "rubberband_retrieve");
  });
}

}  // namespace

struct GuideVoice::Stretcher {
  explicit Stretcher(const StretchApi& of)
      : api(of),
        state(api.make(kSoundRate, 2,
                       RubberBandOptionProcessRealTime | RubberBandOptionThreadingNever |
                           RubberBandOptionTransientsCrisp | RubberBandOptionChannelsTogether,
                       1.0, 1.0)) {
    api.setMost(state, kFedAtOnce);
  }
  ~Stretcher() { api.drop(state); }
  Stretcher(const Stretcher&) = delete;
  Stretcher& operator=(const Stretcher&) = delete;

  const StretchApi& api;
  RubberBandState state;
  double rate = 1;
  float in[2][kFedAtOnce] = {}, out[2][kTakenAtOnce] = {};
};

GuideVoice::GuideVoice(std::shared_ptr<const GuideSound> sound)
    : sound_(std::move(sound)), left_(kBlock), right_(kBlock) {
  const Result<const StretchApi*> api = stretchApi();
  if (!api) {
    status_ = api.error();
    return;
  }
  stretcher_ = std::make_unique<Stretcher>(**api);
  // What it makes at first it makes here.
  constexpr double kSlow = 0.5;
  start(0, kSlow);
  addStretched(0, kSlow);
}

GuideVoice::~GuideVoice() = default;

void GuideVoice::read(std::int64_t frame, float& left, float& right) const {
  const bool inside = frame >= 0 && frame < sound_->frames();
  const auto at = static_cast<std::size_t>(inside ? 2 * frame : 0);
  left = inside ? static_cast<float>(sound_->samples[at]) / kFull : 0;
  right = inside ? static_cast<float>(sound_->samples[at + 1]) / kFull : 0;
}

void GuideVoice::addPlain(std::int64_t frame) {
  for (int i = 0; i < kBlock; ++i) {
    read(frame + i, left_[static_cast<std::size_t>(i)], right_[static_cast<std::size_t>(i)]);
  }
  expected_ = static_cast<double>(frame + kBlock);
}

void GuideVoice::feed() {
  for (unsigned i = 0; i < kFedAtOnce; ++i) {
    read(fed_ + i, stretcher_->in[0][i], stretcher_->in[1][i]);
  }
  fed_ += kFedAtOnce;
  const float* in[] = {stretcher_->in[0], stretcher_->in[1]};
  stretcher_->api.process(stretcher_->state, in, kFedAtOnce, 0);
}

// With what lies before `frame`, which is dropped as it comes out.
void GuideVoice::start(std::int64_t frame, double rate) {
  stretcher_->api.reset(stretcher_->state);
  stretcher_->api.setRatio(stretcher_->state, 1 / rate);
  stretcher_->rate = rate;
  // What is struck comes out of it early where it slows and late where it hastens: by so many
  // frames of the recording (measured with knocks from 0.5 to 1.5; what is left is under 1 ms).
  const std::int64_t early = roundToInt(kEarly * (1 - rate));
  fed_ = frame - early - stretcher_->api.pad(stretcher_->state);
  toDrop_ = static_cast<int>(stretcher_->api.delay(stretcher_->state));
  expected_ = static_cast<double>(frame);
}

void GuideVoice::addStretched(std::int64_t frame, double rate) {
  if (!sounding_ || !stretched_ || std::abs(expected_ - static_cast<double>(frame)) > kApart)
    start(frame, rate);
  if (rate != stretcher_->rate) {
    stretcher_->api.setRatio(stretcher_->state, 1 / rate);
    stretcher_->rate = rate;
  }
  float* out[] = {stretcher_->out[0], stretcher_->out[1]};
  constexpr int kFeedsMost = 64;  // a stretcher that gives nothing ends in silence, not in a hang
  std::fill(left_.begin(), left_.end(), 0.0F);
  std::fill(right_.begin(), right_.end(), 0.0F);
  for (int made = 0, feeds = 0; made < kBlock && feeds < kFeedsMost;) {
    const int there = stretcher_->api.available(stretcher_->state);
    if (there <= 0) {
      feed();
      ++feeds;
      continue;
    }
    const int want = std::min({there, kTakenAtOnce, toDrop_ > 0 ? toDrop_ : kBlock - made});
    const auto got = static_cast<int>(
        stretcher_->api.retrieve(stretcher_->state, out, static_cast<unsigned>(want)));
    if (toDrop_ > 0) {
      toDrop_ -= got;
      continue;
    }
    std::copy_n(out[0], got, left_.begin() + made);
    std::copy_n(out[1], got, right_.begin() + made);
    made += got;
  }
  expected_ += kBlock * rate;
}

void GuideVoice::add(Moment at, double rate, float gain, float* left, float* right) {
  const std::int64_t frame = roundToInt(static_cast<double>(at.count()) * 1e-9 * kSoundRate);
  const bool plain = rate == 1 || stretcher_ == nullptr;
  // Silence rather than another tempo.
  if (rate != 1 && stretcher_ == nullptr) gain = 0;
  const bool jumped = !sounding_ || plain == stretched_ ||
                      std::abs(expected_ - static_cast<double>(frame)) > (plain ? 2.0 : kApart);
  if (plain) {
    // Rounding must not make steps of a frame.
    addPlain(jumped ? frame : static_cast<std::int64_t>(expected_));
  } else {
    addStretched(frame, rate);
  }
  // Softly in after a jump; from the gain before to this one within the block.
  const float from = jumped ? 0 : gain_;
  for (int i = 0; i < kBlock; ++i) {
    const float now = from + (gain - from) * static_cast<float>(i + 1) / kBlock;
    left[i] += now * left_[static_cast<std::size_t>(i)];
    right[i] += now * right_[static_cast<std::size_t>(i)];
  }
  gain_ = gain;
  sounding_ = true;
  stretched_ = !plain;
}

}  // namespace uneven
