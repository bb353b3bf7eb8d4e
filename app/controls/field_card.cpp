// SPDX-License-Identifier: GPL-3.0-or-later
// Rows of fields.
#include "app/controls/field_card.h"

#include <QGridLayout>
#include <QLabel>
#include <QScrollArea>
#include <QScrollBar>
#include <QVBoxLayout>

#include "app/controls/action_button.h"
#include "app/controls/airy_table.h"
#include "app/controls/choice_field.h"
#include "app/controls/labels.h"
#include "app/controls/theme.h"

namespace uneven {

FieldCard::FieldCard(QWidget* parent) : Card(parent) {
  auto* whole = new QVBoxLayout(this);
  whole->setContentsMargins(4, 6, 2, 6);
  auto* scroll = new QScrollArea(this);
  scroll->setWidgetResizable(true);
  scroll->setFrameShape(QFrame::NoFrame);
  scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  scroll->setFocusPolicy(Qt::NoFocus);
  makeAiry(*scroll->verticalScrollBar());
  QPalette card = scroll->palette();
  card.setColor(QPalette::Window, theme::kCard);
  scroll->setPalette(card);
  body_ = new QWidget(scroll);
  down_ = new QVBoxLayout(body_);
  down_->setContentsMargins(12, 6, 10, 4);
  down_->setSpacing(4);
  scroll->setWidget(body_);
  whole->addWidget(scroll);
}

QGridLayout* FieldCard::section(const QString& heading) {
  buttons_ = nullptr;
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

QWidget* FieldCard::addRow(QGridLayout* grid, const QString& name, QWidget* field,
                           const QString& objectName, const QString& tip) {
  const int row = grid->rowCount();
  field->setParent(body_);
  field->setToolTip(tip);
  field->setObjectName(objectName);
  field->setMinimumHeight(22);
  grid->addWidget(fieldLabel(name, field, body_), row, 0);
  grid->addWidget(field, row, 1);
  if (auto* number = qobject_cast<NumberField*>(field))
    connect(number, &NumberField::refused, this, &FieldCard::refused);
  if (auto* beat = qobject_cast<BeatField*>(field))
    connect(beat, &BeatField::refused, this, &FieldCard::refused);
  return field;
}

NumberField* FieldCard::addNumber(QGridLayout* grid, const Row& row, const QString& unit,
                                  NumberField::Range range,
                                  std::function<std::optional<double>()> get,
                                  std::function<void(double, bool)> set) {
  auto* field = new NumberField(unit, range, body_);
  addRow(grid, row.name, field, row.objectName, row.tip);
  connect(field, &NumberField::edited, this, std::move(set));
  readers_.emplace_back([field, get = std::move(get)] { field->setValue(get()); });
  return field;
}

BeatField* FieldCard::addBeat(QGridLayout* grid, const Row& row, BeatField::Range range,
                              std::function<std::optional<Beat>()> get,
                              std::function<void(Beat)> set) {
  auto* field = new BeatField(range, body_);
  addRow(grid, row.name, field, row.objectName, row.tip);
  connect(field, &BeatField::edited, this, std::move(set));
  readers_.emplace_back([field, get = std::move(get)] { field->setValue(get()); });
  return field;
}

FlatEdit* FieldCard::addLine(QGridLayout* grid, const Row& row, std::function<QString()> get,
                             std::function<void(const QString&)> set) {
  auto* field = new FlatEdit(body_);
  addRow(grid, row.name, field, row.objectName, row.tip);
  field->setAlignment(Qt::AlignRight);
  field->setPlaceholderText(tr("none"));
  connect(field, &QLineEdit::editingFinished, this, [field, get, set = std::move(set)] {
    if (field->text() != get()) set(field->text());
  });
  readers_.emplace_back([field, get] {
    if (!field->hasFocus() || !field->isModified()) field->setText(get());
  });
  return field;
}

ChoiceField* FieldCard::addChoice(QGridLayout* grid, const Row& row,
                                  std::function<void(ChoiceField&)> fill,
                                  std::function<QVariant()> get,
                                  std::function<void(const QVariant&)> set) {
  auto* field = new ChoiceField(Qt::AlignRight, body_);
  addRow(grid, row.name, field, row.objectName, row.tip);
  connect(field, &QComboBox::activated, this,
          [field, set = std::move(set)] { set(field->currentData()); });
  readers_.emplace_back([field, fill = std::move(fill), get = std::move(get)] {
    field->clear();
    fill(*field);
    field->setCurrentIndex(field->findData(get()));
  });
  return field;
}

QLabel* FieldCard::addText(const QString& objectName) {
  buttons_ = nullptr;
  auto* label = quietLabel({}, body_);
  label->setObjectName(objectName);
  label->setWordWrap(true);
  down_->addWidget(label);
  return label;
}

ActionButton* FieldCard::addButton(const QString& text, const QString& objectName,
                                   const QString& tip, std::function<void()> run, bool besideLast) {
  auto* button = new ActionButton(text, ActionButton::Tone::kQuiet, body_);
  button->setObjectName(objectName);
  button->setToolTip(tip);
  if (buttons_ == nullptr || !besideLast) {
    buttons_ = new QHBoxLayout;
    buttons_->setSpacing(6);
    down_->addLayout(buttons_);
  }
  buttons_->addWidget(button, 1);
  connect(button, &QPushButton::clicked, this, std::move(run));
  return button;
}

void FieldCard::addStretch() {
  down_->addStretch(1);
}

void FieldCard::addWidget(QWidget* widget) {
  buttons_ = nullptr;
  widget->setParent(body_);
  down_->addWidget(widget);
}

void FieldCard::read() {
  for (const auto& reader : readers_) reader();
}

void FieldCard::showEvent(QShowEvent* event) {
  Card::showEvent(event);
  read();
}

void FieldCard::clear() {
  buttons_ = nullptr;
  readers_.clear();
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
