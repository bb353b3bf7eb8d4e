// SPDX-License-Identifier: GPL-3.0-or-later
// The intents of the kit.
#include "app/edit/kit_edits.h"

#include "app/edit/editing.h"
#include "core/arrange/edits.h"

namespace uneven {

void KitEdits::setKit(const QString& step, Kit kit) {
  document().apply(step, withKit(document().song(), std::move(kit)));
}

void KitEdits::setMix(const QString& step, PieceId piece, MixSetting mix, Merge merge) {
  document().apply(step, withMix(document().song(), piece, std::move(mix)), merge);
}

}  // namespace uneven
