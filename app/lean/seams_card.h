// SPDX-License-Identifier: GPL-3.0-or-later
// Where one feel gives way to the next: over how many beats, and how much the intervals jump.
#pragma once

#include "app/lean/feel_card.h"

namespace uneven {

class SeamsCard : public FeelCard {
  Q_OBJECT
 public:
  explicit SeamsCard(Editing& editing, QWidget* parent = nullptr);

  static constexpr double kBoundUsual = 15;  // ms
  double bound() const { return bound_; }
  void setBound(double ms);

 protected:
  void read() override;

 private:
  void build();
  void setMorph(std::size_t section, Beat length, Merge merge);

  double bound_ = kBoundUsual;
  NumberField* boundField_ = nullptr;
  struct Row {
    std::size_t section;
    NumberField* beats;
    QLabel* title;
    QLabel* jump;
  };
  std::vector<Row> rows_;
};

}  // namespace uneven
