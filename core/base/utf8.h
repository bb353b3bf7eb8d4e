// SPDX-License-Identifier: GPL-3.0-or-later
// UTF-8 (RFC 3629): telling good bytes from bad, and making bad ones fit to be shown.
#pragma once

#include <string>
#include <string_view>

namespace uneven {

// Good to the last byte; the empty text is.
bool isUtf8(std::string_view bytes);

// The same text with U+FFFD in place of each byte that is no part of good UTF-8.
std::string asUtf8(std::string_view bytes);

}  // namespace uneven
