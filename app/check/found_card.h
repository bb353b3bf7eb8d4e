// SPDX-License-Identifier: GPL-3.0-or-later
// The list of findings: those of the groove at hand first, each with its mending, or left as it is.
#pragma once

#include "app/check/checker.h"
#include "app/controls/card.h"

class QLabel;
class QScrollArea;
class QVBoxLayout;

namespace uneven {

class FoundCard : public Card {
  Q_OBJECT
 public:
  FoundCard(Editing& editing, Checker& checker, QWidget* parent);

  // In the order of the list.
  const std::vector<Finding>& findings() const { return findings_; }
  std::optional<std::size_t> chosen() const { return chosen_; }
  void choose(std::optional<std::size_t> index);
  void step(int by);  // to the next one, or the one before
  void mend(std::size_t index);
  void mendKind(std::size_t index);  // all of its kind in its groove
  void leave(std::size_t index);

 Q_SIGNALS:
  void chose();
  void countChanged(int count);  // -1: being looked for

 private:
  void read();
  void build();
  void addFinding(QVBoxLayout& rows, std::size_t index);

  Editing& editing_;
  Checker& checker_;
  QLabel* title_;
  QScrollArea* scroll_;
  QWidget* list_ = nullptr;
  std::vector<Finding> findings_;
  int left_ = 0;
  std::optional<std::size_t> chosen_;
  std::vector<QWidget*> rows_;
};

}  // namespace uneven
