// SPDX-License-Identifier: GPL-3.0-or-later
// Other ways to play the groove: each with what it changes, what it costs and how fast it can go;
// heard by its number, kept by a click.
#pragma once

#include "app/controls/card.h"
#include "app/stage/checker.h"

class QVBoxLayout;

namespace uneven {

class Transport;

class WaysCard : public Card {
  Q_OBJECT
 public:
  WaysCard(Editing& editing, Checker& checker, Transport& transport, QWidget* parent);

  // The one that is shown and heard; nothing: as it is written.
  std::optional<std::size_t> heard() const { return heard_; }
  // Plays it in place of the groove, from the next stroke on; `way` beyond the last is left alone.
  void hear(std::optional<std::size_t> way);
  // The limbs of that way become the hits' own.
  void keep(std::size_t way);

 Q_SIGNALS:
  void shown(const OtherWay* way);  // nullptr: none
  void said(const QString& what);

 protected:
  void hideEvent(QHideEvent* event) override;

 private:
  void read();

  Editing& editing_;
  Checker& checker_;
  Transport& transport_;
  QVBoxLayout* down_;
  QWidget* list_ = nullptr;
  std::optional<std::size_t> heard_;
};

}  // namespace uneven
