// SPDX-License-Identifier: GPL-3.0-or-later
// What is made of a take.
#include "app/listen/make_card.h"

#include <QCheckBox>
#include <QGridLayout>
#include <QVBoxLayout>

#include "app/controls/action_button.h"
#include "app/controls/card_scroll.h"
#include "app/controls/choice_field.h"
#include "app/controls/labels.h"
#include "app/controls/number_field.h"

namespace uneven {
namespace {

constexpr double kSmoothMost = 64;  // bars

}  // namespace

MakeCard::MakeCard(Listener& listener, QWidget* parent) : Card(parent) {
  setObjectName(QStringLiteral("make-card"));
  auto* down = new QVBoxLayout(this);
  down->setContentsMargins(16, 14, 16, 14);
  down->setSpacing(6);
  down->addWidget(strongLabel(tr("The feel takes"), 13, this));
  swing_ = addCheck(tr("its swing"), "take-swing", tr("Which notes swing, and how far"), true);
  lean_ =
      addCheck(tr("the lean of pieces"), "take-lean", tr("How late or early each one is"), true);
  slots_ = addCheck(tr("the lean of slots"), "take-slots",
                    tr("Places of the bar that surely lie early or late by themselves"), true);
  drift_ = addCheck(tr("its drift"), "take-drift", tr("The clock and each limb's own part"), true);
  down->addSpacing(8);
  down->addWidget(strongLabel(tr("The tempo goes"), 13, this));
  auto* grid = new QGridLayout;
  grid->setColumnStretch(1, 1);
  by_ = new ChoiceField(Qt::AlignRight, this);
  by_->setObjectName(QStringLiteral("follow-by"));
  by_->setToolTip(tr("One tempo for all, or a mark where each bar or beat of the take begins"));
  by_->addItem(tr("as it was found"), -1);
  by_->addItem(tr("at one tempo"), static_cast<int>(FollowBy::kWhole));
  by_->addItem(tr("bar by bar"), static_cast<int>(FollowBy::kBar));
  by_->addItem(tr("beat by beat"), static_cast<int>(FollowBy::kBeat));
  smooth_ = new NumberField(tr("bars"), {0, kSmoothMost, 1, 0, false}, this);
  smooth_->setObjectName(QStringLiteral("follow-smooth"));
  smooth_->setToolTip(tr("What comes and goes within so many bars is smoothed away; 0: nothing"));
  smooth_->setValue(0);
  grid->addWidget(fieldLabel(tr("Follows"), by_, this), 0, 0);
  grid->addWidget(by_, 0, 1);
  grid->addWidget(fieldLabel(tr("Smoothed over"), smooth_, this), 1, 0);
  grid->addWidget(smooth_, 1, 1);
  down->addLayout(grid);
  down->addSpacing(8);
  down->addWidget(strongLabel(tr("The groove keeps"), 13, this));
  nudges_ = addCheck(tr("what is left as nudges"), "take-nudges",
                     tr("Else each stroke lies where the feel puts its slot"), false);
  down->addSpacing(8);
  song_ = new ActionButton(tr("Lay out the song"), ActionButton::Tone::kQuiet, this);
  song_->setObjectName(QStringLiteral("lay-out-song"));
  song_->setToolTip(
      tr("Each kind of bar becomes a groove, and the song plays them in the order of the take, "
         "with its tempo and feel. One step of undo"));
  down->addWidget(song_);
  down->addWidget(wrappedLabel(
      tr("Bars that are alike are one groove; a section is as long as they go on."), this));
  down->addStretch(1);
  connect(song_, &QPushButton::clicked, this, &MakeCard::songWanted);
  connect(smooth_, &NumberField::edited, smooth_, [this](double v, bool) { smooth_->setValue(v); });
  connect(smooth_, &NumberField::refused, this, &MakeCard::refused);
  const auto read = [this, &listener] {
    const Fit* fit = listener.found();
    song_->setEnabled(fit != nullptr && fit->confidence >= kWorthwhile);
  };
  connect(&listener, &Listener::changed, this, read);
  read();
}

QCheckBox* MakeCard::addCheck(const QString& text, const char* name, const QString& tip, bool on) {
  auto* box = new QCheckBox(text, this);
  box->setObjectName(QLatin1String(name));
  box->setToolTip(tip);
  box->setChecked(on);
  layout()->addWidget(box);
  return box;
}

FeelParts MakeCard::parts() const {
  return {swing_->isChecked(), lean_->isChecked(), slots_->isChecked(), drift_->isChecked()};
}

FollowWanted MakeCard::follow() const {
  FollowWanted out;
  out.asFound = by_->currentData().toInt() < 0;
  if (!out.asFound) out.by = static_cast<FollowBy>(by_->currentData().toInt());
  out.smoothBars = smooth_->value().value_or(0);
  return out;
}

bool MakeCard::nudges() const {
  return nudges_->isChecked();
}

}  // namespace uneven
