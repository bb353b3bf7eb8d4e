// SPDX-License-Identifier: GPL-3.0-or-later
// Groove by groove.
#include "core/body/song_hands.h"

#include <algorithm>
#include <map>
#include <tuple>

#include "core/song/limbs.h"

namespace uneven {

std::vector<Limb> songHands(const Body& body, const Played& played, const BodyPart& part) {
  const Score& score = played.score;
  const std::vector<Stroke>& strokes = played.performance.strokes;
  using Key = std::tuple<const Groove*, std::uint32_t, std::int64_t>;
  std::map<Key, std::vector<Limb>> known;
  std::vector<Limb> out;
  out.reserve(part.hands.size());
  for (std::size_t i = 0; i < part.hands.size();) {
    const std::uint32_t index = strokes[part.hands[i].stroke].block;
    std::size_t end = i;
    while (end < part.hands.size() && strokes[part.hands[end].stroke].block == index) ++end;
    const Score::Block& block = score.blocks[index];
    const Beat to = block.start + block.groove->length();
    const bool alike = !block.morphs() && score.tempo.holdsOver(block.start, to);
    const Key key{&*block.groove, block.feel, score.tempo.tempoAt(block.start).usPerQuarter};
    const auto before = known.find(key);
    // What is set may be tried otherwise in one place: then it is another part.
    if (alike && before != known.end() && before->second.size() == end - i) {
      out.insert(out.end(), before->second.begin(), before->second.end());
    } else {
      BodyPart loop;
      loop.hands.assign(part.hands.begin() + static_cast<std::ptrdiff_t>(i),
                        part.hands.begin() + static_cast<std::ptrdiff_t>(end));
      loop.length = score.tempo.msAt(to).count() - score.tempo.msAt(block.start).count();
      loop.quarters = block.groove->length().toDouble();
      std::vector<Limb> hands = solveLoop(body, loop).hands;
      out.insert(out.end(), hands.begin(), hands.end());
      if (alike) known[key] = std::move(hands);
    }
    i = end;
  }
  return out;
}

BlockHands blockHands(const Body& body, const Played& played,
                      const std::function<bool(const Score::Block&)>& wanted) {
  const Score& score = played.score;
  BlockHands out;
  out.ofBlock.assign(score.blocks.size(), BlockHands::kUsual);
  const BodyPart part = bodyPart(played, std::nullopt, nullptr, body.profile().ruffInTurn);
  const std::vector<Limb> hands = songHands(body, played, part);
  std::map<std::pair<const Groove*, std::vector<Limb>>, std::uint32_t> known;
  std::size_t i = 0;
  for (std::uint32_t b = 0; b < score.blocks.size(); ++b) {
    const Groove& groove = *score.blocks[b].groove;
    std::vector<Limb> limbs;
    for (; i < hands.size(); ++i) {
      const BodyStroke& stroke = part.hands[i];
      const Stroke& s = played.performance.strokes[stroke.stroke];
      if (s.block != b) break;
      if (stroke.grace || !wanted(score.blocks[b])) continue;
      if (limbs.empty()) limbs = limbsOf(groove, *score.kit);
      limbs[s.hit] = hands[i];
    }
    if (limbs.empty()) continue;
    const auto next = static_cast<std::uint32_t>(out.ways.size());
    const auto [way, isNew] = known.try_emplace({&groove, limbs}, next);
    if (isNew) out.ways.push_back(std::move(limbs));
    out.ofBlock[b] = way->second;
  }
  return out;
}

}  // namespace uneven
