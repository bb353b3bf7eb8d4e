// SPDX-License-Identifier: GPL-3.0-or-later
// One call of a tool: the groove it works on and its arguments, read by kind.
#pragma once

#include <algorithm>
#include <map>
#include <optional>
#include <string>
#include <unordered_map>
#include <vector>

#include "core/tools/tool.h"

namespace uneven {

// Reading is sticky like JsonTree: the first failure is kept, later reads give what they can, and
// runTool asks once.
class ToolCall {
 public:
  ToolCall(const Tool& tool, Groove start, const Kit& kit, const Arguments& arguments);

  Groove groove;  // what the tool changes
  const Kit& kit() const { return kit_; }

  const std::string& text(std::string_view name) const;
  bool flag(std::string_view name) const { return text(name) == "yes"; }
  int whole(std::string_view name) const;
  double real(std::string_view name) const;
  Beat length(std::string_view name) const;
  // By the parameter `grid`: the groove's own slots, or even ones from `from` on.
  std::vector<Beat> slots(Beat from, Beat to) const;
  Beat stepAt(Beat at) const;                                 // from there to the next slot
  std::optional<PieceId> piece(std::string_view name) const;  // nothing: any
  std::optional<Limb> limb(std::string_view name) const;      // nothing: any
  // Nothing where the fallback is a word and holds.
  std::optional<double> realIfGiven(std::string_view name) const;
  Velocity velocity(std::string_view name) const { return Velocity(whole(name)); }

  // The span `from` .. `to` that most tools take; `to` left out is the groove's end.
  Beat from() const { return from_; }
  Beat to() const { return to_ ? std::min(*to_, groove.length()) : groove.length(); }
  bool inSpan(Beat at) const { return at >= from() && at < to(); }

  // Whether a hit is what the parameters `piece`, `limb`, `from` and `to` ask for (those it has).
  bool concerns(const Hit& hit) const;
  // A drawn opening is a stroke of the foot on the hats.
  bool concerns(const PedalMove& move) const;
  // Whether all that stands in the span is asked for, whoever plays it on whatever.
  bool concernsAll() const { return !piece_ && !limb_; }
  Limb limbOf(const Hit& hit) const;

  bool occupied(Beat at, PieceId piece);
  // Puts a hit unless its place is taken; false then.
  bool putIfFree(Hit hit);
  // In place of what its piece had there. Until order() new hits stand at the end of the list.
  void put(Hit hit);
  void order();

  // Calls for each concerned hit and takes the change.
  template <typename Change>
  int forEach(Change change) {
    int count = 0;
    for (Hit& hit : groove.hits) {
      if (!concerns(hit)) continue;
      change(hit);
      ++count;
    }
    return count;
  }

  void note(std::string text);
  void fail(ErrorCode code, std::string message);
  bool failed() const { return error_.has_value(); }
  const Error& error() const { return *error_; }
  std::vector<std::string>& notes() { return notes_; }
  // All arguments as they hold.
  const std::map<std::string, std::string, std::less<>>& values() const { return values_; }

 private:
  bool has(std::string_view name) const;
  void check(const ToolParameter& parameter, const std::string& value);

  const Tool& tool_;
  const Kit& kit_;
  // What `concerns` asks of every hit, read once.
  bool hasSpan_ = false;
  Beat from_;
  std::optional<Beat> to_;
  std::optional<PieceId> piece_;
  std::optional<Limb> limb_;
  std::map<std::string, std::string, std::less<>> values_;
  void readPlaces();

  // Which hit stands where; made afresh when hits have been taken away or added by others.
  struct Place {
    Beat at;
    PieceId piece;
    bool operator==(const Place&) const = default;
  };
  struct PlaceHash {
    std::size_t operator()(const Place& p) const {
      const auto numbers =
          static_cast<std::uint64_t>(p.at.num()) * 10'081 + static_cast<std::uint64_t>(p.at.den());
      return static_cast<std::size_t>((numbers * 256 + p.piece.value) * 0x9E3779B97F4A7C15ULL);
    }
  };
  std::unordered_map<Place, std::size_t, PlaceHash> places_;
  std::size_t placesOf_ = 0;  // number of hits that places_ was made from
  std::vector<std::string> notes_;
  std::optional<Error> error_;
};

// "1 hit", "3 hits".
std::string countOf(int count, const std::string& what);

}  // namespace uneven
