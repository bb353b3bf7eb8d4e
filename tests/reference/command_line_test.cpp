// SPDX-License-Identifier: GPL-3.0-or-later
// `ustick` as scripts see it: its words, its exit codes, and that a failure writes nothing.
#include <gtest/gtest.h>
#include <unistd.h>

#include <algorithm>
#include <filesystem>

#include "core/midi/smf.h"
#include "tests/reference/ustick.h"

namespace uneven {
namespace {

using testing::expectRefusal;
using testing::kDemo;
using testing::ProcessResult;
using testing::readText;
using testing::runProcess;
using testing::TemporaryFolder;
using testing::ustick;
using testing::writeText;

TEST(CommandLine, InfoTellsTheDemo) {
  const ProcessResult r = ustick({"info", kDemo});
  EXPECT_EQ(r.exitCode, 0);
  EXPECT_EQ(r.err, "");
  EXPECT_EQ(r.out.substr(0, r.out.find('\n')), "title: Lock Gate Nine");
  EXPECT_NE(r.out.find("\nbars: 25\n"), std::string::npos);
  // 32 quarters at 92, 32 at 116, 28 at 154 and 4 at 84 bpm: 20.870 + 16.552 + 10.909 + 2.857 s.
  EXPECT_NE(r.out.find("\nduration: 0:51.188\n"), std::string::npos) << r.out;
}

TEST(CommandLine, InfoTellsSwingInAllItsUnitsAndTheWidestUnison) {
  const ProcessResult r = ustick({"info", kDemo});
  // A pair of sixteenths at 92 bpm lasts 326.09 ms: 1.45 / 2.45 of it are 193.0 ms.
  EXPECT_NE(r.out.find("loose-rope at 92.00: 1/16 1.450:1, 59.2 %, long 193.0 ms, short 133.1 ms"),
            std::string::npos)
      << r.out;
  EXPECT_NE(r.out.find("(straight), 50.0 %"), std::string::npos);
  EXPECT_NE(r.out.find("\nwidest unison: "), std::string::npos);
}

TEST(CommandLine, EditChangesTheFeelAndItsSums) {
  const TemporaryFolder folder;
  const std::string out = folder.file("out.ustick");
  const auto edit = [&](const std::string& from, std::vector<std::string> words) {
    std::vector<std::string> all{"edit", from, "--groove", "towpath"};
    all.insert(all.end(), words.begin(), words.end());
    all.insert(all.end(), {"-o", out});
    return ustick(all);
  };
  EXPECT_EQ(edit(kDemo, {"swing", "percent=60"}).exitCode, 0);
  EXPECT_EQ(edit(out, {"drift", "preset=loose", "take=3"}).exitCode, 0);
  EXPECT_EQ(edit(out, {"displace", "limb=right-hand", "ms=-2"}).exitCode, 0);
  EXPECT_NE(ustick({"info", out}).out.find("1/16 1.500:1, 60.0 %"), std::string::npos);
  // displacement_ms and drift_ms make grid_ms into time_ms.
  writeText(folder.file("rows.csv"), ustick({"perform", out}).out);
  const ProcessResult sums = runProcess(
      {"/usr/bin/python3", "-c",
       "import csv,sys\n"
       "rows=list(csv.DictReader(open(sys.argv[1])))\n"
       "f=lambda r,k: float(r[k])\n"
       "print(max(abs(f(r,'grid_ms')+f(r,'displacement_ms')+f(r,'drift_ms')-f(r,'time_ms')) "
       "for r in rows)<2e-6, any(f(r,'drift_ms')!=0 for r in rows))",
       folder.file("rows.csv")});
  EXPECT_EQ(sums.out, "True True\n") << sums.err;
  const std::string before = readText(out);
  expectRefusal(edit(out, {"swing", "percent=95"}), "ustick: ");
  expectRefusal(edit(out, {"swing", "ratio=2", "percent=60"}), "ustick: ");
  EXPECT_EQ(readText(out), before);
}

TEST(CommandLine, PerformGivesOneRowAStroke) {
  const ProcessResult csv = ustick({"perform", kDemo});
  EXPECT_EQ(csv.exitCode, 0);
  EXPECT_EQ(csv.out.substr(0, csv.out.find('\n')),
            "bar,at,piece,stroke,role,limb,velocity,opening,grid_ms,time_ms,"
            "displacement_ms,drift_ms");
  // 466 strokes, and two chicks where the foot shuts the hats by itself.
  EXPECT_EQ(std::count(csv.out.begin(), csv.out.end(), '\n'), 1 + 468);
  EXPECT_NE(
      csv.out.find(
          "\n1,1,snare,rim-shot,accent,left-hand,111,0,652.174000,663.174000,11.000000,0.000000\n"),
      std::string::npos);
  const ProcessResult json = ustick({"perform", kDemo, "--format", "json"});
  const TemporaryFolder folder;
  writeText(folder.file("rows.json"), json.out);
  const ProcessResult counted =
      runProcess({"/usr/bin/python3", "-c",
                  "import json,sys; r=json.load(open(sys.argv[1])); print(len(r), sorted(r[0]))",
                  folder.file("rows.json")});
  EXPECT_EQ(
      counted.out,
      "468 ['at', 'bar', 'displacement_ms', 'drift_ms', 'grid_ms', 'limb', 'opening', 'piece', "
      "'role', 'stroke', 'time_ms', 'velocity']\n");
}

TEST(CommandLine, RenderIsTheSameBytesEveryTime) {
  const TemporaryFolder folder;
  EXPECT_EQ(ustick({"render", kDemo, "-o", folder.file("a.mid")}).exitCode, 0);
  EXPECT_EQ(ustick({"render", kDemo, "-o", folder.file("b.mid")}).exitCode, 0);
  EXPECT_EQ(readText(folder.file("a.mid")), readText(folder.file("b.mid")));
  EXPECT_EQ(folder.fileCount(), 2U);
  EXPECT_EQ(ustick({"info", folder.file("a.mid")}).out.substr(0, 8), "type: 1\n");
}

TEST(CommandLine, RenderTakesABuiltInMapByItsId) {
  const TemporaryFolder folder;
  const std::string byId = folder.file("id.mid");
  const std::string byFile = folder.file("file.mid");
  const std::string map = std::string(SOURCE_DIR) + "/data/maps/one-hat.json";
  ASSERT_EQ(ustick({"render", kDemo, "-o", byId, "--map", "one-hat"}).exitCode, 0);
  ASSERT_EQ(ustick({"render", kDemo, "-o", byFile, "--map", map}).exitCode, 0);
  EXPECT_EQ(readText(byId), readText(byFile));
  const auto wrong = ustick({"render", kDemo, "-o", folder.file("no.mid"), "--map", "two-hats"});
  EXPECT_EQ(wrong.exitCode, 2);
  EXPECT_EQ(std::count(wrong.err.begin(), wrong.err.end(), '\n'), 1);
  EXPECT_NE(wrong.err.find("two-hats"), std::string::npos) << wrong.err;
  EXPECT_NE(wrong.err.find("general-midi, house-keys, one-hat"), std::string::npos) << wrong.err;
  EXPECT_EQ(folder.fileCount(), 2U) << "nothing is written";
}

TEST(CommandLine, RenderTakesItsOptions) {
  const TemporaryFolder folder;
  const std::string out = folder.file("a.mid");
  const std::string map = std::string(SOURCE_DIR) + "/data/maps/house-keys.json";
  ASSERT_EQ(ustick({"render", kDemo, "-o", out, "--ppq", "480", "--type", "0", "--map", map,
                    "--lead-in", "1"})
                .exitCode,
            0);
  const auto read = readSmf(readText(out), out);
  ASSERT_TRUE(read);
  EXPECT_EQ(read->type, 0);
  EXPECT_EQ(read->ticksPerQuarter, 480);
  const std::vector<MidiEvent>& events = read->tracks.at(0).events;
  EXPECT_EQ(events.at(0), (MidiEvent{0, MidiEvent::kNoStroke, 0xB9, 4, 127})) << "the foot is down";
  const auto first =
      std::find_if(events.begin(), events.end(), [](const MidiEvent& e) { return e.isNoteOn(); });
  ASSERT_NE(first, events.end());
  EXPECT_EQ(first->tick, 1920 - 3);  // hats 4 ms early at 92 bpm
  EXPECT_EQ(first->data1, 62) << "the shut hat of the house keys";
}

TEST(CommandLine, PedalGivesThePathAndTheSounds) {
  const ProcessResult csv = ustick({"pedal", kDemo});
  EXPECT_EQ(csv.exitCode, 0);
  EXPECT_EQ(csv.out.substr(0, csv.out.find('\n')), "time_ms,opening,sound,velocity,masked");
  const TemporaryFolder folder;
  writeText(folder.file("pedal.json"), ustick({"pedal", kDemo, "--format", "json"}).out);
  const ProcessResult counted = runProcess(
      {"/usr/bin/python3", "-c",
       "import json,sys; p=json.load(open(sys.argv[1])); print(sorted(p), sorted(p['path'][0]), "
       "sorted(p['sounds'][0]), sum(not s['masked'] for s in p['sounds']))",
       folder.file("pedal.json")});
  EXPECT_EQ(counted.out,
            "['path', 'sounds'] ['opening', 'time_ms'] ['masked', 'sound', 'time_ms', 'velocity'] "
            "18\n")
      << "two chicks of its own, and sixteen strokes of the foot that are written";
}

TEST(CommandLine, CheckMendsWhatIsAskedFor) {
  const TemporaryFolder folder;
  const std::string out = folder.file("mended.ustick"), none = folder.file("none.ustick");
  const ProcessResult one = ustick({"check", kDemo, "--mend", "unison-spread@8:3/4", "-o", out});
  EXPECT_EQ(one.exitCode, 0) << one.err;
  EXPECT_EQ(one.out, "unison-spread@8:3/4: pull together\n");
  EXPECT_EQ(ustick({"check", out}).out.find("bar 8, 3/4: unison-spread"), std::string::npos);
  const ProcessResult all = ustick({"check", kDemo, "--mend", "unison-spread", "-o", out});
  EXPECT_EQ(std::count(all.out.begin(), all.out.end(), '\n'), 3) << "two feels and a place";
  EXPECT_EQ(ustick({"check", out}).out.find("unison-spread"), std::string::npos);
  const std::vector<std::vector<std::string>> refused{{"--mend", "held", "-o", none},
                                                      {"--mend", "before-start", "-o", none},
                                                      {"--mend", "held"},
                                                      {"-o", none}};
  for (const std::vector<std::string>& wrong : refused) {
    std::vector<std::string> words{"check", kDemo};
    words.insert(words.end(), wrong.begin(), wrong.end());
    const ProcessResult result = ustick(words);
    EXPECT_EQ(result.exitCode, 2);
    EXPECT_EQ(std::count(result.err.begin(), result.err.end(), '\n'), 1) << result.err;
  }
  EXPECT_FALSE(std::filesystem::exists(none));
}

TEST(CommandLine, CheckExitsWithOneWhenSomethingWasFound) {
  const TemporaryFolder folder;
  writeText(folder.file("good.ustick"), R"({"format": "uneven-stick-song", "version": 1,
    "tempo": [{"at": "0", "bpm": 90}],
    "grooves": [{"id": "g", "hits": [{"at": "0", "piece": "kick", "velocity": 80}]}]})");
  EXPECT_EQ(ustick({"check", folder.file("good.ustick")}).exitCode, 0);
  EXPECT_EQ(ustick({"check", folder.file("good.ustick")}).out, "nothing found\n");
  EXPECT_EQ(ustick({"check", folder.file("good.ustick"), "--format", "json"}).out, "[]\n");
  writeText(folder.file("fast.ustick"), R"({"format": "uneven-stick-song", "version": 1,
    "tempo": [{"at": "0", "bpm": 400}], "grooves": [{"id": "g", "hits": [
      {"at": "0", "piece": "hat", "velocity": 80, "open": 1, "open_for": "1/4"},
      {"at": "1/4", "piece": "hat", "velocity": 80}]}]})");
  const ProcessResult found = ustick({"check", folder.file("fast.ustick")});
  EXPECT_EQ(found.exitCode, 1);
  EXPECT_NE(found.out.find("bar 1, 1/4: late-close: still 38 % open"), std::string::npos)
      << found.out;
  const ProcessResult json = ustick({"check", folder.file("fast.ustick"), "--format", "json"});
  EXPECT_EQ(json.exitCode, 1);
  writeText(folder.file("found.json"), json.out);
  const ProcessResult keys = runProcess(
      {"/usr/bin/python3", "-c",
       "import json,sys; f=json.load(open(sys.argv[1])); print(sorted(f[0]), "
       "sorted({x['kind'] for x in f}), {x['severity'] for x in f} <= {'error', 'finding'})",
       folder.file("found.json")});
  EXPECT_EQ(keys.out,
            "['at', 'bar', 'fix', 'groove', 'kind', 'mend', 'pieces', 'severity', 'text', 'times', "
            "'unit', 'value'] ['late-close', 'no-room'] True\n");
  EXPECT_EQ(ustick({"check", "no-such.ustick"}).exitCode, 2);
}

