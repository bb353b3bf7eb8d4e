// SPDX-License-Identifier: GPL-3.0-or-later
// The instrument, the device, the port and the pads.
#include "app/play/sound_desk.h"

#include <QFile>
#include <QSettings>
#include <algorithm>
#include <array>

#include "app/controls/labels.h"
#include "sound/midi/ports.h"
#include "sound/synth/load_instrument.h"

namespace uneven {
namespace {

constexpr int kRestMs = 60'000;  // without a sound
constexpr int kDeadLooks = 125;  // two seconds without a pull: the device is gone

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

}  // namespace

Outputs& deviceOutputs() {
  static DeviceOutputs outputs;
  return outputs;
}

SoundDesk::SoundDesk(const Document& document, FileSystem& files, Outputs& outputs, QObject* parent)
    : QObject(parent), document_(document), files_(files), outputs_(outputs) {
  resting_.setInterval(kRestMs);
  resting_.setSingleShot(true);
  connect(&resting_, &QTimer::timeout, this, &SoundDesk::rest);
}

SoundDesk::~SoundDesk() {
  hearPads(nullptr);
  midi_.reset();
  output_.reset();
}

// --- The instrument ---

Result<std::unique_ptr<Instrument>> SoundDesk::instrument(const QString& bank) const {
  return loadInstrument(files_, bank.toStdString());
}

void SoundDesk::take(Result<std::unique_ptr<Instrument>> made) {
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

void SoundDesk::load() {
  if (player_ == nullptr) take(instrument(bank_));
}

void SoundDesk::ready() {
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

bool SoundDesk::readyAtOnce() {
  if (player_ != nullptr) {
    ready();
    return true;
  }
  if (loading_.busy()) return false;
  loading_.ask([&files = files_, bank = bank_.toStdString()](
                   const AsideWork&) { return loadInstrument(files, bank); },
               [this](Result<std::unique_ptr<Instrument>> made) {
                 if (player_ == nullptr) take(std::move(made));
               });
  return false;
}

void SoundDesk::rest() {
  if (pads_ != nullptr || (player_ != nullptr && player_->state().playing)) return resting_.start();
  midi_.reset();
  output_.reset();
}

Status SoundDesk::tryBank(const QString& file) const {
  if (file.isEmpty()) return Done{};
  const Result<std::unique_ptr<Instrument>> tried = instrument(file);
  if (!tried) return tried.error();
  return Done{};
}

void SoundDesk::setBank(const QString& file) {
  loading_.cancel();
  midi_.reset();
  output_.reset();
  if (pads_ != nullptr) pads_->setHeard({});
  player_.reset();
  bank_ = file;
}

// --- The device ---

void SoundDesk::connectOutput() {
  output_.reset();
  looksWithoutPull_ = 0;
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

void SoundDesk::setDriver(const QString& driver) {
  if (driver == driver_) return;
  driver_ = driver;
  saidSilent_ = false;
  if (player_ != nullptr) connectOutput();
  Q_EMIT changed();
}

QStringList SoundDesk::drivers() const {
  QStringList out;
  for (const std::string& driver : outputs_.drivers()) out << qs(driver);
  return out;
}

QString SoundDesk::outputName() const {
  return output_ == nullptr ? QString() : qs(output_->name());
}

void SoundDesk::watch() {
  const std::int64_t pulled = player_->framesPulled();
  looksWithoutPull_ = pulled == pulledBefore_ ? looksWithoutPull_ + 1 : 0;
  pulledBefore_ = pulled;
  if (looksWithoutPull_ > kDeadLooks && output_ != nullptr && !output_->silent()) {
    Q_EMIT said(tr("The sound device %1 is gone: playing silently").arg(outputName()));
    looksWithoutPull_ = 0;
    output_ = std::make_unique<SilentOutput>(*player_);
  }
  if (midi_ == nullptr || !midi_->gone()) return;
  Q_EMIT said(tr("The MIDI port %1 is gone").arg(qs(midi_->name())));
  midi_.reset();
  midiOut_.clear();
  player_->setQueued(false);
  Q_EMIT changed();
}

// --- The port ---

const KitMap& SoundDesk::portMap() const {
  return document_.kitMaps().orDefault(document_.song().map);
}

const KitMap& SoundDesk::map() const {
  return bank_.isEmpty() ? houseSounds() : portMap();
}

const KitMap* SoundDesk::sentMap() {
  // A map with other notes needs another score.
  if (midi_ != nullptr && midiMap_ != portMap().id) (void)connectMidi();
  return midi_ == nullptr ? nullptr : &portMap();
}

Status SoundDesk::connectMidi() {
  midi_.reset();
  player_->setHeardFromPort(midiOut_ == QLatin1String(kModule));
  if (midiOut_.isEmpty()) {
    player_->setQueued(false);
    return Done{};
  }
  const KitMap& ports = portMap();
  std::unique_ptr<MidiSink> sink;
  if (midiOut_ == QLatin1String(kModule)) {
    module_ = std::make_unique<SimulatedModule>(ports, *document_.song().kit, map(), player_.get());
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

Status SoundDesk::setMidiOut(const QString& port) {
  const QString before = std::exchange(midiOut_, port);
  if (port.isEmpty() && player_ == nullptr) return Done{};
  load();
  Status connected = connectMidi();
  if (!connected) {
    midiOut_ = before;
    (void)connectMidi();
  }
  Q_EMIT changed();
  return connected;
}

QStringList SoundDesk::midiPorts() const {
  QStringList out;
  for (const std::string& port : midiOutputs()) out << qs(port);
  return out;
}

// --- Strokes at once ---

// The mix is the house kit's: a bank has its own.
MixSetting SoundDesk::mixOf(PieceId piece) const {
  return bank_.isEmpty() ? document_.song().mixOf(piece) : MixSetting{};
}

bool SoundDesk::strike(const Hit& hit) {
  const Piece& struck = (*document_.song().kit)[hit.piece];
  const KitMapRow* row = rowFor(map(), struck, hit.stroke, hit.open);
  if (row == nullptr) return false;
  const MixSetting mix = mixOf(hit.piece);
  tried_ = {row->note,  hit.velocity.value(),        mix.levelDb, mix.pan, -1,
            mix.roomDb, static_cast<int>(tries_ % 4)};
  if (hit.piece == piece::kHat) tried_.opening = hit.open;
  const KitMapRow* port = rowFor(portMap(), struck, hit.stroke, hit.open);
  triedMidi_ = port == nullptr ? QueuedStrike::kNoNote : static_cast<std::uint8_t>(port->note);
  ++tries_;
  return true;
}

void SoundDesk::fill(Wish& wish) const {
  wish.tries = tries_;
  wish.tried = tried_;
  wish.triedMidi = triedMidi_;
}

void SoundDesk::hearPads(NoteQueue* pads) {
  if (pads_ != nullptr) pads_->setHeard({});
  pads_ = pads;
  if (pads == nullptr) return;
  ready();
  tunePads();
}

// Which sound each note of the port's map is, with its place in the mix: looked up by the thread
// that brings the notes.
void SoundDesk::tunePads() {
  if (pads_ == nullptr || player_ == nullptr) return;
  struct Pads {
    NoteReader reader;
    KitMap ports, sounds;
    Kit kit;
    std::array<MixSetting, 256> mix;
  };
  auto tuned = std::make_shared<Pads>();
  tuned->ports = portMap();
  tuned->sounds = map();
  tuned->kit = *document_.song().kit;
  for (std::size_t i = 0; i < tuned->kit.pieces.size(); ++i) {
    tuned->mix[i] = mixOf(PieceId{static_cast<std::uint8_t>(i)});
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

void SoundDesk::readSettings(const QSettings& settings) {
  bank_ = settings.value(QStringLiteral("sound/bank")).toString();
  driver_ = settings.value(QStringLiteral("sound/driver")).toString();
  midiOut_ = settings.value(QStringLiteral("sound/midi-out")).toString();
}

void SoundDesk::writeSettings(QSettings& settings) const {
  settings.setValue(QStringLiteral("sound/bank"), bank_);
  settings.setValue(QStringLiteral("sound/driver"), driver_);
  settings.setValue(QStringLiteral("sound/midi-out"), midiOut_);
}

}  // namespace uneven
