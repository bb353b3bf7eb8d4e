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
#include "app/strike/tool_panel.h"

namespace uneven {

StrikeStage::StrikeStage(Editing& editing, QWidget* parent)
    : QWidget(parent), editing_(editing), lanes_(new LanesView(editing, this)) {
  across_ = new QHBoxLayout(this);
  across_->setContentsMargins(0, 6, 14, 6);
  across_->setSpacing(6);
  auto* down = new QVBoxLayout;
  down->setSpacing(0);
  down->addWidget(gridRow());
  down->addWidget(lanes_, 1);
  down->addWidget(new LegendStrip(editing_, *lanes_, this));
  auto* feel = new FeelPanel(editing_.document(), this);
  down->addWidget(feel);
  across_->addLayout(down, 1);
  card_ = new HitCard(editing_, this);
  across_->addWidget(card_);
  connect(feel, &FeelPanel::refused, this, &StrikeStage::refused);
  connect(card_, &HitCard::refused, this, &StrikeStage::refused);
  setFocusProxy(lanes_);
  connect(&editing_.document(), &Document::changed, this, &StrikeStage::readGrid);
  connect(lanes_, &LanesView::viewportChanged, this, &StrikeStage::readGrid);
  readGrid();
}

void StrikeStage::openTool(const std::string& name) {
  if (tools_ == nullptr) {
    tools_ = new ToolPanel(editing_, this);
    across_->addWidget(tools_);
    connect(tools_, &ToolPanel::closed, this, &StrikeStage::closeTool);
  }
  card_->hide();
  tools_->show();
  tools_->openTool(name);
}

void StrikeStage::closeTool() {
  if (tools_ != nullptr) tools_->hide();
  card_->show();
  lanes_->setFocus();
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
