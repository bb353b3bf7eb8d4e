// SPDX-License-Identifier: GPL-3.0-or-later
// Sorting what is nearly in order: tile by tile, so that what is moved stays in the processor's
// cache. Threads: pure functions.
#pragma once

#include <algorithm>
#include <cstddef>
#include <iterator>

namespace uneven {

// Elements in a tile.
inline constexpr std::ptrdiff_t kTile = 4096;

// Merges two sorted neighbours, of which only the ends that reach into each other are moved.
template <typename Iterator, typename Less>
void mergeOverlap(Iterator begin, Iterator middle, Iterator end, const Less& less) {
  if (begin == middle || middle == end) return;
  const Iterator first = std::upper_bound(begin, middle, *middle, less);
  if (first == middle) return;
  const Iterator last = std::lower_bound(middle, end, *std::prev(middle), less);
  std::inplace_merge(first, middle, last, less);
}

// As std::stable_sort, by insertion as long as elements stand near their places: that moves each a
// few steps where merging moves each a dozen times.
template <typename Iterator, typename Less>
void sortNearly(Iterator begin, Iterator end, const Less& less) {
  constexpr std::ptrdiff_t kStepsEach = 8;
  std::ptrdiff_t steps = kStepsEach * (end - begin);
  for (Iterator next = begin; next != end; ++next) {
    if (next == begin || !less(*next, *std::prev(next))) continue;
    Iterator place = std::prev(next);
    while (place != begin && less(*next, *std::prev(place))) --place;
    steps -= next - place;
    std::rotate(place, next, std::next(next));
    if (steps < 0) return std::stable_sort(begin, end, less);
  }
}

// As std::stable_sort; linear where no element is far from its place, quadratic in the number of
// tiles where all are.
template <typename Iterator, typename Less>
void sortByTiles(Iterator begin, Iterator end, const Less& less) {
  for (Iterator tile = begin; tile != end;) {
    const Iterator next = tile + std::min(kTile, end - tile);
    sortNearly(tile, next, less);
    mergeOverlap(begin, tile, next, less);
    tile = next;
  }
}

}  // namespace uneven
