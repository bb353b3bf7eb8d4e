// SPDX-License-Identifier: GPL-3.0-or-later
// The hit card.
#include "app/strike/hit_card.h"

#include <QGridLayout>
#include <QLabel>
#include <QVBoxLayout>

#include "app/controls/beat_field.h"
#include "app/controls/choice_field.h"
#include "app/controls/labels.h"
#include "app/controls/number_field.h"
#include "app/controls/theme.h"
#include "core/measure/level.h"
#include "core/midi/render.h"
#include "core/perform/displacement.h"
#include "core/song/hit_fields.h"
#include "core/time/count.h"

namespace uneven {
namespace {

constexpr int kShownPpq = 960;

// The value that all share; nothing where they differ.
template <typename Get>
auto common(const std::vector<Hit>& hits, Get get) -> std::optional<decltype(get(hits.front()))> {
  const auto first = get(hits.front());
  for (const Hit& hit : hits) {
    if (!(get(hit) == first)) return std::nullopt;
  }
  return first;
}

}  // namespace

HitCard::HitCard(Editing& editing, QWidget* parent) : Card(parent), editing_(editing) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(18, 14, 16, 12);
  layout->setSpacing(6);
  auto* head = new QHBoxLayout;
  name_ = strongLabel({}, 16, this);
  place_ = quietLabel({}, this);
  head->addWidget(name_, 1);
  head->addWidget(place_);
  layout->addLayout(head);

  auto* hint =
      quietLabel(tr("Click a stick to choose it, or drag over several. What you choose can be "
                    "typed here."),
                 this);
  hint->setWordWrap(true);
  empty_ = hint;
  layout->addWidget(hint);

  layout->addStretch(1);
  connect(&editing_.document(), &Document::changed, this, &HitCard::read);
  connect(&editing_, &Editing::selectionChanged, this, &HitCard::read);
  read();
}

// The fields are made when first something is chosen: the first screen shows none.
void HitCard::buildFields() {
  fields_ = new QWidget(this);
  grid_ = new QGridLayout(fields_);
  grid_->setContentsMargins(0, 4, 0, 0);
  grid_->setHorizontalSpacing(8);
  grid_->setVerticalSpacing(2);
  grid_->setColumnStretch(1, 1);
  rows_.emplace(
      fields_, [this](const QString& why) { Q_EMIT refused(why); }, FieldRows::Look{23, 0, {}});
  position_ = new BeatField({}, fields_);
  position_->setObjectName(QStringLiteral("hit-position"));
  addRow(tr("Written at"), position_,
         tr("Position from the groove's start in quarter notes, exact: 3/4 is the a of 1"));
  connect(position_, &BeatField::edited, this, [this](Beat at) {
    editing_.hits().change(tr("To %1").arg(position_->text()), [at](Hit& h) { h.at = at; });
  });
  buildChoices();
  buildTiming();
  buildFalls();
  grid_->setRowStretch(grid_->rowCount(), 1);
  static_cast<QVBoxLayout*>(layout())->insertWidget(layout()->count() - 1, fields_);
}

void HitCard::addRow(const QString& name, QWidget* field, const QString& tip) {
  rows_->add(grid_, {name, {}, tip}, field);
}

void HitCard::showRow(QWidget* field, bool shown) {
  field->setVisible(shown);
  for (QLabel* label : fields_->findChildren<QLabel*>()) {
    if (label->buddy() == field) label->setVisible(shown);
  }
}

QLabel* HitCard::addReading(const QString& name, const QString& tip) {
  QLabel* value = strongLabel({}, 13, fields_);
  value->setContentsMargins(0, 0, 3, 0);
  value->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
  addRow(name, value, tip);
  value->setMinimumHeight(19);
  return value;
}

void HitCard::buildLoudness() {
  velocity_ = new NumberField({}, {hit_field::kVelocity.min, hit_field::kVelocity.max, 1, 0, false},
                              fields_);
  velocity_->setObjectName(QStringLiteral("hit-velocity"));
  addRow(tr("Velocity"), velocity_,
         tr("How loud it is struck, 1 to 127. Keys: + and −, 1 to 9 and 0"));
  connect(velocity_, &NumberField::edited, this, [this](double v, bool stepped) {
    static const int key = Document::newMergeKey();
    editing_.hits().change(tr("Velocity %1").arg(v),
                           [v](Hit& h) { h.velocity = Velocity(static_cast<int>(v)); },
                           {stepped ? key : 0, true});
  });
  level_ = addReading(tr("Level"), tr("In dB below velocity 127: 40 log(v / 127), the General MIDI "
                                      "curve"));
}

