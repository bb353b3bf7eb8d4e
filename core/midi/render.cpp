// SPDX-License-Identifier: GPL-3.0-or-later
// Quantising: notes and their ends on ticks, and the conductor's track.
#include "core/midi/render.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <map>
#include <optional>
#include <utility>

#include "core/voice/notes.h"

namespace uneven {
namespace {

std::string bigEndian(std::uint32_t value, int count) {
  std::string out;
  for (int shift = 8 * (count - 1); shift >= 0; shift -= 8) {
    out += static_cast<char>((value >> shift) & 0xFF);
  }
  return out;
}

// The song's clock as the file will tell it.
class FileClock {
 public:
  FileClock(const Score& score, const RenderOptions& options) : ppq_(options.ppq) {
    const Beat bar =
        score.blocks.empty() ? Beat(4) : score.blocks.front().groove->meter.barLength();
    leadTicks_ = tickOf(Beat(options.leadInBars) * bar);
    std::vector<TempoMap::Step> steps;
    for (const TempoMap::Step& step : score.tempo.steps()) {
      const std::int64_t tick = steps.empty() ? 0 : leadTicks_ + tickOf(step.at);
      // Two steps closer than a tick: the later one holds.
      if (!steps.empty() && steps.back().at == Beat(tick, ppq_)) steps.pop_back();
      steps.push_back({Beat(tick, ppq_), step.tempo});
    }
    tempo_ = TempoMap(std::move(steps));
    lead_ = tempo_.msAt(Beat(leadTicks_, ppq_));
  }

  std::int64_t tickOf(Beat at) const { return roundToInt((at * Beat(ppq_)).toDouble()); }
  std::int64_t songTick(Beat at) const { return leadTicks_ + tickOf(at); }
  std::int64_t tickOf(Moment time) const {
    return roundToInt(tempo_.quartersAt(toMilliseconds(time) + lead_).value() * ppq_);
  }
  // Of the file, on the song's clock.
  Moment start() const { return toMoment(-lead_); }
  const TempoMap& tempo() const { return tempo_; }
  int ppq() const { return ppq_; }

 private:
  int ppq_;
  std::int64_t leadTicks_ = 0;
  Milliseconds lead_{0};
  TempoMap tempo_;
};

MetaEvent meterEvent(std::int64_t tick, Meter meter) {
  int power = 0;
  while ((1 << power) < meter.d) ++power;
  // 24 MIDI clocks to a quarter note; a metronome clicks on the counts. In 1/32 a count is 3.
  const Beat click = meter.countUnit() * Beat(24);
  return {tick,
          kMetaMeter,
          {static_cast<char>(meter.n), static_cast<char>(power),
           static_cast<char>(std::min<std::int64_t>(96, click.num() / click.den())), 8}};
}

MidiTrack conductorTrack(const Song& song, const Score& score, const FileClock& clock) {
  MidiTrack track;
  track.metas.push_back({0, kMetaName, song.title});
  for (const TempoMap::Step& step : clock.tempo().steps()) {
    track.metas.push_back({clock.tickOf(step.at), kMetaTempo,
                           bigEndian(static_cast<std::uint32_t>(step.tempo.usPerQuarter), 3)});
  }
  std::optional<Meter> meter;
  std::optional<std::uint32_t> section;
  for (const Score::Block& block : score.blocks) {
    const std::int64_t tick = clock.songTick(block.start);
    if (meter != block.groove->meter) {
      // The lead-in is counted in the first meter.
      track.metas.push_back(meterEvent(meter ? tick : 0, block.groove->meter));
      meter = block.groove->meter;
    }
    if (section != block.section) {
      track.metas.push_back({tick, kMetaMarker, score.sections[block.section].name});
      section = block.section;
    }
  }
  std::stable_sort(track.metas.begin(), track.metas.end(),
                   [](const MetaEvent& a, const MetaEvent& b) { return a.tick < b.tick; });
  track.endTick = clock.songTick(score.length);
  return track;
}

// Strokes come in order of time, so their notes come in order of tick; only the notes' ends have to
// be woven in. At most one note of each number sounds at a time.
class NoteWeaver {
 public:
  NoteWeaver(int channel, std::int64_t noteTicks, std::vector<MidiEvent>& out)
      : channel_(static_cast<std::uint8_t>(channel - 1)), noteTicks_(noteTicks), out_(out) {
    sounding_.fill(kSilent);
  }

