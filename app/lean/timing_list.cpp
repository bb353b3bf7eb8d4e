// SPDX-License-Identifier: GPL-3.0-or-later
// The table of the lean map.
#include "app/lean/timing_list.h"

#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "core/measure/unison.h"
#include "core/time/count.h"

namespace uneven {
TimingList::TimingList(QObject* parent) : QAbstractTableModel(parent) {}

void TimingList::show(const Document& document, int bar) {
  std::vector<TimingRow> rows = timingRows(document.take(), bar);
  const bool same = rows.size() == rows_.size();
  if (!same) beginResetModel();
  rows_ = std::move(rows);
  kit_ = document.song().kit;
  meter_ = document.groove().meter;
  if (!same) return endResetModel();
  if (!rows_.empty()) {
    Q_EMIT dataChanged(index(0, 0), index(static_cast<int>(rows_.size()) - 1, kColumns - 1));
  }
}

int TimingList::rowCount(const QModelIndex& parent) const {
  return parent.isValid() ? 0 : static_cast<int>(rows_.size());
}

int TimingList::columnCount(const QModelIndex& parent) const {
  return parent.isValid() ? 0 : kColumns;
}

QString TimingList::text(const TimingRow& row, int column) const {
  switch (column) {
    case kCount:
      return QString::fromStdString(countName(row.at, meter_).text());
    case kPiece:
      return qs((*kit_)[row.ref.piece].name);
    case kStraight:
      return numberText(row.straight.count(), 1);
    case kSwung:
      return numberText(row.swung.count(), 1);
    case kPerformed:
      return numberText(row.performed.count(), 1);
    case kDifference:
      return numberText(row.difference().count(), 1, true);
    case kTicks:
      return numberText(row.ticks, 0, true);
    case kFrom: {
      QStringList parts;
      const auto add = [&](const QString& name, Milliseconds ms) {
        if (std::abs(ms.count()) >= 0.05)
          parts << name + QLatin1Char(' ') + numberText(ms.count(), 1, true);
      };
      add(tr("swing"), row.swung - row.straight);
      add(tr("piece"), row.parts.piece);
      add(tr("limb"), row.parts.limb);
      add(tr("slot"), row.parts.slot);
      add(tr("nudge"), row.parts.nudge);
      add(tr("limit"), row.parts.limited);
      add(tr("drift"), row.drift);
      add(tr("held"), row.performed - row.swung - row.parts.sum() - row.drift);
      return parts.join(QStringLiteral(", "));
    }
    case kSpread:
      return row.spread.count() == 0 ? QString() : numberText(row.spread.count(), 1);
    default:
      return {};
  }
}

QVariant TimingList::data(const QModelIndex& index, int role) const {
  if (!index.isValid()) return {};
  const TimingRow& row = rows_[static_cast<std::size_t>(index.row())];
  if (role == Qt::DisplayRole) return text(row, index.column());
  const bool words = index.column() == kPiece || index.column() == kFrom;
  if (role == Qt::TextAlignmentRole) {
    return QVariant::fromValue(
        Qt::Alignment((words ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter));
  }
  if (role == Qt::ForegroundRole && index.column() == kSpread && row.spread > kSpreadFinding) {
    return theme::kAttention;
  }
  return {};
}

QVariant TimingList::headerData(int section, Qt::Orientation orientation, int role) const {
  if (orientation != Qt::Horizontal) return {};
  static const char* const kNames[] = {
      QT_TR_NOOP("Count"), QT_TR_NOOP("Piece"),     QT_TR_NOOP("Straight"),
      QT_TR_NOOP("Swung"), QT_TR_NOOP("Performed"), QT_TR_NOOP("Off by"),
      QT_TR_NOOP("Ticks"), QT_TR_NOOP("From"),      QT_TR_NOOP("Spread")};
  static const char* const kTips[] = {
      QT_TR_NOOP("What you say there"),
      QT_TR_NOOP("What is struck"),
      QT_TR_NOOP("Straight time from the bar line, in ms"),
      QT_TR_NOOP("With swing, in ms from the bar line"),
      QT_TR_NOOP("With swing, displacement and drift, in ms from the bar line"),
      QT_TR_NOOP("Performed less straight, in ms"),
      QT_TR_NOOP("The same in ticks of 960 to a quarter note"),
      QT_TR_NOOP("Where the difference comes from, in ms"),
      QT_TR_NOOP("How far all that is struck together lies apart, in ms")};
  if (role == Qt::DisplayRole) return tr(kNames[section]);
  if (role == Qt::ToolTipRole) return tr(kTips[section]);
  if (role == Qt::TextAlignmentRole) {
    const bool words = section == kPiece || section == kFrom;
    return QVariant::fromValue(
        Qt::Alignment((words ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter));
  }
  return {};
}

}  // namespace uneven
