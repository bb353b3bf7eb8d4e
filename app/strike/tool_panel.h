// SPDX-License-Identifier: GPL-3.0-or-later
// The tools beside the lanes: choose one, fill in its fields, read what it would do, do it.
//
// While a field is typed the tool is run on a copy, and its notes, or what is wrong, stand
// under the fields. Enter does it, Escape goes back to the card.
#pragma once

#include <optional>

#include "app/controls/card.h"
#include "app/edit/editing.h"
#include "core/tools/tool.h"

class QLabel;
class QScrollArea;
class QTimer;

namespace uneven {

class ActionButton;
class ArgumentForm;
class ChoiceField;

class ToolPanel : public Card {
  Q_OBJECT
 public:
  explicit ToolPanel(Editing& editing, QWidget* parent = nullptr);

  // Shows the fields of a tool, with the span of what is selected.
  void setTool(const std::string& name);
  // Reads the selection again and shows what would come of it.
  void reopen();
  ArgumentForm& form() { return *form_; }
  const QString& outcomeText() const { return outcomeText_; }

 Q_SIGNALS:
  void closed();
  // What the tool would make of the groove; nothing while it cannot, or when it is done.
  void previewed(const std::optional<Groove>& groove);

 protected:
  void keyPressEvent(QKeyEvent* event) override;
  void hideEvent(QHideEvent* event) override;

 private:
  void buildFields(const Tool& tool);
  void fillSpan();
  void preview();
  void doIt();

  Editing& editing_;
  ChoiceField* tool_;
  QLabel* help_;
  QScrollArea* scroll_;
  ArgumentForm* form_ = nullptr;
  QLabel* outcome_;
  ActionButton* do_;
  QString outcomeText_;
  std::string groove_;  // that is tried on
  QTimer* later_;       // the preview after an edit: the edit itself is shown first
};

}  // namespace uneven
