// SPDX-License-Identifier: GPL-3.0-or-later
// Holding strokes.
#include "core/perform/hold.h"

#include <algorithm>
#include <cstdlib>

namespace uneven {
namespace {

class HeldLane {
 public:
  HeldLane(std::vector<Stroke>& strokes, std::vector<bool>& held)
      : strokes_(strokes), held_(held) {}

  // The next stroke of the piece, as written.
  void take(std::size_t index) {
    if (!group_.empty() && written(strokes_[group_.front()]) != written(strokes_[index])) {
      std::size_t last = latest();
      while (strokes_[index].time < strokes_[last].time) {
        part(last, index);
        last = latest();
      }
      floor_ = strokes_[last].time;
      group_.clear();
    }
    push(index, floor_);
    group_.push_back(index);
  }

 private:
  static std::pair<std::int32_t, Beat> written(const Stroke& s) { return {s.bar, s.at}; }
  static std::int64_t moved(const Stroke& s) { return std::abs((s.time - s.grid).count()); }

  std::size_t latest() const {
    return *std::max_element(group_.begin(), group_.end(), [&](std::size_t a, std::size_t b) {
      return strokes_[a].time < strokes_[b].time;
    });
  }

  // `earlier` is written before `later` and would sound after it.
  void part(std::size_t earlier, std::size_t later) {
    const Moment gap = toMoment(kHeldGap);
    if (moved(strokes_[earlier]) > moved(strokes_[later])) {
      Moment back = strokes_[later].time - gap;
      if (floor_ != Moment::min()) back = std::max(back, floor_ + gap);
      if (back < strokes_[earlier].time) setTime(earlier, back);
    }
    push(later, strokes_[earlier].time);
  }
  // Behind `floor`, when it lies before it.
  void push(std::size_t index, Moment floor) {
    if (strokes_[index].time < floor) setTime(index, floor + toMoment(kHeldGap));
  }
  void setTime(std::size_t index, Moment time) {
    strokes_[index].time = time;
    held_[index] = true;
  }

  std::vector<Stroke>& strokes_;
  std::vector<std::size_t> group_;  // of the last position
  Moment floor_ = Moment::min();    // the latest of the position before that
  std::vector<bool>& held_;         // by stroke
};

}  // namespace

int OrderKeeper::hold(std::vector<Stroke>& strokes) const {
  if (!passed_) return 0;
  std::vector<bool> held(strokes.size(), false);
  std::vector<HeldLane> lanes(newest_.size(), HeldLane(strokes, held));
  for (std::size_t i = 0; i < strokes.size(); ++i) {
    lanes[strokes[i].piece.value].take(i);
  }
  return static_cast<int>(std::count(held.begin(), held.end(), true));
}

}  // namespace uneven
