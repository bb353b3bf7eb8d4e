// SPDX-License-Identifier: GPL-3.0-or-later
// The intents of hits.
#include "app/edit/hit_edits.h"

#include <algorithm>

#include "app/controls/labels.h"
#include "app/edit/editing.h"
#include "core/measure/level.h"
#include "core/song/limbs.h"
#include "core/song/names.h"
#include "core/song/slots.h"

namespace uneven {
namespace {

QString countText(std::size_t count, const QString& what) {
  return count == 1 ? what : Editing::tr("%1 × %2").arg(count).arg(what);
}

int ghostsAbove(const Groove& groove) {
  return static_cast<int>(std::count_if(groove.hits.begin(), groove.hits.end(), [](const Hit& h) {
    return h.role == Role::kGhost && h.velocity.value() > kGhostCeiling;
  }));
}
int accentsBelow(const Groove& groove) {
  return static_cast<int>(std::count_if(groove.hits.begin(), groove.hits.end(), [](const Hit& h) {
    return h.role == Role::kAccent && h.velocity.value() < kAccentFloor;
  }));
}

// What an edit has pushed over a ghost's ceiling or under an accent's floor, to be told.
QString newlyBeyond(const Groove& before, const Groove& after) {
  QString out;
  if (const int n = ghostsAbove(after); n > ghostsAbove(before)) {
    out += Editing::tr(", ghosts above their ceiling of %1: %2").arg(kGhostCeiling).arg(n);
  }
  if (const int n = accentsBelow(after); n > accentsBelow(before)) {
    out += Editing::tr(", accents below their floor of %1: %2").arg(kAccentFloor).arg(n);
  }
  return out;
}

}  // namespace

Velocity HitEdits::velocityFor(PieceId piece, Role role) const {
  std::vector<int> same;
  for (const Hit& hit : groove().hits) {
    if (hit.piece == piece && hit.role == role) same.push_back(hit.velocity.value());
  }
  if (same.empty()) {
    if (role == Role::kAccent) return Velocity(kAccentVelocity);
    return Velocity(role == Role::kNormal ? kNormalVelocity : kGhostVelocity);
  }
  return Velocity(static_cast<int>(roundToInt(medianOf(std::move(same)))));
}

void HitEdits::toggleAt(Beat at, PieceId piece, Limb lane) {
  const HitRef there{at, piece};
  const Kit& kit = *document().song().kit;
  const QString name = QString::fromStdString(kit[piece].name);
  if (indexOf(groove(), there)) {
    applyGroove(Editing::tr("%1 taken off %2").arg(name, editing_.countAt(at)),
                withoutHits(groove(), {there}));
    editing_.moveCursor(at, piece, lane);
    return;
  }
  Hit hit;
  hit.at = at;
  hit.piece = piece;
  if (lane != kit.usualLimb(piece)) hit.limb = lane;
  hit.velocity = velocityFor(piece, Role::kNormal);
  applyGroove(Editing::tr("%1 on %2").arg(name, editing_.countAt(at)),
              withHit(groove(), std::move(hit)));
  editing_.moveCursor(at, piece, lane);
}

void HitEdits::enter(Beat at, PieceId piece, Role role, bool open) {
  Hit hit;
  hit.at = at;
  hit.piece = piece;
  hit.role = role;
  hit.velocity = velocityFor(piece, role);
  if (open) {
    hit.open = kUsualOpening;
    hit.openFor = slotLength(groove(), at);
  }
  const QString name = QString::fromStdString((*document().song().kit)[piece].name);
  applyGroove(Editing::tr("%1 on %2").arg(name, editing_.countAt(at)),
              withHit(groove(), std::move(hit)));
  editing_.moveCursor(std::min(slotAfter(groove(), at), slotBefore(groove(), groove().length())),
                      piece);
}

void HitEdits::enterPlayed(const PlayedStroke& stroke) {
  const Beat at = editing_.cursorAt();
  const QString name = QString::fromStdString((*document().song().kit)[stroke.piece].name);
  applyGroove(Editing::tr("%1 on %2").arg(name, editing_.countAt(at)),
              withHit(groove(), playedHit(stroke, at)));
  editing_.moveCursor(std::min(slotAfter(groove(), at), slotBefore(groove(), groove().length())),
                      stroke.piece);
}

void HitEdits::playIn(const std::vector<PlayedStroke>& strokes, Merge merge) {
  Result<PlayedIn> played =
      uneven::playIn(document().song(), document().grooveId(), strokes, document().at());
  if (!played) return say(QString::fromStdString(played.error().line()));
  applyGroove(Editing::tr("Played in"), std::move(played->groove), merge);
}

void HitEdits::clearSlot(Beat at) {
  Selection there;
  for (std::size_t i = 0; i < groove().hits.size(); ++i) {
    if (groove().hits[i].at == at) there.insert(refOf(groove(), i));
  }
  if (there.empty()) return;
  applyGroove(Editing::tr("All taken off %1").arg(editing_.countAt(at)),
              withoutHits(groove(), there));
}

void HitEdits::removeSelected() {
  if (!needSelection()) return;
  const std::size_t count = selection().size();
  applyGroove(
      count == 1 ? Editing::tr("Hit taken off") : Editing::tr("%1 hits taken off").arg(count),
      withoutHits(groove(), selection()));
}

void HitEdits::change(const QString& step, const std::function<void(Hit&)>& edit, Merge merge) {
  if (!needSelection()) return;
  Edited edited = changeHits(groove(), selection(), edit);
  // The selection first, so that it fits the groove that the views are about to read.
  const Selection before = selection();
  const QString beyond = newlyBeyond(groove(), edited.groove);
  selection() = edited.selection;
  applyGroove(countText(selection().size(), step) + beyond, std::move(edited.groove), merge);
  if (before != selection()) Q_EMIT editing_.selectionChanged();
}

void HitEdits::setRole(Role role) {
  change(qs(spokenName(role)), [&](Hit& hit) {
    if (hit.role == role) return;
    hit.role = role;
    hit.velocity = velocityFor(hit.piece, role);
  });
}

void HitEdits::setSide(Side side) {
  const Kit& kit = *document().song().kit;
  const auto limbFor = [&](const Hit& hit) {
    const Limb usual = kit.usualLimb(hit.piece);
    const bool right = usual == Limb::kRightHand || usual == Limb::kRightFoot;
    return usual == Limb::kAutomatic || right == (side == Side::kRight) ? usual : mirrored(usual);
  };
  const auto indices = indicesOf(groove(), selection());
  const bool all = std::all_of(indices.begin(), indices.end(), [&](std::size_t i) {
    return groove().hits[i].limb == limbFor(groove().hits[i]);
  });
  const QString step = all                    ? Editing::tr("Limb automatic")
                       : side == Side::kRight ? Editing::tr("Right")
                                              : Editing::tr("Left");
  change(step, [&](Hit& hit) { hit.limb = all ? Limb::kAutomatic : limbFor(hit); });
}

void HitEdits::setVelocity(int velocity) {
  change(Editing::tr("Velocity %1").arg(velocity),
         [&](Hit& h) { h.velocity = Velocity(velocity); });
}

void HitEdits::addVelocity(int by, Merge merge) {
  change(
      Editing::tr("Velocity %1%2").arg(by > 0 ? QStringLiteral("+") : QString()).arg(by),
      [&](Hit& h) { h.velocity = Velocity(h.velocity.value() + by); }, merge);
}

void HitEdits::addNudge(Milliseconds by, Merge merge) {
  change(
      Editing::tr("Nudge %1").arg(signedMs(by)), [&](Hit& h) { h.nudge += by; }, merge);
}

}  // namespace uneven
