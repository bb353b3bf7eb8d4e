// SPDX-License-Identifier: GPL-3.0-or-later
// The house kit's voices.
#include "sound/synth/house_instrument.h"

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <mutex>
#include <numbers>

namespace uneven {
namespace {

constexpr double kShutSeconds = 0.012;  // to -30 dB: two discs that meet
constexpr float kGone = 1e-5F;

float perFrame(double seconds, double db) {
  return static_cast<float>(std::pow(10, -db / 20 / (seconds * kSoundRate)));
}

// Neighbours' shares: what they have in common adds up in amplitude, what they have not in power.
// In between the level is that of both.
double evenGain(double share, double alike) {
  const double other = 1 - share;
  return 1 / std::sqrt(share * share + other * other + 2 * alike * share * other);
}

}  // namespace

Result<std::unique_ptr<Instrument>> HouseInstrument::load(FileSystem& files,
                                                          const std::string& file) {
  static std::mutex mutex;
  static std::string known;
  static std::shared_ptr<const bank::HouseBank> sounds;
  const std::lock_guard lock(mutex);
  const std::string now = file + '\n' + files.inspect(file).stamp;
  if (sounds == nullptr || now != known) {
    const Result<std::string> bytes = files.read(file);
    if (!bytes) return bytes.error();
    Result<bank::HouseBank> read = bank::readHouseBank(*bytes, file);
    if (!read) return read.error();
    sounds = std::make_shared<const bank::HouseBank>(*std::move(read));
    known = now;
  }
  return std::unique_ptr<Instrument>(new HouseInstrument(sounds));
}

HouseInstrument::HouseInstrument(std::shared_ptr<const bank::HouseBank> bank)
    : bank_(std::move(bank)) {
  for (const bank::HouseSound& sound : bank_->sounds) {
    byNote_[static_cast<std::size_t>(sound.note)] = &sound;
    if (sound.opening < 0) continue;
    const auto group = static_cast<std::size_t>(sound.hats);
    if (hats_.size() <= group) hats_.resize(group + 1);
    hats_[group].push_back(&sound);
  }
  for (auto& group : hats_) {
    std::sort(group.begin(), group.end(),
              [](const auto* a, const auto* b) { return a->opening < b->opening; });
  }
}

HouseInstrument::Voice& HouseInstrument::freeVoice() {
  Voice* oldest = &voices_.front();
  for (Voice& voice : voices_) {
    if (voice.name < 0) return voice;
    if (voice.name < oldest->name) oldest = &voice;
  }
  return *oldest;
}

void HouseInstrument::add(Voice& voice, const bank::HouseSound& sound, double force, int take,
                          double share) {
  const auto& layers = sound.layers;
  std::size_t above = 0;
  while (above + 1 < layers.size() && layers[above].force < force) ++above;
  const std::size_t below = above == 0 ? 0 : above - 1;
  double up = 1;
  if (above != below)
    up = (force - layers[below].force) / (layers[above].force - layers[below].force);
  up = std::clamp(up, 0.0, 1.0);
  const double even = evenGain(up, layers[below].alike);
  for (const auto& [layer, part] : {std::pair(above, up), std::pair(below, 1 - up)}) {
    if (part <= 0 || voice.used == kStreams) continue;
    const bank::SoundTake& samples =
        layers[layer].takes[static_cast<std::size_t>(take) % bank::kTakes];
    Stream& stream = voice.streams[voice.used++];
    stream.left = samples.left.data();
    stream.right = samples.right.empty() ? stream.left : samples.right.data();
    stream.frames = samples.left.size();
    stream.gain = static_cast<float>(share * part * even * layers[layer].gain / 32'767);
    voice.frames = std::max(voice.frames, stream.frames);
    if (above == below) break;
  }
  voice.ring = std::max(voice.ring, sound.ring);
}

Instrument::Sounding HouseInstrument::strike(const StrikeSound& s, int delay) {
  const Sounding name = strokes_++;
  const bank::HouseSound* sound = byNote_[static_cast<std::size_t>(std::clamp(s.note, 0, 127))];
  if (sound == nullptr) return name;
  Voice& voice = freeVoice();
  voice = Voice{};
  voice.name = name;
  voice.wait = std::max(0, delay);
  const double force = bank::forceOf(s.velocity);
  voice.hats = sound->opening >= 0;
  if (voice.hats && s.opening >= 0) {
    const auto& group = hats_[static_cast<std::size_t>(sound->hats)];
    const double open = std::clamp(s.opening, 0.0, 1.0);
    std::size_t above = 0;
    while (above + 1 < group.size() && group[above]->opening < open) ++above;
    const std::size_t below = above == 0 ? 0 : above - 1;
    double up = 1;
    if (above != below)
      up = (open - group[below]->opening) / (group[above]->opening - group[below]->opening);
    up = std::clamp(up, 0.0, 1.0);
    const double even = evenGain(up, group[below]->alike);
    if (up > 0) add(voice, *group[above], force, s.take, up * even);
    if (up < 1 && above != below) add(voice, *group[below], force, s.take, (1 - up) * even);
    voice.opening = open;
  } else {
    add(voice, *sound, force, s.take, 1);
    voice.opening = std::max(0.0, sound->opening);
  }
  const double loud = std::pow(s.velocity / 127.0, 2) * std::pow(10, s.levelDb / 20);
  const double turn = (std::clamp(s.pan, -1.0, 1.0) + 1) * std::numbers::pi / 4;
  voice.left = static_cast<float>(loud * std::cos(turn));
  voice.right = static_cast<float>(loud * std::sin(turn));
  voice.send = static_cast<float>(std::pow(10, s.roomDb / 20));
  return name;
}

void HouseInstrument::shut(Sounding sounding) {
  for (Voice& voice : voices_) {
    if (voice.name == sounding) voice.perFrame = perFrame(kShutSeconds, 30);
  }
}

// A gap that narrows lets the discs touch: what rings dies as fast as it would have at that gap.
void HouseInstrument::pedal(double opening) {
  for (Voice& voice : voices_) {
    if (voice.name < 0 || !voice.hats || opening >= voice.opening) continue;
    const auto& group = hats_.front();
    double ring = group.front()->ring;
    for (std::size_t i = 1; i < group.size(); ++i) {
      const double from = group[i - 1]->opening, to = group[i]->opening;
      if (opening <= from) break;
      const double up = std::clamp((opening - from) / (to - from), 0.0, 1.0);
      ring = group[i - 1]->ring + up * (group[i]->ring - group[i - 1]->ring);
    }
    // Its own decay goes on meanwhile.
    const double more = 60 / ring - 60 / std::max(ring, voice.ring);
    if (more <= 0) continue;
    voice.perFrame = std::min(voice.perFrame, perFrame(1, more));
  }
}

void HouseInstrument::mix(Voice& voice, float* left, float* right, float* sentLeft,
                          float* sentRight) {
  const int first = std::min(voice.wait, kBlock);
  voice.wait -= first;
  const auto count = static_cast<int>(
      std::min<std::size_t>(static_cast<std::size_t>(kBlock - first), voice.frames - voice.at));
  float l[kBlock] = {}, r[kBlock] = {};
  for (std::size_t s = 0; s < voice.used; ++s) {
    const Stream& stream = voice.streams[s];
    if (voice.at >= stream.frames) continue;
    const auto some = static_cast<int>(
        std::min<std::size_t>(static_cast<std::size_t>(count), stream.frames - voice.at));
    const std::int16_t* fromLeft = stream.left + voice.at;
    const std::int16_t* fromRight = stream.right + voice.at;
    for (int i = 0; i < some; ++i) {
      l[i] += stream.gain * fromLeft[i];
      r[i] += stream.gain * fromRight[i];
    }
  }
  for (int i = 0; i < count; ++i) {
    const float nowLeft = l[i] * voice.left * voice.fade;
    const float nowRight = r[i] * voice.right * voice.fade;
    voice.fade *= voice.perFrame;
    left[first + i] += nowLeft;
    right[first + i] += nowRight;
    sentLeft[first + i] += voice.send * nowLeft;
    sentRight[first + i] += voice.send * nowRight;
  }
  voice.at += static_cast<std::size_t>(count);
  if (voice.at >= voice.frames || voice.fade < kGone) voice.name = -1;
}

void HouseInstrument::render(float* left, float* right) {
  std::fill_n(left, kBlock, 0.0F);
  std::fill_n(right, kBlock, 0.0F);
  float sentLeft[kBlock] = {}, sentRight[kBlock] = {};
  bool sounds = false;
  for (Voice& voice : voices_) {
    if (voice.name < 0) continue;
    sounds = true;
    mix(voice, left, right, sentLeft, sentRight);
  }
  // Three times its length after the last sound the room is still.
  constexpr int kStill = static_cast<int>(3 * Room::kSeconds * kSoundRate) / kBlock;
  still_ = sounds ? 0 : std::min(still_ + 1, kStill);
  if (room_ && still_ < kStill) walls_.process(sentLeft, sentRight, left, right, kBlock);
}

void HouseInstrument::silence() {
  for (Voice& voice : voices_) voice.name = -1;
  walls_.silence();
  still_ = 0;
}

std::string houseBankFile() {
  namespace fs = std::filesystem;
  std::error_code error;
  const fs::path program = fs::read_symlink("/proc/self/exe", error);
  return (program.parent_path().parent_path() / "share/uneven-stick/house-kit.sounds").string();
}

}  // namespace uneven
