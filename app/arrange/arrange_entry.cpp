// SPDX-License-Identifier: GPL-3.0-or-later
// What Arrange adds to the window.
#include <QEventLoop>
#include <QTimer>

#include "app/arrange/arrange_stage.h"
#include "app/arrange/bars_row.h"
#include "app/arrange/fill_card.h"
#include "app/arrange/strip_view.h"
#include "app/controls/labels.h"
#include "app/stage/menu_titles.h"
#include "app/stage/stage.h"

namespace uneven {
namespace {

QString menu() {
  return ArrangeStage::tr("&Song");
}

void arrangeActions(ActionTable& table, StageDoor& door) {
  const auto add = [&](const QString& name, const QString& viewKey, auto run) {
    table.add(menu(), name, {}, [&door, run] { run(shown<ArrangeStage>(door)); }).viewKey = viewKey;
  };
  using Stage = ArrangeStage;
  add(Stage::tr("&Split here"), Stage::tr("S"), [](Stage& s) { s.arranging().split(); });
  add(Stage::tr("&Join with the next"), Stage::tr("J"), [](Stage& s) { s.arranging().join(); });
  add(Stage::tr("&Duplicate the section"), Stage::tr("D"),
      [](Stage& s) { s.arranging().duplicate(); });
  add(Stage::tr("D&elete the section"), Stage::tr("Delete"),
      [](Stage& s) { s.arranging().remove(); });
  add(Stage::tr("&Write its bars out"), Stage::tr("W"), [](Stage& s) { s.arranging().writeOut(); });
  add(Stage::tr("&Fold the song"), {}, [](Stage& s) { s.arranging().fold(); });
  add(Stage::tr("S&mooth the seam"), {},
      [](Stage& s) { s.arranging().smooth(StripView::kJumpMost); });
  add(Stage::tr("&Hear the fill"), {}, [](Stage& s) {
    s.showSide(Stage::Side::kFill);
    s.hearFill();
  });
  add(Stage::tr("&Copy the form as text"), {}, [](Stage& s) { (void)s.copy(); });
  add(Stage::tr("F&rame from a MIDI file…"), {}, [](Stage& s) { s.askFrame(); });
}

std::vector<KeyHelp> arrangeKeys() {
  return {
      {ArrangeStage::tr("Left, Right"), ArrangeStage::tr("chooses a section; with Alt moves it")},
      {ArrangeStage::tr("Up, Down"),
       ArrangeStage::tr("its level by 1 dB; with Shift that of its end")},
      {ArrangeStage::tr("+, −"), ArrangeStage::tr("once more or less often")},
      {ArrangeStage::tr("Enter"),
       ArrangeStage::tr("opens the chosen bar in Strike, at that place")},
      {ArrangeStage::tr("F"), ArrangeStage::tr("a fill at its end, or none")},
      {ArrangeStage::tr("X, Z, 0"),
       ArrangeStage::tr("closer, wider, the whole song; Ctrl and wheel")},
      {ArrangeStage::tr("mouse"),
       ArrangeStage::tr("drag a section, its right edge, its upper edge, a point of the tempo")}};
}

// Each section by its name.
std::vector<Found> arrangeFinds(StageDoor& door) {
  std::vector<Found> out;
  const std::vector<Section> sections = door.workplace().editing.document().song().sections();
  for (std::size_t i = 0; i < sections.size() && i < 200; ++i) {
    out.push_back({qs(sections[i].name), ArrangeStage::tr("section"), {}, [&door, i] {
                     shown<ArrangeStage>(door).arranging().choose(i);
                   }});
  }
  return out;
}

void arrangePictures(Photographer& photographer) {
  auto& arrange = shown<ArrangeStage>(photographer);
  photographer.openPiece();
  Arranging& song = arrange.arranging();
  song.choose(std::min<std::size_t>(5, song.count() - 1));
  const SongStrip& strip = arrange.strip().strip();
  photographer.take(QStringLiteral("arrange"), strip.sections.size() == song.count() &&
                                                   strip.joints.size() > 1 &&
                                                   song.song().tempo.front().ramp);
  arrange.showSide(ArrangeStage::Side::kFill);
  photographer.take(QStringLiteral("arrange-fill"), arrange.fills().preview().has_value());
  arrange.showSide(ArrangeStage::Side::kSection);
  photographer.openDemo();
}

}  // namespace

StageEntry arrangeEntry() {
  StageEntry entry = entryOf<ArrangeStage>(
      ArrangeStage::tr("&Arrange"), ArrangeStage::tr("Sections, fills, tempo: the whole song"));
  entry.actions = arrangeActions;
  entry.finds = arrangeFinds;
  entry.keys = arrangeKeys();
  entry.pictures = arrangePictures;
  return entry;
}

}  // namespace uneven
