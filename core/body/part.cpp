// SPDX-License-Identifier: GPL-3.0-or-later
// From strokes to what a body is asked for.
#include "core/body/part.h"
#include "core/body/weights.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>
#include <tuple>

namespace uneven {
namespace {

constexpr std::uint32_t kNoHit = 0xFFFFFFFF;
// A piece goes on, too, where it comes again within a beat.
constexpr double kJustOver = 1.001, kNeverNear = 1e9;

// A stroke as it is written, with its ornament's: [from, to) of all strokes by hit.
struct WrittenStroke {
  BodyStroke stroke;
  std::size_t from = 0, to = 0;
};

// The last round's end comes before the first stroke.
void markOstinatos(const Kit& kit, Milliseconds length, std::vector<WrittenStroke>& written) {
  std::map<PieceId, std::vector<BodyStroke*>> rows;
  for (WrittenStroke& w : written) {
    const bool tom = kit[w.stroke.piece].kind().rfind("tom", 0) == 0;
    if (tom || keepsTime(kit, w.stroke.piece)) rows[w.stroke.piece].push_back(&w.stroke);
  }
  // A tom that goes on evenly, with other drums struck on it, is ridden like a cymbal.
  std::set<PieceId> withOthers;
  for (std::size_t i = 1; i < written.size(); ++i) {
    const BodyStroke &a = written[i - 1].stroke, &b = written[i].stroke;
    if (a.place == b.place) withOthers.insert({a.piece, b.piece});
  }
  const auto even = [](Milliseconds a, Milliseconds b) {
    return std::chrono::abs(a - b) <= 0.25 * std::max(a, b);
  };
  for (const auto& entry : rows) {
    const std::vector<BodyStroke*>& row = entry.second;
    const std::size_t count = row.size();
    const auto gap = [&](std::size_t i) {  // before stroke i, going round
      return i > 0 ? row[i]->grid - row[i - 1]->grid : row[0]->grid + length - row[count - 1]->grid;
    };
    const auto near = [&](std::size_t i) {
      const double quarters = i > 0 ? row[i]->written - row[i - 1]->written : kNeverNear;
      return gap(i) < weight::kGoesOn || quarters <= row[i]->unit * kJustOver;
    };
    const bool drum = !keepsTime(kit, entry.first);
    if (drum && !(count >= weight::kTomTime && withOthers.contains(entry.first))) continue;
    for (std::size_t i = 0; i < count; ++i) {
      row[i]->ostinato =
          near(i) && near((i + 1) % count) && (!drum || even(gap(i), gap((i + 1) % count)));
    }
  }
}

}  // namespace

bool keepsTime(const Kit& kit, PieceId id) {
  const std::string& kind = kit[id].kind();
  return kind != "snare" && kind.rfind("tom", 0) != 0 && kind != "kick" && kind != "click";
}

FoldedBlocks foldedBlocks(const Score& score) {
  constexpr std::size_t kEnds = 3;
  const auto& blocks = score.blocks;
  const auto holds = [&](const Score::Block& b) {
    return !b.morphs() && score.tempo.holdsOver(b.start, b.start + b.groove->length());
  };
  const auto equal = [&](const Score::Block& a, const Score::Block& b) {
    return &*a.groove == &*b.groove && a.feel == b.feel && holds(a) && holds(b) &&
           score.tempo.tempoAt(a.start) == score.tempo.tempoAt(b.start);
  };
  FoldedBlocks out{std::vector<int>(blocks.size(), 1),
                   std::vector<Milliseconds>(blocks.size(), Milliseconds(0))};
  Milliseconds earlier{0};
  for (std::size_t first = 0; first < blocks.size();) {
    std::size_t end = first + 1;
    while (end < blocks.size() && equal(blocks[first], blocks[end])) ++end;
    const std::size_t count = end - first;
    const std::size_t cut = count > 2 * kEnds ? (count - 2 * kEnds) / 2 * 2 : 0;
    for (std::size_t b = first; b < end; ++b) {
      const bool left = b >= first + kEnds && b < first + kEnds + cut;
      if (left) out.times[b] = 0;
      out.earlier[b] = earlier;
      if (left)
        earlier += score.tempo.msAt(blocks[b].start + blocks[b].groove->length()) -
                   score.tempo.msAt(blocks[b].start);
    }
    // The two before the gap stand for what is left out, by turns.
    if (cut > 0) {
      out.times[first + kEnds - 1] += static_cast<int>(cut / 2);
      out.times[first + kEnds - 2] += static_cast<int>(cut / 2);
    }
    first = end;
  }
  return out;
}

namespace {

// The strokes of one hit as hands make them.
class Motions {
 public:
  // `all`: strokes of the take by hit.
  Motions(const Played& played, const std::vector<std::uint32_t>& all, bool ruffsInTurn)
      : played_(played), all_(all), ruffsInTurn_(ruffsInTurn) {}

