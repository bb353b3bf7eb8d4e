// SPDX-License-Identifier: GPL-3.0-or-later
// Tools that write: stickings, ostinatos, backbeats, the gaps another limb leaves.
#include <fmt/format.h>

#include <map>
#include <set>

#include "core/base/number.h"
#include "core/song/names.h"
#include "core/tools/call.h"
#include "core/tools/groups.h"
#include "core/tools/sticking.h"

namespace uneven {
namespace {

Velocity velocityOf(const ToolCall& call, Role role) {
  if (role == Role::kAccent) return call.velocity("accent");
  return call.velocity(role == Role::kGhost ? "ghost" : "velocity");
}

struct Player {
  PieceId piece;
  Limb limb = Limb::kAutomatic;
};

Player playerOf(const ToolCall& call, char who) {
  switch (who) {
    case 'R':
      return {*call.piece("right"), Limb::kRightHand};
    case 'L':
      return {*call.piece("left"), Limb::kLeftHand};
    case 'K':
      return {*call.piece("kick"), Limb::kRightFoot};
    default:
      return {*call.piece("foot"), Limb::kLeftFoot};
  }
}

std::vector<std::string> rudimentNames() {
  std::vector<std::string> out{"none"};
  for (const Rudiment& rudiment : rudiments()) out.emplace_back(rudiment.name);
  return out;
}

void laySticking(ToolCall& call) {
  const std::string& name = call.text("rudiment");
  const Rudiment* rudiment = findRudiment(name);
  const std::string text =
      rudiment != nullptr ? std::string(rudiment->sticking) : call.text("text");
  const Result<Sticking> sticking = readSticking(text);
  if (!sticking) return call.fail(sticking.error().code, sticking.error().message);
  const bool ownGrid = rudiment != nullptr && call.text("grid") == "groove";
  std::vector<Beat> slots = call.slots(call.from(), call.to());
  if (ownGrid) {
    slots.clear();
    const Beat step(1, rudiment->slotsPerQuarter);
    for (Beat at = call.from(); at < call.to(); at += step) slots.push_back(at);
  }
  int laid = 0;
  int beyond = 0;
  std::size_t next = 0;
  do {
    for (const auto& slot : *sticking) {
      for (const StickingStroke& stroke : slot) {
        if (next >= slots.size()) {
          ++beyond;
          continue;
        }
        const Beat at = slots[next];
        const Player player = playerOf(call, stroke.who);
        Hit hit;
        hit.at = at;
        hit.piece = player.piece;
        hit.limb = player.limb;
        hit.role = stroke.role;
        hit.ornament = stroke.ornament;
        hit.velocity = velocityOf(call, stroke.role);
        call.put(std::move(hit));
        ++laid;
      }
      ++next;
    }
  } while (call.flag("repeat") && next < slots.size());
  call.note(countOf(laid, "hit") + " laid");
  if (beyond > 0 && !call.flag("repeat")) {
    call.note(countOf(beyond, "hit") + " beyond the end left out");
  }
}

Limb leadHand(const Kit& kit) {
  return kit.setup.lead == Side::kLeft ? Limb::kLeftHand : Limb::kRightHand;
}

// Which slots of the pattern are struck, in quarter notes from its start, and how long it is.
struct Pattern {
  std::vector<Beat> at;
  Beat length;
};

Pattern patternOf(ToolCall& call) {
  const std::string& kind = call.text("kind");
  if (kind == "quarters") return {{0}, 1};
  if (kind == "eighths") return {{0}, {1, 2}};
  if (kind == "offbeats") return {{{1, 2}}, 1};
  if (kind == "sixteenths" || kind == "hand-to-hand") return {{0}, {1, 4}};
  if (kind == "shuffle") return {{0, {2, 3}}, 1};
  if (kind == "triplets") return {{0}, {1, 3}};
  if (kind == "broken-sixteenths") return {{0, {1, 4}, {1, 2}}, 1};
  if (kind == "dotted") return {{0}, {3, 4}};
  Pattern cell;
  const Beat step = call.stepAt(call.from());
  for (const char c : call.text("cell")) {
    if (c == ' ' || c == '|') continue;
    if (c == 'x' || c == 'X') {
      cell.at.push_back(cell.length);
    } else if (c != '.' && c != '-') {
      call.fail(ErrorCode::kSyntax, fmt::format("cell: \"{}\" is neither x nor .", c));
    }
    cell.length += step;
  }
  if (cell.at.empty()) call.fail(ErrorCode::kSyntax, "cell: at least one x is needed, as x.x");
  return cell;
}

void layOstinato(ToolCall& call) {
  const Pattern pattern = patternOf(call);
  if (call.failed()) return;
  const PieceId piece = *call.piece("piece");
  const bool handToHand = call.text("kind") == "hand-to-hand";
  const Limb lead = leadHand(call.kit());
  if (call.flag("replace")) {
    std::erase_if(call.groove.hits,
                  [&](const Hit& hit) { return hit.piece == piece && call.inSpan(hit.at); });
  }
  int laid = 0;
  for (Beat start = call.from(); start < call.to(); start += pattern.length) {
    for (const Beat offset : pattern.at) {
      Hit hit;
      hit.at = start + offset;
      if (hit.at >= call.to()) break;
      hit.piece = piece;
      if (handToHand) hit.limb = laid % 2 == 0 ? lead : mirrored(lead);
      const bool onCount =
          hit.at.floorDiv(Beat(1)) * hit.at.den() == hit.at.num();  // on a quarter note
      hit.velocity = call.velocity(onCount ? "on_beat" : "velocity");
      if (call.putIfFree(std::move(hit))) ++laid;
    }
  }
  call.note(countOf(laid, "hit") + " laid");
}

// "2 4&" and "3a" as positions in the bar: a count and its e, & or a.
std::vector<Beat> typedCounts(ToolCall& call, const std::string& text) {
  std::vector<Beat> out;
  const Beat unit = call.groove.meter.countUnit();
  for (std::size_t i = 0; i < text.size();) {
    if (text[i] == ' ' || text[i] == ',') {
      ++i;
      continue;
    }
    const std::size_t digits = text.find_first_not_of("0123456789", i);
    const std::size_t end = std::min(digits, text.size());
    const auto count = wholeNumber(std::string_view(text).substr(i, end - i));
    if (!count || *count < 1 || *count > 64) {
      call.fail(ErrorCode::kSyntax,
                fmt::format("places: letter {}: a count must stand here, as in 2 4&", i + 1));
      return out;
    }
    Beat at = Beat(*count - 1) * unit;
    i = end;
    const std::size_t partial = i < text.size() ? std::string_view("e&a").find(text[i]) : 3;
    if (partial < 3) {
      at += unit * Beat(static_cast<std::int64_t>(partial) + 1, 4);
      ++i;
    }
    out.push_back(at);
  }
  if (out.empty()) call.fail(ErrorCode::kSyntax, "places: write counts, as 2 4&");
  return out;
}

void layBackbeat(ToolCall& call) {
  const std::string& kind = call.text("kind");
  const Beat bar = call.groove.meter.barLength();
  std::vector<Beat> places;
  if (kind == "typed") {
    places = typedCounts(call, call.text("places"));
    if (call.failed()) return;
  }
  if (kind == "two-and-four") places = {1, 3};
  if (kind == "half-time") places = {2};
  if (kind == "double-time") places = {{1, 2}, {3, 2}, {5, 2}, {7, 2}};
  if (kind == "displaced-four") places = {1, {7, 2}};
  if (kind == "displaced-three") places = {{5, 2}};
  int laid = 0;
  for (Beat start; start < call.groove.length(); start += bar) {
    for (const Beat place : places) {
      if (place >= bar || !call.inSpan(start + place)) continue;
      Hit hit;
      hit.at = start + place;
      hit.piece = *call.piece("piece");
      hit.role = Role::kAccent;
      hit.velocity = call.velocity("velocity");
      if (call.flag("rim_shot")) hit.stroke = StrokeKind::kRimShot;
      call.put(std::move(hit));
      ++laid;
    }
  }
  call.note(countOf(laid, "backbeat") + " laid");
}

void fillGaps(ToolCall& call) {
  const Limb limb = *call.limb("limb");
  const auto around = call.limb("around");
  const std::string& accents = call.text("accents");
  std::set<Beat> taken;
  for (const Hit& hit : call.groove.hits) {
    const Limb by = call.limbOf(hit);
    if (by == limb || !around || by == *around) taken.insert(hit.at);
  }
  std::vector<Beat> free = call.slots(call.from(), call.to());
  std::erase_if(free, [&](Beat at) { return taken.contains(at); });
  int laid = 0;
  for (const Beat at : free) {
    Hit hit;
    hit.at = at;
    hit.piece = *call.piece("piece");
    hit.limb = limb;
    const auto index = static_cast<std::size_t>(laid);
    const bool accent = !accents.empty() && accents[index % accents.size()] == '>';
    hit.role = accent ? Role::kAccent : Role::kGhost;
    hit.velocity = call.velocity(accent ? "accent" : "ghost");
    if (call.putIfFree(std::move(hit))) ++laid;
  }
  call.note(countOf(laid, "gap") + " filled");
}

}  // namespace

std::vector<Tool> entryTools() {
  const auto velocities = [](std::vector<ToolParameter> list) {
    list.push_back(velocityParameter("velocity", "84", "of normal hits, 1..127"));
    list.push_back(velocityParameter("accent", "112", "of accents, 1..127"));
    list.push_back(velocityParameter("ghost", "30", "of ghosts, 1..127"));
    return list;
  };
  return {{"sticking", "Sticking line",
           "Lays a sticking, as RLLK RLLK (R+K) L . R, or a rudiment, over the grid",
           velocities({textParameter("text", "",
                                     "letters R L K F; lower case or [R] ghosts, >R accents, "
                                     "~R flams, =R drags, + together, . leaves a slot"),
                       choiceParameter("rudiment", "a rudiment in place of text", rudimentNames()),
                       spanFrom(), spanTo(), gridParameter(),
                       flagParameter("repeat", "no", "yes: over and over until the end"),
                       pieceParameter("right", "snare", "what R strikes"),
                       pieceParameter("left", "snare", "what L strikes"),
                       pieceParameter("kick", "kick", "what K strikes"),
                       pieceParameter("foot", "hat-foot", "what F strikes")}),
           laySticking},
          {"ostinato",
           "Ostinato",
           "Lays a figure that a limb keeps up",
           {choiceParameter("kind", "the figure",
                            {"eighths", "quarters", "offbeats", "sixteenths", "hand-to-hand",
                             "shuffle", "triplets", "broken-sixteenths", "dotted", "cell"}),
            textParameter("cell", "", "for kind=cell: x struck, . left, one sign a slot, as x.."),
            gridParameter(), pieceParameter("piece", "hat", "what is struck"), spanFrom(), spanTo(),
            velocityParameter("velocity", "62", "between the beats, 1..127"),
            velocityParameter("on_beat", "84", "on the beats, 1..127"),
            flagParameter("replace", "yes", "yes: the piece's other hits in the span go")},
           layOstinato},
          {"backbeat",
           "Backbeat",
           "Lays the backbeat in every bar",
           {choiceParameter("kind",
                            "where: 2 and 4, half time on 3, double time on every &, 4 on its &, "
                            "3 on its &, or typed",
                            {"two-and-four", "half-time", "double-time", "displaced-four",
                             "displaced-three", "typed"}),
            textParameter("places", "2 4&", "for kind=typed: counts with e, & or a, as 2 4&"),
            pieceParameter("piece", "snare", "what is struck"), spanFrom(), spanTo(),
            velocityParameter("velocity", "112", "1..127"),
            flagParameter("rim_shot", "yes", "yes: as rim shots")},
           layBackbeat},
          {"fill-gaps",
           "Fill the gaps",
           "A limb plays every slot that another leaves free",
           {limbParameter("limb", "left-hand", "who fills"),
            orAny(limbParameter("around", "any", "whose hits leave the gaps; any: everybody's")),
            pieceParameter("piece", "snare", "what is struck"), gridParameter(), spanFrom(),
            spanTo(), velocityParameter("ghost", "30", "of the ghosts, 1..127"),
            velocityParameter("accent", "112", "of the accents, 1..127"),
            textParameter("accents", "", "over and over: > accent, . ghost")},
           fillGaps}};
}

}  // namespace uneven