TEST(CommandLine, StickingTellsHandsAndCeiling) {
  const TemporaryFolder folder;
  // Sixteenths in one hand: 125 ms sustained is 120 BPM, 165 ms 90.9 (arithmetic).
  std::string hits;
  for (int i = 0; i < 16; ++i) {
    hits += (i > 0 ? "," : "") + std::string(R"({"at": ")") + std::to_string(i) +
            R"(/4", "piece": "hat", "velocity": 80, "limb": "right-hand"})";
  }
  writeText(folder.file("one.ustick"),
            R"({"format": "uneven-stick-song", "version": 1, "tempo": [{"at": "0", "bpm": 90}],
                "grooves": [{"id": "g", "hits": [)" +
                hits + "]}]}");
  const ProcessResult told = ustick(
      {"sticking", folder.file("one.ustick"), "--groove", "g", "--bpm", "100", "--format", "json"});
  EXPECT_EQ(told.exitCode, 0);
  writeText(folder.file("told.json"), told.out);
  const ProcessResult read = runProcess(
      {"/usr/bin/python3", "-c",
       "import json,sys; s=json.load(open(sys.argv[1])); print(sorted(s), len(s['strokes']), "
       "s['strokes'][5], s['ceiling_bpm'], s['limited_by']['limb'], s['limited_by']['reason'], "
       "s['alternatives'])",
       folder.file("told.json")});
  EXPECT_EQ(read.out,
            "['alternatives', 'ceiling_bpm', 'cost', 'limited_by', 'strokes'] 16 {'bar': 1, 'at': "
            "'5/4', 'piece': 'hat', 'limb': 'right-hand', 'state': 'hard'} {'comfortable': 90.9, "
            "'playable': 120} right-hand eight or more in a row []\n");
  EXPECT_EQ(ustick({"sticking", folder.file("one.ustick"), "--groove", "h"}).exitCode, 2);
  EXPECT_EQ(ustick({"sticking", kDemo, "--groove", "towpath", "--bpm", "0"}).exitCode, 2);
  writeText(folder.file("me.json"), R"({"format": "uneven-stick-player", "version": 1,
    "id": "me", "hand": {"second": [50, 75]}})");
  const ProcessResult bad =
      ustick({"sticking", kDemo, "--groove", "towpath", "--profile", folder.file("me.json")});
  EXPECT_EQ(bad.exitCode, 2);
  EXPECT_NE(bad.err.find("me.json:2:"), std::string::npos) << bad.err;
  EXPECT_NE(ustick({"sticking", kDemo, "--groove", "towpath"}).out.find("playable to"),
            std::string::npos);
}

