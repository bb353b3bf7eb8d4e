// SPDX-License-Identifier: GPL-3.0-or-later
// Recordings that sound beside the part: read aside, one at a time, the newest that is wanted.
#pragma once

#include <QFutureWatcher>
#include <QObject>
#include <atomic>
#include <memory>

#include "sound/file/guide_sound.h"

namespace uneven {

class GuideDesk : public QObject {
  Q_OBJECT
 public:
  explicit GuideDesk(QObject* parent = nullptr);
  ~GuideDesk() override;

  // Reads it unless it is there, is being read, or could not be read last time. Empty: none.
  void want(const QString& file);
  const QString& wanted() const { return wanted_; }
  // Of the file that is wanted; nullptr: not there (yet).
  std::shared_ptr<GuideVoice> voice() const { return read_ == wanted_ ? voice_ : nullptr; }
  bool reading() const { return reading_ != nullptr; }
  // Tries again what could not be read.
  void forget();

 Q_SIGNALS:
  void changed();                   // it is there, or being read
  void failed(const QString& why);  // for the status line

 private:
  struct Reading {
    QString file;
    std::atomic<bool> cancelled{false};
  };
  using Read = std::shared_ptr<Result<std::shared_ptr<GuideVoice>>>;
  void begin();
  void done();

  QString wanted_, read_, refused_;
  std::shared_ptr<GuideVoice> voice_;
  std::shared_ptr<Reading> reading_;
  QFutureWatcher<Read> watcher_;
};

}  // namespace uneven
