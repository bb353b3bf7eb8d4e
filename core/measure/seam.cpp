// SPDX-License-Identifier: GPL-3.0-or-later
// Seams.
#include "core/measure/seam.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "core/perform/clock.h"

namespace uneven {
namespace {

PieceId busiest(const Groove& groove) {
  std::map<PieceId, int> counts;
  for (const Hit& hit : groove.hits) ++counts[hit.piece];
  PieceId out = piece::kHat;
  int most = 0;
  for (const auto& [piece, count] : counts) {
    if (count > most) out = piece;
    most = std::max(most, count);
  }
  return out;
}

// A feel that does not swing has no unit of its own.
bool swings(const Swing& swing) {
  return swing.linked || swing.ratio > 1;
}

class SeamMeter {
 public:
  SeamMeter(const Score& score, const Seam& seam, PieceId piece, Tempo tempo)
      : score_(score), piece_(piece), quarter_(tempo.quarter()) {
    const Swing& before = score.feels[seam.before].swing;
    const Swing& after = score.feels[seam.after].swing;
    const Beat a = swings(before) || !swings(after) ? before.unitLength() : after.unitLength();
    const Beat b = swings(after) || !swings(before) ? after.unitLength() : before.unitLength();
    unit_ = std::min(a, b);
    pair_ = Beat(2) * std::max(a, b);
  }

  // The whole pairs of a block, between two positions of the song.
  void take(std::size_t index, Beat from, Beat to) {
    const Score::Block& block = score_.blocks[index];
    const BlockClock clock(score_, index);
    const Beat bar = block.groove->meter.barLength();
    for (Beat start; start < block.groove->length(); start += bar) {
      if (block.start + start < from || block.start + start >= to) continue;
      for (Beat begin = start; begin + pair_ <= start + bar; begin += pair_) {
        const auto struck = [&](Beat at) {
          const Quarters quarters = block.start + clock.swung(at, piece_);
          return quarters.value() * quarter_ + clock.displacement(at, piece_);
        };
        Pair pair{block.start + begin, {}, struck(begin + pair_)};
        for (Beat at = begin; at < begin + pair_; at += unit_) pair.struck.push_back(struck(at));
        pairs_.push_back(std::move(pair));
      }
    }
  }

  void tell(Seam& seam) const {
    std::vector<Milliseconds> last;
    for (std::size_t p = 0; p < pairs_.size(); ++p) {
      const Pair& pair = pairs_[p];
      std::vector<Milliseconds> now;
      for (std::size_t i = 1; i < pair.struck.size(); ++i) {
        now.push_back(pair.struck[i] - pair.struck[i - 1]);
      }
      const bool goesOn = p + 1 < pairs_.size() && pairs_[p + 1].start == pair.start + pair_;
      now.push_back((goesOn ? pairs_[p + 1].struck.front() : pair.end) - pair.struck.back());
      for (std::size_t i = 0; i < last.size(); ++i) {
        const Milliseconds change(std::abs((now[i] - last[i]).count()));
        if (change <= seam.jump) continue;
        seam.jump = change;
        seam.share = change / last[i];
      }
      last = std::move(now);
    }
  }

 private:
  struct Pair {
    Beat start;  // on the song's beats
    std::vector<Milliseconds> struck;
    Milliseconds end;  // where the next would begin
  };

  const Score& score_;
  PieceId piece_;
  Milliseconds quarter_;
  Beat unit_, pair_;
  std::vector<Pair> pairs_;
};

}  // namespace

std::vector<Seam> seams(const Score& score) {
  std::vector<Seam> out;
  for (std::size_t b = 1; b < score.blocks.size(); ++b) {
    const Score::Block& before = score.blocks[b - 1];
    const Score::Block& block = score.blocks[b];
    if (before.section == block.section || before.feel == block.feel) continue;
    Seam seam;
    seam.section = block.section;
    seam.before = before.feel;
    seam.after = block.feel;
    SeamMeter meter(score, seam, busiest(*block.groove), score.tempo.tempoAt(block.start));
    const Beat from = block.start - before.groove->meter.barLength();
    const Beat end = block.morphs() ? block.morphEnd : block.start;
    const Beat to = end + block.groove->meter.barLength();
    meter.take(b - 1, from, block.start);
    for (std::size_t i = b; i < score.blocks.size() && score.blocks[i].start < to; ++i) {
      if (score.blocks[i].section != block.section) break;
      meter.take(i, from, to);
    }
    meter.tell(seam);
    out.push_back(seam);
  }
  return out;
}

}  // namespace uneven
