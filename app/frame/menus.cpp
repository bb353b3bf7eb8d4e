// SPDX-License-Identifier: GPL-3.0-or-later
// What the window itself can do by name, and the menus made from the table of all such actions.
#include <QAction>
#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>
#include <QMenu>
#include <QMenuBar>
#include <QMessageBox>
#include <QPointer>
#include <QUndoStack>

#include "app/controls/labels.h"
#include "app/controls/prompts.h"
#include "app/controls/word_tabs.h"
#include "app/edit/editing.h"
#include "app/edit/exchange.h"
#include "app/frame/finder.h"
#include "app/frame/keys_window.h"
#include "app/frame/main_window.h"
#include "app/frame/top_bar.h"
#include "app/stage/menu_titles.h"
#include "core/arrange/edits.h"

namespace uneven {
namespace {

using Keys = QList<QKeySequence>;

Keys standard(QKeySequence::StandardKey key) {
  return {QKeySequence(key)};
}
Keys keyed(QKeyCombination key) {
  return {QKeySequence(key)};
}

}  // namespace

void MainWindow::listActions() {
  listFileActions();
  listEditActions();
  for (const StageEntry& entry : entries_) {
    if (entry.actions) entry.actions(table_, *this);
  }
  table_
      .add(menus::hit(), tr("Tap the tempo"), keyed(QKeyCombination(Qt::Key_T)),
           [this] { topBar_->tap(); })
      .first = true;
  listGrooveActions();
  listPlayActions();
  for (std::size_t i = 0; i < entries_.size(); ++i) {
    ActionEntry& entry = table_.add(
        menus::view(), entries_[i].title,
        keyed(Qt::ALT | static_cast<Qt::Key>(Qt::Key_0 + static_cast<int>((i + 1) % 10))),
        [this, id = entries_[i].id] { showStage(id); });
    entry.first = i == 0;
  }
  table_
      .add(menus::view(), tr("Lean wider"), keyed(Qt::CTRL | Qt::ALT | Qt::Key_Right),
           [this] { made_[shown_]->zoom(1.25); })
      .first = true;
  table_.add(menus::view(), tr("Lean narrower"), keyed(Qt::CTRL | Qt::ALT | Qt::Key_Left),
             [this] { made_[shown_]->zoom(0.8); });
  table_.add(menus::file(), tr("&Quit"), standard(QKeySequence::Quit), [this] { close(); }).first =
      true;
  listHelpActions();
}

void MainWindow::listFileActions() {
  const auto add = [this](const QString& text, Keys keys, std::function<void()> run) {
    return &table_.add(menus::file(), text, std::move(keys), std::move(run));
  };
  add(tr("&New"), standard(QKeySequence::New), [this] { fileDesk_->newSong(); });
  add(tr("&Open…"), standard(QKeySequence::Open), [this] { fileDesk_->open(); });
  recentMenu_ = new QMenu(tr("Open &recent"), this);
  recentMenu_->setToolTipsVisible(true);
  add({}, {}, {})->made = recentMenu_->menuAction();
  connect(fileDesk_, &FileDesk::recentChanged, this, &MainWindow::fillRecent);
  fillRecent();
  add(tr("Open the &demo song"), {}, [this] { fileDesk_->openDemo(); });
  add(tr("Open the demo &piece"), {}, [this] {
    fileDesk_->openPiece();
    showStage(QStringLiteral("arrange"));
  });
  add(tr("&Save"), standard(QKeySequence::Save), [this] { fileDesk_->save(); })->first = true;
  add(tr("Save &as…"), keyed(Qt::CTRL | Qt::SHIFT | Qt::Key_S), [this] { fileDesk_->saveAs(); });
  add(tr("&Import a groove (tab, CSV)…"), keyed(Qt::CTRL | Qt::Key_I), [this] {
    exchange_->importGroove();
  })->first = true;
  add(tr("E&xport this groove (tab, CSV)…"), keyed(Qt::CTRL | Qt::SHIFT | Qt::Key_E),
      [this] { exchange_->exportGroove(); });
}

void MainWindow::fillRecent() {
  recentMenu_->clear();
  for (const QString& path : fileDesk_->recent()) {
    QAction* action = recentMenu_->addAction(QFileInfo(path).fileName(), fileDesk_,
                                             [this, path] { fileDesk_->openPath(path); });
    action->setToolTip(plainText(QDir::toNativeSeparators(path)));
  }
  recentMenu_->setEnabled(!recentMenu_->isEmpty());
}

void MainWindow::listEditActions() {
  QAction* undo = document_.undoStack().createUndoAction(this, tr("&Undo"));
  undo->setShortcut(QKeySequence::Undo);
  QAction* redo = document_.undoStack().createRedoAction(this, tr("&Redo"));
  redo->setShortcuts(
      {QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_Z), QKeySequence(Qt::CTRL | Qt::Key_Y)});
  // The document gives up a drag before it takes back a step.
  disconnect(undo, &QAction::triggered, &document_.undoStack(), nullptr);
  connect(undo, &QAction::triggered, this, [this] {
    document_.undo();
    say(tr("Undone"));
  });
  disconnect(redo, &QAction::triggered, &document_.undoStack(), nullptr);
  connect(redo, &QAction::triggered, this, [this] {
    document_.redo();
    say(tr("Done again"));
  });
  const auto add = [this](const QString& text, Keys keys, std::function<void()> run) {
    return &table_.add(menus::edit(), text, std::move(keys), std::move(run));
  };
  add({}, {}, {})->made = undo;
  add({}, {}, {})->made = redo;
  add(tr("Cu&t"), standard(QKeySequence::Cut), [this] { editing_->clipboard().cut(); })->first =
      true;
  add(tr("&Copy"), standard(QKeySequence::Copy), [this] {
    if (!made_[shown_]->copy()) editing_->clipboard().copy();
  });
  add(tr("&Paste"), standard(QKeySequence::Paste), [this] { editing_->clipboard().paste(); });
  add(tr("Select &all"), standard(QKeySequence::SelectAll), [this] { editing_->selectAll(); });
  add(tr("Repeat the &first bar over the rest"), keyed(Qt::CTRL | Qt::Key_R), [this] {
    editing_->grooves().repeatFirstBar();
  })->first = true;
  add(tr("F&ind…"), standard(QKeySequence::Find), [this] { find(); })->first = true;
}

