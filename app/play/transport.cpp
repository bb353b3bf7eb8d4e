// SPDX-License-Identifier: GPL-3.0-or-later
// The transport.
#include "app/play/transport.h"

#include <QFile>
#include <QSettings>
#include <algorithm>
#include <array>
#include <cmath>

#include "app/controls/labels.h"
#include "core/perform/clock.h"
#include "core/song/slots.h"
#include "sound/midi/ports.h"
#include "sound/synth/load_instrument.h"

namespace uneven {
namespace {

constexpr int kFrameMs = 16;
constexpr int kRestMs = 60'000;   // without a sound
constexpr int kDeadFrames = 125;  // two seconds without a pull: the device is gone

class DeviceOutputs final : public Outputs {
 public:
  std::vector<std::string> drivers() override { return audioDrivers(); }
  std::vector<AudioCard> cards() override {
    const auto text = [](const char* name) {
      QFile file(QString::fromLatin1(name));
      return file.open(QFile::ReadOnly) ? file.readAll().toStdString() : std::string();
    };
    return alsaCards(text("/proc/asound/cards"), text("/proc/asound/pcm"));
  }
  Result<std::unique_ptr<AudioOutput>> open(Player& player, const std::string& driver) override {
    return openDevice(player, driver);
  }
};

Moment momentOf(const Take& take, Beat at) {
  return toMoment(take.score().tempo.msAt(at));
}

}  // namespace

Outputs& deviceOutputs() {
  static DeviceOutputs outputs;
  return outputs;
}

Transport::Transport(Editing& editing, FileSystem& files, Outputs& outputs, QObject* parent)
    : QObject(parent), editing_(editing), files_(files), outputs_(outputs) {
  frames_.setInterval(kFrameMs);
  frames_.setTimerType(Qt::PreciseTimer);
  connect(&frames_, &QTimer::timeout, this, &Transport::look);
  connect(&desk_, &GuideDesk::failed, this, &Transport::said);
  connect(&desk_, &GuideDesk::changed, this, [this] {
    if (!desk_.reading()) alone_ ? beginRecording() : remake();
    Q_EMIT changed();
  });
  resting_.setInterval(kRestMs);
  resting_.setSingleShot(true);
  connect(&resting_, &QTimer::timeout, this, &Transport::rest);
  edits_.setInterval(0);
  edits_.setSingleShot(true);
  connect(&edits_, &QTimer::timeout, this, &Transport::remake);
  Document& document = editing_.document();
  connect(&document, &Document::changed, this, &Transport::songChanged);
  connect(&document, &Document::songTaken, this, &Transport::songTaken);
  connect(&document, &Document::replaced, this, &Transport::stop);
}

Transport::~Transport() {
  hearPads(nullptr);
  midi_.reset();
  output_.reset();
}

// --- What plays ---

Result<std::unique_ptr<Instrument>> Transport::instrument(const QString& bank) const {
  return loadInstrument(files_, bank.toStdString());
}

void Transport::take(Result<std::unique_ptr<Instrument>> made) {
  if (!made && !bank_.isEmpty()) {
    Q_EMIT said(tr("%1. The house kit plays in its place").arg(qs(made.error().line())));
    bank_.clear();
    made = instrument({});
  }
  if (!made) {
    Q_EMIT said(tr("No sound: %1").arg(qs(made.error().line())));
    saidSilent_ = true;
    made = std::unique_ptr<Instrument>(std::make_unique<SilentInstrument>());
  }
  player_ = std::make_unique<Player>(*std::move(made));
  tunePads();
}

void Transport::load() {
  if (player_ == nullptr) take(instrument(bank_));
}

void Transport::loadAside() {
  if (loading_.busy()) return;
  loading_.ask([&files = files_, bank = bank_.toStdString()](
                   const AsideWork&) { return loadInstrument(files, bank); },
               [this](Result<std::unique_ptr<Instrument>> made) {
                 if (player_ == nullptr) take(std::move(made));
               });
}

void Transport::connectOutput() {
  output_.reset();
  framesWithoutPull_ = 0;
  const std::string wanted = driver_.toStdString();
  if (wanted != "silent") {
    // A card is named after its driver.
    const std::string kind = wanted.substr(0, wanted.find(':'));
    for (const std::string& driver : outputs_.drivers()) {
      if (!wanted.empty() && driver != kind) continue;
      Result<std::unique_ptr<AudioOutput>> opened =
          outputs_.open(*player_, wanted.empty() ? driver : wanted);
      if (!opened) continue;
      output_ = *std::move(opened);
      return;
    }
  }
  output_ = std::make_unique<SilentOutput>(*player_);
  if (saidSilent_ || wanted == "silent") return;
  saidSilent_ = true;
  Q_EMIT said(wanted.empty() ? tr("No sound device was found: playing silently")
                             : tr("%1 does not answer: playing silently").arg(driver_));
}

void Transport::ready() {
  load();
  resting_.start();
  if (output_ == nullptr) connectOutput();
  if (midi_ == nullptr && !midiOut_.isEmpty()) {
    if (const Status connected = connectMidi(); !connected) {
      Q_EMIT said(tr("No MIDI out: %1").arg(qs(connected.error().line())));
      midiOut_.clear();
    }
  }
}

void Transport::rest() {
  if (playing_ || pads_ != nullptr) return resting_.start();
  midi_.reset();
  output_.reset();
}

const KitMap& Transport::portMap() const {
  const Document& document = editing_.document();
  return document.kitMaps().orDefault(document.song().map);
}

Status Transport::connectMidi() {
  midi_.reset();
  player_->setHeardFromPort(midiOut_ == QLatin1String(kModule));
  if (midiOut_.isEmpty()) {
    player_->setQueued(false);
    return Done{};
  }
  const KitMap& ports = portMap();
  std::unique_ptr<MidiSink> sink;
  if (midiOut_ == QLatin1String(kModule)) {
    module_ = std::make_unique<SimulatedModule>(ports, *editing_.document().song().kit, map(),
                                                player_.get());
    sink = module_->input();
  } else {
    Result<std::unique_ptr<MidiSink>> opened = midiOut_ == QLatin1String(kOwnPort)
                                                   ? openOwnMidiOutput()
                                                   : openMidiOutput(midiOut_.toStdString());
    if (!opened) return opened.error();
    sink = *std::move(opened);
  }
  midiMap_ = ports.id;
  player_->setQueued(true);
  midi_ = std::make_unique<LiveMidi>(*player_, std::move(sink), ports);
  return Done{};
}

Status Transport::setMidiOut(const QString& port) {
  const QString before = std::exchange(midiOut_, port);
  if (port.isEmpty() && player_ == nullptr) return Done{};
  load();
  const Status connected = connectMidi();
  if (!connected) {
    midiOut_ = before;
    (void)connectMidi();
  }
  remake();
  Q_EMIT changed();
  return connected;
}

QStringList Transport::midiPorts() const {
  QStringList out;
  for (const std::string& port : midiOutputs()) out << qs(port);
  return out;
}

const KitMap& Transport::map() const {
  const Document& document = editing_.document();
  return bank_.isEmpty() ? houseSounds() : document.kitMaps().orDefault(document.song().map);
}

bool Transport::playsSong() const {
  return plan_.range == Range::kSection || plan_.range == Range::kSong;
}

SharedTake Transport::takeForRange() {
  const Document& document = editing_.document();
  if (plan_.heard == Heard{}) return playsSong() ? document.songTake() : document.sharedTake();
  const auto make = [song = document.song(), heard = plan_.heard, whole = playsSong(),
                     groove = document.grooveId(), at = document.at()]() -> SharedTake {
    const Result<SharedTake> take = whole ? Take::ofSong(heardAs(song, heard))
                                          : Take::ofGroove(heardAs(song, heard), groove, at);
    return take ? *take : nullptr;
  };
  const Score* score = document.songScore();
  if (!playsSong() || score == nullptr || score->strokes <= Document::kStrokesAtOnce) return make();
  // A long song in another way of listening is performed aside, as the document does it.
  if (differently_.revision == document.revision() && differently_.heard == plan_.heard &&
      (differently_.take != nullptr || performing_.busy()))
    return differently_.take;
  differently_ = {document.revision(), plan_.heard, nullptr};
  performing_.ask([make](const AsideWork&) { return make(); },
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

// The groove at hand where a take has it first, whichever song the take is of; nullptr: nowhere.
const Score::Block* Transport::blockIn(const Take& take) const {
  return editing_.document().blockIn(take.score());
}

// The last slot of a block that has come, by where swing puts it.
Beat Transport::slotAt(const Score& score, const Score::Block& block, Quarters at) {
  const Groove& groove = *block.groove;
  const BlockClock clock(score, static_cast<std::size_t>(&block - score.blocks.data()));
  const Beat bar = groove.meter.barLength();
  const Beat here = Beat(static_cast<int>(std::max(0.0, at.value() / bar.toDouble()))) * bar;
  Beat slot = here;
  for (const Beat next : slotsOf(groove, here, here + bar)) {
    if (clock.line(next) <= at + Quarters(1e-9)) slot = next;
  }
  return slot;
}

// Where the groove at hand begins in a take.
Beat Transport::originOf(const Take& take) const {
  const auto& blocks = take.score().blocks;
  if (blocks.empty()) return 0;
  const Score::Block* block = playsSong() ? blockIn(take) : nullptr;
  return block == nullptr ? blocks.front().start : block->start;
}

std::optional<Span> Transport::loopSpan(const Take& take) const {
  const Groove& groove = editing_.groove();
  const auto& blocks = take.score().blocks;
  if (blocks.empty()) return std::nullopt;
  const Beat origin = originOf(take);
  const auto span = [&](Beat from, Beat to) {
    return Span{momentOf(take, from), momentOf(take, to)};
  };
  switch (plan_.range) {
    case Range::kGroove:
      // What is heard in its place may be longer.
      return span(origin, origin + (plan_.heard.groove ? (*plan_.heard.groove)->length()
                                                       : groove.length()));
    case Range::kBar: {
      const Beat bar = groove.meter.barLength();
      const Beat start = Beat(static_cast<int>(std::floor((editing_.cursorAt().toDouble() + 1e-9) /
                                                          bar.toDouble()))) *
                         bar;
      return span(origin + start, origin + start + bar);
    }
    case Range::kSelection: {
      if (editing_.selection().size() < 2) return span(origin, origin + groove.length());
      const Beat first = editing_.selection().begin()->at;
      const Beat last = editing_.selection().rbegin()->at;
      return span(origin + first,
                  origin + std::min(groove.length(), last + slotLength(groove, last)));
    }
    case Range::kSection: {
      const Score::Block* here = blockIn(take);
      if (here == nullptr) return std::nullopt;
      Beat from = take.score().length, to(0);
      for (const Score::Block& b : blocks) {
        if (b.section != here->section) continue;
        from = std::min(from, b.start);
        to = std::max(to, b.start + b.groove->length());
      }
      return span(from, to);
    }
    case Range::kSong:
      break;
  }
  return Span{Moment(0), momentOf(take, take.score().length)};
}

Moment Transport::startMoment(const Take& take) const {
  if (plan_.fromStart) {
    const std::optional<Span> whole = loopSpan(take);
    return whole ? whole->from : Moment(0);
  }
  const Moment cursor = momentOf(take, originOf(take) + editing_.cursorAt());
  const std::optional<Span> span = loopSpan(take);
  if (plan_.range == Range::kSelection && span) return span->from;
  return span && (cursor < span->from || cursor >= span->to) ? span->from : cursor;
}

void Transport::play() {
  ready();
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
  take_ = std::move(take);
  from_ = startMoment(*take_);
  lead_.clear();
  if (plan_.countIn > 0)
    lead_ = countIn(take_->score(), map(), from_, plan_.countIn, plan_.click.levelDb);
  playing_ = true;
  remake();
  send(true);
  frames_.start();
  look();
  Q_EMIT changed();
}

void Transport::stop() {
  awaited_ = false;
  alone_.reset();
  if (!playing_) return;
  playing_ = false;
  programme_.reset();
  send(false);
  playhead_.reset();
  Q_EMIT moved();
  Q_EMIT changed();
}

// Another take, or other listening: a programme in place of the one that plays.
void Transport::remake() {
  if (!playing_ || alone_) return;
  // A map with other notes needs another score.
  if (midi_ != nullptr && midiMap_ != portMap().id) (void)connectMidi();
  if (const SharedTake take = takeForRange()) take_ = take;  // else until it is there: as before
  const std::optional<Span> span = loopSpan(*take_);
  Listening heard = listening_;
  heard.strokes = heard.strokes && !(guide_.on && guide_.alone && desk_.voice() != nullptr);
  Programme made = programmeOf(*take_, map(), heard, plan_.click, plan_.loop ? span : std::nullopt,
                               midi_ == nullptr ? nullptr : &portMap());
  if (!plan_.loop && span) {
    made.end = span->to;
    std::erase_if(made.events, [&](const SoundEvent& e) { return e.time >= span->to; });
  }
  programme_ = std::make_shared<const Programme>(std::move(made));
  send(false);
}

void Transport::send(bool anew) {
  if (player_ == nullptr) return;
  if (anew) ++starts_;
  Wish wish;
  wish.programme = programme_;
  wish.start = starts_;
  wish.from = from_;
  wish.lead = lead_;
  wish.rate = plan_.percent / 100;
  wish.levelDb = levelDb_;
  wish.tries = tries_;
  wish.tried = tried_;
  wish.room = room_;
  wish.triedMidi = triedMidi_;
  const std::optional<Guide>& audio = editing_.document().song().audio;
  if (alone_ || (guide_.on && audio)) wish.guide = desk_.voice();
  if (!alone_ && audio) wish.guideOffset = toMoment(audio->offset);
  wish.guideDb = guide_.levelDb;
  player_->wish(std::move(wish));
}

void Transport::songChanged() {
  tunePads();
  wantGuide();
  if (playing_) edits_.start();
}

void Transport::hear(const Hit& hit) {
  if (!byEar_ || playing_) return;
  if (player_ == nullptr) return loadAside();
  ready();
  const Kit& kit = *editing_.document().song().kit;
  const KitMapRow* row = rowFor(map(), kit[hit.piece], hit.stroke, hit.open);
  if (row == nullptr) return;
  const MixSetting mix =
      bank_.isEmpty() ? editing_.document().song().mixOf(hit.piece) : MixSetting{};
  tried_ = {row->note,  hit.velocity.value(),        mix.levelDb, mix.pan, -1,
            mix.roomDb, static_cast<int>(tries_ % 4)};
  if (hit.piece == piece::kHat) tried_.opening = hit.open;
  const KitMapRow* port = rowFor(portMap(), kit[hit.piece], hit.stroke, hit.open);
  triedMidi_ = port == nullptr ? QueuedStrike::kNoNote : static_cast<std::uint8_t>(port->note);
  ++tries_;
  send(false);
  Q_EMIT struck();
}

void Transport::hearPads(NoteQueue* pads) {
  if (pads_ != nullptr) pads_->setHeard({});
  pads_ = pads;
  if (pads == nullptr) return;
  ready();
  send(false);
  tunePads();
}

// Which sound each note of the port's map is, with its place in the mix: looked up by the thread
// that brings the notes.
void Transport::tunePads() {
  if (pads_ == nullptr || player_ == nullptr) return;
  struct Pads {
    NoteReader reader;
    KitMap ports, sounds;
    Kit kit;
    std::array<MixSetting, 256> mix;
  };
  auto tuned = std::make_shared<Pads>();
  const Song& song = editing_.document().song();
  tuned->ports = portMap();
  tuned->sounds = map();
  tuned->kit = *song.kit;
  for (std::size_t i = 0; i < song.kit->pieces.size() && bank_.isEmpty(); ++i) {
    const PieceId piece{static_cast<std::uint8_t>(i)};
    tuned->mix[piece.value] = song.mixOf(piece);
  }
  pads_->setHeard([tuned, player = player_.get()](const NoteIn& note) {
    const auto stroke = tuned->reader.read(note, tuned->ports, tuned->kit);
    if (!stroke) return;
    const KitMapRow* row = rowFor(tuned->sounds, tuned->kit[stroke->piece], stroke->stroke,
                                  HatOpening(stroke->opening));
    if (row == nullptr) return;
    const MixSetting& mix = tuned->mix[stroke->piece.value];
    QueuedStrike strike;
    strike.note = static_cast<std::uint8_t>(row->note);
    strike.velocity = static_cast<std::uint8_t>(stroke->velocity.value());
    strike.opening = static_cast<std::uint8_t>(127 * std::clamp(stroke->opening, 0.0, 1.0));
    strike.hats = stroke->piece == piece::kHat || stroke->piece == piece::kHatFoot;
    strike.rings = stroke->piece == piece::kHat && stroke->opening > 0;
    strike.levelDb = static_cast<float>(mix.levelDb);
    strike.pan = static_cast<float>(mix.pan);
    strike.roomDb = static_cast<float>(mix.roomDb);
    player->pads().put(strike);
  });
}

void Transport::look() {
  if (!playing_) {
    frames_.stop();
    if (player_ != nullptr) player_->tidy();
    return;
  }
  const std::int64_t pulled = player_->framesPulled();
  framesWithoutPull_ = pulled == pulledBefore_ ? framesWithoutPull_ + 1 : 0;
  pulledBefore_ = pulled;
  if (framesWithoutPull_ > kDeadFrames && output_ != nullptr && !output_->silent()) {
    Q_EMIT said(tr("The sound device %1 is gone: playing silently").arg(outputName()));
    framesWithoutPull_ = 0;
    output_ = std::make_unique<SilentOutput>(*player_);
  }
  if (midi_ != nullptr && midi_->gone()) {
    Q_EMIT said(tr("The MIDI port %1 is gone").arg(qs(midi_->name())));
    midi_.reset();
    midiOut_.clear();
    player_->setQueued(false);
    Q_EMIT changed();
  }
  const Player::State state = player_->state();
  if (state.start != starts_) return;  // not begun yet
  if (!state.playing) return stop();   // it came to its end
  if (alone_) return Q_EMIT moved();
  const Score& score = take_->score();
  const Quarters now = score.tempo.quartersAt(toMilliseconds(state.position));
  const Score::Block* block = score.blocks.empty() ? nullptr : &score.blocks.front();
  for (const Score::Block& b : score.blocks) {
    if (Quarters(b.start) <= now) block = &b;
  }
  if (block == nullptr) return;
  const Quarters at = now - Quarters(block->start);
  playhead_ = Playhead{block->groove->id, at, slotAt(score, *block, at), state.counting, now};
  Q_EMIT moved();
}

std::optional<Milliseconds> Transport::inGroove(
    std::chrono::steady_clock::time_point moment) const {
  if (!playing_ || alone_ || take_ == nullptr || player_->state().start != starts_)
    return std::nullopt;
  const Moment at = player_->frameClock().at(moment);
  if (at < from_ - toMoment(Milliseconds(100)) && player_->state().rounds == 0) return std::nullopt;
  const Score& score = take_->score();
  // The block that sounds, of this groove; a stroke just before it counts to it.
  for (const Score::Block& b : score.blocks) {
    if (b.groove->id != editing_.document().grooveId()) continue;
    const Moment start = momentOf(*take_, b.start);
    const Moment end = momentOf(*take_, b.start + b.groove->length());
    if (at >= start - toMoment(Milliseconds(100)) && at < end) return toMilliseconds(at - start);
  }
  return std::nullopt;
}

std::optional<Milliseconds> Transport::sinceStart(
    std::chrono::steady_clock::time_point moment) const {
  if (!playing_ || alone_ || take_ == nullptr || player_->state().start != starts_)
    return std::nullopt;
  const Player::FrameClock clock = player_->frameClock();
  const std::optional<Span> loop = loopSpan(*take_);
  const Moment from = loop ? loop->from : Moment(0);
  const Moment length = loop ? loop->to - loop->from : Moment(0);
  return toMilliseconds(clock.at(moment) - from + clock.rounds * length);
}

}  // namespace uneven
