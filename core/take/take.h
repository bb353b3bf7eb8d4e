// SPDX-License-Identifier: GPL-3.0-or-later
// A take: a song as performed, with an index. One value that everything after `perform` reads.
//
//   Song --arrange--> Score --perform--> Performance        all three, kept together
//
// Who plays what is solved (core/body): where a feel asks a hand for a lean, depth or drift of its
// own, the strokes are performed by the hands that a default player would take, as Check shows
// them; elsewhere limbs() tells them when it is asked.
//
// Strokes are named by their place in performance().strokes, which is in order of time; the index
// finds them by hit and bar without a search through all:
//
//   ofHit(b, h)   an ornament's strokes and the hit's own, in order of time
//   ofBar(n)      those whose hits are written in the song's bar n, in the order of the hits
//   between(t, u) those with t <= time < u
//
// The index is made when it is first asked for: a song that is only rendered needs none.
// Threads: unchanging once made and shared; safe to read from anywhere, also while the index is
// made.
#pragma once

#include <memory>
#include <mutex>
#include <span>
#include <stop_token>

#include "core/perform/performance.h"

namespace uneven {

class Take;
using SharedTake = std::shared_ptr<const Take>;

class Take {
 public:
  // `score` is of that song: all of it, or a part. Stopped: it is not whole.
  Take(Song song, Score score, const std::stop_token& stop = {});
  // Errors: those of arrange and arrangeGroove; givenUp() where it was told to stop.
  static Result<SharedTake> ofSong(Song song, const std::stop_token& stop = {});
  static Result<SharedTake> ofGroove(Song song, const std::string& grooveId,
                                     const AtPlace& at = {});

  const Song& song() const { return song_; }
  const Score& score() const { return score_; }
  const Performance& performance() const { return performance_; }
  const std::vector<Stroke>& strokes() const { return performance_.strokes; }
  operator Played() const { return {score_, performance_}; }
  // Who plays each stroke: as in Stroke::limb, or the hand that is found for it.
  const std::vector<Limb>& limbs() const;

  using Indices = std::span<const std::uint32_t>;
  Indices ofHit(std::uint32_t block, std::uint32_t hit) const;
  Indices ofBar(int bar) const;  // none where the score has no such bar
  struct Range {
    std::uint32_t begin = 0, end = 0;
    bool operator==(const Range&) const = default;
  };
  Range between(Moment from, Moment to) const;
  // Makes the index now, where there is time for it.
  void prepare() const { index(); }

 private:
  struct Index {
    std::vector<std::uint32_t> firstHit;   // of each block, counted over all; then how many
    std::vector<std::uint32_t> byHit;      // strokes
    std::vector<std::uint32_t> hitStarts;  // of each hit, in byHit; then its size
  };
  const Index& index() const;
  Indices hits(std::size_t begin, std::size_t end) const;

  Song song_;
  Score score_;
  Performance performance_;
  mutable std::once_flag handed_;
  mutable std::vector<Limb> limbs_;  // by stroke
  mutable std::once_flag indexed_;
  mutable Index index_;
};

}  // namespace uneven
