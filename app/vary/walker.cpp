// SPDX-License-Identifier: GPL-3.0-or-later
// Walking aside.
#include "app/vary/walker.h"

#include "app/controls/labels.h"

namespace uneven {
namespace {

constexpr int kWalkLookMs = 60;
constexpr std::size_t kMadeMost = 512;  // variants that are kept, once made

// Whether a walk has to look at every variant before it can be shown.
bool looksAtAll(const Arguments& arguments) {
  const auto is = [&](const char* name, const char* usual) {
    const auto found = arguments.find(name);
    return found == arguments.end() || found->second == usual;
  };
  return !is("order", "own") || !is("only", "any") || !is("together", "0") || !is("changes", "0");
}

// The same song but for what is thought of variants.
bool sameButVerdicts(Song a, const Song& b) {
  if (a.grooves.size() != b.grooves.size()) return false;
  for (std::size_t i = 0; i < a.grooves.size(); ++i) {
    if (a.grooves[i] == b.grooves[i]) continue;
    a.grooves[i].edit([&](Groove& g) { g.walk = b.grooves[i]->walk; });
  }
  return a == b;
}

}  // namespace

Walker::Walker(Editing& editing, Checker& checker, QObject* parent)
    : QObject(parent), editing_(editing), checker_(checker) {
  connect(&editing_.document(), &Document::changed, this, &Walker::songChanged);
  connect(&checker_.players(), &Players::changed, this, [this] {
    stale_ = true;
    of_.reset();
    songChanged();
  });
  look_.setInterval(kWalkLookMs);
  connect(&look_, &QTimer::timeout, this, [this] {
    if (making()) Q_EMIT progressed(maker_.done());
    collect();
  });
}

void Walker::set(const std::string& kind, const Arguments& arguments) {
  if (kind == kind_ && arguments == arguments_ && !stale_) return;
  kind_ = kind;
  arguments_ = arguments;
  stale_ = true;
  if (shown_) begin();
}

void Walker::setShown(bool shown) {
  shown_ = shown;
  if (shown && stale_) begin();
  if (shown && !stale_ && judging_ == nullptr) judge();
  if (!shown) stopJudging();
}

void Walker::songChanged() {
  const Document& document = editing_.document();
  if (of_ && groove_ == document.grooveId() && sameButVerdicts(*of_, document.song())) {
    of_ = document.song();
    return Q_EMIT changed();
  }
  stale_ = true;
  if (shown_) begin();
}

void Walker::begin() {
  stopJudging();
  maker_.cancel();
  const Document& document = editing_.document();
  of_ = document.song();
  groove_ = document.grooveId();
  bpm_ = document.tempo().bpm().value;
  stale_ = false;
  if (!looksAtAll(arguments_))
    return take(makeWalk(kind_, *of_, groove_, arguments_, checker_.profile()));
  walk_.reset();
  problem_.clear();
  maker_.ask(
      [kind = kind_, song = *of_, groove = groove_, arguments = arguments_,
       profile = checker_.profile()](const AsideWork& work) {
        return makeWalk(kind, song, groove, arguments, profile, [&work](double share) {
          work.done = share;
          return !work.cancelled();
        });
      },
      [this](Result<Walk> made) { take(std::move(made)); });
  look_.start();
  Q_EMIT changed();
}

void Walker::take(Result<Walk> made) {
  made_.clear();
  judged_.clear();
  walk_.reset();
  problem_.clear();
  if (made) {
    walk_ = *std::move(made);
  } else {
    problem_ = qs(made.error().message);
  }
  core_ = {};
  if (const Groove* groove = of_->findGroove(groove_)) {
    core_.measures = measure(*groove, *groove, walk_ ? walk_->voice : piece::kKick);
    if (auto ceiling = ceilingOf(*of_, *groove, checker_.profile()))
      core_.ceiling = *std::move(ceiling);
  }
  judge();
  Q_EMIT changed();
}

const Variant& Walker::variant(std::uint64_t index) const {
  const auto found = made_.find(index);
  if (found != made_.end()) return found->second;
  if (made_.size() >= kMadeMost) made_.clear();
  return made_.emplace(index, walk_->at(index)).first->second;
}

const Judged* Walker::judged(std::uint64_t index) const {
  const auto found = judged_.find(index);
  return found == judged_.end() ? nullptr : &found->second;
}

const WalkNote* Walker::verdict(std::uint64_t index) const {
  const Groove* groove = editing_.document().song().findGroove(groove_);
  if (groove == nullptr || groove->walk.empty()) return nullptr;
  // What has been measured need not be made again for its key.
  const Judged* known = judged(index);
  return verdictOf(*groove, known == nullptr ? variant(index).key : known->key);
}

void Walker::want(std::uint64_t from, std::uint64_t to) {
  if (judging_ == nullptr) return;
  judging_->from = from;
  judging_->to = to;
  // What is farther on than is measured by itself.
  if (to > kJudgedMost && !judge_.busy()) judge();
}

void Walker::judge() {
  const std::uint64_t from = judging_ == nullptr ? 0 : judging_->from.load();
  const std::uint64_t to = judging_ == nullptr ? 0 : judging_->to.load();
  stopJudging();
  if (!walk_ || !shown_) return;
  judging_ = std::make_shared<Judging>();
  judging_->from = from;
  judging_->to = to;
  std::vector<bool> known(static_cast<std::size_t>(std::min(walk_->count, kJudgedMost)), false);
  for (const auto& [index, j] : judged_) {
    if (index < known.size()) known[static_cast<std::size_t>(index)] = true;
  }
  auto measureAll = [walk = *walk_, song = *of_, profile = checker_.profile(), job = judging_,
                     known = std::move(known)](const AsideWork& work) mutable {
    const Measurer measurer(*walk.core, walk.voice);
    std::unordered_map<std::uint64_t, bool> far;  // beyond those
    std::uint64_t next = 0;
    const auto isKnown = [&](std::uint64_t i) {
      return i < known.size() ? bool(known[static_cast<std::size_t>(i)]) : far.contains(i);
    };
    while (!work.cancelled()) {
      std::uint64_t index = walk.count;
      for (std::uint64_t i = job->from; i < std::min<std::uint64_t>(job->to, walk.count); ++i) {
        if (isKnown(i)) continue;
        index = i;
        break;
      }
      if (index == walk.count) {
        while (next < known.size() && known[static_cast<std::size_t>(next)]) ++next;
        if (next == known.size()) return true;
        index = next;
      }
      const Variant v = walk.at(index);
      Judged judged;
      judged.key = v.key;
      judged.measures = measurer.of(v.groove);
      if (auto ceiling = ceilingOf(song, v.groove, profile)) judged.ceiling = *std::move(ceiling);
      if (index < known.size()) {
        known[static_cast<std::size_t>(index)] = true;
      } else {
        far[index] = true;
      }
      const std::lock_guard lock(job->mutex);
      job->done.emplace_back(index, std::move(judged));
    }
    return false;
  };
  judge_.ask(std::move(measureAll), [this](bool) { collect(); });
  look_.start();
}

void Walker::stopJudging() {
  if (judging_ == nullptr) return;
  judge_.cancel();
  collect();
  judging_.reset();
}

void Walker::collect() {
  if (judging_ == nullptr) {
    if (!making()) look_.stop();
    return;
  }
  std::vector<std::pair<std::uint64_t, Judged>> done;
  const bool over = !judge_.busy();
  {
    const std::lock_guard lock(judging_->mutex);
    done.swap(judging_->done);
  }
  for (auto& [index, judged] : done) judged_[index] = std::move(judged);
  if (over && !making()) look_.stop();
  if (!done.empty()) Q_EMIT judgedMore();
}

}  // namespace uneven
