// SPDX-License-Identifier: GPL-3.0-or-later
// What Open adds to the window.
#include "app/open/open_stage.h"
#include "app/stage/stage.h"

namespace uneven {
namespace {

QString openTr(const char* text) {
  return OpenStage::tr(text);
}

std::vector<KeyHelp> openKeys() {
  return {{openTr("left, right"),
           openTr("walk the strokes of the hats and the drawn openings; Shift: the "
                  "end of the opening")},
          {openTr("up, down"), openTr("open further or less; Shift by 1 %")},
          {openTr("O"), openTr("open or shut the stroke")},
          {openTr("F"), openTr("a stroke of the foot at the cursor, or none")},
          {openTr("Delete"), openTr("shuts, or takes a drawn opening away")},
          {openTr("W"), openTr("walks through placements: 1 2 3 mark, Enter keeps, Escape ends")},
          {openTr("mouse"),
           openTr("drag an opening's edge or end; Ctrl and drag draws an opening, Alt and "
                  "drag sets the pump's lift")}};
}

void openPictures(Photographer& photographer) {
  auto& open = static_cast<OpenStage&>(photographer.stage(QStringLiteral("open")));
  Editing& editing = photographer.editing();
  editing.moveCursor(Beat(15, 2), piece::kHat);
  photographer.take(QStringLiteral("open"));
  editing.pedal().changePedal(QStringLiteral("A slow foot"),
                              [](Pedal& pedal) { pedal.travel = Milliseconds(480); });
  open.showSide(OpenStage::Side::kFindings);
  photographer.take(QStringLiteral("open-findings"));
}

}  // namespace

StageEntry openEntry() {
  StageEntry entry;
  entry.id = QStringLiteral("open");
  entry.title = openTr("&Open");
  entry.purpose = openTr("The hats' pedal");
  entry.make = [](const Workplace& place, QWidget* parent) -> Stage* {
    return new OpenStage(place.editing, parent);
  };
  entry.keys = openKeys();
  entry.pictures = openPictures;
  return entry;
}

}  // namespace uneven
