// SPDX-License-Identifier: GPL-3.0-or-later
// The song as a strip.
#include "layout/song_strip.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "core/base/number.h"
#include "core/measure/level.h"
#include "core/perform/passage.h"
#include "core/song/limbs.h"

namespace uneven {
namespace {

constexpr double kJointRoom = 30, kNameRoom = 38, kTempoRoom = 78, kLaneStep = 21, kLaneHead = 24;
constexpr double kTempoHead = 26;
constexpr double kReach = 5;  // px, of what can be taken hold of
constexpr double kDbLow = -24, kDbRange = 32;
constexpr double kStickShare = 0.34;               // of the shapes' height, at velocity 127
constexpr double kLeastRun = 2;                    // px, of a stretch of a limb's line
constexpr double kThickest = 9, kFullDensity = 4;  // strokes a quarter note

std::size_t laneOf(Limb limb) {
  return static_cast<std::size_t>(limb) - static_cast<std::size_t>(Limb::kRightHand);
}

}  // namespace

double loudnessOf(const Groove& groove) {
  constexpr double kSilent = -60;
  double sum = 0;
  for (const Hit& hit : groove.hits) sum += std::pow(10, levelOf(hit.velocity).value / 10);
  const double mean = sum / groove.length().toDouble();
  return mean <= 0 ? kSilent : std::max(kSilent, 10 * std::log10(mean));
}

const GrooveLook& GrooveLooks::of(const SharedValue<Groove>& groove, const Kit& kit) {
  const auto found = known_.find(&*groove);
  if (found != known_.end()) {
    found->second.used = true;
    return found->second.look;
  }
  Known known{groove, {}, true};
  GrooveLook& look = known.look;
  look.loudness = loudnessOf(*groove);
  const std::vector<Limb> limbs = limbsOf(*groove, kit);
  std::array<std::map<PieceId, int>, 4> struck;
  const double quarters = groove->length().toDouble();
  for (std::size_t i = 0; i < groove->hits.size(); ++i) {
    const Hit& hit = groove->hits[i];
    look.sticks.push_back({hit.at.toDouble(), hit.velocity.value(), limbs[i]});
    if (limbs[i] == Limb::kAutomatic) continue;
    const std::size_t lane = laneOf(limbs[i]);
    look.parts[lane].perQuarter += 1 / quarters;
    ++struck[lane][hit.piece];
  }
  const auto loudest =
      std::max_element(look.sticks.begin(), look.sticks.end(),
                       [](const auto& a, const auto& b) { return a.velocity < b.velocity; });
  if (loudest != look.sticks.end())
    look.loudest = static_cast<std::size_t>(loudest - look.sticks.begin());
  for (std::size_t lane = 0; lane < 4; ++lane) {
    const auto most =
        std::max_element(struck[lane].begin(), struck[lane].end(),
                         [](const auto& a, const auto& b) { return a.second < b.second; });
    if (most != struck[lane].end()) look.parts[lane].piece = most->first;
  }
  return known_.emplace(&*groove, std::move(known)).first->second.look;
}

void GrooveLooks::tidy() {
  for (auto known = known_.begin(); known != known_.end();) {
    if (std::exchange(known->second.used, false)) {
      ++known;
    } else {
      known = known_.erase(known);
    }
  }
}

double SongStrip::yOfBpm(double bpm) const {
  return tempo.bottom - (bpm - lowBpm) / (highBpm - lowBpm) * tempo.height();
}
double SongStrip::bpmAt(double y) const {
  return lowBpm + (tempo.bottom - y) / tempo.height() * (highBpm - lowBpm);
}

namespace {

class StripMaker {
 public:
  StripMaker(const Score& score, const Song& song, const StripViewport& viewport,
             GrooveLooks& looks)
      : score_(score), song_(song), looks_(looks) {
    const double whole = std::max(1.0, score.length.toDouble());
    const double across = viewport.quarters > 0 ? viewport.quarters : whole;
    const double left = 6, right = std::max(left + 50, viewport.size.width - 14);
    out_.axis = TimeAxis(left, right, viewport.first, across);
    out_.shownTo = viewport.first + across;
    const double lanes = kLaneHead + 4 * kLaneStep;
    const double rest = kJointRoom + kNameRoom + kTempoHead + kTempoRoom + lanes;
    const double shapes = std::clamp(viewport.size.height - rest, 60.0, 240.0);
    double y = kJointRoom;
    out_.shapes = {left, y, right, y + shapes};
    out_.names = {left, out_.shapes.bottom, right, out_.shapes.bottom + kNameRoom};
    y = out_.names.bottom + kTempoHead;
    out_.tempo = {left, y, right, y + kTempoRoom - 18};
    y = out_.tempo.bottom + 18;
    out_.lanesArea = {left, y, right, y + lanes};
  }

