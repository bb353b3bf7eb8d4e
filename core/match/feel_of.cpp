// SPDX-License-Identifier: GPL-3.0-or-later
// A fit as a feel of the song's.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/number.h"
#include "core/match/fit.h"
#include "core/match/weights.h"
#include "core/perform/swing.h"

namespace uneven {

Role roleByLoudness(double velocity, double loud) {
  if (velocity <= ear::kGhostShare * loud) return Role::kGhost;
  return velocity >= ear::kAccentShare * loud ? Role::kAccent : Role::kNormal;
}

namespace {

// "+10.6 +-0.5 ms": 95 of 100 such intervals hold the truth.
std::string withError(double value, double se, int decimals) {
  return fmt::format("{:.{}f} \u00b1 {:.{}f}", value, decimals, 1.96 * se, decimals);
}

std::string noteOf(const Fit& fit, const Kit& kit, const FeelParts& parts) {
  std::string out = fmt::format("measured from {} strokes at {} BPM", fit.used,
                                withError(fit.bpm.value, fit.bpmSe.value, 2));
  if (parts.swing && fit.swingPairs > 0)
    out += fmt::format("; ratio {}", withError(fit.swing.ratio, fit.ratioSe, 2));
  for (const auto& [piece, f] : fit.pieces) {
    if (parts.lean && f.n >= 2 && piece != kNotInKit)
      out += fmt::format("; {} {} ms", kit[piece].id, withError(f.lean.count(), f.se.count(), 1));
  }
  return out;
}

}  // namespace

Milliseconds asShift(Milliseconds lean) {
  return Milliseconds(roundedTo(std::clamp(lean, -kShiftMax, kShiftMax).count(), 10));
}

Feel feelOf(const Fit& fit, std::string id, std::string name, const Kit& kit,
            const FeelParts& parts) {
  Feel feel;
  feel.id = std::move(id);
  feel.name = std::move(name);
  feel.note = noteOf(fit, kit, parts);
  if (parts.swing) {
    feel.swing.unit = fit.swing.unit;
    feel.swing.written = fit.swing.written;
    feel.swing.ratio = roundedTo(std::clamp(fit.swing.ratio, kRatioMin, kRatioMax), 1'000);
  }
  const double pivot = fit.swing.written == Written::kTriplet ? 2.0 / 3 : 0.5;
  const double point = pointOfRatio(fit.swing.ratio);
  for (const auto& [piece, f] : fit.pieces) {
    if (f.n < 2 || piece == kNotInKit) continue;
    if (parts.lean) feel.displacement[piece] = asShift(f.lean);
    if (!parts.swing) continue;
    // A voice that surely swings less.
    if (const auto depth = fit.depths.find(piece); depth != fit.depths.end()) {
      feel.swing.depth[piece] = roundedTo(depth->second, 100);
    } else if (f.pairs > 0 && std::abs(point - pivot) > 0.02 &&
               point - f.point > 4 * f.pointSe + 0.01) {
      feel.swing.depth[piece] =
          roundedTo(std::clamp((f.point - pivot) / (point - pivot), 0.0, 1.0), 100);
    }
  }
  for (const SlotFit& s : fit.leaning) {
    if (!parts.slots || s.piece == kNotInKit ||
        std::abs(s.lean.count()) < std::max(1.5, 2.5 * s.se.count()))
      continue;
    Slot slot;
    slot.at = s.at;
    slot.piece = s.piece;
    slot.shift = asShift(s.lean);
    feel.slots.push_back(slot);
  }
  if (!parts.drift) return feel;
  if (fit.drift.clock >= ear::kDriftSome || fit.drift.motor >= ear::kDriftSome) {
    Drift drift;
    drift.clock = Milliseconds(roundedTo(fit.drift.clock.count(), 10));
    drift.motor = Milliseconds(roundedTo(fit.drift.motor.count(), 10));
    drift.exponent = fit.drift.exponent.value_or(1);
    feel.drift = drift;
  }
  return feel;
}

}  // namespace uneven
