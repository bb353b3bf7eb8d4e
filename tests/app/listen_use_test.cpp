// SPDX-License-Identifier: GPL-3.0-or-later
// What is done with a take: compared, moved there, followed, laid out, heard beside the part,
// tapped along to; and a take that is played now.
#include <QCheckBox>
#include <QLabel>
#include <QPushButton>
#include <QTest>
#include <QUndoStack>

#include "app/controls/choice_field.h"
#include "app/controls/number_field.h"
#include "app/lean/lean_stage.h"
#include "app/lean/lean_view.h"
#include "app/listen/compare_card.h"
#include "app/listen/listen_stage.h"
#include "app/listen/rows_view.h"
#include "core/song/edit.h"
#include "sound/file/render_audio.h"
#include "tests/app/window_fixture.h"
#include "tests/support/invented.h"

namespace uneven::testing {
namespace {

class ListenUseTest : public WindowTest {
 protected:
  void SetUp() override {
    outputs.device = true;
    Random random(14);
    made = invent(random, 16, 2, SwingUnit::kSixteenth, 1.5);
    window->document().replace(made.song, path("song.ustick"));
    window->editing().moveCursor(Beat(0), piece::kHat);
    showStage("listen");
  }
  ListenStage& listen() { return stage<ListenStage>("listen"); }
  Transport& transport() { return window->transport(); }
  void wait() {
    ASSERT_TRUE(soon([&] {
      return !listen().listener().reading() && !listen().listener().fitting() &&
             !transport().guideDesk().reading();
    }));
    QApplication::processEvents();
  }
  void take(double late = 0) {
    Recording recording;
    recording.file = "quay take.mid";
    recording.onsets = struck(made.song, late);
    listen().listener().take(std::move(recording));
    wait();
    ASSERT_NE(listen().listener().found(), nullptr);
  }
  // The part as sound, with so much silence before it.
  void takeInSound() {
    AudioCall call;
    call.out = path("quay take.wav").toStdString();
    const auto whole = Take::ofSong(made.song);
    ASSERT_TRUE(whole);
    ASSERT_TRUE(renderAudio(files, **whole, houseSounds(), call));
    prompts.open = path("quay take.wav");
    listen().askForTake();
    wait();
    ASSERT_NE(listen().listener().found(), nullptr);
  }
  void button(const char* name) {
    QTest::mouseClick(&child<QPushButton>(name), Qt::LeftButton);
    QApplication::processEvents();
  }
  void key(Qt::Key k, Qt::KeyboardModifiers with = Qt::NoModifier) {
    QTest::keyClick(&listen().rows(), k, with);
    QApplication::processEvents();
  }
  double sounding(double seconds) {
    const double out = outputs.output->pull(static_cast<int>(seconds * kSoundRate));
    QTest::qWait(40);
    return out;
  }
  Invented made;
};

TEST_F(ListenUseTest, TheTakeGoesWithItsSong) {
  take();
  window->document().apply(QStringLiteral("title"), window->document().song());
  EXPECT_NE(listen().listener().recording(), nullptr) << "an edit of the same song";
  window->fileDesk().openDemo();
  QApplication::processEvents();
  EXPECT_EQ(listen().listener().recording(), nullptr);
}

TEST_F(ListenUseTest, MyPartIsComparedAndMovedThere) {
  listen().showSide(ListenStage::Side::kCompare);
  EXPECT_EQ(listen().compareCard().found(), nullptr);
  take();
  ASSERT_NE(listen().compareCard().found(), nullptr);
  EXPECT_LT(listen().compareCard().found()->distance, 0.3) << "it is what was played";
  // A backbeat pushed by hand.
  const auto snare = std::find_if(groove().hits.begin(), groove().hits.end(), [](const Hit& h) {
    return h.piece == piece::kSnare && h.role == Role::kAccent;
  });
  ASSERT_NE(snare, groove().hits.end());
  const HitRef ref{snare->at, snare->piece};
  Groove pushed = groove();
  pushed.hits[*indexOf(pushed, ref)].nudge = Milliseconds(-20);
  window->document().apply(QStringLiteral("pushed"), withGroove(song(), pushed));
  const SlotCompared first = listen().compareCard().found()->slots.front();
  EXPECT_EQ(first.at, ref.at);
  EXPECT_NEAR(first.late.count(), 20, 3);
  EXPECT_TRUE(child<QLabel>("compare-summary").text().contains(QStringLiteral("places differ")));
  button("move-0");
  EXPECT_NEAR(groove().hits[*indexOf(groove(), ref)].nudge.count(), 0, 3);
  window->document().undo();
  EXPECT_EQ(groove().hits[*indexOf(groove(), ref)].nudge.count(), -20);
  const double before = listen().compareCard().found()->distance;
  button("move-all");
  EXPECT_LT(listen().compareCard().found()->distance, before / 2);
}

// The picture says what the list says: mine lies beside theirs by the difference that is told.
TEST_F(ListenUseTest, MyPartIsDrawnBehindTheirs) {
  take();
  listen().showSide(ListenStage::Side::kCompare);
  QApplication::processEvents();
  const Compared* c = listen().compareCard().found();
  ASSERT_NE(c, nullptr);
  auto& rows = *listen().findChild<RowsView*>();
  const Fit& fit = *listen().listener().found();
  const std::vector<Onset>& onsets = listen().listener().recording()->onsets;
  const double pxPerMs =
      rows.shown().axis.pxPerQuarter() / window->document().tempo().quarter().count();
  std::map<PieceId, std::pair<double, int>> apart;
  int seen = 0;
  for (std::size_t i = 0; i < onsets.size(); ++i) {
    const Placed& p = fit.placed[i];
    if (!p.used) continue;
    const auto mine = rows.mineAt(p.bar, p.at, onsets[i].piece);
    if (!mine) continue;
    ++seen;
    auto& [sum, n] = apart[onsets[i].piece];
    sum += (rows.pointOf(i).x() - mine->x()) / pxPerMs;
    ++n;
  }
  EXPECT_GT(seen, 100);
  for (const auto& [piece, sum] : apart) {
    double told = 0;
    int n = 0;
    for (const SlotCompared& s : c->slots) {
      if (s.piece == piece && s.mine && s.theirs) told += s.late.count(), ++n;
    }
    ASSERT_GT(n, 0);
    EXPECT_NEAR(sum.first / sum.second, told / n, 1.0) << int{piece.value};
  }
  key(Qt::Key_N);
  key(Qt::Key_N);
  listen().showSide(ListenStage::Side::kFound);
  QApplication::processEvents();
  EXPECT_FALSE(rows.mineAt(0, Beat(0), piece::kKick)) << "only while it is compared";
}

TEST_F(ListenUseTest, StraightMineAndTheirsAreHeardInTurn) {
  take();
  listen().showSide(ListenStage::Side::kCompare);
  key(Qt::Key_3);
  EXPECT_TRUE(transport().playing());
  ASSERT_TRUE(transport().heard().groove);
  EXPECT_EQ((*transport().heard().groove)->id, groove().id);
  button("hear-straight");
  EXPECT_FALSE(transport().heard().groove);
  EXPECT_TRUE(transport().heard().straight);
  key(Qt::Key_2);
  EXPECT_TRUE(transport().heard() == Heard{});
  key(Qt::Key_3);
  listen().showSide(ListenStage::Side::kFound);
  EXPECT_TRUE(transport().heard() == Heard{}) << "only while it is compared";
}

TEST_F(ListenUseTest, PartsOfTheFeelAreChosenAndTheErrorsKept) {
  take();
  listen().showSide(ListenStage::Side::kMake);
  QTest::mouseClick(&child<QCheckBox>("take-lean"), Qt::LeftButton, {}, {8, 8});
  QTest::mouseClick(&child<QCheckBox>("take-drift"), Qt::LeftButton, {}, {8, 8});
  listen().makeFeel();
  const Feel& feel = *song().findFeel(feelInForce(song(), groove().id));
  EXPECT_NEAR(feel.swing.ratio, 1.5, 0.05);
  EXPECT_TRUE(feel.displacement.empty());
  EXPECT_FALSE(feel.drift);
  EXPECT_NE(feel.note.find("BPM"), std::string::npos) << feel.note;
}

TEST_F(ListenUseTest, TheTempoIsFollowedAsCloselyAsAskedAndTheSongLaidOut) {
  take();
  const Song before = song();
  listen().showSide(ListenStage::Side::kMake);
  choose(child<ChoiceField>("follow-by"), QStringLiteral("bar by bar"));
  listen().followTempo();
  EXPECT_GT(song().tempo.size(), 8U);
  EXPECT_LE(song().tempo.size(), 16U);
  choose(child<ChoiceField>("follow-by"), QStringLiteral("beat by beat"));
  child<NumberField>("follow-smooth").setValue(4);
  listen().followTempo();
  EXPECT_GT(song().tempo.size(), 32U);
  button("lay-out-song");
  EXPECT_EQ(song().grooves.size(), 2U) << "all bars are alike";
  ASSERT_EQ(song().arrangement.size(), 1U);
  EXPECT_EQ(song().arrangement.front().repeat, 8);
  EXPECT_EQ(groove().hits.size(), made.song.grooves.front()->hits.size());
  for (int i = 0; i < 3; ++i) window->document().undo();
  EXPECT_TRUE(song() == before);
}

TEST_F(ListenUseTest, TheRecordingPlaysBesideThePart) {
  takeInSound();
  listen().showSide(ListenStage::Side::kGuide);
  button("guide-beside");
  wait();
  ASSERT_TRUE(song().audio);
  EXPECT_EQ(song().audio->file, "quay take.wav") << "relative to the song";
  EXPECT_NEAR(song().audio->offset.count(), made.feel.displacement.at(piece::kHat).count(), 8);
  EXPECT_TRUE(transport().guide().on);
  EXPECT_EQ(child<QLabel>("guide-file").text(), QStringLiteral("quay take.wav"));
  // Saved elsewhere it is found from there.
  ASSERT_TRUE(QDir(path("")).mkpath(QStringLiteral("other")));
  ASSERT_TRUE(window->document().save(path("other/song.ustick")));
  EXPECT_EQ(song().audio->file, "../quay take.wav");
  ASSERT_TRUE(window->document().save(path("song.ustick")));
  EXPECT_EQ(song().audio->file, "quay take.wav");
  // Only the recording, then neither.
  key(Qt::Key_G, Qt::ShiftModifier);
  EXPECT_TRUE(child<QCheckBox>("guide-alone").isChecked());
  transport().play();
  sounding(0.2);
  EXPECT_GT(sounding(1), 1e-4);
  ASSERT_TRUE(transport().recordingAt(std::chrono::steady_clock::now()));
  transport().setPercent(70);
  EXPECT_GT(sounding(1), 1e-4) << "stretched";
  transport().setPercent(100);
  key(Qt::Key_G);
  sounding(0.5);
  EXPECT_GT(sounding(1), 1e-4) << "the part again";
  transport().stop();
  auto& offset = child<NumberField>("guide-offset");
  type(offset, "250");
  EXPECT_EQ(song().audio->offset.count(), 250);
  window->document().undo();
  EXPECT_NE(song().audio->offset.count(), 250);
  button("guide-away");
  EXPECT_FALSE(song().audio);
  // A song that is laid out from it has it beside it, and plays the take's own clock.
  listen().layOutSong();
  ASSERT_TRUE(song().audio);
  EXPECT_EQ(song().audio->file, "quay take.wav");
  const auto& feels = song().feels;
  EXPECT_TRUE(std::any_of(feels.begin(), feels.end(),
                          [](const Feel& f) { return f.drift && f.drift->measured; }));
}

TEST_F(ListenUseTest, AMissingRecordingIsSaidAndThePartPlays) {
  Song with = song();
  with.audio = Guide{"gone.flac", Milliseconds(0), {}};
  window->document().replace(with, path("song.ustick"));
  key(Qt::Key_G);
  wait();
  EXPECT_TRUE(status().contains(QStringLiteral("gone.flac"))) << status().toStdString();
  EXPECT_TRUE(child<QLabel>("guide-file").text().contains(QStringLiteral("cannot be read")));
  transport().play();
  sounding(0.2);
  EXPECT_GT(sounding(1), 1e-4);
}

// A key on each beat and another on bar lines, while the recording plays by itself.
TEST_F(ListenUseTest, ABeatIsTappedAlong) {
  takeInSound();
  key(Qt::Key_K);
  EXPECT_TRUE(status().contains(QStringLiteral("P plays it")));
  key(Qt::Key_P);
  ASSERT_TRUE(transport().playsRecording());
  wait();
  ASSERT_TRUE(transport().playing()) << "once it has been read";
  EXPECT_FALSE(transport().playhead()) << "of the song there is none";
  const double beat = 60 / made.bpm;
  for (int i = 0; i < 8; ++i) {
    // The clock of what is pulled is the device's: a beat more each time.
    outputs.output->pull(static_cast<int>(beat * kSoundRate));
    key(i % 4 == 3 ? Qt::Key_B : Qt::Key_K);
  }
  EXPECT_TRUE(child<QLabel>("guide-taps").text().startsWith(QStringLiteral("8 taps")));
  key(Qt::Key_P);
  EXPECT_FALSE(transport().playing());
  button("use-taps");
  wait();
  ASSERT_NE(listen().listener().found(), nullptr);
  EXPECT_NEAR(listen().listener().found()->bpm.value, made.bpm, 1);
  EXPECT_EQ(listen().listener().found()->grid.meter, (Meter{4, 4}));
  EXPECT_FALSE(child<QPushButton>("use-taps").isEnabled());
}

TEST_F(ListenUseTest, ATakeIsPlayedNow) {
  const Song before = song();
  key(Qt::Key_R);
  EXPECT_TRUE(window->playIn().taking());
  EXPECT_EQ(child<QPushButton>("play-take").text(), QStringLiteral("End the take"));
  for (int i = 0; i < 30; ++i) sounding(0.02);
  ASSERT_TRUE(soon([&] {
    sounding(0.02);
    return window->playIn().taken() >= 12;
  }));
  key(Qt::Key_R);
  wait();
  EXPECT_FALSE(window->playIn().taking());
  ASSERT_NE(listen().listener().recording(), nullptr);
  EXPECT_GE(listen().listener().recording()->onsets.size(), 12U);
  EXPECT_TRUE(song() == before) << "nothing is written";
}

TEST_F(ListenUseTest, TheTakeStandsBehindTheSticksOfLean) {
  auto& lean = stage<LeanStage>("lean");
  showStage("lean");
  EXPECT_TRUE(lean.view().scene().behind.empty());
  take();
  EXPECT_GT(lean.view().scene().behind.size(), 16U);
  const auto mine = lean.view().scene().sticks.front();
  int near = 0;
  for (const FaintStick& s : lean.view().scene().behind)
    near +=
        std::abs(s.foot.x - mine.foot.x) < 0.5 && std::abs(s.foot.y - mine.foot.y) < 0.5 ? 1 : 0;
  EXPECT_GE(near, 7) << "eight rounds of it";
  QTest::keyClick(&lean.view(), Qt::Key_R);
  EXPECT_TRUE(lean.view().scene().behind.empty());
  QTest::keyClick(&lean.view(), Qt::Key_R);
  EXPECT_FALSE(lean.view().scene().behind.empty());
}

TEST_F(ListenUseTest, OneBarIsLookedAtClosely) {
  takeInSound();
  const QPointF far = listen().rows().pointOf(40);
  key(Qt::Key_Z);
  EXPECT_TRUE(listen().rows().zoomed());
  const QImage close = listen().rows().grab().toImage();
  key(Qt::Key_Down);
  EXPECT_NE(listen().rows().grab().toImage(), close);
  EXPECT_EQ(listen().rows().currentBar(), 1);
  key(Qt::Key_Z);
  EXPECT_EQ(listen().rows().pointOf(40), far);
}

}  // namespace
}  // namespace uneven::testing
