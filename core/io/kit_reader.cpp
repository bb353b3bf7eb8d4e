// SPDX-License-Identifier: GPL-3.0-or-later
// Reading kits.
#include "core/io/kit_reader.h"

#include <algorithm>

namespace uneven {

void KitReader::readKit(Id id) {
  if (tree_[id].kind == JsonKind::kString) {
    if (const std::string name = jsonText(tree_, id); name != "house") unknown(id, "kit", name);
    return;
  }
  JsonObject o(tree_, id);
  Kit kit = houseKit();
  kit.id = o.text("id", kit.id);
  kit.setup.kit = choice(o, "handed", kit.setup.kit);
  kit.setup.lead = choice(o, "lead", kit.setup.lead);
  kit.setup.openHanded = flag(o, "open_handed", false);
  kit.setup.doublePedal = flag(o, "double_pedal", false);
  std::set<std::string> ids;
  for (const Id child : o.array("pieces")) {
    if (tree_.failed()) return;
    readPiece(child, kit);
    if (tree_.failed()) return;
    JsonObject again(tree_, child);
    checkNewId(child, "piece", again.needText("id"), ids);
  }
  readOrder(o, kit);
  kit.extras = o.extras();
  song_.kit = SharedValue<Kit>(std::move(kit));
}

// A piece of the house changed, or one of the song's own.
void KitReader::readPiece(Id id, Kit& kit) {
  JsonObject o(tree_, id);
  const std::string name = o.needText("id");
  const auto plain = [](char c) {
    return (c >= 'a' && c <= 'z') || (c >= '0' && c <= '9') || c == '-';
  };
  if (!std::all_of(name.begin(), name.end(), plain)) {
    tree_.fail(ErrorCode::kSyntax, id,
               fmt::format("\"{}\": the id of a piece is made of a..z, 0..9 and -", name));
  }
  const auto known = kit.find(name);
  Piece piece = known ? kit[*known] : Piece{};
  piece.id = name;
  piece.name = o.text("name", known ? piece.name : name);
  piece.usual = choice(o, "limb", piece.usual);
  const std::vector<Id> strokes = o.array("strokes");
  if (!strokes.empty()) piece.strokes.clear();
  for (const Id stroke : strokes) {
    const auto word = fromText<StrokeKind>(jsonText(tree_, stroke));
    if (!word) {
      tree_.fail(ErrorCode::kUnknown, stroke,
                 fmt::format("is no stroke; {} are", allowedWords<StrokeKind>()));
      return;
    }
    piece.strokes.push_back(*word);
  }
  piece.shown = flag(o, "shown", piece.shown);
  if (const auto like = o.take("like")) {
    piece.like = jsonText(tree_, *like);
    if (!houseKit().find(piece.like)) unknown(*like, "piece of the house kit", piece.like);
  }
  piece.extras = o.extras();
  if (known) {
    kit.pieces[known->value] = std::move(piece);
  } else if (kit.pieces.size() >= kPiecesMax) {
    tree_.fail(ErrorCode::kLimit, id, fmt::format("a kit holds at most {} pieces", kPiecesMax));
  } else {
    kit.order.push_back({static_cast<std::uint8_t>(kit.pieces.size())});
    kit.pieces.push_back(std::move(piece));
  }
}

// Pieces that the list leaves out follow in their usual order.
void KitReader::readOrder(JsonObject& o, Kit& kit) {
  std::vector<PieceId> order;
  for (const Id id : o.array("order")) {
    if (tree_.failed()) return;
    const std::string name = jsonText(tree_, id);
    const auto piece = kit.find(name);
    if (!piece || std::find(order.begin(), order.end(), *piece) != order.end()) {
      return unknown(id, "further piece", name);
    }
    order.push_back(*piece);
  }
  for (const PieceId piece : kit.order) {
    if (std::find(order.begin(), order.end(), piece) == order.end()) order.push_back(piece);
  }
  kit.order = std::move(order);
}

}  // namespace uneven
