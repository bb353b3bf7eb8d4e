// SPDX-License-Identifier: GPL-3.0-or-later
// The lean map.
#include "layout/lean_scene.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/base/number.h"
#include "layout/hit_test.h"

namespace uneven {
namespace {

constexpr double kStripTop = 46, kStripHeight = 50, kRowsTop = 104, kBottom = 40;
constexpr double kRight = 64, kInset = 20;
constexpr double kStripMs = 30;  // that the strip holds at least, either way

class LeanBuilder {
 public:
  LeanBuilder(const LeanSources& sources, const LeanViewport& viewport)
      : sources_(sources),
        viewport_(viewport),
        block_(sources.alone.score().blocks.front()),
        groove_(*block_.groove),
        feel_(sources.alone.score().feels[block_.feel]) {}

  LeanScene build() {
    const double right = viewport_.size.width - kRight;
    scene_.strip = {kLaneNameWidth, kStripTop, right, kStripTop + kStripHeight};
    scene_.rowsArea = {kLaneNameWidth, kRowsTop, right,
                       std::max(kRowsTop + 20, viewport_.size.height - kBottom)};
    const Rect area{kLaneNameWidth, scene_.strip.top - 2, right, scene_.rowsArea.bottom};
    static_cast<BarFrame&>(scene_) = barFrame(groove_, nullptr, {area, kInset, viewport_.bar, 1});
    addSlots();
    addRows();
    addSticks();
    addFaint();
    addBehind();
    return std::move(scene_);
  }

 private:
  void addSlots() {
    double most = kStripMs;
    for (const Slot& slot : feel_.slots) most = std::max(most, std::abs(slot.shift.count()));
    scene_.stripPxPerMs = kStripHeight / 2 / most;
    const double middle = (scene_.strip.top + scene_.strip.bottom) / 2;
    for (const GridLine& line : scene_.lines) {
      if (line.at == scene_.end) continue;
      LeanSlot slot;
      slot.inBar = line.at - scene_.begin;
      slot.x = line.x;
      for (const Slot& s : feel_.slots) {
        if (s.at != slot.inBar) continue;
        if (s.piece) slot.ofPieces.push_back(middle - scene_.stripPxPerMs * s.shift.count());
        if (!s.piece) slot.shift += s.shift;
      }
      slot.y = middle - scene_.stripPxPerMs * slot.shift.count();
      scene_.slots.push_back(slot);
    }
  }

  void addRows() {
    std::vector<bool> struck(sources_.alone.score().kit->pieces.size(), false);
    for (const Hit& hit : groove_.hits) struck[hit.piece.value] = true;
    for (const PieceId piece : sources_.alone.score().kit->order) {
      if (!struck[piece.value]) continue;
      LeanRow row;
      row.piece = piece;
      const auto shift = feel_.displacement.find(piece);
      if (shift != feel_.displacement.end()) row.displacement = shift->second;
      scene_.rows.push_back(row);
    }
    if (scene_.rows.empty()) return;
    const double height = scene_.rowsArea.height() / static_cast<double>(scene_.rows.size());
    for (std::size_t i = 0; i < scene_.rows.size(); ++i) {
      LeanRow& row = scene_.rows[i];
      rowOf_[row.piece] = i;
      row.top = scene_.rowsArea.top + height * static_cast<double>(i);
      row.baseline = row.top + height - 14;
      row.room = std::clamp(height - 30, 8.0, 240.0);
    }
  }

  // Standard deviation of what the body adds for that limb.
  Milliseconds deviation(Limb limb) const {
    if (!feel_.drift) return Milliseconds(0);
    const auto factor = feel_.drift->limbs.find(limb);
    const double motor =
        feel_.drift->motor.count() * (factor == feel_.drift->limbs.end() ? 1 : factor->second);
    return Milliseconds(std::hypot(feel_.drift->clock.count(), motor));
  }

  Point headAt(const LeanRow& row, double footX, Milliseconds lean, Velocity velocity) const {
    return {footX + viewport_.pxPerMs * lean.count(),
            row.baseline - row.room * velocity.value() / Velocity::kMax};
  }

