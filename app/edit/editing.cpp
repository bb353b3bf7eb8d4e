// SPDX-License-Identifier: GPL-3.0-or-later
// Cursor and selection.
#include "app/edit/editing.h"

#include <algorithm>
#include <cmath>

#include "app/controls/labels.h"
#include "core/io/song_json.h"
#include "core/measure/level.h"
#include "core/song/core_groove.h"
#include "core/song/limbs.h"
#include "core/song/names.h"
#include "core/song/slots.h"
#include "core/time/count.h"

namespace uneven {

Document& Edits::document() const {
  return editing_.document_;
}
const Groove& Edits::groove() const {
  return editing_.groove();
}
Selection& Edits::selection() const {
  return editing_.selection_;
}
std::optional<Beat>& Edits::drawn() const {
  return editing_.drawn_;
}
void Edits::applyGroove(const QString& step, Groove groove, Merge merge) const {
  editing_.applyGroove(step, std::move(groove), merge);
}
bool Edits::needSelection() const {
  return editing_.needSelection();
}
void Edits::say(const QString& what) const {
  Q_EMIT editing_.said(what);
}

Editing::Editing(Document& document, QObject* parent) : QObject(parent), document_(document) {
  connect(&document_, &Document::changed, this, &Editing::documentChanged);
}

void Editing::documentChanged() {
  Selection kept;
  for (const HitRef& ref : selection_) {
    if (indexOf(groove(), ref)) kept.insert(ref);
  }
  const bool drawnGone = drawn_ && drawnMove() == nullptr;
  if (drawnGone) drawn_.reset();
  if (kept != selection_ || drawnGone) {
    selection_ = std::move(kept);
    Q_EMIT selectionChanged();
  }
  if (cursorAt_ >= groove().length()) {
    cursorAt_ = Beat(0);
    Q_EMIT cursorMoved();
  }
}

void Editing::select(Selection selection) {
  if (selection == selection_ && !drawn_) return;
  selection_ = std::move(selection);
  drawn_.reset();
  document_.breakMerge();
  Q_EMIT selectionChanged();
}

void Editing::chooseDrawn(Beat at) {
  document_.breakMerge();
  selection_.clear();
  drawn_ = at;
  cursorAt_ = at;
  cursorPiece_ = piece::kHat;
  Q_EMIT selectionChanged();
  Q_EMIT cursorMoved();
}

const PedalMove* Editing::drawnMove() const {
  if (!drawn_ || !groove().pedal) return nullptr;
  const auto& moves = groove().pedal->moves;
  const auto found = std::find_if(moves.begin(), moves.end(),
                                  [&](const PedalMove& move) { return move.at == *drawn_; });
  return found == moves.end() ? nullptr : &*found;
}

void Editing::selectAll() {
  Selection all;
  for (std::size_t i = 0; i < groove().hits.size(); ++i) all.insert(refOf(groove(), i));
  select(std::move(all));
  Q_EMIT said(tr("%1 hits selected").arg(selection_.size()));
}

void Editing::moveCursor(Beat at, PieceId piece, Limb lane) {
  cursorAt_ = at;
  cursorPiece_ = piece;
  cursorLimb_ = lane;
  const HitRef there{at, piece};
  select(indexOf(groove(), there) ? Selection{there} : Selection{});
  Q_EMIT cursorMoved();
}

void Editing::extendCursor(Beat at, PieceId piece, Limb lane) {
  Selection grown = selection_;
  for (std::size_t i = 0; i < groove().hits.size(); ++i) {
    const Hit& hit = groove().hits[i];
    const bool between = hit.at >= std::min(at, cursorAt_) && hit.at <= std::max(at, cursorAt_) &&
                         hit.piece >= std::min(piece, cursorPiece_) &&
                         hit.piece <= std::max(piece, cursorPiece_);
    if (between) grown.insert(refOf(groove(), i));
  }
  cursorAt_ = at;
  cursorPiece_ = piece;
  cursorLimb_ = lane;
  select(std::move(grown));
  Q_EMIT cursorMoved();
}

void Editing::applyGroove(const QString& step, Groove groove, Merge merge) {
  document_.apply(step, withGroove(document_.song(), std::move(groove)), merge);
}

PieceId Editing::struckBy(Limb limb, Beat at, PieceId fallback) const {
  const std::vector<Limb> limbs = limbsOf(groove(), *document_.song().kit);
  for (std::size_t i = 0; i < limbs.size(); ++i) {
    if (limbs[i] == limb && groove().hits[i].at == at) return groove().hits[i].piece;
  }
  return fallback;
}

QString Editing::countAt(Beat at) const {
  const Beat bar = groove().meter.barLength();
  return QString::fromStdString(
      countName(at - Beat(at.floorDiv(bar)) * bar, groove().meter).text());
}

bool Editing::needSelection() {
  if (!selection_.empty()) return true;
  Q_EMIT said(tr("Nothing is selected"));
  return false;
}

}  // namespace uneven
