// SPDX-License-Identifier: GPL-3.0-or-later
// The Strike stage.
#include "app/strike/strike_stage.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QSettings>
#include <QVBoxLayout>

#include "app/controls/card_room.h"
#include "app/controls/choice_field.h"
#include "app/controls/labels.h"
#include "app/controls/word_tabs.h"
#include "app/play/play_in.h"
#include "app/strike/feel_panel.h"
#include "app/strike/groove_panel.h"
#include "app/strike/hit_card.h"
#include "app/strike/kit_panel.h"
#include "app/strike/lanes_view.h"
#include "app/strike/legend_strip.h"
#include "app/strike/tool_panel.h"
#include "core/song/slots.h"

namespace uneven {

StrikeStage::StrikeStage(const Workplace& place, QWidget* parent)
    : Stage(parent),
      editing_(place.editing),
      lanes_(new LanesView(place.editing, place.checker, this)),
      tabs_(new WordTabs(this)),
      side_(new QVBoxLayout) {
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
  tabs_->setObjectName(QStringLiteral("side-tabs"));
  tabs_->setPurpose(tr("Card"));
  tabs_->setFixedWidth(Card::kWidth);
  tabs_->addWord(tr("Hit"), tr("What is chosen on the lanes: Escape"));
  tabs_->addWord(tr("Tools"), tr("What writes and changes many hits at once: Ctrl+K"));
  tabs_->addWord(tr("Grooves"), tr("The grooves of this song: Ctrl+G"));
  tabs_->addWord(tr("Kit"), tr("Pieces, lanes and who sits behind them: Ctrl+J"));
  side_->setSpacing(2);
  side_->addWidget(tabs_);
  across->addLayout(side_);
  connect(tabs_, &WordTabs::chosen, this, [this](int i) { showSide(static_cast<Side>(i)); });
  connect(feel, &FeelPanel::refused, this, &StrikeStage::refused);
  setFocusProxy(lanes_);
  connect(&place.playIn, &PlayIn::changed, this, [this, &playIn = place.playIn] {
    if (playIn.recording() && shown_ == tools_ && tools_ != nullptr) closeTool();
  });
  connect(&editing_.document(), &Document::changed, this, &StrikeStage::readGrid);
  connect(lanes_, &LanesView::viewportChanged, this, &StrikeStage::readGrid);
  connect(&editing_, &Editing::cursorMoved, this, &StrikeStage::readGrid);
  showSide(Side::kHit);
  readGrid();
}

void StrikeStage::zoom(double by) {
  lanes_->setPxPerMs(lanes_->pxPerMs() * by);
}

void StrikeStage::readSettings(const QSettings& settings) {
  lanes_->setVisibleBars(settings.value(QStringLiteral("strike/bars"), 2).toInt());
  lanes_->setPxPerMs(settings.value(QStringLiteral("strike/px-per-ms"), 1.0).toDouble());
  lanes_->setShowAllPieces(settings.value(QStringLiteral("strike/all-pieces"), false).toBool());
}

void StrikeStage::writeSettings(QSettings& settings) const {
  settings.setValue(QStringLiteral("strike/bars"), lanes_->visibleBars());
  settings.setValue(QStringLiteral("strike/px-per-ms"), lanes_->pxPerMs());
  settings.setValue(QStringLiteral("strike/all-pieces"), lanes_->showsAllPieces());
}

Card* StrikeStage::cardOf(Side side) {
  const auto made = [this](auto*& card, auto make) -> Card* {
    if (card == nullptr) {
      card = make();
      side_->addWidget(new CardRoom(card, this), 1);
    }
    return card;
  };
  switch (side) {
    case Side::kHit:
      return made(hit_, [this] {
        auto* card = new HitCard(editing_, this);
        connect(card, &HitCard::refused, this, &StrikeStage::refused);
        return card;
      });
    case Side::kTool:
      return made(tools_, [this] {
        auto* card = new ToolPanel(editing_, this);
        connect(card, &ToolPanel::closed, this, &StrikeStage::closeTool);
        connect(card, &ToolPanel::previewed, lanes_, &LanesView::setPreview);
        return card;
      });
    case Side::kGrooves:
      return made(grooves_, [this]() -> Card* { return new GroovePanel(editing_, this); });
    case Side::kKit:
      break;
  }
  return made(kit_, [this]() -> Card* {
    auto* card = new KitPanel(editing_, this);
    connect(card, &KitPanel::refused, this, &StrikeStage::refused);
    return card;
  });
}

void StrikeStage::showSide(Side side) {
  Card* card = cardOf(side);
  if (shown_ != nullptr && shown_ != card) shown_->hide();
  shown_ = card;
  card->show();
  tabs_->setCurrent(static_cast<int>(side));
  if (side == Side::kTool) {
    tools_->reopen();
  } else if (side == Side::kHit) {
    lanes_->setFocus();
  } else {
    card->setFocus();
  }
}

void StrikeStage::openTool(const std::string& name) {
  cardOf(Side::kTool);
  tools_->setTool(name);
  showSide(Side::kTool);
}

// What no field or list has taken.
void StrikeStage::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Escape) return showSide(Side::kHit);
  QWidget::keyPressEvent(event);
}

