// SPDX-License-Identifier: GPL-3.0-or-later
// The part with its hands under the sticks, each limb's strain below it, and how fast it can go.
#pragma once

#include "app/stage/bar_view.h"
#include "app/stage/checker.h"
#include "layout/strain_hills.h"
#include "layout/strike_scene.h"

namespace uneven {

class CheckView : public BarView {
  Q_OBJECT
 public:
  CheckView(Editing& editing, Checker& checker, QWidget* parent = nullptr);

  const BarFrame& frame() override { return scene(); }
  std::vector<BarRow> rows() override;
  // The finding that is shown on the sticks.
  void setShown(std::optional<Finding> finding);
  // The hands of another way to play it; nullptr: those of least cost.
  void setWay(const OtherWay* way);
  // What the finding's mending would make of it; nothing: none is offered, or it is elsewhere.
  const std::optional<StrikeScene>& previewScene();
  // Another tempo to look at, which changes nothing; nothing: the song's.
  void setTrial(std::optional<double> bpm);
  std::optional<double> trial() const { return trial_; }
  StrainRooms rooms() const;
  // As drawn: 1 is the playable limit. Of a limb, the highest.
  double strainOf(Limb limb) const;
  // "R" or "L" under the sticks; "set" where the hit says so.
  QString letterAt(Beat at, PieceId piece);

 Q_SIGNALS:
  void stepped(int by);  // to another finding
  void mendWanted();
  void leaveWanted();
  void wayWanted(int way);  // by its number; 0: as it is
  void tried(std::optional<double> bpm);

 protected:
  QString tipAt(QPointF point) override;
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  void looked();
  const StrikeScene& scene();
  void paintSticks(QPainter& p);
  void paintHands(QPainter& p);
  void paintHill(QPainter& p, Limb limb, const Rect& hill);
  void paintHills(QPainter& p);
  void paintRuler(QPainter& p);
  bool onRuler(QPointF point) const;
  const HandReport* report() const;
  void showHands(const std::vector<Limb>& hands);

  Checker& checker_;
  StrikeViewport viewport_;
  StrikeScene scene_;
  std::optional<Finding> shown_;
  std::optional<double> trial_;
  std::optional<LoopStrains> strains_;  // at the trial's tempo, or the song's
  std::map<HitRef, Limb> hands_;
  std::optional<StrikeScene> preview_;
};

}  // namespace uneven
