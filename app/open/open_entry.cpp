// SPDX-License-Identifier: GPL-3.0-or-later
// What Open adds to the window.
#include "app/open/open_stage.h"
#include "app/open/walk_card.h"
#include "app/stage/stage.h"

namespace uneven {
namespace {

QString tr(const char* text) {
  return OpenStage::tr(text);
}

std::vector<KeyHelp> keys() {
  return {{tr("left, right"), tr("walk the strokes of the hats and the drawn openings; Shift: the "
                                 "end of the opening")},
          {tr("up, down"), tr("open further or less; Shift by 1 %")},
          {tr("O"), tr("open or shut the stroke")},
          {tr("F"), tr("a stroke of the foot at the cursor, or none")},
          {tr("Delete"), tr("shuts, or takes a drawn opening away")},
          {tr("W"), tr("walks through placements: 1 2 3 mark, Enter keeps, Escape ends")},
          {tr("mouse"), tr("drag an opening's edge or end; Ctrl and drag draws an opening, Alt and "
                           "drag sets the pump's lift")}};
}

void pictures(Photographer& photographer) {
  auto& open = static_cast<OpenStage&>(photographer.stage(QStringLiteral("open")));
  Editing& editing = photographer.editing();
  editing.moveCursor(Beat(15, 2), piece::kHat);
  photographer.take(QStringLiteral("open"));
  open.showSide(OpenStage::Side::kWalk);
  for (int i = 0; i < 3; ++i) open.walk().key(Qt::Key_Right);
  open.walk().key(Qt::Key_1);
  photographer.take(QStringLiteral("open-walk"));
  open.walk().key(Qt::Key_Escape);
  editing.pedal().changePedal(QStringLiteral("Pump"), [](Pedal& pedal) {
    pedal.pump = Pump{{8, 0}, PumpPhase::kOff, "", 0.5, {}};
  });
  photographer.take(QStringLiteral("open-pump"));
  editing.pedal().changePedal(QStringLiteral("A slow foot"), [](Pedal& pedal) {
    pedal.pump.reset();
    pedal.travel = Milliseconds(480);
  });
  open.showSide(OpenStage::Side::kFindings);
  photographer.take(QStringLiteral("open-findings"));
}

}  // namespace

StageEntry openEntry() {
  StageEntry entry;
  entry.id = QStringLiteral("open");
  entry.title = tr("&Open");
  entry.purpose = tr("The hats' pedal");
  entry.make = [](const Workplace& place, QWidget* parent) -> Stage* {
    return new OpenStage(place.editing, parent);
  };
  entry.keys = keys();
  entry.pictures = pictures;
  return entry;
}

}  // namespace uneven
