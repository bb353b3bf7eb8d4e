// SPDX-License-Identifier: GPL-3.0-or-later
// What the cards of the Lean stage share: rows of fields that change the feel in force.
#pragma once

#include <functional>

#include "app/controls/field_card.h"
#include "app/edit/editing.h"

namespace uneven {

class FeelCard : public FieldCard {
  Q_OBJECT
 public:
  FeelCard(Editing& editing, QWidget* parent);

 protected:
  const Document& document() const { return editing_.document(); }
  const Feel& feel() const { return document().feel(); }
  // A number of the feel, in its own unit; `get` may give nothing.
  using Get = std::function<std::optional<double>(const Feel&)>;
  using Set = std::function<void(Feel&, double)>;
  NumberField* addNumber(QGridLayout* grid, const QString& name, const QString& unit,
                         NumberField::Range range, const QString& objectName, const QString& tip,
                         Get get, Set set);
  void change(const QString& step, const std::function<void(Feel&)>& edit, Merge merge = {});
  // Which pieces and limbs the groove strikes; rows are made anew when that changes.
  std::vector<PieceId> struckPieces() const;
  static const std::vector<Limb>& limbs();

  Editing& editing_;
};

}  // namespace uneven
