// SPDX-License-Identifier: GPL-3.0-or-later
// The window's menus and keys.
#include <QActionGroup>
#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>
#include <QMenuBar>
#include <QMessageBox>
#include <QStackedWidget>
#include <QUndoStack>

#include "app/controls/labels.h"
#include "app/controls/prompts.h"
#include "app/deliver/deliver_stage.h"
#include "app/edit/editing.h"
#include "app/edit/exchange.h"
#include "app/frame/keys_window.h"
#include "app/frame/main_window.h"
#include "app/frame/top_bar.h"
#include "app/lean/lean_stage.h"
#include "app/lean/lean_view.h"
#include "app/strike/lanes_view.h"
#include "app/strike/strike_stage.h"

namespace uneven {

void MainWindow::buildMenus() {
  buildFileMenu();
  buildEditMenu();
  buildHitMenu();
  buildToolMenu();
  buildGrooveMenu();
  buildViewMenu();
  buildHelpMenu();
}

void MainWindow::buildFileMenu() {
  QMenu* menu = menuBar()->addMenu(tr("&File"));
  menu->addAction(tr("&New"), QKeySequence::New, fileDesk_, &FileDesk::newSong);
  menu->addAction(tr("&Open…"), QKeySequence::Open, fileDesk_, &FileDesk::open);
  recentMenu_ = menu->addMenu(tr("Open &recent"));
  menu->addAction(tr("Open the &demo song"), fileDesk_, &FileDesk::openDemo);
  menu->addSeparator();
  menu->addAction(tr("&Save"), QKeySequence::Save, fileDesk_, [this] { fileDesk_->save(); });
  menu->addAction(tr("Save &as…"), QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_S), fileDesk_,
                  [this] { fileDesk_->saveAs(); });
  menu->addSeparator();
  menu->addAction(tr("&Import a groove (tab, CSV)…"), QKeySequence(Qt::CTRL | Qt::Key_I), exchange_,
                  &Exchange::importGroove);
  menu->addAction(tr("E&xport this groove (tab, CSV)…"),
                  QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_E), exchange_,
                  &Exchange::exportGroove);
  menu->addAction(tr("&Write MIDI file…"), QKeySequence(Qt::CTRL | Qt::Key_E), this, [this] {
    showStage(Stage::kDeliver);
    deliver().write();
  });
  menu->addSeparator();
  menu->addAction(tr("&Quit"), QKeySequence::Quit, this, &QWidget::close);
  connect(fileDesk_, &FileDesk::recentChanged, this, &MainWindow::fillRecent);
  fillRecent();
}

void MainWindow::fillRecent() {
  recentMenu_->clear();
  for (const QString& path : fileDesk_->recent()) {
    QAction* action = recentMenu_->addAction(QFileInfo(path).fileName(), fileDesk_,
                                             [this, path] { fileDesk_->openPath(path); });
    action->setToolTip(plainText(QDir::toNativeSeparators(path)));
  }
  recentMenu_->setToolTipsVisible(true);
  recentMenu_->setEnabled(!recentMenu_->isEmpty());
}

void MainWindow::buildEditMenu() {
  QMenu* menu = menuBar()->addMenu(tr("&Edit"));
  QAction* undo = document_.undoStack().createUndoAction(this, tr("&Undo"));
  undo->setShortcut(QKeySequence::Undo);
  menu->addAction(undo);
  QAction* redo = document_.undoStack().createRedoAction(this, tr("&Redo"));
  redo->setShortcuts(
      {QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_Z), QKeySequence(Qt::CTRL | Qt::Key_Y)});
  menu->addAction(redo);
  // The document gives up a drag before it takes back a step.
  disconnect(undo, &QAction::triggered, &document_.undoStack(), nullptr);
  connect(undo, &QAction::triggered, this, [this] {
    document_.undo();
    say(tr("Undone"));
  });
  connect(redo, &QAction::triggered, this, [this] { say(tr("Done again")); });
  menu->addSeparator();
  menu->addAction(tr("Cu&t"), QKeySequence::Cut, editing_, &Editing::cut);
  menu->addAction(tr("&Copy"), QKeySequence::Copy, this, [this] {
    if (stage_ == Stage::kDeliver) {
      deliver().copyList();
      say(tr("The list of notes is on the clipboard"));
    } else {
      editing_->copy();
    }
  });
  menu->addAction(tr("&Paste"), QKeySequence::Paste, editing_, &Editing::paste);
  menu->addAction(tr("Select &all"), QKeySequence::SelectAll, editing_, &Editing::selectAll);
  menu->addSeparator();
  menu->addAction(tr("Repeat the &first bar over the rest"), QKeySequence(Qt::CTRL | Qt::Key_R),
                  editing_, &Editing::repeatFirstBar);
}

