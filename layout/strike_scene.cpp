// SPDX-License-Identifier: GPL-3.0-or-later
// Building the Strike scene.
#include "layout/strike_scene.h"

#include <algorithm>
#include <array>

#include "core/perform/clock.h"
#include "core/song/limbs.h"

namespace uneven {
namespace {

constexpr double kRightMargin = 30;
constexpr double kBottomMargin = 20;
constexpr double kHeadRoom = 13;      // above the tallest stick, for its head
constexpr double kStruckHeight = 86;  // wanted for a lane that is struck
constexpr double kStruckMost = 230;   // and taken where there is room
constexpr double kIdleLeast = 22;     // for one that is not: its name
constexpr double kIdleMost = 56;
constexpr double kLetterRoom = 15;    // below the line, for the limb's letter
constexpr double kWedgeShare = 0.45;  // of a lane's room, for hats that are wide open
constexpr double kWedgeOverhang = 12;

// Gives the lanes their heights: those that are struck share what the others leave.
void stackLanes(const Rect& area, std::vector<LaneShape>& lanes, const std::vector<bool>& struck) {
  const auto count = static_cast<double>(std::count(struck.begin(), struck.end(), true));
  const double idle = static_cast<double>(lanes.size()) - count;
  const double idleHeight = std::clamp(
      idle == 0 ? 0 : (area.height() - count * kStruckHeight) / idle, kIdleLeast, kIdleMost);
  // Struck lanes share what is left, and their sticks grow with them, until they are far larger
  // than anybody wants: then all grow alike.
  const double left = count == 0 ? 0 : (area.height() - idle * idleHeight) / count;
  const double struckHeight = std::clamp(left, kIdleLeast, kStruckMost);
  const double shares = count * struckHeight + idle * idleHeight;
  double top = area.top;
  for (std::size_t i = 0; i < lanes.size(); ++i) {
    const double height = area.height() * (struck[i] ? struckHeight : idleHeight) / shares;
    LaneShape& lane = lanes[i];
    lane.top = top;
    top += height;
    lane.baseline = lane.top + height - std::min(kLetterRoom, 0.4 * height);
    lane.room = std::clamp(height - kLetterRoom - kHeadRoom, 6.0, kStruckMost);
  }
}

std::vector<LaneShape> pieceLanes(const Rect& area, const StrikeViewport& viewport,
                                  const Groove& groove) {
  std::array<bool, 256> hasHits{};
  for (const PieceId piece : viewport.tall) hasHits[piece.value] = true;
  for (const Hit& hit : groove.hits) hasHits[hit.piece.value] = true;
  std::vector<LaneShape> lanes;
  std::vector<bool> struck;
  for (const PieceId piece : viewport.lanes) {
    LaneShape lane;
    lane.piece = piece;
    lanes.push_back(lane);
    struck.push_back(hasHits[piece.value]);
  }
  stackLanes(area, lanes, struck);
  return lanes;
}

// The piece that the limb strikes most; else the first that is usually its own.
PieceId mainPiece(Limb limb, const std::vector<Limb>& limbs, const Groove& groove, const Kit& kit) {
  std::vector<int> counts(kit.pieces.size(), 0);
  for (std::size_t i = 0; i < groove.hits.size(); ++i) {
    if (limbs[i] == limb) ++counts[groove.hits[i].piece.value];
  }
  PieceId best = kit.order.front();
  int most = -1;
  for (const PieceId piece : kit.order) {
    const int count = counts[piece.value];
    if (count > most && (count > 0 || kit.usualLimb(piece) == limb)) {
      best = piece;
      most = count;
    }
  }
  return best;
}

std::vector<LaneShape> limbLanes(const Rect& area, const Groove& groove, const Kit& kit) {
  const std::vector<Limb> limbs = limbsOf(groove, kit);
  std::vector<LaneShape> lanes;
  for (const Limb limb : {Limb::kRightHand, Limb::kLeftHand, Limb::kRightFoot, Limb::kLeftFoot}) {
    LaneShape lane;
    lane.limb = limb;
    lane.piece = mainPiece(limb, limbs, groove, kit);
    lanes.push_back(lane);
  }
  stackLanes(area, lanes, std::vector<bool>(lanes.size(), true));
  return lanes;
}

class StrikeBuilder {
 public:
  StrikeBuilder(const Take& take, const StrikeViewport& viewport)
      : groove_(*take.score().blocks.front().groove),
        score_(take.score()),
        performance_(take.performance()),
        viewport_(viewport) {}

  StrikeScene build() {
    const Score::Block& block = score_.blocks.front();
    const FeelClock clock(groove_, score_.feels[block.feel], *score_.kit, score_.tempo,
                          block.start);
    BarFrameWanted wanted;
    wanted.area = laneArea(viewport_.size);
    wanted.firstBar = viewport_.firstBar;
    wanted.bars = viewport_.bars;
    static_cast<BarFrame&>(scene_) = barFrame(groove_, &clock, wanted);
    scene_.lanes = viewport_.byLimb ? limbLanes(scene_.area, groove_, *score_.kit)
                                    : pieceLanes(scene_.area, viewport_, groove_);
    indexLanes();
    addSticks();
    addWedges();
    return std::move(scene_);
  }

