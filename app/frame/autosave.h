// SPDX-License-Identifier: GPL-3.0-or-later
// Work that is not saved yet is kept aside every few seconds and offered back after a crash.
//
// Each running program writes two files of its own, the song and the path it belongs to, and holds
// a lock on a third as long as it runs, however it ends. They are removed when the work is saved or
// given up. Those that nobody holds were left by a crash.
//
// Files are written on a thread of its own. One write runs at a time and to its end; what has
// changed meanwhile is written after it, and nothing is removed while it runs.
#pragma once

#include <QDateTime>
#include <QObject>
#include <QThreadPool>
#include <QTimer>
#include <memory>
#include <vector>

#include "app/controls/aside.h"
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
    std::shared_ptr<FileLock> lock;  // so that one program only offers it
  };

  static constexpr int kDelayMs = 2000;
  Autosave(Document& document, FileSystem& files, const QString& folder, int delayMs = kDelayMs,
           QObject* parent = nullptr);

  // What crashed programs left, the newest first.
  std::vector<Left> left() const;
  // Into the document, and kept aside under our own name before theirs goes. An error: it could not
  // be read, or not be kept; then theirs stays.
  Status restore(const Left& left);
  void discard(const Left& left);
  // Writes at once and waits for it. Gives the file.
  Result<QString> keepNow();
  // The program ends in good order.
  void finish();

 Q_SIGNALS:
  void failed(const QString& what);

 private:
  void documentChanged();
  void write();
  void written(const Status& status);
  void endWriting();  // what waits is dropped
  void removeOwn();
  bool claim();  // a name of our own; false: there is none to be had

  Document& document_;
  FileSystem& files_;
  QString folder_;
  QTimer timer_;
  QString own_;  // the song's file; empty: not yet claimed
  std::unique_ptr<FileLock> lock_;
  QThreadPool thread_;
  Aside<Status> writing_{&thread_};
};

}  // namespace uneven
