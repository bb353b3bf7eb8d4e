// SPDX-License-Identifier: GPL-3.0-or-later
// Reading arguments and the helpers that tools share.
#include "core/tools/call.h"

#include <fmt/format.h>

#include <algorithm>
#include <cassert>

#include "core/base/number.h"
#include "core/song/names.h"
#include "core/song/slots.h"

namespace uneven {
namespace {

constexpr const char* kGridsAllowed =
    "groove, 1/4, 1/8, 1/16 and 1/32 are, with T for triplets, :5 and :7 for five and seven";

std::string joined(const std::vector<std::string>& words) {
  std::string out;
  for (const std::string& word : words) out += (out.empty() ? "" : ", ") + word;
  return out;
}

}  // namespace

std::string countOf(int count, const std::string& what) {
  return fmt::format("{} {}{}", count, what, count == 1 ? "" : "s");
}

ToolCall::ToolCall(const Tool& tool, Groove start, const Kit& kit, const Arguments& arguments)
    : groove(std::move(start)), tool_(tool), kit_(kit) {
  for (const auto& argument : arguments) {
    const std::string& name = argument.first;
    const bool known = std::any_of(tool.parameters.begin(), tool.parameters.end(),
                                   [&](const ToolParameter& p) { return p.name == name; });
    if (!known) {
      std::vector<std::string> names;
      for (const ToolParameter& p : tool.parameters) names.push_back(p.name);
      fail(ErrorCode::kUnknown,
           fmt::format("it has no parameter \"{}\"; it has {}", name, joined(names)));
    }
  }
  for (const ToolParameter& parameter : tool.parameters) {
    const auto given = arguments.find(parameter.name);
    const std::string& value = given == arguments.end() ? parameter.fallback : given->second;
    check(parameter, value);
    values_[parameter.name] = value;
  }
  hasSpan_ = has("from");
  if (hasSpan_) from_ = length("from");
  if (has("to") && text("to") != "end") to_ = length("to");
  if (has("piece")) piece_ = piece("piece");
  if (has("limb")) limb_ = limb("limb");
}

void ToolCall::note(std::string text) {
  notes_.push_back(std::move(text));
}

void ToolCall::fail(ErrorCode code, std::string message) {
  if (!error_) error_ = Error{code, tool_.name + ": " + std::move(message), {}};
}

void ToolCall::check(const ToolParameter& p, const std::string& value) {
  const auto outside = [&](double number) { return number < p.min || number > p.max; };
  const auto refuse = [&](ErrorCode code, const std::string& allowed) {
    fail(code, fmt::format("{}: \"{}\" is not allowed; {}", p.name, value, allowed));
  };
  const std::string range = fmt::format("{}..{} is", shortest(p.min), shortest(p.max));
  switch (p.kind) {
    case ParameterKind::kChoice:
      if (std::find(p.choices.begin(), p.choices.end(), value) == p.choices.end()) {
        refuse(ErrorCode::kUnknown, joined(p.choices) + " are");
      }
      break;
    case ParameterKind::kPiece:
      if (!kit_.find(value) && (p.choices.empty() || value != p.choices[0])) {
        refuse(ErrorCode::kUnknown, "the kit has no such piece");
      }
      break;
    case ParameterKind::kLimb:
      if (!fromText<Limb>(value) && (p.choices.empty() || value != p.choices[0])) {
        refuse(ErrorCode::kUnknown, allowedWords<Limb>() + " are");
      }
      break;
    case ParameterKind::kWhole: {
      if (value == p.fallback && !wholeNumber(value)) break;  // a word, as "keep"
      const auto number = wholeNumber(value);
      if (!number || outside(static_cast<double>(*number))) refuse(ErrorCode::kLimit, range);
      break;
    }
    case ParameterKind::kReal: {
      if (value == p.fallback && !decimalNumber(value)) break;
      const auto number = decimalNumber(value);
      if (!number || outside(*number)) refuse(ErrorCode::kLimit, range);
      break;
    }
    case ParameterKind::kLength: {
      if (value == p.fallback && !Beat::parse(value)) break;  // a word, as "end"
      const auto beat = Beat::parse(value);
      if (!beat || outside(beat->toDouble()) || beat->den() > kDenominatorMax) {
        refuse(ErrorCode::kLimit, range + " in quarter notes, as 3/4");
      }
      break;
    }
    case ParameterKind::kGrid:
      if (value != "groove" && !Grid::parse(value)) {
        refuse(ErrorCode::kUnknown, kGridsAllowed);
      }
      break;
    case ParameterKind::kFlag:
      if (value != "yes" && value != "no") refuse(ErrorCode::kUnknown, "yes and no are");
      break;
    case ParameterKind::kText:
      break;
  }
}

bool ToolCall::has(std::string_view name) const {
  return values_.find(name) != values_.end();
}

const std::string& ToolCall::text(std::string_view name) const {
  const auto found = values_.find(name);
  assert(found != values_.end());
  return found->second;
}

int ToolCall::whole(std::string_view name) const {
  return static_cast<int>(wholeNumber(text(name)).value_or(0));
}

double ToolCall::real(std::string_view name) const {
  return decimalNumber(text(name)).value_or(0);
}

std::optional<double> ToolCall::realIfGiven(std::string_view name) const {
  return decimalNumber(text(name));
}

Beat ToolCall::length(std::string_view name) const {
  return Beat::parse(text(name)).value_or(Beat(0));
}

std::vector<Beat> ToolCall::slots(Beat from, Beat to) const {
  const auto grid = Grid::parse(text("grid"));
  if (!grid) return slotsOf(groove, from, to);
  std::vector<Beat> out;
  for (Beat at = from; at < to; at += grid->step()) out.push_back(at);
  return out;
}

Beat ToolCall::stepAt(Beat at) const {
  const auto grid = Grid::parse(text("grid"));
  return grid ? grid->step() : slotAfter(groove, at) - at;
}

std::optional<PieceId> ToolCall::piece(std::string_view name) const {
  return kit_.find(text(name));
}

std::optional<Limb> ToolCall::limb(std::string_view name) const {
  return fromText<Limb>(text(name));
}

Limb ToolCall::limbOf(const Hit& hit) const {
  return hit.limb == Limb::kAutomatic ? kit_.usualLimb(hit.piece) : hit.limb;
}

bool ToolCall::concerns(const Hit& hit) const {
  if (hasSpan_ && !inSpan(hit.at)) return false;
  if (piece_ && *piece_ != hit.piece) return false;
  return !limb_ || *limb_ == limbOf(hit);
}

bool ToolCall::concerns(const PedalMove& move) const {
  if (hasSpan_ && !inSpan(move.at)) return false;
  if (piece_ && *piece_ != piece::kHat) return false;
  return !limb_ || *limb_ == kit_.usualLimb(piece::kHatFoot);
}

void ToolCall::readPlaces() {
  if (placesOf_ == groove.hits.size() && placesOf_ > 0) return;
  places_.clear();
  for (std::size_t i = 0; i < groove.hits.size(); ++i) {
    places_[{groove.hits[i].at, groove.hits[i].piece}] = i;
  }
  placesOf_ = groove.hits.size();
}

bool ToolCall::occupied(Beat at, PieceId piece) {
  readPlaces();
  return places_.contains({at, piece});
}

void ToolCall::put(Hit hit) {
  if (occupied(hit.at, hit.piece)) {
    groove.hits[places_.at({hit.at, hit.piece})] = std::move(hit);
    return;
  }
  places_[{hit.at, hit.piece}] = groove.hits.size();
  groove.hits.push_back(std::move(hit));
  placesOf_ = groove.hits.size();
}

bool ToolCall::putIfFree(Hit hit) {
  if (occupied(hit.at, hit.piece)) return false;
  put(std::move(hit));
  return true;
}

void ToolCall::order() {
  std::stable_sort(groove.hits.begin(), groove.hits.end(), writtenBefore);
  keepLoudest(groove.hits);
}

}  // namespace uneven
