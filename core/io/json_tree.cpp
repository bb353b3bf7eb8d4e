// SPDX-License-Identifier: GPL-3.0-or-later
// Building the tree from the JSON library's events.
#include "core/io/json_tree.h"
#include "core/io/json_line.h"

#include <fmt/format.h>

#include <algorithm>
#include <iterator>
#include <nlohmann/json.hpp>
#include <unordered_set>

#include "core/base/number.h"
#include "core/io/json_scan.h"

namespace uneven {
namespace {

// Reads the text for the library and tells how far it has read.
class CountingIterator {
 public:
  using iterator_category = std::input_iterator_tag;
  using value_type = char;
  using difference_type = std::ptrdiff_t;
  using pointer = const char*;
  using reference = const char&;

  CountingIterator(const char* at, const char** shown) : at_(at), shown_(shown) {}
  reference operator*() const { return *at_; }
  CountingIterator& operator++() {
    *shown_ = ++at_;
    return *this;
  }
  CountingIterator operator++(int) {
    CountingIterator before = *this;
    ++*this;
    return before;
  }
  bool operator==(const CountingIterator& other) const { return at_ == other.at_; }
  bool operator!=(const CountingIterator& other) const { return at_ != other.at_; }

 private:
  const char* at_;
  const char** shown_;
};

bool isBetween(char c) {
  return c == ' ' || c == '\t' || c == '\n' || c == '\r' || c == ',' || c == ':';
}

}  // namespace

// Takes the library's events in the order of the text.
class TreeBuilder {
 public:
  using Json = nlohmann::json;
  using number_integer_t = Json::number_integer_t;
  using number_unsigned_t = Json::number_unsigned_t;
  using number_float_t = Json::number_float_t;
  using string_t = Json::string_t;
  using binary_t = Json::binary_t;

  TreeBuilder(JsonTree& tree, const char*& position) : tree_(tree), position_(position) {
    tree_.nodes_.resize(1);
  }

  bool null() { return leaf(JsonKind::kNull, 0); }
  bool boolean(bool) { return leaf(JsonKind::kBool, 0); }
  // The library reads one byte past a number to know that it ended.
  bool number_integer(number_integer_t) { return leaf(JsonKind::kWhole, 1); }
  bool number_unsigned(number_unsigned_t) { return leaf(JsonKind::kWhole, 1); }
  bool number_float(number_float_t, const string_t&) { return leaf(JsonKind::kReal, 1); }
  bool string(string_t&) { return leaf(JsonKind::kString, 0); }
  bool binary(binary_t&) { return false; }  // not in text

  bool start_object(std::size_t) { return open(JsonKind::kObject); }
  bool start_array(std::size_t) { return open(JsonKind::kArray); }
  bool end_object() { return close(); }
  bool end_array() { return close(); }
  bool key(string_t&) {
    keyBegin_ = nextBegin();
    keyEnd_ = offset();
    done_ = keyEnd_;
    return true;
  }
  bool parse_error(std::size_t, const std::string&, const nlohmann::detail::exception& e) {
    // "[json...] parse error at line 3, column 7: what" keeps only what.
    std::string what = e.what();
    const std::size_t tag = what.find("] ");
    if (tag != std::string::npos) what.erase(0, tag + 2);
    const std::size_t column = what.find("column ");
    const std::size_t colon = what.find(": ", column == std::string::npos ? 0 : column);
    if (column != std::string::npos && colon != std::string::npos) what.erase(0, colon + 2);
    reject(what);
    return false;
  }

 private:
  std::size_t offset() const { return static_cast<std::size_t>(position_ - tree_.text_.data()); }
  std::uint32_t nextBegin() const {
    std::size_t at = done_;
    while (at < tree_.text_.size() && isBetween(tree_.text_[at])) ++at;
    return static_cast<std::uint32_t>(at);
  }

