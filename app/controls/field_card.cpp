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
  rows_.emplace(body_, [this](const QString& why) { Q_EMIT refused(why); });
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
  rows_->read();
}

void FieldCard::showEvent(QShowEvent* event) {
  Card::showEvent(event);
  read();
}

void FieldCard::clear() {
  buttons_ = nullptr;
  rows_->forget();
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
