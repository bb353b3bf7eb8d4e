// SPDX-License-Identifier: GPL-3.0-or-later
// Rows of a feel.
#include "app/lean/feel_card.h"

#include <QGridLayout>
#include <QLabel>
#include <QScrollArea>
#include <QVBoxLayout>

#include "app/controls/labels.h"
#include "app/controls/theme.h"

namespace uneven {

FeelCard::FeelCard(Editing& editing, QWidget* parent) : Card(parent), editing_(editing) {
  auto* whole = new QVBoxLayout(this);
  whole->setContentsMargins(4, 6, 2, 6);
  auto* scroll = new QScrollArea(this);
  scroll->setWidgetResizable(true);
  scroll->setFrameShape(QFrame::NoFrame);
  scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  scroll->setFocusPolicy(Qt::NoFocus);
  QPalette card = scroll->palette();
  card.setColor(QPalette::Window, theme::kCard);
  scroll->setPalette(card);
  body_ = new QWidget(scroll);
  down_ = new QVBoxLayout(body_);
  down_->setContentsMargins(12, 6, 10, 4);
  down_->setSpacing(4);
  scroll->setWidget(body_);
  whole->addWidget(scroll);
  connect(&editing_.document(), &Document::changed, this, [this] {
    if (isVisible()) read();
  });
}

QGridLayout* FeelCard::section(const QString& heading) {
  if (!heading.isEmpty()) {
    if (down_->count() > 0) down_->addSpacing(8);
    down_->addWidget(strongLabel(heading, 13, body_));
  }
  auto* grid = new QGridLayout;
  grid->setColumnStretch(1, 1);
  grid->setVerticalSpacing(1);
  down_->addLayout(grid);
  return grid;
}

QWidget* FeelCard::addRow(QGridLayout* grid, const QString& name, QWidget* field,
                          const QString& objectName, const QString& tip) {
  const int row = grid->rowCount();
  field->setParent(body_);
  field->setToolTip(tip);
  field->setObjectName(objectName);
  field->setMinimumHeight(22);
  grid->addWidget(fieldLabel(name, field, body_), row, 0);
  grid->addWidget(field, row, 1);
  if (auto* number = qobject_cast<NumberField*>(field)) {
    connect(number, &NumberField::refused, this, &FeelCard::refused);
  }
  return field;
}

NumberField* FeelCard::addNumber(QGridLayout* grid, const QString& name, const QString& unit,
                                 NumberField::Range range, const QString& objectName,
                                 const QString& tip, Get get, Set set) {
  auto* field = new NumberField(unit, range, body_);
  addRow(grid, name, field, objectName, tip);
  const int key = Document::newMergeKey();
  connect(field, &NumberField::edited, this,
          [this, name, unit, set = std::move(set), key](double value, bool stepped) {
            change(tr("%1 %2 %3").arg(name).arg(value).arg(unit), [&](Feel& f) { set(f, value); },
                   {stepped ? key : 0, true});
          });
  numbers_.push_back({field, std::move(get)});
  return field;
}

QLabel* FeelCard::addText(const QString& objectName) {
  auto* label = quietLabel({}, body_);
  label->setObjectName(objectName);
  label->setWordWrap(true);
  down_->addWidget(label);
  return label;
}

void FeelCard::addStretch() {
  down_->addStretch(1);
}

void FeelCard::change(const QString& step, const std::function<void(Feel&)>& edit, Merge merge) {
  Document& d = editing_.document();
  d.apply(step, withFeelChanged(d.song(), d.grooveId(), edit, d.at()), merge);
}

void FeelCard::read() {
  for (const Number& number : numbers_) number.field->setValue(number.get(feel()));
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

void FeelCard::clear() {
  numbers_.clear();
  const std::function<void(QLayout*)> empty = [&](QLayout* layout) {
    while (QLayoutItem* item = layout->takeAt(0)) {
      if (item->layout() != nullptr) empty(item->layout());
      // A field may be what called us: it goes when its event is through.
      if (QWidget* widget = item->widget()) {
        widget->hide();
        widget->setObjectName({});
        widget->deleteLater();
      }
      delete item;
    }
  };
  empty(down_);
}

}  // namespace uneven
