// SPDX-License-Identifier: GPL-3.0-or-later
// Scanning JSON.
#include "core/io/json_scan.h"

#include <array>
#include <cstdint>
#include <cstring>

#include "core/base/utf8.h"

namespace uneven {
namespace {

// What can stand inside a string as it is: neither a quote, an escape, a control sign nor a byte
// that has to be checked.
constexpr std::array<bool, 256> kPlain = [] {
  std::array<bool, 256> out{};
  for (std::size_t c = 0x20; c < 0x80; ++c) out[c] = c != '"' && c != '\\';
  return out;
}();

class Scanner {
 public:
  Scanner(std::string_view text, std::vector<JsonNode>& nodes)
      : begin_(text.data()), at_(text.data()), end_(text.data() + text.size()), nodes_(nodes) {}

  bool run() {
    // About a node for eight bytes, as songs are written.
    nodes_.clear();
    nodes_.reserve(static_cast<std::size_t>(end_ - begin_) / 8 + 2);
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

  char peek() const { return at_ < end_ ? *at_ : '\0'; }
  void skipBlanks() {
    const char* at = at_;
    while (at < end_ && (*at == ' ' || *at == '\n' || *at == '\t' || *at == '\r')) {
      ++at;
      // Indentation, eight blanks at a time.
      while (end_ - at >= 8 && std::memcmp(at, "        ", 8) == 0) at += 8;
    }
    at_ = at;
  }
  std::uint32_t offset(const char* at) const { return static_cast<std::uint32_t>(at - begin_); }

  // What stands behind a value or an opening bracket: the next member, or the closing bracket.
  bool next() {
    Level& level = levels_[depth_ - 1];
    skipBlanks();
    const char closing = level.object ? '}' : ']';
    if (peek() == closing) {
      nodes_[level.id].end = offset(++at_);
      --depth_;
      return true;
    }
    if (level.lastChild != 0) {
      if (peek() != ',') return false;
      ++at_;
      skipBlanks();
    }
    if (!level.object) return value();
    keyBegin_ = offset(at_);
    if (peek() != '"' || !string()) return false;
    keyEnd_ = offset(at_);
    skipBlanks();
    if (peek() != ':') return false;
    ++at_;
    return value();
  }

  bool value() {
    skipBlanks();
    const char* begin = at_;
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
    if (std::string_view(at_, static_cast<std::size_t>(end_ - at_)).substr(0, expected.size()) !=
        expected) {
      return false;
    }
    at_ += expected.size();
    return true;
  }

  static bool isDigit(char c) { return c >= '0' && c <= '9'; }
  void skipDigits() {
    while (at_ < end_ && isDigit(*at_)) ++at_;
  }

  bool number(const char* begin) {
    // So many signs never leave the range of an int64 or a double.
    constexpr std::ptrdiff_t kWholeMost = 18, kRealMost = 64;
    if (peek() == '-') ++at_;
    if (!isDigit(peek())) return false;
    if (peek() == '0' && at_ + 1 < end_ && isDigit(at_[1])) return false;
    skipDigits();
    JsonKind kind = JsonKind::kWhole;
    if (peek() == '.') {
      kind = JsonKind::kReal;
      ++at_;
      if (!isDigit(peek())) return false;
      skipDigits();
    }
    const char behind = peek();
    const std::ptrdiff_t most = kind == JsonKind::kWhole ? kWholeMost : kRealMost;
    if (behind == 'e' || behind == 'E' || at_ - begin > most) return false;
    return leaf(begin, kind);
  }

  // From the opening quote to behind the closing one.
  bool string() {
    const char* begin = ++at_;
    bool ascii = true;
    for (;;) {
      const char* at = at_;
      while (at < end_ && kPlain[static_cast<unsigned char>(*at)]) ++at;
      at_ = at;
      if (at == end_) return false;
      if (*at == '"') break;
      const auto c = static_cast<unsigned char>(*at);
      if (c < 0x20) return false;
      ++at_;
      if (c >= 0x80) {
        ascii = false;
      } else if (c == '\\') {
        // \u may be half of a pair: rare.
        if (std::string_view("\"\\/bfnrt").find(peek()) == std::string_view::npos) return false;
        ++at_;
      }
    }
    const bool good =
        ascii || isUtf8(std::string_view(begin, static_cast<std::size_t>(at_ - begin)));
    ++at_;
    return good;
  }

  JsonTree::Id add(const char* begin, JsonKind kind) {
    const auto id = static_cast<JsonTree::Id>(nodes_.size());
    JsonNode node;
    node.kind = kind;
    node.begin = offset(begin);
    node.end = offset(at_);
    if (depth_ > 0) {
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
    }
    nodes_.push_back(node);
    return id;
  }
  bool leaf(const char* begin, JsonKind kind) {
    add(begin, kind);
    return true;
  }
  bool open(const char* begin, JsonKind kind) {
    if (depth_ >= levels_.size()) return false;
    const JsonTree::Id id = add(begin, kind);
    levels_[depth_++] = {id, 0, kind == JsonKind::kObject};
    return true;
  }

  const char* begin_;
  const char* at_;
  const char* end_;
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
