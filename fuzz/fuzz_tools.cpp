// SPDX-License-Identifier: GPL-3.0-or-later
// Every tool and every walk, with arguments made of the words that they know and of noise, on
// grooves of chance.
#include <fuzzer/FuzzedDataProvider.h>

#include "core/perform/score.h"
#include "core/song/edit.h"
#include "core/tools/tool.h"
#include "core/vary/walks.h"
#include "fuzz/support.h"
#include "tests/support/random_song.h"

namespace {

using namespace uneven;

std::string argument(FuzzedDataProvider& input, const ToolParameter& parameter) {
  static const char* kWords[] = {"0",     "1",    "-1",   "1/4",  "3/2",  "-1/3", "1/10080",
                                 "16",    "256",  "64",   "yes",  "no",   "any",  "hat",
                                 "snare", "kick", "end",  "1/16", "1/8T", "7/8",  "5/16",
                                 "2",     "100",  "-256", "RLKF", "x..",  ">..",  "4a"};
  switch (input.ConsumeIntegralInRange(0, 3)) {
    case 0:
      return parameter.fallback;
    case 1:
      return parameter.choices.empty()
                 ? parameter.fallback
                 : parameter.choices[input.ConsumeIntegralInRange<std::size_t>(
                       0, parameter.choices.size() - 1)];
    case 2:
      return kWords[input.ConsumeIntegralInRange<std::size_t>(0, std::size(kWords) - 1)];
    default:
      return input.ConsumeRandomLengthString(12);
  }
}

Arguments argumentsFor(FuzzedDataProvider& input, const Tool& tool) {
  Arguments out;
  for (const ToolParameter& parameter : tool.parameters) {
    // What looks at every variant takes long, and is no other code.
    if (parameter.name == "order" || parameter.name == "only" || parameter.name == "together" ||
        parameter.name == "changes")
      continue;
    if (input.ConsumeBool()) out[parameter.name] = argument(input, parameter);
  }
  return out;
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  FuzzedDataProvider input(data, size);
  testing::Random random(input.ConsumeIntegral<std::uint16_t>());
  Song song = testing::randomSong(random);
  const std::string groove = song.grooves[0]->id;
  for (int i = input.ConsumeIntegralInRange(1, 3); i > 0; --i) {
    const std::size_t most = tools().size() + songTools().size();
    const auto which = input.ConsumeIntegralInRange<std::size_t>(0, most + walks().size() - 1);
    if (which >= most) {
      const WalkKind& kind = walks()[which - most];
      const auto walk = makeWalk(kind.name, song, groove, argumentsFor(input, kind), Profile{});
      if (!walk) {
        fuzz::insistOnOneLine(walk.error());
      } else if (walk->count > 0) {
        const auto at = input.ConsumeIntegralInRange<std::uint64_t>(0, walk->count - 1);
        Song varied = withGroove(song, walk->at(at).groove);
        if (arrange(varied)) song = std::move(varied);
      }
      continue;
    }
    const Tool& tool =
        which < tools().size() ? tools()[which] : songTools()[which - tools().size()];
    const auto outcome = runTool(tool.name, song, groove, argumentsFor(input, tool));
    if (!outcome) {
      fuzz::insistOnOneLine(outcome.error());
      continue;
    }
    if (!arrange(outcome->song)) continue;  // beyond what a song may hold
    song = outcome->song;
  }
  fuzz::insistOnSong(song);
  return 0;
}