void HitCard::buildTiming() {
  nudge_ = new NumberField(QStringLiteral("ms"),
                           {hit_field::kNudge.min, hit_field::kNudge.max, 1, 1, true}, fields_);
  nudge_->setObjectName(QStringLiteral("hit-nudge"));
  addRow(tr("Nudge"), nudge_,
         tr("Of this hit alone, in ms: + late, − early. Keys: , and . or Ctrl and "
            "drag sideways"));
  connect(nudge_, &NumberField::edited, this, [this](double v, bool stepped) {
    static const int key = Document::newMergeKey();
    editing_.hits().change(tr("Nudge %1").arg(signedMs(Milliseconds(v))),
                           [v](Hit& h) { h.nudge = Milliseconds(v); }, {stepped ? key : 0, true});
  });
  open_ =
      new NumberField(QStringLiteral("%"), {0, 100 * hit_field::kOpen.max, 5, 0, false}, fields_);
  open_->setObjectName(QStringLiteral("hit-open"));
  addRow(tr("Opening"), open_, tr("Of the hats, 0 % pressed shut to 100 % wide. Key: O"));
  connect(open_, &NumberField::edited, this, [this](double v, bool stepped) {
    static const int key = Document::newMergeKey();
    editing_.hits().change(tr("Opening %1 %").arg(v), [v](Hit& h) { h.open = v / 100; },
                           {stepped ? key : 0, true});
  });
  openFor_ = new BeatField({Beat(0), Beat(kLengthMax)}, fields_);
  openFor_->setObjectName(QStringLiteral("hit-open-for"));
  addRow(
      tr("Open for"), openFor_,
      tr("How long the hats stay open, in quarter notes: 1/4 is a sixteenth. Empty: until the next "
         "hat stroke"));
  openFor_->setZeroWords(tr("next stroke"));
  connect(openFor_, &BeatField::edited, this, [this](Beat length) {
    editing_.hits().change(length == Beat(0) ? tr("Open until the next stroke")
                                             : tr("Open for %1").arg(openFor_->text()),
                           [length](Hit& h) { h.openFor = length; });
  });
}

void HitCard::buildChoices() {
  const auto add = [this](const QString& name, const char* objectName, const QString& tip) {
    auto* field = new ChoiceField(Qt::AlignRight, fields_);
    field->setObjectName(QString::fromLatin1(objectName));
    addRow(name, field, tip);
    return field;
  };
  piece_ = add(tr("Piece"), "hit-piece", tr("What is struck"));
  buildLoudness();
  role_ = add(tr("Role"), "hit-role", tr("Keys: A accent, N normal, G ghost"));
  fillWith<Role>(*role_);
  stroke_ = add(tr("Stroke"), "hit-stroke", tr("How the piece is struck"));
  limb_ = add(tr("Limb"), "hit-limb", tr("Which hand or foot; automatic is the piece's usual one"));
  fillWith<Limb>(*limb_);
  ornament_ = add(tr("Ornament"), "hit-ornament",
                  tr("Flam, drag, four-stroke ruff: one, two, three soft strokes 30 ms apart "
                     "before it; diddle: two "
                     "even strokes; buzz and roll fill their length"));
  fillWith<Ornament>(*ornament_);
  buildOrnament();
  connect(piece_, &QComboBox::activated, this, [this](int i) {
    const PieceId piece{static_cast<std::uint8_t>(piece_->itemData(i).toInt())};
    editing_.hits().change(tr("To %1").arg(piece_->itemText(i)),
                           [piece](Hit& h) { h.piece = piece; });
  });
  connect(role_, &QComboBox::activated, this,
          [this] { editing_.hits().setRole(chosen(*role_, Role::kNormal)); });
  const auto onChoice = [this](ChoiceField* field, auto assign) {
    connect(field, &QComboBox::activated, this, [this, field, assign] {
      editing_.hits().change(field->currentText(), [&](Hit& h) { assign(*field, h); });
    });
  };
  onChoice(stroke_, [](ChoiceField& f, Hit& h) { h.stroke = chosen(f, h.stroke); });
  onChoice(limb_, [](ChoiceField& f, Hit& h) { h.limb = chosen(f, h.limb); });
  onChoice(ornament_, [](ChoiceField& f, Hit& h) { h.ornament = chosen(f, h.ornament); });
}