  JsonTree::Id add(JsonKind kind, std::size_t end) {
    JsonNode node;
    node.kind = kind;
    node.begin = nextBegin();
    node.end = static_cast<std::uint32_t>(end);
    const auto id = static_cast<JsonTree::Id>(tree_.nodes_.size());
    if (!open_.empty()) {
      Level& level = open_.back();
      node.parent = level.id;
      JsonNode& parent = tree_.nodes_[level.id];
      if (parent.kind == JsonKind::kObject) {
        node.keyBegin = keyBegin_;
        node.keyEnd = keyEnd_;
      }
      if (level.lastChild == 0) {
        parent.firstChild = id;
      } else {
        tree_.nodes_[level.lastChild].nextSibling = id;
      }
      level.lastChild = id;
    }
    tree_.nodes_.push_back(node);
    done_ = end;
    return id;
  }
  bool leaf(JsonKind kind, std::size_t readAhead) {
    // At the very end of the text nothing could be read ahead.
    const bool atEnd = position_ == textEnd() && endsNumber();
    const std::size_t end = offset() - (atEnd ? 0 : readAhead);
    add(kind, end);
    return true;
  }
  const char* textEnd() const { return tree_.text_.data() + tree_.text_.size(); }
  bool endsNumber() const {
    const char c = tree_.text_.back();
    return c >= '0' && c <= '9';
  }
  bool open(JsonKind kind) {
    if (open_.size() >= JsonTree::kDepthMax) {
      reject(fmt::format("nested deeper than {} levels", JsonTree::kDepthMax));
      return false;
    }
    open_.push_back({add(kind, offset()), 0});
    return true;
  }
  bool close() {
    tree_.nodes_[open_.back().id].end = static_cast<std::uint32_t>(offset());
    done_ = offset();
    open_.pop_back();
    return true;
  }
  void reject(std::string message) {
    const std::size_t read = offset();
    tree_.error_ = Error{ErrorCode::kSyntax, "not valid JSON: " + std::move(message),
                         tree_.where(read > 0 ? read - 1 : 0)};
  }

