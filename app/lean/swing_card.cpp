// SPDX-License-Identifier: GPL-3.0-or-later
// The card of swing.
#include "app/lean/swing_card.h"

#include <QGridLayout>
#include <QLabel>
#include <QVBoxLayout>

#include "app/controls/action_button.h"
#include "app/controls/choice_field.h"
#include "app/controls/labels.h"
#include "app/lean/tempo_curve.h"
#include "core/measure/pivot.h"
#include "core/perform/swing.h"

namespace uneven {

SwingCard::SwingCard(Editing& editing, QWidget* parent) : FeelCard(editing, parent) {
  build();
}

void SwingCard::build() {
  clear();
  buildRatio();
  curve_ = new TempoCurve(this);
  down_->addWidget(curve_);
  buildDepth();
  addStretch();
}

void SwingCard::buildRatio() {
  QGridLayout* grid = section(tr("Swing"));
  kind_ = new ChoiceField(Qt::AlignRight, this);
  kind_->addItems({tr("Fixed"), tr("By the tempo")});
  addRow(grid, tr("Ratio is"), kind_, QStringLiteral("swing-kind"),
         tr("Fixed: one ratio at every tempo. By the tempo: the short note stays near 100 ms, "
            "between 1 : 1 when fast and 3.5 : 1 when slow"));
  ratio_ = new NumberField(QStringLiteral(": 1"), {kRatioMin, kRatioMax, 0.05, 3, false}, this);
  addRow(grid, tr("Ratio"), ratio_, QStringLiteral("swing-ratio"),
         tr("Long to short, 1 to 9; 62 %, 5:3, 120 ms or triplet are understood as well"));
  percent_ = new NumberField(QStringLiteral("%"), {50, 90, 1, 2, false}, this);
  addRow(grid, tr("Swung note at"), percent_, QStringLiteral("swing-percent"),
         tr("Where the second note of a pair falls, 50 to 90 % of the pair; 5:3, 120 ms or triplet "
            "are understood as well"));
  short_ = new NumberField(QStringLiteral("ms"), {1, 3000, 1, 1, false}, this);
  addRow(grid, tr("Short note"), short_, QStringLiteral("swing-short"),
         tr("How long the second note of a pair lasts at this tempo, in ms"));
  // However the others say it, each field understands it.
  const auto reader = [this](SwingSaid plain, auto shown) {
    return [this, plain, shown](const QString& text) -> std::optional<double> {
      // What is too long for the pair is refused with what fits.
      if (plain == SwingSaid::kMs) {
        if (const auto ms = typedNumber(text, QStringLiteral("ms"))) return ms;
      }
      const Milliseconds pair = pairLength(feel().swing.unit, document().tempo());
      const auto ratio = ratioSaid(text.toStdString(), plain, pair);
      return ratio ? std::optional<double>(shown(*ratio, pair)) : std::nullopt;
    };
  };
  ratio_->setReader(reader(SwingSaid::kRatio, [](double r, Milliseconds) { return r; }));
  percent_->setReader(
      reader(SwingSaid::kPercent, [](double r, Milliseconds) { return 100 * pointOfRatio(r); }));
  short_->setReader(reader(SwingSaid::kMs, [](double r, Milliseconds pair) {
    return (pair * (1 - pointOfRatio(r))).count();
  }));
  lengths_ = addText(QStringLiteral("swing-lengths"));
  grid = section({});
  unit_ = new ChoiceField(Qt::AlignRight, this);
  fillWith<SwingUnit>(*unit_);
  addRow(grid, tr("Swings"), unit_, QStringLiteral("swing-unit"), tr("Which notes swing in pairs"));
  written_ = new ChoiceField(Qt::AlignRight, this);
  fillWith<Written>(*written_);
  addRow(grid, tr("Written"), written_, QStringLiteral("swing-written"),
         tr("Where the second note of a pair is written: halfway, or on the last triplet partial. "
            "Triplets written as triplets are not swung twice"));
  guess_ = addText(QStringLiteral("swing-guess"));
  takeGuess_ = new ActionButton({}, ActionButton::Tone::kQuiet, this);
  takeGuess_->setObjectName(QStringLiteral("take-guess"));
  takeGuess_->setToolTip(tr("What the hits' positions in their pairs say"));
  down_->addWidget(takeGuess_);
  connect(kind_, &QComboBox::activated, this, [this](int kind) {
    const double now = ratioAt(feel().swing, document().tempo());
    change(kind == 1 ? tr("Swing by the tempo") : tr("Swing %1 : 1").arg(now), [&](Feel& f) {
      f.swing.linked = kind == 1;
      if (kind == 0) f.swing.ratio = now;
    });
  });
  connect(ratio_, &NumberField::edited, this, [this](double ratio, bool stepped) {
    setRatio(ratio, tr("Swing ratio %1").arg(ratio), stepped);
  });
  connect(percent_, &NumberField::edited, this, [this](double percent, bool stepped) {
    if (const auto ratio = ratioOfPercent(percent)) {
      setRatio(*ratio, tr("Swing %1 %").arg(percent), stepped);
    }
  });
  connect(short_, &NumberField::edited, this, [this](double ms, bool stepped) {
    const Milliseconds pair = pairLength(feel().swing.unit, document().tempo());
    if (const auto ratio = ratioOfShort(Milliseconds(ms), pair)) {
      return setRatio(*ratio, tr("Swing, short note %1").arg(plainMs(Milliseconds(ms))), stepped);
    }
    Q_EMIT refused(
        tr("%1 is not taken: %2 to %3 are at this tempo")
            .arg(plainMs(Milliseconds(ms)), plainMs(pair / (1 + kRatioMax)), plainMs(pair / 2)));
    read();
  });
  connect(unit_, &QComboBox::activated, this, [this] {
    change(tr("Swing in %1").arg(unit_->currentText().toLower()),
           [&](Feel& f) { f.swing.unit = chosen(*unit_, f.swing.unit); });
  });
  const auto write = [this](Written written) {
    change(tr("Written %1").arg(qs(spokenName(written)).toLower()),
           [&](Feel& f) { f.swing = writtenAs(document().groove(), f.swing, written); });
  };
  connect(written_, &QComboBox::activated, this,
          [this, write] { write(chosen(*written_, feel().swing.written)); });
  connect(takeGuess_, &QPushButton::clicked, this,
          [this, write] { write(guessWritten(document().groove(), feel().swing.unit).written); });
}

void SwingCard::buildDepth() {
  shown_ = struckPieces();
  QGridLayout* grid = section(tr("How far each follows"));
  const NumberField::Range percent{0, 100, 5, 0, false};
  const auto valueOf = [](const auto& values, auto key) {
    const auto found = values.find(key);
    return found == values.end() ? 100.0 : 100 * found->second;
  };
  for (const PieceId piece : shown_) {
    const Piece& p = (*document().song().kit)[piece];
    addNumber(
        grid, qs(p.name), QStringLiteral("%"), percent, QStringLiteral("depth-") + qs(p.id),
        tr("How far this piece follows the swing: 0 % straight, 100 % wholly"),
        [=](const Feel& f) { return std::optional(valueOf(f.swing.depth, piece)); },
        [=](Feel& f, double v) { f.swing.depth[piece] = v / 100; });
  }
  for (const Limb limb : limbs()) {
    addNumber(
        grid, qs(spokenName(limb)), QStringLiteral("%"), percent,
        QStringLiteral("depth-") + qs(textOf(limb)),
        tr("How far what this limb plays follows, times the piece's own: at 0 % only the "
           "other hand moves"),
        [=](const Feel& f) { return std::optional(valueOf(f.swing.limbDepth, limb)); },
        [=](Feel& f, double v) { f.swing.limbDepth[limb] = v / 100; });
  }
}

void SwingCard::setRatio(double ratio, const QString& step, bool stepped) {
  static const int key = Document::newMergeKey();
  change(step,
         [ratio](Feel& f) {
           f.swing.ratio = ratio;
           f.swing.linked = false;
         },
         {stepped ? key : 0, true});
}

void SwingCard::read() {
  if (shown_ != struckPieces()) build();
  FeelCard::read();
  const Swing& swing = feel().swing;
  const Tempo tempo = document().tempo();
  const double ratio = ratioAt(swing, tempo);
  const double point = pointOfRatio(ratio);
  const Milliseconds pair = pairLength(swing.unit, tempo);
  kind_->setCurrentIndex(swing.linked ? 1 : 0);
  ratio_->setValue(ratio);
  percent_->setValue(100 * point);
  short_->setValue((pair * (1 - point)).count());
  const QString name = qs(nameOfRatio(ratio));
  lengths_->setText(tr("%1long %2, short %3 at this tempo")
                        .arg(name.isEmpty() ? QString() : name + QStringLiteral(": "),
                             plainMs(pair * point), plainMs(pair * (1 - point))));
  choose(*unit_, swing.unit);
  choose(*written_, swing.written);
  const PivotGuess guess = guessWritten(document().groove(), swing.unit);
  const bool triplet = guess.written == Written::kTriplet;
  guess_->setText(tr("Off the beat: %1 written straight, %2 in triplets")
                      .arg(guess.straight)
                      .arg(guess.triplet));
  takeGuess_->setText(triplet ? tr("It looks written in triplets")
                              : tr("It looks written straight"));
  takeGuess_->setVisible(guess.written != swing.written);
  curve_->show(document().song(), swing, tempo);
}

}  // namespace uneven