 private:
  void indexLanes() {
    laneOf_.fill(-1);
    limbLaneOf_.fill(-1);
    for (std::size_t i = 0; i < scene_.lanes.size(); ++i) {
      const LaneShape& lane = scene_.lanes[i];
      if (viewport_.byLimb) {
        limbLaneOf_[static_cast<std::size_t>(lane.limb)] = static_cast<int>(i);
      } else {
        laneOf_[lane.piece.value] = static_cast<int>(i);
      }
    }
  }
  int laneOf(PieceId piece, Limb limb) const {
    return viewport_.byLimb ? limbLaneOf_[static_cast<std::size_t>(limb)] : laneOf_[piece.value];
  }
  double blockQuarters(Moment moment) const {
    return score_.tempo.quartersAt(toMilliseconds(moment)).value() -
           score_.blocks.front().start.toDouble();
  }

  void addSticks() {
    for (const Stroke& stroke : performance_.strokes) {
      const Hit& hit = groove_.hits[stroke.hit];
      const int laneIndex = laneOf(hit.piece, stroke.limb);
      if (!scene_.shows(hit.at) || laneIndex < 0) continue;
      const LaneShape& lane = scene_.lanes[static_cast<std::size_t>(laneIndex)];
      StickShape stick;
      stick.ref = refOf(groove_, stroke.hit);
      stick.foot = {scene_.axis.xFromQuarters(blockQuarters(stroke.grid)), lane.baseline};
      stick.lean = toMilliseconds(stroke.time - stroke.grid);
      stick.velocity = stroke.velocity;
      stick.head = {stick.foot.x + viewport_.pxPerMs * stick.lean.count(),
                    stick.foot.y - lane.room * stroke.velocity.value() / Velocity::kMax};
      stick.role = stroke.role;
      stick.limb = stroke.limb;
      stick.stroke = stroke.stroke;
      stick.part = stroke.part;
      stick.foreign = viewport_.byLimb && hit.piece != lane.piece;
      scene_.sticks.push_back(stick);
    }
  }

  // The lane that the hats' path is drawn on: the hats', or of limbs the one that plays them most.
  const LaneShape* hatLane() const {
    for (const LaneShape& lane : scene_.lanes) {
      if (lane.piece == piece::kHat) return &lane;
    }
    return nullptr;
  }

  void addWedges() {
    const LaneShape* lane = hatLane();
    if (lane == nullptr) return;
    const double left = scene_.axis.xFromQuarters(scene_.begin.toDouble()) - kWedgeOverhang;
    const double right = scene_.area.right + kWedgeOverhang;
    WedgeShape wedge;
    wedge.baseline = lane->baseline;
    const auto end = [&] {
      if (wedge.edge.size() > 1 && wedge.edge.back().x > left && wedge.edge.front().x < right) {
        for (Point& p : wedge.edge) p.x = std::clamp(p.x, left, right);
        scene_.wedges.push_back(wedge);
      }
      wedge.edge.clear();
    };
    const auto& path = performance_.pedal.path;
    for (std::size_t i = 0; i < path.size(); ++i) {
      const PedalVertex& v = path[i];
      const bool shut = v.opening <= 0;
      const bool opens = i + 1 < path.size() && path[i + 1].opening > 0;
      const Point p{scene_.axis.xFromQuarters(blockQuarters(v.time)),
                    lane->baseline - lane->room * kWedgeShare * v.opening};
      if (!shut || !wedge.edge.empty()) wedge.edge.push_back(p);
      if (!shut) continue;
      end();
      if (opens) wedge.edge.push_back(p);
    }
    // Still open at the end.
    if (!wedge.edge.empty()) {
      wedge.edge.push_back({right, wedge.edge.back().y});
      wedge.edge.push_back({right, lane->baseline});
    }
    end();
  }

  const Groove& groove_;
  const Score& score_;
  const Performance& performance_;
  const StrikeViewport& viewport_;
  StrikeScene scene_;
  std::array<int, 256> laneOf_{};
  std::array<int, 5> limbLaneOf_{};
};

}  // namespace

Rect laneArea(Size size) {
  return {kLaneNameWidth, kCountHeight, std::max(kLaneNameWidth + 10, size.width - kRightMargin),
          std::max(kCountHeight + 10, size.height - kBottomMargin)};
}

StrikeScene strikeScene(const Take& take, const StrikeViewport& viewport) {
  return StrikeBuilder(take, viewport).build();
}

std::vector<BarRow> barRows(const StrikeScene& scene) {
  std::vector<BarRow> out;
  for (const LaneShape& lane : scene.lanes) {
    if (!out.empty()) out.back().bottom = lane.top;
    out.push_back({lane.piece, lane.limb, lane.top, scene.area.bottom});
  }
  return out;
}

std::vector<PieceId> lanesFor(const Groove& groove, const Kit& kit, bool all) {
  std::vector<bool> struck(kit.pieces.size(), false);
  for (const Hit& hit : groove.hits) struck[hit.piece.value] = true;
  std::vector<PieceId> out;
  for (const PieceId piece : kit.order) {
    if (all || struck[piece.value] || kit[piece].shown) out.push_back(piece);
  }
  return out;
}

}  // namespace uneven
