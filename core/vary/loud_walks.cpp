// SPDX-License-Identifier: GPL-3.0-or-later
// Accents, ghosts and ornaments.
#include <fmt/format.h>

#include <algorithm>
#include <functional>

#include "core/song/names.h"
#include "core/song/slots.h"
#include "core/tools/groups.h"
#include "core/vary/walk_call.h"

namespace uneven {
namespace {

Hit inRole(const WalkCall& call, Hit hit, Role role) {
  if (hit.role == role) return hit;
  hit.role = role;
  hit.velocity = call.fresh(hit.piece, hit.at, role).velocity;
  return hit;
}

Walk accentsWalk(WalkCall& call) {
  const std::vector<Hit> hits = call.free();
  const Beat count = call.core().meter.countUnit();
  const auto inCount = [&](const Hit& hit) {
    return hit.at - Beat(hit.at.floorDiv(count)) * count;
  };
  struct Pattern {
    std::string words;
    std::function<bool(const Hit&, std::size_t)> has;  // the hit, and the how-manieth it is
  };
  std::vector<Pattern> patterns;
  const auto at = [&](const std::string& words, const std::vector<Beat>& places) {
    patterns.push_back({words, [=](const Hit& hit, std::size_t) {
                          const Beat here = inCount(hit) / count;
                          return std::find(places.begin(), places.end(), here) != places.end();
                        }});
  };
  at("on the beats", {Beat(0)});
  at("on the &s", {Beat(1, 2)});
  at("on the e's", {Beat(1, 4)});
  at("on the a's", {Beat(3, 4)});
  at("on the e's and a's", {Beat(1, 4), Beat(3, 4)});
  at("on the beats and &s", {Beat(0), Beat(1, 2)});
  at("on the last triplets", {Beat(2, 3)});
  at("on the middle triplets", {Beat(1, 3)});
  for (const int every : {3, 4, 5, 2}) {
    for (int from = 0; from < every; ++from) {
      static constexpr const char* kNth[] = {"first", "second", "third", "fourth", "fifth"};
      patterns.push_back({fmt::format("on every {} from the {}", kNth[every - 1], kNth[from]),
                          [=](const Hit&, std::size_t i) {
                            return i % static_cast<std::size_t>(every) ==
                                   static_cast<std::size_t>(from);
                          }});
    }
  }
  patterns.push_back({"on all", [](const Hit&, std::size_t) { return true; }});
  patterns.push_back({"on none", [](const Hit&, std::size_t) { return false; }});
  const std::string& which = call.text("which");
  const auto piece = call.piece("piece");
  std::string who = call.text("limb");
  std::replace(who.begin(), who.end(), '-', ' ');
  if (piece) who = call.pieceName(*piece);
  WalkList list(call);
  for (const Role role : {Role::kAccent, Role::kGhost}) {
    if (which != "both" && which != (role == Role::kAccent ? "accents" : "ghosts")) continue;
    for (const Pattern& pattern : patterns) {
      Changes changes;
      for (std::size_t i = 0; i < hits.size(); ++i) {
        Role to = hits[i].role;
        if (pattern.has(hits[i], i)) {
          to = role;
        } else if (to == role) {
          to = Role::kNormal;
        }
        changes[{hits[i].at, hits[i].piece}] = inRole(call, hits[i], to);
      }
      list.add(fmt::format("{}: {} {}", who, role == Role::kAccent ? "accents" : "ghosts",
                           pattern.words),
               std::move(changes));
    }
  }
  return std::move(list).walk(piece.value_or(hits.empty() ? piece::kHat : hits.front().piece));
}

Walk ornamentsWalk(WalkCall& call) {
  WalkList list(call);
  std::vector<Hit> hits = call.free();
  constexpr std::size_t kWays = 7;
  if (call.tooMany(hits.size() * kWays)) return {};
  std::reverse(hits.begin(), hits.end());
  for (const Ornament ornament :
       {Ornament::kFlam, Ornament::kDrag, Ornament::kRuff, Ornament::kBuzz, Ornament::kDiddle}) {
    for (Hit hit : hits) {
      hit.ornament = ornament;
      Changes changes;
      changes[{hit.at, hit.piece}] = hit;
      list.add(fmt::format("{} on the {} on {}", textOf(ornament), call.pieceName(hit.piece),
                           call.place(hit.at)),
               std::move(changes));
    }
  }
  // Two or three in the place of one.
  for (const int strokes : {2, 3}) {
    for (const Hit& hit : hits) {
      const Beat slot = slotLength(call.core(), hit.at);
      Changes changes;
      bool room = true;
      for (int k = 1; k < strokes; ++k) {
        Hit more = call.fresh(hit.piece, hit.at + Beat(k, strokes) * slot, Role::kGhost);
        if (hit.role == Role::kNormal) more.role = Role::kNormal;
        more.velocity = Velocity(hit.velocity.value() * 3 / 4);
        more.limb = hit.limb;
        room = room && !call.occupied(more.at, more.piece) && more.at < call.core().length();
        changes[{more.at, more.piece}] = more;
      }
      if (!room) continue;
      list.add(
          fmt::format("{} strokes on {} in the place of one on {}", strokes == 2 ? "two" : "three",
                      call.pieceName(hit.piece), call.place(hit.at)),
          std::move(changes));
    }
  }
  return std::move(list).walk(call.piece("piece").value_or(piece::kSnare));
}

}  // namespace

std::vector<WalkKind> loudWalks() {
  std::vector<WalkKind> out(2);
  out[0] = {{"accents",
             "Accents and ghosts",
             "Accents or ghosts of a limb on the beats, &s, e's, a's, every second to fifth stroke",
             inSpan({orAny(limbParameter("limb", "right-hand", "played by")),
                     orAny(pieceParameter("piece", "any", "whose strokes; any: all")),
                     choiceParameter("which", "what is set", {"accents", "ghosts", "both"})}),
             {}},
            accentsWalk};
  out[1] = {{"ornaments",
             "Ornaments",
             "Flam, drag, ruff, buzz, diddle on each stroke in turn; two or three in its place",
             inSpan({orAny(pieceParameter("piece", "snare", "whose strokes; any: all")),
                     orAny(limbParameter("limb", "any", "played by"))}),
             {}},
            ornamentsWalk};
  return out;
}

}  // namespace uneven
