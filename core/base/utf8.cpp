// SPDX-License-Identifier: GPL-3.0-or-later
// UTF-8.
#include "core/base/utf8.h"

#include <algorithm>
#include <cstdint>

namespace uneven {
namespace {

// Bytes of the character that begins at `at`; 0 where none does (RFC 3629, section 4).
std::size_t lengthAt(std::string_view bytes, std::size_t at) {
  const auto byte = [&](std::size_t i) {
    return at + i < bytes.size() ? static_cast<std::uint8_t>(bytes[at + i]) : 0;
  };
  const auto tail = [&](std::size_t i) { return (byte(i) & 0xC0) == 0x80; };
  const std::uint8_t first = byte(0);
  if (first < 0x80) return 1;
  if (first >= 0xC2 && first <= 0xDF) return tail(1) ? 2 : 0;
  if (first >= 0xE0 && first <= 0xEF) {
    if (!tail(1) || !tail(2)) return 0;
    const bool overlong = first == 0xE0 && byte(1) < 0xA0;
    const bool surrogate = first == 0xED && byte(1) > 0x9F;
    return overlong || surrogate ? 0 : 3;
  }
  if (first >= 0xF0 && first <= 0xF4) {
    if (!tail(1) || !tail(2) || !tail(3)) return 0;
    const bool overlong = first == 0xF0 && byte(1) < 0x90;
    const bool beyond = first == 0xF4 && byte(1) > 0x8F;
    return overlong || beyond ? 0 : 4;
  }
  return 0;
}

}  // namespace

bool isUtf8(std::string_view bytes) {
  for (std::size_t at = 0; at < bytes.size();) {
    const std::size_t length = lengthAt(bytes, at);
    if (length == 0) return false;
    at += length;
  }
  return true;
}

std::string asUtf8(std::string_view bytes) {
  std::string out;
  out.reserve(bytes.size());
  for (std::size_t at = 0; at < bytes.size();) {
    const std::size_t length = lengthAt(bytes, at);
    if (length == 0) {
      out += "\xEF\xBF\xBD";
    } else {
      out += bytes.substr(at, length);
    }
    at += std::max<std::size_t>(length, 1);
  }
  return out;
}

}  // namespace uneven
