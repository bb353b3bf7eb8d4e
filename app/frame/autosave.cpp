// SPDX-License-Identifier: GPL-3.0-or-later
// Autosave.
#include "app/frame/autosave.h"

#include <unistd.h>

#include <QDir>
#include <QFileInfo>

#include "app/edit/document.h"
#include "core/io/atomic_save.h"
#include "core/io/song_json.h"

namespace uneven {
namespace {

constexpr const char* kPathEnding = ".path";
constexpr const char* kLockEnding = ".lock";
constexpr int kNamesTried = 1000;

Status writeBoth(FileSystem& files, const std::string& file, const Song& song,
                 const std::string& path) {
  const Status written = saveAtomically(files, file + kPathEnding, path);
  return written ? saveAtomically(files, file, writeSong(song)) : written;
}

}  // namespace

Autosave::Autosave(Document& document, FileSystem& files, const QString& folder, int delayMs,
                   QObject* parent)
    : QObject(parent), document_(document), files_(files), folder_(folder) {
  thread_.setMaxThreadCount(1);
  timer_.setSingleShot(true);
  timer_.setInterval(delayMs);
  connect(&timer_, &QTimer::timeout, this, &Autosave::write);
  connect(&document_, &Document::changed, this, &Autosave::documentChanged);
  connect(&document_, &Document::fileChanged, this, &Autosave::documentChanged);
}

bool Autosave::claim() {
  if (!own_.isEmpty()) return true;
  QDir().mkpath(folder_);
  for (int i = 1; i <= kNamesTried; ++i) {
    // The number of the process only tells people whose it is; the lock is what counts.
    const QString more = i == 1 ? QString() : QStringLiteral("-%1").arg(i);
    const QString file =
        QStringLiteral("%1/unsaved-%2%3.ustick").arg(folder_).arg(::getpid()).arg(more);
    if (QFileInfo::exists(file)) continue;  // somebody's who runs, or of a crash
    lock_ = files_.tryLock(file.toStdString() + kLockEnding);
    if (!lock_) continue;
    own_ = file;
    return true;
  }
  return false;
}

void Autosave::documentChanged() {
  if (!document_.modified()) {
    timer_.stop();
    if (!writing_.busy()) removeOwn();
  } else if (!timer_.isActive()) {
    timer_.start();
  }
}

void Autosave::write() {
  if (!claim()) {
    return Q_EMIT failed(tr("Your work could not be kept aside: no file can be made in %1")
                             .arg(QDir::toNativeSeparators(folder_)));
  }
  // The song is a value: what is written is what stands here now.
  writing_.ask([&files = files_, file = own_.toStdString(), song = document_.song(),
                path = document_.path().toStdString()](
                   const AsideWork&) { return writeBoth(files, file, song, path); },
               [this](const Status& status) { written(status); });
}

void Autosave::written(const Status& status) {
  if (!document_.modified()) return removeOwn();  // saved or given up meanwhile
  if (!status) {
    Q_EMIT failed(tr("Your work could not be kept aside: %1")
                      .arg(QString::fromStdString(status.error().line())));
  }
}

void Autosave::endWriting() {
  writing_.cancel();
  writing_.wait();
}

Result<QString> Autosave::keepNow() {
  endWriting();
  if (!claim()) {
    return Error{
        ErrorCode::kPermission, "no file can be made", {folder_.toStdString(), 0, 0, std::nullopt}};
  }
  const Status status =
      writeBoth(files_, own_.toStdString(), document_.song(), document_.path().toStdString());
  if (!status) return status.error();
  return own_;
}

void Autosave::removeOwn() {
  if (own_.isEmpty()) return;
  const std::string file = own_.toStdString();
  (void)files_.remove(file);
  (void)files_.remove(file + kPathEnding);
  (void)files_.remove(file + kLockEnding);
  lock_.reset();
  own_.clear();
}

std::vector<Autosave::Left> Autosave::left() const {
  std::vector<Left> out;
  const QFileInfoList found =
      QDir(folder_).entryInfoList({QStringLiteral("unsaved-*.ustick")}, QDir::Files, QDir::Time);
  for (const QFileInfo& info : found) {
    const QString name = info.absoluteFilePath();
    if (!own_.isEmpty() && QFileInfo(own_).absoluteFilePath() == name) continue;
    const std::string file = name.toStdString();
    std::shared_ptr<FileLock> lock = files_.tryLock(file + kLockEnding);
    if (!lock) continue;
    const Result<std::string> path = files_.read(file + kPathEnding);
    out.push_back({name, path ? QString::fromStdString(*path) : QString(), info.lastModified(),
                   std::move(lock)});
  }
  return out;
}

Status Autosave::restore(const Left& left) {
  const Result<std::string> text = files_.read(left.file.toStdString());
  if (!text) return text.error();
  Result<Song> song = readSong(*text, left.file.toStdString());
  if (!song) return song.error();
  endWriting();
  document_.restore(*std::move(song), left.songPath);
  timer_.stop();
  if (const Result<QString> kept = keepNow(); !kept) {
    Error error = kept.error();
    error.message = "brought back, but it cannot be kept aside (" + error.message +
                    "). What was kept before stays where it is; save the song now";
    return error;
  }
  discard(left);
  return Done{};
}

void Autosave::discard(const Left& left) {
  const std::string file = left.file.toStdString();
  (void)files_.remove(file);
  (void)files_.remove(file + kPathEnding);
  (void)files_.remove(file + kLockEnding);
}

void Autosave::finish() {
  timer_.stop();
  endWriting();
  removeOwn();
}

}  // namespace uneven