void MainWindow::buildHitMenu() {
  // Their keys belong to the lanes (lanes_keys.cpp); here they can be found.
  QMenu* menu = menuBar()->addMenu(tr("&Hit"));
  menu->addAction(tr("Accent\tA"), editing_, [this] { editing_->setRole(Role::kAccent); });
  menu->addAction(tr("Normal\tN"), editing_, [this] { editing_->setRole(Role::kNormal); });
  menu->addAction(tr("Ghost\tG"), editing_, [this] { editing_->setRole(Role::kGhost); });
  menu->addAction(tr("Open or shut the hat\tO"), editing_, &Editing::toggleOpen);
  menu->addAction(tr("Right hand or foot\tR"), editing_,
                  [this] { editing_->setSide(Side::kRight); });
  menu->addAction(tr("Left hand or foot\tL"), editing_, [this] { editing_->setSide(Side::kLeft); });
  menu->addSeparator();
  menu->addAction(tr("Louder\t+"), editing_, [this] { editing_->addVelocity(1, {}); });
  menu->addAction(tr("Softer\t−"), editing_, [this] { editing_->addVelocity(-1, {}); });
  menu->addAction(tr("Later by 1 ms\t."), editing_,
                  [this] { editing_->addNudge(Milliseconds(1), {}); });
  menu->addAction(tr("Earlier by 1 ms\t,"), editing_,
                  [this] { editing_->addNudge(Milliseconds(-1), {}); });
  menu->addSeparator();
  menu->addAction(tr("Take off\tDel"), editing_, &Editing::removeSelected);
  menu->addSeparator();
  menu->addAction(tr("Tap the tempo"), QKeySequence(Qt::Key_T), topBar_, &TopBar::tap);
}

void MainWindow::buildGrooveMenu() {
  QMenu* menu = menuBar()->addMenu(tr("&Groove"));
  menu->addAction(tr("&New"), QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_N), editing_,
                  &Editing::newGroove);
  menu->addAction(tr("&Duplicate"), QKeySequence(Qt::CTRL | Qt::Key_D), editing_,
                  &Editing::duplicateGroove);
  menu->addAction(tr("&Embellish"), QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_D), editing_,
                  &Editing::embellishGroove);
  menu->addAction(tr("&Back to its core"), editing_, &Editing::backToCore);
  menu->addAction(tr("&Rename…"), QKeySequence(Qt::Key_F2), this, [this] {
    editing_->renameGroove(prompts_.line(this, tr("Name of the groove"),
                                         QString::fromStdString(document_.groove().name)));
  });
  menu->addAction(tr("De&lete"), editing_, &Editing::deleteGroove);
  menu->addAction(tr("&Up the list"), editing_, [this] { editing_->moveGroove(-1); });
  menu->addAction(tr("D&own the list"), editing_, [this] { editing_->moveGroove(1); });
  menu->addAction(tr("&Aim of accents over ghosts…"), this, &MainWindow::askAim);
  menu->addSeparator();
  menu->addAction(tr("&Previous"), QKeySequence(Qt::CTRL | Qt::Key_PageUp), this,
                  [this] { stepGroove(-1); });
  menu->addAction(tr("N&ext"), QKeySequence(Qt::CTRL | Qt::Key_PageDown), this,
                  [this] { stepGroove(1); });
}

void MainWindow::buildToolMenu() {
  QMenu* menu = menuBar()->addMenu(tr("&Tools"));
  auto* sticking = new QAction(this);
  sticking->setShortcut(QKeySequence(Qt::CTRL | Qt::Key_K));
  addAction(sticking);
  connect(sticking, &QAction::triggered, this, [this] { openTool("sticking"); });
  // The tools read their starting points: not before someone looks.
  connect(menu, &QMenu::aboutToShow, this, [this, menu, sticking] {
    if (!menu->isEmpty()) return;
    for (const Tool& tool : tools()) {
      const std::string name = tool.name;
      QMenu* group = menu->actions().isEmpty() ? nullptr : menu->actions().last()->menu();
      if (group == nullptr || group->title() != qs(tool.group)) {
        group = menu->addMenu(qs(tool.group));
        group->setToolTipsVisible(true);
      }
      QAction* action = sticking;
      if (name != "sticking") {
        action = new QAction(menu);
        connect(action, &QAction::triggered, this, [this, name] { openTool(name); });
      }
      action->setText(QString::fromStdString(tool.title));
      action->setToolTip(QString::fromStdString(tool.help));
      group->addAction(action);
    }
  });
}

