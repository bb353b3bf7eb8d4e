// SPDX-License-Identifier: GPL-3.0-or-later
// Reads a recording and fits a feel to it, both aside; never tells of another fit than the one that
// is asked for.
#pragma once

#include <QObject>
#include <QString>
#include <QTimer>
#include <memory>
#include <optional>

#include "app/controls/aside.h"
#include "core/match/fit.h"
#include "sound/file/listen.h"

namespace uneven {

class Listener : public QObject {
  Q_OBJECT
 public:
  explicit Listener(FileSystem& files, QObject* parent = nullptr);

  // Reads a file; what was heard before stays until it is there.
  void open(const QString& file);
  void cancel();
  // The take goes, and what is still being read.
  void close();
  bool reading() const { return reader_.busy(); }
  // What was heard already.
  void take(Recording recording);

  const Recording* recording() const { return recording_ ? &*recording_ : nullptr; }
  // As it is wanted; nullptr: being fitted, or no beat.
  const Fit* found() const { return fresh_ && fit_ ? &*fit_ : nullptr; }
  // What the take may mean as well: as it was found before any of it was chosen.
  const std::vector<ReadingTold>& readings() const { return readings_; }
  // One of them is taken: its pulse, meter and swing.
  void takeReading(std::size_t which);
  bool fitting() const { return recording_ && !fresh_; }
  const FitWanted& wanted() const { return wanted_; }
  void setWanted(FitWanted wanted);
  // A stroke or whole bars of the fit is left out, or taken in again.
  void leaveOut(std::size_t onset, bool out);
  void leaveOutBars(std::int64_t from, std::int64_t to, bool out);
  // All but these bars is left out.
  void onlyBars(std::int64_t from, std::int64_t to);
  // To anything asked for, and back to what was found by itself.
  void startOver();

 Q_SIGNALS:
  void changed();
  void progressed(double share);
  void failed(const QString& why);

 private:
  void refit();

  FileSystem& files_;
  std::optional<Recording> recording_;
  FitWanted wanted_;
  std::optional<Fit> fit_;
  std::vector<ReadingTold> readings_;
  std::shared_ptr<KeptFit> kept_;  // of this recording; one fit at a time has it
  bool fresh_ = false, givenUp_ = false;
  QTimer tick_;  // tells how much has been read
  Aside<Result<Recording>> reader_;
  Aside<std::optional<Fit>> fitter_;
};

}  // namespace uneven
