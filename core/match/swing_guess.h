// SPDX-License-Identifier: GPL-3.0-or-later
// Where a swing puts the slots of a grid, and which swing suits strokes best at first sight.
// Threads: pure functions.
#pragma once

#include <cmath>
#include <limits>
#include <vector>

#include "core/perform/swing.h"
#include "core/song/feel.h"

namespace uneven {

// Written positions of a quarter and where the swing puts them.
class SwungSlots {
 public:
  SwungSlots(Grid grid, Swing swing) : grid_(grid), swing_(std::move(swing)) {
    const Beat step = grid_.step();
    const Beat cycle = step > Beat(1) ? step : Beat(1);
    for (Beat at; at < cycle; at += step) at_.push_back({at, swungAt(at)});
    length_ = cycle;
    cycle_ = cycle.toDouble();
  }
  struct At {
    Beat written;
    double swung = 0;
  };
  const std::vector<At>& cycle() const { return at_; }
  Beat length() const { return length_; }

  // The slot nearest to a position: in which cycle (the next one's first is its own `at_.size()`),
  // which of it, and how long slots are there.
  struct Near {
    std::int64_t cycle = 0;
    std::size_t slot = 0;
    double swung = 0, room = 0;
  };
  Near nearest(double quarters) const {
    const double whole = std::floor(quarters / cycle_);
    const double inside = quarters - whole * cycle_;
    const double start = whole * cycle_;
    std::size_t best = 0;
    double away = std::numeric_limits<double>::infinity();
    for (std::size_t i = 0; i <= at_.size(); ++i) {
      const double here = i == at_.size() ? cycle_ : at_[i].swung;
      if (std::abs(inside - here) >= away) continue;
      away = std::abs(inside - here);
      best = i;
    }
    Near out;
    out.cycle = static_cast<std::int64_t>(whole) + (best == at_.size() ? 1 : 0);
    out.slot = best % at_.size();
    out.swung = start + (best == at_.size() ? cycle_ : at_[best].swung);
    const std::size_t k = best % at_.size();
    const double before = k == 0 ? cycle_ - at_.back().swung : at_[k].swung - at_[k - 1].swung;
    const double after = (k + 1 == at_.size() ? cycle_ : at_[k + 1].swung) - at_[k].swung;
    out.room = inside < (best == at_.size() ? cycle_ : at_[best].swung) ? before : after;
    return out;
  }
  // How far the nearest slot is.
  double away(double quarters) const {
    const double inside = quarters - std::floor(quarters / cycle_) * cycle_;
    double least = cycle_ - inside;
    for (const At& at : at_) least = std::min(least, std::abs(inside - at.swung));
    return least;
  }
  double swungAt(Beat inCycle) const {
    const Beat pair = swing_.unitLength() * Beat(2);
    const std::int64_t k = inCycle.floorDiv(pair);
    const double p = ((inCycle - Beat(k) * pair) / pair).toDouble();
    const double t = pointOfRatio(swing_.ratio);
    const double w = swing_.written == Written::kTriplet ? 2.0 / 3 : 0.5;
    const double bent = p <= w ? p * t / w : t + (p - w) * (1 - t) / (1 - w);
    return (static_cast<double>(k) + bent) * pair.toDouble();
  }

 private:
  Grid grid_;
  Swing swing_;
  Beat length_;
  double cycle_ = 1;
  std::vector<At> at_;
};

// Long : short of a pair whose off-note lies there.
inline double ratioOfPoint(double point) {
  return point / (1 - point);
}

struct SwingGuess {
  Swing swing;
  double shift = 0;  // quarters by which all lies late
  double suits = -1e300;
};

// The point, and how far the line itself may be off.
SwingGuess bestPoint(const std::vector<double>& quarters, Grid grid, SwingUnit unit,
                     Written written, double width);

}  // namespace uneven
