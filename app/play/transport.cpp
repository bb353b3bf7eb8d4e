// SPDX-License-Identifier: GPL-3.0-or-later
// The transport.
#include "app/play/transport.h"

#include "app/controls/labels.h"

namespace uneven {
namespace {

constexpr int kFrameMs = 16;

}  // namespace

Transport::Transport(Editing& editing, FileSystem& files, Outputs& outputs, QObject* parent)
    : QObject(parent), editing_(editing), sound_(editing.document(), files, outputs) {
  frames_.setInterval(kFrameMs);
  frames_.setTimerType(Qt::PreciseTimer);
  connect(&frames_, &QTimer::timeout, this, &Transport::look);
  connect(&sound_, &SoundDesk::said, this, &Transport::said);
  connect(&sound_, &SoundDesk::changed, this, [this] {
    remake();
    Q_EMIT changed();
  });
  connect(&desk_, &GuideDesk::failed, this, &Transport::said);
  connect(&desk_, &GuideDesk::changed, this, [this] {
    if (!desk_.reading()) alone_ ? beginRecording() : remake();
    Q_EMIT changed();
  });
  edits_.setInterval(0);
  edits_.setSingleShot(true);
  connect(&edits_, &QTimer::timeout, this, &Transport::remake);
  Document& document = editing_.document();
  connect(&document, &Document::changed, this, &Transport::songChanged);
  connect(&document, &Document::songTaken, this, &Transport::songTaken);
  connect(&document, &Document::replaced, this, &Transport::stop);
}

// --- What plays ---

SharedTake Transport::takeForRange() {
  const Document& document = editing_.document();
  if (plan().heard == Heard{}) return plan().song() ? document.songTake() : document.sharedTake();
  const auto make = [song = document.song(), heard = plan().heard, whole = plan().song(),
                     groove = document.grooveId(),
                     at = document.at()](const std::stop_token& stop) -> SharedTake {
    const Result<SharedTake> take = whole ? Take::ofSong(heardAs(song, heard), stop)
                                          : Take::ofGroove(heardAs(song, heard), groove, at);
    return take ? *take : nullptr;
  };
  const Score* score = document.songScore();
  if (!plan().song() || score == nullptr || score->strokes <= Document::kStrokesAtOnce)
    return make({});
  // A long song in another way of listening is performed aside, as the document does it.
  if (differently_.revision == document.revision() && differently_.heard == plan().heard &&
      (differently_.take != nullptr || performing_.busy()))
    return differently_.take;
  differently_ = {document.revision(), plan().heard, nullptr};
  performing_.ask([make](const AsideWork& work) { return make(work.stop); },
                  [this](SharedTake take) {
                    differently_.take = std::move(take);
                    songTaken();
                  });
  return nullptr;
}

void Transport::songTaken() {
  if (std::exchange(awaited_, false)) return play();
  songChanged();
}

PlayPlace Transport::place() const {
  const Document& document = editing_.document();
  PlayPlace place{&document.groove(), document.at(), editing_.cursorAt(), {}};
  const Selection& selection = editing_.selection();
  if (selection.size() > 1)
    place.selected = std::pair(selection.begin()->at, selection.rbegin()->at);
  return place;
}

PlaySounds Transport::sounds() {
  PlaySounds sounds{sound_.map(), listening_, sound_.sentMap()};
  if (guide_.on && guide_.alone && desk_.voice() != nullptr) sounds.listening.strokes = false;
  return sounds;
}

void Transport::play() {
  sound_.ready();
  SharedTake take = takeForRange();
  if (take == nullptr) {
    const auto& error = editing_.document().songError();
    if (error) stop();
    // A long song is performed aside: it plays once that is done, what plays now until then.
    awaited_ = !error;
    Q_EMIT said(error ? qs(error->line()) : tr("The song is being laid out and plays in a moment"));
    return;
  }
  awaited_ = false;
  alone_.reset();
  session_.play(std::move(take), place(), sounds());
  begun();
  look();
  Q_EMIT changed();
}

void Transport::begun() {
  send();
  frames_.start();
}

void Transport::stop() {
  awaited_ = false;
  alone_.reset();
  if (!playing()) return;
  session_.stop();
  send();
  playhead_.reset();
  Q_EMIT moved();
  Q_EMIT changed();
}

// Another take, or other listening: a programme in place of the one that plays.
void Transport::remake() {
  if (!playing() || alone_) return;
  session_.remake(takeForRange(), place(), sounds());
  send();
}

void Transport::send() {
  Player* player = sound_.player();
  if (player == nullptr) return;
  Wish wish;
  session_.fill(wish);
  sound_.fill(wish);
  wish.levelDb = levelDb_;
  wish.room = room_;
  const std::optional<Guide>& audio = editing_.document().song().audio;
  if (alone_ || (guide_.on && audio)) wish.guide = desk_.voice();
  if (!alone_ && audio) wish.guideOffset = toMoment(audio->offset);
  wish.guideDb = guide_.levelDb;
  player->wish(std::move(wish));
}

void Transport::songChanged() {
  sound_.tunePads();
  wantGuide();
  if (playing()) edits_.start();
}

void Transport::hear(const Hit& hit) {
  if (!byEar_ || playing() || !sound_.readyAtOnce() || !sound_.strike(hit)) return;
  send();
  Q_EMIT struck();
}

void Transport::hearPads(NoteQueue* pads) {
  sound_.hearPads(pads);
  send();
}

// --- Where it is ---

void Transport::look() {
  Player* player = sound_.player();
  if (!playing()) {
    frames_.stop();
    if (player != nullptr) player->tidy();
    return;
  }
  sound_.watch();
  const Player::State state = player->state();
  if (!session_.begun(state)) return;
  if (!state.playing) return stop();  // it came to its end
  if (!alone_) playhead_ = session_.playhead(state);
  Q_EMIT moved();
}

std::optional<Player::FrameClock> Transport::clock() const {
  const Player* player = sound_.player();
  if (player == nullptr) return std::nullopt;
  const Player::FrameClock clock = player->frameClock();
  return session_.begun(clock) ? std::optional(clock) : std::nullopt;
}

std::optional<Milliseconds> Transport::inGroove(Player::Time moment) const {
  const auto now = alone_ ? std::nullopt : clock();
  if (!now) return std::nullopt;
  return session_.inGroove(editing_.document().grooveId(), *now, moment);
}

std::optional<Milliseconds> Transport::sinceStart(Player::Time moment) const {
  const auto now = alone_ ? std::nullopt : clock();
  if (!now) return std::nullopt;
  return session_.sinceStart(*now, moment);
}

}  // namespace uneven
