// SPDX-License-Identifier: GPL-3.0-or-later
// Everything that can be done by name, in one table: menus, the list of keys and the finder read
// it.
#pragma once

#include <QKeySequence>
#include <QList>
#include <QString>
#include <deque>
#include <functional>
#include <vector>

class QAction;

namespace uneven {

struct ActionEntry {
  QString menu;              // "&File"
  QString text;              // "Save &as…"
  QString submenu;           // of the menu; empty: the menu itself
  QList<QKeySequence> keys;  // anywhere in the window
  QString viewKey;           // a key that the views take themselves: shown, not bound
  QString help;
  std::function<void()> run;
  std::function<bool()> checked;  // of what is on or off
  bool first = false;             // of a group
  QAction* made = nullptr;        // by somebody else, with text and state of its own

  // Without the marks of menus: "Save as".
  QString plainText() const;
  // All keys in words; empty: none.
  QString keyText() const;
};

class ActionTable {
 public:
  // Added to the end of its menu; the reference stays good.
  ActionEntry& add(const QString& menu, const QString& text, QList<QKeySequence> keys,
                   std::function<void()> run);
  // What is dear to list is listed when somebody looks.
  void addLater(const QString& menu, std::function<void(ActionTable&)> list);
  void listLater();
  bool hasLater(const QString& menu) const;

  const std::deque<ActionEntry>& all() const { return entries_; }

 private:
  struct Later {
    QString menu;
    std::function<void(ActionTable&)> list;
  };
  std::deque<ActionEntry> entries_;
  std::vector<Later> later_;
};

// A row of the list of keys that no action stands for: what a view takes.
struct KeyHelp {
  QString keys;
  QString what;
};

// Something that can be found by typing a few letters of its name.
struct Found {
  QString title;
  QString kind;  // "tool", "groove", the menu of an action
  QString keys;
  std::function<void()> run;
  QString also = {};  // words that people look for it by, which are not shown
};

}  // namespace uneven