void HitCard::buildOrnament() {
  ornamentGap_ =
      new NumberField(QStringLiteral("ms"), {0, hit_field::kOrnamentGap.max, 1, 0, false}, fields_);
  ornamentGap_->setObjectName(QStringLiteral("hit-ornament-gap"));
  addRow(tr("Its gap"), ornamentGap_,
         tr("Between the ornament's strokes, 5 to 100 ms; 0: its own (flam, drag, ruff 30, buzz "
            "25; a diddle half its slot, a roll in thirty-seconds)"));
  ornamentPercent_ = new NumberField(QStringLiteral("%"),
                                     {0, hit_field::kOrnamentVelocity.max, 5, 0, false}, fields_);
  ornamentPercent_->setObjectName(QStringLiteral("hit-ornament-velocity"));
  addRow(tr("Its velocity"), ornamentPercent_,
         tr("Of the ornament's strokes in percent of the hit's; 0: its own (flam, drag, ruff 45, "
            "diddle 90, buzz 75 of the one before, roll 85)"));
  ornamentFor_ = new BeatField({Beat(0), Beat(kLengthMax)}, fields_);
  ornamentFor_->setObjectName(QStringLiteral("hit-ornament-for"));
  ornamentFor_->setZeroWords(tr("one slot"));
  addRow(tr("Lasts"), ornamentFor_,
         tr("Length of a buzz or roll in quarter notes, as 3/2; empty: one slot"));
  connect(ornamentGap_, &NumberField::edited, this, [this](double v, bool stepped) {
    static const int key = Document::newMergeKey();
    const Milliseconds gap(hit_field::kOrnamentGap.held(v));
    editing_.hits().change(tr("Gap %1").arg(plainMs(gap, 0)),
                           [gap](Hit& h) { h.ornamentGap = gap; }, {stepped ? key : 0, true});
  });
  connect(ornamentPercent_, &NumberField::edited, this, [this](double v, bool stepped) {
    static const int key = Document::newMergeKey();
    editing_.hits().change(tr("Ornament at %1 %").arg(v),
                           [v](Hit& h) { h.ornamentPercent = static_cast<std::uint8_t>(v); },
                           {stepped ? key : 0, true});
  });
  connect(ornamentFor_, &BeatField::edited, this, [this](Beat length) {
    editing_.hits().change(tr("Lasts %1").arg(ornamentFor_->text()),
                           [length](Hit& h) { h.ornamentFor = length; });
  });
}

void HitCard::readOrnament(const std::vector<Hit>& hits) {
  const auto ornament = common(hits, [](const Hit& h) { return h.ornament; });
  const bool any = ornament && *ornament != Ornament::kNone;
  const bool lasts = ornament == Ornament::kBuzz || ornament == Ornament::kRoll;
  showRow(ornamentGap_, any);
  showRow(ornamentPercent_, any);
  showRow(ornamentFor_, lasts);
  ornamentGap_->setValue(common(hits, [](const Hit& h) { return h.ornamentGap.count(); }));
  const auto percent = common(hits, [](const Hit& h) { return h.ornamentPercent; });
  ornamentPercent_->setValue(percent ? std::optional<double>(*percent) : std::nullopt);
  ornamentFor_->setValue(common(hits, [](const Hit& h) { return h.ornamentFor; }));
}

// The kit may have changed: pieces in the player's order.
void HitCard::fillPieces() {
  const Kit& kit = *editing_.document().song().kit;
  if (kit == kitShown_) return;
  kitShown_ = kit;
  piece_->clear();
  for (const PieceId id : kit.order) {
    piece_->addItem(QString::fromStdString(kit[id].name), id.value);
  }
}

// What every chosen piece offers, and what the hits have already.
void HitCard::fillStrokes(const std::vector<Hit>& hits) {
  const Kit& kit = *editing_.document().song().kit;
  std::vector<StrokeKind> kinds;
  for (const Named<StrokeKind>& n : namesOf<StrokeKind>()) {
    const bool offered = std::all_of(hits.begin(), hits.end(), [&](const Hit& h) {
      const auto& strokes = kit[h.piece].strokes;
      return std::find(strokes.begin(), strokes.end(), n.value) != strokes.end();
    });
    const bool had =
        std::any_of(hits.begin(), hits.end(), [&](const Hit& h) { return h.stroke == n.value; });
    if (offered || had) kinds.push_back(n.value);
  }
  if (kinds == strokesShown_) return;
  strokesShown_ = kinds;
  stroke_->clear();
  for (const StrokeKind kind : kinds) stroke_->addItem(qs(spokenName(kind)), qs(textOf(kind)));
}

void HitCard::buildFalls() {
  grid_->setRowMinimumHeight(grid_->rowCount(), 8);
  fallsTitle_ = strongLabel(tr("Where it falls"), 13, fields_);
  grid_->addWidget(fallsTitle_, grid_->rowCount(), 0, 1, 2);
  grid0_ = addReading(tr("Straight"), tr("From the groove's start, in ms, before swing"));
  swung_ = addReading(tr("After swing"), tr("From the groove's start, in ms, after swing"));
  displaced_ = addReading(tr("Displacement"), tr("Of the piece and of who plays it, in ms"));
  slots0_ = addReading(tr("Slot, nudge, drift"),
                       tr("Of this position of the bar, of this hit and of the body, in ms"));
  struck_ = addReading(tr("Struck at"), tr("From the groove's start, in ms"));
  tick_ = addReading(tr("Tick"), tr("From the groove's start, at 960 ticks to a quarter note"));
}

