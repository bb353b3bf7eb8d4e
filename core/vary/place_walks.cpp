// SPDX-License-Identifier: GPL-3.0-or-later
// Putting strokes and taking them away.
#include <fmt/format.h>

#include <algorithm>
#include <memory>

#include "core/song/names.h"
#include "core/time/count.h"
#include "core/tools/groups.h"
#include "core/vary/walk_call.h"

namespace uneven {
namespace {

constexpr int kStrokesMost = 4;

// n over k; beyond 2^62 that.
std::uint64_t outOf(std::uint64_t n, std::uint64_t k) {
  if (k > n) return 0;
  constexpr std::uint64_t kMost = std::uint64_t{1} << 62U;
  std::uint64_t out = 1;
  for (std::uint64_t i = 1; i <= k; ++i) {
    if (out > kMost / (n - k + i)) return kMost;
    out = out * (n - k + i) / i;
  }
  return out;
}

// Every set of k of n places by its number: first the runs of neighbours, from the last to the
// first, then the others, those with the last places first. By the combinatorial number system (D.
// E. Knuth, The Art of Computer Programming 4A, 7.2.1.3).
class Sets {
 public:
  Sets(std::uint64_t n, std::uint64_t k) : n_(n), k_(k), count_(outOf(n, k)) {
    if (k < 2 || n < k) return;
    for (std::uint64_t first = n - k + 1; first-- > 0;) {
      std::uint64_t rank = 0;
      for (std::uint64_t i = 0; i < k; ++i) rank += outOf(first + i, i + 1);
      runs_.push_back(count_ - 1 - rank);  // ascending
    }
  }
  std::uint64_t count() const { return count_; }
  // Ascending.
  std::vector<std::uint64_t> at(std::uint64_t index) const {
    std::uint64_t place = index;
    if (index < runs_.size()) {
      place = runs_[index];
    } else if (!runs_.empty()) {
      place = index - runs_.size();
      for (const std::uint64_t run : runs_) {
        if (run > place) break;
        ++place;
      }
    }
    std::uint64_t rank = count_ - 1 - place;
    std::vector<std::uint64_t> out(k_);
    std::uint64_t top = n_;
    for (std::uint64_t i = k_; i > 0; --i) {
      // The greatest c below the one before with "c over i" within the rank.
      std::uint64_t low = i - 1, high = top - 1;
      while (low < high) {
        const std::uint64_t middle = (low + high + 1) / 2;
        if (outOf(middle, i) <= rank) {
          low = middle;
        } else {
          high = middle - 1;
        }
      }
      out[i - 1] = low;
      rank -= outOf(low, i);
      top = low;
    }
    return out;
  }

