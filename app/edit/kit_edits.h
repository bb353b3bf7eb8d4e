// SPDX-License-Identifier: GPL-3.0-or-later
// The kit and who sits behind it. Each call is one undo step of the document.
#pragma once

#include "app/edit/edits.h"

namespace uneven {

class KitEdits : public Edits {
 public:
  using Edits::Edits;

  void setKit(const QString& step, Kit kit);
  void setMix(const QString& step, PieceId piece, MixSetting mix, Merge merge = {});
};

}  // namespace uneven
