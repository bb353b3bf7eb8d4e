// SPDX-License-Identifier: GPL-3.0-or-later
// Writing song files: keys in a fixed order, one line for each small thing, so that a version
// control system shows a moved hit as one changed line.
#include <fmt/format.h>

#include <iterator>
#include <nlohmann/json.hpp>

#include "core/base/number.h"
#include "core/io/song_json.h"
#include "core/song/names.h"

namespace uneven {
namespace {

std::string jsonQuoted(std::string_view text) {
  // A title typed elsewhere may hold bytes that are not UTF-8; they become U+FFFD, not an
  // exception.
  return nlohmann::json(text).dump(-1, ' ', false, nlohmann::json::error_handler_t::replace);
}

// The members of one object on one line: {"at": "0", "piece": "kick"}.
class Line {
 public:
  Line& raw(std::string_view key, std::string_view json) {
    fmt::format_to(std::back_inserter(body_), "{}{}: {}", body_.empty() ? "" : ", ",
                   jsonQuoted(key), json);
    return *this;
  }
  Line& text(std::string_view key, std::string_view value) { return raw(key, jsonQuoted(value)); }
  Line& number(std::string_view key, double value) { return raw(key, shortest(value)); }
  Line& extras(const Extras& extras) {
    for (const auto& [key, json] : extras.pairs()) raw(key, json);
    return *this;
  }
  bool empty() const { return body_.empty(); }
  std::string object() const { return "{" + body_ + "}"; }
  // Without braces, to go on with longer members.
  const std::string& members() const { return body_; }

