// SPDX-License-Identifier: GPL-3.0-or-later
// The house kit's sounds, written and read.
#include "sound/bank/house_bank.h"

#include <algorithm>
#include <bit>
#include <cstring>

namespace uneven::bank {
namespace {

constexpr std::string_view kFormat = "uneven-stick house kit 1\n";
constexpr std::uint32_t kSoundsMost = 128, kLayersMost = 16, kFramesMost = 48'000 * 20;

static_assert(std::endian::native == std::endian::little);

class Out {
 public:
  void number(double value) {
    const auto f = static_cast<float>(value);
    append(&f, sizeof f);
  }
  void whole(std::size_t value) {
    const auto v = static_cast<std::uint32_t>(value);
    append(&v, sizeof v);
  }
  void text(const std::string& value) {
    whole(value.size());
    bytes += value;
  }
  void samples(const std::vector<std::int16_t>& values) {
    whole(values.size());
    append(values.data(), values.size() * sizeof(std::int16_t));
  }
  std::string bytes;

 private:
  void append(const void* from, std::size_t size) {
    bytes.append(static_cast<const char*>(from), size);
  }
};

class In {
 public:
  explicit In(std::string_view bytes) : bytes_(bytes) {}
  bool good() const { return good_; }
  std::size_t at() const { return at_; }
  bool atEnd() const { return at_ == bytes_.size(); }
  double number() {
    float out = 0;
    take(&out, sizeof out);
    good_ = good_ && out >= -1e6F && out <= 1e6F;
    return out;
  }
  std::uint32_t whole(std::uint32_t most) {
    std::uint32_t out = 0;
    take(&out, sizeof out);
    good_ = good_ && out <= most;
    return good_ ? out : 0;
  }
  std::string text() {
    constexpr std::uint32_t kNameMost = 100;
    std::string out(whole(kNameMost), '\0');
    take(out.data(), out.size());
    return out;
  }
  std::vector<std::int16_t> samples() {
    const std::uint32_t count = whole(kFramesMost);
    if (!good_ || bytes_.size() - at_ < count * sizeof(std::int16_t)) {
      good_ = false;
      return {};
    }
    std::vector<std::int16_t> out(count);
    take(out.data(), out.size() * sizeof(std::int16_t));
    return out;
  }

 private:
  void take(void* into, std::size_t size) {
    if (!good_ || bytes_.size() - at_ < size) {
      good_ = false;
      return;
    }
    if (size > 0) std::memcpy(into, bytes_.data() + at_, size);
    at_ += size;
  }
  std::string_view bytes_;
  std::size_t at_ = 0;
  bool good_ = true;
};

}  // namespace

double forceOf(int velocity) {
  const double way = kVelocityLoud - kVelocitySoft;
  return std::clamp((velocity - kVelocitySoft) / way, 0.0, 1.0);
}

std::string writeHouseBank(const HouseBank& bank) {
  Out out;
  out.bytes = kFormat;
  out.whole(bank.sounds.size());
  for (const HouseSound& sound : bank.sounds) {
    out.whole(static_cast<std::size_t>(sound.note));
    out.text(sound.name);
    out.number(sound.opening);
    out.whole(static_cast<std::size_t>(sound.hats));
    out.number(sound.ring);
    out.number(sound.alike);
    out.whole(sound.layers.size());
    for (const SoundLayer& layer : sound.layers) {
      out.number(layer.force);
      out.number(layer.gain);
      out.number(layer.alike);
      for (const SoundTake& take : layer.takes) {
        out.samples(take.left);
        out.samples(take.right);
      }
    }
  }
  return std::move(out.bytes);
}

Result<HouseBank> readHouseBank(std::string_view bytes, const std::string& file) {
  const auto fail = [&](std::size_t at, const char* what) {
    return Error{ErrorCode::kSyntax, what, {file, 0, 0, at}};
  };
  if (!bytes.starts_with(kFormat)) return fail(0, "is not the house kit's file of sounds");
  In in(bytes.substr(kFormat.size()));
  HouseBank out;
  const std::uint32_t sounds = in.whole(kSoundsMost);
  for (std::uint32_t s = 0; s < sounds && in.good(); ++s) {
    HouseSound& sound = out.sounds.emplace_back();
    sound.note = static_cast<int>(in.whole(127));
    sound.name = in.text();
    sound.opening = in.number();
    sound.hats = static_cast<int>(in.whole(kSoundsMost));
    sound.ring = in.number();
    sound.alike = in.number();
    const std::uint32_t layers = in.whole(kLayersMost);
    for (std::uint32_t l = 0; l < layers && in.good(); ++l) {
      SoundLayer& layer = sound.layers.emplace_back();
      layer.force = in.number();
      layer.gain = in.number();
      layer.alike = in.number();
      for (SoundTake& take : layer.takes) {
        take.left = in.samples();
        take.right = in.samples();
        if (take.left.empty() || (!take.right.empty() && take.right.size() != take.left.size()))
          return fail(kFormat.size() + in.at(), "is cut off or damaged");
      }
    }
    if (sound.layers.empty()) return fail(kFormat.size() + in.at(), "is cut off or damaged");
  }
  if (!in.good() || !in.atEnd() || out.sounds.empty())
    return fail(kFormat.size() + in.at(), "is cut off or damaged");
  return out;
}

}  // namespace uneven::bank
