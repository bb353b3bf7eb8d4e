// SPDX-License-Identifier: GPL-3.0-or-later
// Building the Strike scene.
#include "layout/strike_scene.h"

#include <algorithm>
#include <array>

#include "core/perform/swing.h"

namespace uneven {
namespace {

constexpr double kRightMargin = 30;
constexpr double kBottomMargin = 20;
constexpr double kHeadRoom = 13;      // above the tallest stick, for its head
constexpr double kStruckHeight = 86;  // wanted for a lane that is struck
constexpr double kIdleLeast = 22;     // for one that is not: its name
constexpr double kIdleMost = 56;
constexpr double kLetterRoom = 15;  // below the line, for the limb's letter
constexpr double kLetter = 6.5;     // of a count name
constexpr double kLabelGap = 5;     // between two of them

std::vector<LaneShape> lanesIn(const Rect& area, const std::vector<PieceId>& pieces,
                               const Groove& groove) {
  std::array<bool, 256> struck{};
  for (const Hit& hit : groove.hits) struck[hit.piece.value] = true;
  const auto isStruck = [&](PieceId piece) { return struck[piece.value]; };
  const auto count = static_cast<double>(std::count_if(pieces.begin(), pieces.end(), isStruck));
  const double idle = static_cast<double>(pieces.size()) - count;
  const double idleHeight = std::clamp(
      idle == 0 ? 0 : (area.height() - count * kStruckHeight) / idle, kIdleLeast, kIdleMost);
  // Struck lanes share what is left, unless that is far more than they want: then all grow alike.
  const double left = count == 0 ? 0 : (area.height() - idle * idleHeight) / count;
  const double struckHeight = std::clamp(left, kIdleLeast, kStruckHeight);
  const auto share = [&](PieceId piece) { return isStruck(piece) ? struckHeight : idleHeight; };
  const double shares = count * struckHeight + idle * idleHeight;
  std::vector<LaneShape> out;
  double top = area.top;
  for (const PieceId piece : pieces) {
    const double height = area.height() * share(piece) / shares;
    LaneShape lane;
    lane.piece = piece;
    lane.top = top;
    top += height;
    lane.baseline = lane.top + height - std::min(kLetterRoom, 0.4 * height);
    lane.room = std::clamp(height - kLetterRoom - kHeadRoom, 6.0, 90.0);
    out.push_back(lane);
  }
  return out;
}

double labelWidth(const GridLine& line) {
  return kLetter * static_cast<double>(line.count.label().size());
}

// Whether both names, centred on their lines, fit beside each other.
bool fitBeside(const GridLine& a, const GridLine& b) {
  return b.x - a.x >= (labelWidth(a) + labelWidth(b)) / 2 + kLabelGap;
}

// Numbers win over the names between them, and earlier ones over later ones.
void dropCrowdedLabels(std::vector<GridLine>& lines) {
  const auto isCount = [](const GridLine& l) { return l.weight != LineWeight::kPartial; };
  const GridLine* before = nullptr;
  for (GridLine& line : lines) {
    if (!isCount(line)) continue;
    line.labelled = before == nullptr || fitBeside(*before, line);
    if (line.labelled) before = &line;
  }
  // The next number that is shown, seen from each line.
  std::vector<const GridLine*> next(lines.size(), nullptr);
  const GridLine* coming = nullptr;
  for (std::size_t i = lines.size(); i-- > 0;) {
    next[i] = coming;
    if (isCount(lines[i]) && lines[i].labelled) coming = &lines[i];
  }
  before = nullptr;
  for (std::size_t i = 0; i < lines.size(); ++i) {
    GridLine& line = lines[i];
    if (!isCount(line)) {
      line.labelled = (before == nullptr || fitBeside(*before, line)) &&
                      (next[i] == nullptr || fitBeside(line, *next[i]));
    }
    if (line.labelled) before = &line;
  }
}

std::vector<GridLine> linesOf(const Groove& groove, const Swing& swing, const StrikeScene& scene) {
  std::vector<GridLine> out;
  const Beat bar = groove.meter.barLength();
  const Beat step = groove.grid.step();
  const SwingCurve curve(swing, 1, bar);
  for (Beat barStart = scene.begin; barStart < scene.end; barStart += bar) {
    for (Beat at; at < bar; at += step) {
      GridLine line;
      line.at = barStart + at;
      line.x = scene.axis.xFromQuarters(barStart.toDouble() + curve.swung(at));
      line.straightX = scene.axis.xFromQuarters(line.at.toDouble());
      line.count = countName(at, groove.meter);
      line.weight = at == Beat(0)                ? LineWeight::kBar
                    : line.count.partial.empty() ? LineWeight::kCount
                                                 : LineWeight::kPartial;
      out.push_back(line);
    }
  }
  dropCrowdedLabels(out);
  GridLine last;
  last.at = scene.end;
  last.x = last.straightX = scene.axis.xFromQuarters(scene.end.toDouble());
  last.weight = LineWeight::kBar;
  last.labelled = false;
  out.push_back(last);
  return out;
}

class Builder {
 public:
  Builder(const Groove& groove, const Score& alone, const Performance& performance,
          const StrikeViewport& viewport)
      : groove_(groove), score_(alone), performance_(performance), viewport_(viewport) {}

