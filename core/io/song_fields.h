// SPDX-License-Identifier: GPL-3.0-or-later
// The single values of a song file, each with what is allowed: positions, shifts, pieces, words.
// Like JsonTree they keep the first failure and read on with defaults. Only for the song's reader.
#pragma once

#include <fmt/format.h>

#include <set>
#include <string>
#include <type_traits>
#include <vector>

#include "core/io/json_tree.h"
#include "core/song/names.h"

namespace uneven {

class SongFields {
 protected:
  using Id = JsonTree::Id;
  static constexpr Beat kSongMost = kPositionMost;

  explicit SongFields(JsonTree& tree) : tree_(tree) {}

  // The members of an object whose keys are words of E. Who plays is never "automatic" here.
  template <typename E, typename Take>
  void forWords(JsonObject& o, std::string_view key, Take take) {
    const auto id = o.take(key);
    if (!id) return;
    JsonObject words(tree_, *id);
    for (const Id child : objectChildren(*id)) {
      const auto word = fromText<E>(tree_.key(child));
      bool good = word.has_value();
      if constexpr (std::is_same_v<E, Limb>) good = good && *word != Limb::kAutomatic;
      if (good) {
        take(*word, child);
      } else {
        std::string allowed = allowedWords<E>();
        if constexpr (std::is_same_v<E, Limb>) allowed.erase(0, allowed.find(' ') + 1);
        tree_.fail(ErrorCode::kUnknown, child,
                   fmt::format("\"{}\" is not allowed; {} are", tree_.key(child), allowed));
      }
    }
  }

  bool flag(JsonObject& o, std::string_view key, bool fallback) {
    const auto id = o.take(key);
    if (!id) return fallback;
    if (tree_[*id].kind != JsonKind::kBool) {
      tree_.fail(ErrorCode::kSyntax, *id, "true or false must stand here");
      return fallback;
    }
    return tree_.source(*id) == "true";
  }

  std::vector<Id> objectChildren(Id id) const {
    return tree_[id].kind == JsonKind::kObject ? tree_.children(id) : std::vector<Id>{};
  }

  Beat position(Id id, Beat most) {
    std::string spare;
    const std::string_view text = jsonView(tree_, id, spare);
    if (tree_.failed()) return {};
    const auto beat = Beat::parse(text);
    if (!beat) {
      tree_.fail(
          ErrorCode::kSyntax, id,
          fmt::format("\"{}\" is not a position; write quarter notes as \"3\" or \"7/4\"", text));
      return {};
    }
    if (*beat < Beat(0) || *beat > most) {
      tree_.fail(
          ErrorCode::kLimit, id,
          fmt::format("\"{}\" is not allowed; 0..{} quarter notes are", text, most.toString()));
      return {};
    }
    if (beat->den() > kDenominatorMax) {
      tree_.fail(
          ErrorCode::kLimit, id,
          fmt::format("\"{}\" is not allowed; denominators up to {} are", text, kDenominatorMax));
      return {};
    }
    return *beat;
  }

  Milliseconds shift(Id id) {
    return Milliseconds(jsonReal(tree_, id, -kShiftMax.count(), kShiftMax.count()));
  }

  PieceId pieceOf(Id id, std::string_view text) {
    if (tree_.failed()) return {};
    const auto piece = song_.kit->find(text);
    if (!piece) {
      std::string known;
      for (const Piece& p : song_.kit->pieces) known += (known.empty() ? "" : ", ") + p.id;
      tree_.fail(ErrorCode::kUnknown, id,
                 fmt::format("the kit has no piece \"{}\"; it has {}", text, known));
    }
    return piece.value_or(PieceId{});
  }

  template <typename E>
  E word(Id id, E fallback) {
    std::string spare;
    const std::string_view text = jsonView(tree_, id, spare);
    const auto value = fromText<E>(text);
    if (!value) {
      tree_.fail(ErrorCode::kUnknown, id,
                 fmt::format("\"{}\" is not allowed; {} are", text, allowedWords<E>()));
    }
    return value.value_or(fallback);
  }
  template <typename E>
  E choice(JsonObject& o, std::string_view key, E fallback) {
    const auto id = o.take(key);
    return id ? word(*id, fallback) : fallback;
  }

  Grid grid(JsonObject& o, std::string_view key, Grid fallback) {
    const auto id = o.take(key);
    if (!id) return fallback;
    const std::string text = jsonText(tree_, *id);
    const auto value = Grid::parse(text);
    if (!value) {
      tree_.fail(ErrorCode::kUnknown, *id,
                 fmt::format("\"{}\" is not a subdivision; 1/4, 1/8, 1/16 and 1/32 are, with T for "
                             "triplets, :5 and :7 for five and seven",
                             text));
    }
    return value.value_or(fallback);
  }

  void unknown(Id id, std::string_view what, const std::string& text) {
    tree_.fail(ErrorCode::kUnknown, id, fmt::format("there is no {} \"{}\"", what, text));
  }

  void checkNewId(Id id, std::string_view what, const std::string& text,
                  std::set<std::string>& known) {
    if (text.empty()) {
      tree_.fail(ErrorCode::kSyntax, id, fmt::format("a {} needs an id that is not empty", what));
    } else if (!known.insert(text).second) {
      tree_.fail(ErrorCode::kLimit, id, fmt::format("a second {} of the id \"{}\"", what, text));
    }
  }

  JsonTree& tree_;
  Song song_;
};

}  // namespace uneven