  // Where the note already begins at this tick the louder of the two stays; gives what the other
  // was made from, a stroke or kNoStroke.
  std::optional<std::uint32_t> noteOn(std::int64_t tick, int note, Velocity velocity,
                                      std::uint32_t stroke, bool held) {
    endUpTo(tick);
    const auto n = static_cast<std::size_t>(note);
    if (sounding_[n] != kSilent && started_[n] == tick) {
      MidiEvent& before = out_[onEvent_[n]];
      if (velocity.value() <= before.data2) return stroke;
      before.data2 = static_cast<std::uint8_t>(velocity.value());
      return std::exchange(before.stroke, stroke);
    }
    end(note, tick);
    onEvent_[n] = out_.size();
    out_.push_back({tick, stroke, static_cast<std::uint8_t>(0x90 | channel_),
                    static_cast<std::uint8_t>(note), static_cast<std::uint8_t>(velocity.value())});
    started_[n] = tick;
    // A held note is ended by end(); its planned end is the far future.
    sounding_[n] = held ? kHeld : tick + noteTicks_;
    if (!held) schedule(note, sounding_[n]);
    return std::nullopt;
  }

  // Ends the note if it sounds, at least a tick after it began.
  void end(int note, std::int64_t tick) {
    const auto n = static_cast<std::size_t>(note);
    if (sounding_[n] == kSilent) return;
    if (tick <= started_[n]) {
      // Shut at the very tick it was struck: end it on the next.
      if (sounding_[n] != started_[n] + 1) schedule(note, started_[n] + 1);
      sounding_[n] = started_[n] + 1;
      return;
    }
    sounding_[n] = kSilent;
    emitOff(note, tick);
  }

  void polyPressure(std::int64_t tick, int note, int value) {
    endUpTo(tick);
    out_.push_back({tick, MidiEvent::kNoStroke, static_cast<std::uint8_t>(0xA0 | channel_),
                    static_cast<std::uint8_t>(note), static_cast<std::uint8_t>(value)});
  }

  void endUpTo(std::int64_t tick) {
    for (; done_ < pending_.size() && pending_[done_].tick <= tick; ++done_) {
      const auto [when, note] = pending_[done_];
      const auto n = static_cast<std::size_t>(note);
      if (sounding_[n] != when) continue;  // ended early by the same note
      sounding_[n] = kSilent;
      emitOff(note, when);
    }
    // Cleared away now and then: each time would move the others each time.
    if (done_ < kManyDone && done_ < pending_.size()) return;
    pending_.erase(pending_.begin(), pending_.begin() + static_cast<std::ptrdiff_t>(done_));
    done_ = 0;
  }

  // Ends all that still sounds; held notes at `tick`.
  void finish(std::int64_t tick) {
    for (int note = 0; note < 128; ++note) {
      const auto n = static_cast<std::size_t>(note);
      if (sounding_[n] != kHeld) continue;
      sounding_[n] = std::max(tick, started_[n] + noteTicks_);
      schedule(note, sounding_[n]);
    }
    endUpTo(kHeld);
  }

 private:
  static constexpr std::int64_t kSilent = -1;
  static constexpr std::int64_t kHeld = std::int64_t{1} << 62;
  struct Pending {
    std::int64_t tick;
    int note;
  };

  void emitOff(int note, std::int64_t tick) {
    out_.push_back({tick, MidiEvent::kNoStroke, static_cast<std::uint8_t>(0x80 | channel_),
                    static_cast<std::uint8_t>(note), 64});
  }
  // Few notes sound at once, and most ends come last: insertion from the back.
  void schedule(int note, std::int64_t tick) {
    auto place = pending_.end();
    const auto first = pending_.begin() + static_cast<std::ptrdiff_t>(done_);
    while (place != first && std::prev(place)->tick > tick) --place;
    pending_.insert(place, {tick, note});
  }

  std::uint8_t channel_;
  std::int64_t noteTicks_;
  std::vector<MidiEvent>& out_;
  std::array<std::int64_t, 128> sounding_;  // planned end, kSilent or kHeld
  std::array<std::int64_t, 128> started_{};
  std::array<std::size_t, 128> onEvent_{};
  static constexpr std::size_t kManyDone = 1024;
  std::vector<Pending> pending_;
  std::size_t done_ = 0;  // of pending_
};

std::string strokes(int count) {
  return count == 1 ? "1 stroke" : fmt::format("{} strokes", count);
}

// Notes on the file's ticks.
class Quantiser {
 public:
  Quantiser(const Take& take, const Notes& notes, const KitMap& map, const FileClock& clock,
            MidiTrack& track)
      : take_(take),
        notes_(notes),
        map_(map),
        clock_(clock),
        weaver_(map.channel, std::max(1, clock.ppq() / 8), track.events) {
    track.events.reserve(2 * notes.events.size());
  }

