// SPDX-License-Identifier: GPL-3.0-or-later
// All variants by two of their measures: larger can go faster, the colour is the verdict, a ring
// has none yet. A click goes there. The measures are chosen; two in which the walk's variants
// differ to begin with. What falls on one place is spread.
#pragma once

#include <QWidget>

#include "app/vary/walker.h"
#include "layout/card_wall.h"

namespace uneven {

class ChoiceField;

class MapView : public QWidget {
  Q_OBJECT
 public:
  MapView(Walker& walker, QWidget* parent);

  enum class Measure : std::uint8_t { kSyncopation, kTempo, kEasyTempo, kDensity, kDistance };
  static constexpr int kMeasures = 5;
  void setAxes(Measure across, Measure up);
  Measure across() const { return across_; }
  Measure up() const { return up_; }
  // Only those of a verdict, -1: that have none; nothing: all.
  void setFilter(std::optional<int> mark);

  void setCurrent(std::uint64_t index);
  // Where it is drawn; nothing: not measured yet, or beyond those that are drawn.
  std::optional<QPointF> pointOf(std::uint64_t index) const;
  static constexpr std::uint64_t kDrawnMost = 5'000;

 Q_SIGNALS:
  void chosen(std::uint64_t index);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  void read();
  std::optional<std::uint64_t> near(const QPointF& p) const;
  QRectF area() const;
  void chooseAxes();
  double valueOf(const Judged& judged, Measure measure) const;
  bool shows(std::uint64_t index) const;
  void spread();

  Walker& walker_;
  ChoiceField* acrossField_;
  ChoiceField* upField_;
  ChoiceField* filterField_;
  std::uint64_t current_ = 0;
  Measure across_ = Measure::kDensity, up_ = Measure::kSyncopation;
  bool chosenByHand_ = false;
  std::string walk_;  // whose variants these are
  std::optional<int> filter_;
  struct Span {
    double least = 0, most = 1;
  };
  Span spanAcross_, spanUp_;
  std::vector<std::optional<Point>> points_;  // spread, by variant
};

}  // namespace uneven
