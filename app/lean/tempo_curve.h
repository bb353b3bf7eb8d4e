// SPDX-License-Identifier: GPL-3.0-or-later
// The ratio over the tempo: the one that follows it as a curve, the fixed one beside it, the song's
// tempos as marks.
#pragma once

#include <QWidget>

#include "core/song/song.h"

namespace uneven {

class TempoCurve : public QWidget {
  Q_OBJECT
 public:
  explicit TempoCurve(QWidget* parent = nullptr);
  void show(const Song& song, const Swing& swing, Tempo here);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  QPointF at(double bpm, double ratio) const;

  Swing swing_;
  std::vector<double> tempos_;
  double here_ = 120;
};

}  // namespace uneven
