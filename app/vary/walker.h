// SPDX-License-Identifier: GPL-3.0-or-later
// The walk that is shown: made of the groove at hand, its variants measured aside, those on the
// screen first. Never tells of another groove than the one shown.
#pragma once

#include <QObject>
#include <QTimer>
#include <atomic>
#include <memory>
#include <mutex>
#include <unordered_map>

#include "app/controls/aside.h"
#include "app/stage/checker.h"
#include "core/vary/measures.h"
#include "core/vary/walks.h"

namespace uneven {

struct Judged {
  std::string key;  // of the variant
  Measures measures;
  VariantCeiling ceiling;
};

class Walker : public QObject {
  Q_OBJECT
 public:
  // So many are measured without being looked at.
  static constexpr std::uint64_t kJudgedMost = 20'000;

  Walker(Editing& editing, Checker& checker, QObject* parent = nullptr);

  // Begins it; aside where it has to look at every variant.
  void set(const std::string& kind, const Arguments& arguments);
  // Nothing is made before the stage is shown.
  void setShown(bool shown);
  const Walk* walk() const { return walk_ ? &*walk_ : nullptr; }
  bool making() const { return maker_.busy(); }
  const QString& problem() const { return problem_; }
  std::uint64_t count() const { return walk_ ? walk_->count : 0; }
  const Variant& variant(std::uint64_t index) const;
  const Judged* judged(std::uint64_t index) const;
  std::size_t judgedCount() const { return judged_.size(); }
  const Judged& core() const { return core_; }  // the groove itself
  const WalkNote* verdict(std::uint64_t index) const;
  // What is on the screen.
  void want(std::uint64_t from, std::uint64_t to);
  double bpm() const { return bpm_; }

 Q_SIGNALS:
  void changed();     // another walk, or its problem
  void judgedMore();  // some have been measured
  void progressed(double share);

 private:
  struct Judging {
    std::atomic<std::uint64_t> from{0}, to{0};
    std::mutex mutex;
    std::vector<std::pair<std::uint64_t, Judged>> done;
  };

  void songChanged();
  void begin();
  void take(Result<Walk> made);
  void judge();
  void collect();
  void stopJudging();

  Editing& editing_;
  Checker& checker_;
  std::string kind_ = "placement";
  Arguments arguments_;
  bool shown_ = false, stale_ = true;
  std::optional<Song> of_;  // what the walk was made of
  std::string groove_;
  std::optional<Walk> walk_;
  QString problem_;
  double bpm_ = 120;
  Judged core_;
  mutable std::unordered_map<std::uint64_t, Variant> made_;
  std::unordered_map<std::uint64_t, Judged> judged_;
  std::shared_ptr<Judging> judging_;
  QTimer look_;
  Aside<Result<Walk>> maker_;
  Aside<bool> judge_;  // true: all of them are measured
};

}  // namespace uneven
