// SPDX-License-Identifier: GPL-3.0-or-later
// Building the Open scene.
#include "layout/open_scene.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/check/finding.h"
#include "core/perform/clock.h"

namespace uneven {
namespace {

constexpr double kStrokesShare = 0.26;  // of the height below the counts
constexpr double kFeetShare = 0.22;
constexpr double kGap = 26;
constexpr double kEndReach = 8;
constexpr double kTopReach = 10;

class OpenBuilder {
 public:
  OpenBuilder(const Take& take, const OpenViewport& viewport)
      : groove_(*take.score().blocks.front().groove),
        score_(take.score()),
        performance_(take.performance()),
        viewport_(viewport) {}

  OpenScene build() {
    // The same axis and lines as on the lanes.
    const Rect area = laneArea(viewport_.size);
    const Score::Block& block = score_.blocks.front();
    const FeelClock swung(groove_, score_.feels[block.feel], *score_.kit, score_.tempo,
                          block.start);
    static_cast<BarFrame&>(scene_) = barFrame(
        groove_, &swung, {area, BarFrameWanted{}.inset, viewport_.firstBar, viewport_.bars});
    const double room = area.height() - 2 * kGap;
    scene_.strokes = {area.left, area.top, area.right, area.top + kStrokesShare * room};
    scene_.pumpY = area.bottom - 8;
    scene_.feet = {area.left, area.bottom - kFeetShare * room, area.right, area.bottom - 26};
    scene_.band = {area.left, scene_.strokes.bottom + kGap, area.right, scene_.feet.top - kGap};
    scene_.area.bottom = scene_.feet.bottom;
    addStrokes();
    addEdge();
    addMoves();
    addMarks();
    addPump();
    return std::move(scene_);
  }

 private:
  double xOf(Moment moment) const {
    const double quarters = score_.tempo.quartersAt(toMilliseconds(moment)).value();
    return scene_.axis.xFromQuarters(quarters - score_.blocks.front().start.toDouble());
  }
  bool shown(double x) const { return x >= scene_.band.left - 4 && x <= scene_.band.right + 4; }

  // Where the hats are shut next.
  double shutAfter(Moment time) const {
    const auto& path = performance_.pedal.path;
    auto vertex = std::upper_bound(path.begin(), path.end(), time,
                                   [](Moment t, const PedalVertex& v) { return t < v.time; });
    while (vertex != path.end() && vertex->opening > 0) ++vertex;
    return vertex == path.end() ? scene_.band.right
                                : std::min(scene_.band.right, xOf(vertex->time));
  }

  void addStrokes() {
    for (const Stroke& s : performance_.strokes) {
      if (s.piece != piece::kHat) continue;
      const Hit& hit = groove_.hits[s.hit];
      if (!scene_.shows(hit.at)) continue;
      HatStrokeShape shape;
      shape.ref = refOf(groove_, s.hit);
      shape.x = xOf(s.time);
      shape.height = (scene_.strokes.height() - 14) * s.velocity.value() / Velocity::kMax;
      shape.opening = s.opening.value();
      shape.role = s.role;
      shape.limb = s.limb;
      shape.part = s.part > 0;
      shape.loose = s.opening > kLoose && meantShut(groove_, hit);
      scene_.hits.push_back(shape);
      if (s.part > 0 || hit.open <= 0) continue;
      OpeningGrip grip;
      grip.hit = shape.ref;
      grip.from = shape.x;
      grip.to = shutAfter(s.time);
      grip.y = scene_.yOf(hit.open);
      scene_.grips.push_back(grip);
    }
  }

  void addEdge() {
    const Rect& band = scene_.band;
    std::optional<Point> before;
    scene_.edge.push_back({band.left, band.bottom});
    for (const PedalVertex& v : performance_.pedal.path) {
      const Point p{xOf(v.time), scene_.yOf(v.opening)};
      if (p.x < band.left) {
        before = p;
        continue;
      }
      if (scene_.edge.size() == 1 && before) {
        const double along = (band.left - before->x) / (p.x - before->x);
        scene_.edge.front().y = std::lerp(before->y, p.y, along);
      }
      if (p.x > band.right) {
        const Point last = scene_.edge.back();
        const double along = (band.right - last.x) / (p.x - last.x);
        scene_.edge.push_back({band.right, std::lerp(last.y, p.y, along)});
        return;
      }
      scene_.edge.push_back(p);
    }
    if (scene_.edge.size() == 1 && before) scene_.edge.front().y = before->y;
    scene_.edge.push_back({band.right, scene_.edge.back().y});
  }