  StrikeScene build() {
    scene_.area = {kLaneNameWidth, kCountHeight,
                   std::max(kLaneNameWidth + 10, viewport_.size.width - kRightMargin),
                   std::max(kCountHeight + 10, viewport_.size.height - kBottomMargin)};
    const Beat bar = groove_.meter.barLength();
    const int bars = std::min(viewport_.bars, groove_.bars - viewport_.firstBar);
    scene_.begin = Beat(viewport_.firstBar) * bar;
    scene_.end = scene_.begin + Beat(bars) * bar;
    scene_.axis = TimeAxis(scene_.area.left + 14, scene_.area.right, scene_.begin.toDouble(),
                           (Beat(bars) * bar).toDouble());
    scene_.lanes = lanesIn(scene_.area, viewport_.lanes, groove_);
    scene_.lines = linesOf(groove_, score_.feels[score_.blocks.front().feel].swing, scene_);
    indexLanes();
    addSticks();
    addWedges();
    return std::move(scene_);
  }

 private:
  void indexLanes() {
    laneOf_.fill(-1);
    for (std::size_t i = 0; i < scene_.lanes.size(); ++i) {
      laneOf_[scene_.lanes[i].piece.value] = static_cast<int>(i);
    }
  }
  double blockQuarters(Moment moment) const {
    return score_.tempo.quartersAt(toMilliseconds(moment)) - score_.blocks.front().start.toDouble();
  }
  bool shown(Beat at) const { return at >= scene_.begin && at < scene_.end; }

  void addSticks() {
    for (const Stroke& stroke : performance_.strokes) {
      const Hit& hit = groove_.hits[stroke.hit];
      const int laneIndex = laneOf_[hit.piece.value];
      if (!shown(hit.at) || laneIndex < 0) continue;
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
      scene_.sticks.push_back(stick);
    }
  }

  void addWedges() {
    const int laneIndex = laneOf_[piece::kHat.value];
    if (laneIndex < 0) return;
    const LaneShape& lane = scene_.lanes[static_cast<std::size_t>(laneIndex)];
    auto shut = performance_.shuts.begin();
    const Stroke* open = nullptr;
    const auto close = [&](Moment at) {
      const Stroke& stroke = *open;
      open = nullptr;
      if (!shown(groove_.hits[stroke.hit].at)) return;
      WedgeShape wedge;
      wedge.from = scene_.axis.xFromQuarters(blockQuarters(stroke.time));
      wedge.to = std::min(scene_.axis.xFromQuarters(blockQuarters(at)), scene_.area.right + 12);
      wedge.baseline = lane.baseline;
      wedge.height = lane.room * 0.45 * stroke.opening;
      scene_.wedges.push_back(wedge);
    };
    for (const Stroke& stroke : performance_.strokes) {
      if (stroke.piece != piece::kHat && stroke.piece != piece::kHatFoot) continue;
      for (; shut != performance_.shuts.end() && shut->time < stroke.time; ++shut) {
        if (open == &performance_.strokes[shut->stroke]) close(shut->time);
      }
      if (open != nullptr) close(stroke.time);
      if (stroke.piece == piece::kHat && stroke.opening > 0) open = &stroke;
    }
    if (open == nullptr) return;
    const Moment end =
        toMoment(score_.tempo.msAt((score_.blocks.front().start + groove_.length()).toDouble()));
    const bool shutByFoot =
        shut != performance_.shuts.end() && open == &performance_.strokes[shut->stroke];
    close(shutByFoot ? shut->time : end);
  }

  const Groove& groove_;
  const Score& score_;
  const Performance& performance_;
  const StrikeViewport& viewport_;
  StrikeScene scene_;
  std::array<int, 256> laneOf_{};
};

}  // namespace

StrikeScene strikeScene(const Groove& groove, const Score& alone, const Performance& performance,
                        const StrikeViewport& viewport) {
  return Builder(groove, alone, performance, viewport).build();
}

std::vector<PieceId> lanesFor(const Groove& groove, const Kit& kit, bool all) {
  static constexpr PieceId kUsual[] = {piece::kHat,     piece::kRide,     piece::kSnare,
                                       piece::kTomHigh, piece::kTomFloor, piece::kKick,
                                       piece::kHatFoot};
  std::vector<bool> shown(kit.pieces.size(), all);
  for (const PieceId usual : kUsual) shown[usual.value] = true;
  for (const Hit& hit : groove.hits) shown[hit.piece.value] = true;
  std::vector<PieceId> out;
  for (std::size_t i = 0; i < shown.size(); ++i) {
    if (shown[i]) out.push_back({static_cast<std::uint8_t>(i)});
  }
  return out;
}

}  // namespace uneven
