// SPDX-License-Identifier: GPL-3.0-or-later
// The rehearsal at hand.
#include "app/rehearse/rehearsing.h"

#include <QDateTime>
#include <algorithm>
#include <cmath>

#include "app/controls/labels.h"
#include "core/base/number.h"
#include "core/tools/fill_library.h"

namespace uneven {
namespace {

constexpr int kListenMs = 15;
constexpr double kNoTime = 1;  // s: what was broken off sooner is no time through

std::chrono::steady_clock::time_point steadyNow() {
  return std::chrono::steady_clock::now();
}

// The hits' opening of a stroke by its zone, on the note that plays it.
int noteOf(const KitMap& map, const Kit& kit, const Onset& onset) {
  const KitMapRow* row =
      rowFor(map, kit[onset.piece], StrokeKind::kNormal, HatOpening(onset.opening));
  return row == nullptr ? -1 : row->note;
}

}  // namespace

Rehearsing::Rehearsing(Editing& editing, Transport& transport, PlayIn& playIn, Checker& checker,
                       QString logFile, QObject* parent)
    : QObject(parent),
      editing_(editing),
      transport_(transport),
      playIn_(playIn),
      checker_(checker),
      log_(std::move(logFile), this) {
  settings_.click = *findClick("plain");
  skill_.spread = Milliseconds(7);
  skill_.velocitySpread = 5;
  look_.setInterval(kListenMs);
  look_.setTimerType(Qt::PreciseTimer);
  connect(&look_, &QTimer::timeout, this, &Rehearsing::lookAround);
  connect(&editing_.document(), &Document::changed, this, &Rehearsing::grooveChanged);
  connect(&transport_, &Transport::changed, this, [this] {
    if (!shown_) return;
    const bool runs = ear_.has_value() || (measuring_ && look_.isActive());
    if (transport_.playing() && !runs) began();
    if (!transport_.playing() && runs) ended();
  });
  connect(&checker_, &Checker::looked, this, [this] {
    if (!shown_ || checker_.now() == nullptr || ladderSet_ || transport_.playing()) return;
    if (place_ == RehearsalPlace{}) breakDown();
  });
  connect(&log_, &LogDesk::changed, this, [this] {
    planAhead();
    Q_EMIT changed();
  });
  connect(&log_, &LogDesk::said, this, &Rehearsing::said);
  breakDown();
}

// --- What is practised ---

void Rehearsing::setShown(bool shown) {
  if (shown == shown_) return;
  shown_ = shown;
  if (!shown) {
    if (transport_.playing()) transport_.stop();
    ended();
    measuring_ = false;
    transport_.giveBack();
    playIn_.listen({});
    return;
  }
  const Document& document = editing_.document();
  if (groove() == of_ && songBpm() == songBpm_) {
    // The file may have another name by now.
    log_.setGroove(document.song(), document.path(), groove().id);
  } else {
    grooveChanged();
  }
  playIn_.listen([this](const NoteIn& note) { hear(note); });
  lend();
}

double Rehearsing::songBpm() const {
  return editing_.document().tempo().bpm().value;
}

std::optional<double> Rehearsing::comfortable() const {
  const Looked* looked = checker_.now();
  if (looked == nullptr || !looked->report || looked->of.groove != groove().id) return std::nullopt;
  return comfortableBpm(*looked->report, looked->report->ceiling.comfortable);
}

void Rehearsing::grooveChanged() {
  const Document& document = editing_.document();
  if (!shown_ || (groove() == of_ && songBpm() == songBpm_)) return;
  const bool another = groove().id != of_.id;
  if (transport_.playing() && transport_.lent()) transport_.stop();
  ended();
  of_ = groove();
  songBpm_ = songBpm();
  if (another) {
    ladderSet_ = false;
    place_ = {};
    heard_.reset();
    last_.reset();
  }
  log_.setGroove(document.song(), document.path(), groove().id);
  breakDown();
  planAhead();
  if (shown_) lend();
}

void Rehearsing::breakDown() {
  const Kit& kit = *editing_.document().song().kit;
  const Groove& whole = groove();
  steps_.clear();
  switch (settings_.by) {
    case BrokenDown::kVoice:
    case BrokenDown::kLimb:
    case BrokenDown::kBeat:
    case BrokenDown::kSurface:
      steps_ = stepsOf(whole, kit, static_cast<StepsBy>(settings_.by));
      break;
    case BrokenDown::kHardSpot:
      if (const Looked* looked = checker_.now(); looked != nullptr && looked->report) {
        if (const auto held = heldBackAt(*looked->report)) steps_.push_back(hardSpot(whole, *held));
      }
      break;
    case BrokenDown::kWhole:
      break;
  }
  const bool wholeLast = !steps_.empty() && steps_.back().groove.hits == whole.hits;
  if (!wholeLast) steps_.push_back({"all of it", whole, {}});
  steps_.back().title = "all of it";
  if (!ladderSet_) {
    const double goal = roundedTo(songBpm(), 10);
    ladder_.to = goal;
    ladder_.from = ladderStart(goal, comfortable().value_or(0));
  }
  ladder_.by = settings_.step;
  ladder_.percent = settings_.percent;
  ladder_.up = settings_.up;
  ladder_.down = settings_.down;
  rungs_ = ladder_.rungs();
  place_.step = std::min(place_.step, steps_.size() - 1);
  place_.rung = std::min(place_.rung, rungs_.size() - 1);
  Q_EMIT changed();
}

void Rehearsing::setLadder(double from, double to) {
  // As far as the transport stretches the song.
  const double least = std::max(kBpmMin, songBpm() * Transport::kSlowest / 100);
  const double most = std::min(kBpmMax, songBpm() * Transport::kFastest / 100);
  ladder_.from = std::clamp(from, least, most);
  ladder_.to = std::clamp(to, ladder_.from, most);
  if (to > most || from < least) {
    Q_EMIT refused(tr("The tempos go from %1 to %2 BPM: %3 to %4 % of the song's")
                       .arg(numberText(least, 0), numberText(most, 0))
                       .arg(Transport::kSlowest)
                       .arg(Transport::kFastest));
  }
  ladderSet_ = true;
  const double before = bpm();
  breakDown();
  // The rung that is nearest to where it was.
  std::size_t nearest = 0;
  for (std::size_t i = 0; i < rungs_.size(); ++i) {
    if (std::abs(rungs_[i] - before) < std::abs(rungs_[nearest] - before)) nearest = i;
  }
  goOn({place_.step, nearest, 0, 0, false});
}

RehearsalRules Rehearsing::rules() const {
  return {ladder_, settings_.climb, steps_.size()};
}

Groove Rehearsing::unit(std::size_t step) const {
  const Groove& groove = steps_[step].groove;
  if (settings_.behind == Behind::kNothing) return groove;
  std::optional<Groove> fill;
  if (settings_.behind == Behind::kFill) {
    for (const LibraryFill& one : fillLibrary()) {
      if (one.groove.meter != groove.meter) continue;
      if (!fill || one.groove.id == settings_.fill) fill = one.groove;
    }
  }
  return withFillAfter(groove, fill, settings_.times).groove;
}

Groove Rehearsing::practised() const {
  return unit(place_.step);
}

int Rehearsing::rounds() const {
  if (settings_.behind != Behind::kNothing) return 1;
  const int bars = std::max(1, groove().bars);
  if (settings_.rounds > 0) return std::min(settings_.rounds, kBarsMax / bars);
  return std::max(1, 2 / bars);
}

SharedTake Rehearsing::partOf(const Groove& part) const {
  const Document& document = editing_.document();
  Heard heard;
  heard.groove = SharedValue<Groove>(part);
  heard.bpm = songBpm();
  const Result<SharedTake> take =
      Take::ofGroove(heardAs(document.song(), heard), groove().id, document.at());
  return take ? *take : nullptr;
}

double Rehearsing::rate() const {
  return transport_.percent() / 100;
}

void Rehearsing::lend() {
  if (!shown_) return;
  Transport::Plan plan;
  plan.fromStart = true;
  plan.countIn = settings_.countIn;
  plan.click = transport_.click();
  plan.heard.bpm = songBpm();
  if (measuring_) {
    plan.click.pattern = findClick("plain") == nullptr ? settings_.click : *findClick("plain");
    Groove empty = groove().withoutHits();
    empty.bars = 1;
    plan.heard.groove = SharedValue<Groove>(std::move(empty));
    transport_.lend(std::move(plan));
    return;
  }
  plan.percent = std::clamp(100 * bpm() / songBpm(), Transport::kSlowest, Transport::kFastest);
  plan.click.pattern = at(settings_.click, bpm());
  const Groove one = unit(place_.step);
  const int bars = std::max(1, rounds() * one.bars);
  plan.heard.groove = SharedValue<Groove>(repeated(one, std::max(1, kBarsMax / bars) * bars));
  free_.clear();
  if (settings_.behind == Behind::kFreeBar)
    free_ = withFillAfter(steps_[place_.step].groove, std::nullopt, settings_.times).free;
  transport_.lend(std::move(plan));
}

void Rehearsing::setPlace(const RehearsalPlace& place) {
  place_ = place;
  place_.step = std::min(place_.step, steps_.size() - 1);
  place_.rung = std::min(place_.rung, rungs_.size() - 1);
  lend();
  Q_EMIT changed();
}

void Rehearsing::goOn(RehearsalPlace next) {
  if (ear_ && settings_.runOn) {
    pending_ = next;
    Q_EMIT said(tr("From the next time through: %1, %2 BPM")
                    .arg(qs(steps_[next.step].title), numberText(rungs_[next.rung], 0)));
    Q_EMIT changed();
    return;
  }
  if (ear_) transport_.stop();
  setPlace(next);
}

void Rehearsing::goTo(std::size_t step, std::size_t rung) {
  goOn({std::min(step, steps_.size() - 1), std::min(rung, rungs_.size() - 1), 0, 0, false});
}

void Rehearsing::moveStep(int by) {
  const std::size_t to = stepBy(rules(), place_, by).step;
  // All of it stays the last.
  if (to == place_.step || to + 1 == steps_.size() || place_.step + 1 == steps_.size()) return;
  if (ear_) transport_.stop();
  std::swap(steps_[to], steps_[place_.step]);
  setPlace({to, place_.rung, 0, 0, false});
}

QString Rehearsing::nextText() const {
  if (place_.reached) return tr("The goal is reached: %1 BPM").arg(numberText(bpm(), 0));
  if (pending_)
    return tr("from the next time through: %1, %2 BPM")
        .arg(qs(steps_[pending_->step].title), numberText(rungs_[pending_->rung], 0));
  RehearsalRules sooner = rules();
  sooner.ladder.up = 1;
  RehearsalPlace from = place_;
  from.clean = 0;
  const RehearsalPlace next = placeAfter(sooner, from, true);
  const int left = std::max(1, ladder_.up - place_.clean);
  const QString more = left == 1 ? tr("1 more clean time") : tr("%1 more clean times").arg(left);
  if (next.reached) return tr("%1, and the goal is reached").arg(more);
  const QString what = next.step == place_.step ? tr("%1 BPM").arg(numberText(rungs_[next.rung], 0))
                                                : qs(steps_[next.step].title);
  return tr("%1, then %2").arg(more, what);
}

// --- What is played ---

QString Rehearsing::sourceText() const {
  return listens() ? playIn_.source() : tr("by hand");
}

Milliseconds Rehearsing::latency() const {
  const auto known = latencies_.find(playIn_.source().toStdString());
  return Milliseconds(known == latencies_.end() ? 0 : known->second);
}

std::chrono::sys_days Rehearsing::today() const {
  if (today_) return *today_;
  const QDate date = QDate::currentDate();
  return std::chrono::sys_days(std::chrono::year_month_day(
      std::chrono::year(date.year()), std::chrono::month(static_cast<unsigned>(date.month())),
      std::chrono::day(static_cast<unsigned>(date.day()))));
}

TimeThrough Rehearsing::newTime() const {
  TimeThrough t;
  t.uid = newUid();
  t.begun = QDateTime::currentMSecsSinceEpoch();
  t.day = dateText(today());
  t.step = step().title;
  t.whole = place_.step + 1 == steps_.size();
  t.bpm = songBpm() * rate();
  t.source = sourceText().toStdString();
  return t;
}

void Rehearsing::began() {
  if (!transport_.lent()) return;
  look_.start();
  time_ = -1;
  reader_ = NoteReader();
  if (measuring_) {
    late_.clear();
    return;
  }
  const SharedTake part = partOf(unit(place_.step));
  if (part == nullptr) return;
  ear_.emplace(part, rounds(), free_, rate());
  open_.clear();
  pending_.reset();
  marked_.reset();
  nextPart_ = false;
  if (playIn_.simulates()) simulate(0);
  Q_EMIT changed();
}

void Rehearsing::ended() {
  look_.stop();
  playIn_.endSimulated();
  if (measuring_) {
    measuring_ = false;
    lend();
  }
  if (!ear_) return;
  for (auto& [time, through] : open_) {
    through.seconds =
        static_cast<double>(QDateTime::currentMSecsSinceEpoch() - through.begun) / 1000;
    if (through.seconds < kNoTime) {
      log_.forget(through.uid);
    } else {
      log_.end(through);
    }
  }
  open_.clear();
  ear_.reset();
  if (const auto next = std::exchange(pending_, std::nullopt)) setPlace(*next);
  Q_EMIT changed();
}

void Rehearsing::lookAround() {
  const auto ms = transport_.sinceStart(steadyNow());
  if (!ms) return;
  if (measuring_) {
    if (playIn_.simulates() && time_ < 0) simulate(time_ = 0);
    return;
  }
  if (!ear_) return;
  const int time = ms->count() < 0 ? -1 : ear_->at(*ms);
  while (time_ < time) beginTime(time_ + 1);
  for (Alignment& a : ear_->over(*ms)) {
    timeOver(std::move(a));
    if (!ear_) return;  // it stopped between
  }
  if (std::exchange(heardMore_, false)) heard_ = ear_->soFar(*ms);
  Q_EMIT played();
}

void Rehearsing::beginTime(int time) {
  time_ = time;
  if (const auto next = std::exchange(pending_, std::nullopt)) {
    setPlace(*next);
    nextPart_ = true;
  }
  const TimeThrough through = newTime();
  open_[time] = through;
  log_.begin(through);
  // The first was begun with the count-in.
  if (playIn_.simulates() && time > 0) simulate(time);
  Q_EMIT changed();
}

void Rehearsing::timeOver(Alignment alignment) {
  const int time = ear_->told() - 1;
  const auto found = open_.find(time);
  if (found == open_.end()) return;
  TimeThrough through = std::move(found->second);
  open_.erase(found);
  through.seconds = (ear_->length() / rate()).count() / 1000;
  if (std::exchange(nextPart_, false)) {
    const SharedTake part = partOf(unit(place_.step));
    if (part != nullptr) ear_ = ear_->goOn(part, rate());
  }
  std::optional<bool> clean = std::exchange(marked_, std::nullopt);
  if (listens()) {
    if (!clean) clean = isClean(alignment, settings_.limits);
    through = withScore(std::move(through), alignment, *clean);
    heard_ = std::move(alignment);
    heardMore_ = false;
  } else if (clean) {
    through.result = *clean ? Through::kClean : Through::kNotYet;
  }
  log_.end(through);
  last_ = std::move(through);
  before_ = place_;
  if (clean) judge(*clean, false);
  Q_EMIT changed();
}

void Rehearsing::judge(bool clean, bool byHand) {
  if (byHand && last_) {
    last_->result = clean ? Through::kClean : Through::kNotYet;
    log_.end(*last_);
    // What it had been called for counts no more.
    place_ = before_;
    pending_.reset();
  }
  if (pending_) return;
  const RehearsalPlace next = placeAfter(rules(), place_, clean);
  if (next.step == place_.step && next.rung == place_.rung) {
    if (next.reached && !place_.reached && ear_ && !settings_.runOn) transport_.stop();
    place_ = next;
    if (!ear_) lend();
    Q_EMIT changed();
    return;
  }
  goOn(next);
}

void Rehearsing::run(Command command) {
  RehearsalRules once = rules();
  once.ladder.up = once.ladder.down = 1;
  RehearsalPlace from = place_;
  from.clean = from.unclean = 0;
  switch (command) {
    case RehearseSettings::kClean:
    case RehearseSettings::kNotYet: {
      const bool clean = command == RehearseSettings::kClean;
      // Early in a time through it is the one before that is meant.
      constexpr double kEarly = 1.0 / 3;
      const auto ms = ear_ ? transport_.sinceStart(steadyNow()) : std::nullopt;
      const double in = ms ? *ms / ear_->length() - std::floor(*ms / ear_->length()) : 0;
      if (ear_ && time_ >= 0 && (!last_ || in > kEarly)) {
        marked_ = clean;
        Q_EMIT said(clean ? tr("This time counts as clean") : tr("This time: not yet"));
      } else if (last_ && !last_->uid.empty()) {
        judge(clean, true);
        Q_EMIT said(clean ? tr("The last time counts as clean") : tr("The last time: not yet"));
      } else {
        Q_EMIT refused(tr("Nothing has been played yet: Space begins"));
      }
      return;
    }
    case RehearseSettings::kNext:
      return goOn(placeAfter(once, from, true));
    case RehearseSettings::kBack:
      return goOn(placeAfter(once, from, false));
    case RehearseSettings::kCommands:
      return;
  }
}

void Rehearsing::feels(const QString& what) {
  if (!last_ || last_->uid.empty())
    return Q_EMIT refused(tr("Nothing has been played yet: Space begins"));
  last_->felt = what.toStdString();
  log_.feels(last_->uid, last_->felt);
  Q_EMIT said(what.isEmpty() ? tr("Noted: nothing feels bad") : tr("Noted: %1").arg(what));
}

void Rehearsing::hear(const NoteIn& note) {
  if (!note.controller) {
    const auto pad = std::find(settings_.pads.begin(), settings_.pads.end(), note.note);
    if (pad != settings_.pads.end()) return run(static_cast<Command>(pad - settings_.pads.begin()));
  }
  const std::optional<PlayedStroke> stroke =
      reader_.read(note, transport_.sound().portMap(), *editing_.document().song().kit);
  const auto taken = std::chrono::duration_cast<std::chrono::nanoseconds>(
      measuring_ ? Milliseconds(0) : latency());
  const auto ms = transport_.sinceStart(note.when - taken);
  if (!ms || note.controller) return;
  if (measuring_) return latencyHeard(*ms);
  if (!stroke || !ear_) return;
  Onset onset;
  onset.seconds = ms->count() / 1000;
  onset.piece = stroke->piece;
  onset.velocity = stroke->velocity.value();
  onset.opening = stroke->opening;
  const int time = ear_->hear(onset);
  if (const auto open = open_.find(time); open != open_.end()) {
    const double at = (*ms - time * ear_->length()).count() / rate();
    log_.stroke(open->second.uid, {at, (*editing_.document().song().kit)[onset.piece].id,
                                   stroke->velocity.value(), onset.opening});
  }
  heardMore_ = true;  // told with the next look around: a hail of notes costs one alignment
}

void Rehearsing::simulate(int time) {
  const auto begin = steadyNow();
  const auto here = transport_.sinceStart(begin);
  if (!here && time == 0) {
    // The sound's thread has not begun yet.
    QTimer::singleShot(kListenMs, this, [this] {
      if (ear_ && time_ <= 0 && transport_.playing()) simulate(0);
    });
    return;
  }
  if (!here) return;
  const Kit& kit = *editing_.document().song().kit;
  const KitMap& map = transport_.sound().portMap();
  std::vector<NoteIn> notes;
  const auto put = [&](double ms, const Onset& onset) {
    const int key = noteOf(map, kit, onset);
    const std::chrono::duration<double, std::milli> ahead((ms - here->count()) / rate());
    if (key < 0) return;
    notes.push_back({begin + std::chrono::duration_cast<std::chrono::nanoseconds>(ahead), key,
                     static_cast<int>(std::clamp(onset.velocity, 1.0, 127.0))});
  };
  Skill skill = skill_;
  skill.seed += static_cast<std::uint64_t>(time);
  // Faults are the room's, whatever the tempo.
  skill.spread = skill.spread * rate();
  skill.bias = skill.bias * rate();
  for (auto& [limb, late] : skill.of) late = late * rate();
  if (measuring_) {
    const Groove& of = groove();
    const double unit =
        (editing_.document().tempo().quarter() * of.meter.countUnit().toDouble()).count();
    Onset onset;
    onset.piece = piece::kSnare;
    for (std::size_t i = 1; i <= kLatencyLeast; ++i)
      put(static_cast<double>(i) * unit + skill.bias.count(), onset);
  } else {
    const SharedTake part = partOf(unit(place_.step));
    if (part == nullptr || !ear_) return;
    const double start = time * ear_->length().count();
    for (const Onset& onset : playedBy(*part, skill, rounds()).onsets)
      put(start + onset.seconds * 1000, onset);
  }
  std::sort(notes.begin(), notes.end(),
            [](const NoteIn& a, const NoteIn& b) { return a.when < b.when; });
  playIn_.simulateNotes(std::move(notes));
}

std::optional<Rehearsing::Now> Rehearsing::now() const {
  const auto& head = transport_.playhead();
  if (!ear_ || !head) return std::nullopt;
  Now out;
  out.time = std::max(0, time_);
  out.counting = head->counting;
  const Beat length = groove().length();
  out.at = head->slot - Beat(head->slot.floorDiv(length)) * length;
  return out;
}

void Rehearsing::show(Alignment alignment) {
  last_ = withScore({}, alignment, isClean(alignment, settings_.limits));
  heard_ = std::move(alignment);
  Q_EMIT changed();
}

}  // namespace uneven
