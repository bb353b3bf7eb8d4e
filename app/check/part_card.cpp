// SPDX-License-Identifier: GPL-3.0-or-later
// Figures of a part.
#include "app/check/part_card.h"

#include <QGridLayout>
#include <QLabel>
#include <QVBoxLayout>
#include <cmath>

#include "app/controls/card_scroll.h"
#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "core/base/number.h"
#include "core/measure/syncopation.h"
#include "core/measure/tempo_card.h"

namespace uneven {
namespace {

constexpr int kRowHeight = 17;
constexpr int kRows = 8;  // rows of a table; longer grooves: the first ones

QString number(double value, int decimals = 0) {
  return numberText(value, decimals);
}

// Rows of figures under headings, right-aligned.
class Table {
 public:
  Table(QWidget* parent, QVBoxLayout& into) : parent_(parent), grid_(new QGridLayout) {
    grid_->setHorizontalSpacing(8);
    grid_->setVerticalSpacing(1);
    into.addLayout(grid_);
  }
  void row(const QStringList& cells, bool heading = false, const QStringList& tips = {}) {
    const int row = grid_->rowCount();
    for (int i = 0; i < cells.size(); ++i) {
      QLabel* label =
          i == 0 && !heading ? strongLabel(cells[i], 12, parent_) : quietLabel(cells[i], parent_);
      label->setAlignment((i == 0 ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
      if (i < tips.size()) label->setToolTip(tips[i]);
      grid_->addWidget(label, row, i);
    }
    grid_->setColumnStretch(0, 1);
    grid_->setRowMinimumHeight(row, kRowHeight);
  }

 private:
  QWidget* parent_;
  QGridLayout* grid_;
};

}  // namespace

PartCard::PartCard(Editing& editing, Checker& checker, QWidget* parent)
    : Card(parent), editing_(editing), checker_(checker), down_(scrollingColumn(*this)) {
  setObjectName(QStringLiteral("part-card"));
  connect(&checker_, &Checker::looked, this, [this] {
    if (isVisible()) read();
  });
  connect(&editing_.document(), &Document::changed, this, [this] { trial_.reset(); });
}

void PartCard::setTrial(std::optional<double> bpm) {
  if (trial_ == bpm) return;
  trial_ = bpm;
  if (isVisible()) read();
}

void PartCard::showEvent(QShowEvent* event) {
  read();
  Card::showEvent(event);
}

void PartCard::read() {
  delete list_;
  list_ = new QWidget(this);
  auto* rows = new QVBoxLayout(list_);
  rows->setContentsMargins(0, 0, 0, 0);
  rows->setSpacing(5);
  rows->setSizeConstraint(QLayout::SetMinimumSize);  // what does not fit scrolls
  down_->addWidget(list_);
  const auto heading = [&](const QString& text) {
    if (rows->count() > 0) rows->addSpacing(8);
    rows->addWidget(strongLabel(text, 14, list_));
  };
  const auto words = [&](const QString& text) { rows->addWidget(wrappedLabel(text, list_)); };
  const Looked* now = checker_.now();
  if (now == nullptr || !now->report) {
    words(now == nullptr ? tr("Looking…") : tr("There is nothing to play."));
    rows->addStretch(1);
    return;
  }
  const HandReport& r = *now->report;
  // As it was typed: the file keeps whole microseconds.
  const double bpm = roundedTo(trial_.value_or(r.bpm), 100);
  HardnessReport hard = now->hard;
  if (trial_) {
    const Body body(*r.take->score().kit, now->of.profile);
    const double pace = bpm / r.bpm;
    hard = hardness(r, loopStrains(body, r.part, solveLoop(body, r.part, pace).hands, pace));
  }
  const Groove& groove = editing_.groove();
  heading(tr("How difficult: %1 at %2 BPM").arg(number(hard.groove.total()), number(bpm)));
  {
    Table table(list_, *rows);
    const Hardness& h = hard.groove;
    const auto part = [&](const QString& name, double value, const QString& tip) {
      table.row({name, number(value, 1)}, false, {tip, tip});
    };
    part(tr("speed"), h.speed, tr("50 times the greatest effort: 1 is a limb's comfortable limit"));
    part(tr("coordination"), h.coordination,
         tr("5 for each combination of limbs beyond the first, 1 for each two strokes of a limb "
            "with another's between"));
    part(tr("dynamics"), h.dynamics, tr("1 for each 6 dB that a hand jumps from stroke to stroke"));
    part(tr("openings"), h.openings, tr("4 for each opening of the hats"));
    part(tr("subdivisions"), h.subdivisions,
         tr("3 for each beat that is divided otherwise than the one before"));
  }
  words(tr("The weights are our own; there is no published measure."));
  heading(tr("Bar by bar"));
  {
    const std::vector<int> kit = kitSyncopationByBar(groove);
    const std::vector<int> kick = syncopationByBar(groove, {piece::kKick});
    const std::vector<double> density = densityByBar(groove);
    Table table(list_, *rows);
    const QString kickTip =
        tr("Syncopation of the kick: Longuet-Higgins & Lee 1984, in the form "
           "of Fitch & Rosenfeld 2007");
    const QString kitTip = tr("Of kick and snare together, after Witek et al. 2014");
    const QString denseTip = tr("Hits a quarter note");
    table.row({tr("bar"), tr("hard"), tr("kick"), tr("kit"), tr("dense")}, true,
              {{}, tr("How difficult the bar is"), kickTip, kitTip, denseTip});
    const auto shown = std::min<std::size_t>(kRows, kit.size());
    for (std::size_t i = 0; i < shown; ++i) {
      table.row({QString::number(i + 1), number(i < hard.bars.size() ? hard.bars[i].total() : 0),
                 number(kick[i]), number(kit[i]), number(density[i], 2)},
                false, {{}, {}, kickTip, kitTip, denseTip});
    }
    if (shown < kit.size()) words(tr("and %1 more bars").arg(kit.size() - shown));
  }
  words(
      tr("kick and kit: syncopation by Longuet-Higgins & Lee 1984 (Fitch & Rosenfeld 2007) and "
         "after Witek et al. 2014; dense: hits a quarter."));
  heading(tr("Notes at %1 BPM").arg(number(bpm, bpm == std::floor(bpm) ? 0 : 1)));
  {
    Table table(list_, *rows);
    for (const NoteValue& value : noteValues()) {
      table.row({qs(value.name), plainMs(noteLength(Bpm{bpm}, value.length), 2)});
    }
  }
  heading(tr("The same notes"));
  for (const SameNotes& same : sameNotes(Bpm{bpm}))
    rows->addWidget(quietLabel(qs(same.text), list_));
  rows->addStretch(1);
}

}  // namespace uneven
