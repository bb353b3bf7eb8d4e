// SPDX-License-Identifier: GPL-3.0-or-later
// A merge of lanes by a tournament of their heads.
#include "core/perform/order.h"

#include <algorithm>
#include <limits>
#include <numeric>
#include <span>

#include "core/base/nearly_sorted.h"

namespace uneven {
namespace {

using Index = std::uint32_t;

struct Lane {
  std::vector<Index> strokes;
  std::size_t next = 0;
};

// The winner of each match of a binary tournament between the lanes' heads. Lanes are numbered by
// rank, so that equal times fall to the lower rank.
class Tournament {
 public:
  Tournament(std::vector<Lane>& lanes, std::span<const Stroke> strokes)
      : lanes_(lanes), strokes_(strokes) {
    while (leaves_ < lanes.size()) leaves_ *= 2;
    heads_.assign(leaves_, kEnd);
    winners_.assign(2 * leaves_, 0);
    for (std::size_t i = 0; i < leaves_; ++i) {
      winners_[leaves_ + i] = i;
      if (i < lanes.size()) readHead(i);
    }
    for (std::size_t node = leaves_ - 1; node > 0; --node) play(node);
  }

  Index pop() {
    const std::size_t lane = winners_[1];
    const Index stroke = lanes_[lane].strokes[lanes_[lane].next++];
    readHead(lane);
    for (std::size_t node = (leaves_ + lane) / 2; node > 0; node /= 2) play(node);
    return stroke;
  }

 private:
  static constexpr std::int64_t kEnd = std::numeric_limits<std::int64_t>::max();

  void readHead(std::size_t lane) {
    const Lane& l = lanes_[lane];
    heads_[lane] = l.next < l.strokes.size() ? strokes_[l.strokes[l.next]].time.count() : kEnd;
  }
  void play(std::size_t node) {
    const std::size_t a = winners_[2 * node];
    const std::size_t b = winners_[2 * node + 1];
    winners_[node] = heads_[b] < heads_[a] ? b : a;
  }

  std::vector<Lane>& lanes_;
  std::span<const Stroke> strokes_;
  std::size_t leaves_ = 1;
  std::vector<std::int64_t> heads_;
  std::vector<std::size_t> winners_;
};

std::vector<std::uint8_t> rankById(const Kit& kit) {
  std::vector<std::size_t> byId(kit.pieces.size());
  std::iota(byId.begin(), byId.end(), 0);
  std::sort(byId.begin(), byId.end(),
            [&](std::size_t a, std::size_t b) { return kit.pieces[a].id < kit.pieces[b].id; });
  std::vector<std::uint8_t> rank(kit.pieces.size());
  for (std::size_t i = 0; i < byId.size(); ++i) rank[byId[i]] = static_cast<std::uint8_t>(i);
  return rank;
}

// from[i] names the stroke that belongs at place i. Follows the cycles, so that no second copy of
// all strokes is needed.
void permute(std::span<Stroke> strokes, std::vector<Index>& from) {
  for (Index i = 0; i < from.size(); ++i) {
    if (from[i] == i) continue;
    const Stroke first = strokes[i];
    Index hole = i;
    while (from[hole] != i) {
      const Index source = from[hole];
      strokes[hole] = strokes[source];
      from[hole] = hole;
      hole = source;
    }
    strokes[hole] = first;
    from[hole] = hole;
  }
}

class TileOrder {
 public:
  explicit TileOrder(const std::vector<std::uint8_t>& rank) : rank_(rank), lanes_(rank.size()) {}

  void run(std::span<Stroke> strokes) {
    for (Lane& lane : lanes_) {
      lane.strokes.clear();
      lane.next = 0;
    }
    for (Index i = 0; i < strokes.size(); ++i) {
      lanes_[rank_[strokes[i].piece.value]].strokes.push_back(i);
    }
    const auto earlier = [&](Index a, Index b) {
      const Stroke& x = strokes[a];
      const Stroke& y = strokes[b];
      return x.time != y.time ? x.time < y.time : x.velocity < y.velocity;
    };
    for (Lane& lane : lanes_) {
      if (!std::is_sorted(lane.strokes.begin(), lane.strokes.end(), earlier)) {
        std::stable_sort(lane.strokes.begin(), lane.strokes.end(), earlier);
      }
    }
    from_.resize(strokes.size());
    Tournament tournament(lanes_, strokes);
    for (Index& place : from_) place = tournament.pop();
    permute(strokes, from_);
  }

 private:
  const std::vector<std::uint8_t>& rank_;
  std::vector<Lane> lanes_;
  std::vector<Index> from_;
};

}  // namespace

StrokeOrder::StrokeOrder(const Kit& kit) : rank_(rankById(kit)) {}

void orderByTime(std::vector<Stroke>& strokes, const Kit& kit) {
  // Neighbouring tiles overlap by the few strokes that displacement carries over.
  const StrokeOrder before(kit);
  TileOrder order(before.rank());
  for (auto tile = strokes.begin(); tile != strokes.end();) {
    const auto next = tile + std::min(kTile, strokes.end() - tile);
    order.run(std::span(tile, next));
    mergeOverlap(strokes.begin(), tile, next, before);
    tile = next;
  }
}

}  // namespace uneven
