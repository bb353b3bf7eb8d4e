// SPDX-License-Identifier: GPL-3.0-or-later
// Notes and clicks as events for the sequencer.
#include "sound/play/programme.h"

#include <algorithm>
#include <cassert>

#include "core/base/embedded.h"
#include "core/voice/notes.h"
#include "sound/bank/house_bank.h"
#include "sound/bank/oscillators.h"

namespace uneven {

std::vector<EmbeddedText> embeddedHouseSounds();

const KitMap& houseSounds() {
  static const KitMap map = [] {
    const EmbeddedText file = embeddedHouseSounds().front();
    Result<KitMap> read = readKitMap(file.text, file.name + ".json");
    assert(read);  // a test reads it
    return *std::move(read);
  }();
  return map;
}

namespace {

// What the click is played on: the map's click, else a wood block of General MIDI.
struct ClickNotes {
  int normal = 77, accent = 76;
};
ClickNotes clickNotes(const KitMap& map, const Kit& kit) {
  const KitMapRow* row = rowFor(map, kit[piece::kClick], StrokeKind::kNormal, 0);
  if (row == nullptr) return {};
  return {row->note, map.id == houseSounds().id ? row->note + 1 : row->note};
}

constexpr int kClickVelocity = 90, kClickAccentVelocity = 120;

SoundEvent clickAt(Moment time, bool accent, const ClickNotes& notes, double levelDb) {
  SoundEvent event;
  event.time = time;
  event.note = static_cast<std::uint8_t>(accent ? notes.accent : notes.normal);
  event.velocity = accent ? kClickAccentVelocity : kClickVelocity;
  event.piece = piece::kClick;
  event.levelDb = static_cast<float>(levelDb);
  return event;
}

Beat lengthOf(ClickUnit unit) {
  switch (unit) {
    case ClickUnit::kEighths:
      return {1, 2};
    case ClickUnit::kTriplets:
      return {1, 3};
    case ClickUnit::kSixteenths:
      return {1, 4};
    default:
      return 1;
  }
}

// The clicks of one bar, each with whether it is the first.
template <typename Put>
void clickBar(const Score& score, Beat start, Beat length, const ClickPlan& plan, Put put) {
  for (Beat at; at < length;) {
    const double bpm = score.tempo.tempoAt(start + at).bpm().value;
    const bool cut = plan.unit == ClickUnit::kQuarters && bpm < plan.subdivideBelowBpm;
    put(start + at, at == Beat(0));
    at += cut ? Beat(1, 2) : lengthOf(plan.unit);
  }
}

class Listener {
 public:
  Listener(const Listening& listening, const Take& take) : l_(listening), take_(take) {}
  bool hears(const SoundEvent& e) const {
    if (!l_.strokes) return false;
    if (l_.muted.contains(e.piece) || l_.mutedLimbs.contains(e.limb)) return false;
    if (!l_.solo.empty() || !l_.soloLimbs.empty()) {
      if (!l_.solo.contains(e.piece) && !l_.soloLimbs.contains(e.limb)) return false;
    }
    if (!l_.only) return true;
    return e.stroke < take_.strokes().size() && take_.strokes()[e.stroke].role == *l_.only;
  }

