// SPDX-License-Identifier: GPL-3.0-or-later
// What every harness needs: to insist, and to check what an accepted song promises.
#pragma once

#include <cstddef>
#include <cstdint>
#include <string_view>

#include "core/base/result.h"
#include "core/song/song.h"

namespace uneven::fuzz {

// Ends the program, which the fuzzer reports with its input.
void insist(bool condition, const char* what);

// An error that is fit to be shown.
void insistOnOneLine(const Error& error);

// A song that was accepted can be written, read again as it is, and rendered.
void insistOnSong(const Song& song);

inline std::string_view textOf(const std::uint8_t* data, std::size_t size) {
  return {reinterpret_cast<const char*>(data), size};
}

}  // namespace uneven::fuzz
