// SPDX-License-Identifier: GPL-3.0-or-later
// The list of notes.
#include "app/deliver/event_list.h"

#include "app/controls/labels.h"
#include "core/time/count.h"

namespace uneven {

namespace {

QString number3(Milliseconds ms) {
  QString text = QString::number(ms.count(), 'f', 3);
  return text.replace(QLatin1Char('-'), QChar(0x2212));
}

}  // namespace

EventList::EventList(QObject* parent) : QAbstractTableModel(parent) {}

void EventList::clear() {
  beginResetModel();
  rows_.clear();
  endResetModel();
}

void EventList::show(const Take& take, const KitMap& map, const Rendering& rendering) {
  const Score& score = take.score();
  std::vector<const MidiEvent*> notes;
  for (const MidiTrack& track : rendering.sequence.tracks) {
    int taken = 0;
    for (const MidiEvent& event : track.events) {
      if (!event.isNoteOn()) continue;
      notes.push_back(&event);
      if (++taken == kRowsMost) break;
    }
  }
  std::stable_sort(notes.begin(), notes.end(),
                   [](const MidiEvent* a, const MidiEvent* b) { return a->tick < b->tick; });
  if (std::ssize(notes) > kRowsMost) notes.resize(kRowsMost);

  beginResetModel();
  rows_.clear();
  for (const MidiEvent* event : notes) {
    Row row;
    row[kNote] = QString::number(event->data1);
    row[kVelocity] = QString::number(event->data2);
    row[kTick] = QString::number(event->tick);
    if (event->stroke == MidiEvent::kNoStroke) {
      row[kName] = tr("foot shuts the hats");
    } else {
      const Stroke& stroke = take.strokes()[event->stroke];
      const Groove& groove = *score.blocks[stroke.block].groove;
      row[kBar] = QString::number(stroke.bar + 1);
      row[kCount] = QString::fromStdString(countName(stroke.at, groove.meter).text());
      const KitMapRow* mapped =
          rowFor(map, (*score.kit)[stroke.piece], stroke.stroke, stroke.opening);
      row[kName] = mapped == nullptr ? QString() : QString::fromStdString(mapped->name);
      row[kMs] = number3(toMilliseconds(stroke.time));
    }
    rows_.push_back(std::move(row));
  }
  endResetModel();
}

QString EventList::text() const {
  QString out;
  for (int c = 0; c < kColumns; ++c) {
    out += headerData(c, Qt::Horizontal, Qt::DisplayRole).toString();
    out += c + 1 < kColumns ? QLatin1Char('\t') : QLatin1Char('\n');
  }
  for (const Row& row : rows_) {
    for (int c = 0; c < kColumns; ++c) {
      out += row[static_cast<std::size_t>(c)];
      out += c + 1 < kColumns ? QLatin1Char('\t') : QLatin1Char('\n');
    }
  }
  return out;
}

int EventList::rowCount(const QModelIndex& parent) const {
  return parent.isValid() ? 0 : static_cast<int>(rows_.size());
}

int EventList::columnCount(const QModelIndex& parent) const {
  return parent.isValid() ? 0 : kColumns;
}

QVariant EventList::data(const QModelIndex& index, int role) const {
  if (!index.isValid()) return {};
  if (role == Qt::DisplayRole) {
    return rows_[static_cast<std::size_t>(index.row())][static_cast<std::size_t>(index.column())];
  }
  if (role == Qt::TextAlignmentRole) {
    const bool words = index.column() == kName || index.column() == kCount;
    return QVariant(Qt::AlignVCenter | (words ? Qt::AlignLeft : Qt::AlignRight));
  }
  return {};
}

QVariant EventList::headerData(int section, Qt::Orientation orientation, int role) const {
  if (orientation != Qt::Horizontal) return {};
  if (role == Qt::TextAlignmentRole) {
    return QVariant(Qt::AlignVCenter |
                    (section == kName || section == kCount ? Qt::AlignLeft : Qt::AlignRight));
  }
  if (role != Qt::DisplayRole) return {};
  switch (section) {
    case kBar:
      return tr("Bar");
    case kCount:
      return tr("Count");
    case kNote:
      return tr("Note");
    case kName:
      return tr("Name");
    case kVelocity:
      return tr("Velocity");
    case kTick:
      return tr("Tick");
    case kMs:
      return tr("ms");
    default:
      return {};
  }
}

}  // namespace uneven
