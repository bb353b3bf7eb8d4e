// SPDX-License-Identifier: GPL-3.0-or-later
// The part in figures: how hard it is and why, how syncopated and how dense, bar by bar; and how
// long every note is at the tempo, with the tempos at which other notes are as long.
#pragma once

#include "app/controls/card.h"
#include "app/stage/checker.h"

class QVBoxLayout;

namespace uneven {

class PartCard : public Card {
  Q_OBJECT
 public:
  PartCard(Editing& editing, Checker& checker, QWidget* parent);
  // Another tempo to look at; nothing: the song's.
  void setTrial(std::optional<double> bpm);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void read();

  Editing& editing_;
  Checker& checker_;
  QVBoxLayout* down_;
  QWidget* list_ = nullptr;
  std::optional<double> trial_;
};

}  // namespace uneven
