// SPDX-License-Identifier: GPL-3.0-or-later
// Looking at a song on a worker.
#include "app/stage/checker.h"

#include "app/controls/labels.h"

namespace uneven {
namespace {

constexpr int kLookRestMs = 400;  // since the last edit, while nobody waits
constexpr int kWays = 4;          // besides one with a foot

void readHands(Looked& out, const Groove& groove) {
  const HandReport& r = *out.report;
  for (std::size_t i = 0; i < r.part.hands.size(); ++i) {
    const Stroke& s = r.take->strokes()[r.part.hands[i].stroke];
    if (s.part == 0 && s.hit < groove.hits.size())
      out.hands[refOf(groove, s.hit)] = r.plan.hands[i];
  }
}

std::shared_ptr<Looked> lookAt(const Song& song, const Looked::Of& of, const KitMap& map,
                               const std::stop_token& stop) {
  const auto& [revision, groove, at, profile] = of;
  auto out = std::make_shared<Looked>();
  out->of = of;
  Result<SharedTake> take = Take::ofSong(song, stop);
  if (!take) take = Take::ofGroove(song, groove, at);
  if (take) out->checked = check(**take, profile, map, stop);
  Result<HandReport> report = handReport(song, groove, profile, std::nullopt, at, stop);
  if (!report) return out;
  out->report = *std::move(report);
  readHands(*out, *song.findGroove(groove));
  out->hard = hardness(*out->report, out->report->strains);
  // A long groove has too many for one look.
  constexpr std::size_t kStrokesMost = 2'000;
  const HandReport& hands = *out->report;
  const Body body(*hands.take->score().kit, profile);
  out->asPlayed = ceilingOf(body, hands.part, hands.plan.hands);
  if (hands.part.hands.size() > kStrokesMost || stop.stop_requested()) return out;
  out->bands = bandsOf(hands, profile);
  out->ways = otherWays(hands, profile, kWays, stop);
  return out;
}

}  // namespace

Checker::Checker(Editing& editing, Players& players, QObject* parent)
    : QObject(parent), editing_(editing), players_(players) {
  soon_.setSingleShot(true);
  connect(&soon_, &QTimer::timeout, this, &Checker::look);
  connect(&editing_.document(), &Document::changed, this, &Checker::songChanged);
  connect(&players_, &Players::changed, this, &Checker::songChanged);
}

void Checker::begin() {
  if (begun_) return;
  begun_ = true;
  look();
}

void Checker::setWaitedFor(bool waited) {
  waited_ = waited;
  if (!waited) return;
  begun_ = true;
  look();
}

const Profile& Checker::profile() const {
  return players_.orDefault(editing_.document().song().check.profile);
}

Looked::Of Checker::shown() const {
  const Document& document = editing_.document();
  return {document.revision(), document.grooveId(), document.at(), profile()};
}

const Looked* Checker::now() const {
  return last_ != nullptr && last_->of == shown() ? last_.get() : nullptr;
}

void Checker::songChanged() {
  if (!begun_) return;
  if (now() == nullptr) {
    if (asked_ != shown()) looking_.stop();  // of what is no longer shown
    Q_EMIT looked();
  }
  soon_.start(waited_ ? 0 : kLookRestMs);
}

void Checker::look() {
  if (!begun_ || looking_.busy() || now() != nullptr) return;
  asked_ = shown();
  const Song& song = editing_.document().song();
  // What was found in a long song takes as long to let go as five frames: aside too.
  looking_.ask(
      [old = std::move(last_), song, of = asked_,
       map = editing_.document().kitMaps().orDefault(song.map)](const AsideWork& work) mutable {
        old.reset();
        std::shared_ptr<Looked> out = lookAt(song, of, map, work.stop);
        return work.cancelled() ? nullptr : out;
      },
      [this](std::shared_ptr<Looked> out) {
        last_ = std::move(out);
        if (now() != nullptr) return Q_EMIT looked();
        if (!soon_.isActive()) look();  // the song is another by now
      });
}

}  // namespace uneven