  void run() {
    for (const NoteEvent& event : notes_.events) put(event);
    std::int64_t last = clock_.songTick(take_.score().length);
    if (!take_.strokes().empty()) last = std::max(last, tickFrom(take_.strokes().back().time));
    weaver_.finish(last);
  }

  std::vector<std::string> notices() const {
    std::vector<std::string> out;
    const Performance& performance = take_.performance();
    for (const auto& [piece, count] : notes_.unmapped) {
      out.push_back(fmt::format("the map \"{}\" has no note for {}: {} left out", map_.name,
                                (*take_.score().kit)[piece].name, strokes(count)));
    }
    int beforeStart = 0;
    while (beforeStart < std::ssize(take_.strokes()) &&
           clock_.tickOf(take_.strokes()[static_cast<std::size_t>(beforeStart)].time) < 0) {
      ++beforeStart;
    }
    if (beforeStart > 0) {
      out.push_back(fmt::format(
          "{} before the start of the file, the earliest by {:.1f} ms, put at tick 0 (a lead-in "
          "keeps what comes early)",
          strokes(beforeStart), -toMilliseconds(take_.strokes().front().time).count()));
    }
    if (performance.squeezed > 0) {
      out.push_back(fmt::format("{} squeezed: the stroke before on the same piece is too near",
                                performance.squeezed == 1
                                    ? std::string("1 ornament")
                                    : fmt::format("{} ornaments", performance.squeezed)));
    }
    if (performance.held > 0) {
      out.push_back(fmt::format("{} held: it would pass its neighbour on the same piece",
                                strokes(performance.held)));
    }
    if (performance.limited > 0) {
      out.push_back(fmt::format("{} displaced no further than its role's limit",
                                strokes(performance.limited)));
    }
    if (performance.pedal.pressesOverridden > 0) {
      out.push_back(
          fmt::format("{} of the pump give way to openings that are written",
                      performance.pedal.pressesOverridden == 1
                          ? std::string("1 press")
                          : fmt::format("{} presses", performance.pedal.pressesOverridden)));
    }
    if (doubled_ > 0) {
      out.push_back(fmt::format("{} on the note and tick of another; the louder was kept",
                                strokes(doubled_)));
    }
    return out;
  }

 private:
  std::int64_t tickFrom(Moment time) const {
    return std::max<std::int64_t>(0, clock_.tickOf(time));
  }

  void put(const NoteEvent& event) {
    const std::int64_t tick = tickFrom(event.time);
    switch (event.kind) {
      case NoteEvent::Kind::kStrike: {
        const auto lost =
            weaver_.noteOn(tick, event.note, Velocity(event.velocity), event.stroke, event.rings);
        if (lost && *lost != MidiEvent::kNoStroke) ++doubled_;
        break;
      }
      case NoteEvent::Kind::kShut:
        weaver_.endUpTo(tick);
        weaver_.end(event.note, tick);
        break;
      case NoteEvent::Kind::kPressure:
        weaver_.polyPressure(tick, event.note, event.velocity);
        break;
    }
  }

