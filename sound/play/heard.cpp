// SPDX-License-Identifier: GPL-3.0-or-later
// Songs that differ in one thing.
#include "sound/play/heard.h"

#include "core/song/edit.h"

namespace uneven {

Song heardAs(Song song, const Heard& heard) {
  if (heard.groove) song = withGroove(std::move(song), **heard.groove);
  if (heard.bpm) song = atOneTempo(std::move(song), Bpm{*heard.bpm});
  for (Feel& feel : song.feels) {
    if (heard.straight) {
      feel.swing.linked = false;
      // What is written in triplets is straight where it is written.
      feel.swing.ratio = feel.swing.written == Written::kTriplet ? 2 : 1;
    }
    if (heard.noDrift) feel.drift.reset();
    if (heard.nextTake && feel.drift) ++feel.drift->seed;
    if (heard.noDisplacement) {
      feel.displacement.clear();
      feel.limbDisplacement.clear();
      for (Slot& slot : feel.slots) slot.shift = Milliseconds(0);
    }
  }
  if (!heard.feel.empty() && song.findFeel(heard.feel) != nullptr) {
    for (auto& groove : song.grooves) groove.edit([&](Groove& g) { g.feel = heard.feel; });
    for (Section& section : song.arrangement) section.feel.clear();
  }
  if (!heard.noDisplacement) return song;
  for (auto& groove : song.grooves) {
    groove.edit([](Groove& g) {
      for (Hit& hit : g.hits) hit.nudge = Milliseconds(0);
    });
  }
  return song;
}

}  // namespace uneven
