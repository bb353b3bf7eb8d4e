// SPDX-License-Identifier: GPL-3.0-or-later
// The drift along the song and how often it is how large.
#pragma once

#include <QWidget>

#include "core/take/take.h"

namespace uneven {

class DriftStrip : public QWidget {
  Q_OBJECT
 public:
  explicit DriftStrip(QWidget* parent = nullptr);
  // The strokes of the blocks that this feel of the score plays.
  // Nothing is known yet.
  void wait();
  void show(const Take& take, std::uint32_t feel);
  // Of the strokes shown, in ms.
  double deviation() const { return deviation_; }

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  bool waiting_ = false;
  static constexpr int kColumns = 200;  // at most
  static constexpr int kBins = 21;
  struct Column {
    double low = 0, high = 0;
    bool any = false;
  };
  std::vector<Column> columns_;
  std::vector<int> bins_;
  double most_ = 1;  // ms, the half of both scales
  double deviation_ = 0;
};

}  // namespace uneven
