// SPDX-License-Identifier: GPL-3.0-or-later
// What Strike adds to the window.
#include "app/stage/menu_titles.h"
#include "app/stage/stage.h"
#include "app/strike/lanes_view.h"
#include "app/strike/strike_stage.h"
#include "core/tools/tool.h"

namespace uneven {
namespace {

StrikeStage& strikeOf(StageDoor& door) {
  return static_cast<StrikeStage&>(door.stage(QStringLiteral("strike")));
}

QString strikeTr(const char* text) {
  return StrikeStage::tr(text);
}

void openTool(StageDoor& door, const std::string& name) {
  static_cast<StrikeStage&>(door.showStage(QStringLiteral("strike"))).openTool(name);
}

// Their keys belong to the lanes (lanes_keys.cpp); here they can be found.
void addHitActions(ActionTable& table, Editing& editing) {
  const auto add = [&](const QString& text, const char* key, std::function<void()> run) {
    ActionEntry& entry = table.add(menus::hit(), text, {}, std::move(run));
    entry.viewKey = QString::fromUtf8(key);
    return &entry;
  };
  add(strikeTr("Accent"), "A", [&editing] { editing.hits().setRole(Role::kAccent); });
  add(strikeTr("Normal"), "N", [&editing] { editing.hits().setRole(Role::kNormal); });
  add(strikeTr("Ghost"), "G", [&editing] { editing.hits().setRole(Role::kGhost); });
  add(strikeTr("Open or shut the hat"), "O", [&editing] { editing.pedal().toggleOpen(); });
  add(strikeTr("Right hand or foot"), "R", [&editing] { editing.hits().setSide(Side::kRight); });
  add(strikeTr("Left hand or foot"), "L", [&editing] { editing.hits().setSide(Side::kLeft); });
  add(strikeTr("Louder"), "+", [&editing] { editing.hits().addVelocity(1, {}); })->first = true;
  add(strikeTr("Softer"), "−", [&editing] { editing.hits().addVelocity(-1, {}); });
  add(strikeTr("Later by 1 ms"), ".", [&editing] { editing.hits().addNudge(Milliseconds(1), {}); });
  add(strikeTr("Earlier by 1 ms"), ",",
      [&editing] { editing.hits().addNudge(Milliseconds(-1), {}); });
  add(strikeTr("Take off"), "Del", [&editing] { editing.hits().removeSelected(); })->first = true;
}

void addToolActions(ActionTable& table, StageDoor& door) {
  // The tools read their starting points: not before someone looks. But for the one with a key.
  const auto add = [&door](ActionTable& to, const std::string& name, const QString& text,
                           const QString& group) -> ActionEntry& {
    ActionEntry& entry = to.add(menus::tools(), text, {}, [&door, name] { openTool(door, name); });
    entry.submenu = group;
    return entry;
  };
  add(table, "sticking", strikeTr("Sticking line"), strikeTr("Write")).keys = {
      QKeySequence(Qt::CTRL | Qt::Key_K)};
  table.addLater(menus::tools(), [add](ActionTable& later) {
    for (const Tool& tool : tools()) {
      if (tool.name == std::string("sticking")) continue;
      add(later, tool.name, QString::fromStdString(tool.title), QString::fromStdString(tool.group))
          .help = QString::fromStdString(tool.help);
    }
  });
}

void addViewActions(ActionTable& table, StageDoor& door) {
  bool first = true;
  for (const auto& [bars, key] : {std::pair{1, Qt::Key_1}, {2, Qt::Key_2}, {4, Qt::Key_4}}) {
    const int shown = bars;
    ActionEntry& entry =
        table.add(menus::view(), bars == 1 ? strikeTr("1 bar") : strikeTr("%1 bars").arg(bars),
                  {QKeySequence(Qt::CTRL | key)},
                  [&door, shown] { strikeOf(door).lanes().setVisibleBars(shown); });
    entry.checked = [&door, shown] { return strikeOf(door).lanes().visibleBars() == shown; };
    entry.first = std::exchange(first, false);
  }
  first = true;
  const auto side = [&](const QString& text, QList<QKeySequence> keys, StrikeStage::Side which) {
    table
        .add(menus::view(), text, std::move(keys),
             [&door, which] {
               static_cast<StrikeStage&>(door.showStage(QStringLiteral("strike"))).showSide(which);
             })
        .first = std::exchange(first, false);
  };
  side(strikeTr("Card of the hit"), {}, StrikeStage::Side::kHit);
  side(strikeTr("Card of grooves"), {QKeySequence(Qt::CTRL | Qt::Key_G)},
       StrikeStage::Side::kGrooves);
  side(strikeTr("Card of the kit"), {QKeySequence(Qt::CTRL | Qt::Key_J)}, StrikeStage::Side::kKit);
  const auto toggle = [&](const QString& text, QList<QKeySequence> keys,
                          bool (LanesView::*is)() const, void (LanesView::*set)(bool)) {
    ActionEntry& entry = table.add(menus::view(), text, std::move(keys), [&door, is, set] {
      LanesView& lanes = strikeOf(door).lanes();
      (lanes.*set)(!(lanes.*is)());
    });
    entry.checked = [&door, is] { return (strikeOf(door).lanes().*is)(); };
    return &entry;
  };
  toggle(strikeTr("&Lanes by limb"), {QKeySequence(Qt::CTRL | Qt::Key_L)}, &LanesView::showsLimbs,
         &LanesView::setShowLimbs)
      ->first = true;
  toggle(strikeTr("&Step entry"), {}, &LanesView::stepEntry, &LanesView::setStepEntry)->viewKey =
      QStringLiteral("I");
  toggle(strikeTr("&All pieces of the kit"), {}, &LanesView::showsAllPieces,
         &LanesView::setShowAllPieces);
}

std::vector<KeyHelp> strikeKeys() {
  return {
      {strikeTr("arrows"),
       strikeTr("move the cursor by a slot or a lane; Ctrl by a count, Shift selects")},
      {strikeTr("Enter"), strikeTr("put a hit, or take it off")},
      {strikeTr("R, L"), strikeTr("right or left hand or foot; again: automatic")},
      {strikeTr("I"),
       strikeTr("step entry: the lanes show a letter for each piece; a letter strikes and moves "
                "on, Shift accent, Alt ghost, + joins, dot leaves a slot, Backspace goes back, "
                "Escape ends")},
      {strikeTr("1 … 9, 0"), strikeTr("velocity 14 … 126, 127")},
      {strikeTr(", ."), strikeTr("earlier, later by 1 ms; Shift by 10")},
      {strikeTr("[ ]"), strikeTr("grid coarser, finer; { } of the beat under the cursor alone")},
      {strikeTr("Page Up, Page Down"), strikeTr("the bars before and after")},
      {strikeTr("mouse"),
       strikeTr(
           "click puts, a second click takes off; drag up or down for velocity; Ctrl and drag "
           "sideways nudges; Alt and drag over a lane draws velocities; drag over an empty place "
           "selects; Esc gives up")},
      {strikeTr("wheel"), strikeTr("moves through the bars; Ctrl and wheel widens the lean")}};
}

void strikePictures(Photographer& photographer) {
  const QString id = QStringLiteral("strike");
  auto& strike = static_cast<StrikeStage&>(photographer.stage(id));
  Editing& editing = photographer.editing();
  photographer.openDemo();
  editing.moveCursor(Beat(1), piece::kSnare);
  photographer.take(QStringLiteral("strike"));
  strike.openTool("tom-fill");
  photographer.take(QStringLiteral("strike-tool"));
  strike.showSide(StrikeStage::Side::kHit);
  editing.moveCursor(Beat(2), piece::kSnare);
  editing.grooves().setBeatGrid({8, 3});
  editing.moveCursor(Beat(6), piece::kSnare);
  editing.grooves().setBeatGrid({16, 5});
  strike.lanes().setStepEntry(true);
  photographer.take(QStringLiteral("strike-steps"));
  strike.lanes().setStepEntry(false);
}

}  // namespace

StageEntry strikeEntry() {
  StageEntry entry;
  entry.id = QStringLiteral("strike");
  entry.title = strikeTr("&Strike");
  entry.purpose = strikeTr("Write the hits");
  entry.make = [](const Workplace& place, QWidget* parent) -> Stage* {
    return new StrikeStage(place, parent);
  };
  entry.actions = [](ActionTable& table, StageDoor& door) {
    addHitActions(table, door.workplace().editing);
    addToolActions(table, door);
    addViewActions(table, door);
  };
  entry.keys = strikeKeys();
  entry.pictures = strikePictures;
  return entry;
}

}  // namespace uneven
