// SPDX-License-Identifier: GPL-3.0-or-later
// `ustick measure`, and the maps that it and the others find.
#include <filesystem>

#include "tests/reference/ustick.h"

namespace uneven {
namespace {

using testing::kDemo;
using testing::ProcessResult;
using testing::readText;
using testing::runProcess;
using testing::TemporaryFolder;
using testing::ustick;
using testing::writeText;

// A song that names a map of one's own finds it in the user's folder, as the window does.
TEST(CommandLine, MapsOfOnesOwnAreFoundByTheirId) {
  const TemporaryFolder folder;
  std::filesystem::create_directories(folder.file("uneven-stick/maps"));
  std::string map = readText(SOURCE_DIR "/data/maps/house-keys.json");
  map.replace(map.find("house-keys"), 10, "mine");
  writeText(folder.file("uneven-stick/maps/any-name.json"), map);
  const std::string song = folder.file("song.ustick"), mid = folder.file("song.mid");
  std::string text = readText(kDemo);
  text.replace(text.find("\"general-midi\""), 14, "\"mine\"");
  writeText(song, text);
  const auto at = [&](std::vector<std::string> words) {
    words.insert(words.begin(),
                 {"/usr/bin/env", "XDG_DATA_HOME=" + folder.file(""), USTICK_PROGRAM});
    return runProcess(words);
  };
  const ProcessResult made = at({"render", song, "-o", mid});
  EXPECT_EQ(made.exitCode, 0) << made.err;
  EXPECT_EQ(at({"measure", mid, "--map", "mine"}).exitCode, 0);
  EXPECT_EQ(at({"render", kDemo, "-o", mid, "--map", "mine"}).exitCode, 0);
  const ProcessResult none = at({"measure", mid, "--map", "mines"});
  EXPECT_EQ(none.exitCode, 2);
  EXPECT_NE(none.err.find("house-keys, one-hat, mine"), std::string::npos) << none.err;
  std::filesystem::remove_all(folder.file("uneven-stick"));
  EXPECT_EQ(at({"render", song, "-o", folder.file("other.mid")}).exitCode, 2);
  EXPECT_FALSE(std::filesystem::exists(folder.file("other.mid")));
}

TEST(CommandLine, MeasureTellsWhatItFound) {
  const TemporaryFolder folder;
  const std::string mid = folder.file("demo.mid");
  ASSERT_EQ(ustick({"render", kDemo, "-o", mid}).exitCode, 0);
  const std::string feel = folder.file("out.feel.json"), song = folder.file("out.ustick");
  const ProcessResult told =
      ustick({"measure", mid, "--format", "json", "--feel", feel, "--song", song});
  EXPECT_EQ(told.exitCode, 0) << told.err;
  writeText(folder.file("told.json"), told.out);
  const ProcessResult read = runProcess(
      {"/usr/bin/python3", "-c",
       "import json,sys; m=json.load(open(sys.argv[1])); print(*m); print(*m['tempo']); "
       "print(*m['tempo']['marks'][0].items()); print(m['meter'], m['start_s'], m['swing']['unit'],"
       " *m['swing']); print(*m['pieces']['kick']); print(*m['slots'][0]); print(*m['drift']); "
       "print(abs(m['swing']['ratio']-1.45) < 0.03, 0 <= m['confidence'] <= 1)",
       folder.file("told.json")});
  EXPECT_EQ(read.out,
            "onsets used tempo meter start_s swing pieces slots drift confidence readings "
            "source_tempo\n"
            "bpm se marks\n('at', '0') ('bpm', 92.0)\n4/4 0.0 1/16 unit ratio se\n"
            "ms se n velocity\nat piece ms se n velocity\nclock_ms motor_ms exponent se\n"
            "True True\n");
  EXPECT_NE(readText(feel).find("uneven-stick-feel"), std::string::npos);
  EXPECT_EQ(ustick({"info", song}).exitCode, 0);
  EXPECT_EQ(ustick({"convert", mid, folder.file("again.ustick")}).exitCode, 0);
  EXPECT_EQ(ustick({"measure", mid}).exitCode, 0);
  // What cannot be: nothing is written.
  writeText(folder.file("free.csv"), "seconds\n0.1\n0.9\n4.2\n");
  for (const std::vector<std::string>& bad :
       {std::vector<std::string>{"measure", folder.file("free.csv"), "--feel",
                                 folder.file("none.json")},
        {"measure", mid, "--grid", "1/5"},
        {"measure", mid, "--bpm", "5"},
        {"measure", mid, "--meter", "x"},
        {"measure", mid, "--map", folder.file("none.map")},
        {"measure", folder.file("none.wav")}}) {
    EXPECT_EQ(ustick(bad).exitCode, 2) << bad[1] << bad.back();
  }
  EXPECT_FALSE(std::filesystem::exists(folder.file("none.json")));
  EXPECT_NE(ustick({"measure", folder.file("free.csv"), "--format", "json"})
                .out.find("\"confidence\": 0"),
            std::string::npos);
  // What nobody named is no click.
  std::string times = "seconds\n";
  for (int i = 0; i < 64; ++i) times += std::to_string(1 + 0.25 * i) + "\n";
  writeText(folder.file("steady.csv"), times);
  const std::string steady =
      ustick({"measure", folder.file("steady.csv"), "--format", "json", "--feel", feel}).out;
  EXPECT_NE(steady.find("\"other\": {\"ms\""), std::string::npos) << steady;
  EXPECT_EQ(readText(feel).find("click"), std::string::npos);
  const std::string laid = ustick({"measure", folder.file("steady.csv"), "--song", song}).err;
  EXPECT_NE(laid.find("64 strokes are of no piece"), std::string::npos) << laid;
}

// A second opinion on the beat of steady material: aubio's beat tracker (Debian: aubio-tools),
// which may hear half or double the tempo.
TEST(CommandLine, MeasureAgreesWithAnotherBeatTracker) {
  const TemporaryFolder folder;
  std::string hits;
  for (int i = 0; i < 8; ++i)
    hits += "{\"at\": \"" + std::to_string(i) + "/2\", \"piece\": \"hat\", \"velocity\": 60},";
  for (int i = 0; i < 4; ++i)
    hits += "{\"at\": \"" + std::to_string(i) + "\", \"piece\": \"kick\", \"velocity\": 110},";
  hits += R"({"at": "1", "piece": "snare", "velocity": 112}, {"at": "3", "piece": "snare",
    "velocity": 112})";
  int agree = 0;
  for (const char* bpm : {"80", "96", "104", "112", "120"}) {
    writeText(folder.file("a.ustick"),
              std::string(R"({"format": "uneven-stick-song", "version": 1, "tempo": [{"at": "0",
                "bpm": )") +
                  bpm + R"(}], "grooves": [{"id": "g", "hits": [)" + hits +
                  R"(]}], "arrangement": [{"name": "g", "groove": "g", "repeat": 16}]})");
    const std::string wav = folder.file("a.wav");
    ASSERT_EQ(ustick({"render", folder.file("a.ustick"), "-o", wav, "--rate", "44100"}).exitCode,
              0);
    writeText(folder.file("told.json"), ustick({"measure", wav, "--format", "json"}).out);
    const ProcessResult read =
        runProcess({"/usr/bin/python3", "-c",
                    "import json,statistics,subprocess,sys\n"
                    "ours=json.load(open(sys.argv[1]))['tempo']['bpm']\n"
                    "beats=[float(b) for b in subprocess.run(['aubiotrack','-i',sys.argv[2]],"
                    "capture_output=True,text=True).stdout.split()]\n"
                    "gaps=[b-a for a,b in zip(beats,beats[1:])]\n"
                    "theirs=60/statistics.median(gaps)\n"
                    "print(abs(ours-float(sys.argv[3])) < 0.05, "
                    "min(abs(ours-theirs*k) for k in (1,2,.5)) < 0.03*ours, len(beats) > 20)\n",
                    folder.file("told.json"), wav, bpm});
    EXPECT_EQ(read.out.substr(0, 4), "True") << bpm << read.err;
    agree += read.out == "True True True\n" ? 1 : 0;
  }
  // The other one takes some pulses for others.
  EXPECT_GE(agree, 4);
}

}  // namespace
}  // namespace uneven
