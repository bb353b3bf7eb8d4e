// SPDX-License-Identifier: GPL-3.0-or-later
// The table and its cells. Cells are made when somebody asks for them and live as long as the
// table, since whoever asked may ask again; they say what stands at their row and column by then.
#include "app/stage/bar_accessible.h"

#include <QAccessible>
#include <QAccessibleWidget>
#include <map>
#include <utility>

#include "app/stage/bar_view.h"

namespace uneven {
namespace {

class BarAccessible;

class BarCell final : public QAccessibleInterface,
                      public QAccessibleTableCellInterface,
                      public QAccessibleActionInterface {
 public:
  BarCell(BarAccessible& table, int row, int column) : table_(table), row_(row), column_(column) {}

  bool isValid() const override;
  QObject* object() const override { return nullptr; }
  QWindow* window() const override;
  QAccessibleInterface* parent() const override;
  QAccessibleInterface* child(int) const override { return nullptr; }
  int childCount() const override { return 0; }
  int indexOfChild(const QAccessibleInterface*) const override { return -1; }
  QAccessibleInterface* childAt(int, int) const override { return nullptr; }
  QString text(QAccessible::Text what) const override;
  void setText(QAccessible::Text, const QString&) override {}
  QRect rect() const override;
  QAccessible::Role role() const override { return QAccessible::Cell; }
  QAccessible::State state() const override;
  void* interface_cast(QAccessible::InterfaceType type) override {
    if (type == QAccessible::TableCellInterface) {
      return static_cast<QAccessibleTableCellInterface*>(this);
    }
    if (type == QAccessible::ActionInterface) return static_cast<QAccessibleActionInterface*>(this);
    return nullptr;
  }

  bool isSelected() const override { return state().selected; }
  QList<QAccessibleInterface*> columnHeaderCells() const override { return {}; }
  QList<QAccessibleInterface*> rowHeaderCells() const override { return {}; }
  int columnIndex() const override { return column_; }
  int rowIndex() const override { return row_; }
  int columnExtent() const override { return 1; }
  int rowExtent() const override { return 1; }
  QAccessibleInterface* table() const override { return parent(); }

  // As Enter does on the lanes.
  QStringList actionNames() const override { return {pressAction(), setFocusAction()}; }
  void doAction(const QString& name) override;
  QStringList keyBindingsForAction(const QString&) const override { return {}; }

 private:
  BarAccessible& table_;
  int row_;
  int column_;
};

class BarAccessible final : public QAccessibleWidget, public QAccessibleTableInterface {
 public:
  explicit BarAccessible(BarView& view)
      : QAccessibleWidget(&view, QAccessible::Table), view_(view) {}
  ~BarAccessible() override {
    for (const auto& [place, id] : std::exchange(cells_, {})) {
      QAccessible::deleteAccessibleInterface(id);
    }
  }

  BarView& view() const { return view_; }
  const Take& take() const { return view_.editing().document().take(); }
  // As it is now. A new one where the song is another, or other bars or lanes are shown.
  const BarTable& now() const {
    const BarFrame& frame = view_.frame();
    std::vector<BarRow> rows = view_.rows();
    const std::uint64_t revision = view_.editing().document().revision();
    const bool same = made_ && revision == revision_ && frame.begin == begin_ &&
                      frame.end == end_ && rows == table_.rows;
    if (same) return table_;
    table_ = barTable(take(), frame, std::move(rows));
    made_ = true;
    revision_ = revision;
    begin_ = frame.begin;
    end_ = frame.end;
    return table_;
  }
  std::optional<std::pair<int, int>> cursor() const {
    const BarTable& table = now();
    const Editing& editing = view_.editing();
    const auto row = table.rowOf(editing.cursorPiece(), editing.cursorLimb());
    const auto column = table.columnAt(editing.cursorAt());
    if (!row || !column) return std::nullopt;
    return std::pair(static_cast<int>(*row), static_cast<int>(*column));
  }

  void* interface_cast(QAccessible::InterfaceType type) override {
    if (type == QAccessible::TableInterface) return static_cast<QAccessibleTableInterface*>(this);
    return QAccessibleWidget::interface_cast(type);
  }
  QString text(QAccessible::Text what) const override {
    if (what != QAccessible::Name) return QAccessibleWidget::text(what);
    return view_.toldName() + QStringLiteral(", ") + view_.barsText();
  }
  int childCount() const override { return rowCount() * columnCount(); }
  QAccessibleInterface* child(int index) const override {
    const int columns = columnCount();
    return index < 0 || columns == 0 ? nullptr : cellAt(index / columns, index % columns);
  }
  int indexOfChild(const QAccessibleInterface* child) const override {
    const auto* cell = dynamic_cast<const BarCell*>(child);
    return cell == nullptr ? -1 : cell->rowIndex() * columnCount() + cell->columnIndex();
  }
  QAccessibleInterface* childAt(int x, int y) const override {
    for (int i = 0; i < childCount(); ++i) {
      if (child(i)->rect().contains(x, y)) return child(i);
    }
    return nullptr;
  }
  QAccessibleInterface* focusChild() const override {
    const auto at = cursor();
    return at && view_.hasFocus() ? cellAt(at->first, at->second) : nullptr;
  }

