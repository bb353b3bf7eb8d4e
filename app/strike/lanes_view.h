// SPDX-License-Identifier: GPL-3.0-or-later
// The lanes of a groove: sticks that stand and lean, under the hand and the keys.
#pragma once

#include <QPixmap>
#include <memory>
#include <optional>

#include "app/stage/bar_view.h"
#include "app/stage/checker.h"
#include "app/strike/gestures.h"
#include "app/strike/step_entry.h"
#include "layout/strike_scene.h"

namespace uneven {

class LanesView : public BarView {
  Q_OBJECT
 public:
  LanesView(Editing& editing, Checker& checker, QWidget* parent = nullptr);
  // The letter under a stick: "R", or "R set".
  QString letterAt(Beat at, PieceId piece) const;
  QString whoPlays(const HitRef& ref) const;

  double pxPerMs() const { return viewport_.pxPerMs; }
  void setPxPerMs(double pxPerMs);
  bool showsLimbs() const { return viewport_.byLimb; }
  void setShowLimbs(bool limbs);
  bool stepEntry() const { return stepEntry_.has_value(); }
  void setStepEntry(bool on);
  // Shows, faintly, what the groove would become; nothing: as it is.
  void setPreview(const std::optional<Groove>& preview);
  bool showsAllPieces() const { return allPieces_; }
  void setShowAllPieces(bool all);

  // As shown now; rebuilt when the song, the size or the viewport has changed.
  const StrikeScene& scene();
  const BarFrame& frame() override { return scene(); }
  std::vector<BarRow> rows() override;
  // What a tool would make of it, when it would change anything.
  const std::optional<StrikeScene>& previewScene();

 Q_SIGNALS:
  void stepEntryChanged();

 protected:
  void refresh() override;
  void zoom(double by) override { setPxPerMs(viewport_.pxPerMs * by); }
  QString tipAt(QPointF point) override;
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void leaveEvent(QEvent* event) override;
  bool event(QEvent* event) override;

 private:
  void invalidate();
  void buildPreview();
  void drawLanes(QPainter& p);
  void drawLayer();
  bool editKey(QKeyEvent* event);
  bool moveKey(QKeyEvent* event);
  void step(int slots, int lanes, bool extend);

  const std::map<HitRef, Limb>* hands() const;

  Checker& checker_;
  StrikeViewport viewport_;
  bool allPieces_ = false;
  StrikeScene scene_;
  std::optional<Groove> preview_;
  std::optional<StrikeScene> previewScene_;
  QPixmap layer_;  // all but band, cursor and playhead
  enum class Layer { kStale, kShown, kKept };
  Layer layerState_ = Layer::kStale;
  std::unique_ptr<Gesture> gesture_;
  std::optional<StepEntry> stepEntry_;
  std::optional<HitRef> hovered_;
};

}  // namespace uneven
