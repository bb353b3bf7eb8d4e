// SPDX-License-Identifier: GPL-3.0-or-later
// The template of the bar as a table: what every position adds, for all pieces and for each alone.
#pragma once

#include <QAbstractTableModel>
#include <functional>

#include "app/edit/document.h"

namespace uneven {

// A row for each slot of the bar's grid and for each other position that the feel has a slot on.
// Cells of numbers can be typed in.
class SlotList : public QAbstractTableModel {
  Q_OBJECT
 public:
  explicit SlotList(QObject* parent = nullptr);
  // From kPieces on a column for each piece that the groove strikes or the feel has a slot for.
  enum Column { kCount, kEvery, kVelocity, kPieces };

  void show(const Document& document, int bar);
  // The whole table: columns divided by tabs, or CSV.
  QString asText(bool csv) const;

  int rowCount(const QModelIndex& parent) const override;
  int columnCount(const QModelIndex& parent) const override;
  QVariant data(const QModelIndex& index, int role) const override;
  QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
  Qt::ItemFlags flags(const QModelIndex& index) const override;
  bool setData(const QModelIndex& index, const QVariant& value, int role) override;

 Q_SIGNALS:
  void edited(const QString& step, const std::function<void(Feel&)>& edit);
  void refused(const QString& why);

 private:
  QString text(int row, int column) const;
  std::optional<PieceId> pieceOf(int column) const;
  QString name(int row, int column) const;

  std::vector<Beat> at_;
  std::vector<PieceId> pieces_;
  std::vector<Slot> slots_;
  SharedValue<Kit> kit_{houseKit()};
  Meter meter_;
};

}  // namespace uneven
