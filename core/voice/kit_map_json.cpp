// SPDX-License-Identifier: GPL-3.0-or-later
// Kit maps as JSON.
#include <fmt/format.h>

#include <algorithm>

#include "core/base/number.h"
#include "core/io/json_line.h"
#include "core/io/json_tree.h"
#include "core/song/names.h"
#include "core/voice/kit_map.h"

namespace uneven {
namespace {

constexpr int kMapVersion = 1;
constexpr std::string_view kMapFormat = "uneven-stick-kit-map";
// In the order of ShutBy.
constexpr std::string_view kShutWords[] = {"pedal-note", "closed-note", "poly-pressure"};

KitMapRow readRow(JsonTree& tree, JsonTree::Id id) {
  JsonObject o(tree, id);
  KitMapRow row;
  row.piece = o.needText("piece");
  if (const auto stroke = o.take("stroke")) {
    const std::string text = jsonText(tree, *stroke);
    const auto kind = fromText<StrokeKind>(text);
    if (!kind) {
      tree.fail(ErrorCode::kUnknown, *stroke,
                fmt::format("\"{}\" is not allowed; {} are", text, allowedWords<StrokeKind>()));
    }
    row.stroke = kind.value_or(StrokeKind::kNormal);
  }
  row.openTo = o.real("open_to", 1, 0, 1);
  if (const auto note = o.need("note")) row.note = static_cast<int>(jsonWhole(tree, *note, 0, 127));
  row.name = o.text("name", row.piece);
  row.degree = o.text("degree", row.name);
  row.extras = o.extras();
  return row;
}

void readShut(JsonTree& tree, JsonTree::Id id, KitMap& map) {
  JsonObject o(tree, id);
  if (const auto by = o.take("by")) {
    const std::string text = jsonText(tree, *by);
    const auto word = std::find(std::begin(kShutWords), std::end(kShutWords), text);
    if (word == std::end(kShutWords)) {
      tree.fail(
          ErrorCode::kUnknown, *by,
          fmt::format("\"{}\" is not allowed; pedal-note, closed-note, poly-pressure are", text));
    } else {
      map.shutBy = static_cast<ShutBy>(word - std::begin(kShutWords));
    }
  }
  map.shutExtras = o.extras();
}

void readController(JsonTree& tree, JsonTree::Id id, KitMap& map) {
  JsonObject o(tree, id);
  map.pedalController = static_cast<int>(o.whole("controller", map.pedalController, -1, 119));
  map.pedalDown = static_cast<int>(o.whole("down", map.pedalDown, 0, 127));
  if (map.pedalDown != 0 && map.pedalDown != 127) {
    tree.fail(ErrorCode::kLimit, id, "\"down\" is 127 or 0");
  }
  map.pedalExtras = o.extras();
}

}  // namespace

Result<KitMap> readKitMap(std::string_view text, const std::string& file) {
  Result<JsonTree> parsed = JsonTree::parse(text, file);
  if (!parsed) return parsed.error();
  JsonTree& tree = *parsed;
  JsonObject root(tree, JsonTree::kRoot);
  KitMap map;
  if (const auto format = root.need("format"); format && jsonText(tree, *format) != kMapFormat) {
    tree.fail(ErrorCode::kSyntax, *format,
              "this is not a kit map: \"uneven-stick-kit-map\" must stand here");
  }
  if (const auto version = root.need("version");
      version && jsonWhole(tree, *version, 1, 1'000'000'000) > kMapVersion) {
    tree.fail(
        ErrorCode::kVersion, *version,
        fmt::format("written by a newer program; this one reads up to version {}", kMapVersion));
  }
  map.id = root.needText("id");
  map.name = root.text("name", map.id);
  map.channel = static_cast<int>(root.whole("channel", map.channel, 1, 16));
  for (const JsonTree::Id id : root.array("notes")) {
    if (tree.failed()) break;
    map.rows.push_back(readRow(tree, id));
  }
  // Ascending, so that a stroke takes the narrowest zone that holds it.
  std::stable_sort(map.rows.begin(), map.rows.end(),
                   [](const KitMapRow& a, const KitMapRow& b) { return a.openTo < b.openTo; });
  if (const auto shut = root.take("hat_shut")) readShut(tree, *shut, map);
  if (const auto pedal = root.take("hat_pedal")) readController(tree, *pedal, map);
  map.extras = root.extras();
  if (tree.failed()) return tree.error();
  return map;
}

std::string writeKitMap(const KitMap& map) {
  TextOut out;
  JsonLine line(out);
  constexpr std::string_view kNext = ",\n  ";
  line.text("format", kMapFormat).number("version", kMapVersion);
  putQuoted(line.key("id", kNext), map.id);
  putQuoted(line.key("name", kNext), map.name);
  line.number("channel", map.channel, kNext);
  line.key("notes", kNext).put('[');
  const char* between = "\n    ";
  for (const KitMapRow& row : map.rows) {
    out.put(between);
    between = ",\n    ";
    JsonLine one(out);
    one.text("piece", row.piece).text("stroke", textOf(row.stroke));
    one.number("open_to", roundedTo(row.openTo.value(), 1'000'000)).number("note", row.note);
    one.text("name", row.name).text("degree", row.degree).extras(row.extras).end();
  }
  out.put(map.rows.empty() ? "]" : "\n  ]");
  JsonLine shut(line.key("hat_shut", kNext));
  shut.text("by", kShutWords[static_cast<std::size_t>(map.shutBy)]).extras(map.shutExtras).end();
  JsonLine pedal(line.key("hat_pedal", kNext));
  pedal.number("controller", map.pedalController).number("down", map.pedalDown);
  pedal.extras(map.pedalExtras).end();
  line.extras(map.extras, kNext).end();
  out.put('\n');
  return out.take();
}

}  // namespace uneven