void HitCard::read() {
  std::vector<Hit> hits;
  for (const std::size_t i : indicesOf(editing_.groove(), editing_.selection())) {
    hits.push_back(editing_.groove().hits[i]);
  }
  empty_->setVisible(hits.empty());
  if (!hits.empty() && fields_ == nullptr) buildFields();
  if (fields_ != nullptr) fields_->setVisible(!hits.empty());
  if (hits.empty()) {
    name_->setText(tr("Nothing chosen"));
    place_->clear();
    return;
  }
  const Kit& kit = *editing_.document().song().kit;
  const auto piece = common(hits, [](const Hit& h) { return h.piece; });
  const Meter meter = editing_.groove().meter;
  const std::int64_t bar = hits.front().at.floorDiv(meter.barLength());
  if (hits.size() == 1) {
    name_->setText(QString::fromStdString(kit[*piece].name));
    place_->setText(
        tr("bar %1, %2")
            .arg(bar + 1)
            .arg(QString::fromStdString(
                countName(hits.front().at - Beat(bar) * meter.barLength(), meter).text())));
  } else {
    name_->setText(tr("%1 hits").arg(hits.size()));
    place_->setText(piece ? QString::fromStdString(kit[*piece].name) : tr("several pieces"));
  }
  readFields(hits);
  readFalls(hits);
}

void HitCard::readFields(const std::vector<Hit>& hits) {
  position_->setRange({Beat(0), editing_.groove().length(), false});
  position_->setValue(common(hits, [](const Hit& h) { return h.at; }));
  const auto piece = common(hits, [](const Hit& h) { return h.piece; });
  fillPieces();
  piece_->setCurrentIndex(piece ? piece_->findData(piece->value) : -1);
  const auto velocity = common(hits, [](const Hit& h) { return h.velocity; });
  velocity_->setValue(velocity ? std::optional<double>(velocity->value()) : std::nullopt);
  level_->setText(velocity ? decibels(levelOf(*velocity)) : QStringLiteral("–"));
  const auto show = [&](ChoiceField* field, auto value) {
    if (value) {
      choose(*field, *value);
    } else {
      field->setBlank();
    }
  };
  show(role_, common(hits, [](const Hit& h) { return h.role; }));
  fillStrokes(hits);
  show(stroke_, common(hits, [](const Hit& h) { return h.stroke; }));
  show(limb_, common(hits, [](const Hit& h) { return h.limb; }));
  readOrnament(hits);
  show(ornament_, common(hits, [](const Hit& h) { return h.ornament; }));
  const auto open = common(hits, [](const Hit& h) { return h.open; });
  open_->setValue(open ? std::optional<double>(100 * *open) : std::nullopt);
  const bool hats = piece == piece::kHat;
  showRow(open_, hats);
  showRow(openFor_, hats);
  openFor_->setValue(common(hits, [](const Hit& h) { return h.openFor; }));
  const auto nudge = common(hits, [](const Hit& h) { return h.nudge.count(); });
  nudge_->setValue(nudge);
}

void HitCard::readFalls(const std::vector<Hit>& hits) {
  const Document& document = editing_.document();
  const Stroke* stroke = nullptr;
  if (hits.size() == 1) {
    const auto index = indexOf(document.groove(), *editing_.selection().begin());
    for (const Stroke& s : document.take().performance().strokes) {
      if (index && s.hit == *index && s.part == 0) stroke = &s;
    }
  }
  if (stroke == nullptr) {
    for (QLabel* label : {grid0_, swung_, displaced_, slots0_, struck_, tick_}) {
      label->setText(QStringLiteral("–"));
    }
    return;
  }
  const Hit& hit = hits.front();
  const Beat begin = document.start();
  const Milliseconds start = document.take().score().tempo.msAt(begin);
  const Score& score = document.take().score();
  const Feel& feel = score.feels[score.blocks.front().feel];
  const ShiftParts parts =
      shiftOf(feel, hit, stroke->limb, stroke->at, shareFactor(feel, document.tempo()));
  const Milliseconds displacement = parts.piece + parts.limb;
  const Milliseconds shift = toMilliseconds(stroke->time - stroke->grid);
  const Milliseconds struck = toMilliseconds(stroke->time) - start;
  grid0_->setText(plainMs(document.take().score().tempo.msAt(begin + hit.at) - start));
  swung_->setText(plainMs(toMilliseconds(stroke->grid) - start));
  displaced_->setText(signedMs(displacement));
  slots0_->setText(signedMs(shift - displacement));
  struck_->setText(plainMs(struck));
  const Quarters quarters =
      document.take().score().tempo.quartersAt(toMilliseconds(stroke->time)) - begin;
  tick_->setText(QString::number(roundToInt(quarters.value() * kShownPpq)));
}

}  // namespace uneven
