// SPDX-License-Identifier: GPL-3.0-or-later
// What Lean adds to the window.
#include <QEventLoop>
#include <QTimer>

#include "app/controls/labels.h"
#include "app/lean/lean_stage.h"
#include "app/lean/lean_view.h"
#include "app/stage/stage.h"
#include "core/perform/drift.h"

namespace uneven {
namespace {

std::vector<KeyHelp> leanKeys() {
  return {
      {LeanStage::tr("left, right"), LeanStage::tr("walk the strokes of the row")},
      {LeanStage::tr("up, down"), LeanStage::tr("walk the rows")},
      {LeanStage::tr(", ."), LeanStage::tr("earlier, later by 1 ms; Shift by 10")},
      {LeanStage::tr("S"), LeanStage::tr("held, shows straight time")},
      {LeanStage::tr("R"), LeanStage::tr("the take in Listen behind the sticks, or not")},
      {LeanStage::tr("Page Up, Page Down"), LeanStage::tr("the bars before and after")},
      {LeanStage::tr("mouse"), LeanStage::tr("drag a stick, a piece's name or a slot's point")},
      {LeanStage::tr("wheel"), LeanStage::tr("goes through the bars; Ctrl and wheel magnifies")}};
}

// Each feel, to be looked at beside the one in force.
std::vector<Found> leanFinds(StageDoor& door) {
  std::vector<Found> out;
  for (const Feel& feel : door.workplace().editing.document().song().feels) {
    out.push_back({qs(feel.name), LeanStage::tr("feel"), {}, [&door, id = feel.id] {
                     auto& lean = shown<LeanStage>(door);
                     lean.showSide(LeanStage::Side::kFeels);
                     lean.view().setCompared(id);
                   }});
  }
  return out;
}

void leanPictures(Photographer& photographer) {
  auto& lean = shown<LeanStage>(photographer);
  Editing& editing = photographer.editing();
  editing.moveCursor(Beat(3), piece::kSnare);
  lean.view().setBehind(true);
  photographer.take(QStringLiteral("lean-recording"), !lean.view().scene().behind.empty());
  lean.view().setBehind(false);
  photographer.take(QStringLiteral("lean"),
                    !lean.view().scene().rows.empty() && lean.view().scene().behind.empty());
  lean.showSide(LeanStage::Side::kDrift);
  editing.document().apply(QStringLiteral("Settled"),
                           withFeelChanged(editing.document().song(), "towpath", [](Feel& f) {
                             f.drift = withPreset(Drift{}, driftPresets()[2]);
                           }));
  // The strip is drawn when the hand rests.
  QEventLoop rest;
  QTimer::singleShot(300, &rest, &QEventLoop::quit);
  rest.exec();
  photographer.take(QStringLiteral("lean-drift"), editing.document().feel().drift.has_value());
  lean.showSide(LeanStage::Side::kSwing);
}

}  // namespace

StageEntry leanEntry() {
  StageEntry entry =
      entryOf<LeanStage>(LeanStage::tr("&Lean"), LeanStage::tr("Swing, displacement and drift"));
  entry.finds = leanFinds;
  entry.keys = leanKeys();
  entry.pictures = leanPictures;
  return entry;
}

}  // namespace uneven
