// SPDX-License-Identifier: GPL-3.0-or-later
// The Lean stage.
#include "app/lean/lean_stage.h"

#include <QApplication>
#include <QClipboard>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QSettings>
#include <QTableView>
#include <QVBoxLayout>

#include "app/controls/action_button.h"
#include "app/controls/airy_table.h"
#include "app/controls/card_room.h"
#include "app/controls/labels.h"
#include "app/controls/word_tabs.h"
#include "app/lean/displace_card.h"
#include "app/lean/drift_card.h"
#include "app/lean/feels_card.h"
#include "app/lean/lean_view.h"
#include "app/lean/seams_card.h"
#include "app/lean/slot_list.h"
#include "app/lean/swing_card.h"
#include "app/lean/timing_list.h"

namespace uneven {

LeanStage::LeanStage(const Workplace& place, QWidget* parent)
    : Stage(parent),
      editing_(place.editing),
      view_(new LeanView(editing_, place.listener, this)),
      table_(new QTableView(this)),
      list_(new TimingList(this)),
      slotTable_(new QTableView(this)),
      slots_(new SlotList(this)),
      tableTabs_(new WordTabs(this)),
      legend_(quietLabel({}, this)),
      tabs_(new WordTabs(this)),
      seams_(new SeamsCard(editing_, this)) {
  auto* across = new QHBoxLayout(this);
  across->setContentsMargins(0, 6, 14, 6);
  across->setSpacing(6);
  auto* down = new QVBoxLayout;
  down->setSpacing(2);
  down->addWidget(view_, 5);
  auto* under = new QHBoxLayout;
  under->setContentsMargins(20, 0, 0, 0);
  tableTabs_->setObjectName(QStringLiteral("table-tabs"));
  tableTabs_->setPurpose(tr("Table"));
  tableTabs_->setFixedSize(130, 26);
  tableTabs_->addWord(tr("Strokes"), tr("Every stroke of the bar in numbers"));
  tableTabs_->addWord(tr("Slots"),
                      tr("The template of the bar: what each position adds, to be typed"));
  connect(tableTabs_, &WordTabs::chosen, this, [this](int i) { showTable(static_cast<Table>(i)); });
  under->addWidget(tableTabs_);
  under->addSpacing(10);
  legend_->setMinimumWidth(80);
  under->addWidget(legend_, 1);
  const auto copyButton = [&](const QString& text, const char* name, const QString& tip, bool csv) {
    auto* button = new ActionButton(text, ActionButton::Tone::kQuiet, this);
    button->setObjectName(QString::fromLatin1(name));
    button->setToolTip(tip);
    connect(button, &QPushButton::clicked, this, [this, csv] { copyTable(csv); });
    under->addWidget(button);
  };
  copyButton(tr("Copy table"), "copy-text",
             tr("Every stroke of the groove, or the slots: columns divided by tabs"), false);
  copyButton(tr("as CSV"), "copy-csv",
             tr("Every stroke of the groove, or the slots: comma-separated values"), true);
  down->addLayout(under);
  buildTable();
  buildSlots();
  auto* room = new QHBoxLayout;
  room->setContentsMargins(20, 0, 0, 0);
  room->addWidget(table_);
  room->addWidget(slotTable_);
  down->addLayout(room, 2);
  across->addLayout(down, 1);

  auto* side = new QVBoxLayout;
  side->setSpacing(2);
  tabs_->setFixedWidth(Card::kWidth);
  tabs_->setPurpose(tr("Card"));
  tabs_->addWord(tr("Swing"), tr("Ratio in every unit, by tempo, and who follows"));
  tabs_->addWord(tr("Shift"), tr("How late and early, limits, and what is struck together"));
  tabs_->addWord(tr("Drift"), tr("What a body adds"));
  tabs_->addWord(tr("Feels"), tr("The song's feels"));
  tabs_->addWord(tr("Seams"), tr("Where one feel gives way to the next"));
  side->addWidget(tabs_);
  auto* swing = new SwingCard(editing_, this);
  auto* displace = new DisplaceCard(editing_, this);
  auto* drift = new DriftCard(editing_, this);
  auto* feels = new FeelsCard(editing_, place.files, place.prompts, this);
  cards_ = {swing, displace, drift, feels, seams_};
  for (Card* card : cards_) side->addWidget(new CardRoom(card, this), 1);
  across->addLayout(side);
  for (FeelCard* card : {static_cast<FeelCard*>(swing), static_cast<FeelCard*>(displace),
                         static_cast<FeelCard*>(drift), static_cast<FeelCard*>(seams_)}) {
    connect(card, &FeelCard::refused, this, &LeanStage::refused);
  }
  connect(feels, &FeelsCard::refused, this, &LeanStage::refused);
  connect(feels, &FeelsCard::failed, this, &LeanStage::failed);
  connect(feels, &FeelsCard::said, this, &LeanStage::said);
  connect(feels, &FeelsCard::compared, view_, &LeanView::setCompared);
  connect(tabs_, &WordTabs::chosen, this, [this](int i) { showSide(static_cast<Side>(i)); });
  setFocusProxy(view_);
  showSide(Side::kSwing);
  showTable(Table::kStrokes);
}

void LeanStage::zoom(double by) {
  view_->setPxPerMs(view_->pxPerMs() * by);
}

void LeanStage::readSettings(const QSettings& settings) {
  view_->setPxPerMs(settings.value(QStringLiteral("lean/px-per-ms"), 1.2).toDouble());
  seams_->setBound(settings.value(QStringLiteral("lean/bound"), SeamsCard::kBoundUsual).toDouble());
}

void LeanStage::writeSettings(QSettings& settings) const {
  settings.setValue(QStringLiteral("lean/px-per-ms"), view_->pxPerMs());
  settings.setValue(QStringLiteral("lean/bound"), seams_->bound());
}

void LeanStage::buildTable() {
  table_->setObjectName(QStringLiteral("timing-table"));
  table_->setAccessibleName(tr("Strokes in numbers"));
  table_->setModel(list_);
  makeAiry(*table_);
  table_->verticalHeader()->setDefaultSectionSize(21);
  table_->setMinimumHeight(96);
  const int widths[TimingList::kColumns] = {68, 84, 80, 74, 98, 72, 64, 100, 74};
  for (int i = 0; i < TimingList::kColumns; ++i) table_->setColumnWidth(i, widths[i]);
  table_->horizontalHeader()->setSectionResizeMode(TimingList::kFrom, QHeaderView::Stretch);
  connect(&editing_.document(), &Document::changed, this, [this] {
    if (isVisible()) readTable();
  });
  connect(view_, &LeanView::viewportChanged, this, &LeanStage::readTable);
  connect(table_->selectionModel(), &QItemSelectionModel::currentRowChanged, this,
          [this](const QModelIndex& index) {
            if (!index.isValid() || !table_->hasFocus()) return;
            const HitRef ref = list_->rows()[static_cast<std::size_t>(index.row())].ref;
            editing_.moveCursor(ref.at, ref.piece);
          });
}

void LeanStage::buildSlots() {
  slotTable_->setObjectName(QStringLiteral("slot-table"));
  slotTable_->setAccessibleName(tr("Slots of the bar"));
  slotTable_->setModel(slots_);
  makeAiry(*slotTable_);
  slotTable_->setSelectionBehavior(QAbstractItemView::SelectItems);
  slotTable_->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::AnyKeyPressed);
  slotTable_->verticalHeader()->setDefaultSectionSize(21);
  slotTable_->setMinimumHeight(96);
  slotTable_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
  connect(slots_, &SlotList::refused, this, &LeanStage::refused);
  connect(slots_, &SlotList::edited, this,
          [this](const QString& step, const std::function<void(Feel&)>& edit) {
            Document& d = editing_.document();
            d.apply(step, withFeelChanged(d.song(), d.grooveId(), edit, d.at()));
          });
}

