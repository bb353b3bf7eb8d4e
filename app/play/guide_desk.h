// SPDX-License-Identifier: GPL-3.0-or-later
// Recordings that sound beside the part: read aside, one at a time, the newest that is wanted.
#pragma once

#include <QObject>
#include <QString>
#include <memory>

#include "app/controls/aside.h"
#include "sound/file/guide_sound.h"

namespace uneven {

class GuideDesk : public QObject {
  Q_OBJECT
 public:
  explicit GuideDesk(QObject* parent = nullptr);

  // Reads it unless it is there, is being read, or could not be read last time. Empty: none.
  void want(const QString& file);
  const QString& wanted() const { return wanted_; }
  // Of the file that is wanted; nullptr: not there (yet).
  std::shared_ptr<GuideVoice> voice() const { return read_ == wanted_ ? voice_ : nullptr; }
  bool reading() const { return aside_.busy(); }
  // Tries again what could not be read.
  void forget();

 Q_SIGNALS:
  void changed();                   // it is there, or being read
  void failed(const QString& why);  // for the status line

 private:
  using Read = Result<std::shared_ptr<GuideVoice>>;
  void begin();
  void take(const Read& read);

  QString wanted_, reading_, read_, refused_;
  std::shared_ptr<GuideVoice> voice_;
  Aside<Read> aside_;
};

}  // namespace uneven