  SongStrip make(const std::vector<Seam>& seams) {
    blocks();
    tempo();
    for (const Seam& seam : seams) {
      const double x = xOf(score_.spans[seam.section].start);
      if (x < out_.shapes.left - 1 || x > out_.shapes.right + 1) continue;
      out_.joints.push_back({seam.section, x, seam.jump, score_.sections[seam.section].morph});
    }
    return std::move(out_);
  }

 private:
  double xOf(Beat at) const { return out_.axis.xFromQuarters(at.toDouble()); }
  double topOf(double db) const {
    const double share = std::clamp((db - kDbLow) / kDbRange, 0.08, 1.0);
    return out_.shapes.bottom - share * out_.shapes.height();
  }

  void blocks() {
    const Kit& kit = *score_.kit;
    for (std::size_t lane = 0; lane < 4; ++lane) {
      StripLane one;
      one.limb = static_cast<Limb>(static_cast<std::size_t>(Limb::kRightHand) + lane);
      one.y = out_.lanesArea.top + kLaneHead + kLaneStep * (static_cast<double>(lane) + 0.5);
      out_.lanes.push_back(one);
    }
    std::array<std::optional<PieceId>, 4> named;
    // The first that may be seen.
    const double from = out_.axis.quartersFromX(out_.shapes.left);
    const auto seen =
        std::partition_point(score_.spans.begin(), score_.spans.end(),
                             [&](const Score::Span& span) { return span.end.toDouble() < from; });
    const auto firstSection = static_cast<std::uint32_t>(seen - score_.spans.begin());
    const auto begin = std::partition_point(
        score_.blocks.begin(), score_.blocks.end(),
        [&](const Score::Block& block) { return block.section < firstSection; });
    for (auto b = static_cast<std::size_t>(begin - score_.blocks.begin()); b < score_.blocks.size();
         ++b) {
      const Score::Block& block = score_.blocks[b];
      const Score::Span& span = score_.spans[block.section];
      const double left = xOf(block.start), right = xOf(block.start + block.groove->length());
      if (out_.sections.empty() || out_.sections.back().section != block.section) {
        if (xOf(span.start) > out_.shapes.right) break;
        beginSection(block);
      }
      if (right < out_.shapes.left || left > out_.shapes.right) continue;
      const Section& section = score_.sections[block.section];
      if (section.fill && section.fill->fills(static_cast<int>(block.pass), section.repeat)) {
        const Beat end = block.start + block.groove->length();
        const bool lastOfPass = b + 1 == score_.blocks.size() ||
                                score_.blocks[b + 1].pass != block.pass ||
                                score_.blocks[b + 1].section != block.section;
        auto& fills = out_.sections.back().fills;
        // Of those that cannot be told apart one is enough.
        if (lastOfPass && (fills.empty() || xOf(end) - fills.back().second >= 1))
          fills.emplace_back(xOf(end - section.fill->beats), xOf(end));
      }
      const GrooveLook& look = looks_.of(block.groove, kit);
      for (std::size_t lane = 0; lane < 4; ++lane) {
        const GrooveLook::Part& part = look.parts[lane];
        StripLane::Run run;
        run.left = std::max(left, out_.shapes.left);
        run.right = std::min(right, out_.shapes.right);
        run.thickness =
            part.piece ? 1.5 + (kThickest - 1.5) * std::min(1.0, part.perQuarter / kFullDensity)
                       : 0;
        auto& runs = out_.lanes[lane].runs;
        const bool changes = part.piece && part.piece != named[lane];
        if (changes) run.piece = kit[*part.piece].name;
        if (part.piece) named[lane] = part.piece;
        const bool narrow = !runs.empty() && run.right - runs.back().left < kLeastRun;
        const bool goesOn =
            !runs.empty() && !changes && (narrow || runs.back().thickness == run.thickness);
        if (goesOn) {
          runs.back().right = run.right;
          runs.back().thickness = std::max(runs.back().thickness, run.thickness);
        } else {
          runs.push_back(std::move(run));
        }
      }
      sticks(look, left, right, gain(section, span, block.start.toDouble()));
    }
  }

  // They stand a pixel apart at least; of those nearer the louder one. Of a block that is hardly
  // wider than one the loudest stands for all.
  void sticks(const GrooveLook& look, double left, double right, double gain) {
    constexpr double kNarrow = 4, kApart = 1.3;
    const auto put = [&](double x, const GrooveLook::Stick& stick) {
      if (x < out_.shapes.left || x > out_.shapes.right) return;
      const double velocity = std::clamp(stick.velocity * gain, 1.0, 127.0);
      const double height = velocity / 127 * kStickShare * out_.shapes.height();
      if (!out_.sticks.empty() && x - out_.sticks.back().x < kApart) {
        if (height <= out_.sticks.back().height) return;
        out_.sticks.back().height = height;
        out_.sticks.back().limb = stick.limb;
        return;
      }
      if (static_cast<double>(out_.sticks.size()) < 2 * out_.shapes.width())
        out_.sticks.push_back({x, height, stick.limb});
    };
    if (right - left < kNarrow) {
      if (look.loudest) put((left + right) / 2, look.sticks[*look.loudest]);
      return;
    }
    for (const GrooveLook::Stick& stick : look.sticks)
      put(left + stick.at * out_.axis.pxPerQuarter(), stick);
  }

