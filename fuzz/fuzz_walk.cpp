// SPDX-License-Identifier: GPL-3.0-or-later
// Walks by name with arguments as they are typed: "placement\npiece=hat\nstrokes=2\n".
#include <sstream>

#include "core/perform/score.h"
#include "core/song/edit.h"
#include "core/vary/walks.h"
#include "fuzz/support.h"
#include "tests/support/varied.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace uneven;
  static const Song song = testing::plainBeat();
  std::istringstream lines{std::string(fuzz::textOf(data, size))};
  std::string kind, line;
  std::getline(lines, kind);
  Arguments arguments;
  while (std::getline(lines, line) && arguments.size() < 20) {
    const std::size_t equals = line.find('=');
    if (equals != std::string::npos) arguments[line.substr(0, equals)] = line.substr(equals + 1);
  }
  const Result<Walk> walk = makeWalk(kind, song, song.grooves.front()->id, arguments, {});
  if (!walk) {
    fuzz::insistOnOneLine(walk.error());
    return 0;
  }
  for (std::uint64_t i = 0; i < std::min<std::uint64_t>(walk->count, 20); ++i) {
    const Variant variant = walk->at(i);
    fuzz::insist(!variant.name.empty(), "a variant has a name");
    fuzz::insist(bool(arrange(withGroove(song, variant.groove))), "a variant can be played");
  }
  return 0;
}
