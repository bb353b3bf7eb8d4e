// SPDX-License-Identifier: GPL-3.0-or-later
// Voicing: which note each stroke plays, and what ends the hats' open sounds.
#include "core/voice/notes.h"

namespace uneven {
namespace {

// Notes of a map by piece and stroke, found once rather than for each stroke.
class NoteTable {
 public:
  NoteTable(const KitMap& map, const Kit& kit) : map_(map), kit_(kit) {}
  // -1 when the map has none.
  int noteOf(const Stroke& s) {
    const auto key =
        (static_cast<std::size_t>(s.piece.value) << 4) | static_cast<std::size_t>(s.stroke);
    if (s.opening > 0) return look(s);
    if (key >= shut_.size()) shut_.resize(key + 1, kNotAsked);
    if (shut_[key] == kNotAsked) shut_[key] = look(s);
    return shut_[key];
  }
  // Of the same stroke on shut hats.
  int shutNote(const Stroke& s) {
    Stroke shut = s;
    shut.opening = 0;
    return noteOf(shut);
  }

 private:
  static constexpr int kNotAsked = -2;
  int look(const Stroke& s) const {
    const KitMapRow* row = rowFor(map_, kit_[s.piece], s.stroke, s.opening);
    return row == nullptr ? -1 : row->note;
  }
  const KitMap& map_;
  const Kit& kit_;
  std::vector<int> shut_;
};

class Voicing {
 public:
  Voicing(const Take& take, const KitMap& map, Notes& out)
      : take_(take), map_(map), notes_(map, *take.score().kit), out_(out) {
    out_.events.reserve(take.strokes().size() + take.performance().pedal.sounds.size());
  }

  void run() {
    const std::vector<FootSound>& sounds = take_.performance().pedal.sounds;
    auto sound = sounds.begin();
    for (std::uint32_t i = 0; i < take_.strokes().size(); ++i) {
      const Stroke& s = take_.strokes()[i];
      for (; sound != sounds.end() && sound->time < s.time; ++sound) shutHats(*sound);
      strike(s, i);
    }
    for (; sound != sounds.end(); ++sound) shutHats(*sound);
  }

 private:
  void add(NoteEvent::Kind kind, Moment time, int note, Velocity velocity,
           std::uint32_t stroke = NoteEvent::kNoStroke, bool rings = false) {
    out_.events.push_back({time, stroke, kind, static_cast<std::uint8_t>(note),
                           static_cast<std::uint8_t>(velocity.value()), rings});
  }

  void strike(const Stroke& s, std::uint32_t index) {
    const int note = notes_.noteOf(s);
    if (note < 0) {
      ++out_.unmapped[s.piece];
      return;
    }
    const bool hats = s.piece == piece::kHat || s.piece == piece::kHatFoot;
    if (hats && openNote_ >= 0 && openNote_ != note) {
      add(NoteEvent::Kind::kShut, s.time, openNote_, Velocity(Velocity::kMax));
    }
    // A zone with a note of its own rings until it is shut.
    const bool open = s.piece == piece::kHat && s.opening > 0 && note != notes_.shutNote(s);
    add(NoteEvent::Kind::kStrike, s.time, note, s.velocity, index, open);
    if (hats) openNote_ = open ? note : -1;
  }

  // The foot ends an open sound, or sounds by itself.
  void shutHats(const FootSound& sound) {
    if (sound.masked || sound.written) return;  // a stroke does it
    const int openNote = openNote_;
    openNote_ = -1;
    const bool pressed = openNote >= 0 && map_.shutBy == ShutBy::kPolyPressure;
    if (pressed) add(NoteEvent::Kind::kPressure, sound.time, openNote, Velocity(Velocity::kMax));
    if (openNote >= 0) {
      add(NoteEvent::Kind::kShut, sound.time, openNote, Velocity(Velocity::kMax));
    }
    if (pressed || sound.velocity == 0) return;
    const bool byHandNote = openNote >= 0 && map_.shutBy == ShutBy::kClosedNote;
    const Kit& kit = *take_.score().kit;
    const KitMapRow* row =
        rowFor(map_, kit[byHandNote ? piece::kHat : piece::kHatFoot], StrokeKind::kNormal, 0);
    if (row == nullptr) return;
    add(NoteEvent::Kind::kStrike, sound.time, row->note, Velocity(sound.velocity));
  }

  const Take& take_;
  const KitMap& map_;
  NoteTable notes_;
  Notes& out_;
  int openNote_ = -1;  // the hats' note that rings until it is shut
};

}  // namespace

Notes voice(const Take& take, const KitMap& map, Moment start) {
  Notes out;
  Voicing(take, map, out).run();
  // Hats that are never opened need no pedal.
  const HatPedal& pedal = take.performance().pedal;
  if (map.pedalController >= 0 && !pedal.path.empty()) {
    out.pedal = pedalKnots(pedal, map.pedalDown, start);
  }
  return out;
}

}  // namespace uneven
