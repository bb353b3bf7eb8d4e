// SPDX-License-Identifier: GPL-3.0-or-later
// The Strike stage.
#include "app/strike/strike_stage.h"

#include <QHBoxLayout>
#include <QVBoxLayout>

#include "app/shell/choice_field.h"
#include "app/shell/labels.h"
#include "app/strike/feel_panel.h"
#include "app/strike/hit_card.h"
#include "app/strike/lanes_view.h"
#include "app/strike/legend_strip.h"

namespace uneven {

StrikeStage::StrikeStage(Editing& editing, QWidget* parent)
    : QWidget(parent), editing_(editing), lanes_(new LanesView(editing, this)) {
  auto* across = new QHBoxLayout(this);
  across->setContentsMargins(0, 6, 14, 6);
  across->setSpacing(6);
  auto* down = new QVBoxLayout;
  down->setSpacing(0);
  down->addWidget(gridRow());
  down->addWidget(lanes_, 1);
  down->addWidget(new LegendStrip(editing_, *lanes_, this));
  auto* feel = new FeelPanel(editing_.document(), this);
  down->addWidget(feel);
  across->addLayout(down, 1);
  auto* card = new HitCard(editing_, this);
  across->addWidget(card);
  connect(feel, &FeelPanel::refused, this, &StrikeStage::refused);
  connect(card, &HitCard::refused, this, &StrikeStage::refused);
  setFocusProxy(lanes_);
  connect(&editing_.document(), &Document::changed, this, &StrikeStage::readGrid);
  connect(lanes_, &LanesView::viewportChanged, this, &StrikeStage::readGrid);
  readGrid();
}

QWidget* StrikeStage::gridRow() {
  auto* row = new QWidget(this);
  auto* layout = new QHBoxLayout(row);
  layout->setContentsMargins(20, 0, 20, 0);
  layout->setSpacing(6);
  layout->addWidget(quietLabel(tr("Grid"), row));
  grid_ = new ChoiceField(Qt::AlignLeft, row);
  grid_->setObjectName(QStringLiteral("grid-choice"));
  grid_->setToolTip(
      tr("The subdivision that hits are put on; T is triplets. Keys: [ coarser, ] finer"));
  for (const Grid& grid : Editing::grids()) {
    grid_->addItem(QString::fromStdString(grid.toString()));
  }
  layout->addWidget(grid_);
  layout->addSpacing(16);
  layout->addWidget(quietLabel(tr("Shown"), row));
  zoom_ = new ChoiceField(Qt::AlignLeft, row);
  zoom_->setObjectName(QStringLiteral("zoom-choice"));
  zoom_->setToolTip(
      tr("Bars shown at once. Keys: Ctrl+1, Ctrl+2, Ctrl+4; Page Up and Page Down move"));
  for (const int bars : {1, 2, 4}) {
    zoom_->addItem(bars == 1 ? tr("1 bar") : tr("%1 bars").arg(bars), bars);
  }
  layout->addWidget(zoom_);
  layout->addStretch(1);
  connect(grid_, &QComboBox::activated, this,
          [this](int i) { editing_.setGrid(Editing::grids()[static_cast<std::size_t>(i)]); });
  connect(zoom_, &QComboBox::activated, this,
          [this] { lanes_->setVisibleBars(zoom_->currentData().toInt()); });
  return row;
}

void StrikeStage::readGrid() {
  grid_->setCurrentIndex(
      grid_->findText(QString::fromStdString(editing_.groove().grid.toString())));
  zoom_->setCurrentIndex(zoom_->findData(lanes_->visibleBars()));
}

}  // namespace uneven
