// SPDX-License-Identifier: GPL-3.0-or-later
// My part beside the recording: what lies farther apart than its error, what moves it there, and
// both heard in turn.
#pragma once

#include "app/controls/card.h"
#include "app/stage/listener.h"
#include "core/match/compare.h"

class QLabel;
class QVBoxLayout;

namespace uneven {

class Editing;
class Transport;

class CompareCard : public Card {
  Q_OBJECT
 public:
  CompareCard(Editing& editing, Listener& listener, Transport& transport, QWidget* parent);

  // Which of the three is heard in place of the groove.
  enum class Ear { kMine, kStraight, kTheirs };
  void hear(Ear ear);
  Ear heard() const { return heard_; }
  const Compared* found() const { return compared_ ? &*compared_ : nullptr; }
  // To the next place of the list, or the one before.
  void step(int by);

 Q_SIGNALS:
  void said(const QString& what);
  void refused(const QString& why);
  // What is beside it now, and the place that is looked at; none: nothing is.
  void compared();
  void looked(std::optional<std::pair<Beat, PieceId>> place);

 protected:
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;

 private:
  static constexpr std::size_t kShown = 24;
  void read();
  void addSlot(QVBoxLayout& rows, std::size_t index);
  void move(std::size_t index);
  void moveAll();
  // Velocities of a recording in sound are only strengths.
  bool levels() const;

  Editing& editing_;
  Listener& listener_;
  Transport& transport_;
  QVBoxLayout* down_;
  QWidget* list_ = nullptr;
  std::optional<Compared> compared_;
  std::optional<std::size_t> looked_;  // of its slots
  std::vector<QWidget*> slots_;        // their rows
  Ear heard_ = Ear::kMine;
};

}  // namespace uneven