TEST(CommandLine, AMissingRecordingIsSaidAndNoError) {
  const TemporaryFolder folder;
  writeText(folder.file("a.ustick"),
            R"({"format": "uneven-stick-song", "version": 1, "tempo": [{"at": "0", "bpm": 90}],
               "grooves": [{"id": "g", "hits": []}], "audio": {"file": "gone.flac", "offset_ms": 12.5}})");
  const ProcessResult told = ustick({"info", folder.file("a.ustick")});
  EXPECT_EQ(told.exitCode, 0) << told.err;
  EXPECT_NE(told.err.find("gone.flac is not there"), std::string::npos) << told.err;
}

TEST(CommandLine, VaryWalksMeasuresAndWrites) {
  const TemporaryFolder folder;
  const ProcessResult told = ustick({"vary", kDemo, "--groove", "towpath", "placement",
                                     "piece=kick", "from=0", "to=4", "--format", "json"});
  ASSERT_EQ(told.exitCode, 0) << told.err;
  writeText(folder.file("told.json"), told.out);
  const ProcessResult read = runProcess(
      {"/usr/bin/python3", "-c",
       "import json,sys; v=json.load(open(sys.argv[1])); print(len(v)); "
       "print(*[x['name'] for x in v[:3]], sep=', '); "
       "print(all(x['added']==1 and x['removed']==0 and x['hits_changed']==0 and x['distance']==1 "
       "and x['ceiling_bpm']>0 and x['density']>6 for x in v)); print(v[0]['syncopation'] >= 0)",
       folder.file("told.json")});
  EXPECT_EQ(read.out, "13\nkick on 4 a, kick on 4 &, kick on 4 e\nTrue\nTrue\n") << read.err;
  // Twenty-four triplet partials as sixteenths.
  writeText(folder.file("regrid.json"),
            ustick({"vary", kDemo, "--groove", "towpath", "regrid", "from_grid=1/8T",
                    "to_grid=1/16", "--format", "json"})
                .out);
  EXPECT_EQ(runProcess({"/usr/bin/python3", "-c",
                        "import json,sys; v=json.load(open(sys.argv[1])); print(v[0]['quarters'], "
                        "v[0]['meets_after_bars'], round(v[0]['seems_bpm'] / 92, 4))",
                        folder.file("regrid.json")})
                .out,
            "6.0 3 1.3333\n");
  // Every variant as a groove; the arrangement stays as it is.
  const std::string out = folder.file("varied.ustick");
  EXPECT_EQ(ustick({"vary", kDemo, "--groove", "towpath", "partials", "piece=kick", "grid=1/8T",
                    "-o", out})
                .exitCode,
            0);
  const ProcessResult grooves = runProcess(
      {"/usr/bin/python3", "-c",
       "import json,sys; a=json.load(open(sys.argv[1])); b=json.load(open(sys.argv[2])); "
       "print(len(b['grooves'])-len(a['grooves']), a.get('arrangement')==b.get('arrangement'), "
       "b['grooves'][-1]['core'])",
       kDemo, out});
  EXPECT_EQ(grooves.out, "8 True towpath\n") << grooves.err;
  EXPECT_EQ(ustick({"render", out, "-o", folder.file("varied.mid")}).exitCode, 0);
  const ProcessResult list = ustick({"vary", "--list"});
  EXPECT_EQ(list.exitCode, 0);
  for (const char* walk : {"placement:", "partials:", "move:", "displace:", "accents:", "regrid:",
                           "against:", "free:"})
    EXPECT_NE(list.out.find(walk), std::string::npos) << walk;
  // What cannot be: said in one line, nothing written.
  const std::string none = folder.file("none.ustick");
  for (const std::vector<std::string>& bad : {std::vector<std::string>{"nonsense"},
                                              {"placement", "piece=bagpipe"},
                                              {"placement", "strokes"},
                                              {"placement", "strokes=4", "grid=1/32"},
                                              {"against", "cell=0"},
                                              {"displace", "by=-1"}}) {
    std::vector<std::string> words{"vary", kDemo, "--groove", "towpath"};
    words.insert(words.end(), bad.begin(), bad.end());
    words.insert(words.end(), {"-o", none});
    const ProcessResult refused = ustick(words);
    EXPECT_EQ(refused.exitCode, 2) << bad.front();
    EXPECT_EQ(refused.out, "");
    EXPECT_FALSE(std::filesystem::exists(none)) << bad.front();
  }
  EXPECT_EQ(ustick({"vary", kDemo, "--groove", "nobody", "take"}).exitCode, 2);
}

