// SPDX-License-Identifier: GPL-3.0-or-later
// Writing JSON member by member, where every byte of the layout is ours. Threads: plain values.
#pragma once

#include <algorithm>
#include <string>
#include <string_view>

#include "core/base/text_out.h"
#include "core/song/extras.h"
#include "core/time/beat.h"

namespace uneven {

// With its quotes; what is no UTF-8 becomes U+FFFD.
std::string quotedWithEscapes(std::string_view text);

// The same into `out`, quick where nothing is to be escaped.
inline void putQuoted(TextOut& out, std::string_view text) {
  const bool plain = std::all_of(text.begin(), text.end(), [](char c) {
    return c >= 0x20 && c != '"' && c != '\\';  // char is signed: bytes of UTF-8 are below 0
  });
  if (plain) {
    out.put('"').put(text).put('"');
  } else {
    out.put(quotedWithEscapes(text));
  }
}

// An object on one line: {"at": "0", "piece": "kick"}. Keys of ours need no escapes. `between` is
// what stands between this member and the one before.
class JsonLine {
 public:
  explicit JsonLine(TextOut& out) : out_(out) { out_.put('{'); }

  // A member whose value is put next.
  TextOut& key(std::string_view key, std::string_view between = ", ") {
    if (!first_) out_.put(between);
    first_ = false;
    return out_.put('"').put(key).put("\": ");
  }
  // The same with a key that may need escapes.
  TextOut& quotedKey(std::string_view key) {
    if (!first_) out_.put(", ");
    first_ = false;
    putQuoted(out_, key);
    return out_.put(": ");
  }
  JsonLine& raw(std::string_view key, std::string_view json) {
    this->key(key).put(json);
    return *this;
  }
  JsonLine& text(std::string_view key, std::string_view value) {
    putQuoted(this->key(key), value);
    return *this;
  }
  JsonLine& beat(std::string_view key, Beat value) {
    this->key(key).put('"').put(value.num());
    if (value.den() != 1) out_.put('/').put(value.den());
    out_.put('"');
    return *this;
  }
  JsonLine& number(std::string_view key, double value, std::string_view between = ", ") {
    this->key(key, between).put(value);
    return *this;
  }
  JsonLine& extras(const Extras& extras, std::string_view before = ", ") {
    for (const auto& [key, json] : extras.pairs()) {
      if (!first_) out_.put(before);
      before = ", ";
      first_ = false;
      putQuoted(out_, key);
      out_.put(": ").put(json);
    }
    return *this;
  }
  void end() { out_.put('}'); }

 private:
  TextOut& out_;
  bool first_ = true;
};

}  // namespace uneven
