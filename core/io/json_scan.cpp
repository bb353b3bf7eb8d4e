// SPDX-License-Identifier: GPL-3.0-or-later
// Scanning JSON.
#include "core/io/json_scan.h"

#include <array>
#include <cstdint>

#include "core/base/utf8.h"

namespace uneven {
namespace {

class Scanner {
 public:
  Scanner(std::string_view text, std::vector<JsonNode>& nodes)
      : text_(text), end_(static_cast<std::uint32_t>(text.size())), nodes_(nodes) {}

  bool run() {
    // About a node for eight bytes, as songs are written.
    nodes_.clear();
    nodes_.reserve(text_.size() / 8 + 2);
    nodes_.resize(1);
    if (!value()) return false;
    while (depth_ > 0) {
      if (!next()) return false;
    }
    skipBlanks();
    return at_ == end_;
  }

 private:
  struct Level {
    JsonTree::Id id = 0;
    JsonTree::Id lastChild = 0;
    bool object = false;
  };

  char peek() const { return at_ < end_ ? text_[at_] : '\0'; }
  void skipBlanks() {
    while (at_ < end_) {
      const char c = text_[at_];
      if (c != ' ' && c != '\n' && c != '\t' && c != '\r') return;
      ++at_;
    }
  }

  // What stands behind a value or an opening bracket: the next member, or the closing bracket.
  bool next() {
    Level& level = levels_[depth_ - 1];
    skipBlanks();
    const char closing = level.object ? '}' : ']';
    if (peek() == closing) {
      nodes_[level.id].end = ++at_;
      --depth_;
      return true;
    }
    if (level.lastChild != 0) {
      if (peek() != ',') return false;
      ++at_;
      skipBlanks();
    }
    if (!level.object) return value();
    keyBegin_ = at_;
    if (peek() != '"' || !string()) return false;
    keyEnd_ = at_;
    skipBlanks();
    if (peek() != ':') return false;
    ++at_;
    return value();
  }

  bool value() {
    skipBlanks();
    const std::uint32_t begin = at_;
    switch (peek()) {
      case '{':
        ++at_;
        return open(begin, JsonKind::kObject);
      case '[':
        ++at_;
        return open(begin, JsonKind::kArray);
      case '"':
        return string() && leaf(begin, JsonKind::kString);
      case 't':
        return word("true") && leaf(begin, JsonKind::kBool);
      case 'f':
        return word("false") && leaf(begin, JsonKind::kBool);
      case 'n':
        return word("null") && leaf(begin, JsonKind::kNull);
      default:
        return number(begin);
    }
  }

  bool word(std::string_view expected) {
    if (text_.substr(at_, expected.size()) != expected) return false;
    at_ += static_cast<std::uint32_t>(expected.size());
    return true;
  }

  static bool isDigit(char c) { return c >= '0' && c <= '9'; }

  bool number(std::uint32_t begin) {
    // So many signs never leave the range of an int64 or a double.
    constexpr std::uint32_t kWholeMost = 18, kRealMost = 64;
    if (peek() == '-') ++at_;
    if (!isDigit(peek())) return false;
    if (peek() == '0' && at_ + 1 < end_ && isDigit(text_[at_ + 1])) return false;
    while (isDigit(peek())) ++at_;
    JsonKind kind = JsonKind::kWhole;
    if (peek() == '.') {
      kind = JsonKind::kReal;
      ++at_;
      if (!isDigit(peek())) return false;
      while (isDigit(peek())) ++at_;
    }
    const char behind = peek();
    const std::uint32_t most = kind == JsonKind::kWhole ? kWholeMost : kRealMost;
    if (behind == 'e' || behind == 'E' || at_ - begin > most) return false;
    return leaf(begin, kind);
  }

  // From the opening quote to behind the closing one.
  bool string() {
    ++at_;
    bool ascii = true;
    const std::uint32_t begin = at_;
    for (; at_ < end_; ++at_) {
      const auto c = static_cast<unsigned char>(text_[at_]);
      if (c == '"') {
        if (!ascii && !isUtf8(text_.substr(begin, at_ - begin))) return false;
        ++at_;
        return true;
      }
      if (c < 0x20) return false;
      if (c == '\\') {
        ++at_;
        // \u may be half of a pair: rare.
        if (std::string_view("\"\\/bfnrt").find(peek()) == std::string_view::npos) return false;
      }
      ascii = ascii && c < 0x80;
    }
    return false;
  }

  JsonTree::Id add(std::uint32_t begin, std::uint32_t end, JsonKind kind) {
    const auto id = static_cast<JsonTree::Id>(nodes_.size());
    JsonNode& node = nodes_.emplace_back();
    node.kind = kind;
    node.begin = begin;
    node.end = end;
    if (depth_ == 0) return id;
    Level& level = levels_[depth_ - 1];
    node.parent = level.id;
    if (level.object) {
      node.keyBegin = keyBegin_;
      node.keyEnd = keyEnd_;
    }
    if (level.lastChild == 0) {
      nodes_[level.id].firstChild = id;
    } else {
      nodes_[level.lastChild].nextSibling = id;
    }
    level.lastChild = id;
    return id;
  }
  bool leaf(std::uint32_t begin, JsonKind kind) {
    add(begin, at_, kind);
    return true;
  }
  bool open(std::uint32_t begin, JsonKind kind) {
    if (depth_ >= levels_.size()) return false;
    const JsonTree::Id id = add(begin, at_, kind);
    levels_[depth_++] = {id, 0, kind == JsonKind::kObject};
    return true;
  }

  std::string_view text_;
  std::uint32_t at_ = 0;
  std::uint32_t end_;
  std::vector<JsonNode>& nodes_;
  std::array<Level, JsonTree::kDepthMax> levels_{};
  std::size_t depth_ = 0;
  std::uint32_t keyBegin_ = 0;
  std::uint32_t keyEnd_ = 0;
};

}  // namespace

bool scanJson(std::string_view text, std::vector<JsonNode>& nodes) {
  return Scanner(text, nodes).run();
}

}  // namespace uneven
