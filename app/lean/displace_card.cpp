// SPDX-License-Identifier: GPL-3.0-or-later
// The card of displacement.
#include "app/lean/displace_card.h"

#include <QGridLayout>
#include <QLabel>
#include <QVBoxLayout>

#include "app/controls/action_button.h"
#include "app/controls/choice_field.h"
#include "app/controls/labels.h"
#include "core/measure/pull_together.h"
#include "core/measure/timing_table.h"
#include "core/measure/unison.h"
#include "core/song/names.h"

namespace uneven {
namespace {

const NumberField::Range kShift{-kShiftMax.count(), kShiftMax.count(), 1, 1, true};

template <typename Key>
std::optional<double> msOf(const std::map<Key, Milliseconds>& values, Key key) {
  const auto found = values.find(key);
  return found == values.end() ? 0 : found->second.count();
}

Milliseconds slotOf(const Feel& feel, Beat at, std::optional<PieceId> piece) {
  Milliseconds sum{0};
  for (const Slot& slot : feel.slots) {
    if (slot.at == at && slot.piece == piece) sum += slot.shift;
  }
  return sum;
}

}  // namespace

DisplaceCard::DisplaceCard(Editing& editing, QWidget* parent) : FeelCard(editing, parent) {
  build();
  connect(&editing_, &Editing::selectionChanged, this, [this] {
    if (isVisible()) readChosen();
  });
  connect(&editing_, &Editing::cursorMoved, this, [this] {
    if (isVisible()) readChosen();
  });
}

void DisplaceCard::build() {
  clear();
  shown_ = struckPieces();
  QGridLayout* grid = section(tr("Late and early"));
  for (const PieceId piece : shown_) {
    const Piece& p = (*document().song().kit)[piece];
    addNumber(
        grid, qs(p.name), QStringLiteral("ms"), kShift, QStringLiteral("lean-displace-") + qs(p.id),
        tr("How far this piece lies behind (+) or ahead (\u2212) of the grid, in ms. Or drag "
           "its name in the map"),
        [=](const Feel& f) { return msOf(f.displacement, piece); },
        [=](Feel& f, double v) { setDisplacement(f, piece, Milliseconds(v)); });
  }
  for (const Limb limb : limbs()) {
    addNumber(
        grid, qs(spokenName(limb)), QStringLiteral("ms"), kShift,
        QStringLiteral("lean-displace-") + qs(textOf(limb)),
        tr("What this limb adds to all it plays, in ms"),
        [=](const Feel& f) { return msOf(f.limbDisplacement, limb); },
        [=](Feel& f, double v) { setDisplacement(f, limb, Milliseconds(v)); });
  }
  keep_ = new ChoiceField(Qt::AlignRight, this);
  keep_->addItems({tr("its milliseconds"), tr("its share of the beat")});
  addRow(grid, tr("Keeps"), keep_, QStringLiteral("lean-keep"),
         tr("What piece, limb and slot keep where the tempo is another; nudges keep their ms"));
  connect(keep_, &QComboBox::activated, this, [this](int i) { setKeep(i == 1); });
  units_ = addText(QStringLiteral("lean-units"));
  grid = section(tr("Here"));
  chosen_ = addText(QStringLiteral("lean-chosen"));
  grid = section({});
  const auto inBar = [this] {
    const Beat bar = document().groove().meter.barLength();
    return editing_.cursorAt() - Beat(editing_.cursorAt().floorDiv(bar)) * bar;
  };
  slot_ = addNumber(
      grid, tr("This slot"), QStringLiteral("ms"), kShift, QStringLiteral("lean-slot"),
      tr("What this position of the bar adds for every piece, in ms"),
      [=](const Feel& f) { return std::optional(slotOf(f, inBar(), std::nullopt).count()); },
      [=](Feel& f, double v) { setSlot(f, inBar(), std::nullopt, Milliseconds(v)); });
  pieceSlot_ = addNumber(
      grid, tr("For this piece"), QStringLiteral("ms"), kShift, QStringLiteral("lean-piece-slot"),
      tr("What this position of the bar adds for the chosen piece alone, in ms"),
      [=, this](const Feel& f) {
        return std::optional(slotOf(f, inBar(), editing_.cursorPiece()).count());
      },
      [=, this](Feel& f, double v) {
        setSlot(f, inBar(), editing_.cursorPiece(), Milliseconds(v));
      });
  grid = section(tr("Limits"));
  for (const Named<Role>& role : namesOf<Role>()) {
    if (role.value == Role::kGrace) continue;
    const Role value = role.value;
    NumberField* field = addNumber(
        grid, qs(role.spoken), QStringLiteral("ms"), {0, kShiftMax.count(), 1, 1, false},
        QStringLiteral("lean-limit-") + qs(role.text),
        tr("How far such hits may be displaced either way, in ms; 200: as far as they go"),
        [=](const Feel& f) {
          const auto found = f.limits.find(value);
          return found == f.limits.end() ? std::nullopt : std::optional(found->second.count());
        },
        [=](Feel& f, double v) {
          f.limits[value] = Milliseconds(v);
          if (v >= kShiftMax.count()) f.limits.erase(value);
        });
    field->setBlankWord(tr("none"));
  }
  section(tr("Together"));
  unison_ = addText(QStringLiteral("lean-unison"));
  together_ = new ActionButton(tr("Pull together"), ActionButton::Tone::kQuiet, this);
  together_->setObjectName(QStringLiteral("pull-together"));
  together_->setToolTip(
      tr("Nudges the hits that are written together to the mean of where they are struck: those "
         "chosen, or the widest"));
  down_->addWidget(together_);
  connect(together_, &QPushButton::clicked, this, &DisplaceCard::pullTogether);
  addStretch();
}

void DisplaceCard::setKeep(bool share) {
  const Bpm here = document().tempo().bpm();
  change(share ? tr("Displacement keeps its share of the beat")
               : tr("Displacement keeps its milliseconds"),
         [&](Feel& f) {
           f.shareOf.reset();
           if (share) f.shareOf = here;
         });
}

void DisplaceCard::read() {
  if (shown_ != struckPieces()) build();
  FeelCard::read();
  keep_->setCurrentIndex(feel().shareOf ? 1 : 0);
  const Milliseconds quarter = document().tempo().quarter();
  units_->setText(tr("10 ms are %1 ticks of 960, or %2 % of a beat here")
                      .arg(10 / quarter.count() * kTableTicks, 0, 'f', 1)
                      .arg(1000 / quarter.count(), 0, 'f', 1) +
                  (feel().shareOf
                       ? tr("; as written at %1 BPM").arg(feel().shareOf->value, 0, 'f', 1)
                       : QString()));
  readChosen();
  readUnison();
}

void DisplaceCard::readChosen() {
  const QString count = editing_.countAt(editing_.cursorAt());
  FeelCard::read();
  const Beat bar = document().groove().meter.barLength();
  for (const TimingRow& row :
       timingRows(document().take(), static_cast<int>(editing_.cursorAt().floorDiv(bar)))) {
    if (row.ref != HitRef{editing_.cursorAt(), editing_.cursorPiece()}) continue;
    const Milliseconds held = row.performed - row.swung - row.parts.sum() - row.drift;
    QStringList from;
    const auto add = [&](const QString& name, Milliseconds ms) {
      if (std::abs(ms.count()) > 0.001) from << name.arg(signedMs(ms));
    };
    add(tr("piece %1"), row.parts.piece);
    add(tr("limb %1"), row.parts.limb);
    add(tr("slot %1"), row.parts.slot);
    add(tr("nudge %1"), row.parts.nudge);
    add(tr("its limit takes back %1"), row.parts.limited);
    add(tr("held, since it would pass its neighbour, %1"), held);
    QString text = tr("%1 on %2: %3")
                       .arg(qs((*document().song().kit)[row.ref.piece].name), count,
                            signedMs(row.parts.sum() + held));
    if (!from.isEmpty()) text += tr(", from %1").arg(from.join(QStringLiteral(", ")));
    return chosen_->setText(text);
  }
  chosen_->setText(tr("%1: nothing chosen").arg(count));
}

void DisplaceCard::readUnison() {
  const std::vector<Unison> all = unisons(document().take().performance());
  const Unison* worst = widestWritten(all);
  together_->setEnabled(worst != nullptr && worst->plain.count() > 0.001);
  if (worst == nullptr) return unison_->setText(tr("Nothing is struck together in this groove."));
  const int flams = static_cast<int>(std::count_if(
      all.begin(), all.end(), [](const Unison& u) { return u.plain > kSpreadFinding; }));
  QStringList names;
  for (const std::size_t i : worst->strokes) {
    const Stroke& s = document().take().performance().strokes[i];
    names << qs((*document().song().kit)[s.piece].name);
  }
  const Stroke& first = document().take().performance().strokes[worst->strokes.front()];
  const Beat at = document().groove().hits[first.hit].at;
  unison_->setText(
      tr("Widest: %1 on %2, bar %3, %4 apart%5. Above 10 ms: %6 of %7 positions")
          .arg(names.join(QStringLiteral(", ")), editing_.countAt(at))
          .arg(at.floorDiv(document().groove().meter.barLength()) + 1)
          .arg(plainMs(worst->plain), worst->plain > kSpreadError ? tr(" (it flams)") : QString())
          .arg(flams)
          .arg(all.size()));
}

// The chosen hits' positions and pieces where two or more are chosen, else the widest.
void DisplaceCard::pullTogether() {
  std::set<Beat> at;
  std::set<PieceId> pieces;
  if (editing_.selection().size() > 1) {
    for (const HitRef& ref : editing_.selection()) {
      at.insert(ref.at);
      pieces.insert(ref.piece);
    }
  } else {
    const std::vector<Unison> all = unisons(document().take().performance());
    const Unison* worst = widestWritten(all);
    if (worst == nullptr) return;
    const Stroke& first = document().take().performance().strokes[worst->strokes.front()];
    at.insert(document().groove().hits[first.hit].at);
  }
  const auto pulled =
      uneven::pullTogether(document().song(), document().grooveId(), at, pieces, Milliseconds(0));
  if (!pulled) return Q_EMIT refused(QString::fromStdString(pulled.error().message));
  if (pulled->hits == 0) return Q_EMIT refused(tr("Nothing there lies apart"));
  editing_.grooves().replaceGroove(tr("Pulled together: %1 hits nudged").arg(pulled->hits),
                                   pulled->groove);
}

}  // namespace uneven
