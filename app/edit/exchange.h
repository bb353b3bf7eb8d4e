// SPDX-License-Identifier: GPL-3.0-or-later
// Grooves in and out as drum tab text and CSV of hits.
#pragma once

#include <QObject>

#include "app/edit/editing.h"

namespace uneven {

class Prompts;

class Exchange : public QObject {
  Q_OBJECT
 public:
  Exchange(Editing& editing, FileSystem& files, Prompts& prompts, QWidget* window);

  void importGroove();  // from .txt or .csv, as a new groove
  void exportGroove();  // the one that is edited, by the ending of the name

 Q_SIGNALS:
  void said(const QString& what);
  void failed(const QString& what);

 private:
  std::optional<PieceId> askLane(const std::string& lane);

  Editing& editing_;
  FileSystem& files_;
  Prompts& prompts_;
  QWidget* window_;
};

}  // namespace uneven