void MainWindow::listGrooveActions() {
  const auto add = [this](const QString& text, Keys keys, std::function<void()> run) {
    return &table_.add(menus::groove(), text, std::move(keys), std::move(run));
  };
  add(tr("&New"), keyed(Qt::CTRL | Qt::SHIFT | Qt::Key_N),
      [this] { editing_->grooves().newGroove(); });
  add(tr("&Duplicate"), keyed(Qt::CTRL | Qt::Key_D),
      [this] { editing_->grooves().duplicateGroove(); });
  add(tr("&Embellish"), keyed(Qt::CTRL | Qt::SHIFT | Qt::Key_D),
      [this] { editing_->grooves().embellishGroove(); });
  add(tr("&Back to its core"), {}, [this] { editing_->grooves().backToCore(); });
  add(tr("&Rename…"), keyed(QKeyCombination(Qt::Key_F2)), [this] {
    editing_->grooves().renameGroove(prompts_.line(
        this, tr("Name of the groove"), QString::fromStdString(document_.groove().name)));
  });
  add(tr("De&lete"), {}, [this] { editing_->grooves().deleteGroove(); });
  add(tr("&Up the list"), {}, [this] { editing_->grooves().moveGroove(-1); });
  add(tr("D&own the list"), {}, [this] { editing_->grooves().moveGroove(1); });
  add(tr("&Aim of accents over ghosts…"), {}, [this] { askAim(); });
  add(tr("&Previous"), keyed(Qt::CTRL | Qt::Key_PageUp), [this] { stepGroove(-1); })->first = true;
  add(tr("N&ext"), keyed(Qt::CTRL | Qt::Key_PageDown), [this] { stepGroove(1); });
  add(tr("The place before"), keyed(Qt::CTRL | Qt::SHIFT | Qt::Key_PageUp), [this] {
    document_.stepPlace(-1);
  })->help = tr("Where the song plays it, pass by pass");
  add(tr("The place after"), keyed(Qt::CTRL | Qt::SHIFT | Qt::Key_PageDown), [this] {
    document_.stepPlace(1);
  })->help = tr("Where the song plays it, pass by pass");
  add(tr("&Into the song"), keyed(Qt::CTRL | Qt::SHIFT | Qt::Key_A), [this] { intoSong(); })->help =
      tr("A section behind the last: the groove, the chosen variant, or the take's bars");
}

