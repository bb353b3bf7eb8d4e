// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers as text and the program's one rounding rule.
#include "core/base/number.h"

#include <fmt/format.h>

#include <charconv>
#include <cmath>
#include <limits>

namespace uneven {

std::int64_t roundToInt(double value) {
  constexpr double kEdge = 9223372036854775807.0;  // 2^63 as a double
  if (std::isnan(value)) return 0;
  if (value >= kEdge) return std::numeric_limits<std::int64_t>::max();
  if (value <= -kEdge) return std::numeric_limits<std::int64_t>::min();
  return std::llround(value);
}

std::string shortest(double value) {
  if (value == std::trunc(value) && std::abs(value) < 1e15) {
    return fmt::format("{}", static_cast<std::int64_t>(value));
  }
  return fmt::format("{}", value);
}

std::optional<std::int64_t> wholeNumber(std::string_view text) {
  std::int64_t value = 0;
  const char* end = text.data() + text.size();
  const auto [rest, status] = std::from_chars(text.data(), end, value);
  if (text.empty() || status != std::errc() || rest != end) return std::nullopt;
  return value;
}

std::optional<double> decimalNumber(std::string_view text) {
  double value = 0;
  const char* end = text.data() + text.size();
  const auto [rest, status] = std::from_chars(text.data(), end, value);
  if (text.empty() || status != std::errc() || rest != end || !std::isfinite(value)) {
    return std::nullopt;
  }
  return value;
}

}  // namespace uneven
