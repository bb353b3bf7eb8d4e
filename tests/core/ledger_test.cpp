// SPDX-License-Identifier: GPL-3.0-or-later
// The ledger: what is made of hundreds of random songs is what it was.
//
// Other tests say what must be true; these say that nothing has changed unnoticed. Each page is a
// long text of results (times, findings, files, refusals); ledger.txt beside this file has its
// length and hash. A change that is meant is entered by hand, after a look at what changed:
//
//   USTICK_LEDGER=DIR build/release/bin/core_tests --gtest_filter='*Ledger*'    writes the pages to
//   DIR
//
#include <fmt/format.h>
#include <gtest/gtest.h>

#include <cstdlib>
#include <fstream>
#include <map>

#include "core/check/finding.h"
#include "core/io/drum_tab.h"
#include "core/io/hits_csv.h"
#include "core/io/performance_text.h"
#include "core/io/song_json.h"
#include "core/measure/level.h"
#include "core/measure/pivot.h"
#include "core/measure/pull_together.h"
#include "core/measure/seam.h"
#include "core/measure/timing_table.h"
#include "core/measure/unison.h"
#include "core/midi/render.h"
#include "core/midi/smf.h"
#include "core/song/core_groove.h"
#include "core/song/limbs.h"
#include "core/song/names.h"
#include "core/song/positions.h"
#include "core/song/slots.h"
#include "core/song/snapshot.h"
#include "core/take/take.h"
#include "core/time/count.h"
#include "core/tools/tool.h"
#include "core/vary/walk.h"
#include "core/voice/notes.h"
#include "tests/core/ledger.h"

