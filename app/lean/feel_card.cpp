// SPDX-License-Identifier: GPL-3.0-or-later
// Rows of a feel.
#include "app/lean/feel_card.h"

#include <QGridLayout>
#include <QLabel>
#include <QVBoxLayout>

namespace uneven {

FeelCard::FeelCard(Editing& editing, QWidget* parent) : FieldCard(parent), editing_(editing) {
  connect(&editing_.document(), &Document::changed, this, [this] {
    if (isVisible()) read();
  });
}

NumberField* FeelCard::addNumber(QGridLayout* grid, const QString& name, const QString& unit,
                                 NumberField::Range range, const QString& objectName,
                                 const QString& tip, Get get, Set set) {
  const int key = Document::newMergeKey();
  return FieldCard::addNumber(
      grid, {name, objectName, tip}, unit, range,
      [this, get = std::move(get)] { return get(feel()); },
      [this, name, unit, set = std::move(set), key](double value, bool stepped) {
        change(tr("%1 %2 %3").arg(name).arg(value).arg(unit), [&](Feel& f) { set(f, value); },
               {stepped ? key : 0, true});
      });
}

void FeelCard::change(const QString& step, const std::function<void(Feel&)>& edit, Merge merge) {
  Document& d = editing_.document();
  d.apply(step, withFeelChanged(d.song(), d.grooveId(), edit, d.at()), merge);
}

std::vector<PieceId> FeelCard::struckPieces() const {
  std::vector<bool> struck(document().song().kit->pieces.size(), false);
  for (const Hit& hit : document().groove().hits) struck[hit.piece.value] = true;
  std::vector<PieceId> out;
  for (const PieceId piece : document().song().kit->order) {
    if (struck[piece.value]) out.push_back(piece);
  }
  return out;
}

const std::vector<Limb>& FeelCard::limbs() {
  static const std::vector<Limb> all = {Limb::kRightHand, Limb::kLeftHand, Limb::kRightFoot,
                                        Limb::kLeftFoot};
  return all;
}

}  // namespace uneven