  static double gain(const Section& section, const Score::Span& span, double at) {
    const double length = (span.end - span.start).toDouble();
    const double db = sectionLevel(section, length > 0 ? (at - span.start.toDouble()) / length : 0);
    return db == 0 ? 1 : std::pow(10, db / 40);
  }

  void beginSection(const Score::Block& block) {
    const Score::Span& span = score_.spans[block.section];
    const Section& section = score_.sections[block.section];
    StripSection one;
    one.section = block.section;
    one.left = xOf(span.start);
    one.right = xOf(span.end);
    one.feel = block.feel;
    const double loudness = looks_.of(block.groove, *score_.kit).loudness;
    one.leftTop = topOf(loudness + section.levelDb);
    one.rightTop = topOf(loudness + section.toLevelDb.value_or(section.levelDb));
    const auto next = std::partition_point(
        score_.blocks.begin(), score_.blocks.end(),
        [&](const Score::Block& other) { return other.section <= block.section; });
    one.bars = (next == score_.blocks.end() ? score_.bars : next->firstBar) - block.firstBar;
    out_.sections.push_back(std::move(one));
  }

  void tempo() {
    const std::vector<TempoMark>& marks = song_.tempo;
    double low = 1e9, high = 0;
    for (const TempoMark& mark : marks) {
      low = std::min(low, mark.bpm.value);
      high = std::max(high, mark.bpm.value);
    }
    const double air = std::max(4.0, 0.15 * (high - low));
    out_.lowBpm = std::max(0.0, low - air);
    out_.highBpm = high + air;
    double labelled = -100;
    for (std::size_t i = 0; i < marks.size(); ++i) {
      const double x = xOf(marks[i].at), y = out_.yOfBpm(marks[i].bpm.value);
      const bool last = i + 1 == marks.size();
      const double to = last ? xOf(score_.length) : xOf(marks[i + 1].at);
      // What lies wholly aside is left out; a line that crosses the border is kept.
      if (to < out_.shapes.left - 2000 || x > out_.shapes.right + 2000) continue;
      out_.tempoLine.push_back({x, y});
      out_.tempoLine.push_back(
          {std::max(x, to), marks[i].ramp && !last ? out_.yOfBpm(marks[i + 1].bpm.value) : y});
      if (x < out_.shapes.left - 1 || x > out_.shapes.right + 1) continue;
      StripTempo point{i, {x, y}, marks[i].bpm.value, marks[i].ramp, x - labelled > 34};
      if (point.labelled) labelled = x;
      out_.tempos.push_back(point);
    }
  }

  const Score& score_;
  const Song& song_;
  GrooveLooks& looks_;
  SongStrip out_;
};

}  // namespace

SongStrip songStrip(const Score& score, const Song& song, const std::vector<Seam>& seams,
                    const StripViewport& viewport, GrooveLooks& looks) {
  return StripMaker(score, song, viewport, looks).make(seams);
}

StripHit stripAt(const SongStrip& strip, Point p) {
  using Kind = StripHit::Kind;
  for (const StripTempo& tempo : strip.tempos) {
    if (std::hypot(tempo.point.x - p.x, tempo.point.y - p.y) <= kReach + 3)
      return {Kind::kTempoPoint, tempo.mark};
  }
  if (p.y >= strip.tempo.top - kReach && p.y <= strip.tempo.bottom + kReach) {
    for (std::size_t i = 0; i + 1 < strip.tempoLine.size(); i += 2) {
      const Point a = strip.tempoLine[i], b = strip.tempoLine[i + 1];
      if (p.x < a.x || p.x > b.x || b.x <= a.x) continue;
      const double y = std::lerp(a.y, b.y, (p.x - a.x) / (b.x - a.x));
      if (std::abs(y - p.y) <= kReach + 2) return {Kind::kTempoLine, i / 2};
    }
    return {};
  }
  if (p.y < strip.shapes.top - kReach || p.y > strip.names.bottom) return {};
  for (const StripSection& s : strip.sections) {
    if (std::abs(p.x - s.right) <= kReach && p.y > s.rightTop + 2 * kReach)
      return {Kind::kEdge, s.section};
  }
  for (const StripSection& s : strip.sections) {
    if (p.x < s.left || p.x > s.right) continue;
    const double along = s.right > s.left ? (p.x - s.left) / (s.right - s.left) : 0;
    const double top = std::lerp(s.leftTop, s.rightTop, along);
    if (std::abs(p.y - top) <= kReach)
      return {along > 0.5 ? Kind::kLevelEnd : Kind::kLevel, s.section};
    return {Kind::kSection, s.section};
  }
  return {};
}

Beat stripBeat(const SongStrip& strip, double x) {
  return Beat(roundToInt(std::max(0.0, strip.axis.quartersFromX(x))));
}

}  // namespace uneven
