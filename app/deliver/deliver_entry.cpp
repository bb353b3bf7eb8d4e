// SPDX-License-Identifier: GPL-3.0-or-later
// What Deliver adds to the window.
#include "app/deliver/audio_form.h"
#include "app/deliver/deliver_stage.h"
#include "app/stage/menu_titles.h"

namespace uneven {

StageEntry deliverEntry() {
  const auto tr = [](const char* text) { return DeliverStage::tr(text); };
  StageEntry entry;
  entry.id = QStringLiteral("deliver");
  entry.title = tr("&Deliver");
  entry.purpose = tr("Write MIDI and audio files");
  entry.make = [](const Workplace& place, QWidget* parent) -> Stage* {
    return new DeliverStage(place.editing.document(), place.files, place.prompts, place.transport,
                            parent);
  };
  entry.actions = [tr](ActionTable& table, StageDoor& door) {
    table.add(
        menus::file(), tr("&Write MIDI file…"), {QKeySequence(Qt::CTRL | Qt::Key_E)},
        [&door] { static_cast<DeliverStage&>(door.showStage(QStringLiteral("deliver"))).write(); });
    table.add(
        menus::file(), tr("Write a&udio…"), {QKeySequence(Qt::CTRL | Qt::ALT | Qt::Key_E)},
        [&door] {
          static_cast<DeliverStage&>(door.showStage(QStringLiteral("deliver"))).audio().write();
        });
  };
  entry.pictures = [](Photographer& photographer) {
    photographer.stage(QStringLiteral("deliver"));
    photographer.take(QStringLiteral("deliver"));
  };
  return entry;
}

}  // namespace uneven