  bool needsBoth(const WrittenStroke& w) const {
    const Ornament ornament = hitOf(w).ornament;
    return w.to - w.from > 1 && ornament != Ornament::kNone && ornament != Ornament::kDiddle &&
           ornament != Ornament::kBuzz;
  }

  void add(const WrittenStroke& w, std::vector<BodyStroke>& out) const {
    BodyStroke first = w.stroke;
    const std::size_t count = w.to - w.from;
    if (count == 1) return out.push_back(first);
    const Milliseconds end = off(w, count - 1);
    switch (hitOf(w).ornament) {
      case Ornament::kNone:
        break;
      case Ornament::kFlam:
      case Ornament::kDrag:
        out.push_back(grace(w, 0, count - 2, true));
        break;
      case Ornament::kRuff:
        if (count < 4) {
          out.push_back(grace(w, 0, count - 2, true));
        } else if (ruffsInTurn_) {
          for (const std::size_t i : {0, 1, 2}) out.push_back(grace(w, i, i, i != 1));
        } else {
          out.push_back(grace(w, 0, 1, false));
          out.push_back(grace(w, 2, 2, true));
        }
        break;
      case Ornament::kDiddle:
        first.bounce = end;
        first.bounceFixed = hitOf(w).ornamentGap > Milliseconds(0);
        break;
      case Ornament::kBuzz:
        first.lastsFixed = end;
        break;
      case Ornament::kRoll:
        // Both hands until it ends.
        (hitOf(w).ornamentGap > Milliseconds(0) ? first.lastsFixed : first.lasts) = end;
        out.push_back(first);
        first.stroke = all_[w.from + 1];
        first.limb = Limb::kAutomatic;
        first.grace = true;
        first.across = !first.across;
        break;
    }
    out.push_back(first);
  }

 private:
  const Stroke& strokeOf(std::uint32_t i) const { return played_.performance.strokes[i]; }
  const Hit& hitOf(const WrittenStroke& w) const {
    const Stroke& s = strokeOf(w.stroke.stroke);
    return played_.score.blocks[s.block].groove->hits[s.hit];
  }
  // Of one of the hit's strokes from its own.
  Milliseconds off(const WrittenStroke& w, std::size_t i) const {
    return toMilliseconds(strokeOf(all_[w.from + i]).time) -
           toMilliseconds(strokeOf(w.stroke.stroke).time);
  }
  // One motion from grace to grace, by this hand or the other.
  BodyStroke grace(const WrittenStroke& w, std::size_t from, std::size_t to, bool other) const {
    BodyStroke b = w.stroke;
    const Stroke& s = strokeOf(all_[w.from + from]);
    b.stroke = all_[w.from + from];
    b.velocity = s.velocity;
    b.role = s.role;
    b.limb = Limb::kAutomatic;
    b.fixed = off(w, from);
    b.lastsFixed = off(w, to) - off(w, from);
    b.grace = true;
    b.across = other != b.across;
    return b;
  }

