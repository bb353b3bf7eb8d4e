// SPDX-License-Identifier: GPL-3.0-or-later
// A Song as undo keeps it: as a value, but in pieces that snapshots of one history share.
//
// An edit of one hit makes a new list of all hits of its groove. Five hundred steps would keep five
// hundred such lists; a snapshot cuts them into chunks of four quarter notes and takes over from
// the snapshot before it every chunk that is the same:
//
//   auto before = SongSnapshot::of(song, nullptr);
//   auto after = SongSnapshot::of(edited, before.get());   // one chunk of its own
//   Song again = before->song(edited, *after);             // == song
//
// Threads: immutable once made.
#pragma once

#include <memory>
#include <utility>
#include <vector>

#include "core/song/song.h"

namespace uneven {

class SongSnapshot {
 public:
  // `like`: of a song that may have much in common; nullptr: none.
  static std::shared_ptr<const SongSnapshot> of(const Song& song, const SongSnapshot* like);

  // The song. Grooves that it has in common with `current`, of which `now` is the snapshot, are
  // shared with it.
  Song song(const Song& current, const SongSnapshot& now) const;

  // Whether both are of equal songs.
  bool operator==(const SongSnapshot& other) const;

 private:
  using Chunk = std::shared_ptr<const std::vector<Hit>>;
  struct Kept {
    std::weak_ptr<const Groove> source;  // to know it again; its hits are not kept alive
    Groove rest;                         // without hits
    std::vector<std::pair<std::int64_t, Chunk>> chunks;  // by their place, ascending
    bool operator==(const Kept& other) const;
  };
  static std::shared_ptr<const Kept> keep(const SharedValue<Groove>& groove, const Kept* like);

  Song rest_;  // without grooves
  std::vector<std::shared_ptr<const Kept>> grooves_;
};

}  // namespace uneven