  struct Level {
    JsonTree::Id id;
    JsonTree::Id lastChild;
  };
  JsonTree& tree_;
  const char*& position_;
  std::vector<Level> open_;
  std::size_t done_ = 0;  // end of the last thing read
  std::uint32_t keyBegin_ = 0;
  std::uint32_t keyEnd_ = 0;
};

Result<JsonTree> JsonTree::parse(std::string_view text, const std::string& file) {
  JsonTree tree;
  tree.text_ = text;
  tree.file_ = file;
  if (text.size() > kSizeMax) {
    return Error{ErrorCode::kLimit, "larger than 1 GiB", {file, 0, 0, std::nullopt}};
  }
  if (scanJson(text, tree.nodes_)) return tree;
  tree.nodes_.clear();
  const char* position = text.data();
  TreeBuilder builder(tree, position);
  const bool ok =
      nlohmann::json::sax_parse(CountingIterator(text.data(), &position),
                                CountingIterator(text.data() + text.size(), &position), &builder);
  if (tree.error_) return *tree.error_;
  if (!ok) return Error{ErrorCode::kSyntax, "not valid JSON", tree.where(0)};
  return tree;
}

Where JsonTree::where(std::size_t offset) const {
  const std::string_view before = text_.substr(0, offset);
  const std::size_t lineStart = before.rfind('\n') + 1;  // npos + 1 == 0
  Where where;
  where.file = file_;
  where.line = 1 + static_cast<int>(std::count(before.begin(), before.end(), '\n'));
  where.column = 1 + static_cast<int>(offset - lineStart);
  return where;
}

namespace {

// The library has checked the literal already; this only undoes escapes.
std::string unquoted(std::string_view literal) {
  const std::string_view inner = literal.substr(1, literal.size() - 2);
  if (inner.find('\\') == std::string_view::npos) return std::string(inner);
  const auto value = nlohmann::json::parse(literal, nullptr, /*allow_exceptions=*/false);
  return value.is_string() ? value.get<std::string>() : std::string(inner);
}

}  // namespace

std::string JsonTree::string(Id id) const {
  return unquoted(source(id));
}

std::string JsonTree::key(Id id) const {
  const JsonNode& node = nodes_[id];
  return unquoted(text_.substr(node.keyBegin, node.keyEnd - node.keyBegin));
}

std::vector<JsonTree::Id> JsonTree::children(Id id) const {
  std::vector<Id> out;
  for (Id child = nodes_[id].firstChild; child != 0; child = nodes_[child].nextSibling) {
    out.push_back(child);
  }
  return out;
}

double JsonTree::share(Id id) const {
  return static_cast<double>(nodes_[id].begin) / static_cast<double>(text_.size());
}

std::string JsonTree::path(Id id) const {
  std::string out;
  while (id > kRoot) {
    const Id parent = nodes_[id].parent;
    std::string step;
    if (nodes_[parent].kind == JsonKind::kObject) {
      step = (parent > kRoot ? "." : "") + key(id);
    } else {
      int index = 0;
      for (Id child = nodes_[parent].firstChild; child != id; child = nodes_[child].nextSibling) {
        ++index;
      }
      step = fmt::format("[{}]", index);
    }
    out.insert(0, step);
    id = parent;
  }
  return out;
}

void JsonTree::fail(ErrorCode code, Id id, const std::string& message) {
  if (error_) return;
  const std::string at = path(id);
  error_ = Error{code, at.empty() ? message : at + ": " + message, where(nodes_[id].begin)};
}

JsonObject::JsonObject(JsonTree& tree, JsonTree::Id id) : tree_(tree), id_(id) {
  if (tree[id].kind != JsonKind::kObject) {
    tree.fail(ErrorCode::kSyntax, id, "expected an object { }");
    return;
  }
  for (JsonTree::Id child = tree[id].firstChild; child != 0; child = tree[child].nextSibling) {
    const std::string_view raw = tree.rawKey(child);
    const bool plain = raw.find('\\') == std::string_view::npos;
    if (!plain) unescaped_.push_front(tree.key(child));
    if (count_ == kFew) {
      many_.assign(few_.begin(), few_.end());
    }
    const Member member{plain ? raw : std::string_view(unescaped_.front()), child, false};
    if (count_ < kFew) {
      few_[count_] = member;
    } else {
      many_.push_back(member);
    }
    ++count_;
  }
  left_ = count_;
  refuseTwice();
}

std::span<JsonObject::Member> JsonObject::members() {
  return count_ <= kFew ? std::span(few_.data(), count_) : std::span(many_);
}

void JsonObject::refuseTwice() {
  const std::span<Member> all = members();
  if (all.size() <= kFew) {
    for (std::size_t i = 1; i < all.size(); ++i) {
      for (std::size_t k = 0; k < i; ++k) {
        if (all[k].key != all[i].key) continue;
        return tree_.fail(ErrorCode::kSyntax, all[i].id, "this key stands twice");
      }
    }
    return;
  }
  std::unordered_set<std::string_view> seen;
  for (const Member& member : all) {
    if (seen.insert(member.key).second) continue;
    return tree_.fail(ErrorCode::kSyntax, member.id, "this key stands twice");
  }
}

// Keys are mostly asked for in the order they are written in, so the search goes on where it was;
// and most keys are absent, so it ends when all that is there has been taken.
std::optional<JsonTree::Id> JsonObject::take(std::string_view key) {
  if (left_ == 0) return std::nullopt;
  const std::span<Member> all = members();
  for (std::size_t i = 0, at = next_; i < all.size(); ++i) {
    Member& member = all[at];
    at = at + 1 == all.size() ? 0 : at + 1;
    if (member.taken || member.key != key) continue;
    member.taken = true;
    next_ = at;
    --left_;
    return member.id;
  }
  return std::nullopt;
}

std::optional<JsonTree::Id> JsonObject::need(std::string_view key) {
  const auto found = take(key);
  if (!found) tree_.fail(ErrorCode::kSyntax, id_, fmt::format("\"{}\" is missing", key));
  return found;
}

std::string JsonObject::text(std::string_view key, std::string fallback) {
  const auto id = take(key);
  return id ? jsonText(tree_, *id) : std::move(fallback);
}

std::string JsonObject::needText(std::string_view key) {
  const auto id = need(key);
  return id ? jsonText(tree_, *id) : std::string();
}

double JsonObject::real(std::string_view key, double fallback, double min, double max) {
  const auto id = take(key);
  return id ? jsonReal(tree_, *id, min, max) : fallback;
}

std::int64_t JsonObject::whole(std::string_view key, std::int64_t fallback, std::int64_t min,
                               std::int64_t max) {
  const auto id = take(key);
  return id ? jsonWhole(tree_, *id, min, max) : fallback;
}

std::vector<JsonTree::Id> JsonObject::array(std::string_view key) {
  const auto id = take(key);
  return id ? jsonList(tree_, *id) : std::vector<JsonTree::Id>();
}

Extras JsonObject::extras() {
  if (left_ == 0) return {};
  Extras::Pairs pairs;
  for (const Member& member : members()) {
    if (member.taken) continue;
    pairs.emplace_back(std::string(member.key), std::string(tree_.source(member.id)));
  }
  return Extras(std::move(pairs));
}

double jsonReal(JsonTree& tree, JsonTree::Id id, double min, double max) {
  const JsonKind kind = tree[id].kind;
  if (kind != JsonKind::kWhole && kind != JsonKind::kReal) {
    tree.fail(ErrorCode::kSyntax, id, "expected a number");
    return min;
  }
  const auto value = decimalNumber(tree.source(id));
  if (!value || *value < min || *value > max) {
    tree.fail(
        ErrorCode::kLimit, id,
        fmt::format("{} is not allowed; {}..{} is", tree.source(id), shortest(min), shortest(max)));
    return min;
  }
  return *value;
}

std::int64_t jsonWhole(JsonTree& tree, JsonTree::Id id, std::int64_t min, std::int64_t max) {
  if (tree[id].kind != JsonKind::kWhole) {
    tree.fail(ErrorCode::kSyntax, id, "expected a whole number");
    return min;
  }
  const auto value = wholeNumber(tree.source(id));
  if (!value || *value < min || *value > max) {
    tree.fail(ErrorCode::kLimit, id,
              fmt::format("{} is not allowed; {}..{} is", tree.source(id), min, max));
    return min;
  }
  return *value;
}

std::vector<JsonTree::Id> jsonList(JsonTree& tree, JsonTree::Id id) {
  if (tree[id].kind != JsonKind::kArray) {
    tree.fail(ErrorCode::kSyntax, id, "expected a list [ ]");
    return {};
  }
  return tree.children(id);
}

std::string_view jsonView(JsonTree& tree, JsonTree::Id id, std::string& spare) {
  const std::string_view source = tree.source(id);
  if (tree[id].kind == JsonKind::kString && source.find('\\') == std::string_view::npos) {
    return source.substr(1, source.size() - 2);
  }
  spare = jsonText(tree, id);
  return spare;
}

std::string jsonText(JsonTree& tree, JsonTree::Id id) {
  if (tree[id].kind != JsonKind::kString) {
    tree.fail(ErrorCode::kSyntax, id, "expected text in quotes");
    return {};
  }
  return tree.string(id);
}

// A title typed elsewhere may hold bytes that are not UTF-8; they become U+FFFD, not an exception.
std::string quotedWithEscapes(std::string_view text) {
  return nlohmann::json(text).dump(-1, ' ', false, nlohmann::json::error_handler_t::replace);
}

}  // namespace uneven
