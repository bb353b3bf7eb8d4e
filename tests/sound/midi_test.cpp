// SPDX-License-Identifier: GPL-3.0-or-later
// Live MIDI: the right bytes at the right moments, every note ended, a port that goes away.
#include <gtest/gtest.h>

#include "core/song/edit.h"
#include "sound/midi/input.h"
#include "sound/midi/module.h"
#include "sound/midi/ports.h"
#include "sound/play/audio_output.h"
#include "tests/sound/audio.h"
#include "tests/support/made.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

using namespace std::chrono_literals;
using testing::hitAt;
using testing::Random;
using testing::songOf;
using Bytes = std::vector<int>;

// Keeps what it gets; gone after some messages.
class Port final : public MidiSink {
 public:
  std::string name() const override { return "a port"; }
  bool send(std::span<const std::uint8_t> message) override {
    if (std::ssize(got) == goneAfter) return false;
    got.emplace_back(message.begin(), message.end());
    return true;
  }
  std::vector<Bytes> got;
  std::ptrdiff_t goneAfter = -1;
};

// What the instrument was told; a shut sound by its note.
class Told final : public Instrument {
 public:
  Sounding strike(const StrikeSound& sound, int) override {
    strokes.push_back(sound);
    return sound.note;
  }
  void shut(Sounding sounding) override { shuts.push_back(sounding); }
  void render(float* left, float* right) override {
    for (int i = 0; i < kBlock; ++i) left[i] = right[i] = 0;
  }
  void silence() override {}
  std::vector<StrikeSound> strokes;
  std::vector<Sounding> shuts;
};

