// SPDX-License-Identifier: GPL-3.0-or-later
// Text that is put together from many small pieces, a million lines of it.
//
//   TextOut out;
//   out.put("bar ").put(3).put(", ").put(0.25);   // "bar 3, 0.25"
//
// Numbers are written as fmt and `shortest` write them. With a sink the text is handed on in blocks
// instead of being kept. Threads: a plain value.
#pragma once

#include <charconv>
#include <concepts>
#include <cstdint>
#include <functional>
#include <string>
#include <string_view>

#include "core/base/number.h"

namespace uneven {

// Takes a block of text; false: it could not be taken, and no more need be made.
using TextSink = std::function<bool(std::string_view)>;

class TextOut {
 public:
  TextOut() = default;
  explicit TextOut(TextSink sink) : sink_(std::move(sink)) {}

  TextOut& put(std::string_view text) {
    text_ += text;
    if (sink_ && text_.size() >= kBlock) flush();
    return *this;
  }
  TextOut& put(const char* text) { return put(std::string_view(text)); }
  TextOut& put(char c) {
    text_ += c;
    return *this;
  }
  template <std::integral T>
  requires(!std::same_as<T, char> && !std::same_as<T, bool>) TextOut& put(T number) {
    char digits[24];
    const auto end = std::to_chars(digits, digits + sizeof digits, number).ptr;
    text_.append(digits, end);
    return *this;
  }
  // As `shortest` does.
  TextOut& put(double number) {
    const auto whole = static_cast<std::int64_t>(number);
    if (number > -1e15 && number < 1e15 && static_cast<double>(whole) == number) return put(whole);
    return put(shortest(number));
  }
  // With zeros in front: six digits of 42 are 000042.
  TextOut& putDigits(std::uint64_t number, std::size_t width) {
    char digits[24];
    const auto end = std::to_chars(digits, digits + sizeof digits, number).ptr;
    const auto length = static_cast<std::size_t>(end - digits);
    if (length < width) text_.append(width - length, '0');
    text_.append(digits, length);
    return *this;
  }

  // Hands on what is left. False: the sink could not take all.
  bool finish() {
    if (sink_) flush();
    return good_;
  }
  bool good() const { return good_; }
  std::string take() { return std::move(text_); }

 private:
  static constexpr std::size_t kBlock = std::size_t{1} << 16;
  void flush() {
    good_ = good_ && sink_(text_);
    text_.clear();
  }

  TextSink sink_;
  std::string text_;
  bool good_ = true;
};

}  // namespace uneven