TEST(CommandLine, EditRunsEveryToolThatItLists) {
  const TemporaryFolder folder;
  const std::string out = folder.file("out.ustick");
  const ProcessResult list = ustick({"edit", "--list"});
  EXPECT_EQ(list.exitCode, 0);
  for (const char* tool : {"sticking", "ostinato", "backbeat", "fill-gaps", "echo", "rebound",
                           "linearise", "orchestrate", "rotate", "shift", "reverse", "stretch",
                           "mirror", "accent-pattern", "shape", "ghost-depth"}) {
    EXPECT_NE(("\n" + list.out).find("\n" + std::string(tool) + ": "), std::string::npos) << tool;
  }
  const ProcessResult edited = ustick(
      {"edit", kDemo, "--groove", "towpath", "orchestrate", "piece=hat", "onto=ride", "-o", out});
  EXPECT_EQ(edited.exitCode, 0) << edited.err;
  EXPECT_EQ(edited.err, "ustick: note: 31 hits moved\n");
  EXPECT_NE(ustick({"info", out}).out.find("ride: 149"), std::string::npos);  // 56 + 3 x 31
}

TEST(CommandLine, ASongIsArrangedByItsSections) {
  const TemporaryFolder folder;
  const std::string out = folder.file("arranged.ustick");
  const auto edit = [&](const std::string& from, std::vector<std::string> words) {
    std::vector<std::string> all{"edit", from};
    all.insert(all.end(), words.begin(), words.end());
    all.insert(all.end(), {"-o", out});
    const ProcessResult result = ustick(all);
    EXPECT_EQ(result.exitCode, 0) << result.err;
    return result.err;
  };
  edit(kDemo, {"fill", "section=1", "recipe=toms", "every=1", "another=yes", "after=crash"});
  edit(out, {"tempo", "section=3", "relation=1/8T = 1/8"});
  EXPECT_EQ(edit(out, {"form"}),
            "ustick: note: Towpath at dawn 6 + fill, Round the bend 2, Fog on the cut 8, Seven "
            "paddles 8, The ninth gate 1\n");
  edit(out, {"section-move", "section=5", "to=1"});
  const ProcessResult info = ustick({"info", out});
  EXPECT_NE(info.out.find("fill towpath-toms towpath-toms-2 towpath-toms-3 2 every 1 then crash"),
            std::string::npos)
      << info.out;
  EXPECT_NE(info.out.find("138"), std::string::npos);
  EXPECT_NE(info.out.find("seams:"), std::string::npos);
  // Written out and folded it is performed the same.
  const std::string before = ustick({"perform", out}).out;
  edit(out, {"write-out"});
  EXPECT_EQ(ustick({"perform", out}).out, before);
  edit(out, {"fold"});
  EXPECT_EQ(ustick({"perform", out}).out, before);
}

