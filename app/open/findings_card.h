// SPDX-License-Identifier: GPL-3.0-or-later
// What the hats' pedal cannot do as written, each finding with its mending.
#pragma once

#include <vector>

#include "app/controls/card.h"
#include "app/edit/editing.h"
#include "core/check/finding.h"

class QLabel;
class QVBoxLayout;

namespace uneven {

class FindingsCard : public Card {
  Q_OBJECT
 public:
  explicit FindingsCard(Editing& editing, QWidget* parent = nullptr);

  const std::vector<Finding>& findings() const { return findings_; }
  void mend(std::size_t index);
  void mendAll();

 Q_SIGNALS:
  void countChanged(int count);

 private:
  void read();
  std::vector<std::vector<std::size_t>> grouped() const;
  void addOpening(QVBoxLayout& rows, const std::vector<std::size_t>& group);
  QString placeOf(std::int32_t bar, Beat inBar) const;

  Editing& editing_;
  QLabel* title_;
  QWidget* list_ = nullptr;
  QVBoxLayout* down_;
  std::vector<Finding> findings_;
  std::vector<std::string> shown_;
};

}  // namespace uneven
