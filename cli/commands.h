// SPDX-License-Identifier: GPL-3.0-or-later
// What each command of `ustick` does with the files of a machine. A command returns what goes to
// stdout, or an Error.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/base/text_out.h"
#include "core/io/file_system.h"
#include "core/midi/render.h"
#include "sound/file/render_audio.h"

namespace uneven::cli {

struct Output {
  std::string text;                  // for stdout
  std::vector<std::string> notices;  // for stderr; the command has still done its work
  bool findings = false;             // done, but something was found: exit 1
  // In place of `text` what is too long to be kept: puts it out piece by piece.
  std::function<void(TextOut&)> rows = nullptr;
};

// Of a song, or of a Standard MIDI File when the name ends in .mid.
Result<Output> info(FileSystem& files, const std::string& file);

enum class RowFormat : std::uint8_t { kCsv, kJson };
Result<Output> perform(FileSystem& files, const std::string& song, RowFormat format);

Result<Output> pedal(FileSystem& files, const std::string& song, RowFormat format);

enum class CheckFormat : std::uint8_t { kText, kJson };
struct CheckCall {
  std::string song;
  std::string profile;  // a player's file; empty: the default one
  CheckFormat format = CheckFormat::kText;
  std::string mend;  // KIND or KIND@BAR:AT; empty: nothing is mended
  std::string out;   // where the mended song goes
};
// Errors besides those of reading: kUsage for one of `mend` and `out` alone, kNotFound where there
// is no such finding, or none that has a mending.
Result<Output> check(FileSystem& files, const CheckCall& call);

struct RenderCall {
  std::string song;
  std::string out;
  std::string map;  // a file; empty: the map the song names
  RenderOptions options;
  AudioCall audio;                      // where `out` ends in .wav or .flac
  std::vector<std::string> given = {};  // names of options, to refuse those of the other kind
};
// A Standard MIDI File, or an audio file by its ending.
Result<Output> render(FileSystem& files, const RenderCall& call);

struct EditCall {
  std::string song;
  std::string out;
  std::string groove;              // id
  std::vector<std::string> words;  // the tool's name, then key=value
};
// Whether a tool takes a section in place of a groove.
bool takesSections(const std::string& tool);
Result<Output> edit(FileSystem& files, const EditCall& call);
// By the files' endings: from .ustick .txt (drum tab) .csv (hits) to .ustick .mid .txt .csv. A
// groove on its own goes into a song of that groove; of a song, `groove` is written, or its first.
struct ConvertCall {
  std::string in;
  std::string out;
  std::string groove;
};
Result<Output> convert(FileSystem& files, const ConvertCall& call);

// The tools with their parameters, ranges and defaults.
std::string toolList();

}  // namespace uneven::cli
