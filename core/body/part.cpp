// SPDX-License-Identifier: GPL-3.0-or-later
// From strokes to what a body is asked for.
#include "core/body/part.h"

#include <algorithm>
#include <map>
#include <tuple>

namespace uneven {
namespace {

// A piece that is struck again within this, before and after, goes on.
constexpr double kGoesOnMs = 700;

// Hats and cymbals keep time; drums do not.
bool keepsTime(const Kit& kit, PieceId id) {
  const std::string& kind = kit[id].kind();
  return kind != "snare" && kind.rfind("tom", 0) != 0 && kind != "kick" && kind != "click";
}

double msOf(Moment moment) {
  return static_cast<double>(moment.count()) / 1e6;
}

// The last round's end comes before the first stroke.
void markOstinatos(const Kit& kit, BodyPart& part) {
  std::map<PieceId, std::vector<BodyStroke*>> rows;
  for (BodyStroke& b : part.hands) {
    if (keepsTime(kit, b.piece)) rows[b.piece].push_back(&b);
  }
  for (const auto& entry : rows) {
    const std::vector<BodyStroke*>& row = entry.second;
    const std::size_t count = row.size();
    const auto gap = [&](std::size_t i) {  // before stroke i, going round
      return i > 0 ? row[i]->grid - row[i - 1]->grid
                   : row[0]->grid + part.length - row[count - 1]->grid;
    };
    for (std::size_t i = 0; i < count; ++i) {
      row[i]->ostinato = gap(i) < kGoesOnMs && gap((i + 1) % count) < kGoesOnMs;
    }
  }
}

}  // namespace

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
  FoldedBlocks out{std::vector<int>(blocks.size(), 1), std::vector<double>(blocks.size(), 0)};
  double earlier = 0;
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
        earlier += score.tempo.msAt(blocks[b].start + blocks[b].groove->length()).count() -
                   score.tempo.msAt(blocks[b].start).count();
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

BodyPart bodyPart(const Take& take, std::optional<std::uint32_t> only, const FoldedBlocks* folded) {
  const auto skipped = [&](const Stroke& s) {
    return (only && s.block != *only) || (folded != nullptr && folded->times[s.block] == 0);
  };
  const Score& score = take.score();
  const std::vector<Stroke>& strokes = take.strokes();
  const Kit& kit = *score.kit;
  // Each hit's own stroke, from which its ornament stands off.
  std::map<std::pair<std::uint32_t, std::uint32_t>, std::uint32_t> main;
  for (std::uint32_t i = 0; i < strokes.size(); ++i) {
    if (skipped(strokes[i])) continue;
    if (strokes[i].part == 0) main[{strokes[i].block, strokes[i].hit}] = i;
  }
  struct Placed {
    std::tuple<std::uint32_t, Beat> where;
    BodyStroke stroke;
  };
  std::vector<Placed> all;
  std::map<std::pair<std::uint32_t, std::uint32_t>, double> bounces;
  for (std::uint32_t i = 0; i < strokes.size(); ++i) {
    const Stroke& s = strokes[i];
    if (skipped(s)) continue;
    if (s.limb == Limb::kAutomatic) continue;
    const Score::Block& block = score.blocks[s.block];
    const Hit& hit = block.groove->hits[s.hit];
    const auto own = main.find({s.block, s.hit});
    if (own == main.end()) continue;
    const Stroke& of = strokes[own->second];
    const double off = msOf(s.time) - msOf(of.time);
    const bool oneMotion = hit.ornament == Ornament::kDiddle || hit.ornament == Ornament::kBuzz;
    if (s.part != 0 && oneMotion) {
      if (hit.ornament == Ornament::kDiddle) bounces[own->first] = off;
      continue;
    }
    BodyStroke b;
    b.grid = msOf(of.grid) - (folded == nullptr ? 0 : folded->earlier[s.block]);
    b.fixed = s.part == 0 ? 0 : off;
    b.stroke = i;
    b.piece = s.piece;
    b.usual = kit.usualLimb(s.piece);
    b.limb = isFoot(s.limb) ? s.limb : s.part == 0 ? hit.limb : Limb::kAutomatic;
    b.velocity = s.velocity;
    b.role = s.role;
    b.onBeat =
        s.at.floorDiv(block.groove->meter.countUnit()) * block.groove->meter.countUnit() == s.at;
    b.grace = s.part != 0 && off < 0;
    all.push_back({{s.block, hit.at}, b});
  }
  std::stable_sort(all.begin(), all.end(), [](const Placed& a, const Placed& b) {
    return std::make_tuple(a.where, a.stroke.fixed) < std::make_tuple(b.where, b.stroke.fixed);
  });

  BodyPart out;
  std::uint32_t place = 0;
  for (std::size_t i = 0; i < all.size(); ++i) {
    if (i > 0 && all[i].where != all[i - 1].where) ++place;
    BodyStroke& b = all[i].stroke;
    b.place = place;
    const Stroke& s = strokes[b.stroke];
    if (const auto bounce = bounces.find({s.block, s.hit});
        bounce != bounces.end() && s.part == 0) {
      b.bounce = bounce->second;
    }
    if (isFoot(b.limb)) {
      out.feet.push_back(b);
      continue;
    }
    // Two hands: of what is struck together a third has none.
    int together = 0;
    for (auto o = out.hands.rbegin(); o != out.hands.rend() && o->place == place; ++o) {
      together += !o->grace && !b.grace && o->fixed == 0 && b.fixed == 0 ? 1 : 0;
    }
    if (together >= 2) {
      out.thirdHand.push_back(b.stroke);
      continue;
    }
    out.hands.push_back(b);
  }
  if (!score.blocks.empty()) {
    const auto ms = [&](Beat at) { return score.tempo.msAt(at).count(); };
    if (only) {
      const Score::Block& block = score.blocks[*only];
      out.length = ms(block.start + block.groove->length()) - ms(block.start);
    } else {
      out.length = ms(score.length) - ms(Beat(0));
    }
  }
  markOstinatos(kit, out);
  return out;
}

std::vector<BodyStroke> unrolled(const std::vector<BodyStroke>& strokes, double length, int times) {
  std::vector<BodyStroke> out;
  out.reserve(strokes.size() * static_cast<std::size_t>(times));
  const std::uint32_t places = strokes.empty() ? 0 : strokes.back().place + 1;
  for (int round = 0; round < times; ++round) {
    for (BodyStroke b : strokes) {
      b.grid += round * length;
      b.place += static_cast<std::uint32_t>(round) * places;
      out.push_back(b);
    }
  }
  return out;
}

}  // namespace uneven
