// SPDX-License-Identifier: GPL-3.0-or-later
// The Check stage.
#include "app/check/check_stage.h"

#include <QHBoxLayout>
#include <QVBoxLayout>

#include "app/check/check_view.h"
#include "app/check/found_card.h"
#include "app/check/part_card.h"
#include "app/check/player_card.h"
#include "app/check/ways_card.h"
#include "app/controls/card_room.h"
#include "app/controls/labels.h"
#include "app/controls/word_tabs.h"

namespace uneven {

CheckStage::CheckStage(const Workplace& place, QWidget* parent)
    : Stage(parent),
      editing_(place.editing),
      checker_(place.checker),
      view_(new CheckView(editing_, checker_, this)),
      tabs_(new WordTabs(this)),
      found_(new FoundCard(editing_, checker_, this)),
      ways_(new WaysCard(editing_, checker_, place.transport, this)),
      part_(new PartCard(editing_, checker_, this)),
      player_(new PlayerCard(editing_, checker_, place.prompts, this)) {
  constexpr int kSideWidth = Card::kWidth + 30;
  auto* across = new QHBoxLayout(this);
  across->setContentsMargins(0, 6, 14, 6);
  across->setSpacing(6);
  auto* down = new QVBoxLayout;
  down->addSpacing(12);
  down->addWidget(view_, 1);
  auto* legend = quietLabel(tr("Limits of hands and feet are from memory and common practice: they "
                               "differ from player to player."),
                            this);
  legend->setMinimumWidth(80);
  legend->setContentsMargins(20, 0, 20, 6);
  down->addWidget(legend);
  across->addLayout(down, 1);
  auto* side = new QVBoxLayout;
  side->setSpacing(2);
  tabs_->setObjectName(QStringLiteral("check-tabs"));
  tabs_->setPurpose(tr("Card"));
  tabs_->setFixedWidth(kSideWidth);
  tabs_->addWord(tr("Found"), tr("What flams, stands out or cannot be played"));
  tabs_->addWord(tr("Ways"), tr("Other hands for the same part"));
  tabs_->addWord(tr("Part"), tr("How difficult it is, how syncopated, how long its notes are"));
  tabs_->addWord(tr("Player"), tr("Whose limits it is held against, and where the kit stands"));
  side->addWidget(tabs_);
  for (Card* card : {static_cast<Card*>(found_), static_cast<Card*>(ways_),
                     static_cast<Card*>(part_), static_cast<Card*>(player_)}) {
    card->setFixedWidth(kSideWidth);
    side->addWidget(new CardRoom(card, this), 1);
  }
  across->addLayout(side);
  setFocusProxy(view_);
  connect(tabs_, &WordTabs::chosen, this, [this](int i) { showSide(static_cast<Side>(i)); });
  connect(found_, &FoundCard::chose, this, [this] {
    const auto chosen = found_->chosen();
    view_->setShown(chosen ? std::optional(found_->findings()[*chosen]) : std::nullopt);
  });
  connect(view_, &CheckView::stepped, this, [this](int by) {
    showSide(Side::kFound);
    found_->step(by);
  });
  connect(view_, &CheckView::mendWanted, this, [this] {
    if (found_->chosen()) found_->mend(*found_->chosen());
  });
  connect(view_, &CheckView::leaveWanted, this, [this] {
    if (found_->chosen()) found_->leave(*found_->chosen());
  });
  connect(view_, &CheckView::wayWanted, this, [this](int way) {
    showSide(Side::kWays);
    ways_->hear(way == 0 ? std::nullopt : std::optional(static_cast<std::size_t>(way - 1)));
  });
  connect(view_, &CheckView::tried, part_, &PartCard::setTrial);
  connect(ways_, &WaysCard::shown, view_, &CheckView::setWay);
  connect(ways_, &WaysCard::said, this, &CheckStage::said);
  connect(player_, &PlayerCard::said, this, &CheckStage::refused);
  connect(player_, &PlayerCard::failed, this, &CheckStage::failed);
  showSide(Side::kFound);
}

void CheckStage::showSide(Side side) {
  Card* const cards[] = {found_, ways_, part_, player_};
  for (Card* card : cards) card->setVisible(card == cards[static_cast<int>(side)]);
  tabs_->setCurrent(static_cast<int>(side));
}

void CheckStage::setHands() {
  checker_.begin();
  const Looked* now = checker_.now();
  if (now == nullptr || !now->report)
    return Q_EMIT refused(tr("The hands are still being looked for"));
  Groove groove = editing_.groove();
  const HandReport& report = *now->report;
  int set = 0;
  for (std::size_t i = 0; i < report.part.hands.size(); ++i) {
    const Stroke& s = report.take->strokes()[report.part.hands[i].stroke];
    if (s.part != 0 || s.hit >= groove.hits.size()) continue;
    if (groove.hits[s.hit].limb != Limb::kAutomatic) continue;
    groove.hits[s.hit].limb = report.plan.hands[i];
    ++set;
  }
  if (set == 0) return Q_EMIT said(tr("Every hand is set already"));
  editing_.grooves().replaceGroove(tr("Hands set as computed"), std::move(groove));
}

void CheckStage::showEvent(QShowEvent* event) {
  Stage::showEvent(event);
  checker_.setWaitedFor(true);
}

void CheckStage::hideEvent(QHideEvent* event) {
  checker_.setWaitedFor(false);
  Stage::hideEvent(event);
}

}  // namespace uneven