  Played played_;
  const std::vector<std::uint32_t>& all_;
  bool ruffsInTurn_;
};

// What the foot does to shut the hats, by opening or pump, is a stroke of it.
template <typename Skipped>
void addClosings(const Played& played, Skipped skipped, const FoldedBlocks* folded, BodyPart& out) {
  const Score& score = played.score;
  const std::vector<Stroke>& strokes = played.performance.strokes;
  const Limb foot = score.kit->usualLimb(piece::kHatFoot);
  if (!isFoot(foot) || strokes.empty()) return;
  std::size_t near = 0;
  const std::size_t before = out.feet.size();
  for (const FootSound& sound : played.performance.pedal.sounds) {
    if (sound.written || sound.block >= score.blocks.size()) continue;
    while (near + 1 < strokes.size() && strokes[near + 1].time <= sound.time) ++near;
    Stroke as;
    as.block = sound.block;
    if (skipped(as)) continue;
    const Score::Block& block = score.blocks[sound.block];
    BodyStroke b;
    b.grid = toMilliseconds(sound.grid) -
             (folded == nullptr ? Milliseconds(0) : folded->earlier[sound.block]);
    b.inBar = sound.at.toDouble();
    b.written =
        (Beat(sound.bar - block.firstBar) * block.groove->meter.barLength()).toDouble() + b.inBar;
    b.unit = block.groove->meter.countUnit().toDouble();
    b.stroke = static_cast<std::uint32_t>(near);
    b.hit = kNoHit;
    b.place = kNoHit;
    b.piece = piece::kHatFoot;
    b.limb = b.usual = foot;
    b.closing = true;
    out.feet.push_back(b);
  }
  if (out.feet.size() == before) return;
  std::stable_sort(out.feet.begin(), out.feet.end(),
                   [](const BodyStroke& a, const BodyStroke& b) { return a.grid < b.grid; });
  // A stroke that the foot makes there anyway shuts them.
  std::vector<BodyStroke> kept;
  for (const BodyStroke& b : out.feet) {
    const auto same = [&](const BodyStroke& o) {
      return o.limb == foot && o.piece == piece::kHatFoot &&
             std::chrono::abs(o.grid - b.grid) < weight::kSameStroke;
    };
    if (b.closing && !kept.empty() && same(kept.back())) continue;
    if (!b.closing && !kept.empty() && kept.back().closing && same(b) && same(kept.back()))
      kept.pop_back();
    kept.push_back(b);
  }
  out.feet = std::move(kept);
}

}  // namespace

BodyPart bodyPart(const Played& played, std::optional<std::uint32_t> only,
                  const FoldedBlocks* folded, bool ruffsInTurn, const std::stop_token& stop) {
  const auto skipped = [&](const Stroke& s) {
    return (only && s.block != *only) || (folded != nullptr && folded->times[s.block] == 0);
  };
  const Score& score = played.score;
  const std::vector<Stroke>& strokes = played.performance.strokes;
  const Kit& kit = *score.kit;
  // By hit in order of the song, the strokes of each in order of time.
  std::vector<std::uint32_t> all;
  all.reserve(strokes.size());
  for (std::uint32_t i = 0; i < strokes.size(); ++i) {
    if (!skipped(strokes[i]) && strokes[i].limb != Limb::kAutomatic) all.push_back(i);
  }
  const auto hitOf = [&](const Stroke& s) -> const Hit& {
    return score.blocks[s.block].groove->hits[s.hit];
  };
  std::stable_sort(all.begin(), all.end(), [&](std::uint32_t a, std::uint32_t b) {
    const Stroke &x = strokes[a], &y = strokes[b];
    if (x.block != y.block || x.hit == y.hit) return x.block < y.block;
    const Beat there = hitOf(x).at, here = hitOf(y).at;
    return there != here ? there < here : x.hit < y.hit;
  });
  if (stop.stop_requested()) return {};
  BodyPart out;
  std::vector<WrittenStroke> written;
  std::uint32_t place = 0;
  const Stroke* before = nullptr;
  for (std::size_t i = 0, next = 0; i < all.size(); i = next) {
    if (stop.stop_requested()) return {};
    const Stroke& any = strokes[all[i]];
    const Hit& hit = hitOf(any);
    std::optional<std::uint32_t> own;
    for (next = i; next < all.size(); ++next) {
      const Stroke& s = strokes[all[next]];
      if (s.block != any.block || s.hit != any.hit) break;
      if (s.part == 0) own = all[next];
    }
    if (!own) continue;
    const Stroke& s = strokes[*own];
    const Score::Block& block = score.blocks[s.block];
    const Meter& meter = block.groove->meter;
    if (before != nullptr && (before->block != s.block || hitOf(*before).at != hit.at)) ++place;
    before = &s;
    BodyStroke b;
    b.grid =
        toMilliseconds(s.grid) - (folded == nullptr ? Milliseconds(0) : folded->earlier[s.block]);
    b.written = ((only ? Beat(0) : block.start) + hit.at).toDouble();
    b.inBar = s.at.toDouble();
    b.unit = meter.countUnit().toDouble();
    b.stroke = *own;
    b.hit = s.hit;
    b.place = place;
    b.piece = s.piece;
    b.usual = kit.usualLimb(s.piece);
    b.limb = isFoot(s.limb) ? s.limb : hit.limb;
    b.velocity = s.velocity;
    b.role = s.role;
    if (isFoot(b.limb)) {
      out.feet.push_back(b);
    } else {
      written.push_back({b, i, next});
    }
  }
  if (!score.blocks.empty()) {
    const Score::Block& block = score.blocks[only.value_or(0)];
    const Beat from = only ? block.start : Beat(0);
    const Beat to = only ? block.start + block.groove->length() : score.length;
    out.length = score.tempo.msAt(to) - score.tempo.msAt(from);
    out.quarters = (to - from).toDouble();
  }
  markOstinatos(kit, out.length, written);
  // Two hands: of what is struck together a third has none, and an ornament takes both.
  const Motions motions(played, all, ruffsInTurn);
  out.hands.reserve(written.size());
  std::vector<WrittenStroke> mains;
  for (std::size_t i = 0; i < written.size();) {
    if (stop.stop_requested()) return {};
    mains.clear();
    const std::uint32_t here = written[i].stroke.place;
    for (; i < written.size() && written[i].stroke.place == here; ++i) mains.push_back(written[i]);
    const auto needed = [&] {
      std::size_t hands = 0;
      for (const WrittenStroke& w : mains) hands += motions.needsBoth(w) ? 2 : 1;
      return hands;
    };
    while (needed() > 2 && mains.size() > 1) {
      const auto least =
          std::min_element(mains.begin(), mains.end(), [&](const auto& a, const auto& b) {
            const auto worth = [&](const WrittenStroke& w) {
              return std::tuple(motions.needsBoth(w), !w.stroke.ostinato,
                                w.stroke.velocity.value());
            };
            return worth(a) < worth(b);
          });
      out.thirdHand.push_back(least->stroke.stroke);
      if (mains.size() == 2) out.underOrnament.push_back(least->stroke.stroke);
      mains.erase(least);
    }
    const auto from = out.hands.size();
    for (std::size_t k = 0; k < mains.size(); ++k) {
      mains[k].stroke.across = k == 1;
      motions.add(mains[k], out.hands);
    }
    std::stable_sort(out.hands.begin() + static_cast<std::ptrdiff_t>(from), out.hands.end(),
                     [](const BodyStroke& a, const BodyStroke& b) { return a.fixed < b.fixed; });
  }
  addClosings(played, skipped, folded, out);
  return out;
}

std::vector<BodyStroke> unrolled(const std::vector<BodyStroke>& strokes, Milliseconds length,
                                 int times, double quarters) {
  std::vector<BodyStroke> out;
  out.reserve(strokes.size() * static_cast<std::size_t>(times));
  std::uint32_t places = 0;
  for (const BodyStroke& b : strokes)
    places = b.place == kNoHit ? places : std::max(places, b.place + 1);
  for (int round = 0; round < times; ++round) {
    for (BodyStroke b : strokes) {
      b.grid += round * length;
      b.written += round * quarters;
      if (b.place != kNoHit) b.place += static_cast<std::uint32_t>(round) * places;
      out.push_back(b);
    }
  }
  return out;
}

}  // namespace uneven
