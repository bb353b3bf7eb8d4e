// SPDX-License-Identifier: GPL-3.0-or-later
// The intents of the kit.
#include "app/edit/kit_edits.h"

#include "app/edit/editing.h"

namespace uneven {

void KitEdits::setKit(const QString& step, Kit kit) {
  Song song = document().song();
  song.kit = SharedValue<Kit>(std::move(kit));
  document().apply(step, std::move(song));
}

}  // namespace uneven
