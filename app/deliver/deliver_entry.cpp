// SPDX-License-Identifier: GPL-3.0-or-later
// What Deliver adds to the window.
#include <QTableView>

#include "app/deliver/audio_form.h"
#include "app/deliver/deliver_stage.h"
#include "app/stage/menu_titles.h"

namespace uneven {

StageEntry deliverEntry() {
  StageEntry entry = entryOf<DeliverStage>(DeliverStage::tr("&Deliver"),
                                           DeliverStage::tr("Write MIDI and audio files"));
  entry.actions = [](ActionTable& table, StageDoor& door) {
    table.add(menus::file(), DeliverStage::tr("&Write MIDI file…"),
              {QKeySequence(Qt::CTRL | Qt::Key_E)}, [&door] { shown<DeliverStage>(door).write(); });
    table.add(menus::file(), DeliverStage::tr("Write a&udio…"),
              {QKeySequence(Qt::CTRL | Qt::ALT | Qt::Key_E)},
              [&door] { shown<DeliverStage>(door).audio().write(); });
  };
  entry.pictures = [](Photographer& photographer) {
    auto& deliver = shown<DeliverStage>(photographer);
    const auto* table = deliver.findChild<QTableView*>(QStringLiteral("event-list"));
    photographer.take(QStringLiteral("deliver"),
                      table != nullptr && table->model()->rowCount() > 0);
  };
  return entry;
}

}  // namespace uneven
