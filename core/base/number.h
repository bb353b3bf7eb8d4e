// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers as text and the program's one rounding rule.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

namespace uneven {

// To the nearest whole number, halves away from zero. The one rounding function of the program:
// ticks, microseconds and nanoseconds all come through here.
// Out of range of int64: the nearest end of the range. NaN: 0.
std::int64_t roundToInt(double value);
// To the nearest of so many steps in one: 100 for hundredths.
inline double roundedTo(double value, double stepsInOne) {
  return static_cast<double>(roundToInt(value * stepsInOne)) / stepsInOne;
}

// The shortest text that reads back as the same double: 0.6, 92, -2.5.
std::string shortest(double value);

// Whole decimal text only ("12", "-3"); nothing for anything else or out of range.
std::optional<std::int64_t> wholeNumber(std::string_view text);
// Decimal text only; refuses blanks, "inf" and "nan".
std::optional<double> decimalNumber(std::string_view text);

}  // namespace uneven
