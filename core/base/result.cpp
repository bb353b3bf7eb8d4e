// SPDX-License-Identifier: GPL-3.0-or-later
// How an error reads on one line.
#include "core/base/result.h"

#include <fmt/format.h>

#include "core/base/utf8.h"

namespace uneven {
namespace {

// A file's name or a piece of it can hold any byte; it must neither break the line nor the text.
std::string onOneLine(const std::string& text) {
  std::string out;
  out.reserve(text.size());
  for (const char c : text) out += (static_cast<unsigned char>(c) < 0x20 || c == 0x7F) ? '?' : c;
  return asUtf8(out);
}

}  // namespace

Error givenUp(std::string file) {
  return {ErrorCode::kUsage, "given up", {std::move(file), 0, 0, std::nullopt}};
}

std::string Error::line() const {
  std::string out;
  if (!where.file.empty()) out += onOneLine(where.file) + ":";
  if (where.line > 0) out += fmt::format("{}:{}:", where.line, where.column);
  if (!out.empty()) out += ' ';
  if (where.byte) out += fmt::format("byte {}: ", *where.byte);
  return out + onOneLine(message);
}

}  // namespace uneven
