// SPDX-License-Identifier: GPL-3.0-or-later
// The placement walk: step through openings in a span, mark what works, keep one.
//
// Right and Left step, 1 2 3 mark good, awkward, not for me, Enter keeps the placement in the
// groove, Escape ends the walk. Marks stay with the song.
#pragma once

#include <vector>

#include "app/controls/card.h"
#include "app/edit/editing.h"
#include "core/vary/walks.h"

class QLabel;

namespace uneven {

class BeatField;
class FlatEdit;
class NumberField;

class WalkCard : public Card {
  Q_OBJECT
 public:
  explicit WalkCard(Editing& editing, QWidget* parent = nullptr);

  void begin();
  void key(int key);
  // What stands there; nothing where nobody walks.
  std::optional<Variant> current() const;

 Q_SIGNALS:
  // The groove with the placement at hand; nothing when the walk is over.
  void previewed(const std::optional<Groove>& groove);
  void ended();
  void refused(const QString& why);

 protected:
  void keyPressEvent(QKeyEvent* event) override;
  void hideEvent(QHideEvent* event) override;

 private:
  void restart();
  void make();  // of the groove as it is
  void step(int by);
  void mark(WalkMark mark);
  void keep();
  void show();
  bool readSpan();

  Editing& editing_;
  BeatField* from_;
  BeatField* to_;
  NumberField* open_;
  QLabel* place_;
  QLabel* count_;
  QLabel* mark_;
  FlatEdit* note_;
  QLabel* tally_;
  Beat first_;
  Beat end_{2};
  std::optional<Walk> walk_;
  std::uint64_t at_ = 0;
  bool walking_ = false, isGood_ = false;  // the span
};

}  // namespace uneven
