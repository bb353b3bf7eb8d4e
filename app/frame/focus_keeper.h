// SPDX-License-Identifier: GPL-3.0-or-later
// Gives the keys back to the stage.
//
// After a button has been pressed, a choice taken from its list, or Enter pressed in a field, the
// stage has the keys again, so that Space plays and arrows walk. Where what was pressed has put
// them somewhere else (a field to type in, a list), they stay there. Undo and redo are the song's:
// a field does not keep them for what is typed in it.
#pragma once

#include <QObject>
#include <QPointer>
#include <functional>

class QWidget;

namespace uneven {

class FocusKeeper : public QObject {
  Q_OBJECT
 public:
  // Watches what belongs to `window`; `home` has the keys by right.
  FocusKeeper(QWidget& window, std::function<QWidget*()> home);

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  // Once the event is through.
  void giveBack(QWidget* from);
  QWidget& window_;
  std::function<QWidget*()> home_;
};

}  // namespace uneven
