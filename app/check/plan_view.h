// SPDX-License-Identifier: GPL-3.0-or-later
// The kit from above, as a right-handed player sits at it: pieces are dragged to where they stand.
//
// By keys: left and right choose a piece, with Shift the arrow keys move it by a tenth of a
// forearm.
#pragma once

#include <set>

#include "app/controls/drawn_view.h"
#include "core/body/profile.h"
#include "core/song/kit.h"

namespace uneven {

class PlanView : public DrawnView {
  Q_OBJECT
 public:
  explicit PlanView(QWidget* parent);

  // `struck`: whose names are shown.
  void show(const Profile& profile, const Kit& kit, const std::set<PieceId>& struck);
  void setEditable(bool editable);
  QPointF pointOf(const PlanPlace& place) const;
  PlanPlace placeAt(QPointF point) const;
  const QString& chosen() const { return chosen_; }
  QSize sizeHint() const override { return {220, 146}; }

 Q_SIGNALS:
  void moved(const QString& piece, PlanPlace to);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  QString tipAt(QPointF point) override;

 private:
  struct Standing {
    QString id, name;
    PlanPlace place;
    bool cymbal = false, struck = false;
  };
  int nearest(QPointF point) const;
  void choose(int index);
  double scale() const;

  std::vector<Standing> pieces_;
  double nearby_ = 1;
  QString chosen_;
  bool editable_ = false, dragging_ = false;
};

}  // namespace uneven
