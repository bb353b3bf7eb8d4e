// SPDX-License-Identifier: GPL-3.0-or-later
// Scrolling columns.
#include "app/controls/card_scroll.h"

#include <QScrollArea>
#include <QScrollBar>
#include <QVBoxLayout>
#include <algorithm>

#include "app/controls/airy_table.h"
#include "app/controls/card.h"
#include "app/controls/labels.h"
#include "app/controls/theme.h"

namespace uneven {

QVBoxLayout* scrollingColumn(Card& card) {
  auto* whole = new QVBoxLayout(&card);
  whole->setContentsMargins(8, 10, 6, 10);
  auto* scroll = new QScrollArea(&card);
  scroll->setWidgetResizable(true);
  scroll->setFrameShape(QFrame::NoFrame);
  scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  scroll->setFocusPolicy(Qt::NoFocus);
  makeAiry(*scroll->verticalScrollBar());
  QPalette palette = scroll->palette();
  palette.setColor(QPalette::Window, theme::kCard);
  scroll->setPalette(palette);
  auto* body = new QWidget(scroll);
  auto* down = new QVBoxLayout(body);
  down->setContentsMargins(6, 4, 10, 4);
  down->setSpacing(6);
  scroll->setWidget(body);
  whole->addWidget(scroll);
  return down;
}

void setWrapped(QLabel& label, const QString& text) {
  // A scrolled column would else be laid out for fewer lines than there are.
  constexpr int kColumn = Card::kWidth - 20;
  label.setWordWrap(true);
  label.setMinimumWidth(60);
  label.setText(text);
  label.setMinimumHeight(std::max(0, label.heightForWidth(kColumn)));
}

QVBoxLayout* renewedList(QWidget*& list, QVBoxLayout& down, int spacing) {
  QWidget* const parent = down.parentWidget();
  if (list != nullptr) {
    down.removeWidget(list);
    list->hide();
    list->deleteLater();
  }
  list = new QWidget(parent);
  auto* rows = new QVBoxLayout(list);
  rows->setContentsMargins(0, 0, 0, 0);
  rows->setSpacing(spacing);
  down.addWidget(list);
  return rows;
}

QLabel* wrappedLabel(const QString& text, QWidget* parent) {
  QLabel* label = quietLabel({}, parent);
  setWrapped(*label, text);
  return label;
}

}  // namespace uneven
