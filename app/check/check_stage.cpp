// SPDX-License-Identifier: GPL-3.0-or-later
// The Check stage.
#include "app/check/check_stage.h"

#include <QHBoxLayout>
#include <QVBoxLayout>

#include "app/check/check_view.h"
#include "app/check/found_card.h"
#include "app/controls/labels.h"

namespace uneven {

CheckStage::CheckStage(Editing& editing, QWidget* parent)
    : Stage(parent),
      editing_(editing),
      checker_(editing),
      view_(new CheckView(editing, checker_, this)),
      found_(new FoundCard(editing, checker_, this)) {
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
  found_->setFixedWidth(Card::kWidth + 30);
  across->addWidget(found_);
  setFocusProxy(view_);
  connect(found_, &FoundCard::chose, this, [this] {
    const auto chosen = found_->chosen();
    view_->setShown(chosen ? std::optional(found_->findings()[*chosen]) : std::nullopt);
  });
  connect(view_, &CheckView::stepped, found_, &FoundCard::step);
  connect(view_, &CheckView::mendWanted, this, [this] {
    if (found_->chosen()) found_->mend(*found_->chosen());
  });
  connect(view_, &CheckView::leaveWanted, this, [this] {
    if (found_->chosen()) found_->leave(*found_->chosen());
  });
}

void CheckStage::setHands() {
  checker_.setWanted(true);
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
  checker_.setWanted(true);
}

void CheckStage::hideEvent(QHideEvent* event) {
  checker_.setWanted(false);
  Stage::hideEvent(event);
}

}  // namespace uneven
