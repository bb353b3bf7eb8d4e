// SPDX-License-Identifier: GPL-3.0-or-later
// The file as a thing to take hold of: drag it out of the window onto another program.
#pragma once

#include <QPoint>
#include <QWidget>
#include <functional>

class QMimeData;

namespace uneven {

class MidiTile : public QWidget {
  Q_OBJECT
 public:
  // `makeFile` writes the file to a temporary place and gives its path; empty when it could not.
  explicit MidiTile(std::function<QString()> makeFile, QWidget* parent = nullptr);

  void setFile(const QString& name, const QString& details);
  // What a drag carries; nullptr when the file could not be made. The caller owns it.
  QMimeData* dragData() const;

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;

 private:
  std::function<QString()> makeFile_;
  QString name_;
  QString details_;
  QPoint pressed_;
};

}  // namespace uneven
