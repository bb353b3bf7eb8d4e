// SPDX-License-Identifier: GPL-3.0-or-later
// Tools for velocities. Levels are in dB by L(v) = 40 log10(v / 127) (core/measure/level.h).
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/number.h"
#include "core/measure/level.h"
#include "core/tools/call.h"
#include "core/tools/groups.h"

namespace uneven {
namespace {

Velocity rounded(double velocity) {
  return Velocity(static_cast<int>(roundToInt(velocity)));
}

std::vector<Hit*> concerned(ToolCall& call) {
  std::vector<Hit*> out;
  for (Hit& hit : call.groove.hits) {
    if (call.concerns(hit)) out.push_back(&hit);
  }
  return out;
}

void accentPattern(ToolCall& call) {
  const std::string& on = call.text("on");
  std::string cell = call.text("cell");
  std::erase(cell, ' ');
  if (on == "cell" && (cell.empty() || cell.find_first_not_of(">.xX-") != std::string::npos)) {
    return call.fail(ErrorCode::kSyntax, "cell: > for an accent and . for none, as >..>.");
  }
  const Beat unit = call.groove.meter.countUnit();
  const Beat bar = call.groove.meter.barLength();
  // Where the bar's counts are grouped by hand, its groups begin where it is accented.
  std::set<Beat> grouped;
  if (!call.groove.grouping.empty()) {
    Beat at;
    for (const int counts : call.groove.groups()) {
      grouped.insert(at);
      at += Beat(counts) * Beat(4, call.groove.meter.d);
    }
  }
  int index = 0;
  int accents = 0;
  for (Hit* hit : concerned(call)) {
    const Beat inBar = hit->at - Beat(hit->at.floorDiv(bar)) * bar;
    const Beat inCount = inBar - Beat(inBar.floorDiv(unit)) * unit;
    bool accent = false;
    if (on == "downbeats") accent = grouped.empty() ? inCount == Beat(0) : grouped.contains(inBar);
    if (on == "offbeats") accent = inCount == unit / Beat(2);
    if (on == "every-nth") accent = index % call.whole("n") == 0;
    if (on == "cell") accent = cell[static_cast<std::size_t>(index) % cell.size()] == '>';
    hit->role = accent ? Role::kAccent : Role::kNormal;
    hit->velocity = call.velocity(accent ? "accent" : "velocity");
    accents += accent ? 1 : 0;
    ++index;
  }
  call.note(fmt::format("{} of {}", countOf(accents, "accent"), countOf(index, "hit")));
}

// "0 -6 3": levels in dB, evenly spread over the span.
std::vector<double> typedLevels(ToolCall& call) {
  std::vector<double> out;
  std::string word;
  for (const char c : call.text("levels") + " ") {
    if (c != ' ') {
      word += c;
      continue;
    }
    if (word.empty()) continue;
    const auto db = decimalNumber(word);
    if (!db || std::abs(*db) > 40) {
      call.fail(ErrorCode::kSyntax,
                fmt::format("levels: \"{}\" is not allowed; -40..40 dB are, as 0 -6 3", word));
      return out;
    }
    out.push_back(*db);
    word.clear();
  }
  if (out.empty()) call.fail(ErrorCode::kSyntax, "levels: write dB, as 0 -6 3");
  return out;
}

// Straight lines between levels that are evenly spread; `along` in 0..1.
double between(const std::vector<double>& levels, double along) {
  const double place = along * static_cast<double>(levels.size() - 1);
  const auto before = static_cast<std::size_t>(place);
  const std::size_t after = std::min(before + 1, levels.size() - 1);
  return std::lerp(levels[before], levels[after], place - static_cast<double>(before));
}

void shape(ToolCall& call) {
  const std::vector<Hit*> hits = concerned(call);
  std::vector<double> typed;
  if (call.text("kind") == "typed") {
    typed = typedLevels(call);
    if (call.failed()) return;
  }
  if (hits.empty()) return call.note("no hits there");
  const double first = hits.front()->at.toDouble();
  const double span = hits.back()->at.toDouble() - first;
  const std::string& kind = call.text("kind");
  const double low = call.real("low_db");
  for (Hit* hit : hits) {
    const double along = span == 0 ? 1 : (hit->at.toDouble() - first) / span;
    double down = 0;  // share of the way down
    if (kind == "crescendo") down = 1 - along;
    if (kind == "decrescendo") down = along;
    if (kind == "swell") down = std::abs(2 * along - 1);
    const double db = typed.empty() ? -low * down : between(typed, along);
    hit->velocity = rounded(louder(hit->velocity, db));
  }
  call.note(countOf(static_cast<int>(hits.size()), "hit") + " shaped");
}

// Around the median: factor above 1 spreads, below 1 compresses.
void spread(ToolCall& call) {
  const std::vector<Hit*> hits = concerned(call);
  if (hits.empty()) return call.note("no hits there");
  std::vector<int> velocities;
  velocities.reserve(hits.size());
  for (const Hit* hit : hits) velocities.push_back(hit->velocity.value());
  const double median = medianOf(velocities);
  for (Hit* hit : hits) {
    hit->velocity = rounded(median + (hit->velocity.value() - median) * call.real("factor"));
  }
  call.note(countOf(static_cast<int>(hits.size()), "hit") + " spread around " +
            fmt::format("{}", median));
}

void handBias(ToolCall& call) {
  const Limb weak = *call.limb("weak");
  int count = 0;
  for (Hit* hit : concerned(call)) {
    if (call.limbOf(*hit) != weak) continue;
    hit->velocity = rounded(louder(hit->velocity, -call.real("db")));
    ++count;
  }
  call.note(countOf(count, "hit") + " softened");
}

// All hits of a role together, their differences in dB kept; held at the bound, and told.
void moveRole(ToolCall& call, Role role, const char* bound, bool ceiling) {
  const int limit = call.whole(bound);
  int count = 0;
  int held = 0;
  for (Hit* hit : concerned(call)) {
    if (hit->role != role) continue;
    const double wanted = louder(hit->velocity, call.real("db"));
    const bool beyond = ceiling ? wanted > limit : wanted < limit;
    hit->velocity = rounded(beyond ? limit : wanted);
    held += beyond ? 1 : 0;
    ++count;
  }
  call.note(countOf(count, "hit") + " moved");
  if (held > 0) {
    call.note(fmt::format("{} held at {} {}", countOf(held, "hit"), bound, limit));
  }
}

void ghostDepth(ToolCall& call) {
  moveRole(call, Role::kGhost, "ceiling", true);
}
void accentHeight(ToolCall& call) {
  moveRole(call, Role::kAccent, "floor", false);
}

}  // namespace

std::vector<Tool> levelTools() {
  return {
      {"accent-pattern", "Accent pattern", "Accents on some of the hits, the others normal",
       whose({choiceParameter("on", "where", {"downbeats", "offbeats", "every-nth", "cell"}),
              wholeParameter("n", "3", "for on=every-nth", 1, 64),
              textParameter("cell", "", "for on=cell: > accent, . none, over and over"),
              velocityParameter("accent", "112", "of accents, 1..127"),
              velocityParameter("velocity", "70", "of the others, 1..127")}),
       accentPattern},
      {"shape", "Shape", "Crescendo, decrescendo, swell or a typed curve over the span",
       whose({choiceParameter("kind", "the shape", {"crescendo", "decrescendo", "swell", "typed"}),
              realParameter("low_db", "12", "how far down at its softest, dB", 0, 40),
              textParameter("levels", "", "for kind=typed: dB along the span, as 0 -6 3")}),
       shape},
      {"spread", "Spread or compress", "Scales velocities around their median",
       whose({realParameter("factor", "0.5", "below 1 compresses, above 1 spreads", 0, 4)}),
       spread},
      {"hand-bias", "Hand bias", "The weaker hand a little softer",
       whose({limbParameter("weak", "left-hand", "the weaker limb"),
              realParameter("db", "1.5", "how much softer, dB", 0, 20)}),
       handBias},
      {"ghost-depth", "Ghost depth", "Moves all ghosts together, their differences kept",
       whose({realParameter("db", "-2", "louder (+) or softer (−), dB", -40, 40),
              velocityParameter("ceiling", std::to_string(kGhostCeiling),
                                "no ghost above this velocity")}),
       ghostDepth},
      {"accent-height", "Accent height", "Moves all accents together, their differences kept",
       whose({realParameter("db", "1", "louder (+) or softer (−), dB", -40, 40),
              velocityParameter("floor", std::to_string(kAccentFloor),
                                "no accent below this velocity")}),
       accentHeight}};
}

}  // namespace uneven
