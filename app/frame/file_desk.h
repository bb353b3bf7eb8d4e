// SPDX-License-Identifier: GPL-3.0-or-later
// New, open, save, save as, recent files, and what becomes of unsaved changes.
#pragma once

#include <QFileSystemWatcher>
#include <QObject>
#include <QStringList>
#include <QThreadPool>
#include <QTimer>
#include <atomic>
#include <exception>
#include <memory>

#include "app/controls/aside.h"
#include "app/frame/only_window.h"
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
  void openDemo();   // grooves to work on
  void openPiece();  // a whole one
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
  void wanted();  // another window wanted this song

 private:
  void openShipped(const QString& name, const QString& told);
  // What is being typed belongs to the song that is saved or left.
  void takeTyped();
  bool writeTo(const QString& path);
  void remember(const QString& path);
  QString folder() const;

  // The file as it was when it was read or written last.
  struct OnDisk {
    std::string stamp;
    std::size_t hash = 0;  // of its bytes
  };
  // A file that is being read, or has been.
  struct Reading {
    QString path;
    std::uint64_t revision = 0;  // of the document when it began
    std::atomic<double> done{0};
    std::optional<Song> song;
    std::vector<std::string> notes;
    std::optional<Error> error;
    OnDisk onDisk;
    std::unique_ptr<OnlyWindow> only;
  };
  static void read(FileSystem& files, Reading& reading, const std::stop_token& stop);

  std::unique_ptr<OnlyWindow> claim(const QString& path);
  void keepWatch();  // over the file that is open
  void lookAtDisk();
  // Whether somebody else has written it since.
  bool changedOnDisk(std::string* bytes = nullptr);
  bool readAgain(const std::string& bytes);
  enum class Conflict : std::uint8_t { kNone, kResolved, kGivenUp };
  Conflict resolve(const QString& path);
  bool take(Reading& reading);
  void readAside(std::shared_ptr<Reading> reading);
  void endReading();

  Document& document_;
  FileSystem& files_;
  Prompts& prompts_;
  QSettings& settings_;
  QWidget* window_;
  std::shared_ptr<Reading> reading_;
  QTimer watch_;  // asks how far it is
  OnDisk onDisk_;
  bool conflict_ = false;  // it has been said
  std::unique_ptr<QFileSystemWatcher> disk_;
  QTimer diskRests_;                  // a file is written in more than one step
  std::unique_ptr<OnlyWindow> only_;  // of the file that is open
  QThreadPool thread_;                // waits for what is being read, as it goes
  Aside<std::shared_ptr<Reading>> aside_{&thread_};
};

}  // namespace uneven
