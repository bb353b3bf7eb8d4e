// SPDX-License-Identifier: GPL-3.0-or-later
// The practice log aside.
#include "app/rehearse/log_desk.h"

#include <QFileInfo>
#include <QPointer>
#include <QtConcurrent/QtConcurrentRun>
#include <algorithm>

#include "app/controls/labels.h"
#include "core/io/atomic_save.h"

namespace uneven {

struct LogDesk::Kept {
  std::string file;
  std::unique_ptr<PracticeLog> log;
  bool tried = false;
  Song song;
  std::string songFile, groove;
  std::int64_t key = 0;                       // of the groove
  std::map<std::string, std::int64_t> times;  // by uid, of this session
  std::function<void(const QString&, bool bad)> tell;

  // nullptr: it cannot be opened, and that was said.
  PracticeLog* open() {
    if (log != nullptr || tried) return log.get();
    tried = true;
    Result<OpenedLog> opened = PracticeLog::open(file);
    if (!opened) {
      tell(tr("What is practised is not kept: %1").arg(qs(opened.error().line())), true);
      return nullptr;
    }
    if (!opened->told.empty()) tell(qs(opened->told), true);
    log = std::move(opened->log);
    return log.get();
  }
  // A damaged file is set aside when it is opened anew.
  template <typename T>
  bool good(const Result<T>& result) {
    if (result) return true;
    tell(tr("The practice log: %1").arg(qs(result.error().line())), true);
    if (result.error().code == ErrorCode::kSyntax && log != nullptr) {
      log.reset();
      times.clear();
      key = 0;
      tried = false;
    }
    return false;
  }
  std::int64_t grooveKey() {
    PracticeLog* here = open();
    const Groove* of = song.findGroove(groove);
    if (here == nullptr || of == nullptr) return 0;
    if (key == 0) {
      const Result<std::int64_t> found =
          here->groove(loggedGroove(song, songFile, *of),
                       [](const std::string& path) { return QFileInfo::exists(qs(path)); });
      if (good(found)) key = *found;
    }
    return key;
  }
};

LogDesk::LogDesk(QString file, QObject* parent)
    : QObject(parent), file_(std::move(file)), kept_(std::make_shared<Kept>()) {
  thread_.setMaxThreadCount(1);
  kept_->file = file_.toStdString();
  kept_->tell = [desk = QPointer(this)](const QString& what, bool bad) {
    QMetaObject::invokeMethod(
        desk, [desk, what, bad] { Q_EMIT bad ? desk->failed(what) : desk->said(what); },
        Qt::QueuedConnection);
  };
}

LogDesk::~LogDesk() {
  thread_.waitForDone();
}

void LogDesk::ask(std::function<void(Kept&)> work) {
  (void)QtConcurrent::run(&thread_, [kept = kept_, work = std::move(work)] { work(*kept); });
}

void LogDesk::setGroove(const Song& song, const QString& songFile, const std::string& groove) {
  ask([song, file = songFile.toStdString(), groove](Kept& kept) {
    kept.song = song;
    kept.songFile = file;
    kept.groove = groove;
    kept.key = 0;
  });
  readAgain();
}

void LogDesk::readAgain() {
  ++reading_;
  ask([this](Kept& kept) {
    auto made = std::make_shared<LogSummary>();
    if (PracticeLog* log = kept.open(); log != nullptr && kept.grooveKey() != 0) {
      auto times = log->times(kept.key, kTimesMost);
      auto history = historyOf(*log, kept.song, kept.songFile);
      auto minutes = log->minutes();
      if (kept.good(times) && kept.good(history) && kept.good(minutes)) {
        *made = {*std::move(times), {}, *std::move(history), *std::move(minutes)};
        std::copy_if(made->history.begin(), made->history.end(), std::back_inserter(made->days),
                     [&](const PractisedDay& day) { return day.groove == kept.groove; });
      }
    }
    QMetaObject::invokeMethod(
        this,
        [this, made] {
          --reading_;
          summary_ = std::move(*made);
          Q_EMIT changed();
        },
        Qt::QueuedConnection);
  });
}

void LogDesk::begin(const TimeThrough& through) {
  ask([through](Kept& kept) {
    if (kept.grooveKey() == 0) return;
    const Result<std::int64_t> time = kept.log->begin(kept.key, through);
    if (kept.good(time)) kept.times[through.uid] = *time;
  });
}

void LogDesk::ofTime(const std::string& uid,
                     std::function<Status(PracticeLog&, std::int64_t)> work) {
  ask([uid, work = std::move(work)](Kept& kept) {
    const auto time = kept.times.find(uid);
    if (time != kept.times.end() && kept.log != nullptr) kept.good(work(*kept.log, time->second));
  });
}

void LogDesk::stroke(const std::string& uid, const LoggedStroke& stroke) {
  ofTime(uid, [stroke](PracticeLog& log, std::int64_t time) { return log.stroke(time, stroke); });
}

void LogDesk::end(const TimeThrough& through) {
  ofTime(through.uid,
         [through](PracticeLog& log, std::int64_t time) { return log.end(time, through); });
  readAgain();
}

void LogDesk::forget(const std::string& uid) {
  ofTime(uid, [](PracticeLog& log, std::int64_t time) { return log.forget(time); });
  readAgain();
}

void LogDesk::feels(const std::string& uid, const std::string& felt) {
  ofTime(uid, [felt](PracticeLog& log, std::int64_t time) { return log.feels(time, felt); });
  readAgain();
}

void LogDesk::exportTo(const QString& path) {
  ask([path](Kept& kept) {
    PracticeLog* log = kept.open();
    if (log == nullptr) return;
    const auto all = log->all();
    if (!kept.good(all)) return;
    const bool json = path.endsWith(QStringLiteral(".json"), Qt::CaseInsensitive);
    PosixFileSystem files;
    const Status saved =
        saveAtomically(files, path.toStdString(), json ? practiceJson(*all) : practiceCsv(*all));
    kept.tell(saved ? tr("%1 times through are in %2").arg(all->size()).arg(path)
                    : tr("Not written. %1").arg(qs(saved.error().line())),
              !saved);
  });
}

void LogDesk::importFrom(const QString& path) {
  ask([path](Kept& kept) {
    PracticeLog* log = kept.open();
    if (log == nullptr) return;
    PosixFileSystem files;
    const Result<std::string> text = files.read(path.toStdString());
    const Result<std::vector<LoggedTime>> read =
        text ? readPractice(*text, QFileInfo(path).fileName().toStdString()) : text.error();
    if (!read) return kept.tell(tr("Not read. %1").arg(qs(read.error().line())), true);
    const Result<int> came = log->take(*read);
    if (!kept.good(came)) return;
    kept.tell(tr("%1 times through came in; %2 were there already")
                  .arg(*came)
                  .arg(read->size() - static_cast<std::size_t>(*came)),
              false);
  });
  readAgain();
}

}  // namespace uneven
