// SPDX-License-Identifier: GPL-3.0-or-later
// Tools that add around what is there, or take away what doubles.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "core/measure/level.h"
#include "core/time/count.h"
#include "core/tools/call.h"
#include "core/tools/groups.h"

namespace uneven {
namespace {

Velocity below(Velocity velocity, double db) {
  return Velocity(static_cast<int>(roundToInt(louder(velocity, -db))));
}

// A soft hit `stepFrom` after each of `leads`, unless the place is taken.
void addAfter(ToolCall& call, const std::vector<Hit>& leads, double db,
              const std::function<Beat(Beat)>& stepFrom) {
  int added = 0;
  int skipped = 0;
  for (const Hit& lead : leads) {
    Hit after;
    after.at = lead.at + stepFrom(lead.at);
    after.piece = lead.piece;
    after.limb = lead.limb;
    after.role = Role::kGhost;
    after.velocity = below(lead.velocity, db);
    const bool inside = after.at < call.groove.length();
    if (inside && call.putIfFree(std::move(after))) {
      ++added;
    } else {
      ++skipped;
    }
  }
  call.note(countOf(added, "hit") + " added");
  if (skipped > 0) call.note(countOf(skipped, "hit") + " skipped: the next slot is taken");
}

void echo(ToolCall& call) {
  std::vector<Hit> leads;
  for (const Hit& hit : call.groove.hits) {
    if (call.concerns(hit) && hit.role != Role::kGhost) leads.push_back(hit);
  }
  addAfter(call, leads, call.real("level_db"), [](Beat) { return Beat(1, 4); });
}

void rebound(ToolCall& call) {
  std::vector<Hit> leads;
  for (const Hit& hit : call.groove.hits) {
    if (call.concerns(hit) && hit.role == Role::kAccent) leads.push_back(hit);
  }
  addAfter(call, leads, call.real("level_db"), [&](Beat at) { return call.stepAt(at); });
}

void linearise(ToolCall& call) {
  const PieceId taken = *call.piece("take");
  const Meter meter = call.groove.meter;
  int together = 0;
  std::set<Beat> others;  // where something else is struck
  for (const Hit& hit : call.groove.hits) {
    if (hit.piece != taken) others.insert(hit.at);
  }
  Selection doomed;
  for (std::size_t i = 0; i < call.groove.hits.size(); ++i) {
    const Hit& hit = call.groove.hits[i];
    if (hit.piece != taken || !call.inSpan(hit.at) || !others.contains(hit.at)) continue;
    ++together;
    doomed.insert(refOf(call.groove, i));
    if (!call.flag("list")) continue;
    const std::int64_t bar = hit.at.floorDiv(meter.barLength());
    call.note(fmt::format("not linear: bar {}, {}", bar + 1,
                          countName(hit.at - Beat(bar) * meter.barLength(), meter).text()));
  }
  if (call.flag("list")) return call.note(countOf(together, "place") + " in all");
  call.groove = withoutHits(std::move(call.groove), doomed);
  call.note(countOf(together, "hit") + " taken away");
}

// An opening of the hats without a stroke, as it can be drawn on the Open stage.
void drawOpening(ToolCall& call) {
  const Beat at = call.length("at");
  if (at >= call.groove.length()) {
    return call.fail(ErrorCode::kLimit, "at: it lies outside the groove, which is " +
                                            call.groove.length().toString() +
                                            " quarter notes long");
  }
  PedalMove move;
  move.at = at;
  move.open = call.real("open") / 100;
  move.length = call.length("for");
  if (!call.groove.pedal) call.groove.pedal.emplace();
  takeMove(*call.groove.pedal, at);
  if (move.open > 0) putMove(*call.groove.pedal, move);
  call.note(move.open > 0 ? "opening drawn" : "no opening there");
}

}  // namespace

std::vector<Tool> embellishTools() {
  return {
      {"echo",
       "Echo",
       "Each hit is followed by a much softer one on the next sixteenth",
       {orAny(pieceParameter("piece", "snare", "whose hits; any: all")), spanFrom(), spanTo(),
        realParameter("level_db", "20", "how far below, dB", 3, 60)},
       echo},
      {"rebound",
       "Rebound",
       "One ghost in the slot after each accent",
       {orAny(pieceParameter("piece", "snare", "whose accents; any: all")), spanFrom(), spanTo(),
        gridParameter(), realParameter("level_db", "22", "how far below, dB", 3, 60)},
       rebound},
      {"draw-opening",
       "Draw an opening",
       "Opens the hats without a stroke, in place of a drawn opening that begins there",
       {lengthParameter("at", "0", "where, quarter notes from the groove's start", 0, 256),
        realParameter("open", "50", "how far, in percent; 0 takes it away", 0, 100),
        lengthParameter("for", "1/4", "how long, quarter notes; 0: until the next stroke", 0, 256)},
       drawOpening},
      {"linearise",
       "Linearise",
       "Takes a piece away wherever something else strikes",
       {pieceParameter("take", "hat", "what gives way"), spanFrom(), spanTo(),
        flagParameter("list", "no", "yes: only tell where the part is not linear")},
       linearise}};
}

}  // namespace uneven
