// SPDX-License-Identifier: GPL-3.0-or-later
// Autosave.
#include "app/shell/autosave.h"

#include <signal.h>
#include <unistd.h>

#include <QDir>
#include <QFileInfo>
#include <cerrno>

#include "app/shell/document.h"
#include "core/io/atomic_save.h"
#include "core/io/song_json.h"

namespace uneven {
namespace {

constexpr const char* kPathEnding = ".path";

bool runs(qint64 process) {
  return ::kill(static_cast<pid_t>(process), 0) == 0 || errno != ESRCH;
}

}  // namespace

Autosave::Autosave(Document& document, FileSystem& files, const QString& folder, QObject* parent)
    : QObject(parent), document_(document), files_(files), folder_(folder) {
  timer_.setSingleShot(true);
  timer_.setInterval(kDelayMs);
  connect(&timer_, &QTimer::timeout, this, &Autosave::write);
  connect(&document_, &Document::changed, this, &Autosave::documentChanged);
  connect(&document_, &Document::fileChanged, this, &Autosave::documentChanged);
}

QString Autosave::ownFile() const {
  return QStringLiteral("%1/unsaved-%2.ustick").arg(folder_).arg(::getpid());
}

void Autosave::documentChanged() {
  if (!document_.modified()) {
    timer_.stop();
    removeOwn();
  } else if (!timer_.isActive()) {
    timer_.start();
  }
}

void Autosave::write() {
  QDir().mkpath(folder_);
  const std::string file = ownFile().toStdString();
  const Status path = saveAtomically(files_, file + kPathEnding, document_.path().toStdString());
  const Status song = path ? saveAtomically(files_, file, writeSong(document_.song())) : path;
  if (!song) {
    Q_EMIT failed(tr("Your work could not be kept aside: %1")
                      .arg(QString::fromStdString(song.error().line())));
  }
}

void Autosave::removeOwn() {
  (void)files_.remove(ownFile().toStdString());
  (void)files_.remove(ownFile().toStdString() + kPathEnding);
}

std::vector<Autosave::Left> Autosave::left() const {
  std::vector<Left> out;
  const QFileInfoList found =
      QDir(folder_).entryInfoList({QStringLiteral("unsaved-*.ustick")}, QDir::Files, QDir::Time);
  for (const QFileInfo& info : found) {
    const qint64 process = info.completeBaseName().section(QLatin1Char('-'), 1).toLongLong();
    if (process <= 0 || runs(process)) continue;
    const Result<std::string> path =
        files_.read(info.absoluteFilePath().toStdString() + kPathEnding);
    out.push_back({info.absoluteFilePath(), path ? QString::fromStdString(*path) : QString(),
                   info.lastModified()});
  }
  return out;
}

Status Autosave::restore(const Left& left) {
  const Result<std::string> text = files_.read(left.file.toStdString());
  if (!text) return text.error();
  Result<Song> song = readSong(*text, left.file.toStdString());
  if (!song) return song.error();
  document_.restore(*std::move(song), left.songPath);
  write();  // under our own name, before theirs goes
  discard(left);
  return Done{};
}

void Autosave::discard(const Left& left) {
  (void)files_.remove(left.file.toStdString());
  (void)files_.remove(left.file.toStdString() + kPathEnding);
}

void Autosave::finish() {
  timer_.stop();
  removeOwn();
}

}  // namespace uneven
