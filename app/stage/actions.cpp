// SPDX-License-Identifier: GPL-3.0-or-later
// The table of actions.
#include "app/stage/actions.h"

#include <QAction>
#include <QStringList>
#include <algorithm>
#include <utility>

namespace uneven {

QString ActionEntry::plainText() const {
  QString out = made == nullptr ? text : made->text();
  return out.remove(QLatin1Char('&')).remove(QStringLiteral("…"));
}

QString ActionEntry::keyText() const {
  if (!viewKey.isEmpty()) return viewKey;
  QStringList words;
  for (const QKeySequence& key : made == nullptr ? keys : made->shortcuts()) {
    words << key.toString(QKeySequence::NativeText);
  }
  return words.join(QStringLiteral(", "));
}

ActionEntry& ActionTable::add(const QString& menu, const QString& text, QList<QKeySequence> keys,
                              std::function<void()> run) {
  ActionEntry& entry = entries_.emplace_back();
  entry.menu = menu;
  entry.text = text;
  entry.keys = std::move(keys);
  entry.run = std::move(run);
  return entry;
}

void ActionTable::addLater(const QString& menu, std::function<void(ActionTable&)> list) {
  later_.push_back({menu, std::move(list)});
}

void ActionTable::listLater() {
  for (const Later& later : std::exchange(later_, {})) later.list(*this);
}

bool ActionTable::hasLater(const QString& menu) const {
  return std::any_of(later_.begin(), later_.end(), [&](const Later& l) { return l.menu == menu; });
}

}  // namespace uneven
