// SPDX-License-Identifier: GPL-3.0-or-later
// The Open stage.
#include "app/open/open_stage.h"

#include <QHBoxLayout>
#include <QVBoxLayout>

#include "app/controls/card_room.h"
#include "app/controls/labels.h"
#include "app/controls/word_tabs.h"
#include "app/open/findings_card.h"
#include "app/open/open_view.h"
#include "app/open/pedal_card.h"
#include "app/open/walk_card.h"

namespace uneven {

OpenStage::OpenStage(const Workplace& place, QWidget* parent)
    : Stage(parent),
      editing_(place.editing),
      view_(new OpenView(editing_, this)),
      tabs_(new WordTabs(this)),
      pedal_(new PedalCard(editing_, this)),
      findings_(new FindingsCard(editing_, this)),
      walk_(new WalkCard(editing_, this)) {
  auto* across = new QHBoxLayout(this);
  across->setContentsMargins(0, 6, 14, 6);
  across->setSpacing(6);
  auto* down = new QVBoxLayout;
  down->addWidget(view_, 1);
  auto* legend = quietLabel(
      tr("Under the strokes: how far open each sounds, in percent. Foot marks are outlined where "
         "the hand covers them; click to set one."),
      this);
  legend->setMinimumWidth(80);
  legend->setContentsMargins(20, 0, 20, 6);
  down->addWidget(legend);
  across->addLayout(down, 1);
  auto* side = new QVBoxLayout;
  side->setSpacing(2);
  tabs_->setFixedWidth(Card::kWidth);
  tabs_->setPurpose(tr("Card"));
  tabs_->addWord(tr("Pedal"), tr("The chosen opening, the foot and its pump: Escape"));
  tabs_->addWord(tr("Findings"), tr("What the foot cannot do as written"));
  tabs_->addWord(tr("Walk"), tr("Every placement of an opening, one after the other: W"));
  side->addWidget(tabs_);
  for (Card* card :
       {static_cast<Card*>(pedal_), static_cast<Card*>(findings_), static_cast<Card*>(walk_)}) {
    side->addWidget(new CardRoom(card, this), 1);
  }
  across->addLayout(side);
  setFocusProxy(view_);
  connect(tabs_, &WordTabs::chosen, this, [this](int i) { showSide(static_cast<Side>(i)); });
  connect(findings_, &FindingsCard::countChanged, this, [this](int count) {
    tabs_->setWord(1, count == 0 ? tr("Findings") : tr("Findings %1").arg(count));
  });
  connect(pedal_, &PedalCard::refused, this, &OpenStage::refused);
  connect(walk_, &WalkCard::refused, this, &OpenStage::refused);
  connect(walk_, &WalkCard::previewed, view_, &OpenView::setPreview);
  connect(walk_, &WalkCard::ended, this, [this] { showSide(Side::kPedal); });
  connect(view_, &OpenView::walkKey, this, [this](int key) {
    if (key == Qt::Key_W) return showSide(Side::kWalk);
    walk_->key(key);
  });
  showSide(Side::kPedal);
  const int found = static_cast<int>(findings_->findings().size());
  if (found > 0) tabs_->setWord(1, tr("Findings %1").arg(found));
}

void OpenStage::showSide(Side side) {
  pedal_->setVisible(side == Side::kPedal);
  findings_->setVisible(side == Side::kFindings);
  walk_->setVisible(side == Side::kWalk);
  tabs_->setCurrent(static_cast<int>(side));
  if (side == Side::kWalk) walk_->begin();
  view_->setFocus();
}

}  // namespace uneven
