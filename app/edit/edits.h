// SPDX-License-Identifier: GPL-3.0-or-later
// What the parts of Editing share: each edits one kind of thing.
#pragma once

#include <QString>
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "app/edit/document.h"
#include "core/io/drum_tab.h"
#include "core/song/edit.h"
#include "core/tools/tool.h"

namespace uneven {

class Editing;

class Edits {
 public:
  explicit Edits(Editing& editing) : editing_(editing) {}
  Edits(const Edits&) = delete;
  Edits& operator=(const Edits&) = delete;

 protected:
  Document& document() const;
  const Groove& groove() const;
  Selection& selection() const;
  std::optional<Beat>& drawn() const;
  void applyGroove(const QString& step, Groove groove, Merge merge = {}) const;
  bool needSelection() const;  // says so when there is none
  void say(const QString& what) const;

  Editing& editing_;
};

}  // namespace uneven
