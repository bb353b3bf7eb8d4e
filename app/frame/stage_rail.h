// SPDX-License-Identifier: GPL-3.0-or-later
// The stages of the work, in its order, down the left side.
#pragma once

#include <QStringList>
#include <QWidget>
#include <map>
#include <optional>

namespace uneven {

// Up and Down choose when it has the focus; Alt+1, Alt+2, ... from anywhere (the window's menu).
class StageRail : public QWidget {
  Q_OBJECT
 public:
  explicit StageRail(QWidget* parent = nullptr);

  void addStage(const QString& name, const QString& purpose);
  void setCurrent(int index);
  // How many things wait there; nothing: not known at the moment. 0 is not shown.
  void setCount(int index, std::optional<int> count);
  std::optional<int> count(int index) const;
  int current() const { return current_; }

 Q_SIGNALS:
  void chosen(int index);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  bool event(QEvent* event) override;

 private:
  QRect rowRect(int index) const;
  int rowAt(const QPoint& p) const;

  QStringList names_;
  QStringList purposes_;
  std::map<int, std::optional<int>> counts_;
  int current_ = 0;
};

}  // namespace uneven