TEST(CommandLine, ConvertGoesByEnding) {
  const TemporaryFolder folder;
  const auto convert = [&](const std::string& in, const char* out) {
    return ustick({"convert", in, folder.file(out)});
  };
  writeText(folder.file("beat.txt"), "HH|x-x-x-x-|\nS |--X---X-|\nB |x---x---|\n");
  const ProcessResult read = convert(folder.file("beat.txt"), "beat.ustick");
  EXPECT_EQ(read.exitCode, 0) << read.err;
  EXPECT_EQ(read.err, "ustick: note: guessed 1/8 in 4/4 from 8 characters to a bar\n");
  EXPECT_EQ(convert(folder.file("beat.ustick"), "beat.csv").exitCode, 0);
  EXPECT_EQ(convert(folder.file("beat.csv"), "again.ustick").exitCode, 0);
  EXPECT_EQ(convert(folder.file("again.ustick"), "again.txt").exitCode, 0);
  EXPECT_EQ(readText(folder.file("again.txt")), "HH|x-x-x-x-|\nS |--X---X-|\nB |x---x---|\n");
  EXPECT_EQ(convert(folder.file("beat.txt"), "beat.mid").exitCode, 0);
  EXPECT_EQ(ustick({"info", folder.file("beat.mid")}).exitCode, 0);
  expectRefusal(convert(folder.file("beat.mid"), "x.ustick"), "ustick: " + folder.file("beat.mid"));
  expectRefusal(convert(folder.file("beat.txt"), "x.doc"), "ustick: " + folder.file("x.doc"));
  writeText(folder.file("bad.txt"), "HH|x-x-x-x-|\nQQ|x-------|\n");
  expectRefusal(convert(folder.file("bad.txt"), "x.ustick"),
                "ustick: " + folder.file("bad.txt") + ":2:1: there is no lane");
}

