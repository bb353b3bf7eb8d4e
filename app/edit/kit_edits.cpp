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

void KitEdits::setMix(const QString& step, PieceId piece, MixSetting mix, Merge merge) {
  Song song = document().song();
  song.mixer[piece] = std::move(mix);
  document().apply(step, std::move(song), merge);
}

}  // namespace uneven