 private:
  std::string body_;
};

// [a, b], one entry a line, indented by `depth` levels.
std::string list(const std::vector<std::string>& entries, int depth) {
  if (entries.empty()) return "[]";
  const std::string indent(2 * static_cast<std::size_t>(depth + 1), ' ');
  std::string out = "[";
  for (std::size_t i = 0; i < entries.size(); ++i) {
    out += (i == 0 ? "\n" : ",\n") + indent + entries[i];
  }
  return out + "\n" + std::string(2 * static_cast<std::size_t>(depth), ' ') + "]";
}

// {"left-hand": 3}, nothing where the map is empty.
template <typename E, typename Value, typename Number>
void words(Line& line, std::string_view key, const std::map<E, Value>& values, Number number) {
  if (values.empty()) return;
  Line members;
  for (const auto& [word, value] : values) members.number(textOf(word), number(value));
  line.raw(key, members.object());
}

std::string swingJson(const Swing& swing, const Kit& kit) {
  Line line;
  line.text("unit", textOf(swing.unit)).number("ratio", swing.ratio);
  if (swing.linked) line.raw("tempo_linked", "true");
  line.text("written", textOf(swing.written));
  if (!swing.depth.empty()) {
    Line depth;
    for (const auto& [piece, value] : swing.depth) depth.number(kit[piece].id, value);
    line.raw("depth", depth.object());
  }
  words(line, "limb_depth", swing.limbDepth, [](double depth) { return depth; });
  return line.extras(swing.extras).object();
}

std::string slotJson(const Slot& slot, const Kit& kit) {
  Line line;
  line.text("at", slot.at.toString()).number("ms", slot.shift.count());
  if (slot.velocity != 0) line.number("velocity", slot.velocity);
  if (slot.piece) line.text("piece", kit[*slot.piece].id);
  return line.extras(slot.extras).object();
}

std::string driftJson(const Drift& drift) {
  Line line;
  line.number("clock_ms", drift.clock.count()).number("motor_ms", drift.motor.count());
  line.number("velocity", drift.velocity).number("exponent", drift.exponent);
  line.raw("seed", std::to_string(drift.seed));
  words(line, "limbs", drift.limbs, [](double factor) { return factor; });
  return line.extras(drift.extras).object();
}

std::string feelJson(const Feel& feel, const Kit& kit) {
  Line line;
  line.text("id", feel.id).text("name", feel.name);
  std::string out = "{" + line.members() + ",\n     \"swing\": " + swingJson(feel.swing, kit);
  if (!feel.displacement.empty()) {
    Line displacement;
    for (const auto& [piece, ms] : feel.displacement)
      displacement.number(kit[piece].id, ms.count());
    out += ",\n     \"displacement\": " + displacement.object();
  }
  Line more;
  const auto ms = [](Milliseconds m) { return m.count(); };
  words(more, "limb_displacement", feel.limbDisplacement, ms);
  words(more, "limits", feel.limits, ms);
  if (feel.shareOf) more.number("share_of_bpm", feel.shareOf->value);
  if (!more.empty()) out += ",\n     " + more.members();
  if (!feel.slots.empty()) {
    std::vector<std::string> slots;
    for (const Slot& slot : feel.slots) slots.push_back(slotJson(slot, kit));
    out += ",\n     \"slots\": " + list(slots, 3);
  }
  if (feel.drift) out += ",\n     \"drift\": " + driftJson(*feel.drift);
  Line extras;
  extras.extras(feel.extras);
  if (!extras.empty()) out += ",\n     " + extras.members();
  return out + "}";
}

std::string hitJson(const Hit& hit, const Kit& kit) {
  Line line;
  line.text("at", hit.at.toString()).text("piece", kit[hit.piece].id);
  line.number("velocity", hit.velocity.value());
  if (hit.role != Role::kNormal) line.text("role", textOf(hit.role));
  if (hit.stroke != StrokeKind::kNormal) line.text("stroke", textOf(hit.stroke));
  if (hit.limb != Limb::kAutomatic) line.text("limb", textOf(hit.limb));
  if (hit.ornament != Ornament::kNone) line.text("ornament", textOf(hit.ornament));
  if (hit.ornamentFor != Beat(0)) line.text("ornament_for", hit.ornamentFor.toString());
  if (hit.ornamentGap.count() != 0) line.number("ornament_gap", hit.ornamentGap.count());
  if (hit.ornamentPercent != 0) line.number("ornament_velocity", hit.ornamentPercent);
  if (hit.open != 0) line.number("open", hit.open);
  if (hit.openFor != Beat(0)) line.text("open_for", hit.openFor.toString());
  if (hit.nudge != Milliseconds(0)) line.number("nudge", hit.nudge.count());
  return line.extras(hit.extras).object();
}

std::string pedalJson(const Pedal& pedal) {
  Line line;
  line.text("technique", textOf(pedal.technique));
  if (pedal.travel.count() != 0) line.number("travel_ms", pedal.travel.count());
  if (pedal.pump) {
    Line pump;
    pump.text("unit", pedal.pump->unit.toString()).text("phase", textOf(pedal.pump->phase));
    if (!pedal.pump->cell.empty()) pump.text("cell", pedal.pump->cell);
    line.raw("pump", pump.number("lift", pedal.pump->lift).extras(pedal.pump->extras).object());
  }
  if (!pedal.moves.empty()) {
    std::string moves;
    for (const PedalMove& move : pedal.moves) {
      Line m;
      m.text("at", move.at.toString()).number("open", move.open);
      if (move.length != Beat(0)) m.text("for", move.length.toString());
      moves += (moves.empty() ? "" : ", ") + m.extras(move.extras).object();
    }
    line.raw("moves", "[" + moves + "]");
  }
  return line.extras(pedal.extras).object();
}

std::string grooveJson(const Groove& groove, const Kit& kit) {
  Line line;
  line.text("id", groove.id).text("name", groove.name).text("meter", groove.meter.toString());
  line.number("bars", groove.bars).text("grid", groove.grid.toString());
  if (!groove.beatGrids.empty()) {
    std::string grids;
    for (const auto& [at, grid] : groove.beatGrids) {
      Line own;
      own.text("at", at.toString()).text("grid", grid.toString());
      grids += (grids.empty() ? "" : ", ") + own.object();
    }
    line.raw("beat_grids", "[" + grids + "]");
  }
  if (!groove.core.empty()) line.text("core", groove.core);
  if (!groove.feel.empty()) line.text("feel", groove.feel);
  if (groove.pedal) line.raw("pedal", pedalJson(*groove.pedal));
  line.extras(groove.extras);
  std::vector<std::string> hits;
  hits.reserve(groove.hits.size());
  for (const Hit& hit : groove.hits) hits.push_back(hitJson(hit, kit));
  std::string walk;
  if (!groove.walk.empty()) {
    std::vector<std::string> notes;
    for (const WalkNote& note : groove.walk) {
      Line n;
      n.text("placement", note.placement).text("mark", textOf(note.mark));
      if (!note.note.empty()) n.text("note", note.note);
      notes.push_back(n.extras(note.extras).object());
    }
    walk = ",\n     \"walk\": " + list(notes, 3);
  }
  return "{" + line.members() + walk + ",\n     \"hits\": " + list(hits, 3) + "}";
}

// Only what differs from the house kit.
std::string pieceJson(const Piece& piece, const Piece* house) {
  static const Piece fresh;
  const Piece& base = house == nullptr ? fresh : *house;
  Line line;
  line.text("id", piece.id);
  if (piece.name != base.name) line.text("name", piece.name);
  if (piece.usual != base.usual) line.text("limb", textOf(piece.usual));
  if (piece.strokes != base.strokes) {
    std::string words;
    for (const StrokeKind stroke : piece.strokes) {
      words += (words.empty() ? "" : ", ") + jsonQuoted(textOf(stroke));
    }
    line.raw("strokes", "[" + words + "]");
  }
  if (piece.shown != base.shown) line.raw("shown", piece.shown ? "true" : "false");
  if (piece.like != base.like) line.text("like", piece.like);
  return line.extras(piece.extras).object();
}

std::string kitJson(const Kit& kit) {
  const Kit& house = houseKit();
  if (kit == house) return jsonQuoted(kit.id);
  Line line;
  line.text("id", kit.id);
  if (kit.setup.kit != Side::kRight) line.text("handed", textOf(kit.setup.kit));
  if (kit.setup.lead != Side::kRight) line.text("lead", textOf(kit.setup.lead));
  if (kit.setup.openHanded) line.raw("open_handed", "true");
  if (kit.setup.doublePedal) line.raw("double_pedal", "true");
  std::vector<std::string> pieces;
  for (std::size_t i = 0; i < kit.pieces.size(); ++i) {
    const Piece* base = i < house.pieces.size() ? &house.pieces[i] : nullptr;
    if (base == nullptr || kit.pieces[i] != *base) pieces.push_back(pieceJson(kit.pieces[i], base));
  }
  if (!pieces.empty()) line.raw("pieces", list(pieces, 1));
  std::vector<PieceId> usualOrder = house.order;
  for (std::size_t i = house.pieces.size(); i < kit.pieces.size(); ++i) {
    usualOrder.push_back({static_cast<std::uint8_t>(i)});
  }
  if (kit.order != usualOrder) {
    std::string ids;
    for (const PieceId piece : kit.order) {
      ids += (ids.empty() ? "" : ", ") + jsonQuoted(kit[piece].id);
    }
    line.raw("order", "[" + ids + "]");
  }
  return line.extras(kit.extras).object();
}

std::string sectionJson(const Section& section) {
  Line line;
  line.text("name", section.name).text("groove", section.groove).number("repeat", section.repeat);
  if (!section.feel.empty()) line.text("feel", section.feel);
  if (section.morph != Beat(0)) line.text("morph", section.morph.toString());
  return line.extras(section.extras).object();
}

}  // namespace

std::string writeFeel(const Feel& feel, const Kit& kit) {
  return fmt::format(
      "{{\n  \"format\": \"uneven-stick-feel\",\n  \"version\": {},\n  \"feel\": {}\n}}\n",
      kSongVersion, feelJson(feel, kit));
}

std::string writeSong(const Song& song) {
  const Kit& kit = *song.kit;
  std::vector<std::string> tempo;
  for (const TempoMark& mark : song.tempo) {
    Line line;
    line.text("at", mark.at.toString()).number("bpm", mark.bpm.value).extras(mark.extras);
    tempo.push_back(line.object());
  }
  std::vector<std::string> feels;
  for (const Feel& feel : song.feels) feels.push_back(feelJson(feel, kit));
  std::vector<std::string> grooves;
  for (const auto& groove : song.grooves) grooves.push_back(grooveJson(*groove, kit));
  std::vector<std::string> sections;
  for (const Section& section : song.arrangement) sections.push_back(sectionJson(section));

  std::string out = "{\n  \"format\": \"uneven-stick-song\",\n";
  out +=
      fmt::format("  \"version\": {},\n  \"title\": {},\n", kSongVersion, jsonQuoted(song.title));
  out += "  \"tempo\": " + list(tempo, 1) + ",\n";
  out += "  \"feels\": " + list(feels, 1) + ",\n";
  out += "  \"grooves\": " + list(grooves, 1) + ",\n";
  out += "  \"arrangement\": " + list(sections, 1) + ",\n";
  out += fmt::format("  \"kit\": {},\n  \"map\": {}", kitJson(kit), jsonQuoted(song.map));
  if (song.aim != SeparationAim{}) {
    Line aim;
    aim.number("low", song.aim.low).number("high", song.aim.high);
    out += ",\n  \"separation_db\": " + aim.object();
  }
  for (const auto& [key, json] : song.extras.pairs())
    out += ",\n  " + jsonQuoted(key) + ": " + json;
  return out + "\n}\n";
}

}  // namespace uneven
