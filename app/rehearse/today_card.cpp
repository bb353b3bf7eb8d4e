// SPDX-License-Identifier: GPL-3.0-or-later
// The card of today.
#include "app/rehearse/today_card.h"

#include <QGridLayout>
#include <QLabel>
#include <cmath>

#include "app/controls/action_button.h"
#include "app/controls/choice_field.h"
#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "app/rehearse/distance_view.h"
#include "core/song/names.h"
#include "core/time/count.h"

namespace uneven {
namespace {

// "6 ms late on average, ± 9 ms", a line each.
QString figuresOf(const Alignment& a, const Groove& groove) {
  QStringList lines;
  const double mean = a.all.mean.count();
  if (a.all.n > 0) {
    lines << TodayCard::tr("%1 ms %2 on average, ± %3 ms")
                 .arg(numberText(std::abs(mean), 0),
                      mean < 0 ? TodayCard::tr("early") : TodayCard::tr("late"),
                      numberText(a.all.sd.count(), 0));
  }
  for (const auto& [limb, spread] : a.limbs) {
    constexpr int kEnough = 2;
    if (spread.n < kEnough) continue;
    lines << TodayCard::tr("%1: %2 ms, ± %3")
                 .arg(qs(spokenName(limb)), numberText(spread.mean.count(), 0, true),
                      numberText(spread.sd.count(), 0));
  }
  if (a.widest) {
    lines << TodayCard::tr("widest unison %1 ms, on %2")
                 .arg(numberText(a.widest->apart.count(), 0),
                      qs(countName(a.widest->at, groove.meter).text()));
  }
  if (a.uneven) lines << TodayCard::tr("intervals %1 % uneven").arg(numberText(100 * *a.uneven, 0));
  if (a.ghosts && a.ghostsWritten) {
    lines << TodayCard::tr("ghosts %1 dB under accents, written %2")
                 .arg(numberText(-*a.ghosts, 0), numberText(-*a.ghostsWritten, 0));
  }
  return lines.join(QLatin1Char('\n'));
}

}  // namespace

TodayCard::TodayCard(Rehearsing& rehearsing, QWidget* parent)
    : FieldCard(parent), rehearsing_(rehearsing) {
  QGridLayout* grid = section(tr("Ladder"));
  const NumberField::Range tempos{kBpmMin, kBpmMax, 1, 1, false};
  addNumber(
      grid,
      {tr("From"), "ladder-from",
       tr("The slowest tempo, BPM: a good start is 80 % of what Check calls comfortable")},
      tr("BPM"), tempos, [this] { return rehearsing_.ladder().from; },
      [this](double v, bool) { rehearsing_.setLadder(v, rehearsing_.ladder().to); });
  addNumber(
      grid, {tr("To"), "ladder-to", tr("The goal, BPM: the song's tempo unless you say otherwise")},
      tr("BPM"), tempos, [this] { return rehearsing_.ladder().to; },
      [this](double v, bool) { rehearsing_.setLadder(rehearsing_.ladder().from, v); });
  addChoice(
      grid, {tr("By"), "ladder-by", tr("From one tempo to the next")},
      [](ChoiceField& field) {
        for (const int bpm : {1, 2, 5}) field.addItem(tr("%1 BPM").arg(bpm), bpm);
        for (const int percent : {1, 2, 5}) field.addItem(tr("%1 %").arg(percent), -percent);
        field.addItem(tr("three tempos"), 0);
      },
      [this] {
        const RehearseSettings& s = rehearsing_.settings();
        return static_cast<int>(s.percent ? -s.step : s.step);
      },
      [this](const QVariant& by) {
        rehearsing_.change([&](RehearseSettings& s) {
          s.percent = by.toInt() < 0;
          s.step = std::abs(by.toInt());
        });
      });
  addNumber(
      grid,
      {tr("On after"), "ladder-up",
       tr("So many clean times through in a row, then the next step or tempo")},
      tr("clean"), {1, 20, 1, 0, false}, [this] { return rehearsing_.settings().up; },
      [this](double v, bool) {
        rehearsing_.change([&](RehearseSettings& s) { s.up = static_cast<int>(v); });
      });
  addNumber(
      grid,
      {tr("Back after"), "ladder-down",
       tr("So many unclean ones in a row, then the tempo before; 0: never")},
      tr("unclean"), {0, 20, 1, 0, false}, [this] { return rehearsing_.settings().down; },
      [this](double v, bool) {
        rehearsing_.change([&](RehearseSettings& s) { s.down = static_cast<int>(v); });
      });
  section(tr("The last time through"));
  result_ = strongLabel({}, 14, body());
  result_->setObjectName(QStringLiteral("rehearse-result"));
  result_->setWordWrap(true);
  addWidget(result_);
  figures_ = addText(QStringLiteral("rehearse-figures"));
  next_ = addText(QStringLiteral("rehearse-next"));
  const auto command = [this](Rehearsing::Command which) {
    return [this, which] { rehearsing_.run(which); };
  };
  addButton(tr("Clean"), QStringLiteral("rehearse-clean"), tr("This time through was clean (C)"),
            command(RehearseSettings::kClean));
  addButton(tr("Not yet"), QStringLiteral("rehearse-not-yet"), tr("It was not clean yet (N)"),
            command(RehearseSettings::kNotYet), true);
  addButton(tr("Back"), QStringLiteral("rehearse-back"), tr("The tempo or step before (Backspace)"),
            command(RehearseSettings::kBack));
  addButton(tr("Next"), QStringLiteral("rehearse-go-on"), tr("The next step or tempo (Enter)"),
            command(RehearseSettings::kNext), true);
  addButton(tr("What feels bad…"), QStringLiteral("rehearse-feels"),
            tr("Noted with the last time through; the plan gives it time (B)"),
            [this] { Q_EMIT feelsWanted(); });
  addStretch();
  auto* caution = addText(QStringLiteral("rehearse-caution"));
  caution->setText(
      tr("Warm up. Rest as long as you play hard. Stop at pain, numbness or tingling "
         "and see a professional. Keep it quiet, or protect your ears."));
  addButton(tr("Cautions"), QStringLiteral("rehearse-cautions"),
            tr("All of them, to be read in peace"), [this] { Q_EMIT cautionsWanted(); });
  connect(&rehearsing_, &Rehearsing::changed, this, [this] {
    if (isVisible()) read();
  });
}

void TodayCard::read() {
  FieldCard::read();
  const auto& last = rehearsing_.last();
  const auto& heard = rehearsing_.heard();
  const QString result = resultOf(last);
  result_->setText(result.isEmpty() ? tr("None yet") : result);
  QPalette palette = result_->palette();
  const bool bad = last && last->result == Through::kNotYet;
  palette.setColor(QPalette::WindowText, bad ? theme::kAttention : theme::kInk);
  result_->setPalette(palette);
  figures_->setText(heard ? figuresOf(*heard, rehearsing_.groove()) : QString());
  figures_->setVisible(heard.has_value());
  next_->setText(rehearsing_.nextText());
}

}  // namespace uneven
