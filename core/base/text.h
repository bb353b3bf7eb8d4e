// SPDX-License-Identifier: GPL-3.0-or-later
// Small questions about text.
#pragma once

#include <string_view>

namespace uneven {

// Without the blanks, tabs and ends of lines around it.
inline std::string_view trimmed(std::string_view text) {
  const auto blank = [](char c) { return c == ' ' || c == '\t' || c == '\r'; };
  while (!text.empty() && blank(text.front())) text.remove_prefix(1);
  while (!text.empty() && blank(text.back())) text.remove_suffix(1);
  return text;
}

}  // namespace uneven