void LeanStage::readTable() {
  if (tableTabs_->current() == static_cast<int>(Table::kSlots)) {
    slots_->show(editing_.document(), view_->firstBar());
  } else {
    list_->show(editing_.document(), view_->firstBar());
  }
}

void LeanStage::showTable(Table table) {
  tableTabs_->setCurrent(static_cast<int>(table));
  legend_->setText(table == Table::kStrokes
                       ? tr("Brass: swung. Bands: drift. Faint: repeats. Hold S: straight.")
                       : tr("Type ms (+ is late) or velocity; empty adds nothing."));
  table_->setVisible(table == Table::kStrokes);
  slotTable_->setVisible(table == Table::kSlots);
  readTable();
}

void LeanStage::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  readTable();
}

void LeanStage::showSide(Side side) {
  for (std::size_t i = 0; i < cards_.size(); ++i) {
    cards_[i]->setVisible(i == static_cast<std::size_t>(side));
  }
  tabs_->setCurrent(static_cast<int>(side));
}

void LeanStage::copyTable(bool csv) {
  if (tableTabs_->current() == static_cast<int>(Table::kSlots)) {
    QApplication::clipboard()->setText(slots_->asText(csv));
    return Q_EMIT said(tr("%1 rows copied").arg(slots_->rowCount({})));
  }
  const Document& d = editing_.document();
  const auto rows = timingRows(d.take());
  QApplication::clipboard()->setText(
      QString::fromStdString(timingText(rows, *d.song().kit, d.groove().meter, csv ? ',' : '\t')));
  Q_EMIT said(tr("%1 rows copied").arg(rows.size()));
}

}  // namespace uneven
