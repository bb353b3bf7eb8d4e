// SPDX-License-Identifier: GPL-3.0-or-later
// What is insisted on.
#include "fuzz/support.h"

#include <cstdio>
#include <cstdlib>

#include "core/base/utf8.h"
#include "core/io/song_json.h"
#include "core/midi/render.h"
#include "core/midi/smf.h"

namespace uneven::fuzz {
namespace {

// Rendering more than this takes longer than finding the next input: the limits are tested
// elsewhere.
constexpr std::int64_t kStrokesMost = 2'000;
const Beat kLengthMost(2'000);

}  // namespace

void insist(bool condition, const char* what) {
  if (condition) return;
  std::fprintf(stderr, "not so: %s\n", what);
  std::abort();
}

void insistOnOneLine(const Error& error) {
  const std::string line = error.line();
  insist(!error.message.empty(), "an error says something");
  insist(line.find('\n') == std::string::npos, "an error stands on one line");
  insist(isUtf8(line), "an error is good UTF-8");
}

void insistOnSong(const Song& song) {
  const std::string text = writeSong(song);
  const Result<Song> again = readSong(text, "again");
  insist(static_cast<bool>(again), "what is written can be read");
  insist(*again == song, "and is the same song");
  const Result<Score> score = arrange(song);
  insist(static_cast<bool>(score), "an accepted song can be arranged");
  if (score->strokes > kStrokesMost || score->length > kLengthMost) return;
  const Result<Rendering> rendering = render(song, builtInKitMaps().front(), {});
  if (!rendering) return insistOnOneLine(rendering.error());
  const Result<std::string> bytes = writeSmf(rendering->sequence);
  if (!bytes) return insistOnOneLine(bytes.error());
  insist(static_cast<bool>(readSmf(*bytes, "rendered")), "what is rendered can be read");
}

}  // namespace uneven::fuzz
