// SPDX-License-Identifier: GPL-3.0-or-later
// Swing.
#include "core/perform/swing.h"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <string>

#include "core/base/number.h"

namespace uneven {
namespace {

std::optional<double> withinLimits(double ratio) {
  // A ratio at an end that was typed in another unit comes back a rounding off.
  constexpr double kRounding = 1e-9;
  if (!(ratio >= kRatioMin - kRounding && ratio <= kRatioMax + kRounding)) return std::nullopt;
  return std::clamp(ratio, kRatioMin, kRatioMax);
}

}  // namespace

Milliseconds pairLength(SwingUnit unit, Tempo tempo) {
  return tempo.quarter() * (unit == SwingUnit::kEighth ? 1.0 : 0.5);
}

std::optional<double> ratioOfPercent(double percent) {
  return withinLimits(percent / (100 - percent));
}

std::optional<double> ratioOfShort(Milliseconds shortNote, Milliseconds pair) {
  return withinLimits((pair - shortNote) / shortNote);
}

double linkedRatio(Milliseconds pair) {
  return std::clamp((pair - kLinkedShort) / kLinkedShort, kRatioMin, kLinkedRatioMax);
}

namespace {

std::string withoutSpaces(std::string_view text) {
  std::string out;
  for (const char c : text) {
    if (c == ' ' || c == '\t') continue;
    out += c == ',' ? '.' : static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
  }
  return out;
}

}  // namespace

std::optional<double> ratioSaid(std::string_view text, SwingSaid plain, Milliseconds pair) {
  std::string said = withoutSpaces(text);
  const bool shortMeant = plain == SwingSaid::kMs;
  for (const auto& [word, ratio] : {std::pair{"straight", 1.0},
                                    {"even", 1.0},
                                    {"triplet", 2.0},
                                    {"triplets", 2.0},
                                    {"shuffle", 2.0},
                                    {"dotted", 3.0}}) {
    if (said == word) return ratio;
  }
  if (const std::size_t colon = said.find(':'); colon != std::string::npos) {
    const auto longer = decimalNumber(said.substr(0, colon));
    const auto shorter = decimalNumber(said.substr(colon + 1));
    if (!longer || !shorter || !(*shorter > 0)) return std::nullopt;
    return withinLimits(*longer / *shorter);
  }
  const auto chopped = [&](std::string_view unit) {
    if (!said.ends_with(unit)) return false;
    said.resize(said.size() - unit.size());
    return true;
  };
  if (chopped("ms")) {
    plain = SwingSaid::kMs;
  } else if (chopped("%")) {
    plain = SwingSaid::kPercent;
  }
  const auto number = decimalNumber(said);
  if (!number) return std::nullopt;
  switch (plain) {
    case SwingSaid::kPercent:
      return ratioOfPercent(*number);
    case SwingSaid::kMs: {
      const Milliseconds note(*number);
      return ratioOfShort(note * 2 > pair && !shortMeant ? pair - note : note, pair);
    }
    case SwingSaid::kRatio:
      break;
  }
  return withinLimits(*number);
}

double ratioAt(const Swing& swing, Tempo tempo) {
  return swing.linked ? linkedRatio(pairLength(swing.unit, tempo)) : swing.ratio;
}

std::string_view nameOfRatio(double ratio) {
  constexpr double kNear = 0.005;
  if (std::abs(ratio - 1) < kNear) return "straight";
  if (std::abs(ratio - 2) < kNear) return "triplet";
  if (std::abs(ratio - 3) < kNear) return "dotted";
  return {};
}

SwingCurve::SwingCurve(const Swing& swing, Beat barLength)
    : pair_(Beat(2) * swing.unitLength()),
      swungEnd_(Beat(barLength.floorDiv(pair_)) * pair_),
      triplet_(swing.written == Written::kTriplet),
      pivot_(triplet_ ? 2.0 / 3.0 : 0.5) {}

Beat SwingCurve::pairStart(Beat atInBar) const {
  return Beat(atInBar.floorDiv(pair_)) * pair_;
}

Quarters SwingCurve::swung(Beat atInBar, double target) const {
  if (target == pivot_ || atInBar >= swungEnd_) return atInBar;
  const Beat start = pairStart(atInBar);
  const Beat p = (atInBar - start) / pair_;
  if (p == Beat(0)) return atInBar;
  const Beat pivot = triplet_ ? Beat(2, 3) : Beat(1, 2);
  const double moved = p <= pivot ? p.toDouble() * target / pivot_
                                  : target + (p.toDouble() - pivot_) * (1 - target) / (1 - pivot_);
  return Quarters(start.toDouble() + pair_.toDouble() * moved);
}

}  // namespace uneven
