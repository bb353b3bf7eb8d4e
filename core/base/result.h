// SPDX-License-Identifier: GPL-3.0-or-later
// One error type and one result type for the whole program.
//
// A Result<T> holds a T or an Error, never both:
//
//   Result<Song> song = readSong(text, "song.ustick");
//   if (!song) { report(song.error().line()); return; }
//   use(*song);
//
// Nothing throws across a library's edge and the core never prints: whoever calls decides what to
// do with an Error. Threads: plain values.
#pragma once

#include <cassert>
#include <cstdint>
#include <optional>
#include <string>
#include <utility>
#include <variant>

namespace uneven {

enum class ErrorCode : std::uint8_t {
  kSyntax,       // the text is not what its format demands
  kLimit,        // a value outside what is allowed
  kUnknown,      // an id that nothing has
  kVersion,      // written by a newer program
  kNotFound,     // no such file
  kPermission,   // the system will not let us
  kNoSpace,      // the device is full
  kInputOutput,  // any other failure of a device
  kUsage,        // called with words it does not know
};

// Where an error lies. `line` and `column` count from 1, `column` in bytes; 0 means not known.
// `byte` counts from 0 and is used for binary files, which have no lines.
struct Where {
  std::string file;
  int line = 0;
  int column = 0;
  std::optional<std::uint64_t> byte;

  bool operator==(const Where&) const = default;
};

struct Error {
  ErrorCode code = ErrorCode::kSyntax;
  std::string message;  // what is wrong and what is allowed; no line break
  Where where;

  // "FILE:LINE:COL: message", or "FILE: byte N: message", with what is not known left out. One
  // line of good UTF-8, whatever the file and its name contain.
  std::string line() const;

  bool operator==(const Error&) const = default;
};

template <typename T>
class [[nodiscard]] Result {
 public:
  Result(T value) : state_(std::move(value)) {}      // NOLINT(google-explicit-constructor)
  Result(Error error) : state_(std::move(error)) {}  // NOLINT(google-explicit-constructor)

  explicit operator bool() const { return state_.index() == 0; }
  const T& operator*() const& { return value(); }
  T& operator*() & { return value(); }
  T&& operator*() && { return std::move(value()); }
  const T* operator->() const { return &value(); }
  T* operator->() { return &value(); }
  const Error& error() const {
    assert(state_.index() == 1);
    return std::get<1>(state_);
  }

 private:
  const T& value() const {
    assert(state_.index() == 0);
    return std::get<0>(state_);
  }
  T& value() {
    assert(state_.index() == 0);
    return std::get<0>(state_);
  }

  std::variant<T, Error> state_;
};

// What long work answers that was told to stop, by its std::stop_token or by its progress: nobody
// waits for it any more. kUsage.
Error givenUp(std::string file = {});

// For what either works or does not.
struct Done {
  bool operator==(const Done&) const = default;
};
using Status = Result<Done>;

}  // namespace uneven