 private:
  std::uint64_t n_, k_, count_;
  std::vector<std::uint64_t> runs_;  // their numbers among all
};

Hit wantedHit(const WalkCall& call, PieceId piece, Beat at) {
  const Role role = fromText<Role>(call.text("role")).value_or(Role::kNormal);
  Hit hit = call.fresh(piece, at, role);
  if (call.realIfGiven("velocity")) hit.velocity = call.velocity("velocity");
  return hit;
}

std::vector<ToolParameter> newStrokes() {
  return {{"velocity",
           ParameterKind::kWhole,
           "like",
           "of the new strokes, 1 to 127; like: as the piece's others",
           Velocity::kMin,
           Velocity::kMax,
           {}},
          choiceParameter("role", "of the new strokes", {"normal", "accent", "ghost"})};
}

Walk placementWalk(WalkCall& call) {
  const PieceId piece = *call.piece("piece");
  std::vector<Beat> free;
  for (const Beat at : call.spanSlots()) {
    if (!call.occupied(at, piece)) free.push_back(at);
  }
  const bool mirrored = call.text("order") == "first-last";
  if (mirrored) std::reverse(free.begin(), free.end());
  auto sets =
      std::make_shared<const Sets>(free.size(), static_cast<std::uint64_t>(call.whole("strokes")));
  Walk out;
  out.voice = piece;
  out.count = sets->count();
  // Names are made from the call, which does not outlast this.
  struct Ground {
    Groove core;
    Kit kit;
    std::vector<Beat> free;
    std::vector<std::string> places;
    Hit hit;
    std::string piece;
  };
  auto ground = std::make_shared<Ground>();
  ground->core = call.core();
  ground->kit = call.kit();
  ground->free = free;
  for (const Beat at : free) ground->places.push_back(call.place(at));
  ground->hit = wantedHit(call, piece, Beat(0));
  ground->piece = call.pieceName(piece);
  out.at = [sets, ground = std::shared_ptr<const Ground>(std::move(ground)),
            mirrored](std::uint64_t i) {
    std::vector<std::uint64_t> set = sets->at(i);
    if (mirrored) std::reverse(set.begin(), set.end());
    Changes changes;
    std::vector<std::string> words;
    for (const std::uint64_t s : set) {
      Hit hit = ground->hit;
      hit.at = ground->free[s];
      changes[{hit.at, hit.piece}] = hit;
      words.push_back(ground->places[s]);
    }
    return Variant{ground->piece + " on " + joinedWords(words),
                   keyOf(ground->core, changes, ground->kit), withChanges(ground->core, changes)};
  };
  return out;
}

// Subsets of n partials in the order in which they are taught: last; first and last; those between;
// neighbours from the last on; the others, smaller and later ones first; all; none; the first.
std::vector<std::uint32_t> teachingOrder(int n) {
  std::vector<std::uint32_t> out;
  const auto put = [&](std::uint32_t set) {
    if (std::find(out.begin(), out.end(), set) == out.end()) out.push_back(set);
  };
  const std::uint32_t all = (1U << static_cast<unsigned>(n)) - 1, first = 1;
  const std::uint32_t last = 1U << static_cast<unsigned>(n - 1);
  put(last);
  if (n > 1) put(first | last);
  for (int i = n - 2; i > 0; --i) put(1U << static_cast<unsigned>(i));
  for (int i = n - 2; i >= 0; --i) put(3U << static_cast<unsigned>(i));
  for (int size = 2; size < n; ++size) {
    for (std::uint32_t set = all; set > 0; --set) {
      if (__builtin_popcount(set) == size) put(set);
    }
  }
  put(all);
  put(0);
  put(first);
  return out;
}

Walk partialsWalk(WalkCall& call) {
  const PieceId piece = *call.piece("piece");
  const Beat count = call.core().meter.countUnit();
  const Beat parts = count / call.step();
  constexpr std::int64_t kPartsMost = 8;
  if (parts.den() != 1 || parts.num() < 1 || parts.num() > kPartsMost) {
    call.fail(ErrorCode::kLimit, fmt::format("a count of {} is not 1 to {} slots of this grid",
                                             count.toString(), kPartsMost));
    return {};
  }
  const int n = static_cast<int>(parts.num());
  const Beat step = call.step();
  std::vector<Beat> beats;
  for (Beat at = Beat(call.from().floorDiv(count)) * count; at < call.to(); at += count) {
    if (at >= call.from()) beats.push_back(at);
  }
  const auto fill = [&](Changes& changes, Beat beat, std::uint32_t set) {
    for (const Hit& hit : call.core().hits) {
      if (hit.piece == piece && hit.at >= beat && hit.at < beat + count && hit.at < call.to())
        changes[{hit.at, piece}] = std::nullopt;
    }
    for (int p = 0; p < n; ++p) {
      if (((set >> static_cast<unsigned>(p)) & 1U) == 0) continue;
      const Beat at = beat + Beat(p) * step;
      if (at >= call.to()) continue;
      // What stood there stays as it was.
      const auto here = indexOf(call.core(), {at, piece});
      changes[{at, piece}] = here ? call.core().hits[*here] : wantedHit(call, piece, at);
    }
  };
  const auto label = [&](int p) {
    const std::string partial = countName(Beat(p) * step, call.core().meter).partial;
    return partial.empty() ? std::string("beat") : partial;
  };
  const std::size_t subsets = std::size_t{1} << static_cast<unsigned>(n);
  const std::size_t hits = beats.size() * static_cast<std::size_t>(n);
  const bool all = call.text("each") == "all";
  if (all ? call.tooMany(subsets, hits) : call.tooMany(subsets * beats.size())) return {};
  WalkList list(call);
  const std::string name = call.pieceName(piece);
  if (all) {
    list.welcomeCore();
    for (const std::uint32_t set : teachingOrder(n)) {
      Changes changes;
      std::vector<std::string> words;
      for (const Beat beat : beats) fill(changes, beat, set);
      for (int p = 0; p < n; ++p) {
        if (((set >> static_cast<unsigned>(p)) & 1U) != 0) words.push_back(label(p));
      }
      const bool whole = set == (1U << static_cast<unsigned>(n)) - 1;
      list.add(words.empty() ? name + " out"
               : whole       ? name + " on every partial"
                             : name + " on each " + joinedWords(words),
               std::move(changes));
    }
  } else {
    for (const Beat beat : beats) {
      for (const std::uint32_t set : teachingOrder(n)) {
        Changes changes;
        fill(changes, beat, set);
        std::vector<Beat> at;
        for (int p = 0; p < n; ++p) {
          if (((set >> static_cast<unsigned>(p)) & 1U) != 0) at.push_back(beat + Beat(p) * step);
        }
        list.add(at.empty() ? fmt::format("no {} in {}", name, call.place(beat))
                            : name + " on " + call.places(at),
                 std::move(changes));
      }
    }
  }
  return std::move(list).walk(piece);
}

Walk addWalk(WalkCall& call) {
  std::vector<PieceId> pieces;
  if (const auto piece = call.piece("piece")) {
    pieces.push_back(*piece);
  } else {
    for (const PieceId p : call.kit().order) {
      const auto& hits = call.core().hits;
      if (std::any_of(hits.begin(), hits.end(), [&](const Hit& h) { return h.piece == p; }))
        pieces.push_back(p);
    }
  }
  WalkList list(call);
  std::vector<Beat> slots = call.spanSlots();
  if (call.tooMany(pieces.size() * slots.size())) return {};
  std::reverse(slots.begin(), slots.end());
  for (const PieceId piece : pieces) {
    for (const Beat at : slots) {
      if (call.occupied(at, piece)) continue;
      Changes changes;
      changes[{at, piece}] = wantedHit(call, piece, at);
      list.add(fmt::format("{} on {}", call.pieceName(piece), call.place(at)), std::move(changes));
    }
  }
  return std::move(list).walk(pieces.empty() ? piece::kKick : pieces.front());
}

Walk takeWalk(WalkCall& call) {
  WalkList list(call);
  std::vector<Hit> hits = call.free();
  std::reverse(hits.begin(), hits.end());
  for (const Hit& hit : hits) {
    list.addInstead(fmt::format("no {} on {}", call.pieceName(hit.piece), call.place(hit.at)), hit,
                    std::nullopt);
  }
  return std::move(list).walk(call.piece("piece").value_or(piece::kKick));
}

std::vector<ToolParameter> joinedParameters(std::vector<ToolParameter> list,
                                            std::vector<ToolParameter> more) {
  for (ToolParameter& p : more) list.push_back(std::move(p));
  return list;
}

}  // namespace

std::vector<WalkKind> placeWalks() {
  std::vector<WalkKind> out(4);
  out[0] = {
      {"placement",
       "One more stroke",
       "Strokes of a piece in every set of free places: alone, as neighbours, apart",
       inSpan(joinedParameters({pieceParameter("piece", "kick", "what is struck"),
                                wholeParameter("strokes", "1", "how many more", 1, kStrokesMost)},
                               newStrokes())),
       {}},
      placementWalk};
  out[1] = {{"partials",
             "Partials of the beat",
             "Which partials of each beat a piece plays: all subsets, in the order they are taught",
             inSpan(joinedParameters(
                 {pieceParameter("piece", "kick", "what is struck"),
                  choiceParameter("each", "the same on every beat, or one beat at a time",
                                  {"all", "beat"})},
                 newStrokes())),
             {}},
            partialsWalk};
  out[2] = {
      {"add",
       "Add one",
       "One more stroke of each piece at each free place",
       inSpan(joinedParameters(
           {orAny(pieceParameter("piece", "any", "of which piece; any: of each"))}, newStrokes())),
       {}},
      addWalk};
  out[3] = {{"take",
             "Take one away",
             "Each stroke left out in turn",
             inSpan({orAny(pieceParameter("piece", "any", "of which piece; any: of each")),
                     orAny(limbParameter("limb", "any", "played by"))}),
             {}},
            takeWalk};
  return out;
}

}  // namespace uneven
