// SPDX-License-Identifier: GPL-3.0-or-later
// Our audio files read by others: python3's wave module and the FLAC project's own decoder.
#include <gtest/gtest.h>

#include <cmath>
#include <filesystem>
#include <sstream>

#include "tests/support/process.h"

namespace uneven {
namespace {

using testing::ProcessResult;
using testing::readText;
using testing::runProcess;
using testing::TemporaryFolder;

const std::string kDemoSong = std::string(SOURCE_DIR) + "/data/demo/lock-gate-nine.ustick";

ProcessResult renderDemo(std::vector<std::string> words) {
  words.insert(words.begin(), {USTICK_PROGRAM, "render", kDemoSong});
  return runProcess(words);
}

struct Heard {
  int channels = 0, width = 0, rate = 0, frames = 0;
  double rms = 0;
};

// The wave module's view of a file, and the root of its mean square.
Heard byPython(const std::string& file) {
  const ProcessResult r = runProcess({"/usr/bin/python3", "-c", R"(
import sys, wave, math
w = wave.open(sys.argv[1])
n, width = w.getnframes(), w.getsampwidth()
raw = w.readframes(n)
step = 97 * 2 * width
total = count = 0
for i in range(0, len(raw) - width, step):
    v = int.from_bytes(raw[i:i + width], 'little', signed=True) / float(1 << (8 * width - 1))
    total += v * v
    count += 1
print(w.getnchannels(), width, w.getframerate(), n, math.sqrt(total / count))
)",
                                      file});
  EXPECT_EQ(r.exitCode, 0) << r.err;
  Heard out;
  std::istringstream(r.out) >> out.channels >> out.width >> out.rate >> out.frames >> out.rms;
  return out;
}

TEST(AudioReaders, PythonsWaveModuleAgrees) {
  const TemporaryFolder folder;
  double loud = 0;
  for (const auto& [rate, bits] : {std::pair{48'000, 16}, {44'100, 16}, {96'000, 24}}) {
    const std::string out = folder.file("out.wav");
    const ProcessResult r =
        renderDemo({"-o", out, "--rate", std::to_string(rate), "--bits", std::to_string(bits)});
    ASSERT_EQ(r.exitCode, 0) << r.err;
    EXPECT_EQ(r.out, "");
    EXPECT_NE(r.err.find(" dBFS"), std::string::npos) << r.err;
    const Heard heard = byPython(out);
    EXPECT_EQ(heard.channels, 2);
    EXPECT_EQ(8 * heard.width, bits);
    EXPECT_EQ(heard.rate, rate);
    // The song lasts 51.188 s, and rings on.
    const double seconds = static_cast<double>(heard.frames) / rate;
    EXPECT_GT(seconds, 51.188);
    EXPECT_LT(seconds, 55);
    EXPECT_GT(heard.rms, 0.01);
    // Each is turned by its own peak, which another rate moves a little.
    EXPECT_NEAR(heard.rms, loud > 0 ? loud : heard.rms, 0.05 * heard.rms);
    loud = heard.rms;
  }
}

TEST(AudioReaders, TheFlacDecoderFindsNoFault) {
  const TemporaryFolder folder;
  const std::string out = folder.file("out.flac");
  ASSERT_EQ(renderDemo({"-o", out, "--bits", "16", "--stems", "limb", "--click"}).exitCode, 0);
  for (const char* name :
       {"out.flac", "out-right-hand.flac", "out-left-foot.flac", "out-click.flac"}) {
    EXPECT_EQ(runProcess({"flac", "-t", "-s", folder.file(name)}).exitCode, 0) << name;
  }
  // Decoded by the decoder, it is the WAV of the same call.
  ASSERT_EQ(runProcess({"flac", "-d", "-s", "-f", out, "-o", folder.file("flac.wav")}).exitCode, 0);
  ASSERT_EQ(renderDemo({"-o", folder.file("own.wav"), "--bits", "16"}).exitCode, 0);
  const Heard a = byPython(folder.file("flac.wav"));
  const Heard b = byPython(folder.file("own.wav"));
  EXPECT_EQ(a.frames, b.frames);
  EXPECT_EQ(a.rms, b.rms);
}

TEST(AudioReaders, RefusalsLeaveNoFile) {
  const TemporaryFolder folder;
  const std::string wav = folder.file("x.wav");
  const std::string flac = folder.file("x.flac");
  const std::vector<std::pair<std::vector<std::string>, std::string>> calls{
      {{"-o", wav, "--rate", "12345"}, "44100, 48000 and 96000"},
      {{"-o", flac, "--bits", "float"}, "FLAC has 16 or 24 bits"},
      {{"-o", wav, "--bits", "20"}, "--bits"},
      {{"-o", wav, "--stems", "drummer"}, "--stems"},
      {{"-o", wav, "--ppq", "480"}, "--ppq is for MIDI files"},
      {{"-o", folder.file("x.mid"), "--rate", "48000"}, "--rate is for .wav and .flac files"},
      {{"-o", wav, "--bank", folder.file("none.sf2")}, "none.sf2"},
      {{"-o", wav, "--bank", kDemoSong}, "is not a sound bank"},
      {{"-o", folder.file("no/such/x.wav")}, "x.wav"}};
  for (const auto& [words, why] : calls) {
    const ProcessResult r = renderDemo(words);
    EXPECT_EQ(r.exitCode, 2) << r.err;
    EXPECT_EQ(r.out, "");
    EXPECT_EQ(r.err.substr(0, 8), "ustick: ");
    EXPECT_EQ(std::count(r.err.begin(), r.err.end(), '\n'), 1) << r.err;
    EXPECT_NE(r.err.find(why), std::string::npos) << r.err;
  }
  EXPECT_EQ(folder.fileCount(), 0U);
}

}  // namespace
}  // namespace uneven
