// SPDX-License-Identifier: GPL-3.0-or-later
// Free play: a seeded stream of bars, each a small change of the core.
#include <fmt/format.h>

#include <algorithm>
#include <deque>
#include <memory>
#include <random>

#include "core/song/slots.h"
#include "core/tools/groups.h"
#include "core/vary/walk_call.h"

namespace uneven {
namespace {

constexpr int kBarsOfFreeMost = 10'000;
constexpr int kTriesMost = 40;

// The same numbers on every machine: the standard's distributions are not.
class Dice {
 public:
  explicit Dice(std::uint64_t seed) : random_(seed) {}
  std::size_t below(std::size_t n) { return n == 0 ? 0 : random_() % n; }
  double share() { return static_cast<double>(random_() >> 11U) * 0x1p-53; }

 private:
  std::mt19937_64 random_;
};

struct SmallChange {
  std::string name;
  Changes changes;
};

class FreePlayer {
 public:
  FreePlayer(const WalkCall& call, std::uint64_t seed)
      : call_(call), dice_(seed), slots_(call.spanSlots()), hits_(call.free()) {
    for (const Hit& hit : call.core().hits) {
      const HitRef here{hit.at, hit.piece};
      const bool known = std::find(pieces_.begin(), pieces_.end(), hit.piece) != pieces_.end();
      if (!known && !call.kept().contains(here)) pieces_.push_back(hit.piece);
    }
  }

  // One of the walks' moves, by the dice; nothing where it does not come out.
  std::optional<SmallChange> one() {
    if (slots_.empty()) return std::nullopt;
    switch (dice_.below(6)) {
      case 0:
      case 1:
        return put();
      case 2:
        return move();
      case 3:
        return take();
      case 4:
        return loud();
      default:
        return ornament();
    }
  }
  Dice& dice() { return dice_; }
  bool any() const { return !slots_.empty() && (!pieces_.empty() || !hits_.empty()); }

 private:
  std::optional<SmallChange> put() {
    if (pieces_.empty()) return std::nullopt;
    const PieceId piece = pieces_[dice_.below(pieces_.size())];
    const Beat at = slots_[dice_.below(slots_.size())];
    if (indexOf(call_.core(), {at, piece})) return std::nullopt;
    const Role role = piece == piece::kSnare ? Role::kGhost : Role::kNormal;
    SmallChange out{fmt::format("{} on {}", call_.pieceName(piece), call_.place(at)), {}};
    out.changes[{at, piece}] = call_.fresh(piece, at, role);
    return out;
  }
  std::optional<SmallChange> move() {
    if (hits_.empty()) return std::nullopt;
    Hit hit = hits_[dice_.below(hits_.size())];
    const Beat from = hit.at;
    const bool later = dice_.below(2) == 0;
    const auto after = std::upper_bound(slots_.begin(), slots_.end(), from);
    const auto here = std::lower_bound(slots_.begin(), slots_.end(), from);
    if (later ? after == slots_.end() : here == slots_.begin()) return std::nullopt;
    hit.at = later ? *after : *std::prev(here);
    if (indexOf(call_.core(), {hit.at, hit.piece})) return std::nullopt;
    SmallChange out{fmt::format("{} from {} to {}", call_.pieceName(hit.piece), call_.place(from),
                                call_.place(hit.at)),
                    {}};
    out.changes[{from, hit.piece}] = std::nullopt;
    out.changes[{hit.at, hit.piece}] = hit;
    return out;
  }
  std::optional<SmallChange> take() {
    if (hits_.empty()) return std::nullopt;
    const Hit& hit = hits_[dice_.below(hits_.size())];
    SmallChange out{fmt::format("no {} on {}", call_.pieceName(hit.piece), call_.place(hit.at)),
                    {}};
    out.changes[{hit.at, hit.piece}] = std::nullopt;
    return out;
  }
  std::optional<SmallChange> loud() {
    if (hits_.empty()) return std::nullopt;
    Hit hit = hits_[dice_.below(hits_.size())];
    hit.role = hit.role == Role::kNormal ? Role::kAccent : Role::kNormal;
    hit.velocity = call_.fresh(hit.piece, hit.at, hit.role).velocity;
    SmallChange out{fmt::format("{} {} on {}", hit.role == Role::kAccent ? "accented" : "plain",
                                call_.pieceName(hit.piece), call_.place(hit.at)),
                    {}};
    out.changes[{hit.at, hit.piece}] = hit;
    return out;
  }
  std::optional<SmallChange> ornament() {
    if (hits_.empty()) return std::nullopt;
    Hit hit = hits_[dice_.below(hits_.size())];
    if (hit.piece == piece::kKick || hit.ornament != Ornament::kNone) return std::nullopt;
    hit.ornament = dice_.below(2) == 0 ? Ornament::kFlam : Ornament::kDrag;
    SmallChange out{
        fmt::format("{} on the {} on {}", hit.ornament == Ornament::kFlam ? "flam" : "drag",
                    call_.pieceName(hit.piece), call_.place(hit.at)),
        {}};
    out.changes[{hit.at, hit.piece}] = hit;
    return out;
  }