TEST(CommandLine, EditRefusesAndTouchesNothing) {
  const TemporaryFolder folder;
  const std::string out = folder.file("out.ustick");
  const auto edit = [&](std::vector<std::string> words) {
    words.insert(words.begin(), {"edit", kDemo});
    words.insert(words.end(), {"-o", out});
    return ustick(words);
  };
  expectRefusal(edit({"--groove", "nobody", "echo"}), "ustick: " + kDemo + ": there is no groove");
  expectRefusal(edit({"--groove", "fog", "sing"}), "ustick: there is no tool \"sing\"");
  expectRefusal(edit({"--groove", "fog", "echo", "level_db=x"}), "ustick: echo: level_db");
  expectRefusal(edit({"--groove", "fog", "echo", "loud"}), "ustick: \"loud\" is not key=value");
  expectRefusal(edit({"--groove", "fog"}), "ustick: ");
  expectRefusal(edit({"echo"}), "ustick: ");  // of a groove
  expectRefusal(edit({"section-split", "section=9"}), "ustick: section-split: section");
  expectRefusal(edit({"fill", "section=1", "recipe=jig"}), "ustick: fill: recipe");
  expectRefusal(edit({"section-move", "to=99"}),
                "ustick: section-move: to: the song has 5 sections");
  expectRefusal(edit({"section-add", "plays=fog", "before=99"}), "ustick: section-add: before");
  expectRefusal(edit({"tempo", "section=1"}), "ustick: tempo: the song's first tempo stays");
  EXPECT_EQ(folder.fileCount(), 0U);
}

