// SPDX-License-Identifier: GPL-3.0-or-later
// Writing song files: keys in a fixed order, one line for each small thing, so that a version
// control system shows a moved hit as one changed line.
#include <fmt/ranges.h>

#include "core/io/json_line.h"
#include "core/io/song_json.h"
#include "core/song/hit_fields.h"
#include "core/song/names.h"

namespace uneven {

namespace {

using Line = JsonLine;

constexpr std::string_view kNextLine = ",\n     ";

// [a, b], one entry a line, indented by `depth` levels.
template <typename List, typename Put>
void putList(TextOut& out, const List& entries, int depth, const Put& put) {
  if (std::empty(entries)) {
    out.put("[]");
    return;
  }
  const std::string indent(2 * static_cast<std::size_t>(depth + 1), ' ');
  const char* before = "[\n";
  for (const auto& entry : entries) {
    out.put(before).put(indent);
    put(entry);
    before = ",\n";
  }
  out.put('\n').put(std::string(2 * static_cast<std::size_t>(depth), ' ')).put(']');
}

// The same on one line.
template <typename List, typename Put>
void putShortList(TextOut& out, const List& entries, const Put& put) {
  const char* before = "[";
  for (const auto& entry : entries) {
    out.put(before);
    put(entry);
    before = ", ";
  }
  out.put(']');
}

// {"left-hand": 3}
template <typename Values, typename Word, typename Number>
void putWords(TextOut& out, const Values& values, Word word, Number number) {
  Line line(out);
  for (const auto& [key, value] : values) line.number(word(key), number(value));
  line.end();
}
double plain(double value) {
  return value;
}
double msOf(Milliseconds ms) {
  return ms.count();
}

void putSwing(TextOut& out, const Swing& swing, const Kit& kit) {
  Line line(out);
  line.text("unit", textOf(swing.unit)).number("ratio", swing.ratio);
  if (swing.linked) line.raw("tempo_linked", "true");
  line.text("written", textOf(swing.written));
  const auto id = [&](PieceId piece) -> std::string_view { return kit[piece].id; };
  if (!swing.depth.empty()) putWords(line.key("depth"), swing.depth, id, plain);
  if (!swing.limbDepth.empty()) {
    putWords(line.key("limb_depth"), swing.limbDepth, textOf<Limb>, plain);
  }
  line.extras(swing.extras).end();
}

void putSlot(TextOut& out, const Slot& slot, const Kit& kit) {
  Line line(out);
  line.beat("at", slot.at).number("ms", slot.shift.count());
  if (slot.velocity != 0) line.number("velocity", slot.velocity);
  if (slot.piece) line.text("piece", kit[*slot.piece].id);
  line.extras(slot.extras).end();
}

void putDrift(TextOut& out, const Drift& drift) {
  Line line(out);
  line.number("clock_ms", drift.clock.count()).number("motor_ms", drift.motor.count());
  line.number("velocity", drift.velocity).number("exponent", drift.exponent);
  line.key("seed").put(drift.seed);
  if (!drift.limbs.empty()) putWords(line.key("limbs"), drift.limbs, textOf<Limb>, plain);
  if (drift.measured) {
    line.key("measured");
    Line measured(out);
    putShortList(measured.key("clock_ms"), drift.measured->ms, [&](double ms) { out.put(ms); });
    measured.text("unit", drift.measured->unit.toString());
    measured.extras(drift.measured->extras).end();
  }
  line.extras(drift.extras).end();
}

void putFeel(TextOut& out, const Feel& feel, const Kit& kit) {
  Line line(out);
  line.text("id", feel.id).text("name", feel.name);
  putSwing(line.key("swing", kNextLine), feel.swing, kit);
  const auto id = [&](PieceId piece) -> std::string_view { return kit[piece].id; };
  if (!feel.displacement.empty()) {
    putWords(line.key("displacement", kNextLine), feel.displacement, id, msOf);
  }
  std::string_view between = kNextLine;  // of three that share a line
  if (!feel.limbDisplacement.empty()) {
    putWords(line.key("limb_displacement", between), feel.limbDisplacement, textOf<Limb>, msOf);
    between = ", ";
  }
  if (!feel.limits.empty()) {
    putWords(line.key("limits", between), feel.limits, textOf<Role>, msOf);
    between = ", ";
  }
  if (feel.shareOf) line.number("share_of_bpm", feel.shareOf->value, between);
  if (!feel.slots.empty()) {
    putList(line.key("slots", kNextLine), feel.slots, 3,
            [&](const Slot& slot) { putSlot(out, slot, kit); });
  }
  if (feel.drift) putDrift(line.key("drift", kNextLine), *feel.drift);
  if (!feel.note.empty()) putQuoted(line.key("note", kNextLine), feel.note);
  line.extras(feel.extras, kNextLine).end();
}

void putHit(TextOut& out, const Hit& hit, const Kit& kit) {
  Line line(out);
  line.beat(hit_field::kAt.name, hit.at).text(hit_field::kPiece.name, kit[hit.piece].id);
  line.key(hit_field::kVelocity.name).put(hit.velocity.value());
  if (hit.role != Role::kNormal) line.text(hit_field::kRole.name, textOf(hit.role));
  if (hit.stroke != StrokeKind::kNormal) line.text(hit_field::kStroke.name, textOf(hit.stroke));
  if (hit.limb != Limb::kAutomatic) line.text(hit_field::kLimb.name, textOf(hit.limb));
  if (hit.ornament != Ornament::kNone) line.text(hit_field::kOrnament.name, textOf(hit.ornament));
  if (hit.ornamentFor != Beat(0)) line.beat(hit_field::kOrnamentFor.name, hit.ornamentFor);
  if (hit.ornamentGap.count() != 0)
    line.number(hit_field::kOrnamentGap.name, hit.ornamentGap.count());
  if (hit.ornamentPercent != 0) line.number(hit_field::kOrnamentVelocity.name, hit.ornamentPercent);
  if (hit.open != 0) line.number(hit_field::kOpen.name, hit.open);
  if (hit.openFor != Beat(0)) line.beat(hit_field::kOpenFor.name, hit.openFor);
  if (hit.nudge != Milliseconds(0)) line.number(hit_field::kNudge.name, hit.nudge.count());
  line.extras(hit.extras).end();
}

void putPump(TextOut& out, const Pump& pump) {
  Line line(out);
  line.text("unit", pump.unit.toString()).text("phase", textOf(pump.phase));
  if (!pump.cell.empty()) line.text("cell", pump.cell);
  line.number("lift", pump.lift).extras(pump.extras).end();
}

void putPedal(TextOut& out, const Pedal& pedal) {
  Line line(out);
  line.text("technique", textOf(pedal.technique));
  if (pedal.travel.count() != 0) line.number("travel_ms", pedal.travel.count());
  if (pedal.pump) putPump(line.key("pump"), *pedal.pump);
  if (!pedal.moves.empty()) {
    putShortList(line.key("moves"), pedal.moves, [&](const PedalMove& move) {
      Line m(out);
      m.beat("at", move.at).number("open", move.open);
      if (move.length != Beat(0)) m.beat("for", move.length);
      m.extras(move.extras).end();
    });
  }
  line.extras(pedal.extras).end();
}

void putGroove(TextOut& out, const Groove& groove, const Kit& kit) {
  Line line(out);
  line.text("id", groove.id).text("name", groove.name).text("meter", groove.meter.toString());
  if (!groove.grouping.empty() && groove.groups() == groove.grouping)
    line.text("grouping", fmt::format("{}", fmt::join(groove.grouping, "+")));
  line.number("bars", groove.bars).text("grid", groove.grid.toString());
  if (!groove.beatGrids.empty()) {
    putShortList(line.key("beat_grids"), groove.beatGrids, [&](const auto& own) {
      Line o(out);
      o.beat("at", own.first).text("grid", own.second.toString()).end();
    });
  }
  if (!groove.core.empty()) line.text("core", groove.core);
  if (!groove.feel.empty()) line.text("feel", groove.feel);
  if (!groove.origin.empty()) line.text("origin", groove.origin);
  if (groove.linear) line.raw("linear", "true");
  if (groove.pedal) putPedal(line.key("pedal"), *groove.pedal);
  line.extras(groove.extras);
  if (!groove.walk.empty()) {
    putList(line.key("walk", kNextLine), groove.walk, 3, [&](const WalkNote& note) {
      Line n(out);
      n.text("placement", note.placement).text("mark", textOf(note.mark));
      if (!note.note.empty()) n.text("note", note.note);
      n.extras(note.extras).end();
    });
  }
  putList(line.key("hits", kNextLine), groove.hits, 3,
          [&](const Hit& hit) { putHit(out, hit, kit); });
  line.end();
}

// Only what differs from the house kit.
void putPiece(TextOut& out, const Piece& piece, const Piece* house) {
  static const Piece fresh;
  const Piece& base = house == nullptr ? fresh : *house;
  Line line(out);
  line.text("id", piece.id);
  if (piece.name != base.name) line.text("name", piece.name);
  if (piece.usual != base.usual) line.text("limb", textOf(piece.usual));
  if (piece.strokes != base.strokes) {
    putShortList(line.key("strokes"), piece.strokes,
                 [&](StrokeKind stroke) { putQuoted(out, textOf(stroke)); });
  }
  if (piece.shown != base.shown) line.raw("shown", piece.shown ? "true" : "false");
  if (piece.like != base.like) line.text("like", piece.like);
  line.extras(piece.extras).end();
}

void putKit(TextOut& out, const Kit& kit) {
  const Kit& house = houseKit();
  if (kit == house) return putQuoted(out, kit.id);
  Line line(out);
  line.text("id", kit.id);
  if (kit.setup.kit != Side::kRight) line.text("handed", textOf(kit.setup.kit));
  if (kit.setup.lead != Side::kRight) line.text("lead", textOf(kit.setup.lead));
  if (kit.setup.openHanded) line.raw("open_handed", "true");
  if (kit.setup.doublePedal) line.raw("double_pedal", "true");
  std::vector<std::pair<const Piece*, const Piece*>> pieces;  // and the house's
  for (std::size_t i = 0; i < kit.pieces.size(); ++i) {
    const Piece* base = i < house.pieces.size() ? &house.pieces[i] : nullptr;
    if (base == nullptr || kit.pieces[i] != *base) pieces.emplace_back(&kit.pieces[i], base);
  }
  if (!pieces.empty()) {
    putList(line.key("pieces"), pieces, 1,
            [&](const auto& piece) { putPiece(out, *piece.first, piece.second); });
  }
  std::vector<PieceId> usualOrder = house.order;
  for (std::size_t i = house.pieces.size(); i < kit.pieces.size(); ++i) {
    usualOrder.push_back({static_cast<std::uint8_t>(i)});
  }
  if (kit.order != usualOrder) {
    putShortList(line.key("order"), kit.order,
                 [&](PieceId piece) { putQuoted(out, kit[piece].id); });
  }
  line.extras(kit.extras).end();
}

// Pieces that the kit has lost are not written: nothing could be read of them.
void putSection(TextOut& out, const Section& section, const Kit& kit) {
  Line line(out);
  line.text("name", section.name).text("groove", section.groove).number("repeat", section.repeat);
  if (!section.feel.empty()) line.text("feel", section.feel);
  if (section.morph != Beat(0)) line.beat("morph", section.morph);
  if (!section.grooves.empty()) {
    putShortList(line.key("grooves"), section.grooves,
                 [&](const std::string& id) { putQuoted(out, id); });
  }
  if (section.fill) {
    line.key("fill");
    Line fill(out);
    fill.text("groove", section.fill->groove).beat("beats", section.fill->beats);
    if (section.fill->every > 0) fill.number("every", section.fill->every);
    if (section.fill->after != FillAfter::kNothing) fill.text("after", textOf(section.fill->after));
    if (!section.fill->grooves.empty())
      putShortList(fill.key("grooves"), section.fill->grooves,
                   [&](const std::string& id) { putQuoted(out, id); });
    fill.extras(section.fill->extras).end();
  }
  if (section.levelDb != 0) line.number("level_db", section.levelDb);
  if (section.toLevelDb) line.number("to_level_db", *section.toLevelDb);
  std::vector<std::string> mute = section.mute;
  std::erase_if(mute,
                [&](const std::string& word) { return !fromText<Limb>(word) && !kit.find(word); });
  if (!mute.empty())
    putShortList(line.key("mute"), mute, [&](const std::string& word) { putQuoted(out, word); });
  std::map<std::string, std::string> swaps = section.swap;
  std::erase_if(swaps,
                [&](const auto& swap) { return !kit.find(swap.first) || !kit.find(swap.second); });
  if (!swaps.empty()) {
    line.key("swap");
    Line swap(out);
    for (const auto& [from, to] : swaps) putQuoted(swap.quotedKey(from), to);
    swap.end();
  }
  if (section.crash && kit.find(section.crash->piece)) {
    line.key("crash");
    Line crash(out);
    crash.text("piece", section.crash->piece).number("velocity", section.crash->velocity.value());
    crash.extras(section.crash->extras).end();
  }
  line.extras(section.extras).end();
}

}  // namespace

std::string writeFeel(const Feel& feel, const Kit& kit) {
  TextOut out;
  out.put("{\n  \"format\": \"uneven-stick-feel\",\n  \"version\": ").put(kSongVersion);
  out.put(",\n  \"feel\": ");
  putFeel(out, feel, kit);
  out.put("\n}\n");
  return out.take();
}

std::string writeSong(const Song& song) {
  const Kit& kit = *song.kit;
  TextOut out;
  out.put("{\n  \"format\": \"uneven-stick-song\",\n  \"version\": ").put(kSongVersion);
  out.put(",\n  \"title\": ");
  putQuoted(out, song.title);
  out.put(",\n  \"tempo\": ");
  putList(out, song.tempo, 1, [&](const TempoMark& mark) {
    Line line(out);
    line.beat("at", mark.at).number("bpm", mark.bpm.value);
    if (mark.ramp && &mark != &song.tempo.back()) line.text("ramp", "linear");
    if (!mark.relation.empty()) line.text("relation", mark.relation);
    line.extras(mark.extras).end();
  });
  out.put(",\n  \"feels\": ");
  putList(out, song.feels, 1, [&](const Feel& feel) { putFeel(out, feel, kit); });
  out.put(",\n  \"grooves\": ");
  putList(out, song.grooves, 1, [&](const auto& groove) { putGroove(out, *groove, kit); });
  out.put(",\n  \"arrangement\": ");
  putList(out, song.arrangement, 1, [&](const Section& section) { putSection(out, section, kit); });
  out.put(",\n  \"kit\": ");
  putKit(out, kit);
  out.put(",\n  \"map\": ");
  putQuoted(out, song.map);
  if (song.aim != SeparationAim{}) {
    out.put(",\n  \"separation_db\": ");
    Line line(out);
    line.number("low", song.aim.low).number("high", song.aim.high).end();
  }
  if (!song.mixer.empty()) {
    out.put(",\n  \"mixer\": {");
    const char* before = "";
    for (const auto& [piece, mix] : song.mixer) {
      out.put(before).put("\n    ");
      putQuoted(out, kit[piece].id);
      out.put(": ");
      Line line(out);
      line.number("level_db", mix.levelDb).number("pan", mix.pan);
      if (mix.roomDb != 0) line.number("room_db", mix.roomDb);
      line.extras(mix.extras).end();
      before = ",";
    }
    out.put("\n  }");
  }
  if (song.check != CheckNotes{}) {
    out.put(",\n  \"check\": ");
    Line line(out);
    if (!song.check.ignored.empty()) {
      putList(line.key("ignored"), song.check.ignored, 2, [&](const LeftAlone& left) {
        Line e(out);
        e.text("kind", left.kind).text("groove", left.groove).beat("at", left.at);
        if (!left.pieces.empty()) {
          putShortList(e.key("pieces"), left.pieces,
                       [&](const std::string& piece) { putQuoted(out, piece); });
        }
        if (!left.why.empty()) e.text("why", left.why);
        e.extras(left.extras).end();
      });
    }
    if (!song.check.profile.empty()) line.text("profile", song.check.profile);
    line.extras(song.check.extras).end();
  }
  if (song.audio) {
    out.put(",\n  \"audio\": ");
    Line line(out);
    line.text("file", song.audio->file).number("offset_ms", song.audio->offset.count());
    line.extras(song.audio->extras).end();
  }
  for (const auto& [key, json] : song.extras.pairs()) {
    out.put(",\n  ");
    putQuoted(out, key);
    out.put(": ").put(json);
  }
  out.put("\n}\n");
  return out.take();
}

}  // namespace uneven
