// SPDX-License-Identifier: GPL-3.0-or-later
// The index of a take.
#include "core/take/take.h"

#include <algorithm>

#include "core/body/song_hands.h"

namespace uneven {
namespace {

bool asksByHand(const Score& score, const Score::Block& block) {
  return score.feels[block.feel].asksByHand() ||
         (block.morphs() && score.feels[block.before].asksByHand());
}

}  // namespace

Take::Take(Song song, Score score, const std::stop_token& stop)
    : song_(std::move(song)),
      score_(std::move(score)),
      performance_(perform(score_, nullptr, stop)) {
  const auto asked = [this](const Score::Block& block) { return asksByHand(score_, block); };
  if (std::none_of(score_.blocks.begin(), score_.blocks.end(), asked)) return;
  const Body body(*score_.kit, Profile());
  const BlockHands hands = blockHands(body, *this, asked, stop);
  performance_ = perform(score_, &hands, stop);
}

const std::vector<Limb>& Take::limbs() const {
  std::call_once(handed_, [this] {
    const Body body(*score_.kit, Profile());
    const BlockHands hands = blockHands(
        body, *this, [this](const Score::Block& block) { return !asksByHand(score_, block); });
    limbs_.reserve(strokes().size());
    for (const Stroke& s : strokes()) {
      const std::uint32_t way = hands.ofBlock[s.block];
      limbs_.push_back(way == BlockHands::kUsual ? s.limb : hands.ways[way][s.hit]);
    }
  });
  return limbs_;
}

const Take::Index& Take::index() const {
  std::call_once(indexed_, [this] {
    std::uint32_t hits = 0;
    index_.firstHit.reserve(score_.blocks.size() + 1);
    for (const Score::Block& block : score_.blocks) {
      index_.firstHit.push_back(hits);
      hits += static_cast<std::uint32_t>(block.groove->hits.size());
    }
    index_.firstHit.push_back(hits);
    // By hit, in order of time where hits are one.
    const auto hitOf = [this](const Stroke& s) { return index_.firstHit[s.block] + s.hit; };
    std::vector<std::uint32_t>& starts = index_.hitStarts;
    starts.assign(std::size_t{hits} + 1, 0);
    for (const Stroke& s : strokes()) ++starts[hitOf(s) + 1];
    for (std::size_t i = 1; i < starts.size(); ++i) starts[i] += starts[i - 1];
    std::vector<std::uint32_t> next(starts.begin(), starts.end() - 1);
    index_.byHit.resize(strokes().size());
    for (std::uint32_t i = 0; i < strokes().size(); ++i)
      index_.byHit[next[hitOf(strokes()[i])]++] = i;
  });
  return index_;
}

Result<SharedTake> Take::ofSong(Song song, const std::stop_token& stop) {
  Result<Score> score = arrange(song);
  if (!score) return score.error();
  auto take = std::make_shared<const Take>(std::move(song), *std::move(score), stop);
  if (stop.stop_requested()) return givenUp();
  return SharedTake(std::move(take));
}

Result<SharedTake> Take::ofGroove(Song song, const std::string& grooveId, const AtPlace& at) {
  Result<Score> score = arrangeGroove(song, grooveId, at);
  if (!score) return score.error();
  return SharedTake(std::make_shared<const Take>(std::move(song), *std::move(score)));
}

Take::Indices Take::hits(std::size_t begin, std::size_t end) const {
  const std::vector<std::uint32_t>& starts = index().hitStarts;
  return Indices(index().byHit).subspan(starts[begin], starts[end] - starts[begin]);
}

Take::Indices Take::ofHit(std::uint32_t block, std::uint32_t hit) const {
  return hits(index().firstHit[block] + hit, index().firstHit[block] + hit + 1);
}

Take::Indices Take::ofBar(int bar) const {
  const auto after = std::upper_bound(
      score_.blocks.begin(), score_.blocks.end(), bar,
      [](int wanted, const Score::Block& block) { return wanted < block.firstBar; });
  if (after == score_.blocks.begin()) return {};
  const Score::Block& block = *std::prev(after);
  const int inBlock = bar - block.firstBar;
  if (inBlock >= block.groove->bars) return {};
  const auto firstAt = [&](Beat at) {
    const auto& all = block.groove->hits;
    const auto found = std::lower_bound(all.begin(), all.end(), at,
                                        [](const Hit& hit, Beat b) { return hit.at < b; });
    return index().firstHit[static_cast<std::size_t>(std::prev(after) - score_.blocks.begin())] +
           static_cast<std::size_t>(found - all.begin());
  };
  const Beat length = block.groove->meter.barLength();
  return hits(firstAt(Beat(inBlock) * length), firstAt(Beat(inBlock + 1) * length));
}

Take::Range Take::between(Moment from, Moment to) const {
  const auto at = [&](Moment moment) {
    const auto found = std::lower_bound(strokes().begin(), strokes().end(), moment,
                                        [](const Stroke& s, Moment m) { return s.time < m; });
    return static_cast<std::uint32_t>(found - strokes().begin());
  };
  const std::uint32_t begin = at(from);
  return {begin, std::max(begin, at(to))};
}

}  // namespace uneven