TEST(CommandLine, RefusesOnOneLineAndTouchesNothing) {
  const TemporaryFolder folder;
  const std::string out = folder.file("out.mid");
  const std::string bad = folder.file("bad.ustick");
  writeText(out, "precious");
  std::string text = readText(kDemo);
  text.replace(text.find("\"velocity\": 86"), 14, "\"velocity\": 860");
  writeText(bad, text);
  expectRefusal(ustick({"render", bad, "-o", out}),
                "ustick: " + bad + ":29:49: grooves[0].hits[0]");
  expectRefusal(ustick({"info", folder.file("none")}), "ustick: " + folder.file("none") + ":");
  expectRefusal(ustick({"render", kDemo, "-o", out, "--ppq", "7"}), "ustick: 7 ticks");
  expectRefusal(ustick({"render", kDemo, "-o", out, "--ppq", "many"}), "ustick: ");
  expectRefusal(ustick({"render", kDemo, "-o", out, "--map", bad}), "ustick: " + bad);
  expectRefusal(ustick({"render", kDemo, "-o", folder.file("no/such.mid")}), "ustick: ");
  expectRefusal(ustick({"perform", kDemo, "--format", "xml"}), "ustick: ");
  expectRefusal(ustick({"sing", kDemo}), "ustick: ");
  expectRefusal(ustick({}), "ustick: ");
  EXPECT_EQ(readText(out), "precious");
  EXPECT_EQ(folder.fileCount(), 2U);
}

TEST(CommandLine, RefusesBrokenMidiWithItsByte) {
  const TemporaryFolder folder;
  const std::string file = folder.file("a.mid");
  ASSERT_EQ(ustick({"render", kDemo, "-o", file}).exitCode, 0);
  const std::string bytes = readText(file);
  for (std::size_t n = 0; n < bytes.size(); n += 211) {
    writeText(file, bytes.substr(0, n));
    expectRefusal(ustick({"info", file}), "ustick: " + file + ": byte ");
  }
}

TEST(CommandLine, RefusesTruncatedSongs) {
  const TemporaryFolder folder;
  const std::string file = folder.file("cut.ustick");
  const std::string text = readText(kDemo);
  for (std::size_t n = 0; n < text.size() - 2; n += 977) {
    writeText(file, text.substr(0, n));
    expectRefusal(ustick({"render", file, "-o", folder.file("x.mid")}), "ustick: " + file + ":");
  }
  EXPECT_EQ(folder.fileCount(), 1U);
}

TEST(CommandLine, TheOutputIsNeverTheSongItself) {
  const TemporaryFolder folder;
  const std::string song = folder.file("s.ustick");
  writeText(song, readText(kDemo));
  ASSERT_EQ(::symlink(song.c_str(), folder.file("link").c_str()), 0);
  for (const std::string& out : {song, folder.file("link")}) {
    expectRefusal(ustick({"render", song, "-o", out}), "ustick: " + out + ": is what is read");
    EXPECT_EQ(readText(song), readText(kDemo));
  }
  const std::string tab = folder.file("t.txt");
  writeText(tab, "HH|x-x-x-x-|\n");
  expectRefusal(ustick({"convert", tab, tab}), "ustick: " + tab + ": is what is read");
  // A tool may change a song in its place.
  EXPECT_EQ(ustick({"edit", song, "--groove", "towpath", "mirror", "-o", song}).exitCode, 0);
  EXPECT_EQ(ustick({"info", song}).exitCode, 0);
}

TEST(CommandLine, WritesThroughItsOwnStandardOutput) {
  const TemporaryFolder folder;
  const std::string file = folder.file("out.mid");
  ASSERT_EQ(ustick({"render", kDemo, "-o", file}).exitCode, 0);
  // A pipe, which a shell makes; the device behind it is not replaced.
  const ProcessResult piped = runProcess(
      {"sh", "-c",
       std::string(USTICK_PROGRAM) + " render '" + kDemo + "' -o /dev/stdout 2>/dev/null | cat"});
  EXPECT_TRUE(piped.out == readText(file));
  EXPECT_TRUE(std::filesystem::is_symlink("/dev/stdout"));
  const ProcessResult read =
      runProcess({"sh", "-c", "cat '" + kDemo + "' | " + USTICK_PROGRAM + " info /dev/stdin"});
  EXPECT_EQ(read.exitCode, 0) << read.err;
}

TEST(CommandLine, TellsWhatItLeftOut) {
  const TemporaryFolder folder;
  const std::string song = folder.file("pair.ustick");
  writeText(song, R"({"format": "uneven-stick-song", "version": 1,
    "tempo": [{"at": "0", "bpm": 100}], "grooves": [{"id": "g", "hits": [
      {"at": "0", "piece": "snare", "velocity": 30},
      {"at": "0", "piece": "snare", "velocity": 99}]}]})");
  const ProcessResult r = ustick({"perform", song});
  EXPECT_EQ(r.exitCode, 0);
  EXPECT_NE(r.err.find("note: groove \"g\": 1 hit was left out"), std::string::npos) << r.err;
  EXPECT_EQ(std::count(r.out.begin(), r.out.end(), '\n'), 2) << "the head and one stroke";
  EXPECT_NE(r.out.find(",99,"), std::string::npos);
}

