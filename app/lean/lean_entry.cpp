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

QString leanTr(const char* text) {
  return LeanStage::tr(text);
}

std::vector<KeyHelp> leanKeys() {
  return {{leanTr("left, right"), leanTr("walk the strokes of the row")},
          {leanTr("up, down"), leanTr("walk the rows")},
          {leanTr(", ."), leanTr("earlier, later by 1 ms; Shift by 10")},
          {leanTr("S"), leanTr("held, shows straight time")},
          {leanTr("R"), leanTr("the take in Listen behind the sticks, or not")},
          {leanTr("Page Up, Page Down"), leanTr("the bars before and after")},
          {leanTr("mouse"), leanTr("drag a stick, a piece's name or a slot's point")},
          {leanTr("wheel"), leanTr("goes through the bars; Ctrl and wheel magnifies")}};
}

// Each feel, to be looked at beside the one in force.
std::vector<Found> leanFinds(StageDoor& door) {
  std::vector<Found> out;
  for (const Feel& feel : door.workplace().editing.document().song().feels) {
    out.push_back({qs(feel.name), leanTr("feel"), {}, [&door, id = feel.id] {
                     auto& lean = static_cast<LeanStage&>(door.showStage(QStringLiteral("lean")));
                     lean.showSide(LeanStage::Side::kFeels);
                     lean.view().setCompared(id);
                   }});
  }
  return out;
}

void leanPictures(Photographer& photographer) {
  auto& lean = static_cast<LeanStage&>(photographer.stage(QStringLiteral("lean")));
  Editing& editing = photographer.editing();
  editing.moveCursor(Beat(3), piece::kSnare);
  lean.view().setBehind(true);
  photographer.take(QStringLiteral("lean-recording"));
  lean.view().setBehind(false);
  photographer.take(QStringLiteral("lean"));
  lean.showSide(LeanStage::Side::kDrift);
  editing.document().apply(QStringLiteral("Settled"),
                           withFeelChanged(editing.document().song(), "towpath", [](Feel& f) {
                             f.drift = withPreset(Drift{}, driftPresets()[2]);
                           }));
  // The strip is drawn when the hand rests.
  QEventLoop rest;
  QTimer::singleShot(300, &rest, &QEventLoop::quit);
  rest.exec();
  photographer.take(QStringLiteral("lean-drift"));
  lean.showSide(LeanStage::Side::kSwing);
}

}  // namespace

StageEntry leanEntry() {
  StageEntry entry;
  entry.id = QStringLiteral("lean");
  entry.title = leanTr("&Lean");
  entry.purpose = leanTr("Swing, displacement and drift");
  entry.make = [](const Workplace& place, QWidget* parent) -> Stage* {
    return new LeanStage(place, parent);
  };
  entry.finds = leanFinds;
  entry.keys = leanKeys();
  entry.pictures = leanPictures;
  return entry;
}

}  // namespace uneven
