// SPDX-License-Identifier: GPL-3.0-or-later
// The one mapping between time and x in the whole program.
//
//   x = left + (quarters - first) * pxPerQuarter
//
// Time on the axis is in quarter notes, swung positions included, so that a picture does not depend
// on the tempo. quartersFromX is the exact inverse up to rounding of doubles.
#pragma once

namespace uneven {

class TimeAxis {
 public:
  TimeAxis() = default;
  // Shows [first, first + span) quarter notes between x = left and x = right; span and right - left
  // are > 0.
  TimeAxis(double left, double right, double first, double span)
      : left_(left), first_(first), pxPerQuarter_((right - left) / span) {}

  double xFromQuarters(double quarters) const {
    return left_ + (quarters - first_) * pxPerQuarter_;
  }
  double quartersFromX(double x) const { return first_ + (x - left_) / pxPerQuarter_; }
  double pxPerQuarter() const { return pxPerQuarter_; }

  bool operator==(const TimeAxis&) const = default;

 private:
  double left_ = 0;
  double first_ = 0;
  double pxPerQuarter_ = 1;
};

}  // namespace uneven
