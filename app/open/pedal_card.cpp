// SPDX-License-Identifier: GPL-3.0-or-later
// The card of the pedal.
#include "app/open/pedal_card.h"

#include <QGridLayout>
#include <QLabel>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/controls/beat_field.h"
#include "app/controls/choice_field.h"
#include "app/controls/labels.h"
#include "app/controls/number_field.h"
#include "core/base/number.h"
#include "core/song/slots.h"

namespace uneven {

namespace {

// How long an opening lasts, in the words of the trade.
struct Length {
  const char* name;
  Beat length;
};
const Length kLengths[] = {{QT_TRANSLATE_NOOP("PedalCard", "Bark, a sixteenth"), Beat(1, 4)},
                           {QT_TRANSLATE_NOOP("PedalCard", "An eighth"), Beat(1, 2)},
                           {QT_TRANSLATE_NOOP("PedalCard", "A quarter"), Beat(1)},
                           {QT_TRANSLATE_NOOP("PedalCard", "Until the next stroke"), Beat(0)}};
const Grid kPumpUnits[] = {{4, 0}, {8, 0}, {8, 3}, {16, 0}};

// The next stroke on the hats, by hand or foot; nullptr: none in the groove.
const Hit* nextHat(const Groove& groove, Beat at) {
  for (const Hit& hit : groove.hits) {
    if (hit.at > at && (hit.piece == piece::kHat || hit.piece == piece::kHatFoot)) return &hit;
  }
  return nullptr;
}

}  // namespace

PedalCard::PedalCard(Editing& editing, QWidget* parent)
    : Card(parent),
      editing_(editing),
      rows_(this, [this](const QString& why) { Q_EMIT refused(why); }, {23, 0, {}}) {
  auto* down = new QVBoxLayout(this);
  down->setContentsMargins(16, 14, 14, 12);
  down->setSpacing(4);
  const auto section = [&](const QString& name, void (PedalCard::*build)(QGridLayout*)) {
    QLabel* label = strongLabel(name, 13, this);
    down->addWidget(label);
    auto* grid = new QGridLayout;
    grid->setColumnStretch(1, 1);
    grid->setVerticalSpacing(2);
    (this->*build)(grid);
    down->addLayout(grid);
    down->addSpacing(12);
    return label;
  };
  title_ = section(tr("Opening"), &PedalCard::buildOpening);
  section(tr("Foot"), &PedalCard::buildFoot);
  section(tr("Pump"), &PedalCard::buildPump);
  overridden_ = quietLabel({}, this);
  overridden_->setObjectName(QStringLiteral("pump-overridden"));
  overridden_->setWordWrap(true);
  down->addWidget(overridden_);
  down->addStretch(1);
  auto* hint = quietLabel(tr("Drag the upper edge for how far, its end for when it shuts. Up and "
                             "Down open, Shift and an arrow key moves the end, W walks through "
                             "placements."),
                          this);
  hint->setWordWrap(true);
  down->addWidget(hint);
  connect(&editing_.document(), &Document::changed, this, &PedalCard::read);
  connect(&editing_, &Editing::selectionChanged, this, &PedalCard::read);
  read();
}

void PedalCard::buildOpening(QGridLayout* grid) {
  start_ = new BeatField({}, this);
  rows_.add(grid,
            {tr("Begins at"), "open-start",
             tr("Of a drawn opening: quarter notes from the start of the groove, as 5/4")},
            start_);
  open_ = new NumberField(QStringLiteral("%"), {0, 100, 5, 0, false}, this);
  rows_.add(grid,
            {tr("How far"), "open-amount", tr("0 % pressed shut, 100 % wide. Keys: Up and Down")},
            open_);
  degree_ = new ChoiceField(Qt::AlignRight, this);
  rows_.add(grid,
            {tr("Degree"), "open-degree",
             tr("By the name that the kit map gives it; the map also says where each ends")},
            degree_);
  bark_ = new ChoiceField(Qt::AlignRight, this);
  for (const Length& length : kLengths) bark_->addItem(tr(length.name));
  rows_.add(grid,
            {tr("How long"), "open-length-choice", tr("A bark is shut by the next sixteenth")},
            bark_);
  length_ = new BeatField({Beat(0), Beat(kLengthMax)}, this);
  length_->setZeroWords(tr("next stroke"));
  rows_.add(
      grid,
      {tr("In quarters"), "open-length",
       tr("How long the hats stay open, in quarter notes, as 1/4; empty: until the next stroke")},
      length_);
  shutBy_ = new ChoiceField(Qt::AlignRight, this);
  shutBy_->addItems({tr("The hand"), tr("The foot")});
  rows_.add(
      grid,
      {tr("Next stroke by"), "open-shut-by",
       tr("The stroke that shuts them sounds the same by hand or by foot: exchange one for the "
          "other")},
      shutBy_);
  connect(open_, &NumberField::edited, this, [this](double percent, bool stepped) {
    static const int key = Document::newMergeKey();
    editing_.pedal().openTo(percent / 100, {stepped ? key : 0, true});
  });
  connect(degree_, &QComboBox::activated, this, [this](int i) {
    editing_.pedal().openTo(roundedTo(degrees_[static_cast<std::size_t>(i)].typical(), 100), {});
  });
  connect(bark_, &QComboBox::activated, this, [this](int i) {
    editing_.pedal().openFor(kLengths[static_cast<std::size_t>(i)].length, {});
  });
  connect(length_, &BeatField::edited, this,
          [this](Beat length) { editing_.pedal().openFor(length, {}); });
  connect(start_, &BeatField::edited, this,
          [this](Beat at) { editing_.pedal().startDrawn(at, {}); });
  connect(shutBy_, &QComboBox::activated, this, [this](int i) { exchange(i == 1); });
}

void PedalCard::buildFoot(QGridLayout* grid) {
  technique_ = new ChoiceField(Qt::AlignRight, this);
  fillWith<PedalTechnique>(*technique_);
  rows_.add(
      grid,
      {tr("Technique"), "pedal-technique",
       tr("Heel down: slow and finely controlled, 60 ms for the whole way. Heel up: quick and "
          "coarse, 35 ms. Times are of no one in particular: type your own below")},
      technique_);
  travel_ = new NumberField(QStringLiteral("ms"), {0, kTravelMax.count(), 5, 0, false}, this);
  rows_.add(
      grid,
      {tr("Whole way"), "pedal-travel",
       tr("From wide to shut, 10 to 500 ms: type your own time; 0, or another technique, brings "
          "back the usual one")},
      travel_);
  connect(technique_, &QComboBox::activated, this, [this] {
    editing_.pedal().changePedal(technique_->currentText(), [this](Pedal& pedal) {
      pedal.technique = chosen(*technique_, pedal.technique);
      pedal.travel = Milliseconds(0);
    });
  });
  connect(travel_, &NumberField::edited, this, [this](double ms, bool stepped) {
    static const int key = Document::newMergeKey();
    const Milliseconds travel(ms > 0 ? std::max(ms, kTravelMin.count()) : 0);
    editing_.pedal().changePedal(tr("The whole way in %1").arg(plainMs(travel, 0)),
                                 [travel](Pedal& pedal) { pedal.travel = travel; },
                                 {stepped ? key : 0, true});
  });
}

void PedalCard::buildPump(QGridLayout* grid) {
  pump_ = new ChoiceField(Qt::AlignRight, this);
  pump_->addItems({tr("Still"), tr("On every one"), tr("On the offbeats"), tr("By a cell")});
  rows_.add(grid,
            {tr("The heel"), "pump-kind",
             tr("A foot that keeps pressing: what the hand strikes in between comes out open by "
                "itself")},
            pump_);
  unit_ = new ChoiceField(Qt::AlignRight, this);
  for (const Grid& unit : kPumpUnits) unit_->addItem(QString::fromStdString(unit.toString()));
  rows_.add(grid, {tr("Presses on"), "pump-unit", tr("The slots that are counted")}, unit_);
  cell_ = new FlatEdit(this);
  cell_->setAlignment(Qt::AlignRight);
  cell_->setPlaceholderText(QStringLiteral("x.."));
  rows_.add(grid,
            {tr("Cell"), "pump-cell",
             tr("x pressed, . not, over and over from the bar line: x.. is every third")},
            cell_);
  lift_ = new NumberField(QStringLiteral("%"), {0, 100, 5, 0, false}, this);
  rows_.add(grid, {tr("Lifts to"), "pump-lift", tr("How far the hats open between two presses")},
            lift_);
  connect(pump_, &QComboBox::activated, this, [this](int kind) {
    if (kind == 0) {
      return editing_.pedal().changePedal(tr("The heel is still"),
                                          [](Pedal& p) { p.pump.reset(); });
    }
    changePump(pump_->currentText(), [kind](Pump& pump) {
      pump.phase = kind == 2 ? PumpPhase::kOff : PumpPhase::kOn;
      pump.cell = kind == 3 ? "x.." : "";
    });
  });
  connect(unit_, &QComboBox::activated, this, [this](int i) {
    changePump(tr("Pressed on %1").arg(unit_->currentText()),
               [i](Pump& pump) { pump.unit = kPumpUnits[static_cast<std::size_t>(i)]; });
  });
  connect(cell_, &QLineEdit::editingFinished, this, &PedalCard::takeCell);
  connect(lift_, &NumberField::edited, this, [this](double percent, bool stepped) {
    static const int key = Document::newMergeKey();
    changePump(tr("Lifts to %1 %").arg(percent),
               [percent](Pump& pump) { pump.lift = percent / 100; }, {stepped ? key : 0, true});
  });
}

void PedalCard::changePump(const QString& step, const std::function<void(Pump&)>& change,
                           Merge merge) {
  editing_.pedal().changePedal(
      step,
      [&](Pedal& pedal) {
        if (!pedal.pump) pedal.pump = Pump{{8, 0}, PumpPhase::kOn, "", 0.3, {}};
        change(*pedal.pump);
      },
      merge);
}

// The stroke behind the chosen one, in place of hand or foot.
void PedalCard::exchange(bool toFoot) {
  const auto opening = this->opening();
  const Hit* next = opening ? nextHat(editing_.groove(), opening->at) : nullptr;
  if (next == nullptr || toFoot == (next->piece == piece::kHatFoot)) return;
  const Beat at = next->at;
  editing_.grooves().runTool("hand-and-foot",
                             {{"to_limb", toFoot ? "foot" : "hand"},
                              {"from", at.toString()},
                              {"to", slotAfter(editing_.groove(), at).toString()}});
  editing_.moveCursor(opening->at, piece::kHat);
}

void PedalCard::takeCell() {
  if (!cell_->isModified()) return;
  const std::string typed = cell_->text().trimmed().toStdString();
  const bool good = typed.find('x') != std::string::npos && typed.size() <= kCellMax &&
                    typed.find_first_not_of("x.") == std::string::npos;
  cell_->setWrong(!good);
  if (!good) {
    return Q_EMIT refused(
        tr("%1 is no cell: x and . only, at least one x, as x..").arg(cell_->text()));
  }
  cell_->setModified(false);
  changePump(tr("Cell %1").arg(cell_->text().trimmed()), [&](Pump& pump) { pump.cell = typed; });
}

std::optional<PedalCard::Chosen> PedalCard::opening() const {
  if (const PedalMove* move = editing_.drawnMove()) {
    return Chosen{move->at, move->open, move->length, true};
  }
  for (const std::size_t i : indicesOf(editing_.groove(), editing_.selection())) {
    const Hit& hit = editing_.groove().hits[i];
    if (hit.piece == piece::kHat) return Chosen{hit.at, hit.open, hit.openFor, false};
  }
  return std::nullopt;
}

void PedalCard::read() {
  readOpening();
  const auto& pedal = editing_.groove().pedal;
  choose(*technique_, pedal ? pedal->technique : PedalTechnique::kHeelDown);
  travel_->setValue(travelOf(pedal).count());
  readPump();
}

void PedalCard::readOpening() {
  const auto opening = this->opening();
  for (QWidget* field : {static_cast<QWidget*>(open_), static_cast<QWidget*>(degree_),
                         static_cast<QWidget*>(bark_), static_cast<QWidget*>(length_)}) {
    field->setEnabled(opening.has_value());
  }
  title_->setText(!opening         ? tr("Opening: choose a stroke")
                  : opening->drawn ? tr("Drawn opening on %1").arg(editing_.countAt(opening->at))
                                   : tr("Opening on %1").arg(editing_.countAt(opening->at)));
  start_->setEnabled(opening && opening->drawn);
  start_->setRange({Beat(0), editing_.groove().length(), false});
  start_->setValue(opening ? std::optional(opening->at) : std::nullopt);
  open_->setValue(opening ? std::optional<double>(100 * opening->open) : std::nullopt);
  const Document& document = editing_.document();
  const KitMap& map = document.kitMaps().orDefault(document.song().map);
  if (const auto degrees = hatDegrees(map); degrees != degrees_) {
    degrees_ = degrees;
    degree_->clear();
    for (const HatDegree& d : degrees_) degree_->addItem(QString::fromStdString(d.name));
  }
  const auto within = std::find_if(degrees_.begin(), degrees_.end(), [&](const HatDegree& d) {
    return opening && opening->open <= d.to;
  });
  degree_->setCurrentIndex(within == degrees_.end() ? -1
                                                    : static_cast<int>(within - degrees_.begin()));
  int kind = -1;
  for (int i = 0; opening && i < static_cast<int>(std::size(kLengths)); ++i) {
    if (kLengths[i].length == opening->length) kind = i;
  }
  bark_->setCurrentIndex(kind);
  length_->setValue(opening ? std::optional(opening->length) : std::nullopt);
  const Hit* next = opening && !opening->drawn && opening->open > 0
                        ? nextHat(editing_.groove(), opening->at)
                        : nullptr;
  // What opens the hats again does not shut them.
  const bool shuts = next != nullptr && next->open <= 0;
  shutBy_->setEnabled(shuts);
  shutBy_->setCurrentIndex(!shuts ? -1 : next->piece == piece::kHatFoot ? 1 : 0);
}

void PedalCard::readPump() {
  const auto& pedal = editing_.groove().pedal;
  const Pump* pump = pedal && pedal->pump ? &*pedal->pump : nullptr;
  pump_->setCurrentIndex(pump == nullptr                  ? 0
                         : !pump->cell.empty()            ? 3
                         : pump->phase == PumpPhase::kOff ? 2
                                                          : 1);
  unit_->setEnabled(pump != nullptr);
  cell_->setEnabled(pump != nullptr && !pump->cell.empty());
  lift_->setEnabled(pump != nullptr);
  unit_->setCurrentIndex(
      pump == nullptr ? -1 : unit_->findText(QString::fromStdString(pump->unit.toString())));
  if (!cell_->isModified() || !cell_->hasFocus()) {
    cell_->setText(pump == nullptr ? QString() : QString::fromStdString(pump->cell));
  }
  lift_->setValue(pump == nullptr ? std::nullopt : std::optional<double>(100 * pump->lift));
  const int overridden = editing_.document().take().performance().pedal.pressesOverridden;
  overridden_->setText(
      overridden == 0 ? QString() : tr("Presses that give way to openings: %1").arg(overridden));
}

}  // namespace uneven