  const WalkCall& call_;
  Dice dice_;
  std::vector<Beat> slots_;
  std::vector<Hit> hits_;
  std::vector<PieceId> pieces_;
};

// How often a variant comes by its verdict, of those that come by chance.
double welcome(const Groove& core, const std::string& key) {
  const WalkNote* note = verdictOf(core, key);
  constexpr double kUnknown = 0.4, kGood = 1, kAwkward = 0.6;
  if (note == nullptr) return kUnknown;
  return note->mark == WalkMark::kGood ? kGood : note->mark == WalkMark::kAwkward ? kAwkward : 0;
}

Walk freePlay(WalkCall& call) {
  FreePlayer player(call, static_cast<std::uint64_t>(call.whole("seed")));
  const int bars = call.whole("bars"), apart = call.whole("apart");
  const int most = call.whole("closeness");
  struct Played {
    std::string name, key;
    Changes changes;
  };
  std::vector<Played> all;
  std::deque<std::string> last;
  int tries = 0;
  while (player.any() && std::ssize(all) < bars && tries < kTriesMost * bars) {
    ++tries;
    const std::size_t wanted = 1 + player.dice().below(static_cast<std::size_t>(most));
    Changes changes;
    std::vector<std::string> words;
    for (int k = 0; k < kTriesMost && words.size() < wanted; ++k) {
      std::optional<SmallChange> small = player.one();
      if (!small) continue;
      const bool clashes =
          std::any_of(small->changes.begin(), small->changes.end(), [&](const auto& entry) {
            return changes.contains(entry.first) || call.kept().contains(entry.first);
          });
      if (clashes) continue;
      changes.merge(small->changes);
      words.push_back(small->name);
    }
    changes = effective(call.core(), std::move(changes));
    if (changes.empty()) continue;
    const std::string key = keyOf(call.core(), changes, call.kit());
    // Not the same again so soon, and by what is thought of it.
    if (std::find(last.begin(), last.end(), key) != last.end()) continue;
    if (player.dice().share() >= welcome(call.core(), key)) continue;
    all.push_back({joinedWords(words), key, std::move(changes)});
    last.push_back(key);
    if (std::ssize(last) > apart) last.pop_front();
  }
  if (std::ssize(all) < bars)
    call.note(
        fmt::format("{} of {} bars: no more differ from the {} before", all.size(), bars, apart));
  Walk out;
  out.voice = piece::kKick;
  out.count = all.size();
  out.at = [core = SharedValue<Groove>(call.core()),
            list = std::make_shared<const std::vector<Played>>(std::move(all))](std::uint64_t i) {
    const Played& b = (*list)[i];
    return Variant{b.name, b.key, withChanges(*core, b.changes)};
  };
  return out;
}

}  // namespace

std::vector<WalkKind> freeWalks() {
  std::vector<WalkKind> out(1);
  out[0] = {
      {"free",
       "Free play",
       "A stream of grooves, each a small change of the core, good ones more often, what is "
       "not for you never",
       inSpan({wholeParameter("bars", "16", "how many", 1, kBarsOfFreeMost),
               wholeParameter("seed", "1", "another number, another stream", 0, 1'000'000'000),
               wholeParameter("closeness", "2", "changes in each at most", 1, 8),
               wholeParameter("apart", "8", "never the same within so many", 0, 1'000)}),
       {}},
      freePlay};
  return out;
}

}  // namespace uneven
