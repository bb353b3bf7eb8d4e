// SPDX-License-Identifier: GPL-3.0-or-later
// `ustick`: the command line. Results on stdout, messages on stderr. Exit 0 done, 1 done but
// findings, 2 could not.
#include <CLI/CLI.hpp>
#include <cstdio>

#include "cli/commands.h"
#include "cli/measure.h"
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

int run(int argc, char** argv) {
  CLI::App app{"Uneven Stick on the command line: grooves in, expressive MIDI out.", "ustick"};
  app.require_subcommand(1);
  Result<Output> result{Output{}};
  // Scripts read from pipes and write to devices.
  uneven::PosixFileSystem files(uneven::PosixFileSystem::Streams::kAllowed);

  std::string song;
  CLI::App* info = app.add_subcommand("info", "Title, bars, duration, tempo, hits by piece");
  info->add_option("SONG", song, "A .ustick song, or a .mid file to look into")->required();
  info->callback([&] { result = uneven::cli::info(files, song); });

  RowFormat format = RowFormat::kCsv;
  const std::map<std::string, RowFormat> formats{{"csv", RowFormat::kCsv},
                                                 {"json", RowFormat::kJson}};
  CLI::App* perform = app.add_subcommand("perform", "One row a stroke, in order of time");
  perform->add_option("SONG", song, "A .ustick song")->required();
  perform->add_option("--format", format, "csv or json (default csv)")
      ->transform(CLI::Transformer(formats))
      ->check(CLI::IsMember(std::vector<RowFormat>{RowFormat::kCsv, RowFormat::kJson}));
  perform->callback([&] { result = uneven::cli::perform(files, song, format); });

  CLI::App* pedal =
      app.add_subcommand("pedal", "The path of the hats' pedal, and what the foot sounds");
  pedal->add_option("SONG", song, "A .ustick song")->required();
  pedal->add_option("--format", format, "csv or json (default csv)")
      ->transform(CLI::Transformer(formats))
      ->check(CLI::IsMember(std::vector<RowFormat>{RowFormat::kCsv, RowFormat::kJson}));
  pedal->callback([&] { result = uneven::cli::pedal(files, song, format); });

  auto checkFormat = uneven::cli::CheckFormat::kText;
  const std::map<std::string, uneven::cli::CheckFormat> checkFormats{
      {"text", uneven::cli::CheckFormat::kText}, {"json", uneven::cli::CheckFormat::kJson}};
  CLI::App* check = app.add_subcommand(
      "check", "What cannot be played, flams or stands out; exits 1 when anything was found");
  check->add_option("SONG", song, "A .ustick song")->required();
  check->add_option("--format", checkFormat, "text or json (default text)")
      ->transform(CLI::Transformer(checkFormats))
      ->check(CLI::IsMember(std::vector<uneven::cli::CheckFormat>{
          uneven::cli::CheckFormat::kText, uneven::cli::CheckFormat::kJson}));
  std::string player;
  check->add_option("--profile", player, "A player, a JSON file (default: from memory)");
  std::string mend, mendedOut;
  check->add_option("--mend", mend,
                    "KIND or KIND@BAR:AT: the first mending of those findings goes into -o");
  check->add_option("-o", mendedOut, "The mended song, .ustick");
  check->callback([&] {
    result = uneven::cli::check(files, {song, player, checkFormat, mend, mendedOut});
  });

  uneven::cli::StickingCall hands;
  CLI::App* sticking = app.add_subcommand(
      "sticking", "The hands of a groove, how fast it can go, and other ways to play it");
  sticking->add_option("SONG", hands.song, "A .ustick song")->required();
  sticking->add_option("--groove", hands.groove, "Id of the groove")->required();
  sticking->add_option("--bpm", hands.bpm, "A tempo in place of the song's");
  sticking->add_option("--profile", hands.profile, "A player, a JSON file (default: from memory)");
  sticking->add_option("--alternatives", hands.alternatives,
                       "How many other ways, 0..20 (default 5)");
  sticking->add_option("--format", hands.format, "text or json (default text)")
      ->transform(CLI::CheckedTransformer(checkFormats));
  sticking->callback([&] { result = uneven::cli::sticking(files, hands); });

  uneven::cli::MeasureCall take;
  CLI::App* measure = app.add_subcommand(
      "measure", "The tempo, swing, lean and drift of a recording or a played take");
  measure->add_option("FILE", take.file, "Audio, a .mid file, or a .csv of times")->required();
  measure->add_option("--grid", take.grid, "1/8, 1/16, 1/8T, ... (default: found)");
  measure->add_option("--bpm", take.bpm, "The tempo, where it is known");
  measure->add_option("--meter", take.meter, "The meter, where it is known");
  measure->add_option("--start", take.start, "Where bar 1 begins, in seconds");
  measure->add_option("--map", take.map, "A kit map for the notes of a .mid file: a file or an id");
  measure->add_option("--format", take.format, "text or json (default text)")
      ->transform(CLI::CheckedTransformer(checkFormats));
  measure->add_option("--feel", take.feel, "Writes the feel to this file");
  measure->add_option("--song", take.song, "Writes the take as a song to this file");
  measure->callback([&] { result = uneven::cli::measure(files, take); });

  uneven::cli::RenderCall call;
  CLI::App* render = app.add_subcommand(
      "render", "Write a Standard MIDI File, or audio where OUT ends in .wav or .flac");
  render->add_option("SONG", call.song, "A .ustick song")->required();
  render->add_option("-o,--out", call.out, "The file to write")->required();
  render->add_option("--ppq", call.options.ppq, "Ticks per quarter note, 24..15360 (default 960)");
  render->add_option("--type", call.options.type,
                     "1: a conductor's track and the drums (default); "
                     "0: all on one track");
  render->add_option(
      "--map", call.map,
      "A kit map in place of the one the song names: a file, or the id of a built-in one");
  render->add_option("--lead-in", call.options.leadInBars,
                     "Bars of silence before the song, 0..16 (default 0)");
  render->add_flag("--track-per-piece", call.options.trackPerPiece,
                   "A track for each piece of the kit");
  render->add_option("--bank", call.audio.bank,
                     "Audio: a sound bank, .sf2 or .sf3 (default the house kit)");
  render->add_option("--rate", call.audio.format.rate,
                     "Audio: samples a second, 44100, 48000 or 96000 (default 48000)");
  const std::map<std::string, uneven::AudioBits> bits{{"16", uneven::AudioBits::k16},
                                                      {"24", uneven::AudioBits::k24},
                                                      {"float", uneven::AudioBits::kFloat}};
  render->add_option("--bits", call.audio.format.bits, "Audio: 16, 24 or float (default 24)")
      ->transform(CLI::CheckedTransformer(bits));
  const std::map<std::string, uneven::Stems> stems{{"piece", uneven::Stems::kPieces},
                                                   {"limb", uneven::Stems::kLimbs}};
  render->add_option("--stems", call.audio.stems, "Audio: also a file for each piece or limb")
      ->transform(CLI::CheckedTransformer(stems));
  render->add_flag("--click", call.audio.click, "Audio: also the click, in a file of its own");
  render->callback([&] {
    for (const CLI::Option* option : render->get_options()) {
      if (option->count() > 0) call.given.push_back(option->get_name());
    }
    result = uneven::cli::render(files, call);
  });

  uneven::cli::EditCall editCall;
  bool list = false;
  CLI::App* edit = app.add_subcommand("edit", "Change a groove with a tool");
  edit->add_flag("--list", list, "Name the tools, their parameters, ranges and defaults");
  edit->add_option("SONG", editCall.song, "A .ustick song");
  edit->add_option("--groove", editCall.groove, "Id of the groove to change");
  edit->add_option("TOOL", editCall.words, "The tool, then key=value for each parameter");
  edit->add_option("-o,--out", editCall.out, "The song to write");
  edit->callback([&] {
    if (list) {
      result = Output{uneven::cli::toolList(), {}};
    } else if (editCall.words.empty() || editCall.groove.empty() || editCall.out.empty()) {
      throw CLI::ValidationError("edit", "it needs SONG --groove ID TOOL key=value ... -o OUT");
    } else {
      result = uneven::cli::edit(files, editCall);
    }
  });

  uneven::cli::VaryCall varyCall;
  CLI::App* vary = app.add_subcommand(
      "vary", "Every variation of a groove that a walk gives, in order, measured");
  vary->add_flag("--list", list, "Name the walks, their parameters, ranges and defaults");
  vary->add_option("SONG", varyCall.song, "A .ustick song");
  vary->add_option("--groove", varyCall.groove, "Id of the groove");
  vary->add_option("WALK", varyCall.words, "The walk, then key=value for each parameter");
  vary->add_option("--profile", varyCall.profile, "A player, a JSON file (default: from memory)");
  vary->add_option("--format", varyCall.format, "text or json (default text)")
      ->transform(CLI::CheckedTransformer(checkFormats));
  vary->add_option("-o,--out", varyCall.out, "Writes the song with every variant as a groove");
  vary->callback([&] {
    if (list) {
      result = Output{uneven::cli::walkList(), {}};
    } else if (varyCall.words.empty() || varyCall.groove.empty()) {
      throw CLI::ValidationError("vary", "it needs SONG --groove ID WALK key=value ...");
    } else {
      result = uneven::cli::vary(files, varyCall);
    }
  });

  uneven::cli::ConvertCall convertCall;
  CLI::App* convert = app.add_subcommand("convert", "From one kind of file to another, by ending");
  convert->add_option("IN", convertCall.in, ".ustick, .txt (drum tab) or .csv (hits)")->required();
  convert->add_option("OUT", convertCall.out, ".ustick, .mid, .txt or .csv")->required();
  convert->add_option("--groove", convertCall.groove, "Which groove of a song (default the first)");
  convert->callback([&] { result = uneven::cli::convert(files, convertCall); });

  try {
    app.parse(argc, argv);
  } catch (const CLI::ParseError& e) {
    if (e.get_exit_code() == 0) return app.exit(e);  // --help
    return fail(oneLine(e.what()) + " (see ustick --help)");
  }
  return report(result);
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
