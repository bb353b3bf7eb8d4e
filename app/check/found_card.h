// SPDX-License-Identifier: GPL-3.0-or-later
// The list of findings: those of the groove at hand first, each with its mending, or left as it is.
#pragma once

#include "app/controls/card.h"
#include "app/stage/checker.h"

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
  void mend(std::size_t index, std::size_t way = 0);
  void mendKind(std::size_t index);  // all of its kind in its groove
  void leave(std::size_t index);
  // What is listed is of the song as it is.
  bool fresh() const { return checker_.now() != nullptr; }

 Q_SIGNALS:
  void chose();

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
  std::vector<QWidget*> rows_;  // of the page that is shown
  std::size_t page_ = 0;
  QTimer stale_;  // what is listed turns grey where the look takes its time
};

}  // namespace uneven
