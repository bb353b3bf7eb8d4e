// SPDX-License-Identifier: GPL-3.0-or-later
// Which walk, with its fields: walks, another grid, against the bar, free play.
#pragma once

#include <map>

#include "app/controls/card.h"
#include "app/edit/editing.h"
#include "core/vary/walks.h"

class QLabel;
class QScrollArea;

namespace uneven {

class ArgumentForm;
class ChoiceField;

class WalkPanel : public Card {
  Q_OBJECT
 public:
  enum class Tab { kWalk, kGrid, kAgainst, kFree };
  WalkPanel(Editing& editing, QWidget* parent);

  void showTab(Tab tab);
  void setKind(const std::string& kind);
  const std::string& kind() const { return kind_; }
  Arguments arguments() const;
  ArgumentForm& form() { return *form_; }

 Q_SIGNALS:
  void changed();
  void tabShown(int tab);

 private:
  void build();

  Editing& editing_;
  ChoiceField* choice_;
  QLabel* help_;
  QScrollArea* scroll_;
  ArgumentForm* form_ = nullptr;
  std::string kind_;
  std::string walked_ = "placement";        // the last of the first tab
  std::map<std::string, Arguments> typed_;  // what each walk's fields held
};

}  // namespace uneven
