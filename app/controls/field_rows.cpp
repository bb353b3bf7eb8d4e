// SPDX-License-Identifier: GPL-3.0-or-later
// Fields and what they are bound to.
#include "app/controls/field_rows.h"

#include <QCheckBox>
#include <QGridLayout>
#include <QLabel>

#include "app/controls/choice_field.h"
#include "app/controls/flat_edit.h"
#include "app/controls/labels.h"

namespace uneven {
namespace {

// An empty grid says that it has a row.
int nextRow(const QGridLayout* grid) {
  return grid->count() == 0 ? 0 : grid->rowCount();
}

}  // namespace

FieldRows::FieldRows(QWidget* owner, std::function<void(const QString&)> refused, const Look& look)
    : owner_(owner), refused_(std::move(refused)), look_(look) {}

void FieldRows::watch(QWidget* field) const {
  if (auto* number = qobject_cast<NumberField*>(field))
    QObject::connect(number, &NumberField::refused, owner_, refused_);
  if (auto* beat = qobject_cast<BeatField*>(field))
    QObject::connect(beat, &BeatField::refused, owner_, refused_);
}

QWidget* FieldRows::add(QGridLayout* grid, const Row& row, QWidget* field) {
  if (field->parent() != owner_) field->setParent(owner_);
  field->setToolTip(row.tip);
  if (!row.objectName.isEmpty()) field->setObjectName(row.objectName);
  if (look_.height > 0) field->setMinimumHeight(look_.height);
  if (look_.width > 0 && qobject_cast<NumberField*>(field) != nullptr)
    field->setFixedWidth(look_.width);
  const int at = nextRow(grid);
  QLabel* label = fieldLabel(row.name, field, owner_);
  label->setBuddy(field);
  grid->addWidget(label, at, 0);
  grid->addWidget(field, at, 1, look_.alignment);
  watch(field);
  return field;
}

NumberField* FieldRows::number(QGridLayout* grid, const Row& row, const QString& unit,
                               NumberField::Range range, std::function<std::optional<double>()> get,
                               std::function<void(double, bool)> set) {
  auto* field = new NumberField(unit, range, owner_);
  add(grid, row, field);
  QObject::connect(field, &NumberField::edited, owner_, std::move(set));
  bound_.push_back({field, [field, get = std::move(get)] { field->setValue(get()); }});
  return field;
}

void FieldRows::bind(NumberField* field, std::function<std::optional<double>()> get,
                     std::function<void(double, bool)> set) {
  watch(field);
  QObject::connect(field, &NumberField::edited, owner_, std::move(set));
  bound_.push_back({field, [field, get = std::move(get)] { field->setValue(get()); }});
}

BeatField* FieldRows::beat(QGridLayout* grid, const Row& row, BeatField::Range range,
                           std::function<std::optional<Beat>()> get,
                           std::function<void(Beat)> set) {
  auto* field = new BeatField(range, owner_);
  add(grid, row, field);
  QObject::connect(field, &BeatField::edited, owner_, std::move(set));
  bound_.push_back({field, [field, get = std::move(get)] { field->setValue(get()); }});
  return field;
}

FlatEdit* FieldRows::line(QGridLayout* grid, const Row& row, std::function<QString()> get,
                          std::function<void(const QString&)> set) {
  auto* field = new FlatEdit(owner_);
  add(grid, row, field);
  field->setAlignment(Qt::AlignRight);
  field->setPlaceholderText(QObject::tr("none"));
  QObject::connect(field, &QLineEdit::editingFinished, owner_, [field, get, set = std::move(set)] {
    if (field->text() != get()) set(field->text());
  });
  bound_.push_back({field, [field, get] {
                      if (!field->hasFocus() || !field->isModified()) field->setText(get());
                    }});
  return field;
}

ChoiceField* FieldRows::choice(QGridLayout* grid, const Row& row,
                               std::function<void(ChoiceField&)> fill,
                               std::function<QVariant()> get,
                               std::function<void(const QVariant&)> set) {
  auto* field = new ChoiceField(Qt::AlignRight, owner_);
  add(grid, row, field);
  QObject::connect(field, &QComboBox::activated, owner_,
                   [field, set = std::move(set)] { set(field->currentData()); });
  bound_.push_back({field, [field, fill = std::move(fill), get = std::move(get)] {
                      field->clear();
                      fill(*field);
                      field->setCurrentIndex(field->findData(get()));
                    }});
  return field;
}

QCheckBox* FieldRows::check(QGridLayout* grid, const Row& row, std::function<bool()> get,
                            std::function<void(bool)> set) {
  auto* box = new QCheckBox(row.name, owner_);
  box->setObjectName(row.objectName);
  box->setToolTip(row.tip);
  grid->addWidget(box, nextRow(grid), 0, 1, 2);
  QObject::connect(box, &QCheckBox::toggled, owner_, std::move(set));
  bound_.push_back({box, [box, get = std::move(get)] {
                      const QSignalBlocker quiet(box);
                      box->setChecked(get());
                    }});
  return box;
}

void FieldRows::read() const {
  for (const Bound& bound : bound_) bound.read();
}

void FieldRows::setEnabled(bool enabled) const {
  for (const Bound& bound : bound_) bound.field->setEnabled(enabled);
}

}  // namespace uneven
