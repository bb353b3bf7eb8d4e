// SPDX-License-Identifier: GPL-3.0-or-later
// The room of a card.
#include "app/controls/card_room.h"

#include <QEvent>
#include <QScrollBar>

#include "app/controls/airy_table.h"

namespace uneven {
namespace {

constexpr int kLeastHeight = 120;

}  // namespace

CardRoom::CardRoom(QWidget* card, QWidget* parent) : QScrollArea(parent) {
  setWidgetResizable(true);
  setFrameShape(QFrame::NoFrame);
  setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  setFocusPolicy(Qt::NoFocus);
  viewport()->setAutoFillBackground(false);
  makeAiry(*verticalScrollBar());
  setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Expanding);
  const bool hidden = card->isHidden() && card->testAttribute(Qt::WA_WState_ExplicitShowHide);
  setWidget(card);
  card->setAutoFillBackground(false);
  card->installEventFilter(this);
  setVisible(!hidden);
}

QSize CardRoom::minimumSizeHint() const {
  return {sizeHint().width(), kLeastHeight};
}

QSize CardRoom::sizeHint() const {
  const int bar = verticalScrollBar()->maximum() > 0 ? verticalScrollBar()->sizeHint().width() : 0;
  return {widget()->minimumWidth() + bar, widget()->sizeHint().height()};
}

bool CardRoom::eventFilter(QObject* watched, QEvent* event) {
  if (watched == widget()) {
    if (event->type() == QEvent::ShowToParent) show();
    if (event->type() == QEvent::HideToParent) hide();
    if (event->type() == QEvent::LayoutRequest || event->type() == QEvent::Resize) updateGeometry();
  }
  return QScrollArea::eventFilter(watched, event);
}

}  // namespace uneven
