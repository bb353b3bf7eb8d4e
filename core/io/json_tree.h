// SPDX-License-Identifier: GPL-3.0-or-later
// A JSON text as a tree that remembers where every value stands.
//
// The JSON library checks and splits the text; this keeps, for each value, the bytes it came from,
// so that an error in a song can name line, column and the path of the key, and unknown values can
// be kept exactly as they were written. Nodes live in one list and refer into the text, which must
// outlive the tree.
//
// Reading is sticky: the first failure is kept and later reads give defaults, so that a reader can
// be written without a check on every line and asks error() once.
#pragma once

#include <array>
#include <cstdint>
#include <forward_list>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/song/extras.h"

namespace uneven {

enum class JsonKind : std::uint8_t { kNull, kBool, kWhole, kReal, kString, kArray, kObject };

struct JsonNode {
  std::uint32_t begin = 0;  // bytes of the text
  std::uint32_t end = 0;
  std::uint32_t parent = 0;
  std::uint32_t firstChild = 0;  // 0: none (the root is no one's child)
  std::uint32_t nextSibling = 0;
  std::uint32_t keyBegin = 0;  // inside an object: the key with its quotes
  std::uint32_t keyEnd = 0;
  JsonKind kind = JsonKind::kNull;
};

class JsonTree {
 public:
  using Id = std::uint32_t;
  static constexpr Id kRoot = 1;
  static constexpr int kDepthMax = 64;
  static constexpr std::size_t kSizeMax = std::size_t{1} << 30;

  // Errors: kSyntax with line and column.
  static Result<JsonTree> parse(std::string_view text, const std::string& file);

  const JsonNode& operator[](Id id) const { return nodes_[id]; }
  std::string key(Id id) const;
  // Without its quotes, escapes as they are written.
  std::string_view rawKey(Id id) const {
    return text_.substr(nodes_[id].keyBegin + 1, nodes_[id].keyEnd - nodes_[id].keyBegin - 2);
  }
  std::string string(Id id) const;  // of a kString
  // The value's bytes.
  std::string_view source(Id id) const {
    return text_.substr(nodes_[id].begin, nodes_[id].end - nodes_[id].begin);
  }
  std::string path(Id id) const;  // grooves[2].hits[5].velocity
  std::vector<Id> children(Id id) const;
  double share(Id id) const;  // of the text that lies before the value, 0..1

  // First failure wins. The message is led by the path.
  void fail(ErrorCode code, Id id, const std::string& message);
  bool failed() const { return error_.has_value(); }
  const Error& error() const { return *error_; }

 private:
  friend class TreeBuilder;
  JsonTree() = default;
  Where where(std::size_t offset) const;

  std::string_view text_;
  std::string file_;
  std::vector<JsonNode> nodes_;
  std::optional<Error> error_;
};

// The members of one object, taken by key. What is never taken is unknown and becomes Extras.
class JsonObject {
 public:
  // Fails the tree when the node is no object.
  JsonObject(JsonTree& tree, JsonTree::Id id);

  // Nothing when the key is absent, or has been taken before.
  std::optional<JsonTree::Id> take(std::string_view key);
  // Fails the tree when the key is absent and gives nothing.
  std::optional<JsonTree::Id> need(std::string_view key);

  std::string text(std::string_view key, std::string fallback);
  std::string needText(std::string_view key);
  double real(std::string_view key, double fallback, double min, double max);
  std::int64_t whole(std::string_view key, std::int64_t fallback, std::int64_t min,
                     std::int64_t max);
  std::vector<JsonTree::Id> array(std::string_view key);  // empty when absent

  Extras extras();
  JsonTree::Id id() const { return id_; }

 private:
  struct Member {
    std::string_view key;
    JsonTree::Id id;
    bool taken;
  };
  static constexpr std::size_t kFew = 16;  // a hit has no more
  std::span<Member> members();
  void refuseTwice();

  JsonTree& tree_;
  JsonTree::Id id_;
  std::size_t count_ = 0;
  std::size_t left_ = 0;  // that have not been taken
  std::size_t next_ = 0;
  std::array<Member, kFew> few_;              // as many as are counted
  std::vector<Member> many_;                  // all of them, where there are more
  std::forward_list<std::string> unescaped_;  // keys that are written with escapes
};

// Single values, each with its limits; they fail the tree and give `min` or an empty text.
double jsonReal(JsonTree& tree, JsonTree::Id id, double min, double max);
std::int64_t jsonWhole(JsonTree& tree, JsonTree::Id id, std::int64_t min, std::int64_t max);
std::string jsonText(JsonTree& tree, JsonTree::Id id);
// The same without a copy where the text has no escapes; else it is in `spare`.
std::string_view jsonView(JsonTree& tree, JsonTree::Id id, std::string& spare);
// The entries of a list; none, and the tree fails, where it is no list.
std::vector<JsonTree::Id> jsonList(JsonTree& tree, JsonTree::Id id);

}  // namespace uneven
