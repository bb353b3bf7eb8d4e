// SPDX-License-Identifier: GPL-3.0-or-later
// The variants as a wall of small pictures, of which only those that are seen are made.
//
// Arrow keys step, 1 2 3 give a verdict, 0 takes it back, Enter keeps the variant as a version, X
// gathers it, C lets the core be heard in its place. Where it plays, each step is heard at once.
#pragma once

#include <QWidget>
#include <set>

#include "app/vary/walker.h"
#include "layout/card_wall.h"

class QScrollBar;

namespace uneven {

class WallView : public QWidget {
  Q_OBJECT
 public:
  WallView(Walker& walker, Editing& editing, QWidget* parent);

  std::uint64_t current() const { return current_; }
  void choose(std::uint64_t index);
  // Several that are put into the arrangement together, by their numbers.
  const std::set<std::uint64_t>& gathered() const { return gathered_; }
  void gather(std::uint64_t index);
  void forgetGathered();
  QRectF cardRect(std::uint64_t index) const;
  // First and behind the last that is seen.
  std::pair<std::uint64_t, std::uint64_t> seen() const;
  CardWall wall() const;

 Q_SIGNALS:
  void chosen();
  void keepWanted();
  void verdictWanted(int number);  // 0: none, 1..3
  void coreWanted();
  void hovered(std::uint64_t index);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  void read();
  void layOut();
  void show(std::uint64_t index);
  void paintCard(QPainter& p, std::uint64_t index);
  std::optional<std::uint64_t> at(const QPointF& p) const;

  Walker& walker_;
  Editing& editing_;
  QScrollBar* bar_;
  std::uint64_t current_ = 0;
  std::string key_;  // of the current one, so that it is found again
  std::optional<std::uint64_t> hover_;
  std::set<std::uint64_t> gathered_;
};

}  // namespace uneven