const KitMap& gm() {
  return builtInKitMaps().front();
}
MidiScore::Time at(int ms) {
  return MidiScore::Time(std::chrono::milliseconds(1'000 + ms));
}

TEST(MidiScore, NotesBeginAndEndWhenDue) {
  Port port;
  MidiScore score(port, gm());
  score.add({.note = 38, .velocity = 100}, at(20));
  score.add({.note = 36, .velocity = 90}, at(10));
  EXPECT_TRUE(score.step(at(9)));
  EXPECT_TRUE(port.got.empty());
  EXPECT_TRUE(score.step(at(10)));
  EXPECT_EQ(port.got, (std::vector<Bytes>{{0x99, 36, 90}}));
  EXPECT_TRUE(score.step(at(21)));
  EXPECT_EQ(port.got.back(), (Bytes{0x99, 38, 100}));
  score.add({.note = 38, .velocity = 50}, at(40));
  EXPECT_TRUE(score.step(at(40)));
  EXPECT_EQ(port.got[2], (Bytes{0x89, 38, 64})) << "ended before it begins again";
  EXPECT_EQ(port.got[3], (Bytes{0x99, 38, 50}));
  EXPECT_TRUE(score.step(at(200)));
  EXPECT_EQ(port.got.size(), 6U) << "and all end by themselves";
}

TEST(MidiScore, OpenHatsRingUntilTheyAreShutAndThePedalIsTold) {
  Port port;
  MidiScore score(port, gm());
  score.add({.note = 46, .velocity = 80, .opening = 127, .hats = true, .rings = true}, at(0));
  EXPECT_TRUE(score.step(at(5'000)));
  EXPECT_EQ(port.got, (std::vector<Bytes>{{0xB9, 4, 0}, {0x99, 46, 80}})) << "foot up";
  score.add({.kind = QueuedStrike::Kind::kShut}, at(5'001));
  score.add({.note = 42, .velocity = 60, .opening = 0, .hats = true}, at(5'001));
  EXPECT_TRUE(score.step(at(5'001)));
  EXPECT_EQ(port.got[2], (Bytes{0x89, 46, 64}));
  EXPECT_EQ(port.got[3], (Bytes{0xB9, 4, 127}));
  EXPECT_EQ(port.got[4], (Bytes{0x99, 42, 60}));
}

TEST(MidiScore, SilenceEndsAllAndForgetsWhatWasComing) {
  Port port;
  MidiScore score(port, gm());
  score.add({.note = 46, .velocity = 80, .hats = true, .rings = true}, at(0));
  score.add({.note = 36, .velocity = 80}, at(500));
  EXPECT_TRUE(score.step(at(0)));
  score.add({.kind = QueuedStrike::Kind::kSilence}, MidiScore::Time::min());
  EXPECT_TRUE(score.step(at(1)));
  EXPECT_EQ(port.got[port.got.size() - 2], (Bytes{0x89, 46, 64}));
  EXPECT_EQ(port.got.back(), (Bytes{0xB9, 123, 0}));
  const std::size_t before = port.got.size();
  EXPECT_TRUE(score.step(at(1'000)));
  EXPECT_EQ(port.got.size(), before);
}

// A player on the machine's clock, and the module: as in the application without any device.
// Whether something comes to be that only takes its time: a loaded machine takes longer.
template <class What>
bool comes(What what) {
  for (int i = 0; i < 3'000 && !what(); ++i) std::this_thread::sleep_for(10ms);
  return what();
}

// The worst of the distances between strokes that are written a thirty-second apart, in s.
void playThePart(double& worst) {
  std::vector<Hit> hits;
  for (int i = 0; i < 16; ++i) hits.push_back(hitAt(Beat(i, 8), piece::kSnare, 40 + i));
  Hit open = hitAt(Beat(1), piece::kHat, 90);
  open.open = 0.8;
  hits.push_back(open);
  const Result<SharedTake> take = Take::ofSong(songOf(hits));
  auto instrument = std::make_unique<Told>();
  Told& told = *instrument;
  Player player(std::move(instrument));
  SimulatedModule module(gm(), houseKit(), houseSounds(), &player);
  {
    const SilentOutput output(player);
    player.setQueued(true);
    player.setHeardFromPort(true);
    const LiveMidi live(player, module.input(), gm());
    Wish wish;
    ClickPlan click;
    click.unit = ClickUnit::kQuarters;
    wish.programme = std::make_shared<const Programme>(
        programmeOf(**take, houseSounds(), {}, click, std::nullopt, &gm()));
    wish.start = 1;
    player.wish(wish);
    EXPECT_TRUE(comes([&] { return module.heard().size() == 17; }));
    std::this_thread::sleep_for(300ms);  // the last click
    EXPECT_GT(module.soundingNotes(), 0) << "the hats ring";
    wish.programme = nullptr;
    player.wish(wish);
    EXPECT_TRUE(comes([&] { return module.soundingNotes() == 0; })) << "all notes off";
    EXPECT_FALSE(live.gone());
  }
  const auto heard = module.heard();
  ASSERT_EQ(heard.size(), 17U);
  EXPECT_EQ(told.strokes.size(), 17U + 3U) << "each stroke once, and the clicks besides";
  EXPECT_EQ(module.strayBytes(), 0);
  std::vector<SimulatedModule::Note> snares;
  for (const auto& note : heard) {
    if (note.note == 38) snares.push_back(note);
    EXPECT_TRUE(note.note != 46 || note.pedal == 26) << "80 % open of 127 down";
  }
  ASSERT_EQ(snares.size(), 16U);
  worst = 0;
  for (std::size_t i = 1; i < 16; ++i) {
    EXPECT_EQ(snares[i].velocity, 40 + static_cast<int>(i));
    worst = std::max(worst, std::abs(snares[i].seconds - snares[i - 1].seconds - 0.0625));
  }
}

TEST(LiveMidi, TheModuleHearsThePartInTime) {
  constexpr double kLate = 0.03;
  double worst = 1;
  // A machine that does other things may be late once.
  for (int tries = 0; tries < 5 && worst >= kLate && !HasFailure(); ++tries) playThePart(worst);
  EXPECT_LT(worst, kLate) << "a thirty-second is 62.5 ms";
}

TEST(Module, PlaysTheHouseKitFromBytesAlone) {
  auto instrument = std::make_unique<Told>();
  Told& told = *instrument;
  Player player(std::move(instrument));
  SimulatedModule module(gm(), houseKit(), houseSounds(), &player);
  const auto input = module.input();
  const auto send = [&](const std::vector<std::uint8_t>& message) {
    EXPECT_TRUE(input->send(message));
    float left[kBlock], right[kBlock];
    player.pull(left, right, kBlock);
  };
  const auto noteOf = [](PieceId piece, StrokeKind stroke, double opening) {
    return rowFor(houseSounds(), houseKit()[piece], stroke, opening)->note;
  };
  send({0x99, 38, 101});
  ASSERT_EQ(told.strokes.size(), 1U);
  EXPECT_EQ(told.strokes[0].note, noteOf(piece::kSnare, StrokeKind::kNormal, 0));
  EXPECT_EQ(told.strokes[0].velocity, 101);
  // The pedal says how far open: 26 of 127 down is four fifths up.
  send({0xB9, 4, 26});
  send({0x99, 46, 90});
  const int open = noteOf(piece::kHat, StrokeKind::kNormal, 0.795);
  EXPECT_EQ(told.strokes.back().note, open);
  EXPECT_TRUE(told.shuts.empty());
  send({0x89, 38, 64});
  EXPECT_TRUE(told.shuts.empty()) << "the snare's end shuts no hats";
  send({0x89, 46, 64});
  EXPECT_EQ(told.shuts, std::vector<Instrument::Sounding>{open});
  send({0x99, 46, 90});
  send({0x99, 44, 70});
  EXPECT_EQ(told.shuts.size(), 2U) << "the foot shuts them";
  send({0x99, 5, 70});
  EXPECT_EQ(told.strokes.size(), 4U) << "a note of nothing is heard and not played";
  EXPECT_EQ(module.count(), 5U);
}

TEST(LiveMidi, APortThatGoesAwayIsKnownAndNobodyWaits) {
  Player player(std::make_unique<SilentInstrument>());
  const SilentOutput output(player);
  player.setQueued(true);
  auto port = std::make_unique<Port>();
  port->goneAfter = 2;
  const LiveMidi live(player, std::move(port), gm());
  Random random(2);
  const Result<SharedTake> take =
      Take::ofSong(songOf({hitAt(0, piece::kKick), hitAt(Beat(1, 4), piece::kKick)}));
  Wish wish;
  wish.programme = std::make_shared<const Programme>(
      programmeOf(**take, houseSounds(), {}, {}, Span{Moment(0), Moment(250'000'000)}, &gm()));
  wish.start = 1;
  player.wish(wish);
  for (int i = 0; i < 100 && !live.gone(); ++i) std::this_thread::sleep_for(20ms);
  EXPECT_TRUE(live.gone());
  EXPECT_TRUE(player.state().playing);
}

// The pedal's controller says how far open the hats are; before it has moved the note's zone does.
TEST(NoteReader, HearsThePedal) {
  const KitMap& map = *builtInKitMap("general-midi");
  const Kit kit = *blankSong().kit;
  NoteReader reader;
  const auto note = [&](int number) {
    return reader.read({std::chrono::steady_clock::now(), number, 90}, map, kit);
  };
  const auto pedal = [&](int value) {
    NoteIn in{std::chrono::steady_clock::now(), 4, value};
    in.controller = 4;
    EXPECT_FALSE(reader.read(in, map, kit));
  };
  EXPECT_GT(note(46)->opening, 0.1);
  EXPECT_EQ(note(42)->opening, 0);
  pedal(127);
  EXPECT_EQ(note(46)->opening, 0) << "the foot is down";
  pedal(0);
  EXPECT_EQ(note(42)->opening, 1);
  pedal(64);
  EXPECT_NEAR(note(42)->opening, 63 / 127.0, 1e-9);
  EXPECT_EQ(note(38)->piece, piece::kSnare);
  EXPECT_EQ(note(38)->opening, 0);
  NoteIn other{std::chrono::steady_clock::now(), 1, 100};
  other.controller = 1;  // another wheel
  EXPECT_FALSE(reader.read(other, map, kit));
  EXPECT_NEAR(note(42)->opening, 63 / 127.0, 1e-9);
  EXPECT_EQ(reader.unknown(), 0);
  EXPECT_FALSE(note(2));
  EXPECT_EQ(reader.unknown(), 1);
}

TEST(MidiPorts, WithoutASequencerItIsSaid) {
  const auto opened = openMidiOutput("no such port");
  ASSERT_FALSE(opened);
  EXPECT_EQ(opened.error().code, ErrorCode::kNotFound);
  for (const std::string& name : midiOutputs()) EXPECT_FALSE(name.empty());
}

}  // namespace
}  // namespace uneven
