// SPDX-License-Identifier: GPL-3.0-or-later
// Reading hits and pedals.
#include "core/io/hit_reader.h"

#include <algorithm>
#include <iterator>

#include "core/song/hit_fields.h"

namespace uneven {
namespace {

enum Field : std::uint8_t {  // as in hit_field::kAll
  kAt,
  kPiece,
  kVelocity,
  kRole,
  kStroke,
  kLimb,
  kOrnament,
  kOrnamentFor,
  kOrnamentGap,
  kOrnamentVelocity,
  kOpen,
  kOpenFor,
  kNudge,
  kFields
};
static_assert(std::size(hit_field::kAll) == kFields);
static_assert(hit_field::kAll[kNudge].name == hit_field::kNudge.name);
static_assert(hit_field::kAll[kOrnament].name == hit_field::kOrnament.name);

constexpr unsigned bitOf(std::size_t field) {
  return 1U << field;
}
constexpr unsigned kNeeded = bitOf(kAt) | bitOf(kPiece) | bitOf(kVelocity);

// Keys mostly stand in their order: the search begins behind the last one.
std::size_t fieldOf(std::string_view key, std::size_t after) {
  for (std::size_t i = 0; i < kFields; ++i) {
    const std::size_t at = after + i < kFields ? after + i : after + i - kFields;
    if (hit_field::kAll[at].name == key) return at;
  }
  return kFields;
}

}  // namespace

Hit HitReader::readHit(Id id, Beat length) {
  Hit hit;
  unsigned seen = 0;
  std::size_t next = 0;
  bool isPlain = tree_[id].kind == JsonKind::kObject;
  for (Id child = isPlain ? tree_[id].firstChild : 0; child != 0;
       child = tree_[child].nextSibling) {
    const std::size_t field = fieldOf(tree_.rawKey(child), next);
    if (field == kFields || (seen & bitOf(field)) != 0) {
      isPlain = false;
      continue;
    }
    seen |= bitOf(field);
    next = field + 1;
    takeField(hit, field, child, length);
  }
  if (isPlain && (seen & kNeeded) == kNeeded) return hit;
  JsonObject o(tree_, id);
  for (std::size_t field = 0; field < kFields; ++field) {
    const bool isNeeded = (kNeeded & bitOf(field)) != 0;
    const std::string_view name = hit_field::kAll[field].name;
    const auto member = isNeeded ? o.need(name) : o.take(name);
    if (member && (seen & bitOf(field)) == 0) takeField(hit, field, *member, length);
  }
  hit.extras = o.extras();
  return hit;
}

void HitReader::takeField(Hit& hit, std::size_t field, Id id, Beat length) {
  switch (field) {
    case kAt:
      hit.at = position(id, kSongMost);
      if (hit.at >= length) {
        tree_.fail(ErrorCode::kLimit, id,
                   fmt::format("\"{}\" lies outside its groove, which is {} quarter notes long",
                               hit.at.toString(), length.toString()));
      }
      return;
    case kPiece: {
      std::string spare;
      hit.piece = pieceOf(id, jsonView(tree_, id, spare));
      return;
    }
    case kVelocity:
      hit.velocity =
          Velocity(static_cast<int>(jsonWhole(tree_, id, Velocity::kMin, Velocity::kMax)));
      return;
    case kRole:
      hit.role = word(id, hit.role);
      return;
    case kStroke:
      hit.stroke = word(id, hit.stroke);
      return;
    case kLimb:
      hit.limb = word(id, hit.limb);
      return;
    case kOrnament:
      hit.ornament = word(id, hit.ornament);
      return;
    case kOrnamentFor:
      hit.ornamentFor = position(id, Beat(kLengthMax));
      return;
    case kOrnamentGap:
      hit.ornamentGap = Milliseconds(
          jsonReal(tree_, id, hit_field::kOrnamentGap.min, hit_field::kOrnamentGap.max));
      return;
    case kOrnamentVelocity:
      hit.ornamentPercent = static_cast<std::uint8_t>(
          jsonWhole(tree_, id, static_cast<int>(hit_field::kOrnamentVelocity.min),
                    static_cast<int>(hit_field::kOrnamentVelocity.max)));
      return;
    case kOpen:
      hit.open = jsonReal(tree_, id, hit_field::kOpen.min, hit_field::kOpen.max);
      return;
    case kOpenFor:
      hit.openFor = position(id, kSongMost);
      return;
    case kNudge:
      hit.nudge = shift(id);
      return;
    default:
      return;
  }
}

Pedal HitReader::readPedal(Id id, Beat length) {
  JsonObject o(tree_, id);
  Pedal pedal;
  pedal.technique = choice(o, "technique", pedal.technique);
  if (const auto travel = o.take("travel_ms")) {
    pedal.travel = Milliseconds(jsonReal(tree_, *travel, kTravelMin.count(), kTravelMax.count()));
  }
  for (const Id move : o.array("moves")) {
    if (tree_.failed()) break;
    pedal.moves.push_back(readMove(move, length));
  }
  std::stable_sort(pedal.moves.begin(), pedal.moves.end(),
                   [](const PedalMove& a, const PedalMove& b) { return a.at < b.at; });
  if (const auto pumpId = o.take("pump")) {
    JsonObject p(tree_, *pumpId);
    Pump pump;
    pump.unit = grid(p, "unit", pump.unit);
    pump.phase = choice(p, "phase", pump.phase);
    if (const auto cell = p.take("cell")) {
      pump.cell = jsonText(tree_, *cell);
      const bool plain = pump.cell.find_first_not_of("x.") == std::string::npos;
      if (!plain || pump.cell.size() > kCellMax || pump.cell.find('x') == std::string::npos) {
        tree_.fail(ErrorCode::kLimit, *cell,
                   fmt::format("\"{}\" is not allowed; 1..{} signs x and . are, at least one x",
                               pump.cell, kCellMax));
      }
    }
    pump.lift = p.real("lift", 0, 0, 1);
    pump.extras = p.extras();
    pedal.pump = pump;
  }
  pedal.extras = o.extras();
  return pedal;
}

PedalMove HitReader::readMove(Id id, Beat length) {
  JsonObject o(tree_, id);
  PedalMove move;
  if (const auto at = o.need("at")) {
    move.at = position(*at, kSongMost);
    if (move.at >= length) {
      tree_.fail(ErrorCode::kLimit, *at,
                 fmt::format("\"{}\" lies outside its groove", move.at.toString()));
    }
  }
  move.open = o.real("open", move.open, 0, 1);
  if (const auto held = o.take("for")) move.length = position(*held, kSongMost);
  move.extras = o.extras();
  return move;
}

}  // namespace uneven
