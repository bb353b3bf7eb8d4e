// SPDX-License-Identifier: GPL-3.0-or-later
// Edits of the song's sections: adding, splitting, joining, moving, repeating, taking away.
//
//   const auto split = withSectionSplit(song, 2, 4);      // after four passes
//   if (!split) tell(split.error().message);
//
// Sections are counted from 0. Where there is no arrangement every groove is a section already;
// then it is written down first. Errors: kLimit for a section or pass that is not there, or for
// what cannot be said in one section. Threads: pure functions.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/song/song.h"

namespace uneven {

// Whether tempo marks go along with the sections they stand in. A ramp over a section's edge is cut
// there: both parts keep their tempos.
enum class TempoGoes : std::uint8_t { kStays, kAlong };

// Of one pass, and of all of them, in quarter notes. Grooves that are not there count nothing.
Beat passLength(const Song& song, const Section& section);
Beat sectionLength(const Song& song, const Section& section);
int sectionBars(const Song& song, const Section& section);
// Where each section begins on the song's beats, and the song's end behind the last.
std::vector<Beat> sectionStarts(const Song& song);

// Before that one; sections().size(): behind the last.
Song withSectionAt(Song song, std::size_t index, Section section, TempoGoes tempo);
// In place of that one.
Song withSectionChanged(Song song, std::size_t index, Section section, TempoGoes tempo);
// Its first `passes` by themselves. What sounds stays: levels go on, the crash stays on the first,
// fills keep their turns. Refused where fills would fall on other passes, or inside a morph.
Result<Song> withSectionSplit(Song song, std::size_t index, int passes);
// It and the next one as one. Refused, with the reason, where one section cannot say both.
Result<Song> withSectionsJoined(Song song, std::size_t index);
// So that it stands at `to` afterwards.
Song withSectionMoved(Song song, std::size_t index, std::size_t to, TempoGoes tempo);
// Once more behind itself.
Song withSectionDoubled(Song song, std::size_t index, TempoGoes tempo);
Song withSectionRepeated(Song song, std::size_t index, int repeat, TempoGoes tempo);
Song withSectionNamed(Song song, std::size_t index, std::string name);
// The last one stays.
Song withoutSection(Song song, std::size_t index, TempoGoes tempo);

// `after`, a new order of `before`'s sections, with the tempos that they had there: of each the
// section that it was, nothing for a new one.
Song withTempoOfOrder(const Song& before, Song after,
                      const std::vector<std::optional<std::size_t>>& order);

// Tempo marks. The mark at a position put, changed or taken away (the first stays); `ramp` to the
// next one, where there is one.
Song withTempoMark(Song song, Beat at, Bpm bpm, bool ramp, std::string relation = {});
Song withoutTempoMark(Song song, Beat at);
// From one place to another, held between its neighbours; the first stays.
Song withTempoMarkMoved(Song song, std::size_t index, Beat at);

// A note value of the old tempo that becomes one of the new: {1/8T, 1/8} is 3/2 of the tempo.
struct TempoRelation {
  Grid before, after;
  // Of the new tempo by the old: after.step() / before.step().
  double factor() const { return after.step().toDouble() / before.step().toDouble(); }
  std::string text() const { return before.toString() + " = " + after.toString(); }
};
// "1/8T = 1/8". Error: kSyntax.
Result<TempoRelation> readRelation(const std::string& text);
// The tempo at a section's start set by that of what is before it. kLimit beyond kBpmMin..kBpmMax,
// and for the first section.
Result<Song> withTempoRelation(Song song, std::size_t section, const TempoRelation& relation);

}  // namespace uneven
