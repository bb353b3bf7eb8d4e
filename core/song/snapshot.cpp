// SPDX-License-Identifier: GPL-3.0-or-later
// Snapshots.
#include "core/song/snapshot.h"

#include <algorithm>
#include <map>
#include <string_view>

namespace uneven {
namespace {

const Beat kChunkLength(4);

template <typename T>
bool samePointed(const std::shared_ptr<const T>& a, const std::shared_ptr<const T>& b) {
  return a == b || *a == *b;
}

}  // namespace

bool SongSnapshot::Kept::operator==(const Kept& other) const {
  return rest == other.rest && std::equal(chunks.begin(), chunks.end(), other.chunks.begin(),
                                          other.chunks.end(), [](const auto& a, const auto& b) {
                                            return a.first == b.first &&
                                                   samePointed(a.second, b.second);
                                          });
}

std::shared_ptr<const SongSnapshot::Kept> SongSnapshot::keep(const SharedValue<Groove>& groove,
                                                             const Kept* like) {
  auto kept = std::make_shared<Kept>();
  kept->source = groove.watch();
  // Not a copy of the whole, which would copy the hits only to throw them away.
  kept->rest = groove->withoutHits();
  auto known = like == nullptr ? decltype(kept->chunks)::const_iterator{} : like->chunks.begin();
  const std::vector<Hit>& hits = groove->hits;
  for (auto first = hits.begin(); first != hits.end();) {
    const std::int64_t place = first->at.floorDiv(kChunkLength);
    const Beat end = Beat(place + 1) * kChunkLength;
    const auto last =
        std::partition_point(first, hits.end(), [&](const Hit& hit) { return hit.at < end; });
    while (like != nullptr && known != like->chunks.end() && known->first < place) ++known;
    const bool same = like != nullptr && known != like->chunks.end() && known->first == place &&
                      std::equal(first, last, known->second->begin(), known->second->end());
    kept->chunks.emplace_back(
        place, same ? known->second : std::make_shared<const std::vector<Hit>>(first, last));
    first = last;
  }
  return kept;
}

std::shared_ptr<const SongSnapshot> SongSnapshot::of(const Song& song, const SongSnapshot* like) {
  auto out = std::make_shared<SongSnapshot>();
  out->rest_ = song.withoutGrooves();
  std::map<std::string_view, const std::shared_ptr<const Kept>*> known;
  if (like != nullptr) {
    for (const auto& kept : like->grooves_) known[kept->rest.id] = &kept;
  }
  out->grooves_.reserve(song.grooves.size());
  for (const SharedValue<Groove>& groove : song.grooves) {
    const auto found = known.find(groove->id);
    const std::shared_ptr<const Kept>* same = found == known.end() ? nullptr : found->second;
    if (same != nullptr && (*same)->source.lock() == groove.watch().lock()) {
      out->grooves_.push_back(*same);
    } else {
      out->grooves_.push_back(keep(groove, same == nullptr ? nullptr : same->get()));
    }
  }
  return out;
}

Song SongSnapshot::song(const Song& current, const SongSnapshot& now) const {
  std::map<const Kept*, const SharedValue<Groove>*> shared;
  for (std::size_t i = 0; i < now.grooves_.size() && i < current.grooves.size(); ++i) {
    shared[now.grooves_[i].get()] = &current.grooves[i];
  }
  Song out = rest_;
  out.grooves.reserve(grooves_.size());
  for (const auto& kept : grooves_) {
    if (const auto found = shared.find(kept.get()); found != shared.end()) {
      out.grooves.push_back(*found->second);
      continue;
    }
    Groove groove = kept->rest;
    for (const auto& [place, chunk] : kept->chunks) {
      groove.hits.insert(groove.hits.end(), chunk->begin(), chunk->end());
    }
    out.grooves.emplace_back(std::move(groove));
  }
  return out;
}

bool SongSnapshot::operator==(const SongSnapshot& other) const {
  return rest_ == other.rest_ &&
         std::equal(grooves_.begin(), grooves_.end(), other.grooves_.begin(), other.grooves_.end(),
                    samePointed<Kept>);
}

}  // namespace uneven
