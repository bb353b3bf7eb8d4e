// SPDX-License-Identifier: GPL-3.0-or-later
// Groove by groove.
#include "core/body/song_hands.h"

#include <algorithm>
#include <map>
#include <tuple>
#include <unordered_map>

#include "core/song/limbs.h"

namespace uneven {
namespace {

// Of grooves whose hits are the same, whatever they are called, the first one: a song that is
// written out bar by bar is played as it was.
class SameHits {
 public:
  const Groove* first(const Groove& groove) {
    const auto [known, isNew] = asked_.try_emplace(&groove, &groove);
    if (!isNew) return known->second;
    auto& alike = byHash_[hashOf(groove)];
    const auto same = std::find_if(alike.begin(), alike.end(), [&](const Groove* one) {
      return one->bars == groove.bars && one->meter == groove.meter && one->hits == groove.hits;
    });
    if (same == alike.end()) {
      alike.push_back(&groove);
    } else {
      known->second = *same;
    }
    return known->second;
  }

 private:
  static std::uint64_t hashOf(const Groove& groove) {
    std::uint64_t hash = 0xCBF29CE484222325ULL;
    const auto mix = [&](std::uint64_t value) { hash = (hash ^ value) * 0x100000001B3ULL; };
    for (const Hit& hit : groove.hits) {
      mix(static_cast<std::uint64_t>(hit.at.num()));
      mix(static_cast<std::uint64_t>(hit.at.den()));
      mix(hit.piece.value);
      mix(static_cast<std::uint64_t>(hit.velocity.value()));
    }
    return hash;
  }

  std::unordered_map<const Groove*, const Groove*> asked_;
  std::unordered_map<std::uint64_t, std::vector<const Groove*>> byHash_;
};

}  // namespace

std::vector<Limb> songHands(const Body& body, const Played& played, const BodyPart& part,
                            const std::stop_token& stop) {
  const Score& score = played.score;
  const std::vector<Stroke>& strokes = played.performance.strokes;
  using Key = std::tuple<const Groove*, std::uint32_t, std::int64_t>;
  std::map<Key, std::vector<Limb>> known;
  SameHits same;
  std::vector<Limb> out;
  out.reserve(part.hands.size());
  for (std::size_t i = 0; i < part.hands.size() && !stop.stop_requested();) {
    const std::uint32_t index = strokes[part.hands[i].stroke].block;
    std::size_t end = i;
    while (end < part.hands.size() && strokes[part.hands[end].stroke].block == index) ++end;
    const Score::Block& block = score.blocks[index];
    const Beat to = block.start + block.groove->length();
    const bool alike = !block.morphs() && score.tempo.holdsOver(block.start, to);
    const Key key{same.first(*block.groove), block.feel,
                  score.tempo.tempoAt(block.start).usPerQuarter};
    const auto before = known.find(key);
    // What is set may be tried otherwise in one place: then it is another part.
    if (alike && before != known.end() && before->second.size() == end - i) {
      out.insert(out.end(), before->second.begin(), before->second.end());
    } else {
      BodyPart loop;
      loop.hands.assign(part.hands.begin() + static_cast<std::ptrdiff_t>(i),
                        part.hands.begin() + static_cast<std::ptrdiff_t>(end));
      loop.length = score.tempo.msAt(to) - score.tempo.msAt(block.start);
      loop.quarters = block.groove->length().toDouble();
      std::vector<Limb> hands = solveLoop(body, loop).hands;
      out.insert(out.end(), hands.begin(), hands.end());
      if (alike) known[key] = std::move(hands);
    }
    i = end;
  }
  out.resize(part.hands.size(), Limb::kRightHand);
  return out;
}

BlockHands blockHands(const Body& body, const Played& played,
                      const std::function<bool(const Score::Block&)>& wanted,
                      const std::stop_token& stop) {
  const Score& score = played.score;
  BlockHands out;
  out.ofBlock.assign(score.blocks.size(), BlockHands::kUsual);
  const BodyPart part = bodyPart(played, std::nullopt, nullptr, body.profile().ruffInTurn, stop);
  const std::vector<Limb> hands = songHands(body, played, part, stop);
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
