// SPDX-License-Identifier: GPL-3.0-or-later
// What of a take is used and how: parts of the feel, how closely the tempo is followed, what
// becomes of what is left over; and the whole song laid out.
#pragma once

#include "app/controls/card.h"
#include "app/stage/listener.h"
#include "core/match/follow.h"

class QCheckBox;

namespace uneven {

class ActionButton;
class ChoiceField;
class NumberField;

class MakeCard : public Card {
  Q_OBJECT
 public:
  MakeCard(Listener& listener, QWidget* parent);

  FeelParts parts() const;
  FollowWanted follow() const;
  bool nudges() const;

 Q_SIGNALS:
  void songWanted();
  void refused(const QString& why);

 private:
  QCheckBox* addCheck(const QString& text, const char* name, const QString& tip, bool on);

  QCheckBox *swing_, *lean_, *slots_, *drift_, *nudges_;
  ChoiceField* by_;
  NumberField* smooth_;
  ActionButton* song_;
};

}  // namespace uneven