QWidget* StrikeStage::gridRow() {
  auto* row = new QWidget(this);
  auto* layout = new QHBoxLayout(row);
  layout->setContentsMargins(20, 0, 20, 0);
  layout->setSpacing(6);
  grid_ = new ChoiceField(Qt::AlignLeft, row);
  grid_->setObjectName(QStringLiteral("grid-choice"));
  grid_->setToolTip(
      tr("The subdivision that hits are put on; T is triplets. Keys: [ coarser, ] finer"));
  for (const Grid& grid : GrooveEdits::grids()) {
    grid_->addItem(QString::fromStdString(grid.toString()));
  }
  layout->addWidget(fieldLabel(tr("Grid"), grid_, row));
  layout->addWidget(grid_);
  layout->addSpacing(16);
  beat_ = new ChoiceField(Qt::AlignLeft, row);
  beat_->setObjectName(QStringLiteral("beat-choice"));
  beat_->setToolTip(tr(
      "The grid of the beat under the cursor alone, where it differs: a triplet beat in a bar of "
      "sixteenths, five or seven to a beat. Keys: { coarser, } finer"));
  beat_->addItem(tr("as the grid"));
  for (const Grid& grid : GrooveEdits::beatGrids()) {
    beat_->addItem(QString::fromStdString(grid.toString()));
  }
  layout->addWidget(fieldLabel(tr("This beat"), beat_, row));
  layout->addWidget(beat_);
  layout->addSpacing(16);
  zoom_ = new ChoiceField(Qt::AlignLeft, row);
  zoom_->setObjectName(QStringLiteral("zoom-choice"));
  zoom_->setToolTip(
      tr("Bars shown at once. Keys: Ctrl+1, Ctrl+2, Ctrl+4; Page Up and Page Down move"));
  for (const int bars : {1, 2, 4}) {
    zoom_->addItem(bars == 1 ? tr("1 bar") : tr("%1 bars").arg(bars), bars);
  }
  layout->addWidget(fieldLabel(tr("Shown"), zoom_, row));
  layout->addWidget(zoom_);
  layout->addStretch(1);
  connect(grid_, &QComboBox::activated, this, [this](int i) {
    editing_.grooves().setGrid(GrooveEdits::grids()[static_cast<std::size_t>(i)]);
  });
  connect(beat_, &QComboBox::activated, this, [this](int i) {
    editing_.grooves().setBeatGrid(i == 0
                                       ? editing_.groove().grid
                                       : GrooveEdits::beatGrids()[static_cast<std::size_t>(i - 1)]);
  });
  connect(zoom_, &QComboBox::activated, this,
          [this] { lanes_->setVisibleBars(zoom_->currentData().toInt()); });
  return row;
}

void StrikeStage::readGrid() {
  grid_->setCurrentIndex(
      grid_->findText(QString::fromStdString(editing_.groove().grid.toString())));
  const Groove& groove = editing_.groove();
  const auto own = groove.beatGrids.find(beatStart(groove, editing_.cursorAt()));
  beat_->setCurrentIndex(own == groove.beatGrids.end()
                             ? 0
                             : beat_->findText(QString::fromStdString(own->second.toString())));
  zoom_->setCurrentIndex(zoom_->findData(lanes_->visibleBars()));
}

}  // namespace uneven
