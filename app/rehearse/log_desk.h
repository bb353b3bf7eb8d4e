// SPDX-License-Identifier: GPL-3.0-or-later
// The practice log as the window has it: everything is written and read in order on a thread of its
// own, so that nothing waits for the disk.
//
// The file is opened when first asked for. Threads: the interface's; the log itself belongs to the
// desk's own thread.
#pragma once

#include <QObject>
#include <QThreadPool>
#include <functional>
#include <memory>

#include "store/practice_log.h"

namespace uneven {

// What there is of the groove at hand, as the log had it last.
struct LogSummary {
  std::vector<TimeThrough> times;                // the latest first
  std::vector<PractisedDay> days;                // of the groove
  std::vector<PractisedDay> history;             // of all grooves of the song
  std::vector<PracticeLog::DayMinutes> minutes;  // of everything
};

class LogDesk : public QObject {
  Q_OBJECT
 public:
  static constexpr int kTimesMost = 2'000;

  LogDesk(QString file, QObject* parent);
  ~LogDesk() override;  // waits until what was played is written

  const QString& file() const { return file_; }
  // The groove whose times are begun and told from here on.
  void setGroove(const Song& song, const QString& songFile, const std::string& groove);
  const LogSummary& summary() const { return summary_; }
  bool reading() const { return reading_ > 0; }

  void begin(const TimeThrough& through);
  // Of one that was begun, by its uid. It may be ended once more, with another result.
  void stroke(const std::string& uid, const LoggedStroke& stroke);
  void end(const TimeThrough& through);
  void forget(const std::string& uid);
  void feels(const std::string& uid, const std::string& felt);

  // All of it to a file, CSV or JSON by its name; from one.
  void exportTo(const QString& path);
  void importFrom(const QString& path);

 Q_SIGNALS:
  void changed();  // the summary
  void said(const QString& what);
  void failed(const QString& why);

 private:
  // What only the desk's thread touches.
  struct Kept;
  void ask(std::function<void(Kept&)> work);
  void ofTime(const std::string& uid, std::function<Status(PracticeLog&, std::int64_t)> work);
  void readAgain();

  QString file_;
  std::shared_ptr<Kept> kept_;
  LogSummary summary_;
  int reading_ = 0;
  QThreadPool thread_;  // one
};

}  // namespace uneven
