// SPDX-License-Identifier: GPL-3.0-or-later
// Step entry.
#include "app/strike/step_entry.h"

#include <QKeyEvent>

#include "core/song/slots.h"

namespace uneven {
namespace {

struct PieceKey {
  char letter;
  PieceId piece;
};
constexpr PieceKey kKeys[] = {
    {'H', piece::kHat},      {'F', piece::kHatFoot}, {'R', piece::kRide},    {'C', piece::kCrash},
    {'V', piece::kCrash2},   {'N', piece::kChina},   {'P', piece::kSplash},  {'X', piece::kStack},
    {'W', piece::kCowbell},  {'S', piece::kSnare},   {'T', piece::kTomHigh}, {'M', piece::kTomMid},
    {'L', piece::kTomFloor}, {'K', piece::kKick},    {'Q', piece::kClick}};

}  // namespace

QString StepEntry::letterOf(PieceId piece, const Kit& kit) {
  for (const PieceKey& key : kKeys) {
    if (key.piece == piece) return QString(QLatin1Char(key.letter));
  }
  const std::size_t own = piece.value - houseKit().pieces.size() + 1;
  return own <= 9 && piece.value < kit.pieces.size() ? QString::number(own) : QString();
}

std::optional<StepEntry::Meant> StepEntry::pieceOf(const QKeyEvent& event) const {
  const Kit& kit = *editing_.document().song().kit;
  if (event.key() == Qt::Key_O) return Meant{piece::kHat, true};
  for (const PieceKey& key : kKeys) {
    if (event.key() == key.letter) return Meant{key.piece, false};
  }
  const std::size_t house = houseKit().pieces.size();
  const auto own = static_cast<std::size_t>(event.key() - Qt::Key_1);
  if (event.key() < Qt::Key_1 || event.key() > Qt::Key_9 || house + own >= kit.pieces.size()) {
    return std::nullopt;
  }
  return Meant{PieceId{static_cast<std::uint8_t>(house + own)}, false};
}

bool StepEntry::wants(const QKeyEvent& event) const {
  const auto other = event.modifiers() & ~(Qt::ShiftModifier | Qt::AltModifier);
  return other == 0 && pieceOf(event).has_value();
}

bool StepEntry::key(const QKeyEvent& event) {
  const Groove& groove = editing_.groove();
  const Beat at = editing_.cursorAt();
  const Beat last = slotBefore(groove, groove.length());
  switch (event.key()) {
    case Qt::Key_Plus:
      join_ = true;
      Q_EMIT editing_.said(Editing::tr("The next letter joins the slot before"));
      return true;
    case Qt::Key_Period:
      editing_.moveCursor(std::min(slotAfter(groove, at), last), editing_.cursorPiece());
      return true;
    case Qt::Key_Backspace: {
      const Beat before = slotBefore(groove, at);
      editing_.hits().clearSlot(before);
      editing_.moveCursor(before, editing_.cursorPiece());
      return true;
    }
    case Qt::Key_Delete:
      editing_.hits().clearSlot(at);
      return true;
    case Qt::Key_BracketLeft:
    case Qt::Key_BracketRight:
      editing_.grooves().stepGrid(event.key() == Qt::Key_BracketLeft ? -1 : 1);
      return true;
    case Qt::Key_BraceLeft:
    case Qt::Key_BraceRight:
      editing_.grooves().stepBeatGrid(event.key() == Qt::Key_BraceLeft ? -1 : 1);
      return true;
    default:
      break;
  }
  if (!wants(event)) return false;
  const Meant meant = *pieceOf(event);
  const bool accent = (event.modifiers() & Qt::ShiftModifier) != 0;
  const bool ghost = (event.modifiers() & Qt::AltModifier) != 0;
  const Role role = accent ? Role::kAccent : ghost ? Role::kGhost : Role::kNormal;
  // At the end the cursor stays on the last slot, which is then the slot just left.
  const Beat before = left_ && arrived_ == at ? *left_ : slotBefore(groove, at);
  const Beat where = join_ ? before : at;
  join_ = false;
  editing_.hits().enter(where, meant.piece, role, meant.open);
  left_ = where;
  arrived_ = editing_.cursorAt();
  return true;
}

}  // namespace uneven
