// SPDX-License-Identifier: GPL-3.0-or-later
// The first notes that will be written, as rows to read.
#pragma once

#include <QAbstractTableModel>
#include <vector>

#include "core/midi/render.h"

namespace uneven {

class EventList : public QAbstractTableModel {
  Q_OBJECT
 public:
  enum Column { kBar, kCount, kNote, kName, kVelocity, kTick, kMs, kColumns };
  static constexpr int kRowsMost = 500;

  explicit EventList(QObject* parent = nullptr);

  // Reads the first rows; keeps nothing of what it is given.
  void show(const Take& take, const KitMap& map, const Rendering& rendering);
  void clear();
  // Tab-separated, with the column names.
  QString text() const;

  int rowCount(const QModelIndex& parent = {}) const override;
  int columnCount(const QModelIndex& parent = {}) const override;
  QVariant data(const QModelIndex& index, int role = Qt::DisplayRole) const override;
  QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

 private:
  using Row = std::array<QString, kColumns>;
  std::vector<Row> rows_;
};

}  // namespace uneven
