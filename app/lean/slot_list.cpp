// SPDX-License-Identifier: GPL-3.0-or-later
// The table of slots.
#include "app/lean/slot_list.h"

#include <algorithm>
#include <set>

#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "core/base/number.h"
#include "core/song/edit.h"
#include "core/song/slots.h"
#include "core/time/count.h"

namespace uneven {
namespace {

constexpr int kVelocityMost = 126;

// Nothing for nothing.
QString addedText(double value, int decimals) {
  return value == 0 ? QString() : numberText(value, decimals, true);
}

}  // namespace

SlotList::SlotList(QObject* parent) : QAbstractTableModel(parent) {}

void SlotList::show(const Document& document, int bar) {
  const Groove& groove = document.groove();
  const Beat length = groove.meter.barLength();
  const Beat start = Beat(bar) * length;
  std::set<Beat> at;
  for (const Beat slot : slotsOf(groove, start, start + length)) at.insert(slot - start);
  std::set<PieceId> struck;
  for (const Hit& hit : groove.hits) struck.insert(hit.piece);
  for (const Slot& slot : document.feel().slots) {
    if (slot.at < length) at.insert(slot.at);
    if (slot.piece) struck.insert(*slot.piece);
  }
  const Kit& kit = *document.song().kit;
  std::vector<PieceId> pieces;
  std::copy_if(kit.order.begin(), kit.order.end(), std::back_inserter(pieces),
               [&](PieceId piece) { return struck.contains(piece); });
  const std::vector<Beat> places(at.begin(), at.end());
  const bool same = places == at_ && pieces == pieces_;
  if (!same) beginResetModel();
  at_ = places;
  pieces_ = pieces;
  slots_ = document.feel().slots;
  kit_ = document.song().kit;
  meter_ = groove.meter;
  if (!same) return endResetModel();
  if (!at_.empty()) {
    Q_EMIT dataChanged(index(0, 0),
                       index(rowCount(QModelIndex()) - 1, columnCount(QModelIndex()) - 1));
  }
}

int SlotList::rowCount(const QModelIndex& parent) const {
  return parent.isValid() ? 0 : static_cast<int>(at_.size());
}

int SlotList::columnCount(const QModelIndex& parent) const {
  return parent.isValid() ? 0 : kPieces + static_cast<int>(pieces_.size());
}

std::optional<PieceId> SlotList::pieceOf(int column) const {
  if (column < kPieces) return std::nullopt;
  return pieces_[static_cast<std::size_t>(column - kPieces)];
}

QString SlotList::text(int row, int column) const {
  const Beat at = at_[static_cast<std::size_t>(row)];
  if (column == kCount) return QString::fromStdString(countName(at, meter_).text());
  Milliseconds shift{0};
  int velocity = 0;
  for (const Slot& slot : slots_) {
    if (slot.at != at || slot.piece != pieceOf(column)) continue;
    shift += slot.shift;
    velocity += slot.velocity;
  }
  return column == kVelocity ? addedText(velocity, 0) : addedText(shift.count(), 1);
}

QString SlotList::name(int row, int column) const {
  const auto piece = pieceOf(column);
  const QString whose = piece ? qs((*kit_)[*piece].name) : tr("Slot");
  return tr("%1 on %2").arg(whose, text(row, kCount));
}

QVariant SlotList::data(const QModelIndex& index, int role) const {
  if (!index.isValid()) return {};
  const QString text = this->text(index.row(), index.column());
  if (role == Qt::EditRole) return text;
  // A faint dot where something can be typed.
  if (role == Qt::DisplayRole) return text.isEmpty() ? QStringLiteral("·") : text;
  if (role == Qt::TextAlignmentRole) {
    return QVariant::fromValue(Qt::Alignment(Qt::AlignRight | Qt::AlignVCenter));
  }
  if (role == Qt::ForegroundRole && (index.column() == kCount || text.isEmpty())) {
    return theme::kQuiet;
  }
  return {};
}

QVariant SlotList::headerData(int section, Qt::Orientation orientation, int role) const {
  if (orientation != Qt::Horizontal) return {};
  if (role == Qt::TextAlignmentRole) {
    return QVariant::fromValue(Qt::Alignment(Qt::AlignRight | Qt::AlignVCenter));
  }
  const auto piece = pieceOf(section);
  if (role == Qt::DisplayRole) {
    if (piece) return qs((*kit_)[*piece].name);
    return section == kCount   ? tr("Count")
           : section == kEvery ? tr("Every piece")
                               : tr("Louder by");
  }
  if (role == Qt::ToolTipRole) {
    if (piece) return tr("What this position adds for this piece alone, in ms; + is late");
    return section == kCount   ? tr("What you say there")
           : section == kEvery ? tr("What this position adds for every piece, in ms; + is late")
                               : tr("What this position adds to every velocity, \u2212126 to +126");
  }
  return {};
}

Qt::ItemFlags SlotList::flags(const QModelIndex& index) const {
  const Qt::ItemFlags plain = QAbstractTableModel::flags(index);
  return index.column() == kCount ? plain : plain | Qt::ItemIsEditable;
}

bool SlotList::setData(const QModelIndex& index, const QVariant& value, int role) {
  if (role != Qt::EditRole || index.column() == kCount) return false;
  const QString typed = value.toString().trimmed();
  const auto number =
      typed.isEmpty() ? std::optional(0.0) : typedNumber(typed, QStringLiteral("ms"));
  const bool velocity = index.column() == kVelocity;
  const double most = velocity ? kVelocityMost : kShiftMax.count();
  if (!number || std::abs(*number) > most) {
    Q_EMIT refused(velocity ? tr("%1 is not taken: \u2212126 to +126").arg(value.toString())
                            : tr("%1 is not taken: \u2212%2 to +%2 ms")
                                  .arg(value.toString())
                                  .arg(kShiftMax.count()));
    return false;
  }
  const Beat at = at_[static_cast<std::size_t>(index.row())];
  const auto piece = pieceOf(index.column());
  const QString where = name(index.row(), index.column());
  if (velocity) {
    const int by = static_cast<int>(roundToInt(*number));
    Q_EMIT edited(tr("%1 louder by %2").arg(where).arg(by),
                  [=](Feel& feel) { setSlotVelocity(feel, at, piece, by); });
  } else {
    const Milliseconds ms(*number);
    Q_EMIT edited(tr("%1 %2").arg(where, signedMs(ms)),
                  [=](Feel& feel) { setSlot(feel, at, piece, ms); });
  }
  return true;
}

QString SlotList::asText(bool csv) const {
  QString out;
  for (int row = -1; row < rowCount({}); ++row) {
    QStringList cells;
    for (int column = 0; column < columnCount({}); ++column) {
      QString cell = row < 0 ? headerData(column, Qt::Horizontal, Qt::DisplayRole).toString()
                             : text(row, column);
      cell.replace(QChar(0x2212), QLatin1Char('-'));
      // A piece may have been given any name.
      if (csv && (cell.contains(QLatin1Char(',')) || cell.contains(QLatin1Char('"')))) {
        cell = QLatin1Char('"') + cell.replace(QLatin1Char('"'), QStringLiteral("\"\"")) +
               QLatin1Char('"');
      }
      cells << cell;
    }
    out += cells.join(csv ? QLatin1Char(',') : QLatin1Char('\t')) + QLatin1Char('\n');
  }
  return out;
}

}  // namespace uneven
