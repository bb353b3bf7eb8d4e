// SPDX-License-Identifier: GPL-3.0-or-later
// Tools for the song's sections, tempo and form. They take a section in place of a groove.
#include <fmt/format.h>

#include <algorithm>

#include "core/arrange/form.h"
#include "core/arrange/joints.h"
#include "core/arrange/templates.h"
#include "core/arrange/write_out.h"
#include "core/base/number.h"
#include "core/song/edit.h"
#include "core/song/names.h"
#include "core/tools/call.h"
#include "core/tools/fill_library.h"
#include "core/tools/groups.h"

namespace uneven {
namespace {

constexpr const char* kAsIs = "keep";

std::vector<std::string> wordsIn(const std::string& list) {
  std::vector<std::string> out;
  std::string word;
  for (const char c : list + ",") {
    if (c != ',') {
      word += c;
      continue;
    }
    if (!word.empty()) out.push_back(std::exchange(word, {}));
  }
  return out;
}

TempoGoes tempoOf(ToolCall& call) {
  return call.flag("tempo_along") ? TempoGoes::kAlong : TempoGoes::kStays;
}

// The section that is asked for, from 0; nothing, with the call failed, where it is not there.
std::optional<std::size_t> sectionOf(ToolCall& call, const Song& song) {
  const auto index = static_cast<std::size_t>(call.whole("section") - 1);
  const std::size_t count = song.sections().size();
  if (index < count) return index;
  call.fail(ErrorCode::kLimit,
            fmt::format("section: the song has {}", countOf(static_cast<int>(count), "section")));
  return std::nullopt;
}

void take(ToolCall& call, Song& song, Result<Song> made) {
  if (!made) return call.fail(made.error().code, made.error().message);
  song = *std::move(made);
}

std::optional<std::string> grooveOf(ToolCall& call, const Song& song, const std::string& id) {
  if (song.findGroove(id) != nullptr) return id;
  call.fail(ErrorCode::kUnknown, fmt::format("there is no groove \"{}\"", id));
  return std::nullopt;
}

void tellLength(ToolCall& call, const Song& song) {
  int bars = 0;
  for (const Section& section : song.sections()) bars += sectionBars(song, section);
  call.note(fmt::format("{} in {}", countOf(bars, "bar"),
                        countOf(static_cast<int>(song.sections().size()), "section")));
}

double bpmAtEnd(const Song& song, std::size_t index) {
  const Beat end = sectionStarts(song)[index + 1];
  return song.tempoMap().tempoAt(std::max(Beat(0), end - Beat(1))).bpm().value;
}

void addSection(ToolCall& call, Song& song) {
  Section section;
  const auto groove = grooveOf(call, song, call.text("plays"));
  if (!groove) return;
  section.groove = *groove;
  section.name = call.text("name").empty() ? song.findGroove(*groove)->name : call.text("name");
  section.repeat = call.whole("times");
  const std::size_t count = song.sections().size();
  const auto before =
      call.text("before") == "end" ? count : static_cast<std::size_t>(call.whole("before") - 1);
  if (before > count)
    return call.fail(ErrorCode::kLimit, fmt::format("before: the song has {}",
                                                    countOf(static_cast<int>(count), "section")));
  song = withSectionAt(std::move(song), before, std::move(section), tempoOf(call));
  tellLength(call, song);
}

void setSection(ToolCall& call, Song& song) {
  const auto index = sectionOf(call, song);
  if (!index) return;
  Section section = song.sections()[*index];
  const auto given = [&](const char* name) { return call.text(name) != kAsIs; };
  if (given("name")) section.name = call.text("name");
  if (given("times")) section.repeat = call.whole("times");
  if (given("plays")) {
    section.grooves = wordsIn(call.text("plays"));
    if (section.grooves.empty()) return call.fail(ErrorCode::kUsage, "plays: name a groove");
    for (const std::string& id : section.grooves) {
      if (!grooveOf(call, song, id)) return;
    }
    section.groove = section.grooves.front();
    if (section.grooves.size() == 1) section.grooves.clear();
  }
  if (given("feel")) {
    section.feel = call.text("feel") == "none" ? std::string() : call.text("feel");
    if (!section.feel.empty() && song.findFeel(section.feel) == nullptr)
      return call.fail(ErrorCode::kUnknown, fmt::format("there is no feel \"{}\"", section.feel));
  }
  if (given("morph")) section.morph = call.length("morph");
  if (const auto level = call.realIfGiven("level_db")) {
    section.levelDb = *level;
    section.toLevelDb.reset();
  }
  if (const auto to = call.realIfGiven("to_level_db")) section.toLevelDb = *to;
  if (given("mute")) {
    section.mute =
        call.text("mute") == "none" ? std::vector<std::string>{} : wordsIn(call.text("mute"));
    for (const std::string& word : section.mute) {
      if (!fromText<Limb>(word) && !call.kit().find(word))
        return call.fail(ErrorCode::kUnknown,
                         fmt::format("mute: \"{}\" is neither a piece nor a limb", word));
    }
  }
  if (given("swap")) {
    section.swap.clear();
    for (const std::string& pair : wordsIn(call.text("swap") == "none" ? "" : call.text("swap"))) {
      const std::size_t colon = pair.find(':');
      const std::string from = pair.substr(0, colon);
      const std::string to = colon == std::string::npos ? std::string() : pair.substr(colon + 1);
      if (!call.kit().find(from) || !call.kit().find(to))
        return call.fail(ErrorCode::kUnknown,
                         fmt::format("swap: \"{}\" is no pair of pieces, as hat:ride", pair));
      section.swap[from] = to;
    }
  }
  if (given("crash")) {
    section.crash.reset();
    if (call.text("crash") != "none") {
      if (!call.kit().find(call.text("crash")))
        return call.fail(ErrorCode::kUnknown, "crash: the kit has no such piece");
      section.crash = SectionCrash{call.text("crash"), Velocity(112), {}};
    }
  }
  song = withSectionChanged(std::move(song), *index, std::move(section), tempoOf(call));
  tellLength(call, song);
}

void fill(ToolCall& call, Song& song) {
  const auto index = sectionOf(call, song);
  if (!index) return;
  const auto after = fromText<FillAfter>(call.text("after")).value_or(FillAfter::kNothing);
  const std::string& recipe = call.text("recipe");
  if (recipe == "none") {
    Section section = song.sections()[*index];
    section.fill.reset();
    song = withSectionChanged(std::move(song), *index, std::move(section), TempoGoes::kStays);
    return call.note("no fill");
  }
  const double bpm = bpmAtEnd(song, *index);
  if (call.text("from") != "recipe") {
    const std::string& id = call.text("from");
    const Groove* groove = song.findGroove(id);
    for (const LibraryFill& one : fillLibrary()) {
      if (groove == nullptr && one.groove.id == id) groove = &one.groove;
    }
    if (groove == nullptr) {
      return call.fail(ErrorCode::kUnknown,
                       fmt::format("from: neither the song nor the library has \"{}\"", id));
    }
    const Tried tried = triedBy(song, *groove, Profile{}, bpm);
    take(call, song,
         withFillFrom(std::move(song), *index, *groove, call.length("beats"), call.whole("every"),
                      after));
    return call.note(triedText(tried, bpm));
  }
  FillPlan plan;
  plan.asked.recipe = recipe;
  plan.asked.beats = call.length("beats");
  plan.asked.seed = static_cast<std::uint64_t>(call.whole("seed"));
  plan.asked.bpm = bpm;
  plan.every = call.whole("every");
  plan.another = call.flag("another");
  plan.after = after;
  take(call, song, withFill(std::move(song), *index, plan));
  if (call.failed()) return;
  const SectionFill& made = *song.arrangement[*index].fill;
  for (const std::string& id : made.takes()) {
    const Groove& groove = *song.findGroove(id);
    call.note(
        fmt::format("{}: {}", groove.name, triedText(triedBy(song, groove, Profile{}, bpm), bpm)));
  }
}

void byTemplate(ToolCall& call, Song& song) {
  const auto index = sectionOf(call, song);
  if (!index) return;
  TemplateAsked asked;
  asked.id = call.text("template");
  asked.limb = fromText<Limb>(call.text("limb")).value_or(Limb::kRightFoot);
  asked.groove = call.text("b");
  asked.fill.asked.bpm = bpmAtEnd(song, *index);
  asked.fill.asked.seed = static_cast<std::uint64_t>(call.whole("seed"));
  Result<Templated> made = withTemplate(std::move(song), *index, asked);
  if (!made) return call.fail(made.error().code, made.error().message);
  song = std::move(made->song);
  if (!made->note.empty()) call.note(made->note);
  tellLength(call, song);
}

void setTempo(ToolCall& call, Song& song) {
  const auto index = sectionOf(call, song);
  if (!index) return;
  const Beat at = sectionStarts(song)[*index] + call.length("beats");
  const std::string& relation = call.text("relation");
  if (relation != "none") {
    if (call.length("beats") != Beat(0) || call.realIfGiven("bpm"))
      return call.fail(ErrorCode::kUsage,
                       "a relation gives the tempo at the section's start by itself");
    const Result<TempoRelation> read = readRelation(relation);
    if (!read) return call.fail(read.error().code, read.error().message);
    take(call, song, withTempoRelation(std::move(song), *index, *read));
    if (call.failed()) return;
    for (const TempoMark& mark : song.tempo) {
      if (mark.at == at) call.note(fmt::format("{} BPM", shortest(mark.bpm.value)));
    }
    return;
  }
  const auto bpm = call.realIfGiven("bpm");
  if (!bpm) {
    if (at == Beat(0)) return call.fail(ErrorCode::kLimit, "the song's first tempo stays");
    song = withoutTempoMark(std::move(song), at);
    return call.note("no tempo of its own there");
  }
  song = withTempoMark(std::move(song), at, Bpm{*bpm}, call.flag("ramp"));
  if (call.flag("ramp") && song.tempo.back().at == at)
    call.note("the last tempo cannot ramp: there is none after it to go to");
}

SongTool sectionTool(std::string name, std::string title, std::string help,
                     std::vector<ToolParameter> parameters,
                     std::function<void(ToolCall&, Song&)> change) {
  SongTool out = songTool(std::move(name), std::move(title), std::move(help), std::move(parameters),
                          std::move(change));
  out.group = kArrangeGroup;
  return out;
}

template <typename All>
std::vector<std::string> idsOf(const All& all) {
  std::vector<std::string> out;
  out.reserve(all.size());
  for (const auto& one : all) out.emplace_back(one.id);
  return out;
}

ToolParameter sectionParameter() {
  return wholeParameter("section", "1", "which of the arrangement, from 1", 1, 100'000);
}
ToolParameter alongParameter() {
  return flagParameter("tempo_along", "yes", "yes: tempo marks go along with their sections");
}
ToolParameter textOr(std::string name, std::string help) {
  return textParameter(std::move(name), kAsIs, std::move(help));
}
ToolParameter seedParameter() {
  return wholeParameter("seed", "1", "the same number gives the same fill", 1, 2147483647);
}

std::vector<SongTool> sectionTools() {
  const auto at = [](const std::function<Result<Song>(ToolCall&, Song, std::size_t)>& change) {
    return [change](ToolCall& call, Song& song) {
      const auto index = sectionOf(call, song);
      if (!index) return;
      take(call, song, change(call, std::move(song), *index));
      if (!call.failed()) tellLength(call, song);
    };
  };
  return {
      sectionTool(
          "section-add", "Add a section", "A groove, played so many times.",
          {textParameter("plays", "", "id of a groove"),
           textParameter("name", "", "of the section"),
           wholeParameter("times", "1", "passes", 1, kSongBarsMax),
           wholeParameter("before", "end", "before that section; end: behind the last", 1, 100'000),
           alongParameter()},
          addSection),
      sectionTool(
          "section-set", "Set a section",
          "What it plays, how often, how loud and by whom; keep leaves what is.",
          {sectionParameter(), textOr("name", "of the section"),
           textOr("plays", "ids of grooves with commas, played in turn"),
           wholeParameter("times", kAsIs, "passes", 1, kSongBarsMax),
           textOr("feel", "id; none: the groove's own"),
           lengthParameter("morph", kAsIs, "quarter notes over which the feel turns", 0, 81'920),
           realParameter("level_db", kAsIs, "louder or softer, dB", -kLevelDbMost, kLevelDbMost),
           realParameter("to_level_db", kAsIs, "at its end, evenly, dB", -kLevelDbMost,
                         kLevelDbMost),
           textOr("mute", "pieces and limbs with commas; none"),
           textOr("swap", "pairs of pieces, as hat:ride; none"),
           textOr("crash", "a piece on its first position; none"), alongParameter()},
          setSection),
      sectionTool("section-split", "Split a section", "Its first passes by themselves.",
                  {sectionParameter(), wholeParameter("after", "1", "passes", 1, kSongBarsMax)},
                  at([](ToolCall& call, Song song, std::size_t i) {
                    return withSectionSplit(std::move(song), i, call.whole("after"));
                  })),
      sectionTool("section-join", "Join sections", "It and the next one as one.",
                  {sectionParameter()}, at([](ToolCall&, Song song, std::size_t i) {
                    return withSectionsJoined(std::move(song), i);
                  })),
      sectionTool("section-move", "Move a section", "To another place.",
                  {sectionParameter(),
                   wholeParameter("to", "1", "where it stands then", 1, 100'000), alongParameter()},
                  at([](ToolCall& call, Song song, std::size_t i) -> Result<Song> {
                    const auto to = static_cast<std::size_t>(call.whole("to") - 1);
                    if (to >= song.sections().size())
                      return Error{
                          ErrorCode::kLimit,
                          fmt::format("to: the song has {}",
                                      countOf(static_cast<int>(song.sections().size()), "section")),
                          {}};
                    return withSectionMoved(std::move(song), i,
                                            static_cast<std::size_t>(call.whole("to") - 1),
                                            tempoOf(call));
                  })),
      sectionTool("section-double", "Double a section", "Once more behind itself.",
                  {sectionParameter(), alongParameter()},
                  at([](ToolCall& call, Song song, std::size_t i) -> Result<Song> {
                    return withSectionDoubled(std::move(song), i, tempoOf(call));
                  })),
      sectionTool("section-delete", "Delete a section", "The last one stays.",
                  {sectionParameter(), alongParameter()},
                  at([](ToolCall& call, Song song, std::size_t i) -> Result<Song> {
                    return withoutSection(std::move(song), i, tempoOf(call));
                  })),
      sectionTool("pickup", "Pickup", "The section's last beats lead into it.",
                  {sectionParameter(), lengthParameter("beats", "1", "quarter notes", 0.25, 256)},
                  at([](ToolCall& call, Song song, std::size_t i) {
                    return withPickup(std::move(song), i, call.length("beats"));
                  })),
      sectionTool(
          "turn-into", "Turn into a sister",
          "Stroke by stroke, the softest first, over its first bars.",
          {sectionParameter(), textParameter("into", "linear", "linear, shuffled or a groove's id"),
           wholeParameter("bars", "2", "over how many", 1, kBarsMax)},
          at([](ToolCall& call, Song song, std::size_t i) {
            return withTurnInto(std::move(song), i, call.text("into"), call.whole("bars"));
          })),
      sectionTool(
          "open-hats", "Open the hats along a section",
          "How far they stand open, along a line over the section.",
          {sectionParameter(), realParameter("open", "25", "percent, at its start", 0, 100),
           realParameter("to_open", "same", "percent, at its end; same: as at its start", 0, 100)},
          at([](ToolCall& call, Song song, std::size_t i) {
            const double open = call.real("open") / 100;
            return withHatsOpened(std::move(song), i, open,
                                  call.realIfGiven("to_open").value_or(100 * open) / 100);
          })),
  };
}

}  // namespace

std::vector<SongTool> arrangementTools() {
  std::vector<SongTool> out = sectionTools();
  std::vector<std::string> recipes = idsOf(fillRecipes());
  recipes.emplace_back("none");
  std::vector<std::string> afters;
  for (const Named<FillAfter>& n : namesOf<FillAfter>()) afters.emplace_back(n.text);
  out.push_back(sectionTool(
      "fill", "Fill", "The end of a section's passes replaced, by recipe or from a groove.",
      {sectionParameter(), choiceParameter("recipe", "how it is made; none: no fill", recipes),
       textParameter("from", "recipe",
                     "id of a groove of the song or of the library; recipe: made"),
       lengthParameter("beats", "2", "quarter notes", 0.25, 256),
       wholeParameter("every", "0", "in every so many passes; 0: the last", 0, kSongBarsMax),
       seedParameter(), flagParameter("another", "no", "yes: never the same twice"),
       choiceParameter("after", "what the next pass begins with", afters)},
      fill));
  ToolParameter limb =
      limbParameter("limb", std::string(textOf(Limb::kRightFoot)), "who plays alone in a break");
  out.push_back(sectionTool(
      "template", "Template", "What is done with a section as a whole, in one step.",
      {sectionParameter(), choiceParameter("template", "which", idsOf(sectionTemplates())), limb,
       textParameter("b", "", "id of the other groove of A A A B; empty: a fill"), seedParameter()},
      byTemplate));
  out.push_back(sectionTool(
      "tempo", "Tempo", "A tempo mark put or taken away.",
      {sectionParameter(),
       lengthParameter("beats", "0", "quarter notes from the section's start", 0, 81'920),
       realParameter("bpm", "none", "BPM; none: no mark there", kBpmMin, kBpmMax),
       flagParameter("ramp", "no", "yes: evenly to the next mark"),
       textParameter("relation", "none",
                     "in place of bpm: \"1/8T = 1/8\", the old triplet is the new "
                     "eighth")},
      setTempo));
  out.push_back(sectionTool(
      "smooth", "Smooth a seam", "The shortest morph at which no interval jumps by more.",
      {sectionParameter(), realParameter("above_ms", "10", "ms", 0.1, 200)},
      [](ToolCall& call, Song& song) {
        const auto index = sectionOf(call, song);
        if (!index) return;
        take(call, song,
             withSmoothSeam(std::move(song), *index, Milliseconds(call.real("above_ms"))));
        if (call.failed()) return;
        call.note(fmt::format("over {} quarter notes", song.arrangement[*index].morph.toString()));
      }));
  out.push_back(sectionTool(
      "write-out", "Write out", "Each pass becomes a groove of its own.",
      {wholeParameter("section", "all", "which of the arrangement, from 1; all", 1, 100'000)},
      [](ToolCall& call, Song& song) {
        std::optional<std::size_t> index;
        if (call.text("section") != "all") {
          index = sectionOf(call, song);
          if (!index) return;
        }
        const std::size_t before = song.grooves.size();
        take(call, song, writtenOut(std::move(song), index));
        if (!call.failed())
          call.note(countOf(static_cast<int>(song.grooves.size() - before), "groove") + " written");
      }));
  out.push_back(sectionTool("fold", "Fold", "Equal bars are found and played as passes.",
                            {wholeParameter("velocity", "0", "that may differ, steps", 0, 127),
                             realParameter("nudge_ms", "0", "that may differ, ms", 0, 200)},
                            [](ToolCall& call, Song& song) {
                              Folded folded = foldedUp(
                                  std::move(song),
                                  {call.whole("velocity"), Milliseconds(call.real("nudge_ms"))});
                              song = std::move(folded.song);
                              call.note(foldText(folded));
                            }));
  out.push_back(sectionTool(
      "form", "Form", "The song's form as text: Intro 4, Verse 8 + fill, ...",
      {textParameter("text", "", "items with commas; empty: only told"), alongParameter()},
      [](ToolCall& call, Song& song) {
        if (!call.text("text").empty())
          take(call, song, withForm(std::move(song), call.text("text"), tempoOf(call)));
        if (!call.failed()) call.note(formText(song));
      }));
  return out;
}

}  // namespace uneven
