// SPDX-License-Identifier: GPL-3.0-or-later
// The card of the tempo.
#include "app/arrange/tempo_card.h"

#include <QGridLayout>
#include <QLabel>
#include <chrono>

#include "app/controls/action_button.h"
#include "app/controls/choice_field.h"
#include "app/controls/labels.h"

namespace uneven {

TempoCard::TempoCard(Arranging& arranging, QWidget* parent)
    : FieldCard(parent), arranging_(arranging) {
  QGridLayout* grid = section(tr("Tempo"));
  const int key = Document::newMergeKey();
  addNumber(
      grid,
      {tr("Here"), "section-bpm",
       tr("Quarter notes a minute from the section's start on, 20 to 400")},
      tr("BPM"), {kBpmMin, kBpmMax, 1, 2, false}, [this] { return arranging_.bpm(); },
      [this, key](double bpm, bool stepped) {
        arranging_.setBpm(bpm, {stepped ? key : 0, true});
      });
  addChoice(
      grid, {tr("From there"), "section-ramp", tr("To the next point of the tempo line")},
      [](ChoiceField& field) {
        field.addItem(tr("it holds"), false);
        field.addItem(tr("evenly to the next"), true);
      },
      [this] { return arranging_.mark() != nullptr && arranging_.mark()->ramp; },
      [this](const QVariant& ramp) { arranging_.setRamp(ramp.toBool()); });
  addLine(
      grid,
      {tr("Relation"), "section-relation",
       tr("1/8T = 1/8: the old triplet is the new eighth; the tempo is worked out from the one "
          "before")},
      [this] {
        const TempoMark* mark = arranging_.mark();
        return mark == nullptr ? QString() : qs(mark->relation);
      },
      [this](const QString& text) {
        if (!text.isEmpty()) return arranging_.setRelation(text);
        if (arranging_.mark() != nullptr) arranging_.setBpm(arranging_.bpm());
      });
  addChoice(
      grid, {tr("Sections move"), "tempo-along", tr("Whether tempo points go along with them")},
      [](ChoiceField& field) {
        field.addItem(tr("with their tempo"), true);
        field.addItem(tr("without it"), false);
      },
      [this] { return arranging_.tempoAlong(); },
      [this](const QVariant& along) { arranging_.setTempoAlong(along.toBool()); });
  says_ = addText(QStringLiteral("tempo-says"));
  addButton(tr("Tap"), QStringLiteral("section-tap"),
            tr("Tap in time, while it plays or not: the tempo of this section"), [this] { tap(); });
  addButton(
      tr("No tempo of its own"), QStringLiteral("section-no-tempo"), tr("The tempo before goes on"),
      [this] { arranging_.noMark(); }, true);
  addStretch();
  connect(&arranging_, &Arranging::changed, this, [this] {
    if (isVisible()) read();
  });
}

void TempoCard::read() {
  FieldCard::read();
  const TempoMark* mark = arranging_.mark();
  const Song& song = arranging_.song();
  QString text = mark == nullptr ? tr("The tempo of the section before goes on here.") : QString();
  if (mark != nullptr && mark->ramp) {
    for (const TempoMark& next : song.tempo) {
      if (next.at <= mark->at) continue;
      text = tr("It goes to %1 BPM over %2 quarters.")
                 .arg(next.bpm.value)
                 .arg((next.at - mark->at).toDouble());
      break;
    }
  }
  const double eighth = 30'000 / arranging_.bpm();
  if (!text.isEmpty()) text += QLatin1Char('\n');
  text += tr("An eighth lasts %1, a sixteenth %2, a triplet %3.")
              .arg(plainMs(Milliseconds(eighth)), plainMs(Milliseconds(eighth / 2)),
                   plainMs(Milliseconds(eighth * 2 / 3)));
  says_->setText(text);
}

void TempoCard::tap() {
  static const int key = Document::newMergeKey();
  const Milliseconds now = std::chrono::steady_clock::now().time_since_epoch();
  if (const auto bpm = taps_.tap(now)) {
    arranging_.setBpm(bpm->value, {key, true});
  } else {
    Q_EMIT arranging_.said(tr("Tap again in time"));
  }
}

}  // namespace uneven