void MainWindow::intoSong() {
  if (made_[shown_] != nullptr && made_[shown_]->intoSong()) return;
  const Groove& groove = document_.groove();
  Section section;
  section.name = groove.name;
  section.groove = groove.id;
  if (document_.apply(tr("%1 into the song").arg(qs(groove.name)),
                      withSection(document_.song(), std::move(section))))
    say(tr("%1 is the song's last section now: Arrange shows it").arg(qs(groove.name)));
}

void MainWindow::listHelpActions() {
  table_.add(menus::help(), tr("&Keys"), {QKeySequence(Qt::Key_F1), QKeySequence(Qt::Key_Question)},
             [this] { showKeys(); });
  listCaution();
  table_.add(menus::help(), tr("&About"), {}, [this] {
    QMessageBox::about(
        this, tr("Uneven Stick"),
        tr("<b>Uneven Stick</b> %1<p>For drummers who program their parts hit by hit.<p>Free "
           "software under the GNU General Public License, version 3 or later. The font Uneven "
           "Sans "
           "is changed from Inter, under the SIL Open Font License 1.1.")
            .arg(QCoreApplication::applicationVersion()));
  });
}

QMenu* MainWindow::menuOf(const QString& title) {
  QMenu*& menu = menus_[title];
  if (menu != nullptr) return menu;
  menu = new QMenu(title, this);
  menu->setToolTipsVisible(true);
  const bool known = menus::inOrder().contains(title);
  menuBar()->insertMenu(known ? nullptr : menus_[menus::help()]->menuAction(), menu);
  connect(menu, &QMenu::aboutToShow, this, [this, title] {
    if (table_.hasLater(title)) {
      table_.listLater();
      fillMenus();
    }
    for (const Listed& listed : listed_) {
      if (listed.entry->checked) listed.action->setChecked(listed.entry->checked());
    }
  });
  return menu;
}

// Puts what the table has and the menus have not yet into them.
void MainWindow::fillMenus() {
  for (const QString& title : menus::inOrder()) menuOf(title);
  for (std::size_t i = listed_.size(); i < table_.all().size(); ++i) {
    const ActionEntry& entry = table_.all()[i];
    QMenu* menu = menuOf(entry.menu);
    if (entry.first && !menu->isEmpty()) menu->addSeparator();
    if (!entry.submenu.isEmpty()) {
      QMenu*& sub = menus_[entry.menu + QLatin1Char('\n') + entry.submenu];
      if (sub == nullptr) {
        sub = menu->addMenu(entry.submenu);
        sub->setToolTipsVisible(true);
      }
      menu = sub;
    }
    QAction* action = entry.made;
    if (action == nullptr) {
      action = new QAction(this);
      action->setText(entry.viewKey.isEmpty() ? entry.text
                                              : entry.text + QLatin1Char('\t') + entry.viewKey);
      action->setShortcuts(entry.keys);
      action->setCheckable(static_cast<bool>(entry.checked));
      if (!entry.help.isEmpty()) action->setToolTip(entry.help);
      connect(action, &QAction::triggered, this, [run = entry.run] { run(); });
    }
    menu->addAction(action);
    listed_.push_back({action, &entry});
  }
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
  editing_->grooves().setAim({low, high});
}

void MainWindow::showKeys() {
  table_.listLater();
  fillMenus();
  auto* keys = new KeysWindow(table_, entries_, shown_, this);
  keys->setAttribute(Qt::WA_DeleteOnClose);
  keys->open();
}