TEST(CommandLine, ALongRowsOutputThatCannotBeWrittenIsAnError) {
  const ProcessResult r = runProcess(
      {"sh", "-c", std::string(USTICK_PROGRAM) + " perform '" + kDemo + "' > /dev/full"});
  EXPECT_EQ(r.exitCode, 2);
  EXPECT_EQ(r.err, "ustick: cannot write the result to standard output\n");
}

// Every file that a command would write is looked at before any is written.
TEST(CommandLine, NoTargetIsEverWhatIsRead) {
  const TemporaryFolder folder;
  const std::string song = folder.file("s.ustick"), map = folder.file("map.json"),
                    mid = folder.file("take.mid"), take = folder.file("take.wav");
  std::filesystem::copy(kDemo, song);
  std::filesystem::copy(SOURCE_DIR "/data/maps/house-keys.json", map);
  ASSERT_EQ(ustick({"render", song, "-o", mid}).exitCode, 0);
  std::string text = readText(song);
  text.insert(text.find("\n"), "\n  \"audio\": {\"file\": \"take.wav\"},");
  writeText(song, text);
  writeText(take, "a recording");
  const std::string before = readText(song), mapBefore = readText(map), midBefore = readText(mid);
  std::filesystem::create_symlink(song, folder.file("o-crash.wav"));
  std::filesystem::create_hard_link(map, folder.file("m-kick.wav"));
  const auto refused = [&](std::vector<std::string> words, const std::string& named) {
    const std::size_t files = folder.fileCount();
    expectRefusal(ustick(words), "ustick: " + named);
    EXPECT_EQ(folder.fileCount(), files) << "nothing is written";
    EXPECT_EQ(readText(song), before);
    EXPECT_EQ(readText(map), mapBefore);
    EXPECT_EQ(readText(mid), midBefore);
    EXPECT_EQ(readText(take), "a recording");
  };
  const std::string crash = folder.file("o-crash.wav"), kick = folder.file("m-kick.wav");
  refused({"render", song, "-o", folder.file("o.wav"), "--stems", "piece"}, crash);
  refused({"render", song, "-o", folder.file("m.wav"), "--map", map, "--stems", "piece"}, kick);
  refused({"render", song, "-o", take}, take);
  refused({"render", song, "-o", song}, song);
  refused({"convert", mid, mid}, mid);
  refused({"measure", mid, "--map", map, "--feel", map}, map);
  refused({"measure", mid, "--song", mid}, mid);
  refused({"measure", mid, "--feel", folder.file("x"), "--song", folder.file("x")},
          folder.file("x"));
  refused({"edit", song, "--groove", "towpath", "mirror", "-o", take}, take);
}

TEST(CommandLine, AStemThatCannotBeWrittenLeavesNoneOfThem) {
  const TemporaryFolder folder;
  std::filesystem::create_symlink("/dev/full", folder.file("o-snare.wav"));
  const ProcessResult r = ustick({"render", kDemo, "-o", folder.file("o.wav"), "--stems", "piece"});
  expectRefusal(r, "ustick: " + folder.file("o-snare.wav"));
  EXPECT_EQ(folder.fileCount(), 1U);
}

// A walk through a long groove tells what nobody waits long for, and says how many there are.
TEST(CommandLine, VaryOfALongGrooveTellsTheFirst) {
  const TemporaryFolder folder;
  const std::string song = folder.file("long.ustick");
  std::string hits;
  for (int i = 0; i < 1984; ++i)
    hits += (i > 0 ? "," : "") + std::string("{\"at\": \"") + std::to_string(i) +
            "/8\", \"piece\": \"hat\", \"velocity\": 80}";
  writeText(song,
            "{\"format\": \"uneven-stick-song\", \"version\": 1, \"title\": \"t\", \"tempo\": "
            "[{\"at\": \"0\", \"bpm\": 60}], \"grooves\": [{\"id\": \"a\", \"name\": \"A\", "
            "\"meter\": \"4/4\", \"bars\": 64, \"grid\": \"1/32\", \"hits\": [" +
                hits + "]}]}");
  const ProcessResult r =
      ustick({"vary", song, "--groove", "a", "take", "piece=hat", "--format", "json"});
  EXPECT_EQ(r.exitCode, 0) << r.err;
  EXPECT_NE(r.err.find("1984 variants: the first 100 are told"), std::string::npos) << r.err;
  expectRefusal(ustick({"vary", song, "--groove", "a", "take", "piece=hat", "order=easiest"}),
                "ustick: take: 1984 variants of 1984 hits");
}

}  // namespace
}  // namespace uneven
