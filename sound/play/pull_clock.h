// SPDX-License-Identifier: GPL-3.0-or-later
// When the frames that a device asks for are heard.
//
// Devices ask in bursts, and late where the machine is busy; what is struck or sent by the moments
// of asking would be as uneven. A delay-locked loop of the second order smooths them and finds the
// device's own rate: F. Adriaensen 2005, "Using a DLL to filter time", Linux Audio Conference.
// Threads: one at a time.
#pragma once

#include <chrono>
#include <cmath>
#include <numbers>

namespace uneven {

class PullClock {
 public:
  using Time = std::chrono::steady_clock::time_point;

  // `rate`: frames a second, nominally.
  explicit PullClock(int rate) : nominal_(1.0 / rate), period_(nominal_) {}

  // `frames` (1 or more) are asked for at `now`: the moment of the frame that follows them.
  Time after(Time now, int frames) {
    const double off = std::chrono::duration<double>(now - next_).count();
    if (std::abs(off) > kLost) {
      next_ = now;
      period_ = nominal_;
      return forward(frames * period_);
    }
    const double omega = 2 * std::numbers::pi * kBandwidth * frames * nominal_;
    const Time next = forward(std::numbers::sqrt2 * omega * off + frames * period_);
    period_ += omega * omega * off / frames;
    return next;
  }

 private:
  // The time of a device that stalled, was opened anew, or belongs to a test that is in a hurry.
  static constexpr double kLost = 0.05;      // s
  static constexpr double kBandwidth = 0.5;  // Hz; chosen by: bursts of 20 ms come out within 1 ms

  Time forward(double seconds) {
    next_ += std::chrono::duration_cast<Time::duration>(std::chrono::duration<double>(seconds));
    return next_;
  }

  double nominal_, period_;  // s a frame
  Time next_{};
};

}  // namespace uneven
