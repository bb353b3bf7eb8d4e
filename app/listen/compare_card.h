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
  const Compared* compared() const { return compared_ ? &*compared_ : nullptr; }

 Q_SIGNALS:
  void said(const QString& what);
  void refused(const QString& why);

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
  Ear heard_ = Ear::kMine;
};

}  // namespace uneven
