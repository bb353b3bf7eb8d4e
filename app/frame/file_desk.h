// SPDX-License-Identifier: GPL-3.0-or-later
// New, open, save, save as, recent files, and what becomes of unsaved changes.
#pragma once

#include <QFutureWatcher>
#include <QObject>
#include <QStringList>
#include <QThreadPool>
#include <QTimer>
#include <atomic>
#include <memory>

#include "core/io/song_json.h"

class QSettings;
class QWidget;

namespace uneven {

class Document;
class FileSystem;
class Prompts;

class FileDesk : public QObject {
  Q_OBJECT
 public:
  FileDesk(Document& document, FileSystem& files, Prompts& prompts, QSettings& settings,
           QWidget* window);
  ~FileDesk() override;

  void newSong();
  void open();
  void openDemo();
  // Asks about unsaved changes first. A large file is read aside, while the window lives on; then
  // true means that it has begun.
  bool openPath(const QString& path);
  bool reading() const { return reading_ != nullptr; }
  void cancelReading();
  bool save();
  bool saveAs();
  // Asks about unsaved changes; false: stay.
  bool mayLeave();
  QStringList recent() const;

  static constexpr int kRecentMost = 8;
  static QString songFilter();

 Q_SIGNALS:
  void said(const QString& what);
  void failed(const QString& what);
  void recentChanged();
  void readingBegan(const QString& name);
  void readingAt(double done);  // 0..1
  void readingEnded();

 private:
  // What is being typed belongs to the song that is saved or left.
  void takeTyped();
  bool writeTo(const QString& path);
  void remember(const QString& path);
  QString folder() const;

  // A file that is being read, or has been.
  struct Reading {
    QString path;
    std::uint64_t revision = 0;  // of the document when it began
    std::atomic<double> done{0};
    std::optional<Song> song;
    std::vector<std::string> notes;
    std::optional<Error> error;
  };
  static void read(FileSystem& files, Reading& reading);
  bool take(Reading& reading);
  void readAside(std::shared_ptr<Reading> reading);

  Document& document_;
  FileSystem& files_;
  Prompts& prompts_;
  QSettings& settings_;
  QWidget* window_;
  std::shared_ptr<Reading> reading_;
  QTimer watch_;        // asks how far it is
  QThreadPool thread_;  // waits for what is being read, as it goes
};

}  // namespace uneven