 private:
  const Listening& l_;
  const Take& take_;
};

// Strokes belong to the loop by their grid; those that lean over its ends come round.
void intoLoop(const Take& take, const Span& loop, std::vector<SoundEvent>& events) {
  const Moment length = loop.to - loop.from;
  std::vector<SoundEvent> out;
  for (SoundEvent e : events) {
    const bool struck = e.stroke < take.strokes().size();
    const Moment grid = struck ? take.strokes()[e.stroke].grid : e.time;
    if (grid < loop.from || grid >= loop.to) continue;
    if (e.time < loop.from) {
      SoundEvent first = e;
      first.time = loop.from;
      first.round = SoundEvent::Round::kFirst;
      out.push_back(first);
      e.time = std::max(loop.from, e.time + length);
    } else if (e.time >= loop.to) {
      e.time = std::min(loop.to - Moment(1), std::max(loop.from, e.time - length));
      e.round = SoundEvent::Round::kLater;
    }
    out.push_back(e);
  }
  events = std::move(out);
}

// What rings of the hats follows the pedal as the gap narrows: a step of every few ms.
void addClosings(const HatPedal& pedal, std::vector<SoundEvent>& events) {
  constexpr Moment kStep = std::chrono::milliseconds(6);
  std::size_t near = 0;
  for (std::size_t i = 1; i < pedal.path.size(); ++i) {
    const auto& from = pedal.path[i - 1];
    const auto& to = pedal.path[i];
    if (!(to.opening < from.opening)) continue;
    for (Moment at = from.time + kStep;; at += kStep) {
      SoundEvent e;
      e.kind = SoundEvent::Kind::kPedal;
      e.time = std::min(at, to.time);
      e.opening = HatOpening(pedal.openingAt(e.time, near));
      e.piece = piece::kHat;
      events.push_back(e);
      if (at >= to.time) break;
    }
  }
}

// Which take each stroke sounds as: drawn from the song's seed and the stroke's place, never that
// of the stroke before it on its piece.
void chooseTakes(const Take& take, std::vector<SoundEvent>& events) {
  std::uint64_t seed = 1;
  for (const Feel& feel : take.song().feels) {
    if (feel.drift) seed += feel.drift->seed;
  }
  std::map<PieceId, std::uint8_t> last;
  std::vector<SoundEvent*> inOrder;
  for (SoundEvent& e : events) {
    if (e.kind == SoundEvent::Kind::kStrike) inOrder.push_back(&e);
  }
  std::stable_sort(inOrder.begin(), inOrder.end(),
                   [](const SoundEvent* a, const SoundEvent* b) { return a->time < b->time; });
  for (SoundEvent* e : inOrder) {
    std::uint64_t place = static_cast<std::uint64_t>(e->time.count());
    if (e->stroke < take.strokes().size()) {
      const Stroke& s = take.strokes()[e->stroke];
      place = static_cast<std::uint64_t>(s.bar) * 1'000'003 +
              static_cast<std::uint64_t>(s.at.num()) * 8'191 +
              static_cast<std::uint64_t>(s.at.den()) * 127 +
              static_cast<std::uint64_t>(s.part + 64);
    }
    bank::Draw draw(seed * 0x9E3779B97F4A7C15 ^ (place << 8 | e->piece.value));
    auto own = static_cast<std::uint8_t>(draw.unit() * bank::kTakes);
    const auto [before, isNew] = last.try_emplace(e->piece, own);
    if (!isNew && before->second == own) own = static_cast<std::uint8_t>((own + 1) % bank::kTakes);
    e->take = before->second = own;
  }
}

}  // namespace

Programme programmeOf(const Take& take, const KitMap& map, const Listening& listening,
                      const ClickPlan& click, std::optional<Span> loop, const KitMap* port) {
  const Score& score = take.score();
  const Kit& kit = *score.kit;
  const ClickNotes clicks = clickNotes(map, kit);
  const Listener listener(listening, take);
  const bool house = map.id == houseSounds().id;
  Programme out;
  out.end = toMoment(score.tempo.msAt(score.length));
  if (loop && loop->to > loop->from) out.loop = loop;

  const bool byLimb = !listening.soloLimbs.empty() || !listening.mutedLimbs.empty();
  const Notes notes = voice(take, map);
  out.events.reserve(notes.events.size());
  for (const NoteEvent& note : notes.events) {
    if (note.kind == NoteEvent::Kind::kPressure) continue;  // the shut that follows says the same
    SoundEvent e;
    e.time = note.time;
    e.stroke = note.stroke;
    e.note = note.note;
    e.velocity = note.velocity;
    e.kind =
        note.kind == NoteEvent::Kind::kShut ? SoundEvent::Kind::kShut : SoundEvent::Kind::kStrike;
    e.rings = note.rings;
    e.piece = piece::kHatFoot;
    e.limb = kit.usualLimb(piece::kHatFoot);
    if (note.stroke != NoteEvent::kNoStroke) {
      const Stroke& stroke = take.strokes()[note.stroke];
      e.piece = stroke.piece;
      e.limb = byLimb ? take.limbs()[note.stroke] : stroke.limb;
      e.opening = stroke.opening;
    }
    e.hats = e.piece == piece::kHat || e.piece == piece::kHatFoot;
    if (port != nullptr && e.kind == SoundEvent::Kind::kStrike) {
      const StrokeKind stroke = note.stroke == NoteEvent::kNoStroke
                                    ? StrokeKind::kNormal
                                    : take.strokes()[note.stroke].stroke;
      const KitMapRow* row = rowFor(*port, kit[e.piece], stroke, e.opening);
      if (row != nullptr) e.midi = static_cast<std::uint8_t>(row->note);
    }
    if (house) {
      const MixSetting mix = take.song().mixOf(e.piece);
      e.levelDb = static_cast<float>(mix.levelDb);
      e.pan = static_cast<float>(mix.pan);
      e.roomDb = static_cast<float>(mix.roomDb);
    }
    if (e.kind == SoundEvent::Kind::kStrike) {
      e.silent = !listener.hears(e);
      if (listening.asClick.contains(e.piece)) {
        e.note = static_cast<std::uint8_t>(clicks.normal);
        e.pan = 0;
        e.rings = false;
      }
    }
    out.events.push_back(e);
  }
  if (port != nullptr && port->pedalController >= 0) {
    for (const PedalKnot& knot : pedalKnots(take.performance().pedal, port->pedalDown, Moment(0))) {
      SoundEvent e;
      e.time = knot.time;
      e.kind = SoundEvent::Kind::kPedal;
      e.midi = static_cast<std::uint8_t>(port->pedalController);
      e.velocity = static_cast<std::uint8_t>(knot.value);
      out.events.push_back(e);
    }
  }
  if (house) addClosings(take.performance().pedal, out.events);
  if (click.pattern) {
    int from = 0;
    for (const Score::Block& block : score.blocks) {
      const Groove& groove = *block.groove;
      const double bpm = score.tempo.tempoAt(block.start).bpm().value;
      for (const ClickStroke& c : clicksOf(*click.pattern, groove.meter, bpm, from, groove.bars)) {
        out.events.push_back(clickAt(toMoment(score.tempo.msAt(block.start + c.at)),
                                     c.one && click.accentOne, clicks, click.levelDb + c.db));
      }
      from += groove.bars;
    }
  } else if (click.unit != ClickUnit::kOff) {
    const int round = std::max(1, click.barsOn + click.barsOff);
    for (const Score::Block& block : score.blocks) {
      const Beat bar = block.groove->meter.barLength();
      for (int i = 0; i < block.groove->bars; ++i) {
        if ((block.firstBar + i) % round >= click.barsOn) continue;
        clickBar(score, block.start + Beat(i) * bar, bar, click, [&](Beat at, bool one) {
          out.events.push_back(clickAt(toMoment(score.tempo.msAt(at)), one && click.accentOne,
                                       clicks, click.levelDb));
        });
      }
    }
  }
  if (house) chooseTakes(take, out.events);
  if (out.loop) intoLoop(take, *out.loop, out.events);
  std::stable_sort(out.events.begin(), out.events.end(),
                   [](const SoundEvent& a, const SoundEvent& b) { return a.time < b.time; });
  return out;
}

std::vector<SoundEvent> countIn(const Score& score, const KitMap& map, Moment from, int bars,
                                double levelDb) {
  std::vector<SoundEvent> out;
  if (score.blocks.empty()) return out;
  const Beat here(roundToInt(score.tempo.quartersAt(toMilliseconds(from)).value() * 960), 960);
  const Score::Block* block = &score.blocks.front();
  for (const Score::Block& b : score.blocks) {
    if (b.start <= here) block = &b;
  }
  const Meter meter = block->groove->meter;
  const Milliseconds quarter = score.tempo.tempoAt(here).quarter();
  const Beat length = Beat(bars) * meter.barLength();
  const ClickNotes notes = clickNotes(map, *score.kit);
  for (Beat at; at < length; at += meter.countUnit()) {
    Beat inBar = at;
    while (inBar >= meter.barLength()) inBar = inBar - meter.barLength();
    out.push_back(clickAt(from - toMoment(quarter * (length - at).toDouble()), inBar == Beat(0),
                          notes, levelDb));
  }
  return out;
}

}  // namespace uneven
