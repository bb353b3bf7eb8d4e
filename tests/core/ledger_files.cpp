// SPDX-License-Identifier: GPL-3.0-or-later
// Pages of the ledger: numbers at their bounds, files beside the song's, tempos, names of places.
#include "core/io/profile_json.h"
#include "core/io/times_csv.h"
#include "core/measure/level.h"
#include "core/measure/tap_tempo.h"
#include "core/midi/onsets.h"
#include "core/midi/render.h"
#include "core/midi/smf.h"
#include "core/midi/song_frame.h"
#include "core/perform/score.h"
#include "core/song/names.h"
#include "core/time/count.h"
#include "core/tools/fill_library.h"
#include "core/vary/walks.h"
#include "core/voice/kit_map.h"
#include "tests/core/ledger.h"

namespace uneven::ledger {
namespace {

void parameters(Random&, Page& page) {
  const auto tell = [&](const Tool& tool) {
    page.line("{} {} {} {}", tool.name, tool.title, tool.help, tool.group);
    for (const ToolParameter& p : tool.parameters) {
      page.line("  {} {} {} {} {} {} {}", p.name, static_cast<int>(p.kind), p.fallback, p.help,
                p.min, p.max, fmt::join(p.choices, "|"));
    }
  };
  for (const Tool& tool : tools()) tell(tool);
  for (const SongTool& tool : songTools()) tell(tool);
  for (const WalkKind& walk : walks()) tell(walk);
}

// The text with one of its numbers replaced by one that some bound may forbid.
std::string atABound(Random& random, std::string text) {
  std::vector<std::pair<std::size_t, std::size_t>> numbers;
  for (std::size_t i = 1; i < text.size(); ++i) {
    const auto isPart = [&](std::size_t k) {
      return k < text.size() && (std::isdigit(static_cast<unsigned char>(text[k])) != 0 ||
                                 text[k] == '.' || text[k] == '-');
    };
    if (!isPart(i) || isPart(i - 1) || std::isalpha(static_cast<unsigned char>(text[i - 1])) != 0)
      continue;
    std::size_t end = i;
    while (isPart(end)) ++end;
    numbers.emplace_back(i, end - i);
  }
  if (numbers.empty()) return text;
  const auto [from, length] = anyOf(random, numbers);
  text.replace(
      from, length,
      anyOf<std::string>(random,
                         {"0",     "-1",    "1",     "2",     "3",       "9",       "9.5",  "16",
                          "17",    "20",    "32",    "33",    "60",      "61",      "64",   "65",
                          "126",   "127",   "128",   "-126",  "-127",    "256",     "257",  "400",
                          "401",   "500",   "501",   "0.5",   "-0.5",    "1.0001",  "1000", "1001",
                          "10080", "10081", "20000", "20001", "3600000", "3600001", "1e9"}));
  return text;
}

void bounds(Random& random, Page& page) {
  for (int i = 0; i < 25; ++i) {
    const std::string text = writeSong(anySong(random));
    for (int k = 0; k < 40; ++k) {
      const Result<Song> song = readSong(atABound(random, text), "f");
      if (!song) {
        page.line("{}", song.error().line());
        continue;
      }
      const Result<Score> score = arrange(*song);
      page.line("{}", score ? fmt::format("{} {} {} {}", score->bars, score->hits, score->strokes,
                                          score->length.toString())
                            : score.error().line());
    }
  }
  Profile profile;
  profile.setup = Setup{};
  profile.leadHand = profile.hand;
  const std::string player = writeProfile(profile);
  for (int k = 0; k < 600; ++k) {
    const Result<Profile> read = readProfile(atABound(random, player), "p");
    page.line("{}", read ? hashOf(writeProfile(*read)) : read.error().line());
  }
  for (const KitMap& map : builtInKitMaps()) {
    const std::string text = writeKitMap(map);
    for (int k = 0; k < 200; ++k) {
      const Result<KitMap> read = readKitMap(atABound(random, text), "m");
      page.line("{}", read ? hashOf(writeKitMap(*read)) : read.error().line());
    }
  }
}

void times(Random& random, Page& page) {
  for (int i = 0; i < 60; ++i) {
    std::string text = pick(random, 0, 1) == 0 ? "seconds,piece,velocity\n" : "";
    for (int k = pick(random, 0, 20); k > 0; --k) {
      text += fmt::format("{:.3f}", testing::pickReal(random, 0, 60));
      if (pick(random, 0, 3) > 0)
        text += anyOf<std::string>(random, {",snare", ",hat", ",kick", ",x", ","});
      if (pick(random, 0, 2) > 0) text += fmt::format(",{}", pick(random, 0, 130));
      text += anyOf<std::string>(random, {"\n", "\r\n", "\n\n", "\n"});
    }
    for (int k = 0; k < 10; ++k) {
      const auto read = readTimesCsv(k == 0 ? text : atABound(random, text), houseKit(), "t");
      if (!read) {
        page.line("{}", read.error().line());
        continue;
      }
      for (const Onset& o : *read)
        page.line("{:.4f} {} {} {}", o.seconds, o.piece.value, o.velocity, o.opening);
    }
  }
}

void onsetFiles(Random& random, Page& page) {
  for (int i = 0; i < 40; ++i) {
    const Song song = anySong(random);
    const KitMap& map = anyOf(random, builtInKitMaps());
    RenderOptions options;
    options.type = pick(random, 0, 1);
    const Result<Rendering> rendering = render(song, map, options);
    if (!rendering) continue;
    const std::string bytes = *writeSmf(rendering->sequence);
    const MidiOnsets found =
        onsetsOf(rendering->sequence, *song.kit, pick(random, 0, 1) == 0 ? &map : nullptr);
    page.line("{} {} {}", found.map, found.strange, found.meter ? found.meter->toString() : "");
    for (const Onset& o : found.onsets)
      page.line("{:.5f} {} {} {:.3f}", o.seconds, o.piece.value, o.velocity, o.opening);
    const Result<SongFrame> frame = readFrame(bytes, "f");
    if (!frame) {
      page.line("{}", frame.error().line());
      continue;
    }
    for (const TempoMark& mark : frame->tempo)
      page.line("{} {:.3f}", mark.at.toString(), mark.bpm.value);
    for (const auto& [at, meter] : frame->meters)
      page.line("{} {}", at.toString(), meter.toString());
    for (const auto& [at, name] : frame->markers) page.line("{} {}", at.toString(), name);
    page.line("{} {}", frame->length.toString(), fmt::join(frame->density, " "));
  }
}

void tempos(Random& random, Page& page) {
  for (int i = 0; i < 100; ++i) {
    const Song song = anySong(random);
    const TempoMap map = song.tempoMap();
    page.line("{} {}", map.steps().size(), song.rampSteps());
    for (int k = 0; k < 8; ++k) {
      const int den = pick(random, 1, 7);
      const Beat at(pick(random, 0, 300), den);
      const Beat to = at + Beat(pick(random, 0, 40), 3);
      const Milliseconds ms = map.msAt(at);
      page.line("{:.6f} {:.6f} {} {}", ms.count(), map.quartersAt(ms).value(),
                map.tempoAt(at).usPerQuarter, map.holdsOver(at, to));
    }
    TapTempo taps;
    double now = 0;
    for (int k = 0; k < 12; ++k) {
      now += pick(random, 0, 9) == 0 ? pick(random, 1, 4'000) : pick(random, 380, 420);
      if (const auto bpm = taps.tap(Milliseconds(now))) page.line("{:.4f}", bpm->value);
    }
    const KitMap& map2 = anyOf(random, builtInKitMaps());
    for (int k = 0; k < 6; ++k) {
      const auto struck = struckBy(map2, *song.kit, pick(random, 0, 127));
      if (struck) page.line("{} {:.3f}", struck->piece.value, struck->opening);
    }
    for (const HatDegree& d : hatDegrees(map2)) page.line("{} {:.3f}", d.name, d.typical());
  }
}

void names(Random& random, Page& page) {
  for (int i = 0; i < 600; ++i) {
    const auto meter =
        anyOf<Meter>(random, {{4, 4}, {3, 4}, {7, 8}, {6, 8}, {12, 8}, {5, 4}, {9, 16}});
    const int den = anyOf<int>(random, {1, 2, 3, 4, 5, 6, 7, 8, 12, 16});
    const Beat at(pick(random, 0, 12 * den), den);
    const CountName name = countName(at, meter);
    page.line("{} {} {} {}", at.toString(), name.text(), name.label(), placeName(at, meter));
    const auto grid = anyOf<Grid>(random, {{16, 0}, {8, 0}, {8, 3}, {16, 3}, {16, 5}});
    const std::string text = anyOf<std::string>(
        random, {"2", "1 e", "a of 2", "3 &", "bar 2, 1", "2.3", "0", "9", "let of 1", "4 a", "x"});
    const auto back =
        placeOfName(pick(random, 0, 1) == 0 ? text : placeName(at, meter), meter, grid);
    page.line("{}", back ? back->toString() : "");
  }
  for (const char* text : {"4/4", "7/8", "64/4", "65/4", "0/4", "4/3", "4/64", "3/32", "12/16",
                           "1/1", "-3/4", "4", "4/4/4", "33/8"}) {
    const auto meter = Meter::parse(text);
    const auto grid = Grid::parse(text);
    page.line("{} {}", meter ? meter->toString() : "", grid ? grid->toString() : "");
  }
  for (const char* text :
       {"1/16", "1/8T", "1/32:7", "1/4", "1/64", "1/16:5", "1/16:4", "T", "2/8"}) {
    const auto grid = Grid::parse(text);
    page.line("{}", grid ? grid->toString() + " " + grid->step().toString() : "");
  }
  for (const LibraryFill& fill : fillLibrary()) {
    page.line("{} {} {:.4f}", fill.groove.id, fill.beats.toString(), fill.density);
    page.groove(fill.groove, houseKit());
  }
  for (int v = 1; v < 128; ++v)
    page.line("{:.5f} {:.4f}", levelOf(Velocity(v)).value, louder(Velocity(v), v % 13 - 6.5));
}

}  // namespace

std::vector<Entry> fileEntries() {
  return {{"parameters", parameters},  {"bounds", bounds}, {"times", times},
          {"onset_files", onsetFiles}, {"tempos", tempos}, {"names", names}};
}

}  // namespace uneven::ledger
