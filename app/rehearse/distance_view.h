// SPDX-License-Identifier: GPL-3.0-or-later
// What is read from across the kit: the count, the tempo, the step, the last result; large, and
// nothing else.
#pragma once

#include <QWidget>

#include "app/rehearse/rehearsing.h"

namespace uneven {

class DistanceView : public QWidget {
  Q_OBJECT
 public:
  DistanceView(Rehearsing& rehearsing, QWidget* parent);

  // What stands in it, line by line.
  QString countText() const;
  QString resultText() const;

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  Rehearsing& rehearsing_;
};

// "clean", "not yet: 1 missing, 2 extra"; empty: nothing was played yet.
QString resultOf(const std::optional<TimeThrough>& through);

}  // namespace uneven
