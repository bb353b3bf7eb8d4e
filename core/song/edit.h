// SPDX-License-Identifier: GPL-3.0-or-later
// Edits as pure functions: a value in, a changed value out.
//
//   Groove softer = changeHits(groove, selection, [](Hit& h) { ... }).groove;
//
// All keep the invariants of a Song: hits in order, positions inside their groove, values within
// their limits. Threads: pure functions.
#pragma once

#include <compare>
#include <functional>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "core/song/positions.h"
#include "core/song/song.h"

namespace uneven {

// Names a hit by what it is rather than by where it stands in a list: a piece is struck once at a
// position.
struct HitRef {
  Beat at;
  PieceId piece;
  friend bool operator==(const HitRef&, const HitRef&) = default;
  friend std::strong_ordering operator<=>(const HitRef& a, const HitRef& b) {
    if (const auto order = a.at <=> b.at; order != 0) return order;
    return a.piece <=> b.piece;
  }
};
using Selection = std::set<HitRef>;

// Of the hit at an index, which must be there, and back; nothing: no such hit.
HitRef refOf(const Groove& groove, std::size_t index);
std::optional<std::size_t> indexOf(const Groove& groove, const HitRef& ref);
// The selected hits that exist, in the groove's order.
std::vector<std::size_t> indicesOf(const Groove& groove, const Selection& selection);

// Puts the hit, in place of what its piece had at its position.
Groove withHit(Groove groove, Hit hit);
Groove withoutHits(Groove groove, const Selection& selection);
// Puts many hits, each in place of what its piece had there; of two for one place the later of the
// list wins. Positions must lie inside the groove. Returns how many hits gave way.
int placeHits(Groove& groove, std::vector<Hit> hits);

struct Edited {
  Groove groove;
  Selection selection;  // the same hits, wherever they stand now
};
// Applies `change` to each selected hit. A hit that is moved takes the place of one that is not
// selected; positions are held inside the groove and shifts to +-kShiftMax.
Edited changeHits(const Groove& groove, const Selection& selection,
                  const std::function<void(Hit&)>& change);

// The selected hits, counted from the position of the first.
std::vector<Hit> copyHits(const Groove& groove, const Selection& selection);
struct Pasted {
  Groove groove;
  Selection selection;  // what was pasted
  int leftOut = 0;      // beyond the end of the groove
};
Pasted pasteHits(Groove groove, const std::vector<Hit>& hits, Beat at);

// Hits that are written for another kit, made to name the same pieces, by their ids, of the song's.
// A piece that the song does not have is added to its kit as long as there is room.
struct Carried {
  std::string added;  // names of the pieces, with commas
  int leftOut = 0;    // hits for which there is no room
};
Carried carryPieces(Song& song, const Kit& from, std::vector<Hit>& hits);

// Every later bar becomes a copy of the first: hits, drawn openings, beats' own grids.
Groove repeatFirstBar(const Groove& groove);

// What becomes of the hits when the meter changes.
enum class MeterChange : std::uint8_t {
  kKeepDistance,  // from the groove's start: they cross the new bar lines
  kKeepBars,      // their place in their bar: a shorter bar loses its end, a longer one gets a rest
  kScaleBars,     // their share of the bar: the figure is stretched or pressed
};
// Another meter or number of bars. What then lies beyond the end of the groove is dropped; `moved`
// tells how much.
Groove withMeter(Groove groove, Meter meter, int bars,
                 MeterChange change = MeterChange::kKeepDistance, Moved* moved = nullptr);

// The song with that groove or feel replaced (by id), or added at the end when it is new.
Song withGroove(Song song, Groove groove);
Song withFeel(Song song, Feel feel);
// The tempo that holds at a position; on a ramp what it has come to there. `marks`: of a song, not
// empty, the first at 0.
Bpm bpmAt(const std::vector<TempoMark>& marks, Beat at);
// The tempo that holds at a position of the song is changed where it was set; on a ramp there, and
// the ramp goes on from it.
Song withTempoAt(Song song, Beat at, Bpm bpm);
// One tempo from beginning to end.
Song atOneTempo(Song song, Bpm bpm);

// The feel a groove is heard with where it is first played, or at a place that plays it: its
// section's, else its own. Empty when there is none.
std::string feelInForce(const Song& song, const std::string& grooveId, AtPlace at = {});
// For so many quarter notes from a section's start the feel before it turns into its own. Where
// there is no arrangement every groove is a section already; then it is written down.
Song withMorph(Song song, std::size_t section, Beat length);
// Sets that feel, on the section where the section has one of its own, else on the groove.
Song withFeelInForce(Song song, const std::string& grooveId, const std::string& feelId,
                     AtPlace at = {});

// Changes the feel in force for that groove; where there is none the change begins one.
Song withFeelChanged(Song song, const std::string& grooveId,
                     const std::function<void(Feel&)>& change, AtPlace at = {});
// The feel at the end of the list under a free id made from `wanted`, which is returned through
// `id`. A name that another feel has gets a number.
Song withNewFeel(Song song, Feel feel, const std::string& wanted, std::string& id);
// How far a piece, or all that a limb plays, is displaced. Zero takes the entry away.
void setDisplacement(Feel& feel, PieceId piece, Milliseconds ms);
void setDisplacement(Feel& feel, Limb limb, Milliseconds ms);
// What one position of the bar adds, for a piece or for all. A slot that would add nothing goes.
void setSlot(Feel& feel, Beat at, std::optional<PieceId> piece, Milliseconds ms);
void setSlotVelocity(Feel& feel, Beat at, std::optional<PieceId> piece, int by);
// Without the feel: what was played with it is straight, or played with its groove's own.
Song withoutFeel(Song song, const std::string& id);

// `wanted`, or `wanted-2`, `wanted-3`, ...: the first that no feel and no groove of the song has.
std::string freeId(const Song& song, const std::string& wanted);

// The song with the groove at the end of its list and of its arrangement, under a free id made from
// `wanted`, which is returned through `id`.
Song withNewGroove(Song song, Groove groove, const std::string& wanted, std::string& id);
// Without the groove and the sections that play it. The last groove stays.
Song withoutGroove(Song song, const std::string& id);

// The groove moved by that many places in the list (held to its ends). Nothing is played in another
// order where there is an arrangement.
Song withGrooveMoved(Song song, const std::string& id, int by);

// Without a piece of the song's own: what feels, the mix, mutes and swaps say of it goes too.
// Nothing where the piece is the house kit's, a groove strikes it, or a section swaps to it or
// crashes on it.
std::optional<Song> withoutPiece(const Song& song, PieceId piece);

// What File > New gives: one empty groove of two bars of 4/4 with a straight feel, arranged once.
Song blankSong();

}  // namespace uneven
