// SPDX-License-Identifier: GPL-3.0-or-later
// Files.
#include "app/shell/file_desk.h"

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QSettings>
#include <QStandardPaths>
#include <QWidget>

#include "app/shell/document.h"
#include "app/shell/prompts.h"
#include "core/io/song_json.h"
#include "core/song/edit.h"

namespace uneven {
namespace {

const QString kRecentKey = QStringLiteral("files/recent");

QString withEnding(const QString& path) {
  return path.endsWith(QStringLiteral(".ustick")) ? path : path + QStringLiteral(".ustick");
}

}  // namespace

FileDesk::FileDesk(Document& document, Prompts& prompts, QSettings& settings, QWidget* window)
    : QObject(window),
      document_(document),
      prompts_(prompts),
      settings_(settings),
      window_(window) {}

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
  document_.replace(blankSong(), {});
  Q_EMIT said(tr("A new song: two bars of 4/4"));
}

void FileDesk::open() {
  const QString path = prompts_.fileToOpen(window_, tr("Open a song"), folder(), songFilter());
  if (!path.isEmpty()) openPath(path);
}

void FileDesk::openDemo() {
  if (!mayLeave()) return;
  QFile demo(QStringLiteral(":/demo/lock-gate-nine.ustick"));
  if (!demo.open(QIODevice::ReadOnly)) return;
  Result<Song> song = readSong(demo.readAll().toStdString(), "lock-gate-nine.ustick");
  if (!song) return Q_EMIT failed(QString::fromStdString(song.error().line()));
  document_.replace(*std::move(song), {});
  Q_EMIT said(tr("The demo song. Save it under a name of your own to keep your changes"));
}

bool FileDesk::openPath(const QString& path) {
  if (!mayLeave()) return false;
  const QString absolute = QFileInfo(path).absoluteFilePath();
  if (const Status loaded = document_.load(absolute); !loaded) {
    Q_EMIT failed(tr("Not opened. %1").arg(QString::fromStdString(loaded.error().line())));
    return false;
  }
  remember(absolute);
  Q_EMIT said(tr("Opened %1").arg(QDir::toNativeSeparators(absolute)));
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

bool FileDesk::writeTo(const QString& path) {
  if (const Status saved = document_.save(path); !saved) {
    Q_EMIT failed(tr("Not saved. %1. Your changes are still here; save them elsewhere.")
                      .arg(QString::fromStdString(saved.error().line())));
    return false;
  }
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
