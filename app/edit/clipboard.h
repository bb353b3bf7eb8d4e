// SPDX-License-Identifier: GPL-3.0-or-later
// Hits and drum tab text in and out of the clipboard. Each call is one undo step of the document.
#pragma once

#include "app/edit/edits.h"

namespace uneven {

class Clipboard : public Edits {
 public:
  using Edits::Edits;

  void copy();
  void cut();
  void paste();  // at the cursor; drum tab text too
  // Reads drum tab text and asks what lanes of unknown names mean. Nothing, with a word to the
  // user, when it cannot be read or nobody answers.
  std::optional<TabReading> readTab(const std::string& text, const std::string& file);

  using LaneAsker = std::function<std::optional<PieceId>(const std::string& lane)>;
  void setLaneAsker(LaneAsker asker) { askLane_ = std::move(asker); }

 private:
  void pasteTab(const std::string& text);
  void pasteHits(Song song, const std::vector<Hit>& hits);

  LaneAsker askLane_;
};

}  // namespace uneven
