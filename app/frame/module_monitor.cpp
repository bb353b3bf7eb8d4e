// SPDX-License-Identifier: GPL-3.0-or-later
// The module's monitor.
#include "app/frame/module_monitor.h"

#include <QHeaderView>
#include <QKeyEvent>
#include <QLabel>
#include <QStandardItemModel>
#include <QTableView>
#include <QTimer>
#include <QVBoxLayout>

#include "app/controls/airy_table.h"
#include "app/controls/labels.h"
#include "app/play/transport.h"

namespace uneven {

ModuleMonitor::ModuleMonitor(Transport& transport, QWidget* parent)
    : Card(parent),
      transport_(transport),
      title_(strongLabel(tr("The simulated module hears nothing yet: play"), 13, this)),
      model_(new QStandardItemModel(this)),
      look_(new QTimer(this)) {
  setObjectName(QStringLiteral("module-monitor"));
  setFixedSize(520, 300);
  auto* down = new QVBoxLayout(this);
  down->setContentsMargins(14, 10, 14, 12);
  down->addWidget(title_);
  auto* table = new QTableView(this);
  table->setObjectName(QStringLiteral("module-notes"));
  table->setAccessibleName(tr("Notes that the simulated module heard, newest first"));
  model_->setHorizontalHeaderLabels(
      {tr("Seconds"), tr("Note"), tr("Name"), tr("Velocity"), tr("Pedal")});
  table->setModel(model_);
  makeAiry(*table);
  const int widths[] = {80, 56, 170, 80, 64};
  for (int i = 0; i < 5; ++i) table->setColumnWidth(i, widths[i]);
  table->horizontalHeader()->setSectionResizeMode(2, QHeaderView::Stretch);
  down->addWidget(table, 1);
  look_->setInterval(100);
  connect(look_, &QTimer::timeout, this, &ModuleMonitor::read);
}

void ModuleMonitor::showEvent(QShowEvent* event) {
  look_->start();
  read();
  Card::showEvent(event);
}

void ModuleMonitor::hideEvent(QHideEvent* event) {
  look_->stop();
  Card::hideEvent(event);
}

void ModuleMonitor::read() {
  SimulatedModule* module = transport_.sound().module();
  if (module == nullptr || module->count() == shown_) return;
  shown_ = module->count();
  const std::vector<SimulatedModule::Note> heard = module->heard();
  const KitMap& map = transport_.sound().portMap();
  title_->setText(tr("The simulated module heard %1 notes, %2 of them still sound")
                      .arg(shown_)
                      .arg(module->soundingNotes()));
  model_->setRowCount(static_cast<int>(heard.size()));
  int row = 0;
  for (auto note = heard.rbegin(); note != heard.rend(); ++note, ++row) {
    QString name;
    for (const KitMapRow& r : map.rows) {
      if (r.note == note->note && name.isEmpty()) name = qs(r.name);
    }
    const QString cells[] = {QString::number(note->seconds, 'f', 3), QString::number(note->note),
                             name, QString::number(note->velocity),
                             note->pedal < 0 ? QStringLiteral("·") : QString::number(note->pedal)};
    for (int column = 0; column < 5; ++column) {
      auto* item = new QStandardItem(cells[column]);
      item->setEditable(false);
      if (column != 2) item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
      model_->setItem(row, column, item);
    }
  }
}

QString ModuleMonitor::rowText(int row) const {
  QStringList words;
  for (int column = 0; column < model_->columnCount(); ++column) {
    words << model_->index(row, column).data().toString();
  }
  return words.join(QStringLiteral(" | "));
}

void ModuleMonitor::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Escape) return hide();
  Card::keyPressEvent(event);
}

}  // namespace uneven
