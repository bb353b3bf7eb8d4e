// SPDX-License-Identifier: GPL-3.0-or-later
// Work that is not saved yet is kept aside every few seconds and offered back after a crash.
//
// Each running program writes two files of its own, named by its process: the song, and the path it
// belongs to. They are removed when the work is saved or given up. Those of a process that no
// longer runs were left by a crash.
#pragma once

#include <QDateTime>
#include <QObject>
#include <QTimer>
#include <vector>

#include "core/io/file_system.h"

namespace uneven {

class Document;

class Autosave : public QObject {
  Q_OBJECT
 public:
  struct Left {
    QString file;      // the kept song
    QString songPath;  // where it was last saved; empty: never
    QDateTime when;
  };

  Autosave(Document& document, FileSystem& files, const QString& folder, QObject* parent = nullptr);

  // What crashed programs left, the newest first.
  std::vector<Left> left() const;
  Status restore(const Left& left);
  void discard(const Left& left);
  // The program ends in good order.
  void finish();

  static constexpr int kDelayMs = 2000;

 Q_SIGNALS:
  void failed(const QString& what);

 private:
  void documentChanged();
  void write();
  void removeOwn();
  QString ownFile() const;

  Document& document_;
  FileSystem& files_;
  QString folder_;
  QTimer timer_;
};

}  // namespace uneven
