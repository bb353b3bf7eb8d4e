// SPDX-License-Identifier: GPL-3.0-or-later
// Reading sticking lines.
#include "core/tools/sticking.h"

#include <fmt/format.h>

#include <cctype>
#include <optional>

namespace uneven {
namespace {

class StickingReader {
 public:
  explicit StickingReader(std::string_view text) : text_(text) {}

  Result<Sticking> read() {
    Sticking out;
    bool joins = false;
    for (skipBlanks(); at_ < text_.size() && !error_; skipBlanks()) {
      const char c = text_[at_];
      if (c == '.') {
        if (joins) fail("+ needs a letter on both sides");
        ++at_;
        out.emplace_back();
      } else if (c == '+') {
        if (out.empty() || out.back().empty() || joins) fail("+ needs a letter on both sides");
        joins = true;
        ++at_;
      } else if (c == '(' || c == ')') {
        bracket(c);
      } else {
        const StickingStroke stroke = readStroke();
        if (!joins) out.emplace_back();
        out.back().push_back(stroke);
        joins = false;
      }
    }
    if (!error_ && joins) fail("+ needs a letter on both sides");
    if (!error_ && open_) fail("a ( is never closed");
    if (!error_ && out.empty()) fail("nothing to lay: write letters, as RLRR LRLL");
    if (error_) return *error_;
    return out;
  }

 private:
  void skipBlanks() {
    while (at_ < text_.size() && (text_[at_] == ' ' || text_[at_] == '|' || text_[at_] == '\t')) {
      ++at_;
    }
  }
  void bracket(char c) {
    if ((c == '(') == open_) fail(c == '(' ? "a ( inside a (" : "a ) without its (");
    open_ = c == '(';
    ++at_;
  }
  StickingStroke readStroke() {
    StickingStroke stroke;
    bool bracketed = false;
    for (; at_ < text_.size(); ++at_) {
      const char c = text_[at_];
      if (c == '>') {
        stroke.role = Role::kAccent;
      } else if (c == '~') {
        stroke.ornament = Ornament::kFlam;
      } else if (c == '=') {
        stroke.ornament = Ornament::kDrag;
      } else if (c == 'z') {
        stroke.ornament = Ornament::kBuzz;
      } else if (c == '[' && !bracketed) {
        bracketed = true;
      } else {
        break;
      }
    }
    if (at_ == text_.size()) {
      fail("ends where a letter must stand");
      return stroke;
    }
    const char letter = text_[at_];
    stroke.who = static_cast<char>(std::toupper(static_cast<unsigned char>(letter)));
    if (std::string_view("RLKF").find(stroke.who) == std::string_view::npos) {
      fail(fmt::format("\"{}\" is none of R, L, K and F", letter));
      return stroke;
    }
    ++at_;
    const bool lower = letter != stroke.who;
    if (bracketed) {
      if (at_ == text_.size() || text_[at_] != ']') {
        fail("a [ holds one letter and is closed by ]");
        return stroke;
      }
      ++at_;
    }
    if ((lower || bracketed) && stroke.role != Role::kAccent) stroke.role = Role::kGhost;
    return stroke;
  }
  void fail(std::string message) {
    if (error_) return;
    error_ = Error{ErrorCode::kSyntax, fmt::format("letter {}: {}", at_ + 1, message), {}};
    error_->where.line = 1;
    error_->where.column = static_cast<int>(at_) + 1;
  }

  std::string_view text_;
  std::size_t at_ = 0;
  bool open_ = false;
  std::optional<Error> error_;
};

}  // namespace

Result<Sticking> readSticking(std::string_view text) {
  return StickingReader(text).read();
}

}  // namespace uneven