void MainWindow::buildViewMenu() {
  QMenu* menu = menuBar()->addMenu(tr("&View"));
  menu->addAction(tr("&Strike"), QKeySequence(Qt::ALT | Qt::Key_1), this,
                  [this] { showStage(Stage::kStrike); });
  menu->addAction(tr("&Open"), QKeySequence(Qt::ALT | Qt::Key_2), this,
                  [this] { showStage(Stage::kOpen); });
  menu->addAction(tr("&Lean"), QKeySequence(Qt::ALT | Qt::Key_3), this,
                  [this] { showStage(Stage::kLean); });
  menu->addAction(tr("&Deliver"), QKeySequence(Qt::ALT | Qt::Key_4), this,
                  [this] { showStage(Stage::kDeliver); });
  menu->addSeparator();
  LanesView& lanes = strike_->lanes();
  auto* zoom = new QActionGroup(this);
  for (const auto& [bars, key] : {std::pair{1, Qt::Key_1}, {2, Qt::Key_2}, {4, Qt::Key_4}}) {
    const int shown = bars;
    QAction* action = menu->addAction(bars == 1 ? tr("1 bar") : tr("%1 bars").arg(bars),
                                      QKeySequence(Qt::CTRL | key), &lanes,
                                      [&lanes, shown] { lanes.setVisibleBars(shown); });
    action->setCheckable(true);
    zoom->addAction(action);
    connect(&lanes, &LanesView::viewportChanged, action,
            [&lanes, action, shown] { action->setChecked(lanes.visibleBars() == shown); });
  }
  menu->addSeparator();
  const auto widen = [this](double by) {
    if (stage_ == Stage::kLean) return lean().view().setPxPerMs(lean().view().pxPerMs() * by);
    strike_->lanes().setPxPerMs(strike_->lanes().pxPerMs() * by);
  };
  menu->addAction(tr("Lean wider"), QKeySequence(Qt::CTRL | Qt::ALT | Qt::Key_Right), this,
                  [widen] { widen(1.25); });
  menu->addAction(tr("Lean narrower"), QKeySequence(Qt::CTRL | Qt::ALT | Qt::Key_Left), this,
                  [widen] { widen(0.8); });
  const auto side = [&](const QString& name, const QKeySequence& key, StrikeStage::Side which) {
    menu->addAction(name, key, this, [this, which] {
      showStage(Stage::kStrike);
      strike_->showSide(which);
    });
  };
  menu->addSeparator();
  side(tr("Card of the hit"), {}, StrikeStage::Side::kHit);
  side(tr("Card of grooves"), QKeySequence(Qt::CTRL | Qt::Key_G), StrikeStage::Side::kGrooves);
  side(tr("Card of the kit"), QKeySequence(Qt::CTRL | Qt::Key_J), StrikeStage::Side::kKit);
  menu->addSeparator();
  QAction* limbs = menu->addAction(tr("&Lanes by limb"), QKeySequence(Qt::CTRL | Qt::Key_L), &lanes,
                                   [&lanes](bool on) { lanes.setShowLimbs(on); });
  limbs->setCheckable(true);
  connect(&lanes, &LanesView::viewportChanged, limbs,
          [&lanes, limbs] { limbs->setChecked(lanes.showsLimbs()); });
  QAction* step =
      menu->addAction(tr("&Step entry\tI"), &lanes, [&lanes](bool on) { lanes.setStepEntry(on); });
  step->setCheckable(true);
  connect(&lanes, &LanesView::stepEntryChanged, step,
          [&lanes, step] { step->setChecked(lanes.stepEntry()); });
  QAction* all = menu->addAction(tr("&All pieces of the kit"), &lanes,
                                 [&lanes](bool on) { lanes.setShowAllPieces(on); });
  all->setCheckable(true);
  connect(&lanes, &LanesView::viewportChanged, all,
          [&lanes, all] { all->setChecked(lanes.showsAllPieces()); });
}

void MainWindow::buildHelpMenu() {
  QMenu* menu = menuBar()->addMenu(tr("Hel&p"));
  QAction* keys = menu->addAction(tr("&Keys"), this, &MainWindow::showKeys);
  keys->setShortcuts({QKeySequence(Qt::Key_F1), QKeySequence(Qt::Key_Question)});
  menu->addAction(tr("&About"), this, [this] {
    QMessageBox::about(
        this, tr("Uneven Stick"),
        tr("<b>Uneven Stick</b> %1<p>For drummers who program their parts hit by hit.<p>Free "
           "software under the GNU General Public License, version 3 or later. The font Uneven "
           "Sans "
           "is changed from Inter, under the SIL Open Font License 1.1.")
            .arg(QCoreApplication::applicationVersion()));
  });
}

void MainWindow::askAim() {
  const SeparationAim aim = document_.song().aim;
  const QString text =
      prompts_.line(this, tr("How far accents should lie above ghosts, dB: low and high, 0 to 60"),
                    QStringLiteral("%1 %2").arg(aim.low).arg(aim.high));
  if (text.isEmpty()) return;
  const QStringList words = text.split(QLatin1Char(' '), Qt::SkipEmptyParts);
  bool lowGood = false;
  bool highGood = false;
  const double low = words.value(0).toDouble(&lowGood);
  const double high = words.value(1).toDouble(&highGood);
  if (words.size() != 2 || !lowGood || !highGood || low < 0 || high > kAimMax || low > high) {
    return say(tr("%1 is no aim: write two numbers from 0 to 60, as 18 28").arg(text));
  }
  editing_->setAim({low, high});
}

void MainWindow::showKeys() {
  auto* keys = new KeysWindow(this);
  keys->setAttribute(Qt::WA_DeleteOnClose);
  keys->open();
}

}  // namespace uneven