  void addMoves() {
    if (!groove_.pedal) return;
    const auto& moves = groove_.pedal->moves;
    for (std::size_t i = 0; i < moves.size(); ++i) {
      if (!scene_.shows(moves[i].at) || moves[i].open <= 0) continue;
      OpeningGrip grip;
      grip.move = i;
      const Moment opens = clock_.grid(moves[i].at, piece::kHat);
      grip.from = xOf(opens);
      grip.to = shutAfter(opens);
      grip.y = scene_.yOf(moves[i].open);
      scene_.grips.push_back(grip);
    }
  }

  void addMarks() {
    for (const FootSound& sound : performance_.pedal.sounds) {
      const double x = xOf(sound.time);
      if (!shown(x) || sound.velocity == 0) continue;
      FootMark mark;
      mark.x = x;
      mark.depth = (scene_.feet.height() - 12) * sound.velocity / Velocity::kMax;
      mark.sound = sound.sound;
      mark.masked = sound.masked;
      scene_.marks.push_back(mark);
    }
  }

  void addPump() {
    const Pump* pump = groove_.pedal && groove_.pedal->pump ? &*groove_.pedal->pump : nullptr;
    const Beat step = pump == nullptr ? Beat(1, 2) : pump->unit.step();
    const Beat bar = groove_.meter.barLength();
    for (Beat start = scene_.begin; start < scene_.end; start += bar) {
      int i = 0;
      for (Beat inBar; inBar < bar; inBar += step, ++i) {
        PumpSlot slot;
        slot.x = xOf(clock_.grid(start + inBar, piece::kHatFoot));
        slot.inBar = i;
        slot.pressed = pump != nullptr && pumpPresses(*pump, static_cast<std::size_t>(i));
        scene_.pump.push_back(slot);
      }
    }
  }

  const Groove& groove_;
  const Score& score_;
  const Performance& performance_;
  const OpenViewport& viewport_;
  BlockClock clock_{score_, 0};
  OpenScene scene_;
};

}  // namespace

double OpenScene::openingAt(double y) const {
  return std::clamp((band.bottom - y) / band.height(), 0.0, 1.0);
}

OpenScene openScene(const Take& take, const OpenViewport& viewport) {
  return OpenBuilder(take, viewport).build();
}

std::optional<GripHit> gripAt(const OpenScene& scene, Point p) {
  const Rect& band = scene.band;
  if (p.y < band.top - kTopReach || p.y > band.bottom + kTopReach) return std::nullopt;
  for (std::size_t i = scene.grips.size(); i-- > 0;) {
    const OpeningGrip& grip = scene.grips[i];
    if (std::abs(p.x - grip.to) <= kEndReach && p.y >= grip.y - kTopReach) return GripHit{i, true};
  }
  for (std::size_t i = scene.grips.size(); i-- > 0;) {
    const OpeningGrip& grip = scene.grips[i];
    const bool over = p.x >= grip.from - kEndReach && p.x <= grip.to;
    if (over && p.y >= grip.y - kTopReach) return GripHit{i, false};
  }
  return std::nullopt;
}

std::optional<std::size_t> pumpSlotAt(const OpenScene& scene, Point p) {
  for (std::size_t i = 0; i < scene.pump.size(); ++i) {
    if (std::hypot(p.x - scene.pump[i].x, p.y - scene.pumpY) <= kTopReach) return i;
  }
  return std::nullopt;
}

std::optional<std::size_t> hatStrokeAt(const OpenScene& scene, double x) {
  std::optional<std::size_t> nearest;
  for (std::size_t i = 0; i < scene.hits.size(); ++i) {
    if (scene.hits[i].part) continue;
    if (!nearest || std::abs(scene.hits[i].x - x) < std::abs(scene.hits[*nearest].x - x)) {
      nearest = i;
    }
  }
  return nearest;
}

Beat slotNear(const OpenScene& scene, double x) {
  Beat nearest = scene.begin;
  double least = std::numeric_limits<double>::infinity();
  const auto offer = [&](Beat at, double where) {
    if (std::abs(where - x) >= least) return;
    least = std::abs(where - x);
    nearest = at;
  };
  for (const GridLine& line : scene.lines) offer(line.at, line.x);
  for (const HatStrokeShape& hit : scene.hits) {
    if (!hit.part) offer(hit.ref.at, hit.x);
  }
  return nearest;
}

}  // namespace uneven
