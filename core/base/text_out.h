// SPDX-License-Identifier: GPL-3.0-or-later
// Text that is put together from many small pieces, a million lines of it.
//
//   TextOut out;
//   out.put("bar ").put(3).put(", ").put(0.25);   // "bar 3, 0.25"
//
// Numbers are written as fmt and `shortest` write them. With a sink the text is handed on in blocks
// instead of being kept. Threads: a plain value.
#pragma once

#include <algorithm>
#include <charconv>
#include <concepts>
#include <cstdint>
#include <cstring>
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
    std::memcpy(room(text.size()), text.data(), text.size());
    size_ += text.size();
    return *this;
  }
  TextOut& put(const char* text) { return put(std::string_view(text)); }
  TextOut& put(char c) {
    *room(1) = c;
    ++size_;
    return *this;
  }
  template <std::integral T>
  requires(!std::same_as<T, char> && !std::same_as<T, bool>) TextOut& put(T number) {
    char* at = room(kDigitsMost);
    size_ += static_cast<std::size_t>(std::to_chars(at, at + kDigitsMost, number).ptr - at);
    return *this;
  }
  // As `shortest` does.
  TextOut& put(double number) {
    const auto whole = static_cast<std::int64_t>(number);
    if (number > -1e15 && number < 1e15 && static_cast<double>(whole) == number) return put(whole);
    return put(shortest(number));
  }
  // With zeros in front: six digits of 42 are 000042. `number` has no more digits than that.
  TextOut& putDigits(std::uint64_t number, std::size_t width) {
    char* at = room(width);
    for (std::size_t i = width; i-- > 0; number /= 10) at[i] = static_cast<char>('0' + number % 10);
    size_ += width;
    return *this;
  }

  // Hands on what is left. False: the sink could not take all.
  bool finish() {
    if (sink_) flush();
    return good_;
  }
  bool good() const { return good_; }
  std::string take() {
    text_.resize(size_);
    size_ = 0;
    return std::move(text_);
  }

 private:
  static constexpr std::size_t kBlock = std::size_t{1} << 16;
  static constexpr std::size_t kDigitsMost = 24;

  // Where so many bytes can be put.
  char* room(std::size_t bytes) {
    if (text_.size() - size_ < bytes) grow(bytes);
    return text_.data() + size_;
  }
  void grow(std::size_t bytes) {
    if (sink_) flush();
    text_.resize(std::max(sink_ ? kBlock : 2 * text_.size() + 256, size_ + bytes));
  }
  void flush() {
    good_ = good_ && sink_(std::string_view(text_).substr(0, size_));
    size_ = 0;
  }

  TextSink sink_;
  std::string text_;  // room, of which `size_` bytes are used
  std::size_t size_ = 0;
  bool good_ = true;
};

}  // namespace uneven
