// SPDX-License-Identifier: GPL-3.0-or-later
// The Strike stage: lanes, card, feel and legend put together.
#pragma once

#include <QHBoxLayout>
#include <QWidget>

#include "app/strike/editing.h"

namespace uneven {

class ChoiceField;
class HitCard;
class LanesView;
class ToolPanel;

class StrikeStage : public QWidget {
  Q_OBJECT
 public:
  explicit StrikeStage(Editing& editing, QWidget* parent = nullptr);

  LanesView& lanes() { return *lanes_; }
  // Puts the tool's fields in the card's place.
  void openTool(const std::string& name);
  void closeTool();

 Q_SIGNALS:
  void refused(const QString& why);

 private:
  QWidget* gridRow();
  void readGrid();

  Editing& editing_;
  LanesView* lanes_;
  HitCard* card_ = nullptr;
  ToolPanel* tools_ = nullptr;  // made when first opened
  QHBoxLayout* across_ = nullptr;
  ChoiceField* grid_ = nullptr;
  ChoiceField* zoom_ = nullptr;
};

}  // namespace uneven