namespace uneven::ledger {
namespace {

// --- Even songs ---

Groove evenGroove(Random& random, const std::string& id, const std::string& feel) {
  Groove groove;
  groove.id = groove.name = id;
  groove.meter = anyOf<Meter>(random, {{4, 4}, {3, 4}, {7, 8}, {6, 8}});
  groove.bars = pick(random, 1, 3);
  groove.feel = feel;
  const int den = pick(random, 0, 3) == 0 ? 3 : 4;
  const int slots = static_cast<int>(groove.length().toDouble() * den);
  for (int i = pick(random, 4, 40); i > 0; --i) {
    Hit hit;
    hit.at = Beat(pick(random, 0, slots - 1), den);
    hit.piece = anyOf<PieceId>(random, {piece::kHat, piece::kHat, piece::kHatFoot, piece::kSnare,
                                        piece::kKick, piece::kKick, piece::kRide, piece::kTomHigh});
    hit.velocity = Velocity(anyOf<int>(random, {1, 30, 30, 64, 90, 112, 127}));
    hit.role = static_cast<Role>(pick(random, 0, 3));
    if (pick(random, 0, 4) == 0) hit.limb = static_cast<Limb>(pick(random, 1, 4));
    if (pick(random, 0, 4) == 0) hit.ornament = static_cast<Ornament>(pick(random, 0, 5));
    if (pick(random, 0, 6) == 0) hit.nudge = Milliseconds(5 * pick(random, -4, 4));
    if (hit.piece == piece::kHat && pick(random, 0, 2) == 0) {
      hit.open = anyOf<double>(random, {0, 0.1, 0.35, 0.6, 1});
      if (pick(random, 0, 2) > 0) hit.openFor = Beat(pick(random, 1, 4), 4);
    }
    groove = withHit(std::move(groove), hit);
  }
  if (pick(random, 0, 3) == 0) {
    const Beat at = beatStart(groove, Beat(pick(random, 0, slots - 1), den));
    groove = withBeatGrid(std::move(groove), at, {8, 3});
  }
  if (pick(random, 0, 2) == 0) {
    Pedal pedal;
    for (int i = pick(random, 0, 3); i > 0; --i) {
      putMove(pedal, {Beat(pick(random, 0, slots - 1), den),
                      anyOf<double>(random, {0, 0.1, 0.5, 1}),
                      Beat(pick(random, 0, 3), 4),
                      {}});
    }
    if (pick(random, 0, 1) == 0) pedal.pump = Pump{{8, 0}, PumpPhase{}, "", 0.35, {}};
    groove.pedal = pedal;
  }
  return groove;
}

Song evenSong(Random& random) {
  Song song = blankSong();
  song.tempo = {{Beat(0), Bpm{anyOf<double>(random, {60, 100, 120, 200})}, {}}};
  song.feels.clear();
  for (const char* id : {"a", "b"}) {
    Feel feel;
    feel.id = feel.name = id;
    feel.swing.unit = pick(random, 0, 1) == 0 ? SwingUnit{} : static_cast<SwingUnit>(1);
    feel.swing.ratio = anyOf<double>(random, {1, 1.5, 2, 3});
    for (int i = pick(random, 0, 3); i > 0; --i) {
      feel.displacement[anyOf<PieceId>(random, {piece::kHat, piece::kSnare, piece::kKick})] =
          Milliseconds(5 * pick(random, -3, 4));
    }
    for (int i = pick(random, 0, 2); i > 0; --i) {
      // Each draw in a statement of its own: compilers differ in which argument comes first.
      const int velocity = 10 * pick(random, -2, 2);
      setSlotVelocity(feel, Beat(pick(random, 0, 15), 4), std::nullopt, velocity);
      const Milliseconds shift(pick(random, -9, 9));
      setSlot(feel, Beat(pick(random, 0, 15), 4), piece::kSnare, shift);
    }
    song.feels.push_back(feel);
  }
  song.grooves.clear();
  song.arrangement.clear();
  for (const char* id : {"one", "two", "three"}) {
    song.grooves.emplace_back(evenGroove(random, id, pick(random, 0, 1) == 0 ? "a" : "b"));
    Section section;
    section.name = section.groove = id;
    section.repeat = pick(random, 1, 2);
    if (pick(random, 0, 1) == 0) section.feel = "b";
    if (pick(random, 0, 1) == 0) section.morph = Beat(pick(random, 1, 8));
    song.arrangement.push_back(section);
  }
  if (pick(random, 0, 1) == 0) song.grooves[2].edit([](Groove& g) { g.core = "one"; });
  return song;
}

}  // namespace

Song anySong(Random& random) {
  return pick(random, 0, 1) == 0 ? evenSong(random) : testing::randomSong(random);
}
Groove anyGroove(Random& random) {
  return pick(random, 0, 1) == 0 ? evenGroove(random, "g", "")
                                 : testing::randomGroove(random, "g", "");
}

// --- Pages ---

std::string hashOf(const std::string& text) {
  std::uint64_t hash = 0xCBF29CE484222325ULL;  // FNV-1a
  for (const char c : text) hash = (hash ^ static_cast<unsigned char>(c)) * 0x100000001B3ULL;
  return fmt::format("{} {:016x}", text.size(), hash);
}

namespace {

void performances(Random& random, Page& page) {
  for (int i = 0; i < 150; ++i) {
    const Song song = anySong(random);
    const Result<SharedTake> take = Take::ofSong(song);
    if (!take) {
      page.line("{}", take.error().line());
      continue;
    }
    const Performance& p = (*take)->performance();
    page.rows([&](TextOut& out) { performanceCsv(out, **take); });
    page.rows([&](TextOut& out) { pedalJson(out, p.pedal); });
    page.line("{} {} {} {}", p.squeezed, p.limited, p.held, p.pedal.pressesOverridden);
    const Result<SharedTake> alone = Take::ofGroove(song, song.grooves.back()->id);
    if (!alone) continue;
    const Take& t = **alone;
    page.rows([&](TextOut& out) { performanceJson(out, t); });
    page.rows([&](TextOut& out) { pedalCsv(out, t.performance().pedal); });
    for (const Stroke& s : t.strokes()) {
      page.line("{} {}", t.ofHit(s.block, s.hit).size(), t.ofBar(s.bar).size());
    }
  }
}

void midi(Random& random, Page& page) {
  for (int i = 0; i < 150; ++i) {
    const Song song = anySong(random);
    RenderOptions options;
    options.ppq = anyOf<int>(random, {24, 96, 480, 960, 15'360});
    options.type = pick(random, 0, 1);
    options.trackPerPiece = pick(random, 0, 1) == 0;
    options.leadInBars = pick(random, 0, 2);
    const KitMap& map = anyOf(random, builtInKitMaps());
    const Result<Rendering> rendering = render(song, map, options);
    if (!rendering) {
      page.line("{}", rendering.error().line());
      continue;
    }
    for (const std::string& notice : rendering->notices) page.line("{}", notice);
    page.bytes(*writeSmf(rendering->sequence));
  }
}

void checks(Random& random, Page& page) {
  for (int i = 0; i < 150; ++i) {
    const Song song = anySong(random);
    const Result<SharedTake> take = Take::ofSong(song);
    if (!take) continue;
    for (const Finding& f : hatFindings(**take)) {
      page.line("{} {} {} {} {} {} {}", findingWord(f.kind), f.groove, f.bar, f.at.toString(),
                f.times, f.text, f.fix());
      if (f.mends.empty()) continue;
      page.groove(mendedGroove(song, f.mends.front()), *song.kit);
    }
    page.groove(mended(song, song.grooves.front()->id), *song.kit);
  }
}

void measures(Random& random, Page& page) {
  for (int i = 0; i < 150; ++i) {
    const Song song = anySong(random);
    const Groove& groove = *song.grooves.front();
    const Result<SharedTake> take = Take::ofSong(song);
    if (!take) continue;
    for (const Unison& u : unisons((*take)->performance())) {
      page.line("{} {} {} {:.6f} {:.6f}", u.bar, u.at.toString(), u.strokes.size(),
                u.spread.count(), u.plain.count());
    }
    for (const Seam& s : seams((*take)->score())) {
      page.line("{} {} {} {:.6f} {:.6f}", s.section, s.before, s.after, s.jump.count(), s.share);
    }
    const Result<SharedTake> alone = Take::ofGroove(song, groove.id);
    if (alone) page.bytes(timingText(timingRows(**alone), *song.kit, groove.meter, ';'));
    for (const Separation& s : separations(groove)) {
      page.line("{} {} {} {:.6f}", s.piece.value, s.accentMedian, s.ghostMedian,
                s.difference.value);
    }
    const PivotGuess guess =
        guessWritten(groove, song.feels.empty() ? SwingUnit{} : song.feels[0].swing.unit);
    page.line("{} {}", guess.straight, guess.triplet);
    for (const Limb limb : limbsOf(groove, *song.kit)) page.line("{}", textOf(limb));
  }
}

void places(Random& random, Page& page) {
  for (int i = 0; i < 200; ++i) {
    const Groove groove = anyGroove(random);
    const int den = pick(random, 1, 6);
    const Beat at(pick(random, 0, 48), den);
    for (const Beat slot : slotsOf(groove, Beat(0), groove.length())) {
      page.line("{} {} {}", slot.toString(), slotLength(groove, slot).toString(),
                countName(slot, groove.meter).text());
    }
    page.line("{} {} {} {}", slotAfter(groove, at).toString(), slotBefore(groove, at).toString(),
              beatStart(groove, at).toString(), gridAt(groove, at).toString());
  }
}

void walks(Random& random, Page& page) {
  for (int i = 0; i < 60; ++i) {
    const Groove groove = anyGroove(random);
    const Beat from(pick(random, 0, 3));
    const Beat to = from + Beat(pick(random, 1, 4), 2);
    for (const Placement& p : placements(groove, from, to)) {
      page.line("{}", placementText(p));
      if (pick(random, 0, 9) == 0) page.groove(withPlacement(groove, from, to, p, 0.6), houseKit());
    }
    const Song song = anySong(random);
    const std::string id = song.grooves.front()->id;
    std::set<Beat> at;
    for (const Hit& hit : song.grooves.front()->hits) at.insert(hit.at);
    const Result<PulledTogether> pulled =
        pullTogether(song, id, at, {piece::kHat, piece::kSnare, piece::kKick},
                     Milliseconds(anyOf<double>(random, {0, 5, 10})));
    if (!pulled) continue;
    page.line("{} {}", pulled->positions, pulled->hits);
    page.groove(pulled->groove, *song.kit);
  }
}

void edits(Random& random, Page& page) {
  for (int i = 0; i < 120; ++i) {
    Song song = anySong(random);
    const Groove groove = *song.grooves.front();
    Selection some;
    for (std::size_t k = 0; k < groove.hits.size(); k += 2) some.insert(refOf(groove, k));
    const Beat by(pick(random, -8, 8), 4);
    page.groove(changeHits(groove, some,
                           [&](Hit& hit) {
                             hit.at += by;
                             hit.velocity = Velocity(hit.velocity.value() + 40);
                             hit.openFor = Beat(0);
                           })
                    .groove,
                *song.kit);
    const Pasted pasted = pasteHits(groove, copyHits(groove, some), Beat(pick(random, 0, 12), 4));
    page.line("{}", pasted.leftOut);
    page.groove(pasted.groove, *song.kit);
    page.groove(withoutHits(groove, some), *song.kit);
    Moved moved;
    const auto change = static_cast<MeterChange>(pick(random, 0, 2));
    const int bars = pick(random, 1, 4);
    const auto meter = anyOf<Meter>(random, {{3, 4}, {5, 8}, {4, 4}});
    page.groove(withMeter(groove, meter, bars, change, &moved), *song.kit);
    page.line("{}", moved.lostText());
    page.groove(repeatFirstBar(groove), *song.kit);
    page.groove(backToCore(groove, *song.grooves.back()), *song.kit);
    page.line("{} {}", addedTo(groove, *song.grooves.back()).size(),
              leftOutOf(groove, *song.grooves.back()));
    std::string id;
    song = withNewGroove(song, groove, groove.name, id);
    song = withGrooveMoved(song, id, pick(random, -3, 1));
    song = withTempoAt(song, Beat(pick(random, 0, 40), 3), Bpm{123});
    song = withFeelInForce(song, id, song.feels.empty() ? "" : song.feels.back().id);
    const Beat over(pick(random, 0, 4));
    song = withMorph(song, static_cast<std::size_t>(pick(random, 0, 2)), over);
    if (!song.feels.empty()) song = withoutFeel(song, song.feels.front().id);
    song = withoutGroove(song, groove.id);
    const auto less = withoutPiece(song, piece::kHat);
    page.line("{} {}", feelInForce(song, id), less.has_value());
    page.bytes(writeSong(song));
  }
}

// A body drifts by the power that a series of this length is expected to have.
void longDrift(Random& random, Page& page) {
  for (const double exponent : {0.5, 1.0, 1.6}) {
    Song song = evenSong(random);
    Drift drift;
    drift.clock = Milliseconds(6);
    drift.motor = Milliseconds(3);
    drift.velocity = 4;
    drift.exponent = exponent;
    for (Feel& feel : song.feels) feel.drift = drift;
    for (Section& section : song.arrangement) section.repeat = 900;
    const Result<SharedTake> take = Take::ofSong(song);
    if (!take) {
      page.line("{}", take.error().line());
      continue;
    }
    const auto& strokes = (*take)->strokes();
    for (std::size_t i = 0; i < strokes.size(); i += 97) {
      page.line("{} {} {}", strokes[i].time.count(), strokes[i].drift.count(),
                strokes[i].velocity.value());
    }
  }
}

}  // namespace

std::string argument(Random& random, const ToolParameter& p) {
  switch (p.kind) {
    case ParameterKind::kChoice:
      return anyOf(random, p.choices);
    case ParameterKind::kPiece:
      return anyOf<std::string>(random,
                                {"hat", "snare", "kick", "ride", "tom-high", "hat-foot", "any"});
    case ParameterKind::kLimb:
      return anyOf<std::string>(random,
                                {"right-hand", "left-hand", "right-foot", "left-foot", "any"});
    case ParameterKind::kWhole:
      return std::to_string(
          anyOf<int>(random, {static_cast<int>(p.min), static_cast<int>(p.max), 1, 2, 3, 30, 90}));
    case ParameterKind::kReal:
      return shortest(anyOf<double>(random, {p.min, p.max, 0.5, 1, 2, 20}));
    case ParameterKind::kLength:
      return anyOf<std::string>(random, {"0", "1/4", "1/2", "1", "2", "4", "-1", "1/3", "8"});
    case ParameterKind::kGrid:
      return anyOf<std::string>(random, {"1/16", "1/8", "1/8T", "groove"});
    case ParameterKind::kFlag:
      return pick(random, 0, 1) == 0 ? "yes" : "no";
    case ParameterKind::kText:
      return anyOf<std::string>(
          random, {"RLRR LRLL", "RLL K", "x..x.", "3 3 2", "2 4", "100 60 80", "R.L.K", "x", ""});
  }
  return {};
}

namespace {

void tool(const Tool& tool, Random& random, Page& page) {
  for (int i = 0; i < 120; ++i) {
    const Song song = anySong(random);
    Arguments arguments;
    for (const ToolParameter& p : tool.parameters) {
      const bool places = p.name == "from" || p.name == "to";
      if (pick(random, 0, places ? 3 : 1) == 0) arguments[p.name] = argument(random, p);
    }
    const std::string& id = song.grooves.front()->id;
    const Result<SongOutcome> out = runTool(tool.name, song, id, arguments);
    if (!out) {
      page.line("{}", out.error().line());
      continue;
    }
    for (const std::string& note : out->notes) page.line("{}", note);
    page.bytes(writeSong(out->song));
  }
}

// --- Readers: what is broken is refused in the same words at the same place ---

std::string broken(Random& random, std::string text) {
  const auto place = [&] {
    return static_cast<std::size_t>(pick(random, 0, static_cast<int>(text.size()) - 1));
  };
  switch (pick(random, 0, 3)) {
    case 0:
      text.resize(place());
      break;
    case 1:
      text[place()] = anyOf<char>(
          random, {'"', ',', '}', ']', '-', '0', '9', '1', 'e', '.', ' ', '\n', '\x80', 'z', '|'});
      break;
    case 2: {
      const auto length = static_cast<std::size_t>(pick(random, 1, 3));
      text.erase(place(), length);
      break;
    }
    default: {
      const auto what = anyOf<std::string>(random, {"00", "-", "\"\"", "\xF0\x9F\xA5\x81",
                                                    "\xED\xA0\x80", "1e9", "\\u00e9", "\\", "/3"});
      text.insert(place(), what);
    }
  }
  return text;
}

template <typename Write, typename Read>
void reader(Random& random, Page& page, Write write, Read read) {
  for (int i = 0; i < 40; ++i) {
    const std::string text = write();
    if (text.empty()) continue;
    for (int k = 0; k < 60; ++k) page.line("{}", read(broken(random, text)));
  }
}

template <typename T>
std::string verdict(const Result<T>& result) {
  return result ? "read" : result.error().line();
}

void songFiles(Random& random, Page& page) {
  reader(
      random, page, [&] { return writeSong(anySong(random)); },
      [](const std::string& text) {
        const Result<Song> song = readSong(text, "f");
        return song ? hashOf(writeSong(*song)) : song.error().line();
      });
}

void tabs(Random& random, Page& page) {
  reader(
      random, page,
      [&] {
        const TabWriting tab = writeDrumTab(anyGroove(random), houseKit());
        page.bytes(tab.text);
        for (const std::string& note : tab.notes) page.line("{}", note);
        return tab.text;
      },
      [](const std::string& text) {
        const Result<TabReading> tab = readDrumTab(text, houseKit(), "f");
        return tab ? fmt::format("{} {}", fmt::join(tab->notes, "; "),
                                 hashOf(writeHitsCsv(tab->groove, houseKit())))
                   : tab.error().line();
      });
}

void hitRows(Random& random, Page& page) {
  reader(
      random, page, [&] { return writeHitsCsv(anyGroove(random), houseKit()); },
      [](const std::string& text) {
        std::vector<std::string> notes;
        const Result<Groove> groove = readHitsCsv(text, houseKit(), "f", &notes);
        return groove ? fmt::format("{} {}", fmt::join(notes, "; "),
                                    hashOf(writeHitsCsv(*groove, houseKit())))
                      : groove.error().line();
      });
}

void midiFiles(Random& random, Page& page) {
  reader(
      random, page,
      [&] {
        const Result<Rendering> r = render(anySong(random), builtInKitMaps().front(), {});
        return r ? *writeSmf(r->sequence) : std::string();
      },
      [](const std::string& bytes) {
        const Result<MidiSequence> sequence = readSmf(bytes, "f");
        return sequence ? hashOf(*writeSmf(*sequence)) : sequence.error().line();
      });
}

void kitMaps(Random& random, Page& page) {
  std::ifstream file(SOURCE_DIR "/data/maps/house-keys.json");
  const std::string text((std::istreambuf_iterator<char>(file)), {});
  reader(
      random, page, [&] { return text; },
      [](const std::string& bad) {
        const Result<KitMap> map = readKitMap(bad, "f");
        if (!map) return map.error().line();
        std::string out = map->name;
        for (const KitMapRow& row : map->rows)
          out += fmt::format(" {} {}", row.note, roundedTo(row.openTo.value(), 1e6));
        return out;
      });
}

std::vector<Entry> entries() {
  std::vector<Entry> out{{"performances", performances},
                         {"midi", midi},
                         {"checks", checks},
                         {"measures", measures},
                         {"places", places},
                         {"walks", walks},
                         {"edits", edits},
                         {"long_drift", longDrift},

                         {"song_files", songFiles},
                         {"tabs", tabs},
                         {"hit_rows", hitRows},
                         {"midi_files", midiFiles},
                         {"kit_maps", kitMaps}};
  const auto addTool = [&](const Tool& t) {
    std::string name = "tool_" + t.name;
    std::replace(name.begin(), name.end(), '-', '_');
    out.push_back({name, [&t](Random& random, Page& page) { tool(t, random, page); }});
  };
  for (Entry& entry : roomEntries()) out.push_back(std::move(entry));
  for (Entry& entry : earEntries()) out.push_back(std::move(entry));
  for (Entry& entry : fileEntries()) out.push_back(std::move(entry));
  for (const Tool& t : tools()) addTool(t);
  for (const SongTool& t : songTools()) addTool(t);
  // Each page once more, of other draws.
  for (std::size_t i = 0, pages = out.size(); i < pages; ++i) {
    Entry again = out[i];
    again.name += "_again";
    again.seed = 18;
    out.push_back(std::move(again));
  }
  return out;
}

const std::map<std::string, std::string>& known() {
  static const std::map<std::string, std::string> all = [] {
    std::map<std::string, std::string> out;
    std::ifstream file(SOURCE_DIR "/tests/core/ledger.txt");
    for (std::string name, size, hash; file >> name >> size >> hash;) out[name] = size + " " + hash;
    return out;
  }();
  return all;
}

class Ledger : public ::testing::TestWithParam<Entry> {};

TEST_P(Ledger, IsUnchanged) {
  Random random(GetParam().seed);
  Page page;
  GetParam().write(random, page);
  const std::string now = hashOf(page.text());
  if (const char* folder = std::getenv("USTICK_LEDGER")) {
    std::ofstream(std::string(folder) + "/" + GetParam().name + ".txt") << page.text();
    std::ofstream(std::string(folder) + "/ledger.txt", std::ios::app)
        << GetParam().name << " " << now << "\n";
  }
  EXPECT_GT(page.text().size(), 2000U) << "a page that says next to nothing";
  const auto entered = known().find(GetParam().name);
  ASSERT_NE(entered, known().end()) << "not in ledger.txt: " << GetParam().name << " " << now;
  EXPECT_EQ(now, entered->second) << "what is computed has changed; if that is meant, enter it";
}

INSTANTIATE_TEST_SUITE_P(All, Ledger, ::testing::ValuesIn(entries()),
                         [](const auto& entry) { return entry.param.name; });

}  // namespace
}  // namespace uneven::ledger
