// SPDX-License-Identifier: GPL-3.0-or-later
// What Open adds to the window.
#include "app/open/findings_card.h"
#include "app/open/open_stage.h"
#include "app/open/open_view.h"
#include "app/stage/stage.h"

namespace uneven {
namespace {

std::vector<KeyHelp> openKeys() {
  return {{OpenStage::tr("left, right"),
           OpenStage::tr("walk the strokes of the hats and the drawn openings; Shift: the "
                         "end of the opening")},
          {OpenStage::tr("up, down"), OpenStage::tr("open further or less; Shift by 1 %")},
          {OpenStage::tr("O"), OpenStage::tr("open or shut the stroke")},
          {OpenStage::tr("F"), OpenStage::tr("a stroke of the foot at the cursor, or none")},
          {OpenStage::tr("Delete"), OpenStage::tr("shuts, or takes a drawn opening away")},
          {OpenStage::tr("W"),
           OpenStage::tr("walks through placements: 1 2 3 mark, Enter keeps, Escape ends")},
          {OpenStage::tr("mouse"),
           OpenStage::tr("drag an opening's edge or end; Ctrl and drag draws an opening, Alt and "
                         "drag sets the pump's lift")}};
}

void openPictures(Photographer& photographer) {
  auto& open = shown<OpenStage>(photographer);
  Editing& editing = photographer.editing();
  editing.moveCursor(Beat(15, 2), piece::kHat);
  photographer.take(QStringLiteral("open"), !open.view().scene().grips.empty());
}

}  // namespace

StageEntry openEntry() {
  StageEntry entry = entryOf<OpenStage>(OpenStage::tr("&Open"), OpenStage::tr("The hats' pedal"));
  entry.keys = openKeys();
  entry.pictures = openPictures;
  return entry;
}

}  // namespace uneven
