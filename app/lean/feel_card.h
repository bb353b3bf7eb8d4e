// SPDX-License-Identifier: GPL-3.0-or-later
// What the cards of the Lean stage share: rows of fields that change the feel in force.
#pragma once

#include <functional>

#include "app/controls/card.h"
#include "app/controls/number_field.h"
#include "app/edit/editing.h"

class QGridLayout;
class QLabel;
class QVBoxLayout;

namespace uneven {

class FeelCard : public Card {
  Q_OBJECT
 public:
  FeelCard(Editing& editing, QWidget* parent);

 Q_SIGNALS:
  void refused(const QString& why);

 protected:
  const Document& document() const { return editing_.document(); }
  const Feel& feel() const { return document().feel(); }
  // A heading and a grid of rows under it; without a heading only the rows.
  QGridLayout* section(const QString& heading);
  QWidget* addRow(QGridLayout* grid, const QString& name, QWidget* field, const QString& objectName,
                  const QString& tip);
  // A number of the feel, in its own unit; `get` may give nothing.
  using Get = std::function<std::optional<double>(const Feel&)>;
  using Set = std::function<void(Feel&, double)>;
  NumberField* addNumber(QGridLayout* grid, const QString& name, const QString& unit,
                         NumberField::Range range, const QString& objectName, const QString& tip,
                         Get get, Set set);
  QLabel* addText(const QString& objectName);
  void addStretch();
  void change(const QString& step, const std::function<void(Feel&)>& edit, Merge merge = {});
  // Shows every number again.
  virtual void read();
  // Which pieces and limbs the groove strikes; rows are made anew when that changes.
  std::vector<PieceId> struckPieces() const;
  static const std::vector<Limb>& limbs();
  // Takes all rows away, for a card that builds them by what is struck.
  void clear();

  Editing& editing_;
  QVBoxLayout* down_;

 private:
  struct Number {
    NumberField* field;
    Get get;
  };
  QWidget* body_ = nullptr;
  std::vector<Number> numbers_;
};

}  // namespace uneven
