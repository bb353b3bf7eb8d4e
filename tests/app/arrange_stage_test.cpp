// SPDX-License-Identifier: GPL-3.0-or-later
// The Arrange stage under mouse and keys: a whole piece built by keyboard alone, sections dragged,
// tempo drawn, bars opened where the song plays them, fills heard before they are taken.
#include <QClipboard>
#include <QLabel>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QTest>
#include <QUndoStack>

#include "app/arrange/arrange_stage.h"
#include "app/arrange/bars_row.h"
#include "app/arrange/fill_card.h"
#include "app/arrange/strip_view.h"
#include "app/controls/choice_field.h"
#include "app/controls/labels.h"
#include "app/play/transport.h"
#include "app/vary/vary_stage.h"
#include "core/arrange/form.h"
#include "core/midi/render.h"
#include "core/midi/smf.h"
#include "core/voice/kit_map.h"
#include "tests/app/window_fixture.h"

namespace uneven::testing {
namespace {

class ArrangeTest : public WindowTest {
 protected:
  void SetUp() override {
    outputs.device = true;
    window->fileDesk().openPiece();
    showStage("arrange");
    QApplication::processEvents();
  }
  ArrangeStage& arrange() { return stage<ArrangeStage>("arrange"); }
  Arranging& arranging() { return arrange().arranging(); }
  StripView& strip() { return arrange().strip(); }
  void key(Qt::Key k, Qt::KeyboardModifiers with = Qt::NoModifier) {
    QTest::keyClick(&strip(), k, with);
    QApplication::processEvents();
  }
  void button(const char* name) {
    QTest::mouseClick(&child<QPushButton>(name), Qt::LeftButton);
    QApplication::processEvents();
  }
  void set(const char* name, const QString& text) {
    auto& field = child<QLineEdit>(name);
    field.setFocus();
    field.selectAll();
    if (text.isEmpty()) QTest::keyClick(&field, Qt::Key_Delete);
    QTest::keyClicks(&field, text);
    QTest::keyClick(&field, Qt::Key_Return);
    QApplication::processEvents();
  }
  void pick(const char* name, const QString& word) {
    auto& field = child<ChoiceField>(name);
    const int at = field.findText(word);
    ASSERT_GE(at, 0) << name << " has no " << word.toStdString();
    field.setFocus();
    for (int i = 0; i < field.count() && field.currentIndex() != at; ++i)
      QTest::keyClick(&field, field.currentIndex() < at ? Qt::Key_Down : Qt::Key_Up);
    EXPECT_EQ(field.currentText(), word);
    QApplication::processEvents();
  }
  void typeForm(const QString& text) {
    auto& form = child<QPlainTextEdit>("song-form");
    form.setFocus();
    form.selectAll();
    QTest::keyClicks(&form, text);
    QTest::keyClick(&form, Qt::Key_Return);
    QApplication::processEvents();
  }
  const StripSection& shape(std::size_t section) {
    for (const StripSection& s : strip().strip().sections) {
      if (s.section == section) return s;
    }
    ADD_FAILURE() << "section " << section << " is not in sight";
    return strip().strip().sections.front();
  }
  QPoint middle(std::size_t section) {
    const StripSection& s = shape(section);
    return QPointF((s.left + s.right) / 2, strip().strip().shapes.bottom - 20).toPoint();
  }
  void dragStrip(QPoint from, QPoint to) {
    QTest::mousePress(&strip(), Qt::LeftButton, {}, from);
    QTest::mouseMove(&strip(), (from + to) / 2);
    QTest::mouseMove(&strip(), to);
    QTest::mouseRelease(&strip(), Qt::LeftButton, {}, to);
    QApplication::processEvents();
  }
  QString playsOf(const Section& s) {
    QStringList out;
    for (const std::string& id : s.pass()) out << qs(song().findGroove(id)->name);
    return out.join(QStringLiteral(", "));
  }
};

TEST_F(ArrangeTest, AWholePieceIsBuiltByKeyboardAlone) {
  const Song wanted = song();
  Song bare = wanted;
  bare.arrangement = {};
  Section only;
  only.name = "Drift";
  only.groove = "drift";
  bare.arrangement.push_back(only);
  bare.tempo.resize(1);
  bare.tempo[0].ramp = false;
  ASSERT_TRUE(window->document().apply(QStringLiteral("Bare"), bare));
  arrange().showSide(ArrangeStage::Side::kForm);
  QStringList form;
  for (const Section& s : wanted.arrangement)
    form << qs(song().findGroove(s.groove)->name.find(',') == std::string::npos
                   ? song().findGroove(s.groove)->name
                   : s.groove);
  typeForm(form.join(QStringLiteral(", ")));
  ASSERT_EQ(song().arrangement.size(), wanted.arrangement.size()) << status().toStdString();
  key(Qt::Key_Home);
  for (const Section& s : wanted.arrangement) {
    arrange().showSide(ArrangeStage::Side::kSection);
    set("section-name", qs(s.name));
    if (!s.grooves.empty()) set("section-plays", playsOf(s));
    for (int i = 1; i < s.repeat; ++i) key(Qt::Key_Plus);
    for (int i = 0; i < std::abs(s.levelDb); ++i) key(s.levelDb < 0 ? Qt::Key_Down : Qt::Key_Up);
    if (s.levelDb != std::round(s.levelDb)) set("section-level", QString::number(s.levelDb));
    if (s.toLevelDb) set("section-end-level", QString::number(*s.toLevelDb));
    QStringList mute;
    for (const std::string& word : s.mute) mute << qs(word);
    if (!mute.isEmpty()) set("section-mute", mute.join(QStringLiteral(", ")));
    if (!s.swap.empty()) pick("section-ride-hand", QStringLiteral("Ride"));
    if (s.morph != Beat(0)) set("section-morph", QString::number(s.morph.toDouble()));
    if (s.fill) {
      arrange().showSide(ArrangeStage::Side::kFill);
      const QString name = qs(song().findGroove(s.fill->groove)->name);
      const bool several = s.fill->grooves.size() > 1;
      pick("fill-source", several ? name.section(QStringLiteral(", "), -1) : name);
      set("fill-beats", qs(s.fill->beats.toString()));
      set("fill-every", QString::number(s.fill->every));
      pick("fill-another", several ? QStringLiteral("yes") : QStringLiteral("no"));
      pick("fill-after", s.fill->after == FillAfter::kCrash ? QStringLiteral("Crash and kick")
                                                            : QStringLiteral("Nothing"));
      QTest::keyClick(&child<QPushButton>("fill-take"), Qt::Key_Space);
    }
    key(Qt::Key_Right);
  }
  arrange().showSide(ArrangeStage::Side::kTempo);
  const std::vector<Beat> starts = sectionStarts(song());
  for (auto mark = wanted.tempo.rbegin(); mark != wanted.tempo.rend(); ++mark) {
    const auto at = std::find(starts.begin(), starts.end(), mark->at);
    ASSERT_NE(at, starts.end());
    key(Qt::Key_Home);
    for (auto i = starts.begin(); i != at; ++i) key(Qt::Key_Right);
    const QString relation = qs(mark->relation);
    set("section-bpm", QString::number(mark->bpm.value));
    if (mark->ramp) pick("section-ramp", QStringLiteral("evenly to the next"));
  }
  // Relations go by the tempo before them, which stands now.
  for (std::size_t i = 0; i < wanted.tempo.size(); ++i) {
    if (wanted.tempo[i].relation.empty()) continue;
    key(Qt::Key_Home);
    for (const Beat start : starts) {
      if (start == wanted.tempo[i].at) break;
      key(Qt::Key_Right);
    }
    set("section-relation", qs(wanted.tempo[i].relation));
  }
  EXPECT_EQ(song().tempo, wanted.tempo);
  ASSERT_EQ(song().arrangement.size(), wanted.arrangement.size());
  for (std::size_t i = 0; i < wanted.arrangement.size(); ++i)
    EXPECT_EQ(song().arrangement[i], wanted.arrangement[i]) << i << wanted.arrangement[i].name;
  EXPECT_EQ(song().grooves.size(), wanted.grooves.size());
}

TEST_F(ArrangeTest, ByMouseASectionIsMovedRepeatedAndMadeLouder) {
  const std::vector<Section> before = song().arrangement;
  const int steps = window->document().undoStack().count();
  // Verse, the fifth, behind the chorus.
  dragStrip(middle(4), middle(5));
  EXPECT_EQ(song().arrangement[5].name, before[4].name);
  EXPECT_EQ(arranging().section(), 5U);
  const StripSection chorus = shape(4);
  const double pass = (chorus.right - chorus.left) / before[5].repeat;
  const QPoint edge = QPointF(chorus.right, strip().strip().shapes.bottom - 12).toPoint();
  dragStrip(edge, edge + QPoint(static_cast<int>(2.1 * pass), 0));
  EXPECT_EQ(song().arrangement[4].repeat, before[5].repeat + 2);
  const StripSection longer = shape(4);
  const QPoint top =
      QPointF(longer.left + 0.25 * (longer.right - longer.left), longer.leftTop).toPoint();
  dragStrip(top, top + QPoint(0, 40));
  EXPECT_LT(song().arrangement[4].levelDb, -2);
  EXPECT_EQ(window->document().undoStack().count(), steps + 3);  // each drag a step
  for (int i = 0; i < 3; ++i) window->document().undo();
  EXPECT_EQ(song().arrangement, before);
  // A drag that is given up leaves nothing.
  QTest::mousePress(&strip(), Qt::LeftButton, {}, edge);
  QTest::mouseMove(&strip(), edge + QPoint(90, 0));
  key(Qt::Key_Escape);
  QTest::mouseRelease(&strip(), Qt::LeftButton, {}, edge + QPoint(90, 0));
  EXPECT_EQ(song().arrangement, before);
}

TEST_F(ArrangeTest, ANameThatIsWiderThanItsSectionStandsOnIt) {
  const auto inkAbove = [&](const StripSection& s) {
    const QImage image = strip().grab().toImage();
    int rows = 0;
    for (int y = qCeil(strip().strip().shapes.top); y < std::min(s.leftTop, s.rightTop) - 3; ++y) {
      bool ink = false;
      for (int x = qCeil(s.left); x < s.right; ++x)
        ink = ink || image.pixelColor(x, y).value() < 90;
      rows += ink ? 1 : 0;
    }
    return rows;
  };
  const auto& sections = strip().strip().sections;
  const auto [narrow, wide] = std::minmax_element(
      sections.begin(), sections.end(),
      [](const auto& a, const auto& b) { return a.right - a.left < b.right - b.left; });
  const std::size_t section = narrow->section;
  EXPECT_EQ(inkAbove(*wide), 0);
  EXPECT_GT(inkAbove(*narrow), 20);
  Song song = this->song();
  song.arrangement[section].name = "I";
  ASSERT_TRUE(window->document().apply(QStringLiteral("Name"), song));
  QApplication::processEvents();
  EXPECT_GT(inkAbove(shape(section)), 0);
  EXPECT_LT(inkAbove(shape(section)), 12);
}

TEST_F(ArrangeTest, TheTempoIsDrawn) {
  const auto point = [&](std::size_t mark) {
    for (const StripTempo& t : strip().strip().tempos) {
      if (t.mark == mark) return QPointF(t.point.x, t.point.y).toPoint();
    }
    return QPoint();
  };
  const Song before = song();
  ASSERT_EQ(before.tempo[2].bpm.value, 138);
  dragStrip(point(2), point(2) + QPoint(0, 12));
  EXPECT_LT(song().tempo[2].bpm.value, 134);
  EXPECT_EQ(song().tempo[2].at, before.tempo[2].at);
  // A double click on the line sets a point, on a point takes it away.
  const QPoint on((point(1).x() + point(2).x()) / 2, point(1).y());
  QTest::mouseDClick(&strip(), Qt::LeftButton, {}, on);
  ASSERT_EQ(song().tempo.size(), before.tempo.size() + 1);
  QTest::mouseDClick(&strip(), Qt::LeftButton, {}, point(2));
  EXPECT_EQ(song().tempo.size(), before.tempo.size());
}

TEST_F(ArrangeTest, EnterOpensTheBarWhereTheSongPlaysIt) {
  key(Qt::Key_End);
  for (int i = 0; i < 3; ++i) key(Qt::Key_Left);
  ASSERT_EQ(arranging().chosen().name, "Chorus again");
  auto& bars = arrange().bars();
  EXPECT_TRUE(bars.differs(1));  // with a fill
  EXPECT_FALSE(bars.differs(2));
  QTest::keyClick(&bars, Qt::Key_Right);
  QTest::keyClick(&bars, Qt::Key_Right);
  QTest::keyClick(&bars, Qt::Key_Return);
  EXPECT_TRUE(stage<Stage>("strike").isVisible());
  const Document& document = window->document();
  ASSERT_TRUE(document.at());
  EXPECT_EQ(document.at()->pass, 2);
  EXPECT_EQ(document.grooveId(), "weir");
  EXPECT_EQ(document.atText(), QStringLiteral("Chorus again, 3 of 4"));
  EXPECT_NEAR(60e6 / document.tempo().usPerQuarter, 92, 0.01);
  const Beat here = document.start();
  press(Qt::Key_PageDown, Qt::ControlModifier | Qt::ShiftModifier);
  EXPECT_EQ(document.at()->pass, 3);
  EXPECT_EQ(document.start(), here + Beat(8));
  press(Qt::Key_PageDown, Qt::ControlModifier | Qt::ShiftModifier);
  EXPECT_EQ(document.atText(), QStringLiteral("High water, 1 of 4"));
  // The section goes, and with it the place.
  showStage("arrange");
  EXPECT_EQ(arranging().chosen().name, "High water");
  key(Qt::Key_Delete);
  EXPECT_NE(song().sections()[arranging().section()].name, "High water");
  window->document().undo();
  EXPECT_EQ(document.atText(), QStringLiteral("High water, 1 of 4"));
}

TEST_F(ArrangeTest, AFillIsHeardBeforeItIsTaken) {
  arranging().choose(4);
  arrange().showSide(ArrangeStage::Side::kFill);
  const Song before = song();
  pick("fill-source", QStringLiteral("Growing"));
  ASSERT_TRUE(arrange().fills().preview());
  window->transport().setRange(Transport::Range::kSong);
  EXPECT_TRUE(child<QLabel>("fill-says").text().contains(QStringLiteral("playable")));
  button("fill-hear");
  EXPECT_TRUE(arrange().hearsFill());
  ASSERT_TRUE(window->transport().heard().groove);
  EXPECT_EQ((*window->transport().heard().groove)->hits, arrange().fills().preview()->hits);
  EXPECT_EQ(song(), before);
  const auto range = Transport::Range::kSong;
  button("fill-hear");
  EXPECT_FALSE(window->transport().heard().groove);
  EXPECT_EQ(window->transport().range(), range) << "as before";
  EXPECT_FALSE(window->transport().playing());
  button("fill-take");
  EXPECT_NE(song().arrangement[4].fill->groove, before.arrangement[4].fill->groove);
  window->document().undo();
  EXPECT_EQ(song(), before);
  button("fill-none");
  EXPECT_FALSE(song().arrangement[4].fill);
}

TEST_F(ArrangeTest, KeysSplitJoinDoubleAndWriteOut) {
  key(Qt::Key_Home);
  for (int i = 0; i < 10; ++i) key(Qt::Key_Right);
  ASSERT_EQ(arranging().chosen().name, "High water");
  const std::size_t count = song().arrangement.size();
  key(Qt::Key_S);
  EXPECT_EQ(song().arrangement.size(), count + 1);
  EXPECT_EQ(song().arrangement[10].repeat, 2);
  key(Qt::Key_Left);
  key(Qt::Key_J);
  EXPECT_EQ(song().arrangement.size(), count);
  EXPECT_EQ(song().arrangement[10].repeat, 4);
  key(Qt::Key_D);
  EXPECT_EQ(song().arrangement.size(), count + 1);
  key(Qt::Key_Left, Qt::AltModifier);
  window->document().undo();
  window->document().undo();
  const std::size_t grooves = song().grooves.size();
  key(Qt::Key_W);
  EXPECT_GT(song().grooves.size(), grooves);
  button("song-fold");
  EXPECT_LT(song().grooves.size(), grooves + 4);
  // What cannot be is said and changes nothing.
  const Song before = song();
  key(Qt::Key_Home);
  key(Qt::Key_J);
  EXPECT_TRUE(status().contains(QStringLiteral("cannot be one section"))) << status().toStdString();
  EXPECT_EQ(song(), before);
  set("section-plays", QStringLiteral("drift x600, drift x600"));
  EXPECT_TRUE(status().contains(QStringLiteral("1200 grooves in turn"))) << status().toStdString();
  EXPECT_EQ(song(), before);
}

TEST_F(ArrangeTest, TemplatesAndTheFormAreOneStep) {
  arrange().showSide(ArrangeStage::Side::kForm);
  arranging().choose(5);
  const int steps = window->document().undoStack().count();
  pick("template-choice", QStringLiteral("Half time"));
  button("template-do");
  EXPECT_EQ(window->document().undoStack().count(), steps + 1);
  EXPECT_EQ(arranging().chosen().repeat, 2);
  typeForm(QStringLiteral("Verse 8 + fill, Nothing 4"));
  EXPECT_TRUE(status().contains(QStringLiteral("item 2"))) << status().toStdString();
  EXPECT_EQ(window->document().undoStack().count(), steps + 1);
  typeForm(QStringLiteral("Verse 8 + fill, Chorus 8"));
  EXPECT_EQ(song().arrangement.size(), 2U);
  // Undo is the song's, in the text as well.
  window->activateWindow();
  QTest::keyClick(&child<QPlainTextEdit>("song-form"), Qt::Key_Z, Qt::ControlModifier);
  EXPECT_GT(song().arrangement.size(), 2U);
  window->document().redo();
  (void)arrange().copy();
  EXPECT_EQ(QGuiApplication::clipboard()->text(), QStringLiteral("Verse 8 + fill, Chorus 8"));
}

TEST_F(ArrangeTest, OneKeyPutsWhatIsAtHandIntoTheSong) {
  const std::size_t count = song().arrangement.size();
  showStage("strike");
  window->document().chooseGroove("weir");
  press(Qt::Key_A, Qt::ControlModifier | Qt::ShiftModifier);
  ASSERT_EQ(song().arrangement.size(), count + 1);
  EXPECT_EQ(song().arrangement.back().groove, "weir");
  showStage("vary");
  ASSERT_TRUE(soon([&] { return stage<VaryStage>("vary").walker().count() > 0; }));
  press(Qt::Key_A, Qt::ControlModifier | Qt::ShiftModifier);
  ASSERT_EQ(song().arrangement.size(), count + 2);
  EXPECT_EQ(song().findGroove(song().arrangement.back().groove)->core, "weir");
}

// A piece that is displaced and struck no more: its field goes when 0 is typed into it.
TEST_F(ArrangeTest, AFieldMayTakeItsOwnRowAway) {
  Song song = window->document().song();
  song.feels[0].displacement[piece::kCowbell] = Milliseconds(5);
  window->document().apply(QStringLiteral("A cowbell that leans"), song);
  showStage("strike");
  QApplication::processEvents();
  set("displace-cowbell", QStringLiteral("0"));
  EXPECT_FALSE(this->song().feels[0].displacement.contains(piece::kCowbell));
  EXPECT_EQ(window->findChild<QLineEdit*>("displace-cowbell"), nullptr);
}

TEST_F(ArrangeTest, AMidiFilesFrameIsLaidOut) {
  const Result<Rendering> rendering =
      render(song(), *builtInKitMap("general-midi"), RenderOptions{});
  ASSERT_TRUE(rendering);
  const Result<std::string> bytes = writeSmf(rendering->sequence);
  ASSERT_TRUE(bytes);
  const QString file = path("band.mid");
  ASSERT_TRUE(files.writeNew(file.toStdString(), *bytes, std::nullopt));
  const Song before = song();
  arrange().layOutFrame(file);
  ASSERT_EQ(song().arrangement.size(), before.arrangement.size());
  for (std::size_t i = 0; i < before.arrangement.size(); ++i)
    EXPECT_EQ(song().arrangement[i].name, before.arrangement[i].name);
  EXPECT_EQ(sectionStarts(song()), sectionStarts(before));
  const TempoMap was = before.tempoMap(), is = song().tempoMap();
  for (int q = 0; q < 250; q += 7)
    EXPECT_NEAR(is.msAt(Quarters(q)).count(), was.msAt(Quarters(q)).count(), 1.0) << q;
  // One that is none is said, and nothing changes.
  const Song laid = song();
  arrange().layOutFrame(path("nothing.mid"));
  EXPECT_EQ(song(), laid);
}

}  // namespace
}  // namespace uneven::testing
