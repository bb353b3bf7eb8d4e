// SPDX-License-Identifier: GPL-3.0-or-later
// Audio in tests.
#include "tests/sound/audio.h"

#include <gtest/gtest.h>
#include <sndfile.h>

#include <cmath>

#include "core/song/edit.h"
#include "tests/sound/soundfont.h"
#include "tests/support/process.h"

namespace uneven::testing {

Audio readAudio(const std::string& file) {
  Audio out;
  SF_INFO info{};
  SNDFILE* in = sf_open(file.c_str(), SFM_READ, &info);
  if (in == nullptr || info.channels != 2) return out;
  std::vector<double> frames(static_cast<std::size_t>(info.frames) * 2);
  sf_readf_double(in, frames.data(), info.frames);
  sf_close(in);
  out.rate = info.samplerate;
  for (std::size_t i = 0; i < frames.size(); i += 2) {
    out.left.push_back(frames[i]);
    out.right.push_back(frames[i + 1]);
  }
  return out;
}

Audio rendered(const Song& song, AudioCall call, AudioReport* report) {
  TemporaryFolder folder;
  PosixFileSystem files;
  if (call.out.empty()) {
    call.out = folder.file("song.wav");
    call.format.bits = AudioBits::kFloat;
  }
  const Result<SharedTake> take = Take::ofSong(song);
  EXPECT_TRUE(take);
  Result<AudioReport> done = renderAudio(files, **take, builtInKitMaps().front(), call);
  EXPECT_TRUE(done) << (done ? "" : done.error().line());
  if (!done) return {};
  if (report != nullptr) *report = *done;
  Audio out = readAudio(call.out);
  const double back = std::pow(10, -done->gainDb / 20);
  for (auto* channel : {&out.left, &out.right}) {
    for (double& s : *channel) s *= back;
  }
  return out;
}

double rms(const std::vector<double>& x, std::size_t from, std::size_t to) {
  double sum = 0;
  for (std::size_t i = from; i < to && i < x.size(); ++i) sum += x[i] * x[i];
  return std::sqrt(sum / static_cast<double>(to - from));
}

double decibels(double amplitude) {
  return 20 * std::log10(amplitude);
}

std::string clickBank(int rate) {
  bank::SoundFont font;
  font.name = "Clicks";
  font.rate = rate;
  for (int note = 24; note < 100; ++note) {
    bank::Zone zone;
    zone.name = "Click " + std::to_string(note);
    zone.note = note;
    zone.samples = {30'000, -30'000, 20'000, -10'000};
    font.zones.push_back(zone);
  }
  return *bank::writeSoundFont(font);
}

}  // namespace uneven::testing
