// SPDX-License-Identifier: GPL-3.0-or-later
// The card of what is selected: every field to read and to type, and where a single hit falls.
#pragma once

#include <functional>
#include <optional>
#include <vector>

#include "app/controls/card.h"
#include "app/controls/field_rows.h"
#include "app/edit/editing.h"

class QGridLayout;
class QLabel;

namespace uneven {

class BeatField;
class ChoiceField;
class NumberField;

class HitCard : public Card {
  Q_OBJECT
 public:
  explicit HitCard(Editing& editing, QWidget* parent = nullptr);

 Q_SIGNALS:
  void refused(const QString& why);

 private:
  void buildFields();
  void buildLoudness();
  void buildTiming();
  void buildChoices();
  void buildFalls();
  QLabel* addReading(const QString& name, const QString& tip);
  void addRow(const QString& name, QWidget* field, const QString& tip);
  void showRow(QWidget* field, bool shown);
  void read();
  void readFields(const std::vector<Hit>& hits);
  void readFalls(const std::vector<Hit>& hits);
  void buildOrnament();
  void readOrnament(const std::vector<Hit>& hits);
  void fillPieces();
  void fillStrokes(const std::vector<Hit>& hits);

  Editing& editing_;
  QGridLayout* grid_ = nullptr;
  std::optional<FieldRows> rows_;
  QLabel* name_;
  QLabel* place_;
  QWidget* empty_ = nullptr;
  QWidget* fields_ = nullptr;
  BeatField* position_ = nullptr;
  ChoiceField* piece_ = nullptr;
  NumberField* velocity_ = nullptr;
  QLabel* level_ = nullptr;
  ChoiceField* role_ = nullptr;
  ChoiceField* stroke_ = nullptr;
  Kit kitShown_;  // what the choices were filled from
  std::vector<StrokeKind> strokesShown_;
  ChoiceField* limb_ = nullptr;
  ChoiceField* ornament_ = nullptr;
  NumberField* ornamentGap_ = nullptr;
  NumberField* ornamentPercent_ = nullptr;
  BeatField* ornamentFor_ = nullptr;
  NumberField* open_ = nullptr;
  BeatField* openFor_ = nullptr;
  NumberField* nudge_ = nullptr;
  QLabel* fallsTitle_ = nullptr;
  QLabel* grid0_ = nullptr;
  QLabel* swung_ = nullptr;
  QLabel* displaced_ = nullptr;
  QLabel* slots0_ = nullptr;
  QLabel* struck_ = nullptr;
  QLabel* tick_ = nullptr;
};

}  // namespace uneven