  QAccessibleInterface* caption() const override { return nullptr; }
  QAccessibleInterface* summary() const override { return nullptr; }
  QAccessibleInterface* cellAt(int row, int column) const override {
    if (row < 0 || column < 0 || row >= rowCount() || column >= columnCount()) return nullptr;
    QAccessible::Id& id = cells_[{row, column}];
    if (id == 0) {
      id = QAccessible::registerAccessibleInterface(
          new BarCell(const_cast<BarAccessible&>(*this), row, column));
    }
    return QAccessible::accessibleInterface(id);
  }
  int rowCount() const override { return static_cast<int>(now().rows.size()); }
  int columnCount() const override { return static_cast<int>(now().columns.size()); }
  QString rowDescription(int row) const override {
    return row < 0 || row >= rowCount() ? QString() : spokenRow(take(), table_, size(row));
  }
  QString columnDescription(int column) const override {
    return column < 0 || column >= columnCount() ? QString()
                                                 : spokenColumn(take(), table_, size(column));
  }
  int selectedCellCount() const override { return static_cast<int>(selectedCells().size()); }
  int selectedColumnCount() const override { return 0; }
  int selectedRowCount() const override { return 0; }
  QList<QAccessibleInterface*> selectedCells() const override {
    QList<QAccessibleInterface*> out;
    for (int i = 0; i < childCount(); ++i) {
      if (child(i)->state().selected) out << child(i);
    }
    return out;
  }
  QList<int> selectedColumns() const override { return {}; }
  QList<int> selectedRows() const override { return {}; }
  bool isColumnSelected(int) const override { return false; }
  bool isRowSelected(int) const override { return false; }
  bool selectRow(int) override { return false; }
  bool selectColumn(int) override { return false; }
  bool unselectRow(int) override { return false; }
  bool unselectColumn(int) override { return false; }
  void modelChange(QAccessibleTableModelChangeEvent*) override {}

 private:
  static std::size_t size(int i) { return static_cast<std::size_t>(i); }

  BarView& view_;
  mutable BarTable table_;
  mutable bool made_ = false;
  mutable std::uint64_t revision_ = 0;
  mutable Beat begin_, end_;
  mutable std::map<std::pair<int, int>, QAccessible::Id> cells_;
};

bool BarCell::isValid() const {
  return table_.isValid() && row_ < table_.rowCount() && column_ < table_.columnCount();
}

QWindow* BarCell::window() const {
  return table_.window();
}

QAccessibleInterface* BarCell::parent() const {
  return &table_;
}

QString BarCell::text(QAccessible::Text what) const {
  const BarTable& table = table_.now();
  const auto row = static_cast<std::size_t>(row_);
  const auto column = static_cast<std::size_t>(column_);
  if (row >= table.rows.size() || column >= table.columns.size()) return {};
  if (what == QAccessible::Name) return spokenCell(table_.take(), table, row, column);
  if (what == QAccessible::Description) return spokenColumn(table_.take(), table, column);
  return {};
}

QRect BarCell::rect() const {
  const BarTable& table = table_.now();
  const auto row = static_cast<std::size_t>(row_);
  const auto column = static_cast<std::size_t>(column_);
  if (row >= table.rows.size() || column >= table.columns.size()) return {};
  const BarFrame& frame = table_.view().frame();
  const double x = frame.xOf(table.columns[column]).value_or(0);
  const double next = column + 1 < table.columns.size()
                          ? frame.xOf(table.columns[column + 1]).value_or(x + 1)
                          : frame.area.right;
  const BarRow& r = table.rows[row];
  const QRectF inView(x - 6, r.top, std::max(1.0, next - x), r.bottom - r.top);
  return inView.toAlignedRect().translated(table_.view().mapToGlobal(QPoint(0, 0)));
}

QAccessible::State BarCell::state() const {
  QAccessible::State state;
  state.focusable = true;
  state.selectable = true;
  const auto cursor = table_.cursor();
  state.focused = table_.view().hasFocus() && cursor == std::pair(row_, column_);
  const BarTable& table = table_.now();
  if (!isValid()) {
    state.invalid = true;
    return state;
  }
  if (const auto hit =
          table.hit(static_cast<std::size_t>(row_), static_cast<std::size_t>(column_))) {
    const Editing& editing = table_.view().editing();
    state.selected = editing.selection().contains(refOf(editing.groove(), *hit));
  }
  return state;
}

void BarCell::doAction(const QString& name) {
  if (!isValid()) return;
  const BarTable& table = table_.now();
  const BarRow row = table.rows[static_cast<std::size_t>(row_)];
  const Beat at = table.columns[static_cast<std::size_t>(column_)];
  Editing& editing = table_.view().editing();
  const PieceId piece = editing.struckBy(row.limb, at, row.piece);
  if (name == setFocusAction()) {
    table_.view().setFocus();
    editing.moveCursor(at, piece, row.limb);
  } else if (name == pressAction()) {
    editing.hits().toggleAt(at, piece, row.limb);
  }
}

QAccessibleInterface* makeBarAccessible(const QString& /*className*/, QObject* object) {
  auto* view = qobject_cast<BarView*>(object);
  return view == nullptr ? nullptr : new BarAccessible(*view);
}

BarAccessible* accessibleOf(BarView& view) {
  return dynamic_cast<BarAccessible*>(QAccessible::queryAccessibleInterface(&view));
}

}  // namespace

void installBarAccessible() {
  static const bool once = [] {
    QAccessible::installFactory(makeBarAccessible);
    return true;
  }();
  static_cast<void>(once);
}

void tellCellFocused(BarView& view) {
  BarAccessible* table = accessibleOf(view);
  if (table == nullptr || !view.hasFocus()) return;
  const auto at = table->cursor();
  if (!at) return;
  QAccessibleEvent event(table->cellAt(at->first, at->second), QAccessible::Focus);
  QAccessible::updateAccessibility(&event);
}

void tellTableChanged(BarView& view) {
  BarAccessible* table = accessibleOf(view);
  if (table == nullptr) return;
  const auto at = table->cursor();
  if (!at) return;
  QAccessibleEvent event(table->cellAt(at->first, at->second), QAccessible::NameChanged);
  QAccessible::updateAccessibility(&event);
}

}  // namespace uneven
