// SPDX-License-Identifier: GPL-3.0-or-later
// A drag as one edit: shown at once, a step of undo when the hand lets go, and none where it is
// given up or ends where it began.
#pragma once

#include "app/edit/document.h"

namespace uneven {

// A hand that drags. All that is applied with its merge is one step when it goes, or none.
class SongGesture {
 public:
  explicit SongGesture(Document& document);
  ~SongGesture() { commit(); }
  SongGesture(const SongGesture&) = delete;
  SongGesture& operator=(const SongGesture&) = delete;

  Merge merge() const { return merge_; }
  void commit();
  void cancel();

 private:
  bool isOpen() const;
  Document& document_;
  Merge merge_;
};

}  // namespace uneven
