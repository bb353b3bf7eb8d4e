// SPDX-License-Identifier: GPL-3.0-or-later
// The card of drift: what a body adds, by name or by number, and which take.
#pragma once

#include <vector>

#include "app/lean/feel_card.h"

class QTimer;

namespace uneven {

class ActionButton;
class ChoiceField;
class DriftStrip;

class DriftCard : public FeelCard {
  Q_OBJECT
 public:
  explicit DriftCard(Editing& editing, QWidget* parent = nullptr);

 protected:
  void read() override;
  void showEvent(QShowEvent* event) override;

 private:
  void changeDrift(const QString& step, const std::function<void(Drift&)>& edit, Merge merge = {});
  void addDrift(QGridLayout* grid, const QString& name, const QString& unit,
                NumberField::Range range, const char* objectName, const QString& tip,
                const std::function<double(const Drift&)>& get,
                const std::function<void(Drift&, double)>& set);
  void readSong();
  void setTake(std::uint64_t take);

  ChoiceField* preset_;
  ActionButton* another_;
  ActionButton* back_;
  DriftStrip* strip_;
  QLabel* unisons_;
  QTimer* later_;                     // the whole song is performed when the hand rests
  std::vector<std::uint64_t> takes_;  // that were left, the last one last
  std::string takesOf_;               // feel
};

}  // namespace uneven