  void addSticks() {
    std::map<std::uint32_t, Milliseconds> other;
    if (sources_.other != nullptr) {
      for (const Stroke& s : sources_.other->strokes()) {
        if (s.part == 0) other[s.hit] = toMilliseconds(s.time - s.drift);
      }
    }
    std::map<HitRef, const Stroke*> strokes;
    for (const Stroke& s : sources_.alone.strokes()) {
      if (s.part == 0) strokes[refOf(groove_, s.hit)] = &s;
    }
    for (const TimingRow& timing : timingRows(sources_.alone, viewport_.bar)) {
      const Stroke& s = *strokes.at(timing.ref);
      LeanStick stick;
      stick.ref = timing.ref;
      stick.row = rowOf_.at(s.piece);
      const LeanRow& row = scene_.rows[stick.row];
      stick.foot = {scene_.axis.xFromQuarters(timing.ref.at.toDouble()), row.baseline};
      stick.head = headAt(row, stick.foot.x, timing.difference() - timing.drift, s.velocity);
      stick.swungX = stick.foot.x + viewport_.pxPerMs * (timing.swung - timing.straight).count();
      stick.band = viewport_.pxPerMs * deviation(s.limb).count();
      if (const auto found = other.find(s.hit); found != other.end()) {
        const Milliseconds straight =
            sources_.alone.score().tempo.msAt(block_.start + timing.ref.at);
        stick.other = headAt(row, stick.foot.x, found->second - straight, s.velocity);
      }
      stick.role = s.role;
      stick.limb = s.limb;
      stick.stroke = s.stroke;
      stick.timing = timing;
      scene_.sticks.push_back(stick);
    }
  }

  void addFaint() {
    if (sources_.song == nullptr) return;
    const Score& score = sources_.song->score();
    int left = kRepetitionsMost;
    for (const Score::Block& block : score.blocks) {
      if (block.groove->id != groove_.id) continue;
      if (left-- == 0) return;
      for (const std::uint32_t i : sources_.song->ofBar(block.firstBar + viewport_.bar)) {
        const Stroke& s = sources_.song->strokes()[i];
        if (s.part > 0) continue;
        // A section may play it otherwise than it is written.
        const auto found = rowOf_.find(s.piece);
        if (found == rowOf_.end()) continue;
        const Beat at = block.groove->hits[s.hit].at;
        const Milliseconds straight = score.tempo.msAt(block.start + at);
        const LeanRow& row = scene_.rows[found->second];
        FaintStick faint;
        faint.foot = {scene_.axis.xFromQuarters(at.toDouble()), row.baseline};
        faint.head = headAt(row, faint.foot.x, toMilliseconds(s.time) - straight, s.velocity);
        faint.limb = s.limb;
        scene_.faint.push_back(faint);
      }
    }
  }

  void addBehind() {
    if (sources_.behind == nullptr) return;
    std::set<HitRef> alone;
    for (const StrokeBehind& s : *sources_.behind) {
      const auto row = rowOf_.find(s.piece);
      if (row == rowOf_.end() || s.at < scene_.begin || s.at >= scene_.end) continue;
      if (scene_.behind.size() == kBehindMost) return;
      const LeanRow& on = scene_.rows[row->second];
      FaintStick faint;
      faint.foot = {scene_.axis.xFromQuarters(s.at.toDouble()), on.baseline};
      faint.head =
          headAt(on, faint.foot.x, s.late, Velocity(static_cast<int>(roundToInt(s.velocity))));
      scene_.behind.push_back(faint);
      if (!indexOf(groove_, {s.at, s.piece}) && alone.insert({s.at, s.piece}).second)
        scene_.theirsAlone.push_back(faint.foot);
    }
  }

  const LeanSources& sources_;
  const LeanViewport& viewport_;
  const Score::Block& block_;
  const Groove& groove_;
  const Feel& feel_;
  std::map<PieceId, std::size_t> rowOf_;
  LeanScene scene_;
};

}  // namespace

LeanScene leanScene(const LeanSources& sources, const LeanViewport& viewport) {
  return LeanBuilder(sources, viewport).build();
}

std::optional<std::size_t> leanStickAt(const LeanScene& scene, Point p) {
  std::optional<std::size_t> best;
  double nearest = kStickReach;
  for (std::size_t i = 0; i < scene.sticks.size(); ++i) {
    const double d = distanceToSegment(p, scene.sticks[i].foot, scene.sticks[i].head);
    if (d > nearest) continue;
    nearest = d;
    best = i;
  }
  return best;
}

std::optional<std::size_t> leanRowAt(const LeanScene& scene, Point p) {
  if (p.x >= scene.rowsArea.left) return std::nullopt;
  for (std::size_t i = 0; i < scene.rows.size(); ++i) {
    if (p.y >= scene.rows[i].top && p.y < scene.rows[i].baseline + 14) return i;
  }
  return std::nullopt;
}

std::optional<std::size_t> leanSlotAt(const LeanScene& scene, Point p) {
  if (p.y < scene.strip.top - 4 || p.y > scene.strip.bottom + 4) return std::nullopt;
  for (std::size_t i = 0; i < scene.slots.size(); ++i) {
    if (std::abs(scene.slots[i].x - p.x) <= 8) return i;
  }
  return std::nullopt;
}

}  // namespace uneven
