// SPDX-License-Identifier: GPL-3.0-or-later
// What Strike adds to the window.
#include "app/controls/labels.h"
#include "app/edit/argument_form.h"
#include "app/stage/menu_titles.h"
#include "app/stage/stage.h"
#include "app/strike/lanes_view.h"
#include "app/strike/strike_stage.h"
#include "app/strike/tool_panel.h"
#include "core/tools/sticking.h"
#include "core/tools/tool.h"

namespace uneven {
namespace {

void openTool(StageDoor& door, const std::string& name) {
  shown<StrikeStage>(door).openTool(name);
}

// Their keys belong to the lanes (lanes_keys.cpp); here they can be found.
void addHitActions(ActionTable& table, Editing& editing) {
  const auto add = [&](const QString& text, const char* key, std::function<void()> run) {
    ActionEntry& entry = table.add(menus::hit(), text, {}, std::move(run));
    entry.viewKey = QString::fromUtf8(key);
    return &entry;
  };
  add(StrikeStage::tr("Accent"), "A", [&editing] { editing.hits().setRole(Role::kAccent); });
  add(StrikeStage::tr("Normal"), "N", [&editing] { editing.hits().setRole(Role::kNormal); });
  add(StrikeStage::tr("Ghost"), "G", [&editing] { editing.hits().setRole(Role::kGhost); });
  add(StrikeStage::tr("Open or shut the hat"), "O", [&editing] { editing.pedal().toggleOpen(); });
  add(StrikeStage::tr("Right hand or foot"), "R",
      [&editing] { editing.hits().setSide(Side::kRight); });
  add(StrikeStage::tr("Left hand or foot"), "L",
      [&editing] { editing.hits().setSide(Side::kLeft); });
  add(StrikeStage::tr("Louder"), "+", [&editing] { editing.hits().addVelocity(1, {}); })->first =
      true;
  add(StrikeStage::tr("Softer"), "−", [&editing] { editing.hits().addVelocity(-1, {}); });
  add(StrikeStage::tr("Later by 1 ms"), ".",
      [&editing] { editing.hits().addNudge(Milliseconds(1), {}); });
  add(StrikeStage::tr("Earlier by 1 ms"), ",",
      [&editing] { editing.hits().addNudge(Milliseconds(-1), {}); });
  add(StrikeStage::tr("Take off"), "Del", [&editing] { editing.hits().removeSelected(); })->first =
      true;
}

void addToolActions(ActionTable& table, StageDoor& door) {
  // The tools read their starting points: not before someone looks. But for the one with a key.
  const auto add = [&door](ActionTable& to, const std::string& name, const QString& text,
                           const QString& group) -> ActionEntry& {
    ActionEntry& entry = to.add(menus::tools(), text, {}, [&door, name] { openTool(door, name); });
    entry.submenu = group;
    return entry;
  };
  add(table, "sticking", StrikeStage::tr("Sticking line"), StrikeStage::tr("Write")).keys = {
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
    ActionEntry& entry = table.add(
        menus::view(), bars == 1 ? StrikeStage::tr("1 bar") : StrikeStage::tr("%1 bars").arg(bars),
        {QKeySequence(Qt::CTRL | key)},
        [&door, shown] { stageOf<StrikeStage>(door).lanes().setVisibleBars(shown); });
    entry.checked = [&door, shown] {
      return stageOf<StrikeStage>(door).lanes().visibleBars() == shown;
    };
    entry.first = std::exchange(first, false);
  }
  first = true;
  const auto side = [&](const QString& text, QList<QKeySequence> keys, StrikeStage::Side which) {
    table
        .add(menus::view(), text, std::move(keys),
             [&door, which] { shown<StrikeStage>(door).showSide(which); })
        .first = std::exchange(first, false);
  };
  side(StrikeStage::tr("Card of the hit"), {}, StrikeStage::Side::kHit);
  side(StrikeStage::tr("Card of grooves"), {QKeySequence(Qt::CTRL | Qt::Key_G)},
       StrikeStage::Side::kGrooves);
  side(StrikeStage::tr("Card of the kit"), {QKeySequence(Qt::CTRL | Qt::Key_J)},
       StrikeStage::Side::kKit);
  const auto toggle = [&](const QString& text, QList<QKeySequence> keys,
                          bool (LanesView::*is)() const, void (LanesView::*set)(bool)) {
    ActionEntry& entry = table.add(menus::view(), text, std::move(keys), [&door, is, set] {
      LanesView& lanes = stageOf<StrikeStage>(door).lanes();
      (lanes.*set)(!(lanes.*is)());
    });
    entry.checked = [&door, is] { return (stageOf<StrikeStage>(door).lanes().*is)(); };
    return &entry;
  };
  toggle(StrikeStage::tr("&Lanes by limb"), {QKeySequence(Qt::CTRL | Qt::Key_L)},
         &LanesView::showsLimbs, &LanesView::setShowLimbs)
      ->first = true;
  toggle(StrikeStage::tr("&Step entry"), {}, &LanesView::stepEntry, &LanesView::setStepEntry)
      ->viewKey = QStringLiteral("I");
  toggle(StrikeStage::tr("&All pieces of the kit"), {}, &LanesView::showsAllPieces,
         &LanesView::setShowAllPieces);
}

std::vector<KeyHelp> strikeKeys() {
  return {
      {StrikeStage::tr("arrows"),
       StrikeStage::tr("move the cursor by a slot or a lane; Ctrl by a count, Shift selects")},
      {StrikeStage::tr("Enter"), StrikeStage::tr("put a hit, or take it off")},
      {StrikeStage::tr("R, L"), StrikeStage::tr("right or left hand or foot; again: automatic")},
      {StrikeStage::tr("I"),
       StrikeStage::tr(
           "step entry: the lanes show a letter for each piece; a letter strikes and moves "
           "on, Shift accent, Alt ghost, + joins, dot leaves a slot, Backspace goes back, "
           "Escape ends")},
      {StrikeStage::tr("1 … 9, 0"), StrikeStage::tr("velocity 14 … 126, 127")},
      {StrikeStage::tr(", ."), StrikeStage::tr("earlier, later by 1 ms; Shift by 10")},
      {StrikeStage::tr("[ ]"),
       StrikeStage::tr("grid coarser, finer; { } of the beat under the cursor alone")},
      {StrikeStage::tr("Page Up, Page Down"), StrikeStage::tr("the bars before and after")},
      {StrikeStage::tr("mouse"),
       StrikeStage::tr(
           "click puts, a second click takes off; drag up or down for velocity; Ctrl and drag "
           "sideways nudges; Alt and drag over a lane draws velocities; drag over an empty place "
           "selects; Esc gives up")},
      {StrikeStage::tr("wheel"),
       StrikeStage::tr("moves through the bars; Ctrl and wheel widens the lean")}};
}

QString spoken(std::string_view word) {
  QString out = QString::fromUtf8(word.data(), static_cast<qsizetype>(word.size()));
  out.replace(QLatin1Char('-'), QLatin1Char(' '));
  out[0] = out[0].toUpper();
  return out;
}

// Rudiments and patterns to begin from, in the tool that lays them.
std::vector<Found> strikeFinds(StageDoor& door) {
  std::vector<Found> out;
  const auto add = [&](const QString& title, const QString& kind, const char* tool,
                       const char* parameter, const QString& value) {
    out.push_back({title, kind, {}, [&door, tool, parameter, value] {
                     auto& strike = shown<StrikeStage>(door);
                     strike.openTool(tool);
                     strike.tools().form().set(parameter, value);
                   }});
  };
  for (const Rudiment& rudiment : rudiments())
    add(spoken(rudiment.name), StrikeStage::tr("rudiment"), "sticking", "rudiment",
        qs(std::string(rudiment.name)));
  const Tool* start = findTool("start");
  for (const std::string& pattern : start->parameters.front().choices)
    add(spoken(pattern), StrikeStage::tr("pattern to begin from"), "start", "pattern", qs(pattern));
  return out;
}

void strikePictures(Photographer& photographer) {
  const QString id = QStringLiteral("strike");
  auto& strike = shown<StrikeStage>(photographer);
  Editing& editing = photographer.editing();
  photographer.openDemo();
  editing.moveCursor(Beat(1), piece::kSnare);
  photographer.take(QStringLiteral("strike"), !strike.lanes().scene().sticks.empty());
  editing.moveCursor(Beat(2), piece::kSnare);
  editing.grooves().setBeatGrid({8, 3});
  editing.moveCursor(Beat(6), piece::kSnare);
  editing.grooves().setBeatGrid({16, 5});
  strike.lanes().setStepEntry(true);
  photographer.take(QStringLiteral("strike-steps"),
                    strike.lanes().stepEntry() && editing.groove().beatGrids.size() == 2);
  strike.lanes().setStepEntry(false);
}

}  // namespace

StageEntry strikeEntry() {
  StageEntry entry =
      entryOf<StrikeStage>(StrikeStage::tr("&Strike"), StrikeStage::tr("Write the hits"));
  entry.actions = [](ActionTable& table, StageDoor& door) {
    addHitActions(table, door.workplace().editing);
    addToolActions(table, door);
    addViewActions(table, door);
  };
  entry.keys = strikeKeys();
  entry.finds = strikeFinds;
  entry.pictures = strikePictures;
  return entry;
}

}  // namespace uneven
