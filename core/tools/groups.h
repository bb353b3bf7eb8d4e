// SPDX-License-Identifier: GPL-3.0-or-later
// The tools by what they are for; core/tools/table.cpp puts them together.
#pragma once

#include <vector>

#include "core/tools/tool.h"

namespace uneven {

std::vector<Tool> startTools();        // start
std::vector<Tool> entryTools();        // sticking, ostinato, backbeat, fill-gaps
std::vector<Tool> embellishTools();    // echo, rebound, linearise
std::vector<Tool> orchestrateTools();  // strokes from piece to piece
std::vector<Tool> rearrangeTools();    // rotate, shift, reverse, stretch, mirror, bars
std::vector<Tool> levelTools();        // accents, shapes, depth

std::vector<SongTool> feelTools();  // swing, displacement, drift, morph
// Sections, fills, templates, tempo, joints, form.
std::vector<SongTool> arrangementTools();

// One of them.
SongTool songTool(std::string name, std::string title, std::string help,
                  std::vector<ToolParameter> parameters,
                  std::function<void(ToolCall&, Song&)> change);

// Parameters that many tools share.
ToolParameter spanFrom();
ToolParameter spanTo();
ToolParameter pieceParameter(std::string name, std::string fallback, std::string help);
ToolParameter limbParameter(std::string name, std::string fallback, std::string help);
// That may be "any" too.
ToolParameter orAny(ToolParameter parameter);
ToolParameter velocityParameter(std::string name, std::string fallback, std::string help);
ToolParameter gridParameter();
ToolParameter wholeParameter(std::string name, std::string fallback, std::string help, double min,
                             double max);
ToolParameter realParameter(std::string name, std::string fallback, std::string help, double min,
                            double max);
ToolParameter lengthParameter(std::string name, std::string fallback, std::string help, double min,
                              double max);
ToolParameter choiceParameter(std::string name, std::string help, std::vector<std::string> choices);
ToolParameter flagParameter(std::string name, std::string fallback, std::string help);
// These parameters, and those that say whose hits: piece, limb, from, to.
std::vector<ToolParameter> whose(std::vector<ToolParameter> list);
ToolParameter textParameter(std::string name, std::string fallback, std::string help);

}  // namespace uneven
