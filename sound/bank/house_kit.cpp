// SPDX-License-Identifier: GPL-3.0-or-later
// The kit: which sound on which note, how loud, in how many layers. Notes are those of
// data/sound/house-sounds.json.
#include "sound/bank/house_kit.h"

#include <algorithm>
#include <cmath>
#include <functional>

#include "core/base/number.h"

namespace uneven::bank {
namespace {

constexpr double kBody = 0.05;  // seconds by which levels are compared

// The mean power over its first part, of both channels.
double powerOf(const Recorded& sound) {
  double sum = 0;
  const auto most = std::min(sound.left.size(), static_cast<std::size_t>(kBody * kRate));
  for (std::size_t i = 0; i < most; ++i) {
    const double r = sound.right.empty() ? sound.left[i] : sound.right[i];
    sum += (sound.left[i] * sound.left[i] + r * r) / 2;
  }
  return sum / (kBody * kRate);
}

// How far two are one sound over that part: 1 the same, 0 nothing in common.
double alike(const Recorded& a, const Recorded& b) {
  double ab = 0, aa = 0, bb = 0;
  const auto most =
      std::min({a.left.size(), b.left.size(), static_cast<std::size_t>(kBody * kRate)});
  for (std::size_t i = 0; i < most; ++i) {
    ab += a.left[i] * b.left[i];
    aa += a.left[i] * a.left[i];
    bb += b.left[i] * b.left[i];
  }
  return aa > 0 && bb > 0 ? std::clamp(ab / std::sqrt(aa * bb), 0.0, 1.0) : 1;
}

// A tenth of a millisecond to come in, and the last part to go.
void fade(Samples& sound) {
  constexpr std::size_t kIn = 5;
  for (std::size_t i = 0; i < std::min(kIn, sound.size()); ++i)
    sound[i] *= static_cast<double>(i + 1) / (kIn + 1);
  const std::size_t tail = std::min(sound.size() / 4, static_cast<std::size_t>(0.02 * kRate));
  for (std::size_t i = 0; i < tail; ++i)
    sound[sound.size() - 1 - i] *= static_cast<double>(i) / static_cast<double>(tail);
}

std::vector<std::int16_t> kept(const Samples& sound, double gain, std::uint64_t seed) {
  Draw dither(seed);
  std::vector<std::int16_t> out;
  out.reserve(sound.size());
  for (const double s : sound) {
    const double value = 32'767 * gain * s + 0.5 * (dither.around() + dither.around());
    out.push_back(static_cast<std::int16_t>(roundToInt(std::clamp(value, -32'767.0, 32'767.0))));
  }
  return out;
}

class Kit {
 public:
  using Make = std::function<Recorded(double force, int take)>;

  // `db`: of its body at full force, against full scale. All layers and takes are as loud.
  HouseSound& add(const char* name, int note, double db, int layers, const Make& make) {
    HouseSound sound;
    sound.name = name;
    sound.note = note;
    std::vector<Recorded> before;
    for (int l = 0; l < layers; ++l) {
      SoundLayer layer;
      layer.force = layers == 1 ? 1 : static_cast<double>(l) / (layers - 1);
      std::vector<Recorded> takes;
      double peak = 0;
      for (int t = 0; t < kTakes; ++t) {
        Recorded made = make(layer.force, t);
        fade(made.left);
        fade(made.right);
        const double gain = std::pow(10, db / 20) / std::sqrt(powerOf(made));
        for (Samples* channel : {&made.left, &made.right}) {
          for (double& s : *channel) {
            s *= gain;
            peak = std::max(peak, std::abs(s));
          }
        }
        takes.push_back(std::move(made));
      }
      layer.gain = peak;
      for (int t = 0; t < kTakes; ++t) {
        const auto i = static_cast<std::size_t>(t);
        const int number = note * 100 + l * 10 + t;
        const auto seed = static_cast<std::uint64_t>(number);
        layer.takes[i].left = kept(takes[i].left, 1 / peak, seed);
        if (!takes[i].right.empty())
          layer.takes[i].right = kept(takes[i].right, 1 / peak, seed + 7);
      }
      if (l > 0) sound.layers.back().alike = alike(before.front(), takes.front());
      before = std::move(takes);
      sound.layers.push_back(std::move(layer));
    }
    loudest_ = std::move(before.front());
    bank.sounds.push_back(std::move(sound));
    return bank.sounds.back();
  }
  // A degree of the hats; those of a group come one after the other, from shut to wide.
  void hats(const char* name, int note, double db, int layers, int group, double opening,
            const Make& make) {
    const Recorded narrower = loudest_;
    const bool first =
        bank.sounds.empty() || bank.sounds.back().opening < 0 || bank.sounds.back().hats != group;
    HouseSound& sound = add(name, note, db, layers, make);
    sound.opening = opening;
    sound.hats = group;
    sound.ring = hatRing(opening);
    if (!first) bank.sounds[bank.sounds.size() - 2].alike = alike(narrower, loudest_);
  }
  HouseBank bank;