  const Take& take_;
  const Notes& notes_;
  const KitMap& map_;
  const FileClock& clock_;
  NoteWeaver weaver_;
  int doubled_ = 0;
};

// The pedal's knots on ticks: of two on one tick the later stays, and an unchanging end says
// nothing new.
std::vector<MidiEvent> pedalEvents(const Notes& notes, const KitMap& map, const FileClock& clock) {
  std::vector<MidiEvent> out;
  for (const PedalKnot& knot : notes.pedal) {
    const std::int64_t tick = std::max<std::int64_t>(0, clock.tickOf(knot.time));
    while (!out.empty() && out.back().tick == tick) out.pop_back();
    out.push_back({tick, MidiEvent::kNoStroke, static_cast<std::uint8_t>(0xB0 | (map.channel - 1)),
                   static_cast<std::uint8_t>(map.pedalController),
                   static_cast<std::uint8_t>(knot.value)});
  }
  while (out.size() > 1 && out.back().data2 == out[out.size() - 2].data2) out.pop_back();
  return out;
}

// Between the notes; where ticks are equal the controller comes first.
void weaveIn(const std::vector<MidiEvent>& pedal, std::vector<MidiEvent>& events) {
  if (pedal.empty()) return;
  std::vector<MidiEvent> woven;
  woven.reserve(events.size() + pedal.size());
  std::merge(pedal.begin(), pedal.end(), events.begin(), events.end(), std::back_inserter(woven),
             [](const MidiEvent& a, const MidiEvent& b) { return a.tick < b.tick; });
  events = std::move(woven);
}

// One track for each piece that is struck, in the kit's order. A note's end follows its note.
std::vector<MidiTrack> splitByPiece(const MidiTrack& all, const Performance& performance,
                                    const Kit& kit) {
  std::map<PieceId, MidiTrack> byPiece;
  std::array<PieceId, 128> lastOn;
  lastOn.fill(piece::kHatFoot);  // what shuts the hats without a stroke is the foot
  for (const MidiEvent& event : all.events) {
    if ((event.status & 0xF0) == 0xB0) {
      byPiece[piece::kHat].events.push_back(event);
      continue;
    }
    PieceId& owner = lastOn[event.data1];
    if (event.isNoteOn()) {
      owner = event.stroke == MidiEvent::kNoStroke ? piece::kHatFoot
                                                   : performance.strokes[event.stroke].piece;
    }
    byPiece[owner].events.push_back(event);
  }
  std::vector<MidiTrack> tracks;
  for (auto& [piece, track] : byPiece) {
    track.metas.push_back({0, kMetaName, kit[piece].name});
    track.endTick = all.endTick;
    tracks.push_back(std::move(track));
  }
  return tracks;
}

Result<Done> checkOptions(const RenderOptions& options) {
  const auto limit = [](std::string message) {
    return Error{ErrorCode::kLimit, std::move(message), {}};
  };
  if (options.ppq < kPpqMin || options.ppq > kPpqMax) {
    return limit(fmt::format("{} ticks per quarter note; {}..{} are allowed", options.ppq, kPpqMin,
                             kPpqMax));
  }
  if (options.type != 0 && options.type != 1) {
    return limit(fmt::format("a file of type {}; 0 and 1 are allowed", options.type));
  }
  if (options.leadInBars < 0 || options.leadInBars > kLeadInMax) {
    return limit(
        fmt::format("a lead-in of {} bars; 0..{} are allowed", options.leadInBars, kLeadInMax));
  }
  if (options.trackPerPiece && options.type == 0) {
    return limit("a track for each piece needs a file of type 1");
  }
  return Done{};
}

}  // namespace

Result<Rendering> render(const Take& take, const KitMap& map, const RenderOptions& options,
                         const std::stop_token& stop) {
  if (const Status ok = checkOptions(options); !ok) return ok.error();
  const FileClock clock(take.score(), options);
  Notes notes = voice(take, map, clock.start());
  if (stop.stop_requested()) return givenUp();
  Rendering out;
  out.sequence.type = options.type;
  out.sequence.ticksPerQuarter = options.ppq;
  MidiTrack conductor = conductorTrack(take.song(), take.score(), clock);
  MidiTrack drums;
  Quantiser quantiser(take, notes, map, clock, drums);
  quantiser.run();
  if (stop.stop_requested()) return givenUp();
  drums.endTick = conductor.endTick;
  out.notices = quantiser.notices();
  notes.events = {};  // a long song's are large
  const std::vector<MidiEvent> pedal = pedalEvents(notes, map, clock);
  weaveIn(pedal, drums.events);
  if (pedal.size() > 1) {
    out.notices.push_back(fmt::format("{} events of controller {} carry the hats' pedal",
                                      pedal.size(), map.pedalController));
  }
  if (options.type == 0) {
    conductor.events = std::move(drums.events);
    out.sequence.tracks.push_back(std::move(conductor));
    return out;
  }
  out.sequence.tracks.push_back(std::move(conductor));
  if (options.trackPerPiece) {
    for (MidiTrack& track : splitByPiece(drums, take.performance(), *take.score().kit)) {
      out.sequence.tracks.push_back(std::move(track));
    }
  } else {
    drums.metas.push_back({0, kMetaName, "Drums"});
    out.sequence.tracks.push_back(std::move(drums));
  }
  return out;
}

Result<Rendering> render(const Song& song, const KitMap& map, const RenderOptions& options) {
  const Result<SharedTake> take = Take::ofSong(song);
  if (!take) return take.error();
  return render(**take, map, options);
}

}  // namespace uneven
