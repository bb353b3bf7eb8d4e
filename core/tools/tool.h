// SPDX-License-Identifier: GPL-3.0-or-later
// The tools that write and change grooves, in one table for the interface and the command line.
//
// A tool is a pure function of a groove and its arguments. Arguments are words, as they are typed
// (`level_db=20`); a tool's parameters say what is allowed and what holds when one is left out.
// What a tool could not do it tells in its notes ("2 hits skipped: the next slot is taken").
//
//   Result<ToolOutcome> out = runTool("echo", groove, kit, {{"piece", "snare"}, {"level_db",
//   "20"}});
//
// Errors: kUnknown for a tool, parameter or word that does not exist, kLimit for a value out of
// range, kSyntax for text that cannot be read. Threads: pure functions.
#pragma once

#include <functional>
#include <map>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/song/edit.h"

namespace uneven {

enum class ParameterKind : std::uint8_t {
  kChoice,  // one of `choices`
  kPiece,   // id of a piece, or one of `choices`, which is "any" or nothing
  kLimb,    // a limb, likewise
  kWhole,   // min..max
  kReal,    // min..max
  kLength,  // quarter notes, exact, min..max
  kGrid,    // "1/16", or "groove": the groove's own
  kText,
  kFlag,  // yes or no
};

struct ToolParameter {
  std::string name;
  ParameterKind kind = ParameterKind::kText;
  std::string fallback;
  std::string help;  // with the unit
  double min = 0;
  double max = 0;
  std::vector<std::string> choices;
};

using Arguments = std::map<std::string, std::string, std::less<>>;

struct ToolOutcome {
  Groove groove;
  std::vector<std::string> notes;
};

class ToolCall;  // core/tools/call.h: arguments that have been checked

struct Tool {
  std::string name;   // "fill-gaps"
  std::string title;  // "Fill the gaps"
  std::string help;
  std::vector<ToolParameter> parameters;
  std::function<void(ToolCall&)> run;
  std::string group = {};  // what it is for: "Write"
};

// All tools, in the order of the work.
const std::vector<Tool>& tools();
// nullptr when there is none of that name.
const Tool* findTool(std::string_view name);

// Errors: kUnknown for a tool or a word that is not there, kLimit for a value that is not allowed.
Result<ToolOutcome> runTool(std::string_view name, const Groove& groove, const Kit& kit,
                            const Arguments& arguments);

// The group of the tools that take a section of the song in place of a groove.
inline constexpr const char* kArrangeGroup = "Arrange";

// A tool for more than one groove's hits: the feel in force for a groove, the song's sections.
struct SongTool : Tool {
  std::function<void(ToolCall&, Song&)> change;
};
struct SongOutcome {
  Song song;
  std::vector<std::string> notes;
};
const std::vector<SongTool>& songTools();
const SongTool* findSongTool(std::string_view name);

// A tool of either kind on a groove of the song; those of kArrangeGroup need none.
Result<SongOutcome> runTool(std::string_view name, const Song& song, const std::string& grooveId,
                            const Arguments& arguments);

}  // namespace uneven
