// SPDX-License-Identifier: GPL-3.0-or-later
// What drummers do with a section as a whole, in one step: three times and a fill, a build, a
// break, half time.
//
//   three-and-fill   passes by four, a fill in the last of each four
//   every-4, every-8 a fill in every fourth or eighth pass
//   aaab             the groove three times, then another (`groove`, else a fill of two beats)
//   build            voices come in one after the other: the kick, what keeps time, the snare, the
//                    rest; as many parts as there are voices and passes for them
//   break            one limb alone (`limb`)
//   half-time        what keeps time stays, all else goes half as fast: the backbeat falls on 3
//   double-time      what keeps time stays, all else goes twice as fast, ghosts left out
//   last-open        the last pass with the hats open
//
// Threads: pure functions.
#pragma once

#include "core/arrange/fills.h"

namespace uneven {

struct SectionTemplate {
  std::string_view id, title, help;
};
// In the order they are shown in.
const std::vector<SectionTemplate>& sectionTemplates();

struct TemplateAsked {
  std::string id;
  Limb limb = Limb::kRightFoot;  // of a break
  std::string groove;            // of aaab, "": a fill
  FillPlan fill;                 // where one is made
};
struct Templated {
  Song song;
  std::size_t sections = 1;  // the section has become so many
  std::string note;          // what else has changed: "as many bars as before"
};
// Errors: kUnknown for a template or groove that is not there, kLimit for what the section cannot
// be.
Result<Templated> withTemplate(Song song, std::size_t section, const TemplateAsked& asked);

// The hats of every stroke of the section opened along a line from `from` to `to` (0 shut .. 1
// wide): an opening o becomes x + (1 - x) o. The grooves become versions; where the line is not
// even each pass is written out.
Result<Song> withHatsOpened(Song song, std::size_t section, double from, double to);

}  // namespace uneven
