// SPDX-License-Identifier: GPL-3.0-or-later
// Mine and theirs.
#include "app/listen/compare_card.h"

#include <QHBoxLayout>
#include <QScrollArea>
#include <QVBoxLayout>
#include <cmath>

#include "app/controls/action_button.h"
#include "app/controls/card_scroll.h"
#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "app/edit/editing.h"
#include "app/play/transport.h"
#include "core/time/count.h"

namespace uneven {

CompareCard::CompareCard(Editing& editing, Listener& listener, Transport& transport,
                         QWidget* parent)
    : Card(parent),
      editing_(editing),
      listener_(listener),
      transport_(transport),
      down_(scrollingColumn(*this)) {
  setObjectName(QStringLiteral("compare-card"));
  connect(&listener_, &Listener::changed, this, &CompareCard::read);
  connect(&editing_.document(), &Document::changed, this, &CompareCard::read);
  read();
}

bool CompareCard::levels() const {
  return listener_.recording()->energy.empty();
}

void CompareCard::showEvent(QShowEvent* event) {
  Card::showEvent(event);
  read();
}

void CompareCard::hideEvent(QHideEvent* event) {
  hear(Ear::kMine);
  looked_.reset();
  Q_EMIT looked(std::nullopt);
  Q_EMIT compared();
  Card::hideEvent(event);
}

void CompareCard::read() {
  if (!isVisible() && list_ != nullptr) return;
  QVBoxLayout* rows = renewedList(list_, *down_, 6);
  rows->setSizeConstraint(QLayout::SetMinimumSize);
  compared_.reset();
  looked_.reset();
  slots_.clear();
  Q_EMIT looked(std::nullopt);
  const Fit* fit = listener_.found();
  rows->addWidget(strongLabel(tr("My part beside it"), 16, list_));
  if (fit == nullptr) {
    rows->addWidget(wrappedLabel(
        listener_.fitting() ? tr("Fitting…") : tr("Open a take to compare with."), list_));
    return rows->addStretch(1);
  }
  Result<Compared> made =
      compare(editing_.document().take(), *fit, listener_.recording()->onsets, levels());
  if (!made) {
    rows->addWidget(wrappedLabel(qs(made.error().message), list_));
    return rows->addStretch(1);
  }
  compared_ = *std::move(made);
  const Compared& c = *compared_;
  const auto beyond =
      std::count_if(c.slots.begin(), c.slots.end(), [](const SlotCompared& s) { return s.beyond; });
  auto* summary = wrappedLabel(
      tr("%1 of %2 places differ by more than their error. On the mean %3 ms and %4 dB; %5 only "
         "mine, %6 only theirs.")
          .arg(beyond)
          .arg(c.slots.size())
          .arg(numberText(c.meanLate.count(), 1), numberText(c.meanLouder.value, 1))
          .arg(c.onlyMine)
          .arg(c.onlyTheirs),
      list_);
  summary->setObjectName(QStringLiteral("compare-summary"));
  rows->addWidget(summary);
  auto* far = strongLabel(tr("Distance %1").arg(numberText(c.distance, 2)), 13, list_);
  far->setObjectName(QStringLiteral("compare-distance"));
  far->setToolTip(tr("0: the same part. 10 ms, 6 dB or a stroke that one of them lacks count 1"));
  rows->addWidget(far);
  auto* ears = new QHBoxLayout;
  ears->setSpacing(6);
  const auto ear = [&](const QString& word, const char* name, const QString& tip, Ear which) {
    auto* button = new ActionButton(
        word, heard_ == which ? ActionButton::Tone::kMain : ActionButton::Tone::kQuiet, list_);
    button->setObjectName(QLatin1String(name));
    button->setToolTip(tip);
    connect(button, &QPushButton::clicked, this, [this, which] {
      hear(which);
      read();
    });
    ears->addWidget(button);
  };
  ear(tr("straight"), "hear-straight", tr("My part without swing and lean: key 1"), Ear::kStraight);
  ear(tr("mine"), "hear-mine", tr("My part as it is: key 2"), Ear::kMine);
  ear(tr("theirs"), "hear-theirs", tr("My kit playing as the recording does: key 3"), Ear::kTheirs);
  rows->addLayout(ears);
  if (beyond > 0) {
    auto* all = new ActionButton(tr("Move all of mine there"), ActionButton::Tone::kQuiet, list_);
    all->setObjectName(QStringLiteral("move-all"));
    all->setToolTip(tr("Every place that differs by more than its error; one step of undo"));
    connect(all, &QPushButton::clicked, this, &CompareCard::moveAll);
    rows->addWidget(all);
  }
  for (std::size_t i = 0; i < std::min(kShown, c.slots.size()); ++i) addSlot(*rows, i);
  if (c.slots.size() > kShown)
    rows->addWidget(quietLabel(tr("%1 more lie closer").arg(c.slots.size() - kShown), list_));
  rows->addStretch(1);
  Q_EMIT compared();
}

void CompareCard::step(int by) {
  if (!compared_ || slots_.empty()) return;
  const auto last = std::ssize(slots_) - 1;
  const std::ptrdiff_t next = looked_  ? static_cast<std::ptrdiff_t>(*looked_) + by
                              : by > 0 ? 0
                                       : last;
  looked_ = static_cast<std::size_t>(std::clamp<std::ptrdiff_t>(next, 0, last));
  for (std::size_t i = 0; i < slots_.size(); ++i) {
    QPalette palette = slots_[i]->palette();
    palette.setColor(QPalette::Window, i == *looked_ ? theme::kChosen : theme::kCard);
    slots_[i]->setPalette(palette);
    slots_[i]->setAutoFillBackground(true);
  }
  const SlotCompared& s = compared_->slots[*looked_];
  for (QWidget* in = slots_[*looked_]->parentWidget(); in != nullptr; in = in->parentWidget()) {
    if (auto* area = qobject_cast<QScrollArea*>(in)) area->ensureWidgetVisible(slots_[*looked_]);
  }
  Q_EMIT looked(std::pair(s.at, s.piece));
}

void CompareCard::addSlot(QVBoxLayout& rows, std::size_t index) {
  const SlotCompared& s = compared_->slots[index];
  const Document& document = editing_.document();
  const Groove& groove = document.groove();
  const std::int64_t bar = s.at.floorDiv(groove.meter.barLength());
  QString place = qs(countName(s.at - Beat(bar) * groove.meter.barLength(), groove.meter).text());
  if (groove.bars > 1) place = tr("bar %1, %2").arg(bar + 1).arg(place);
  auto* row = new QWidget(list_);
  row->setObjectName(QStringLiteral("compared-%1").arg(index));
  auto* across = new QHBoxLayout(row);
  across->setContentsMargins(6, 2, 0, 2);
  across->setSpacing(8);
  auto* words = new QVBoxLayout;
  words->setSpacing(0);
  words->addWidget(
      strongLabel(qs((*document.song().kit)[s.piece].name) + tr(" on ") + place, 13, row));
  QString apart = !s.theirs ? tr("only mine") : tr("only theirs, %1 times").arg(s.n);
  if (s.mine && s.theirs) {
    apart = tr("%1\u2009\u00b1\u2009%2 ms, %3\u2009\u00b1\u2009%4 dB")
                .arg(numberText(s.late.count(), 1, true), numberText(1.96 * s.lateSe.count(), 1),
                     numberText(s.louder.value, 1, true), numberText(1.96 * s.louderSe.value, 1));
  }
  auto* figures = quietLabel(apart, row);
  figures->setToolTip(tr("How much later and louder the recording is, from %1 strokes").arg(s.n));
  words->addWidget(figures);
  across->addLayout(words, 1);
  if (s.beyond) {
    const QString what = !s.theirs ? tr("leave out") : s.mine ? tr("move") : tr("put");
    auto* button = new ActionButton(what, ActionButton::Tone::kQuiet, row);
    button->setObjectName(QStringLiteral("move-%1").arg(index));
    button->setToolTip(tr("Moves mine there: by a nudge and its velocity"));
    button->setAccessibleName(what + QStringLiteral(": ") + place);
    connect(button, &QPushButton::clicked, this, [this, index] { move(index); });
    across->addWidget(button);
  }
  row->setToolTip(tr("N shows the next place in the rows, Shift+N the one before"));
  rows.addWidget(row);
  slots_.push_back(row);
}

void CompareCard::move(std::size_t index) {
  if (!compared_ || index >= compared_->slots.size()) return;
  editing_.grooves().replaceGroove(tr("Moved to where the recording is"),
                                   movedThere(editing_.groove(), compared_->slots[index]));
}

void CompareCard::moveAll() {
  if (!compared_) return;
  Groove groove = editing_.groove();
  for (const SlotCompared& s : compared_->slots) {
    if (s.beyond) groove = movedThere(std::move(groove), s);
  }
  editing_.grooves().replaceGroove(tr("All moved to where the recording is"), std::move(groove));
}

void CompareCard::hear(Ear ear) {
  Heard heard = transport_.heard();
  heard.groove.reset();
  heard.straight = ear == Ear::kStraight;
  heard.noDisplacement = heard.straight;
  if (ear == Ear::kTheirs) {
    const Fit* fit = listener_.found();
    if (fit == nullptr) return Q_EMIT refused(tr("There is no take to be heard"));
    Result<Groove> theirs =
        theirGroove(editing_.document().take(), *fit, listener_.recording()->onsets, levels());
    if (!theirs) return Q_EMIT refused(qs(theirs.error().message));
    heard.groove = SharedValue<Groove>(*std::move(theirs));
  }
  if (ear == heard_ && ear == Ear::kMine) return;
  heard_ = ear;
  transport_.setHeard(std::move(heard));
  if (isVisible() && !transport_.playing()) transport_.play();
  const QString words[] = {tr("Heard: mine"), tr("Heard: straight"), tr("Heard: theirs")};
  Q_EMIT said(words[static_cast<int>(ear)]);
}

}  // namespace uneven
