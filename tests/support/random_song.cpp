// SPDX-License-Identifier: GPL-3.0-or-later
// Random songs.
#include "tests/support/random_song.h"

#include <algorithm>

#include "core/song/names.h"
#include "core/song/positions.h"
#include "core/song/slots.h"

namespace uneven::testing {

int pick(Random& random, int low, int high) {
  return std::uniform_int_distribution<int>(low, high)(random);
}

double pickReal(Random& random, double low, double high) {
  return std::uniform_real_distribution<double>(low, high)(random);
}

int rounds(int wanted) {
#ifdef USTICK_SANITIZED
  return (wanted + 3) / 4;
#else
  return wanted;
#endif
}

namespace {

bool chance(Random& random, double share) {
  return pickReal(random, 0, 1) < share;
}

template <typename E>
E any(Random& random) {
  const auto names = namesOf<E>();
  return names[static_cast<std::size_t>(pick(random, 0, static_cast<int>(names.size()) - 1))].value;
}

PieceId anyPiece(Random& random) {
  return {
      static_cast<std::uint8_t>(pick(random, 0, static_cast<int>(houseKit().pieces.size()) - 1))};
}

Limb anyLimb(Random& random) {
  Limb limb = Limb::kAutomatic;
  while (limb == Limb::kAutomatic) limb = any<Limb>(random);
  return limb;
}

Milliseconds shift(Random& random, double most) {
  return Milliseconds(pickReal(random, -most, most));
}

Grid anyGrid(Random& random) {
  static constexpr int kTuplets[] = {0, 3, 5, 7};
  return {4 << pick(random, 0, 3), kTuplets[pick(random, 0, 3)]};
}

Kit randomKit(Random& random) {
  Kit kit = houseKit();
  kit.setup = {pick(random, 0, 1) == 0 ? Side::kRight : Side::kLeft,
               pick(random, 0, 1) == 0 ? Side::kRight : Side::kLeft, chance(random, 0.5),
               chance(random, 0.5)};
  kit.pieces[piece::kCrash2.value].name = "Left \"crash\"";
  kit.pieces[piece::kRide.value].shown = chance(random, 0.5);
  for (int i = pick(random, 0, 3); i > 0; --i) {
    Piece piece;
    piece.id = "own-" + std::to_string(i);
    piece.name = piece.id;
    piece.usual = any<Limb>(random);
    piece.strokes = {any<StrokeKind>(random), StrokeKind::kEdge};
    piece.like = chance(random, 0.5) ? "crash" : "";
    kit.order.push_back({static_cast<std::uint8_t>(kit.pieces.size())});
    kit.pieces.push_back(std::move(piece));
  }
  std::shuffle(kit.order.begin(), kit.order.end(), random);
  return kit;
}

Extras someExtras(Random& random) {
  if (!chance(random, 0.1)) return {};
  return Extras({{"colour of the day", R"({"deep": [1, 2.50, "\u00e9"]})"}, {"x", "null"}});
}

}  // namespace

Feel randomFeel(Random& random, const std::string& id) {
  Feel feel;
  feel.id = id;
  feel.name = "Feel \"" + id + "\" \\ \n";
  feel.swing.unit = any<SwingUnit>(random);
  feel.swing.ratio = chance(random, 0.2) ? 1 : pickReal(random, 1, 9);
  feel.swing.written = any<Written>(random);
  feel.swing.extras = someExtras(random);
  for (int i = pick(random, 0, 3); i > 0; --i) {
    feel.swing.depth[anyPiece(random)] = pickReal(random, 0, 1);
  }
  for (int i = pick(random, 0, 4); i > 0; --i) {
    feel.displacement[anyPiece(random)] = shift(random, 30);
  }
  feel.swing.linked = chance(random, 0.2);
  if (chance(random, 0.3)) feel.swing.limbDepth[anyLimb(random)] = pickReal(random, 0, 1);
  if (chance(random, 0.3)) feel.limbDisplacement[anyLimb(random)] = shift(random, 15);
  if (chance(random, 0.2)) feel.shareOf = Bpm{pickReal(random, 60, 180)};
  if (chance(random, 0.2)) feel.limits[any<Role>(random)] = Milliseconds(pickReal(random, 0, 40));
  for (int i = pick(random, 0, 4); i > 0; --i) {
    Slot slot;
    slot.at = Beat(pick(random, 0, 15), 4);
    slot.shift = shift(random, 20);
    slot.velocity = pick(random, -20, 20);
    if (chance(random, 0.5)) slot.piece = anyPiece(random);
    slot.extras = someExtras(random);
    feel.slots.push_back(slot);
  }
  if (chance(random, 0.3)) {
    Drift drift;
    drift.clock = Milliseconds(pickReal(random, 0, 10));
    drift.seed = random() >> 1;
    drift.motor = Milliseconds(chance(random, 0.5) ? pickReal(random, 0, 6) : 0);
    drift.velocity = chance(random, 0.5) ? pickReal(random, 0, 12) : 0;
    drift.exponent = pickReal(random, 0, 3);
    if (chance(random, 0.3)) drift.limbs[anyLimb(random)] = pickReal(random, 0, 4);
    drift.extras = someExtras(random);
    feel.drift = drift;
  }
  feel.extras = someExtras(random);
  return feel;
}

Groove randomGroove(Random& random, const std::string& id, const std::string& feel) {
  static constexpr Meter kMeters[] = {{4, 4}, {7, 8}, {3, 4}, {5, 16}, {12, 8}, {1, 32}, {2, 1}};
  static constexpr int kSteps[] = {2, 4, 8, 3, 6, 5, 7, 12, 10'080};
  Groove groove;
  groove.id = id;
  groove.name = id;
  groove.meter = kMeters[pick(random, 0, 6)];
  groove.bars = pick(random, 1, 4);
  groove.feel = feel;
  groove.extras = someExtras(random);
  const double length = groove.length().toDouble();
  for (int i = pick(random, 0, 60); i > 0; --i) {
    const int den = kSteps[pick(random, 0, 8)];
    Hit hit;
    hit.at = Beat(pick(random, 0, std::max(0, static_cast<int>(length * den) - 1)), den);
    if (hit.at >= groove.length()) continue;
    hit.piece = anyPiece(random);
    hit.velocity = Velocity(pick(random, 1, 127));
    hit.role = any<Role>(random);
    hit.stroke = any<StrokeKind>(random);
    hit.limb = any<Limb>(random);
    if (chance(random, 0.4)) hit.ornament = any<Ornament>(random);
    if (chance(random, 0.1)) hit.ornamentFor = Beat(pick(random, 1, 8), 3);
    if (chance(random, 0.1)) hit.ornamentGap = Milliseconds(pickReal(random, 5, 100));
    if (chance(random, 0.1)) hit.ornamentPercent = static_cast<std::uint8_t>(pick(random, 1, 100));
    if (hit.piece == piece::kHat && chance(random, 0.4)) {
      hit.open = pickReal(random, 0, 1);
      if (chance(random, 0.7)) hit.openFor = Beat(pick(random, 1, 6), 4);
    }
    if (chance(random, 0.3)) hit.nudge = shift(random, 40);
    hit.extras = someExtras(random);
    groove.hits.push_back(hit);
  }
  std::stable_sort(groove.hits.begin(), groove.hits.end(), writtenBefore);
  keepLoudest(groove.hits);
  for (int i = pick(random, 0, 3); i > 0; --i) {
    const Beat at =
        beatStart(groove, Beat(pick(random, 0, std::max(0, static_cast<int>(length * 4) - 1)), 4));
    groove = withBeatGrid(std::move(groove), at, anyGrid(random));
  }
  if (chance(random, 0.3)) {
    Pedal pedal;
    pedal.technique = any<PedalTechnique>(random);
    if (chance(random, 0.2)) pedal.travel = Milliseconds(pickReal(random, 10, 500));
    if (chance(random, 0.5)) {
      const char* cell = chance(random, 0.3) ? "x..x." : "";
      pedal.pump = Pump{{8, 0}, any<PumpPhase>(random), cell, 0.35, {}};
    }
    for (int i = pick(random, -2, 3); i > 0; --i) {
      PedalMove move;
      move.at = Beat(pick(random, 0, std::max(0, static_cast<int>(length * 4) - 1)), 4);
      move.open = pickReal(random, 0, 1);
      move.length = Beat(pick(random, 0, 4), 4);
      pedal.moves.push_back(move);
    }
    std::stable_sort(pedal.moves.begin(), pedal.moves.end(),
                     [](const PedalMove& a, const PedalMove& b) { return a.at < b.at; });
    keepWidest(pedal.moves);
    groove.pedal = pedal;
  }
  for (int i = pick(random, -4, 2); i > 0; --i) {
    WalkNote note;
    note.placement = "1/4 for 1";
    note.mark = any<WalkMark>(random);
    note.note = "feels \"late\"";
    groove.walk.push_back(note);
  }
  return groove;
}

// What sections do to their grooves, and tempos that ramp.
void arrangeAnyhow(Random& random, Song& song) {
  const auto groove = [&] {
    return song.grooves[static_cast<std::size_t>(
        pick(random, 0, static_cast<int>(song.grooves.size()) - 1))];
  };
  const auto piece = [&] {
    const int most = piece::kKick.value;  // those that every kit map knows
    return song.kit->pieces[static_cast<std::size_t>(pick(random, 0, most))].id;
  };
  for (std::size_t i = 0; i + 1 < song.tempo.size(); ++i) song.tempo[i].ramp = chance(random, 0.4);
  for (Section& section : song.arrangement) {
    if (chance(random, 0.3)) {
      for (int i = pick(random, 1, 3); i > 0; --i) section.grooves.push_back(groove()->id);
    }
    Beat pass;
    for (const std::string& id : section.pass()) pass += song.findGroove(id)->length();
    if (chance(random, 0.4)) {
      const auto of = groove();
      const Beat most = std::min(pass, of->length());
      section.fill = SectionFill{of->id, std::min(most, Beat(pick(random, 1, 16), 3)),
                                 pick(random, 0, 2), someExtras(random)};
    }
    if (chance(random, 0.3)) section.levelDb = pickReal(random, -12, 6);
    if (chance(random, 0.3)) section.toLevelDb = pickReal(random, -12, 6);
    if (chance(random, 0.2)) section.mute = {piece(), "left-foot"};
    if (chance(random, 0.3)) section.swap = {{piece(), piece()}};
    if (chance(random, 0.2)) {
      section.crash = SectionCrash{piece(), Velocity(pick(random, 1, 127)), someExtras(random)};
    }
  }
}

// Several fills in turn, and what comes after them.
void fillAnyhow(Random& random, Song& song) {
  for (Section& section : song.arrangement) {
    if (!section.fill) continue;
    section.fill->after = any<FillAfter>(random);
    const auto& also = song.grooves[static_cast<std::size_t>(
        pick(random, 0, static_cast<int>(song.grooves.size()) - 1))];
    if (also->length() >= section.fill->beats && chance(random, 0.5))
      section.fill->grooves = {section.fill->groove, also->id, section.fill->groove};
  }
}

Song randomSong(Random& random) {
  Song song;
  song.title = "Chance";
  song.tempo.clear();
  Beat at;
  for (int i = pick(random, 1, 5); i > 0; --i) {
    TempoMark mark;
    mark.at = at;
    mark.bpm = Bpm{pickReal(random, kBpmMin, kBpmMax)};
    mark.extras = someExtras(random);
    song.tempo.push_back(mark);
    const int den = pick(random, 1, 7);
    at += Beat(pick(random, 1, 200), den);
  }
  const int feels = pick(random, 0, 3);
  for (int i = 0; i < feels; ++i) song.feels.push_back(randomFeel(random, std::to_string(i)));
  const auto anyFeel = [&] {
    return feels == 0 || chance(random, 0.3) ? std::string()
                                             : std::to_string(pick(random, 0, feels - 1));
  };
  const int grooves = pick(random, 1, 4);
  for (int i = 0; i < grooves; ++i) {
    song.grooves.emplace_back(randomGroove(random, "groove " + std::to_string(i), anyFeel()));
  }
  for (int i = pick(random, 0, 5); i > 0; --i) {
    Section section;
    section.name = "Section";
    section.groove = "groove " + std::to_string(pick(random, 0, grooves - 1));
    section.repeat = pick(random, 1, 3);
    section.feel = anyFeel();
    if (chance(random, 0.4)) {
      const int den = pick(random, 1, 3);
      section.morph = Beat(pick(random, 1, 40), den);
    }
    section.extras = someExtras(random);
    song.arrangement.push_back(section);
  }
  if (chance(random, 0.5)) song.kit = SharedValue<Kit>(randomKit(random));
  if (chance(random, 0.3)) song.aim = {pickReal(random, 0, 20), pickReal(random, 20, 60)};
  if (grooves > 1 && chance(random, 0.5)) {
    song.grooves[1].edit([&](Groove& g) { g.core = song.grooves[0]->id; });
  }
  song.extras = someExtras(random);
  // By dice of its own: the songs of a seed stay what they were.
  Random mixing(song.grooves.size() * 1'000 + song.grooves.front()->hits.size());
  const auto most = static_cast<int>(song.kit->pieces.size()) - 1;
  for (int i = pick(mixing, -2, 3); i > 0; --i) {
    song.mixer[{static_cast<std::uint8_t>(pick(mixing, 0, most))}] = {
        pickReal(mixing, kMixDbMin, kMixDbMax), pickReal(mixing, -1, 1), someExtras(mixing)};
  }
  arrangeAnyhow(mixing, song);
  fillAnyhow(mixing, song);
  return song;
}

Song asWritten(Song song) {
  for (TempoMark& mark : song.tempo) mark.ramp = false;
  for (Section& section : song.arrangement) {
    Section plain;
    plain.name = section.name;
    plain.groove = section.groove;
    plain.repeat = section.repeat;
    plain.feel = section.feel;
    plain.morph = section.morph;
    plain.extras = section.extras;
    section = std::move(plain);
  }
  return song;
}

}  // namespace uneven::testing