 private:
  Recorded loudest_;  // of the sound that was added last
};

}  // namespace

HouseBank houseKit() {
  Kit kit;
  kit.bank.sounds.reserve(64);
  kit.add("Kick", 30, -12, 4, kick);
  kit.add("Snare", 32, -13, 4, snare);
  kit.add("Rim shot", 33, -11, 3, rimShot);
  kit.add("Cross-stick", 34, -19, 3, crossStick);
  kit.add("Buzz", 35, -16, 3, buzz);
  kit.add("Floor tom", 38, -13, 3, [](double f, int t) { return tom(85, 0.85, f, t); });
  kit.add("Mid tom", 39, -14, 3, [](double f, int t) { return tom(125, 0.62, f, t); });
  kit.add("Rack tom", 40, -14, 3, [](double f, int t) { return tom(165, 0.48, f, t); });
  struct Degree {
    const char* name;
    int note, edge;  // edge 0: none
    double opening;
  };
  constexpr Degree kDegrees[] = {{"tight", 44, 50, 0},      {"shut", 45, 51, 0.06},
                                 {"quarter", 46, 0, 0.225}, {"half", 47, 52, 0.475},
                                 {"wider", 48, 0, 0.725},   {"wide", 49, 53, 1}};
  for (const Degree& d : kDegrees) {
    kit.hats((std::string("Hat ") + d.name).c_str(), d.note, -16.5, d.opening < 0.4 ? 3 : 2, 0,
             d.opening, [&](double f, int t) { return hat(d.opening, f, t); });
  }
  for (const Degree& d : kDegrees) {
    if (d.edge == 0) continue;
    kit.hats((std::string("Edge ") + d.name).c_str(), d.edge, -15.5, 2, 1, d.opening,
             [&](double f, int t) { return hatEdge(d.opening, f, t); });
  }
  kit.add("Chick", 56, -19, 3, chick);
  kit.add("Foot splash", 57, -17, 2, footSplash);
  kit.add("Ride", 60, -19.5, 2, ride);
  kit.add("Ride bell", 61, -17, 2, rideBell);
  kit.add("Ride edge", 62, -16, 2, rideEdge);
  kit.add("Crash", 64, -15, 2, [](double f, int t) {
    return crash({230, 2.2, 3.4, 0.05, 700}, f, t);
  });
  kit.add("Crash 2", 66, -15, 2, [](double f, int t) {
    return crash({190, 2.6, 4.2, 0.07, 710}, f, t);
  });
  kit.add("China", 68, -15, 2, china);
  kit.add("Splash", 69, -17, 2, splash);
  kit.add("Stack", 70, -16, 2, stack);
  kit.add("Cowbell", 71, -17, 2, cowbell);
  kit.add("Click", 74, -7, 1, [](double, int) { return click(1000); });
  kit.add("Click accent", 75, -7, 1, [](double, int) { return click(1500); });
  return std::move(kit.bank);
}

}  // namespace uneven::bank
