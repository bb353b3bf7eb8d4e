// SPDX-License-Identifier: GPL-3.0-or-later
// What a walk is made from: the groove, its arguments, what stays fixed, and the words for places.
// Only for the walks.
#pragma once

#include <set>

#include "core/tools/call.h"
#include "core/vary/walks.h"

namespace uneven {

class WalkCall : public ToolCall {
 public:
  WalkCall(const Tool& kind, const Song& song, const Groove& start, const Arguments& arguments)
      : ToolCall(kind, start, *song.kit, arguments), song_(song) {
    if (!failed()) fix();
  }

  const Song& song() const { return song_; }
  const Groove& core() const { return groove; }
  // The grid's slots in the span, each bar's from its bar line.
  std::vector<Beat> spanSlots() const;
  Beat step() const;  // of that grid; of the groove's own where it differs by beats: the bar's
  // Accents of the snare on a count but the first.
  bool isBackbeat(const Hit& hit) const;
  const std::set<HitRef>& kept() const { return kept_; }
  // The span's strokes that the parameters `piece` and `limb` ask for and that may change.
  std::vector<Hit> free() const;

  // Fails where a list would have more entries, or more hits in all of them, than are made; before
  // any is made. `each`: hits that an entry changes.
  static constexpr std::size_t kListMost = 100'000, kListHitsMost = 2'000'000;
  bool tooMany(std::size_t entries, std::size_t each = 1);

  std::string place(Beat at) const;  // "3 a", "3 a of bar 2"
  bool onCounts(Beat at) const;      // that the parameter `counts` asks for
  std::string places(const std::vector<Beat>& all) const;
  std::string pieceName(PieceId piece) const;  // "kick"
  // What a new stroke of that piece is like: the middle of the piece's others.
  Hit fresh(PieceId piece, Beat at) const;
  Hit fresh(PieceId piece, Beat at, Role role) const;

 private:
  void fix();
  const Song& song_;
  std::set<HitRef> kept_;
  std::vector<std::string> counts_;  // "a", "2 a", "numbers"; none: all
};

// Gathers variants: leaves out those that change what is kept, that change nothing, or that are
// there already.
class WalkList {
 public:
  explicit WalkList(const WalkCall& call) : call_(call) {}
  // Variants that are the core as it stands are welcome, once.
  void welcomeCore() { core_ = true; }
  void add(std::string name, Changes changes);
  // Another hit in place of one.
  void addInstead(std::string name, const Hit& before, std::optional<Hit> after);
  std::size_t size() const { return all_.size(); }
  Walk walk(PieceId voice) &&;

 private:
  struct Entry {
    std::string name, key;
    Changes changes;
  };
  const WalkCall& call_;
  bool core_ = false;
  std::vector<Entry> all_;
  std::set<std::string> keys_;
};

// "3 sixteenths", "a quarter".
std::string lengthName(Beat length);
std::string joinedWords(const std::vector<std::string>& words);  // "a, b and c"

// The walks by what they do; core/vary/walks.cpp puts them together.
std::vector<WalkKind> placeWalks();  // placement, partials, add, take
std::vector<WalkKind> moveWalks();   // move, displace, backbeat
std::vector<WalkKind> loudWalks();   // accents, ornaments
std::vector<WalkKind> footWalks();   // foot, openings, bursts
std::vector<WalkKind> handWalks();   // orchestrate, hands
std::vector<WalkKind> gridWalks();   // regrid, against
std::vector<WalkKind> freeWalks();   // free

// These parameters, and those that walks share: the span, its grid, what is kept.
std::vector<ToolParameter> inSpan(std::vector<ToolParameter> list);

}  // namespace uneven
