// SPDX-License-Identifier: GPL-3.0-or-later
// The table of tools.
#include <fmt/format.h>

#include <algorithm>
#include <iterator>

#include "core/tools/call.h"
#include "core/tools/groups.h"

namespace uneven {

ToolParameter spanFrom() {
  return lengthParameter("from", "0", "start of the span, quarter notes from the groove's start", 0,
                         16'384);
}
ToolParameter spanTo() {
  return lengthParameter("to", "end", "end of the span, not included; end: the groove's", 0,
                         16'384);
}
ToolParameter pieceParameter(std::string name, std::string fallback, std::string help) {
  return {std::move(name), ParameterKind::kPiece, std::move(fallback), std::move(help), 0, 0, {}};
}
ToolParameter limbParameter(std::string name, std::string fallback, std::string help) {
  return {std::move(name), ParameterKind::kLimb, std::move(fallback), std::move(help), 0, 0, {}};
}
ToolParameter orAny(ToolParameter parameter) {
  parameter.choices = {"any"};
  return parameter;
}
ToolParameter velocityParameter(std::string name, std::string fallback, std::string help) {
  return wholeParameter(std::move(name), std::move(fallback), std::move(help), Velocity::kMin,
                        Velocity::kMax);
}
ToolParameter gridParameter() {
  return {
      "grid", ParameterKind::kGrid, "groove", "the slots, as 1/16 or 1/8T; groove: its own", 0, 0,
      {}};
}
ToolParameter wholeParameter(std::string name, std::string fallback, std::string help, double min,
                             double max) {
  return {
      std::move(name), ParameterKind::kWhole, std::move(fallback), std::move(help), min, max, {}};
}
ToolParameter realParameter(std::string name, std::string fallback, std::string help, double min,
                            double max) {
  return {
      std::move(name), ParameterKind::kReal, std::move(fallback), std::move(help), min, max, {}};
}
ToolParameter lengthParameter(std::string name, std::string fallback, std::string help, double min,
                              double max) {
  return {
      std::move(name), ParameterKind::kLength, std::move(fallback), std::move(help), min, max, {}};
}
ToolParameter choiceParameter(std::string name, std::string help,
                              std::vector<std::string> choices) {
  std::string first = choices.front();
  return {std::move(name),   ParameterKind::kChoice, std::move(first), std::move(help), 0, 0,
          std::move(choices)};
}
ToolParameter flagParameter(std::string name, std::string fallback, std::string help) {
  return {std::move(name), ParameterKind::kFlag, std::move(fallback), std::move(help), 0, 0, {}};
}
ToolParameter textParameter(std::string name, std::string fallback, std::string help) {
  return {std::move(name), ParameterKind::kText, std::move(fallback), std::move(help), 0, 0, {}};
}

SongTool songTool(std::string name, std::string title, std::string help,
                  std::vector<ToolParameter> parameters,
                  std::function<void(ToolCall&, Song&)> change) {
  SongTool out;
  out.name = std::move(name);
  out.title = std::move(title);
  out.help = std::move(help);
  out.parameters = std::move(parameters);
  out.change = std::move(change);
  return out;
}

std::vector<ToolParameter> whose(std::vector<ToolParameter> list) {
  list.push_back(orAny(pieceParameter("piece", "any", "whose hits; any: all")));
  list.push_back(orAny(limbParameter("limb", "any", "played by")));
  list.push_back(spanFrom());
  list.push_back(spanTo());
  return list;
}

const std::vector<Tool>& tools() {
  static const std::vector<Tool> all = [] {
    std::vector<Tool> out;
    const auto add = [&](const char* group, std::vector<Tool> list) {
      for (Tool& tool : list) {
        tool.group = group;
        out.push_back(std::move(tool));
      }
    };
    add("Begin", startTools());
    add("Write", entryTools());
    add("Embellish and thin out", embellishTools());
    add("Who plays what", orchestrateTools());
    add("Move in time", rearrangeTools());
    add("Loud and soft", levelTools());
    return out;
  }();
  return all;
}

const Tool* findTool(std::string_view name) {
  const auto& all = tools();
  const auto found =
      std::find_if(all.begin(), all.end(), [&](const Tool& tool) { return tool.name == name; });
  return found == all.end() ? nullptr : &*found;
}

const std::vector<SongTool>& songTools() {
  static const std::vector<SongTool> all = [] {
    std::vector<SongTool> out = feelTools();
    for (SongTool& tool : arrangementTools()) out.push_back(std::move(tool));
    return out;
  }();
  return all;
}

const SongTool* findSongTool(std::string_view name) {
  const auto& all = songTools();
  const auto found =
      std::find_if(all.begin(), all.end(), [&](const SongTool& tool) { return tool.name == name; });
  return found == all.end() ? nullptr : &*found;
}

Result<SongOutcome> runTool(std::string_view name, const Song& song, const std::string& grooveId,
                            const Arguments& arguments) {
  const SongTool* tool = findSongTool(name);
  const bool ofSong = tool != nullptr && tool->group == kArrangeGroup;
  const Groove* groove = song.findGroove(grooveId);
  if (groove == nullptr && ofSong && grooveId.empty() && !song.grooves.empty())
    groove = &*song.grooves.front();
  if (groove == nullptr) {
    return Error{ErrorCode::kUnknown, fmt::format("there is no groove \"{}\"", grooveId), {}};
  }
  if (tool == nullptr) {
    Result<ToolOutcome> outcome = runTool(name, *groove, *song.kit, arguments);
    if (!outcome) return outcome.error();
    return SongOutcome{withGroove(song, std::move(outcome->groove)), std::move(outcome->notes)};
  }
  ToolCall call(*tool, *groove, *song.kit, arguments);
  Song changed = song;
  if (!call.failed()) tool->change(call, changed);
  if (call.failed()) return call.error();
  return SongOutcome{std::move(changed), std::move(call.notes())};
}

Result<ToolOutcome> runTool(std::string_view name, const Groove& groove, const Kit& kit,
                            const Arguments& arguments) {
  const Tool* tool = findTool(name);
  if (tool == nullptr) {
    return Error{ErrorCode::kUnknown,
                 fmt::format("there is no tool \"{}\"; ustick edit --list names them", name),
                 {}};
  }
  ToolCall call(*tool, groove, kit, arguments);
  if (!call.failed()) tool->run(call);
  if (call.failed()) return call.error();
  call.order();
  return ToolOutcome{std::move(call.groove), std::move(call.notes())};
}

}  // namespace uneven
