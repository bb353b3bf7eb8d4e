// SPDX-License-Identifier: GPL-3.0-or-later
// The intents of the hats' pedal.
#include "app/edit/pedal_edits.h"

#include <algorithm>
#include <cmath>

#include "app/controls/labels.h"
#include "app/edit/editing.h"
#include "core/base/number.h"
#include "core/song/slots.h"

namespace uneven {
void PedalEdits::toggleOpen() {
  if (!needSelection()) return;
  const auto indices = indicesOf(groove(), selection());
  const bool anyHat = std::any_of(indices.begin(), indices.end(), [&](std::size_t i) {
    return groove().hits[i].piece == piece::kHat;
  });
  if (!anyHat) return say(Editing::tr("Only hits on the hats can be opened"));
  const bool anyShut = std::any_of(indices.begin(), indices.end(), [&](std::size_t i) {
    return groove().hits[i].piece == piece::kHat && groove().hits[i].open == 0;
  });
  editing_.hits().change(
      anyShut ? Editing::tr("Open hat") : Editing::tr("Shut hat"), [&](Hit& hit) {
        if (hit.piece != piece::kHat) return;
        hit.open = anyShut ? std::max(hit.open, kUsualOpening) : 0;
        hit.openFor = anyShut ? std::max(hit.openFor, slotLength(groove(), hit.at)) : Beat(0);
      });
}

void PedalEdits::openTo(double open, Merge merge) {
  if (const PedalMove* move = editing_.drawnMove()) {
    PedalMove changed = *move;
    changed.open = open;
    return setMove(changed, merge);
  }
  const int percent = static_cast<int>(roundToInt(100 * open));
  editing_.hits().change(
      percent == 0 ? Editing::tr("Shut") : Editing::tr("Open %1 %").arg(percent),
      [&](Hit& hit) {
        if (hit.piece != piece::kHat) return;
        // What is opened first is a bark.
        if (hit.open <= 0 && hit.openFor == Beat(0)) {
          hit.openFor = slotAfter(groove(), hit.at) - hit.at;
        }
        hit.open = open;
        if (open <= 0) hit.openFor = Beat(0);
      },
      merge);
}

void PedalEdits::openFor(Beat length, Merge merge) {
  if (const PedalMove* move = editing_.drawnMove()) {
    PedalMove changed = *move;
    changed.length = length;
    return setMove(changed, merge);
  }
  editing_.hits().change(
      length == Beat(0) ? Editing::tr("Open until the next stroke")
                        : Editing::tr("Open for %1").arg(QString::fromStdString(length.toString())),
      [&](Hit& hit) {
        if (hit.piece == piece::kHat) hit.openFor = length;
      },
      merge);
}

void PedalEdits::changePedal(const QString& step, const std::function<void(Pedal&)>& change,
                             Merge merge) {
  Groove changed = groove();
  if (!changed.pedal) changed.pedal.emplace();
  change(*changed.pedal);
  applyGroove(step, std::move(changed), merge);
}

void PedalEdits::setMove(const PedalMove& move, Merge merge) {
  const int percent = static_cast<int>(roundToInt(100 * move.open));
  changePedal(
      percent == 0 ? Editing::tr("Drawn opening taken away")
                   : Editing::tr("Opening drawn, %1 %").arg(percent),
      [&](Pedal& pedal) {
        takeMove(pedal, move.at);
        if (percent > 0) putMove(pedal, move);
      },
      merge);
}

void PedalEdits::startDrawn(Beat at, Merge merge) {
  const PedalMove* move = editing_.drawnMove();
  if (move == nullptr || at == move->at) return;
  PedalMove changed = *move;
  changed.at = at;
  const Beat before = *drawn();
  drawn() = at;  // so that it stays chosen
  changePedal(
      Editing::tr("Drawn opening from %1").arg(editing_.countAt(at)),
      [&](Pedal& pedal) {
        takeMove(pedal, before);
        takeMove(pedal, at);
        putMove(pedal, changed);
      },
      merge);
  editing_.chooseDrawn(editing_.drawnMove() != nullptr ? at : before);
}

}  // namespace uneven
