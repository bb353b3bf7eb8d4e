// SPDX-License-Identifier: GPL-3.0-or-later
// `ustick`: the command line. Results on stdout, messages on stderr. Exit 0 done, 1 done but
// findings, 2 could not.
#include <CLI/CLI.hpp>
#include <cstdio>
#include <memory>

#include "cli/commands.h"
#include "cli/measure.h"
#include "cli/rehearse.h"
#include "cli/sticking.h"
#include "cli/vary.h"
#include "core/base/utf8.h"

namespace {

using uneven::Result;
using uneven::TextOut;
using uneven::cli::Output;
using uneven::cli::RowFormat;

constexpr int kDone = 0;
constexpr int kFindings = 1;
constexpr int kCouldNot = 2;

int fail(const std::string& line) {
  std::fprintf(stderr, "ustick: %s\n", line.c_str());
  return kCouldNot;
}

int report(const Result<Output>& result) {
  if (!result) return fail(result.error().line());
  for (const std::string& notice : result->notices) {
    std::fprintf(stderr, "ustick: note: %s\n", uneven::asUtf8(notice).c_str());
  }
  TextOut out([](std::string_view block) {
    return std::fwrite(block.data(), 1, block.size(), stdout) == block.size();
  });
  out.put(result->text);
  if (result->rows) result->rows(out);
  if (!out.finish() || std::fflush(stdout) != 0) {
    return fail("cannot write the result to standard output");
  }
  return result->findings ? kFindings : kDone;
}

std::string oneLine(std::string text) {
  for (char& c : text) {
    if (c == '\n' || c == '\r') c = ' ';
  }
  return text;
}

// What is asked on the command line, and what came of it.
struct Asked {
  CLI::App app{"Uneven Stick on the command line: grooves in, expressive MIDI out.", "ustick"};
  // Scripts read from pipes and write to devices.
  uneven::PosixFileSystem files{uneven::PosixFileSystem::Streams::kAllowed};
  Result<Output> result{Output{}};
};

using TextFormat = uneven::cli::CheckFormat;

// One of these words stands for its value; others are refused with the words there are.
template <typename Value>
CLI::Validator oneOf(std::map<std::string, Value> words) {
  std::string all;
  for (const auto& [word, value] : words) all += (all.empty() ? "" : "|") + word;
  return {[words = std::move(words), all](std::string& given) {
            const auto found = words.find(given);
            if (found == words.end()) return "\"" + given + "\" is none of " + all;
            given = std::to_string(static_cast<int>(found->second));
            return std::string();
          },
          all};
}

void addFormat(CLI::App* command, TextFormat& format) {
  command->add_option("--format", format, "text or json (default text)")
      ->transform(oneOf<TextFormat>({{"text", TextFormat::kText}, {"json", TextFormat::kJson}}));
}

void addProfile(CLI::App* command, std::string& file) {
  command->add_option("--profile", file, "A player, a JSON file (default: from memory)");
}

void addInfo(Asked& asked) {
  CLI::App* info = asked.app.add_subcommand("info", "Title, bars, duration, tempo, hits by piece");
  const auto song = std::make_shared<std::string>();
  info->add_option("SONG", *song, "A .ustick song, or a .mid file to look into")->required();
  info->callback([&asked, song] { asked.result = uneven::cli::info(asked.files, *song); });
}

void addRows(Asked& asked, const char* name, const char* what,
             Result<Output> (*rows)(uneven::FileSystem&, const std::string&, RowFormat)) {
  struct Call {
    std::string song;
    RowFormat format = RowFormat::kCsv;
  };
  const auto call = std::make_shared<Call>();
  CLI::App* command = asked.app.add_subcommand(name, what);
  command->add_option("SONG", call->song, "A .ustick song")->required();
  command->add_option("--format", call->format, "csv or json (default csv)")
      ->transform(oneOf<RowFormat>({{"csv", RowFormat::kCsv}, {"json", RowFormat::kJson}}));
  command->callback(
      [&asked, call, rows] { asked.result = rows(asked.files, call->song, call->format); });
}

void addCheck(Asked& asked) {
  const auto call = std::make_shared<uneven::cli::CheckCall>();
  CLI::App* check = asked.app.add_subcommand(
      "check", "What cannot be played, flams or stands out; exits 1 when anything was found");
  check->add_option("SONG", call->song, "A .ustick song")->required();
  addFormat(check, call->format);
  addProfile(check, call->profile);
  check->add_option("--mend", call->mend,
                    "KIND or KIND@BAR:AT: the first mending of those findings goes into -o");
  check->add_option("-o", call->out, "The mended song, .ustick");
  check->callback([&asked, call] { asked.result = uneven::cli::check(asked.files, *call); });
}

void addSticking(Asked& asked) {
  const auto call = std::make_shared<uneven::cli::StickingCall>();
  CLI::App* sticking = asked.app.add_subcommand(
      "sticking", "The hands of a groove, how fast it can go, and other ways to play it");
  sticking->add_option("SONG", call->song, "A .ustick song")->required();
  sticking->add_option("--groove", call->groove, "Id of the groove")->required();
  sticking->add_option("--bpm", call->bpm, "A tempo in place of the song's");
  addProfile(sticking, call->profile);
  sticking->add_option("--alternatives", call->alternatives,
                       "How many other ways, 0..20 (default 5)");
  addFormat(sticking, call->format);
  sticking->callback([&asked, call] { asked.result = uneven::cli::sticking(asked.files, *call); });
}

void addMeasure(Asked& asked) {
  const auto call = std::make_shared<uneven::cli::MeasureCall>();
  CLI::App* measure = asked.app.add_subcommand(
      "measure", "The tempo, swing, lean and drift of a recording or a played take");
  measure->add_option("FILE", call->file, "Audio, a .mid file, or a .csv of times")->required();
  measure->add_option("--grid", call->grid, "1/8, 1/16, 1/8T, ... (default: found)");
  measure->add_option("--bpm", call->bpm, "The pulse near this tempo, which may move");
  measure->add_flag("--steady", call->steady, "One tempo throughout");
  measure->add_option("--meter", call->meter, "The meter, where it is known");
  measure->add_option("--start", call->start, "Where bar 1 begins, in seconds");
  measure->add_option("--map", call->map,
                      "A kit map for the notes of a .mid file: a file or an id");
  addFormat(measure, call->format);
  measure->add_option("--feel", call->feel, "Writes the feel to this file");
  measure->add_option("--song", call->song, "Writes the take as a song to this file");
  measure->callback([&asked, call] { asked.result = uneven::cli::measure(asked.files, *call); });
}

void addScore(Asked& asked) {
  const auto call = std::make_shared<uneven::cli::ScoreCall>();
  CLI::App* score = asked.app.add_subcommand(
      "score", "A played take beside a groove: early and late, loud and soft, missing and extra");
  score->add_option("SONG", call->song, "A .ustick song")->required();
  score->add_option("--groove", call->groove, "Id of the groove that is played")->required();
  score->add_option("TAKE", call->take, "The take, a .mid file")->required();
  addFormat(score, call->format);
  score->callback([&asked, call] { asked.result = uneven::cli::score(asked.files, *call); });
}

void addPlan(Asked& asked) {
  using Format = uneven::cli::PlanFormat;
  const auto call = std::make_shared<uneven::cli::PlanCall>();
  CLI::App* plan = asked.app.add_subcommand("plan", "Days of practice, step by step to the goal");
  plan->add_option("SONG", call->song, "A .ustick song")->required();
  plan->add_option("--groove", call->groove, "Id of a groove (default: all that the song plays)");
  plan->add_option("--minutes", call->minutes, "Minutes a day, 1..240 (default 5)");
  plan->add_option("--days", call->days, "How many days, 1..366 (default 30)");
  plan->add_option("--from", call->from, "The first day, YYYY-MM-DD (default: today)");
  plan->add_option("--goal", call->goal, "BPM to come to (default: the song's)");
  plan->add_option("--log", call->log, "A practice log to go by (default: none)");
  addProfile(plan, call->profile);
  plan->add_option("--format", call->format, "text, json or ics (default text)")
      ->transform(
          oneOf<Format>({{"text", Format::kText}, {"json", Format::kJson}, {"ics", Format::kIcs}}));
  plan->callback([&asked, call] { asked.result = uneven::cli::plan(asked.files, *call); });
}

void addSound(CLI::App* render, uneven::AudioCall& audio) {
  render->add_flag_callback(
      "--dry", [&audio] { audio.room = false; }, "Audio: the house kit without its room");
  render->add_option("--bank", audio.bank,
                     "Audio: a sound bank, .sf2 or .sf3 (default the house kit)");
  render->add_option("--rate", audio.format.rate,
                     "Audio: samples a second, 44100, 48000 or 96000 (default 48000)");
  render->add_option("--bits", audio.format.bits, "Audio: 16, 24 or float (default 24)")
      ->transform(oneOf<uneven::AudioBits>({{"16", uneven::AudioBits::k16},
                                            {"24", uneven::AudioBits::k24},
                                            {"float", uneven::AudioBits::kFloat}}));
  render->add_option("--stems", audio.stems, "Audio: also a file for each piece or limb")
      ->transform(oneOf<uneven::Stems>(
          {{"piece", uneven::Stems::kPieces}, {"limb", uneven::Stems::kLimbs}}));
  render->add_flag("--click", audio.click, "Audio: also the click, in a file of its own");
}

void addRender(Asked& asked) {
  const auto call = std::make_shared<uneven::cli::RenderCall>();
  CLI::App* render = asked.app.add_subcommand(
      "render", "Write a Standard MIDI File, or audio where OUT ends in .wav or .flac");
  render->add_option("SONG", call->song, "A .ustick song")->required();
  render->add_option("-o,--out", call->out, "The file to write")->required();
  render->add_option("--ppq", call->options.ppq, "Ticks per quarter note, 24..15360 (default 960)");
  render->add_option("--type", call->options.type,
                     "1: a conductor's track and the drums (default); "
                     "0: all on one track");
  render->add_option("--map", call->map,
                     "A kit map in place of the one the song names: a file, or its id");
  render->add_option("--lead-in", call->options.leadInBars,
                     "Bars of silence before the song, 0..16 (default 0)");
  render->add_flag("--track-per-piece", call->options.trackPerPiece,
                   "A track for each piece of the kit");
  addSound(render, call->audio);
  render->callback([&asked, call, render] {
    for (const CLI::Option* option : render->get_options()) {
      if (option->count() > 0) call->given.push_back(option->get_name());
    }
    asked.result = uneven::cli::render(asked.files, *call);
  });
}

void addEdit(Asked& asked) {
  const auto call = std::make_shared<uneven::cli::EditCall>();
  const auto list = std::make_shared<bool>(false);
  CLI::App* edit = asked.app.add_subcommand("edit", "Change a groove with a tool");
  edit->add_flag("--list", *list, "Name the tools, their parameters, ranges and defaults");
  edit->add_option("SONG", call->song, "A .ustick song");
  edit->add_option("--groove", call->groove,
                   "Id of the groove to change; none for the tools of sections");
  edit->add_option("TOOL", call->words, "The tool, then key=value for each parameter");
  edit->add_option("-o,--out", call->out, "The song to write");
  edit->callback([&asked, call, list] {
    if (*list) {
      asked.result = Output{uneven::cli::toolList(), {}};
    } else if (call->words.empty() || call->out.empty()) {
      throw CLI::ValidationError("edit", "it needs SONG --groove ID TOOL key=value ... -o OUT");
    } else if (call->groove.empty() && !uneven::cli::takesSections(call->words.front())) {
      throw CLI::ValidationError(
          "edit",
          "it needs SONG --groove ID TOOL key=value ... -o OUT; without --groove go the "
          "tools that take section=");
    } else {
      asked.result = uneven::cli::edit(asked.files, *call);
    }
  });
}

void addVary(Asked& asked) {
  const auto call = std::make_shared<uneven::cli::VaryCall>();
  const auto list = std::make_shared<bool>(false);
  CLI::App* vary = asked.app.add_subcommand(
      "vary", "Every variation of a groove that a walk gives, in order, measured");
  vary->add_flag("--list", *list, "Name the walks, their parameters, ranges and defaults");
  vary->add_option("SONG", call->song, "A .ustick song");
  vary->add_option("--groove", call->groove, "Id of the groove");
  vary->add_option("WALK", call->words, "The walk, then key=value for each parameter");
  addProfile(vary, call->profile);
  addFormat(vary, call->format);
  vary->add_option("-o,--out", call->out, "Writes the song with every variant as a groove");
  vary->callback([&asked, call, list] {
    if (*list) {
      asked.result = Output{uneven::cli::walkList(), {}};
    } else if (call->words.empty() || call->groove.empty()) {
      throw CLI::ValidationError("vary", "it needs SONG --groove ID WALK key=value ...");
    } else {
      asked.result = uneven::cli::vary(asked.files, *call);
    }
  });
}

void addConvert(Asked& asked) {
  const auto call = std::make_shared<uneven::cli::ConvertCall>();
  CLI::App* convert =
      asked.app.add_subcommand("convert", "From one kind of file to another, by ending");
  convert->add_option("IN", call->in, ".ustick, .txt (drum tab) or .csv (hits)")->required();
  convert->add_option("OUT", call->out, ".ustick, .mid, .txt or .csv")->required();
  convert->add_option("--groove", call->groove, "Which groove of a song (default the first)");
  convert->callback([&asked, call] { asked.result = uneven::cli::convert(asked.files, *call); });
}

int run(int argc, char** argv) {
  Asked asked;
  asked.app.require_subcommand(1);
  addInfo(asked);
  addRows(asked, "perform", "One row a stroke, in order of time", uneven::cli::perform);
  addRows(asked, "pedal", "The path of the hats' pedal, and what the foot sounds",
          uneven::cli::pedal);
  addCheck(asked);
  addSticking(asked);
  addMeasure(asked);
  addRender(asked);
  addEdit(asked);
  addVary(asked);
  addScore(asked);
  addPlan(asked);
  addConvert(asked);
  try {
    asked.app.parse(argc, argv);
  } catch (const CLI::ParseError& e) {
    if (e.get_exit_code() == 0) return asked.app.exit(e);  // --help
    return fail(oneLine(e.what()) + " (see ustick --help)");
  }
  return report(asked.result);
}

}  // namespace

int main(int argc, char** argv) {
  uneven::removeUnfinishedWhenKilled();
  try {
    return run(argc, argv);
  } catch (const std::bad_alloc&) {
    return fail("out of memory");
  } catch (const std::exception& e) {
    return fail(oneLine(e.what()));
  }
}
