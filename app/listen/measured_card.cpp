// SPDX-License-Identifier: GPL-3.0-or-later
// Figures of a take.
#include "app/listen/measured_card.h"

#include <QCoreApplication>
#include <QFileInfo>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QVBoxLayout>
#include <algorithm>

#include "app/controls/action_button.h"
#include "app/controls/choice_field.h"
#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "app/play/play_in.h"
#include "core/match/along.h"

namespace uneven {
namespace {

// "92.07 ± 0.04": 95 of 100 such intervals hold the truth.
QString within(double value, double se, int decimals, bool plus = false) {
  return numberText(value, decimals, plus) + QStringLiteral(" \u00b1 ") +
         numberText(1.96 * se, decimals);
}
QString within(Bpm value, Bpm se) {
  return within(value.value, se.value, 2) + MeasuredCard::tr(" BPM");
}
QString within(Milliseconds value, Milliseconds se) {
  return within(value.count(), se.count(), 1, true) + MeasuredCard::tr(" ms");
}

// "96 BPM 4/4, swung eighths"
// "96 %"; what is nearly sure is not told as certain, what is hardly there not as impossible.
QString chanceText(double share) {
  constexpr double kNearly = 0.99, kHardly = 0.01;
  if (share > kNearly && share < 1) return MeasuredCard::tr("over 99 %");
  if (share < kHardly && share > 0) return MeasuredCard::tr("under 1 %");
  return MeasuredCard::tr("%1 %").arg(100 * share, 0, 'f', 0);
}

QString wordsOf(const ReadingTold& r) {
  constexpr const char* kKinds[] = {QT_TRANSLATE_NOOP("MeasuredCard", "straight"),
                                    QT_TRANSLATE_NOOP("MeasuredCard", "swung eighths"),
                                    QT_TRANSLATE_NOOP("MeasuredCard", "swung sixteenths"),
                                    QT_TRANSLATE_NOOP("MeasuredCard", "triplets")};
  return QCoreApplication::translate("MeasuredCard", "%1 BPM %2, %3")
      .arg(numberText(r.bpm.value, 0), qs(r.meter.toString()),
           QCoreApplication::translate("MeasuredCard", kKinds[static_cast<std::size_t>(r.kind)]));
}
bool isTaken(const ReadingTold& r, const Fit& fit) {
  constexpr double kSame = 0.02;
  const bool swings = fit.swing.ratio != 1;
  return std::abs(r.bpm / fit.bpm - 1) < kSame && r.meter == fit.grid.meter &&
         (r.kind != SwingKind::kStraight) == swings;
}

}  // namespace

MeasuredCard::MeasuredCard(Listener& listener, PlayIn& playIn, QWidget* parent)
    : Card(parent),
      listener_(listener),
      playIn_(playIn),
      title_(strongLabel(tr("What was found"), 16, this)),
      status_(quietLabel({}, this)),
      open_(new ActionButton(tr("Open a take"), ActionButton::Tone::kQuiet, this)),
      cancel_(new ActionButton(tr("Cancel"), ActionButton::Tone::kQuiet, this)),
      take_(new ActionButton({}, ActionButton::Tone::kQuiet, this)),
      against_(new ChoiceField(Qt::AlignRight, this)),
      meter_(new ChoiceField(Qt::AlignRight, this)),
      middle_(new QVBoxLayout),
      feel_(new ActionButton(tr("Make it a feel"), ActionButton::Tone::kMain, this)),
      tempo_(new ActionButton(tr("Follow its tempo"), ActionButton::Tone::kQuiet, this)),
      groove_(new ActionButton(tr("Make it a groove"), ActionButton::Tone::kQuiet, this)),
      over_(new ActionButton(tr("Start over"), ActionButton::Tone::kQuiet, this)) {
  setObjectName(QStringLiteral("measured-card"));
  auto* down = new QVBoxLayout(this);
  down->setContentsMargins(16, 14, 16, 14);
  down->setSpacing(6);
  down->addWidget(title_);
  status_->setObjectName(QStringLiteral("listen-status"));
  status_->setWordWrap(true);
  down->addWidget(status_);
  auto* row = new QHBoxLayout;
  row->addWidget(open_);
  row->addWidget(cancel_);
  row->addWidget(take_);
  row->addStretch(1);
  down->addLayout(row);
  down->addLayout(middle_);
  down->addStretch(1);
  auto* choices = new QGridLayout;
  choices->setColumnStretch(1, 1);
  against_->setObjectName(QStringLiteral("lean-against"));
  against_->setToolTip(tr("What every piece's lean is measured against"));
  against_->addItem(tr("the hats"), static_cast<int>(LeanAgainst::kHats));
  against_->addItem(tr("the kick"), static_cast<int>(LeanAgainst::kKick));
  against_->addItem(tr("the average"), static_cast<int>(LeanAgainst::kAverage));
  against_->addItem(tr("the grid"), static_cast<int>(LeanAgainst::kGrid));
  meter_->setObjectName(QStringLiteral("listen-meter"));
  meter_->setToolTip(tr("The meter, with how likely it is: M takes the next one"));
  choices->addWidget(fieldLabel(tr("Against"), against_, this), 0, 0);
  choices->addWidget(against_, 0, 1);
  choices->addWidget(fieldLabel(tr("Meter"), meter_, this), 1, 0);
  choices->addWidget(meter_, 1, 1);
  down->addLayout(choices);
  const auto button = [&](ActionButton* made, const char* name, const QString& tip) {
    made->setObjectName(QLatin1String(name));
    made->setToolTip(tip);
  };
  button(open_, "open-take", tr("Audio, a MIDI file or a list of times (CSV): Ctrl+Shift+O"));
  button(take_, "play-take",
         tr("Listens to what is played on the MIDI input (in the sound card), or to the simulated "
            "player: R"));
  button(cancel_, "cancel-take", tr("Stops reading; what was there before stays"));
  button(feel_, "make-feel",
         tr("A feel of the song with this swing, lean and drift, for the groove at hand"));
  button(tempo_, "follow-tempo", tr("The song's tempo becomes that of the take"));
  button(groove_, "make-groove", tr("The most usual bars become a groove of the song"));
  button(over_, "start-over", tr("Everything as it was found by itself"));
  for (ActionButton* made : {feel_, tempo_, groove_, over_}) down->addWidget(made);
  connect(open_, &QPushButton::clicked, this, &MeasuredCard::openWanted);
  connect(take_, &QPushButton::clicked, this, &MeasuredCard::takeWanted);
  connect(&playIn_, &PlayIn::changed, this, &MeasuredCard::read);
  connect(cancel_, &QPushButton::clicked, &listener_, &Listener::cancel);
  connect(feel_, &QPushButton::clicked, this, &MeasuredCard::feelWanted);
  connect(tempo_, &QPushButton::clicked, this, &MeasuredCard::tempoWanted);
  connect(groove_, &QPushButton::clicked, this, &MeasuredCard::grooveWanted);
  connect(over_, &QPushButton::clicked, &listener_, &Listener::startOver);
  connect(against_, &QComboBox::activated, this, [this] {
    FitWanted wanted = listener_.wanted();
    wanted.against = static_cast<LeanAgainst>(against_->currentData().toInt());
    listener_.setWanted(std::move(wanted));
  });
  connect(meter_, &QComboBox::activated, this, [this] {
    FitWanted wanted = listener_.wanted();
    wanted.where.meter = Meter::parse(meter_->currentData().toString().toStdString());
    listener_.setWanted(std::move(wanted));
  });
  connect(&listener_, &Listener::changed, this, &MeasuredCard::read);
  connect(&listener_, &Listener::progressed, this, [this](double share) {
    status_->setText(tr("Listening: %1 %").arg(100 * share, 0, 'f', 0));
  });
  read();
}

void MeasuredCard::read() {
  const Fit* fit = listener_.found();
  const Recording* recording = listener_.recording();
  const bool worth = fit != nullptr && fit->confidence >= kWorthwhile;
  for (QWidget* w : {static_cast<QWidget*>(feel_), static_cast<QWidget*>(tempo_),
                     static_cast<QWidget*>(groove_)}) {
    w->setEnabled(worth);
  }
  over_->setEnabled(recording != nullptr);
  against_->setEnabled(fit != nullptr);
  meter_->setEnabled(fit != nullptr);
  open_->setVisible(!listener_.reading());
  cancel_->setVisible(listener_.reading());
  take_->setText(playIn_.taking() ? tr("End the take") : tr("Play a take"));
  take_->setVisible(!listener_.reading());
  QString status = tr("Nothing yet");
  if (recording != nullptr) {
    status = QFileInfo(qs(recording->file)).fileName() + QStringLiteral(": ") +
             tr("%1 strokes").arg(recording->onsets.size());
    if (fit != nullptr) status += tr(", %1 used").arg(fit->used);
    if (listener_.fitting()) status += tr("; fitting…");
    if (fit == nullptr && !listener_.fitting()) status += tr("; no beat is found in them");
  }
  if (listener_.reading()) status = tr("Listening…");
  status_->setText(status);
  if (listener_.fitting()) return;  // figures of the fit before stay pale until the next is there
  delete figures_;
  figures_ = nullptr;
  if (fit != nullptr) fill(*fit);
}

void MeasuredCard::fill(const Fit& fit) {
  figures_ = new QWidget(this);
  auto* grid = new QGridLayout(figures_);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setVerticalSpacing(2);
  grid->setColumnStretch(1, 1);
  middle_->addWidget(figures_);
  const auto heading = [&](const QString& text) {
    grid->addWidget(strongLabel(text, 13, figures_), grid->rowCount(), 0, 1, 2);
  };
  const auto row = [&](const QString& name, const QString& value, const char* object,
                       const QString& tip = {}) {
    auto* label = quietLabel(name, figures_);
    auto* figure = strongLabel(value, 13, figures_);
    figure->setObjectName(QLatin1String(object));
    figure->setAlignment(Qt::AlignRight);
    figure->setToolTip(tip);
    const int at = grid->rowCount();
    grid->addWidget(label, at, 0);
    grid->addWidget(figure, at, 1);
  };
  row(tr("Tempo"), within(fit.bpm, fit.bpmSe), "found-tempo", tr("H: half of it, D: double"));
  constexpr double kDotted = 1.5;
  if (fit.grid.meter.d == 8 && fit.grid.meter.n % 3 == 0)
    row(tr("Dotted beats"), within(fit.bpm * (1 / kDotted), fit.bpmSe * (1 / kDotted)),
        "found-dotted", tr("The beat that is felt: three eighths"));
  row(tr("Bar 1"), tr("%1 s").arg(numberText(fit.start.count(), 3)), "found-start",
      tr("E: an eighth later, Shift+E: earlier"));
  row(tr("Swings"), fit.swing.unit == SwingUnit::kEighth ? tr("eighths") : tr("sixteenths"),
      "found-unit");
  row(tr("Ratio"), within(fit.swing.ratio, fit.ratioSe, 2) + QStringLiteral(" : 1"), "found-ratio",
      tr("From %1 pairs of notes").arg(fit.swingPairs));
  const SwingAlong along = swingAlong(fit, listener_.recording()->onsets);
  if (along.spans.size() > 1) {
    QStringList words;
    for (const SwingSpan& s : along.spans)
      words << tr("bars %1 to %2: %3 : 1 at %4 BPM")
                   .arg(s.from + 1)
                   .arg(s.to)
                   .arg(within(s.ratio, s.se, 2), numberText(s.bpm.value, 1));
    row(tr("It changes"),
        along.spans.size() == 2 ? tr("once") : tr("%1 times").arg(along.spans.size() - 1),
        "found-along", words.join(QLatin1Char('\n')));
  }
  if (along.followsTempo())
    row(tr("By the tempo"), within(*along.perBpm, *along.perBpmSe, 3, true), "found-by-tempo",
        tr("By how much the ratio grows for each BPM more"));
  heading(fit.against == LeanAgainst::kGrid ? tr("Each piece, against the grid")
                                            : tr("Each piece"));
  const Kit& kit = houseKit();
  int shown = 0;
  std::vector<std::pair<PieceId, PieceFit>> pieces(fit.pieces.begin(), fit.pieces.end());
  std::stable_sort(pieces.begin(), pieces.end(),
                   [](const auto& a, const auto& b) { return a.second.n > b.second.n; });
  for (const auto& [piece, f] : pieces) {
    if (++shown > 6) break;
    row(qs(heardName(kit, piece)), within(f.lean, f.se),
        qPrintable(QStringLiteral("found-") + qs(heardId(kit, piece))),
        tr("%1 strokes, velocity %2").arg(f.n).arg(f.velocity, 0, 'f', 0));
  }
  for (const LevelFit& l : fit.levels) {
    if (l.role != Role::kGhost) continue;
    row(tr("Ghosts"), within(l.lean, l.se), "found-ghosts",
        tr("%1 strokes, velocity %2").arg(l.n).arg(l.velocity, 0, 'f', 0));
  }
  heading(tr("The body"));
  row(tr("Clock"), tr("%1 ms").arg(numberText(fit.drift.clock.count(), 1)), "found-clock");
  row(tr("Each limb"), tr("%1 ms").arg(numberText(fit.drift.motor.count(), 1)), "found-motor");
  row(tr("The clock's colour"),
      fit.drift.exponent ? within(*fit.drift.exponent, fit.drift.exponentSe.value_or(0), 1)
                         : tr("not known"),
      "found-colour", tr("How slowly it wanders: 0 from stroke to stroke, 2 over many bars"));
  row(tr("How sure"), chanceText(fit.confidence), "found-sure", qs([&] {
        std::string all;
        for (const std::string& d : fit.doubts) all += (all.empty() ? "" : "; ") + d;
        return all;
      }()));
  fillReadings(fit, *grid);
  const QSignalBlocker quiet(meter_), still(against_);
  against_->setCurrentIndex(against_->findData(static_cast<int>(fit.against)));
  meter_->clear();
  bool known = false;
  for (const MeterGuess& g : fit.grid.meters) {
    const QString name = qs(g.meter.toString());
    const bool set = listener_.wanted().where.meter == g.meter;
    meter_->addItem(
        set ? tr("%1: set").arg(name) : tr("%1: %2").arg(name, chanceText(g.likelihood)), name);
    known = known || g.meter == fit.grid.meter;
  }
  if (!known) meter_->addItem(qs(fit.grid.meter.toString()), qs(fit.grid.meter.toString()));
  meter_->setCurrentIndex(meter_->findData(qs(fit.grid.meter.toString())));
}

// What it may mean as well, each a click away.
void MeasuredCard::fillReadings(const Fit& fit, QGridLayout& grid) {
  constexpr double kWorthTelling = 0.03;
  constexpr int kMost = 3;
  int shown = 0;
  const std::vector<ReadingTold>& readings = listener_.readings();
  for (std::size_t i = 0; i < readings.size() && shown < kMost; ++i) {
    const ReadingTold& r = readings[i];
    if (r.likelihood < kWorthTelling || isTaken(r, fit)) continue;
    if (shown++ == 0)
      grid.addWidget(strongLabel(tr("It may also be"), 13, figures_), grid.rowCount(), 0, 1, 2);
    auto* take = new ActionButton(tr("%1 \u00b7 %2").arg(wordsOf(r), chanceText(r.likelihood)),
                                  ActionButton::Tone::kQuiet, figures_);
    take->setObjectName(QStringLiteral("reading-%1").arg(i));
    take->setToolTip(tr("Takes this reading: %1 BPM, %2 : 1. A takes the next one")
                         .arg(numberText(r.bpm.value, 2), numberText(r.swing.ratio, 2)));
    connect(
        take, &QPushButton::clicked, this, [this, i] { listener_.takeReading(i); },
        Qt::QueuedConnection);
    grid.addWidget(take, grid.rowCount(), 0, 1, 2);
  }
}

}  // namespace uneven
