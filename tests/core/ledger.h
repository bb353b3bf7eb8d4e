// SPDX-License-Identifier: GPL-3.0-or-later
// What pages of the ledger (ledger_test.cpp) are written with.
#pragma once

#include <fmt/format.h>

#include <functional>
#include <ostream>
#include <string>
#include <vector>

#include "core/base/text_out.h"
#include "core/io/song_json.h"
#include "core/tools/tool.h"
#include "tests/support/random_song.h"

namespace uneven::ledger {

using testing::pick;
using testing::Random;

template <typename T>
const T& anyOf(Random& random, const std::vector<T>& all) {
  return all[static_cast<std::size_t>(pick(random, 0, static_cast<int>(all.size()) - 1))];
}
// Half of them on few places with few values, so that ties and exact bounds are met.
Song anySong(Random& random);
Groove anyGroove(Random& random);
// A value that is allowed, mostly.
std::string argument(Random& random, const ToolParameter& p);

class Page {
 public:
  template <typename... Args>
  void line(fmt::format_string<Args...> format, Args&&... args) {
    text_ += fmt::format(format, std::forward<Args>(args)...) + "\n";
  }
  void groove(const Groove& groove, const Kit& kit) {
    Song song = blankSong();
    song.kit = SharedValue<Kit>(kit);
    song.grooves = {groove};
    song.grooves[0].edit([](Groove& g) { g.feel.clear(); });
    song.arrangement.clear();
    text_ += writeSong(song);
  }
  void rows(const std::function<void(TextOut&)>& put) {
    TextOut out([this](std::string_view block) {
      text_ += block;
      return true;
    });
    put(out);
    out.finish();
  }
  void bytes(std::string_view bytes) { text_ += bytes; }
  const std::string& text() const { return text_; }

 private:
  std::string text_;
};

std::string hashOf(const std::string& text);

struct Entry {
  std::string name;
  std::function<void(Random&, Page&)> write;
  unsigned seed = 17;
};

inline void PrintTo(const Entry& entry, std::ostream* out) {
  *out << entry.name;
}
// Pages of checks, hands, walks, the arrangement, rehearsals and the ear.
std::vector<Entry> roomEntries();
// What a fit is made of.
std::vector<Entry> earEntries();
// And of bounds, other files, tempos and names.
std::vector<Entry> fileEntries();

}  // namespace uneven::ledger
