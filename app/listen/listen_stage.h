// SPDX-License-Identifier: GPL-3.0-or-later
// The Listen stage: a take, what is found in it, and what is made of it.
#pragma once

#include "app/listen/listener.h"
#include "app/stage/stage.h"

namespace uneven {

class MeasuredCard;
class RowsView;

class ListenStage : public Stage {
  Q_OBJECT
 public:
  explicit ListenStage(const Workplace& place, QWidget* parent = nullptr);

  Listener& listener() { return listener_; }
  RowsView& rows() { return *rows_; }
  void askForTake();
  void makeFeel();
  void followTempo();
  void makeGroove();

 protected:
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dropEvent(QDropEvent* event) override;

 private:
  void key(QChar letter);
  void startAt(double seconds);
  const Fit* worthwhile();
  QString takeName() const;

  Editing& editing_;
  Prompts& prompts_;
  Listener listener_;
  RowsView* rows_;
  MeasuredCard* card_;
  QString folder_;
};

}  // namespace uneven
