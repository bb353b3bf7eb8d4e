// SPDX-License-Identifier: GPL-3.0-or-later
// Rendering and reading audio in tests.
#pragma once

#include <string>
#include <vector>

#include "sound/file/render_audio.h"

namespace uneven::testing {

struct Audio {
  int rate = 0;
  std::vector<double> left, right;
  std::size_t frames() const { return left.size(); }
};
// By libsndfile; empty where it cannot.
Audio readAudio(const std::string& file);

// Renders to a float WAV at 48 kHz in a folder of its own and reads it, as loud as the instrument
// is: what the mix was turned by is taken back.
Audio rendered(const Song& song, AudioCall call = {}, AudioReport* report = nullptr);

double rms(const std::vector<double>& x, std::size_t from, std::size_t to);
double decibels(double amplitude);

// A bank whose every note is a click of a few samples, `rate` samples a second.
std::string clickBank(int rate);

}  // namespace uneven::testing
