// SPDX-License-Identifier: GPL-3.0-or-later
// The intents of grooves.
#include "app/edit/groove_edits.h"

#include <algorithm>
#include <cmath>

#include "app/controls/labels.h"
#include "app/edit/editing.h"
#include "core/arrange/edits.h"
#include "core/base/number.h"
#include "core/song/core_groove.h"
#include "core/song/slots.h"

namespace uneven {

void GrooveEdits::replaceGroove(const QString& step, Groove groove) {
  applyGroove(step, std::move(groove));
}

const std::vector<Grid>& GrooveEdits::grids() {
  static const std::vector<Grid> all = {{8, 0}, {8, 3}, {16, 0}, {16, 3}, {32, 0}};
  return all;
}

void GrooveEdits::setGrid(Grid grid) {
  Groove changed = groove();
  changed.grid = grid;
  applyGroove(Editing::tr("Grid %1").arg(QString::fromStdString(grid.toString())),
              std::move(changed));
}

void GrooveEdits::stepGrid(int by) {
  const auto& all = grids();
  const auto found = std::find(all.begin(), all.end(), groove().grid);
  const auto index = found == all.end() ? 2 : found - all.begin();
  setGrid(all[static_cast<std::size_t>(
      std::clamp<std::ptrdiff_t>(index + by, 0, std::ssize(all) - 1))]);
}

const std::vector<Grid>& GrooveEdits::beatGrids() {
  static const std::vector<Grid> all = {{8, 0},  {8, 3},  {16, 0}, {16, 5},
                                        {16, 3}, {16, 7}, {32, 0}};
  return all;
}

void GrooveEdits::setBeatGrid(Grid grid) {
  const Beat start = beatStart(groove(), editing_.cursorAt());
  applyGroove(Editing::tr("Beat on %1 in %2")
                  .arg(editing_.countAt(start), QString::fromStdString(grid.toString())),
              withBeatGrid(groove(), start, grid));
}

void GrooveEdits::stepBeatGrid(int by) {
  const auto& all = beatGrids();
  const auto found = std::find(all.begin(), all.end(), gridAt(groove(), editing_.cursorAt()));
  const auto index = found == all.end() ? 2 : found - all.begin();
  setBeatGrid(all[static_cast<std::size_t>(
      std::clamp<std::ptrdiff_t>(index + by, 0, std::ssize(all) - 1))]);
}

void GrooveEdits::repeatFirstBar() {
  if (groove().bars == 1) return say(Editing::tr("This groove has only one bar"));
  applyGroove(Editing::tr("First bar over the rest"), uneven::repeatFirstBar(groove()));
}

void GrooveEdits::runTool(const std::string& name, const Arguments& arguments) {
  Result<ToolOutcome> outcome = uneven::runTool(name, groove(), *document().song().kit, arguments);
  if (!outcome) return say(QString::fromStdString(outcome.error().message));
  QStringList notes;
  for (const std::string& note : outcome->notes) notes << QString::fromStdString(note);
  const QString title = QString::fromStdString(findTool(name)->title);
  applyGroove(title, std::move(outcome->groove));
  say(title + QStringLiteral(": ") + notes.join(QStringLiteral(", ")));
}

void GrooveEdits::addGroove(const QString& step, Groove groove) {
  std::string id;
  Song song = withNewGroove(document().song(), std::move(groove), "groove", id);
  if (!document().apply(step, std::move(song))) return;
  document().chooseGroove(id);
  editing_.moveCursor(Beat(0), editing_.cursorPiece());
}

void GrooveEdits::newGroove() {
  const Groove& like = groove();
  Groove fresh;
  fresh.name = "New groove";
  fresh.meter = like.meter;
  fresh.bars = like.bars;
  fresh.grid = like.grid;
  fresh.feel = like.feel;
  addGroove(Editing::tr("New groove, played at the end of the song"), std::move(fresh));
}

void GrooveEdits::duplicateGroove() {
  Groove copy = groove();
  copy.name += " copy";
  const QString step =
      Editing::tr("%1, played at the end of the song").arg(QString::fromStdString(copy.name));
  addGroove(step, std::move(copy));
}

void GrooveEdits::embellishGroove() {
  Groove version = groove();
  if (version.core.empty()) version.core = version.id;
  version.name += " embellished";
  version.extras = {};
  addGroove(Editing::tr("A version of %1 to embellish, played at the end of the song")
                .arg(QString::fromStdString(groove().name)),
            std::move(version));
}

const Groove* GrooveEdits::core() const {
  return groove().core.empty() ? nullptr : document().song().findGroove(groove().core);
}

void GrooveEdits::backToCore() {
  const Groove* plain = core();
  if (plain == nullptr) return say(Editing::tr("This groove embellishes no other"));
  applyGroove(Editing::tr("Back to %1").arg(QString::fromStdString(plain->name)),
              uneven::backToCore(*plain, groove()));
}

void GrooveEdits::moveGroove(int by) {
  Song moved = withGrooveMoved(document().song(), groove().id, by);
  if (moved == document().song()) return;
  document().apply(by < 0 ? Editing::tr("Groove up the list") : Editing::tr("Groove down the list"),
                   std::move(moved));
}

void GrooveEdits::renameGroove(const QString& name) {
  if (name.trimmed().isEmpty()) return;
  Groove renamed = groove();
  renamed.name = name.trimmed().toStdString();
  applyGroove(Editing::tr("Groove named %1").arg(name.trimmed()), std::move(renamed));
}

void GrooveEdits::deleteGroove() {
  if (document().song().grooves.size() < 2) {
    return say(Editing::tr("A song keeps at least one groove"));
  }
  const QString name = QString::fromStdString(groove().name);
  document().apply(Editing::tr("Groove %1 deleted with its sections").arg(name),
                   withoutGroove(document().song(), groove().id));
}

void GrooveEdits::takeGroove(const QString& step, Groove groove, const QString& name) {
  groove.name = name.toStdString();
  groove.feel = this->groove().feel;
  addGroove(step, std::move(groove));
}

void GrooveEdits::setAim(SeparationAim aim, Merge merge) {
  Song song = withAim(document().song(), aim);
  if (song.aim == document().song().aim) return;
  const QString step = Editing::tr("Aim %1 to %2 dB").arg(song.aim.low).arg(song.aim.high);
  document().apply(step, std::move(song), merge);
}

}  // namespace uneven
