// SPDX-License-Identifier: GPL-3.0-or-later
// Every stroke of the groove in numbers.
#pragma once

#include <QAbstractTableModel>

#include "app/edit/document.h"
#include "core/measure/timing_table.h"

namespace uneven {

class TimingList : public QAbstractTableModel {
  Q_OBJECT
 public:
  explicit TimingList(QObject* parent = nullptr);
  enum Column {
    kCount,
    kPiece,
    kStraight,
    kSwung,
    kPerformed,
    kDifference,
    kTicks,
    kFrom,
    kSpread,
    kColumns
  };

  // One bar of the groove.
  void show(const Document& document, int bar);
  const std::vector<TimingRow>& rows() const { return rows_; }

  int rowCount(const QModelIndex& parent) const override;
  int columnCount(const QModelIndex& parent) const override;
  QVariant data(const QModelIndex& index, int role) const override;
  QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

 private:
  QString text(const TimingRow& row, int column) const;

  std::vector<TimingRow> rows_;
  SharedValue<Kit> kit_{houseKit()};
  Meter meter_;
};

}  // namespace uneven
