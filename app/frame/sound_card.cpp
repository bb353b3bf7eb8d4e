// SPDX-License-Identifier: GPL-3.0-or-later
// The sound card.
#include "app/frame/sound_card.h"

#include <QCheckBox>
#include <QDir>
#include <QFileInfo>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QVBoxLayout>

#include "app/controls/choice_field.h"
#include "app/controls/labels.h"
#include "app/controls/prompts.h"
#include "app/play/play_in.h"
#include "app/play/transport.h"

namespace uneven {
namespace {

constexpr int kSoundWidth = 654;

template <typename Set>
void setIn(Set& set, const typename Set::key_type& key, bool on) {
  if (on) {
    set.insert(key);
  } else {
    set.erase(key);
  }
}

}  // namespace

SoundCard::SoundCard(Transport& transport, PlayIn& playIn, Editing& editing, Prompts& prompts,
                     QWidget* parent)
    : Card(parent),
      transport_(transport),
      playIn_(playIn),
      editing_(editing),
      prompts_(prompts),
      rows_(this, [this](const QString& why) { Q_EMIT refused(why); }, {0, 90, Qt::AlignRight}) {
  setObjectName(QStringLiteral("sound-card"));
  setFixedWidth(kSoundWidth);
  auto* across = new QHBoxLayout(this);
  across->setContentsMargins(16, 12, 16, 14);
  across->setSpacing(22);
  auto* left = new QVBoxLayout;
  left->setSpacing(4);
  down_ = left;
  across->addLayout(left, 2);
  addOutput();
  addClick();
  left->addStretch(1);
  auto* right = new QVBoxLayout;
  right->setSpacing(4);
  down_ = right;
  across->addLayout(right, 3);
  addListening();
  right->addStretch(1);
  connect(&transport_, &Transport::changed, this, &SoundCard::read);
  connect(&editing_.document(), &Document::changed, this, &SoundCard::read);
  fillDevices();
  read();
}

QGridLayout* SoundCard::section(const QString& title) {
  if (down_->count() > 0) down_->addSpacing(10);
  QLabel* label = strongLabel(title, 13, this);
  label->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
  down_->addWidget(label);
  auto* grid = new QGridLayout;
  grid->setHorizontalSpacing(8);
  grid->setVerticalSpacing(3);
  grid->setColumnStretch(0, 1);
  down_->addLayout(grid);
  return grid;
}

void SoundCard::addOutput() {
  QGridLayout* grid = section(tr("Sound"));
  rows_.number(
      grid,
      {tr("Level"), "sound-level",
       tr("How loud all is, in dB below full scale. Start low: loud listening for long harms "
          "hearing")},
      tr("dB"), {Transport::kLevelMin, Transport::kLevelMax, 1, 0, false},
      [this] { return transport_.levelDb(); },
      [this](double v, bool) { transport_.setLevelDb(v); });
  rows_.number(
      grid,
      {tr("Tempo"), "sound-percent",
       tr("How fast it plays, in per cent of the song's tempo, which stays as it is: what leans, "
          "leans as far in proportion")},
      tr("%"), {Transport::kSlowest, Transport::kFastest, 5, 0, false},
      [this] { return transport_.percent(); },
      [this](double v, bool) { transport_.setPercent(v); });
  rows_.number(
      grid, {tr("Count-in"), "sound-count-in", tr("Bars that are counted before it plays, 0 to 2")},
      tr("bars"), {0, 2, 1, 0, false}, [this] { return transport_.countInBars(); },
      [this](double v, bool) { transport_.setCountInBars(static_cast<int>(v)); });
  rows_.check(
      grid,
      {tr("In a room"), "sound-room",
       tr("The house kit stands in a short room, a third of a second; each piece's share is set "
          "beside it")},
      [this] { return transport_.room(); }, [this](bool on) { transport_.setRoom(on); });
  rows_.check(
      grid, {tr("Round and round"), "sound-loop", tr("Begins again at the end of what is played")},
      [this] { return transport_.loops(); }, [this](bool on) { transport_.setLoops(on); });
  rows_.check(
      grid,
      {tr("Strokes sound as they are put"), "sound-by-ear",
       tr("Putting, choosing and nudging a hit plays it")},
      [this] { return transport_.byEar(); }, [this](bool on) { transport_.setByEar(on); });
  device_ = new ChoiceField(Qt::AlignRight, this);
  rows_.add(grid,
            {tr("Output"), "sound-device",
             tr("Where the sound goes: a sound server, or one card by itself")},
            device_);
  connect(device_, &QComboBox::activated, this,
          [this](int i) { transport_.sound().setDriver(device_->itemData(i).toString()); });
  midi_ = new ChoiceField(Qt::AlignRight, this);
  rows_.add(grid,
            {tr("MIDI to"), "sound-midi",
             tr("Where strokes are sent while it plays, through the song's kit map. The simulated "
                "module shows what it hears, and plays it in the program's place")},
            midi_);
  connect(midi_, &QComboBox::activated, this, [this](int i) {
    const QString port = midi_->itemData(i).toString();
    if (const Status set = transport_.sound().setMidiOut(port); !set) {
      Q_EMIT refused(qs(set.error().line()));
      return read();
    }
    if (port == QLatin1String(SoundDesk::kModule)) Q_EMIT monitorWanted();
  });
  from_ = new ChoiceField(Qt::AlignRight, this);
  rows_.add(grid,
            {tr("MIDI from"), "sound-midi-in",
             tr("Pads or keys that put hits at the cursor, or over the loop while it records "
                "(Ctrl+Shift+R), "
                "by the song's kit map")},
            from_);
  connect(from_, &QComboBox::activated, this, [this](int i) {
    const Status set = playIn_.setSource(from_->itemData(i).toString());
    if (!set) Q_EMIT refused(qs(set.error().line()));
    read();
  });
  bank_ = new ChoiceField(Qt::AlignRight, this);
  rows_.add(grid,
            {tr("Sounds"), "sound-bank",
             tr("The house kit, or a sound bank (.sf2, .sf3) played through the song's kit map")},
            bank_);
  connect(bank_, &QComboBox::activated, this, &SoundCard::chooseBank);
}

void SoundCard::addClick() {
  QGridLayout* grid = section(tr("Click"));
  unit_ = new ChoiceField(Qt::AlignRight, this);
  unit_->addItems({tr("Off"), tr("Quarters"), tr("Eighths"), tr("Triplets"), tr("Sixteenths")});
  rows_.add(grid, {tr("Clicks"), "click-unit", tr("What is clicked")}, unit_);
  connect(unit_, &QComboBox::activated, this, [this](int i) {
    ClickPlan click = transport_.click();
    click.unit = static_cast<ClickUnit>(i);
    transport_.setClick(click);
  });
  const auto number = [&](const QString& name, const QString& unit, NumberField::Range range,
                          const char* objectName, const QString& tip, auto member) {
    rows_.number(
        grid, {name, objectName, tip}, unit, range,
        [this, member] { return static_cast<double>(transport_.click().*member); },
        [this, member](double v, bool) {
          ClickPlan click = transport_.click();
          click.*member = static_cast<std::remove_reference_t<decltype(click.*member)>>(v);
          transport_.setClick(click);
        });
  };
  number(tr("Eighths below"), tr("BPM"), {0, kBpmMax, 5, 0, false}, "click-subdivide",
         tr("Below this tempo a click of quarters is cut into eighths: something to hold on to. 0: "
            "never"),
         &ClickPlan::subdivideBelowBpm);
  number(tr("Bars with"), {}, {1, 16, 1, 0, false}, "click-on",
         tr("Gap click: so many bars with the click, then so many without"), &ClickPlan::barsOn);
  number(tr("Bars without"), {}, {0, 16, 1, 0, false}, "click-off",
         tr("Gap click: so many bars without the click; 0: always with it"), &ClickPlan::barsOff);
  number(tr("Its level"), tr("dB"), {-40, 6, 1, 0, true}, "click-level",
         tr("How loud the click is against the kit, in dB"), &ClickPlan::levelDb);
  rows_.check(
      grid,
      {tr("Accent on 1"), "click-accent", tr("The first click of a bar is higher and louder")},
      [this] { return transport_.click().accentOne; },
      [this](bool on) {
        ClickPlan click = transport_.click();
        click.accentOne = on;
        transport_.setClick(click);
      });
}

void SoundCard::addListening() {
  QGridLayout* grid = section(tr("Listen for one thing"));
  const auto heard = [&](const QString& text, const char* objectName, const QString& tip,
                         bool Heard::*member) {
    rows_.check(
        grid, {text, objectName, tip}, [this, member] { return transport_.heard().*member; },
        [this, member](bool on) {
          Heard h = transport_.heard();
          h.*member = on;
          transport_.setHeard(h);
        });
  };
  heard(tr("Straight"), "heard-straight", tr("Straight in place of swung; while F5 is held"),
        &Heard::straight);
  heard(tr("Without drift"), "heard-no-drift",
        tr("As a body that does not waver; while F6 is held"), &Heard::noDrift);
  heard(tr("The next take"), "heard-next-take",
        tr("The drift of the next seed: the same part played once more, to compare. Seeds are set "
           "in Lean"),
        &Heard::nextTake);
  heard(tr("Without displacement"), "heard-no-displacement",
        tr("Nothing early or late: no displacement, slots, nudges; while F7 is held"),
        &Heard::noDisplacement);
  const auto only = [&](const QString& text, const char* objectName, const QString& tip,
                        Role role) {
    rows_.check(
        grid, {text, objectName, tip}, [this, role] { return transport_.listening().only == role; },
        [this, role](bool on) {
          Listening l = transport_.listening();
          l.only = on ? std::optional(role) : std::nullopt;
          transport_.setListening(l);
        });
  };
  only(tr("Only accents"), "only-accents", tr("While F8 is held, too"), Role::kAccent);
  only(tr("Only ghosts"), "only-ghosts", tr("While Shift and F8 are held, too"), Role::kGhost);
  beside_ = new ChoiceField(Qt::AlignRight, this);
  rows_.add(grid,
            {tr("With the feel"), "heard-feel",
             tr("Another feel in place of the groove's own, to compare without a gap")},
            beside_);
  connect(beside_, &QComboBox::activated, this, [this](int i) {
    Heard h = transport_.heard();
    h.feel = beside_->itemData(i).toString().toStdString();
    transport_.setHeard(h);
  });
  pieces_ = section(tr("Who is heard"));
}

void SoundCard::addBox(int row, int column, const QString& name, const QString& what,
                       std::function<bool(const Listening&)> get,
                       std::function<void(Listening&, bool)> set) {
  auto* check = new QCheckBox(this);
  check->setAccessibleName(name + QStringLiteral(", ") + what);
  check->setToolTip(name + QStringLiteral(", ") + what);
  check->setObjectName(what + QLatin1Char('-') + name);
  pieces_->addWidget(check, row, column, Qt::AlignHCenter);
  connect(check, &QCheckBox::toggled, this, [this, set = std::move(set)](bool on) {
    Listening l = transport_.listening();
    set(l, on);
    transport_.setListening(std::move(l));
  });
  pieceReaders_.emplace_back([this, check, get = std::move(get)] {
    const QSignalBlocker quiet(check);
    check->setChecked(get(transport_.listening()));
  });
}

// Level and pan of a piece: the song's own, in place of the house's.
void SoundCard::addMix(int row, PieceId piece, const QString& name) {
  static const int key = Document::newMergeKey();
  const auto add = [&](int column, const QString& unit, NumberField::Range range,
                       const QString& what, const QString& tip, auto get, auto set) {
    auto* field = new NumberField(unit, range, this);
    field->setFixedWidth(58);
    field->setObjectName(what + QLatin1Char('-') + name);
    field->setAccessibleName(name + QStringLiteral(", ") + what);
    field->setToolTip(tip);
    pieces_->addWidget(field, row, column);
    connect(field, &NumberField::edited, this,
            [this, piece, set, name, what](double value, bool stepped) {
              MixSetting mix = editing_.document().song().mixOf(piece);
              set(mix, value);
              editing_.kit().setMix(tr("%1 of %2").arg(what, name), piece, std::move(mix),
                                    {stepped ? key : 0, true});
            });
    connect(field, &NumberField::refused, this, &SoundCard::refused);
    pieceReaders_.emplace_back([this, field, piece, get] {
      field->setValue(get(editing_.document().song().mixOf(piece)));
    });
  };
  add(
      4, tr("dB"), {kMixDbMin, kMixDbMax, 0.5, 1, true}, tr("level"),
      tr("How loud the piece is against the others, in dB; kept in the song"),
      [](const MixSetting& m) { return m.levelDb; },
      [](MixSetting& m, double v) { m.levelDb = v; });
  add(
      5, {}, {-100, 100, 5, 0, true}, tr("pan"),
      tr("How far to a side, as the drummer sits: -100 left, 100 right; kept in the song"),
      [](const MixSetting& m) { return 100 * m.pan; },
      [](MixSetting& m, double v) { m.pan = v / 100; });
  add(
      6, tr("dB"), {kMixDbMin, kMixDbMax, 1, 0, true}, tr("room"),
      tr("The piece's share of the room against the house's, in dB; -60: none; kept in the song"),
      [](const MixSetting& m) { return m.roomDb; }, [](MixSetting& m, double v) { m.roomDb = v; });
}

// A row for each piece that the groove strikes, and for each limb.
void SoundCard::fillPieces() {
  const Document& document = editing_.document();
  const Kit& kit = *document.song().kit;
  std::set<PieceId> struck;
  for (const Hit& hit : document.groove().hits) struck.insert(hit.piece);
  QString wanted = qs(kit.id);
  for (const PieceId piece : struck) wanted += QLatin1Char('\n') + qs(kit[piece].name);
  if (wanted == shownPieces_) return;
  shownPieces_ = wanted;
  pieceReaders_.clear();
  while (QLayoutItem* item = pieces_->takeAt(0)) {
    // Not at once: an edit by a key can come from one of them.
    item->widget()->hide();
    item->widget()->deleteLater();
    delete item;
  }
  int column = 1;
  for (const QString& head :
       {tr("alone"), tr("muted"), tr("click"), tr("level"), tr("pan"), tr("room")}) {
    pieces_->addWidget(quietLabel(head, this), 0, column,
                       column < 4 ? Qt::AlignHCenter : Qt::AlignRight);
    ++column;
  }
  int row = 1;
  for (const PieceId piece : kit.order) {
    if (!struck.contains(piece)) continue;
    const QString name = qs(kit[piece].name);
    auto* label = new QLabel(name, this);
    label->setTextFormat(Qt::PlainText);
    pieces_->addWidget(label, row, 0);
    addBox(
        row, 1, name, tr("alone"), [piece](const Listening& l) { return l.solo.contains(piece); },
        [piece](Listening& l, bool on) { setIn(l.solo, piece, on); });
    addBox(
        row, 2, name, tr("muted"), [piece](const Listening& l) { return l.muted.contains(piece); },
        [piece](Listening& l, bool on) { setIn(l.muted, piece, on); });
    addBox(
        row, 3, name, tr("as a click"),
        [piece](const Listening& l) { return l.asClick.contains(piece); },
        [piece](Listening& l, bool on) { setIn(l.asClick, piece, on); });
    addMix(row, piece, name);
    ++row;
  }
  for (const Limb limb : {Limb::kRightHand, Limb::kLeftHand, Limb::kRightFoot, Limb::kLeftFoot}) {
    const QString name = qs(spokenName(limb));
    pieces_->addWidget(quietLabel(name, this), row, 0);
    addBox(
        row, 1, name, tr("alone"),
        [limb](const Listening& l) { return l.soloLimbs.contains(limb); },
        [limb](Listening& l, bool on) { setIn(l.soloLimbs, limb, on); });
    addBox(
        row, 2, name, tr("muted"),
        [limb](const Listening& l) { return l.mutedLimbs.contains(limb); },
        [limb](Listening& l, bool on) { setIn(l.mutedLimbs, limb, on); });
    ++row;
  }
}

// Devices and ports come and go: those that are there as the card is shown.
void SoundCard::fillDevices() {
  device_->clear();
  device_->addItem(tr("Whatever there is"), QString());
  for (const QString& driver : transport_.sound().drivers()) device_->addItem(driver, driver);
  for (const AudioCard& card : transport_.sound().cards()) {
    device_->addItem(qs(card.name), qs(card.driver));
  }
  device_->addItem(tr("None, silently"), QStringLiteral("silent"));
  midi_->clear();
  midi_->addItem(tr("nowhere"), QString());
  midi_->addItem(tr("simulated module"), QLatin1String(SoundDesk::kModule));
  midi_->addItem(tr("a port of our own"), QLatin1String(SoundDesk::kOwnPort));
  for (const QString& port : transport_.sound().midiPorts()) midi_->addItem(port, port);
  from_->clear();
  from_->addItem(tr("nowhere"), QString());
  from_->addItem(tr("simulated player"), QLatin1String(PlayIn::kSimulated));
  for (const QString& port : playIn_.ports()) from_->addItem(port, port);
  // What is chosen and not there now stays chosen.
  const auto keep = [](ChoiceField* field, const QString& value) {
    if (field->findData(value) < 0) field->addItem(tr("%1 (not there)").arg(value), value);
  };
  keep(device_, transport_.sound().driver());
  keep(midi_, transport_.sound().midiOut());
  keep(from_, playIn_.source());
}

void SoundCard::showEvent(QShowEvent* event) {
  fillDevices();
  read();
  Card::showEvent(event);
}

// The house kit, what lies where the system keeps such files, and any other.
void SoundCard::fillBanks() {
  bank_->clear();
  bank_->addItem(tr("House kit"), QString());
  for (const char* folder :
       {"/usr/share/sounds/sf2", "/usr/share/sounds/sf3", "/usr/share/soundfonts"}) {
    const QDir dir(QString::fromLatin1(folder));
    for (const QFileInfo& file :
         dir.entryInfoList({QStringLiteral("*.sf2"), QStringLiteral("*.sf3")}, QDir::Files)) {
      // Links to others stand there once.
      if (!file.isSymLink()) bank_->addItem(file.completeBaseName(), file.filePath());
    }
  }
  if (bank_->findData(transport_.sound().bank()) < 0) {
    bank_->addItem(QFileInfo(transport_.sound().bank()).fileName(), transport_.sound().bank());
  }
  bank_->setCurrentIndex(bank_->findData(transport_.sound().bank()));
  bank_->addItem(tr("Another…"), QStringLiteral("?"));
}

void SoundCard::chooseBank(int index) {
  QString file = bank_->itemData(index).toString();
  if (file == QStringLiteral("?")) {
    file =
        prompts_.fileToOpen(this, tr("A sound bank"), QString(), tr("Sound banks (*.sf2 *.sf3)"));
    if (file.isEmpty()) return read();
  }
  if (const Status set = transport_.setBank(file); !set) {
    Q_EMIT refused(qs(set.error().line()));
    read();
  }
}

void SoundCard::read() {
  rows_.read();
  unit_->setCurrentIndex(static_cast<int>(transport_.click().unit));
  device_->setCurrentIndex(std::max(0, device_->findData(transport_.sound().driver())));
  fillBanks();
  from_->setCurrentIndex(std::max(0, from_->findData(playIn_.source())));
  midi_->setCurrentIndex(std::max(0, midi_->findData(transport_.sound().midiOut())));
  beside_->clear();
  beside_->addItem(tr("its own"), QString());
  for (const Feel& feel : editing_.document().song().feels)
    beside_->addItem(qs(feel.name), qs(feel.id));
  beside_->setCurrentIndex(std::max(0, beside_->findData(qs(transport_.heard().feel))));
  fillPieces();
  for (const auto& reader : pieceReaders_) reader();
  adjustSize();
}

void SoundCard::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Escape) return hide();
  Card::keyPressEvent(event);
}

}  // namespace uneven
