// SPDX-License-Identifier: GPL-3.0-or-later
// Files.
#include "app/frame/file_desk.h"

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QSettings>
#include <QStandardPaths>
#include <QWidget>

#include "app/controls/prompts.h"
#include "app/edit/document.h"
#include "core/io/atomic_save.h"
#include "core/io/song_json.h"
#include "core/song/edit.h"

namespace uneven {
namespace {

// Files of fewer bytes are read between two frames.
constexpr qint64 kReadAtOnce = 1'000'000;
// From the last sign that somebody writes the file to a look at it.
constexpr int kDiskRestMs = 60;

const QString kRecentKey = QStringLiteral("files/recent");

QString withEnding(const QString& path) {
  return path.endsWith(QStringLiteral(".ustick")) ? path : path + QStringLiteral(".ustick");
}

}  // namespace

FileDesk::FileDesk(Document& document, FileSystem& files, Prompts& prompts, QSettings& settings,
                   QWidget* window)
    : QObject(window),
      document_(document),
      files_(files),
      prompts_(prompts),
      settings_(settings),
      window_(window) {
  watch_.setInterval(50);
  connect(&watch_, &QTimer::timeout, this, [this] {
    if (reading_) Q_EMIT readingAt(reading_->done);
  });
  diskRests_.setSingleShot(true);
  diskRests_.setInterval(kDiskRestMs);
  connect(&diskRests_, &QTimer::timeout, this, &FileDesk::lookAtDisk);
  connect(&document_, &Document::replaced, this, [this] {
    conflict_ = false;
    if (document_.path().isEmpty()) only_.reset();
  });
  // What a save that was killed has left beside songs that were open lately.
  QTimer::singleShot(0, this, [this] {
    thread_.start([&files = files_, songs = recent()] {
      for (const QString& song : songs) clearUnfinished(files, song.toStdString());
    });
  });
}

FileDesk::~FileDesk() = default;

QString FileDesk::songFilter() {
  return tr("Uneven Stick songs (*.ustick)");
}

QString FileDesk::folder() const {
  const QStringList files = recent();
  return files.isEmpty() ? QStandardPaths::writableLocation(QStandardPaths::DocumentsLocation)
                         : QFileInfo(files.first()).absolutePath();
}

void FileDesk::takeTyped() {
  QWidget* field = window_->focusWidget();
  if (field == nullptr) return;
  field->clearFocus();
  field->setFocus();
}

bool FileDesk::mayLeave() {
  takeTyped();
  if (!document_.modified()) return true;
  switch (prompts_.saveChanges(window_, document_.fileTitle())) {
    case SaveAnswer::kSave:
      return save();
    case SaveAnswer::kDiscard:
      return true;
    case SaveAnswer::kCancel:
      break;
  }
  return false;
}

void FileDesk::newSong() {
  if (!mayLeave()) return;
  cancelReading();
  document_.replace(blankSong(), {});
  Q_EMIT said(tr("A new song: two bars of 4/4"));
}

void FileDesk::open() {
  const QString path = prompts_.fileToOpen(window_, tr("Open a song"), folder(), songFilter());
  if (!path.isEmpty()) openPath(path);
}

void FileDesk::openDemo() {
  openShipped(QStringLiteral("lock-gate-nine.ustick"),
              tr("The demo song. Save it under a name of your own to keep your changes"));
}

void FileDesk::openPiece() {
  openShipped(QStringLiteral("nine-locks-down.ustick"),
              tr("The demo piece: Arrange shows how it is made"));
}

void FileDesk::openShipped(const QString& name, const QString& told) {
  if (!mayLeave()) return;
  cancelReading();
  QFile demo(QStringLiteral(":/demo/") + name);
  if (!demo.open(QIODevice::ReadOnly)) return;
  Result<Song> song = readSong(demo.readAll().toStdString(), name.toStdString());
  if (!song) return Q_EMIT failed(QString::fromStdString(song.error().line()));
  document_.replace(*std::move(song), {});
  Q_EMIT said(told);
}

bool FileDesk::openPath(const QString& path) {
  if (!mayLeave()) return false;
  cancelReading();
  const QFileInfo info(path);
  auto reading = std::make_shared<Reading>();
  if (info.absoluteFilePath() != document_.path()) {
    reading->only = claim(info.absoluteFilePath());
    if (reading->only == nullptr) return false;
  }
  reading->path = info.absoluteFilePath();
  reading->revision = document_.revision();
  if (info.size() > kReadAtOnce) {
    readAside(std::move(reading));
    return true;
  }
  read(files_, *reading, {});
  return take(*reading);
}

void FileDesk::read(FileSystem& files, Reading& reading, const std::stop_token& stop) {
  reading.onDisk.stamp = files.inspect(reading.path.toStdString()).stamp;
  const Result<std::string> text = files.read(reading.path.toStdString());
  if (text) reading.onDisk.hash = std::hash<std::string>{}(*text);
  if (!text) {
    reading.error = text.error();
    return;
  }
  ReadWatch watch;
  watch.progress = [&](double done) {
    reading.done = done;
    return !stop.stop_requested();
  };
  Result<Song> song = readSong(*text, QFileInfo(reading.path).fileName().toStdString(), &watch);
  if (song) {
    reading.song = *std::move(song);
  } else {
    reading.error = song.error();
  }
  reading.notes = std::move(watch.notes);
}

void FileDesk::readAside(std::shared_ptr<Reading> reading) {
  reading_ = reading;
  watch_.start();
  Q_EMIT readingBegan(QFileInfo(reading->path).fileName());
  aside_.ask(
      [&files = files_, reading](const AsideWork& work) {
        read(files, *reading, work.stop);
        return reading;
      },
      [this](const std::shared_ptr<Reading>& read) {
        endReading();
        // What has been done meanwhile is not lost without a word.
        if (document_.revision() == read->revision || mayLeave()) take(*read);
      },
      [this] { endReading(); });
}

void FileDesk::endReading() {
  reading_.reset();
  watch_.stop();
  Q_EMIT readingEnded();
}

void FileDesk::cancelReading() {
  if (!reading_) return;
  aside_.cancel();
  endReading();
  Q_EMIT said(tr("Opening was cancelled"));
}

bool FileDesk::take(Reading& reading) {
  if (reading.error) {
    Q_EMIT failed(tr("Not opened. %1").arg(QString::fromStdString(reading.error->line())));
    return false;
  }
  if (reading.only != nullptr) only_ = std::move(reading.only);
  onDisk_ = reading.onDisk;
  document_.replace(*std::move(reading.song), reading.path);
  keepWatch();
  remember(reading.path);
  const QString opened = tr("Opened %1").arg(QDir::toNativeSeparators(reading.path));
  if (reading.notes.empty()) {
    Q_EMIT said(opened);
    return true;
  }
  QStringList notes;
  for (const std::string& note : reading.notes) notes << QString::fromStdString(note);
  Q_EMIT failed(opened + QStringLiteral(". ") + notes.join(QStringLiteral("; ")));
  return true;
}

bool FileDesk::save() {
  takeTyped();
  return document_.path().isEmpty() ? saveAs() : writeTo(document_.path());
}

bool FileDesk::saveAs() {
  takeTyped();
  const QString suggestion =
      document_.path().isEmpty()
          ? folder() + QStringLiteral("/") +
                withEnding(QString::fromStdString(document_.song().title).replace('/', '-'))
          : document_.path();
  const QString path = prompts_.fileToSave(window_, tr("Save the song"), suggestion, songFilter());
  return !path.isEmpty() && writeTo(withEnding(QFileInfo(path).absoluteFilePath()));
}

std::unique_ptr<OnlyWindow> FileDesk::claim(const QString& path) {
  auto only = OnlyWindow::of(path, [this] { Q_EMIT wanted(); });
  if (only == nullptr) {
    Q_EMIT failed(tr("%1 is open in another window, which comes to the front.")
                      .arg(QDir::toNativeSeparators(path)));
  }
  return only;
}

void FileDesk::keepWatch() {
  conflict_ = false;
  disk_ = std::make_unique<QFileSystemWatcher>();
  connect(disk_.get(), &QFileSystemWatcher::fileChanged, &diskRests_, qOverload<>(&QTimer::start));
  connect(disk_.get(), &QFileSystemWatcher::directoryChanged, &diskRests_,
          qOverload<>(&QTimer::start));
  // A file that takes another's place is seen in its folder only.
  disk_->addPath(QFileInfo(document_.path()).absolutePath());
  disk_->addPath(document_.path());
}

bool FileDesk::changedOnDisk(std::string* bytes) {
  const std::string path = document_.path().toStdString();
  const FileInfo info = files_.inspect(path);
  if (info.kind != FileInfo::Kind::kPlain || info.stamp == onDisk_.stamp) return false;
  Result<std::string> text = files_.read(path);
  if (!text) return false;
  if (std::hash<std::string>{}(*text) == onDisk_.hash) {
    onDisk_.stamp = info.stamp;  // touched, no more
    return false;
  }
  if (bytes != nullptr) *bytes = *std::move(text);
  return true;
}

void FileDesk::lookAtDisk() {
  if (document_.path().isEmpty() || reading_) return;
  if (disk_ != nullptr && QFile::exists(document_.path())) disk_->addPath(document_.path());
  std::string bytes;
  if (!changedOnDisk(&bytes)) return;
  if (conflict_) return;  // it has been said
  if (!document_.modified()) {
    readAgain(bytes);
    return;
  }
  conflict_ = true;
  Q_EMIT failed(tr("%1 was changed by another program, and here too. Saving asks which to keep.")
                    .arg(document_.fileTitle()));
}

bool FileDesk::readAgain(const std::string& bytes) {
  const QString path = document_.path();
  Result<Song> song = readSong(bytes, QFileInfo(path).fileName().toStdString());
  if (!song) {
    Q_EMIT failed(tr("%1 was changed by another program and cannot be read now. %2")
                      .arg(document_.fileTitle(), QString::fromStdString(song.error().line())));
    conflict_ = true;
    return false;
  }
  onDisk_ = {files_.inspect(path.toStdString()).stamp, std::hash<std::string>{}(bytes)};
  conflict_ = false;
  document_.reread(*std::move(song));
  Q_EMIT said(tr("%1 was changed by another program and is read again; undo brings yours back")
                  .arg(document_.fileTitle()));
  return true;
}

FileDesk::Conflict FileDesk::resolve(const QString& path) {
  std::string bytes;
  if (path != document_.path() || !changedOnDisk(&bytes)) return Conflict::kNone;
  const QStringList words = {tr("Keep mine: write over the other"),
                             tr("Keep the other: read it again"),
                             tr("Keep both: save mine beside it")};
  switch (prompts_.choice(
      window_, tr("%1 was changed by another program").arg(document_.fileTitle()), words)) {
    case 0:
      return Conflict::kNone;
    case 1:
      return readAgain(bytes) ? Conflict::kResolved : Conflict::kGivenUp;
    case 2: {
      const QFileInfo info(path);
      QString beside;
      for (int n = 2; beside.isEmpty() || QFile::exists(beside); ++n) {
        beside = info.dir().filePath(
            QStringLiteral("%1 (%2).ustick").arg(info.completeBaseName()).arg(n));
      }
      return writeTo(beside) ? Conflict::kResolved : Conflict::kGivenUp;
    }
    default:
      return Conflict::kGivenUp;
  }
}

bool FileDesk::writeTo(const QString& path) {
  if (const Conflict conflict = resolve(path); conflict != Conflict::kNone)
    return conflict == Conflict::kResolved;
  std::unique_ptr<OnlyWindow> only;
  if (path != document_.path()) {
    only = claim(path);
    if (only == nullptr) return false;
  }
  if (const Status saved = document_.save(path); !saved) {
    Q_EMIT failed(tr("Not saved. %1. Your changes are still here; save them elsewhere.")
                      .arg(QString::fromStdString(saved.error().line())));
    return false;
  }
  if (only != nullptr) only_ = std::move(only);
  const Result<std::string> written = files_.read(path.toStdString());
  onDisk_ = {files_.inspect(path.toStdString()).stamp,
             written ? std::hash<std::string>{}(*written) : 0};
  keepWatch();
  remember(path);
  Q_EMIT said(tr("Saved %1").arg(QDir::toNativeSeparators(path)));
  return true;
}

QStringList FileDesk::recent() const {
  return settings_.value(kRecentKey).toStringList();
}

void FileDesk::remember(const QString& path) {
  QStringList files = recent();
  files.removeAll(path);
  files.prepend(path);
  settings_.setValue(kRecentKey, files.mid(0, kRecentMost));
  Q_EMIT recentChanged();
}

}  // namespace uneven
