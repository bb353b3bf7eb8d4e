// SPDX-License-Identifier: GPL-3.0-or-later
// How tables look.
#include "app/controls/airy_table.h"

#include <QHeaderView>
#include <QPainter>
#include <QScrollBar>
#include <QStyledItemDelegate>
#include <QTableView>

#include "app/controls/theme.h"

namespace uneven {
namespace {

constexpr const char* kTableSheet = R"(
QTableView { background: @card; alternate-background-color: @paper; border: 1px solid @line;
  selection-background-color: @chosen; selection-color: @ink; }
QHeaderView::section { background: @paper; color: @quiet; border: none;
  border-bottom: 1px solid @line; padding: 5px 12px; }
)";
constexpr const char* kBarSheet = R"(
QScrollBar:vertical { background: @paper; width: 10px; }
QScrollBar::handle:vertical { background: @line; border-radius: 4px; min-height: 30px; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
)";

class AiryCells final : public QStyledItemDelegate {
 public:
  using QStyledItemDelegate::QStyledItemDelegate;
  void paint(QPainter* p, const QStyleOptionViewItem& option,
             const QModelIndex& index) const override {
    QStyleOptionViewItem cell = option;
    initStyleOption(&cell, index);
    // Not through the style: a sheet's rules cost more for each cell than all the rest.
    const bool chosen = (cell.state & QStyle::State_Selected) != 0;
    const bool alternate = cell.features.testFlag(QStyleOptionViewItem::Alternate);
    p->fillRect(cell.rect, chosen ? theme::kChosen : alternate ? theme::kPaper : theme::kCard);
    const QVariant own = index.data(Qt::ForegroundRole);
    p->setPen(own.isValid() ? own.value<QColor>() : theme::kInk);
    p->setFont(cell.font);
    const QRect room = cell.rect.adjusted(12, 0, -12, 0);
    p->drawText(room, static_cast<int>(cell.displayAlignment),
                cell.fontMetrics.elidedText(cell.text, Qt::ElideRight, room.width()));
  }
};

}  // namespace

void makeAiry(QTableView& table) {
  table.setSelectionBehavior(QAbstractItemView::SelectRows);
  table.setItemDelegate(new AiryCells(&table));
  table.setStyleSheet(theme::sheet(kTableSheet) + theme::sheet(kBarSheet));
  table.setTabKeyNavigation(false);  // Tab leaves it
  table.setShowGrid(false);
  table.setAlternatingRowColors(true);
  table.verticalHeader()->hide();
  table.verticalHeader()->setDefaultSectionSize(24);
  table.horizontalHeader()->setHighlightSections(false);
}

void makeAiry(QScrollBar& bar) {
  bar.setStyleSheet(theme::sheet(kBarSheet));
}

}  // namespace uneven
