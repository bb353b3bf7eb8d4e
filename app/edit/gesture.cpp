// SPDX-License-Identifier: GPL-3.0-or-later
// Drags.
#include "app/edit/gesture.h"

namespace uneven {

SongGesture::SongGesture(Document& document)
    : document_(document), merge_{Document::newMergeKey(), false} {}

bool SongGesture::isOpen() const {
  return document_.gesture_ && document_.gesture_->key == merge_.key;
}

void SongGesture::commit() {
  if (isOpen()) document_.endGesture();
}

void SongGesture::cancel() {
  if (isOpen()) document_.cancelGesture();
}

}  // namespace uneven