// Every action, what the stages offer besides, grooves and sections.
std::vector<Found> MainWindow::everything() {
  table_.listLater();
  fillMenus();
  std::vector<Found> out;
  for (const Listed& listed : listed_) {
    if (listed.action->menu() != nullptr || !listed.action->isEnabled()) continue;
    const ActionEntry& entry = *listed.entry;
    const QString kind = entry.submenu.isEmpty() ? QString(entry.menu).remove(QLatin1Char('&'))
                                                 : QString(entry.menu).remove(QLatin1Char('&')) +
                                                       QStringLiteral(", ") + entry.submenu;
    out.push_back({entry.plainText(), kind, entry.keyText(),
                   [action = listed.action] { action->trigger(); }});
  }
  const Song& song = document_.song();
  const auto go = [this](const std::string& id) {
    document_.chooseGroove(id);
    editing_->moveCursor(Beat(0), editing_->cursorPiece());
  };
  for (const auto& groove : song.grooves) {
    out.push_back({qs(groove->name), tr("groove"), {}, [go, id = groove->id] { go(id); }});
  }
  for (const Section& section : song.sections()) {
    const Groove* groove = song.findGroove(section.groove);
    if (groove == nullptr) continue;
    out.push_back({qs(section.name),
                   tr("section, groove %1").arg(qs(groove->name)),
                   {},
                   [go, id = section.groove] { go(id); }});
  }
  for (const StageEntry& entry : entries_) {
    if (!entry.finds) continue;
    for (Found& found : entry.finds(*this)) out.push_back(std::move(found));
  }
  for (const StageEntry& entry : entries_) findCards(entry, out);
  findFields(*topBar_, tr("field at the top"), {}, out);
  return out;
}

// The cards of a stage, and the fields that stand on it and on them.
void MainWindow::findCards(const StageEntry& entry, std::vector<Found>& out) {
  Stage& of = stage(entry.id);
  const QString title = QString(entry.title).remove(QLatin1Char('&'));
  for (WordTabs* tabs : of.findChildren<WordTabs*>()) {
    for (int i = 0; i < tabs->count(); ++i) {
      out.push_back({tabs->word(i),
                     tr("card of %1").arg(title),
                     {},
                     [this, id = entry.id, tabs, i] {
                       showStage(id);
                       tabs->choose(i);
                     },
                     tabs->tip(i)});
    }
  }
  findFields(of, tr("field of %1").arg(title), entry.id, out);
}

void MainWindow::findFields(QWidget& in, const QString& kind, const QString& stageId,
                            std::vector<Found>& out) {
  for (QWidget* field : in.findChildren<QWidget*>()) {
    const bool typed = qobject_cast<QLineEdit*>(field) != nullptr ||
                       qobject_cast<QComboBox*>(field) != nullptr ||
                       qobject_cast<QCheckBox*>(field) != nullptr;
    const auto* box = qobject_cast<QCheckBox*>(field);
    const QString name = box != nullptr ? box->text() : field->accessibleName();
    if (!typed || name.isEmpty()) continue;
    out.push_back({name,
                   kind,
                   {},
                   [this, stageId, field = QPointer<QWidget>(field)] {
                     if (!stageId.isEmpty()) showStage(stageId);
                     if (field != nullptr) reveal(*field);
                   },
                   field->toolTip()});
  }
}

// Brings up the card that a field stands on.
void MainWindow::reveal(QWidget& field) {
  for (WordTabs* tabs : made_[shown_]->findChildren<WordTabs*>()) {
    const int before = tabs->current();
    for (int i = 0; i < tabs->count() && !field.isVisible(); ++i) tabs->choose(i);
    if (field.isVisible()) break;
    tabs->choose(before);
  }
  field.setFocus(Qt::OtherFocusReason);
}

void MainWindow::find() {
  auto* finder = new Finder(everything(), this);
  finder->setAttribute(Qt::WA_DeleteOnClose);
  finder->open();
}

}  // namespace uneven
