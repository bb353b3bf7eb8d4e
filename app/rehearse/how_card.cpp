// SPDX-License-Identifier: GPL-3.0-or-later
// The card of how.
#include "app/rehearse/how_card.h"

#include <QGridLayout>
#include <QLabel>

#include "app/controls/action_button.h"
#include "app/controls/choice_field.h"
#include "app/controls/labels.h"
#include "core/tools/fill_library.h"

namespace uneven {

HowCard::HowCard(Rehearsing& rehearsing, QWidget* parent)
    : FieldCard(parent), rehearsing_(rehearsing) {
  QGridLayout* steps = section(tr("Steps"));
  choice<BrokenDown>(
      steps,
      {tr("Built up"), "how-by", tr("How the groove is broken down; drummers learn both ways")},
      {{BrokenDown::kVoice, tr("voice by voice")},
       {BrokenDown::kLimb, tr("limb by limb")},
       {BrokenDown::kBeat, tr("beat by beat")},
       {BrokenDown::kSurface, tr("hands on one drum")},
       {BrokenDown::kHardSpot, tr("the hard spot")},
       {BrokenDown::kWhole, tr("all of it")}},
      &RehearseSettings::by);
  choice<Climb>(steps,
                {tr("The way up"), "how-climb",
                 tr("Steps at the first tempo and then all of it up the ladder, or each step up "
                    "the whole ladder")},
                {{Climb::kWholeGroove, tr("steps, then tempos")},
                 {Climb::kEachStep, tr("each step, all tempos")}},
                &RehearseSettings::climb);
  choice<bool>(
      steps,
      {tr("In between"), "how-run-on", tr("Whether it stops where the next step or tempo begins")},
      {{false, tr("it stops")}, {true, tr("it runs on")}}, &RehearseSettings::runOn);
  QGridLayout* time = section(tr("A time through"));
  addNumber(
      time, {tr("Rounds"), "how-rounds", tr("Of the step; 0: as many as make two bars")}, {},
      {0, 64, 1, 0, false},
      [this]() -> std::optional<double> {
        const int rounds = rehearsing_.settings().rounds;
        return rounds == 0 ? std::nullopt : std::optional<double>(rounds);
      },
      [this](double v, bool) {
        rehearsing_.change([&](RehearseSettings& s) { s.rounds = static_cast<int>(v); });
      })
      ->setBlankWord(tr("two bars' worth"));
  choice<Behind>(time,
                 {tr("Behind it"), "how-behind",
                  tr("The groove so many times, then a fill or a bar of your own, and back: closer "
                     "to music than a loop")},
                 {{Behind::kNothing, tr("nothing")},
                  {Behind::kFreeBar, tr("a bar of your own")},
                  {Behind::kFill, tr("a fill")}},
                 &RehearseSettings::behind);
  number(time,
         {tr("After"), "how-times", tr("So many times the groove before what stands behind it")},
         tr("times"), {1, 16, 1, 0, false}, &RehearseSettings::times);
  addChoice(
      time, {tr("The fill"), "how-fill", tr("Of the library, in the groove's meter")},
      [this](ChoiceField& field) {
        for (const LibraryFill& one : fillLibrary()) {
          if (one.groove.meter == rehearsing_.groove().meter)
            field.addItem(qs(one.groove.name), qs(one.groove.id));
        }
      },
      [this] {
        // None chosen: the first.
        const std::string& fill = rehearsing_.settings().fill;
        for (const LibraryFill& one : fillLibrary()) {
          if (one.groove.meter != rehearsing_.groove().meter) continue;
          if (fill.empty() || one.groove.id == fill) return qs(one.groove.id);
        }
        return QString();
      },
      [this](const QVariant& id) {
        rehearsing_.change([&](RehearseSettings& s) { s.fill = id.toString().toStdString(); });
      });
  number(time, {tr("Count-in"), "how-count-in", tr("Bars that are counted before it begins")},
         tr("bars"), {0, 2, 1, 0, false}, &RehearseSettings::countIn);
  QGridLayout* clean = section(tr("Clean is"));
  const auto limit = [&](const Row& row, NumberField::Range range, auto get, auto set) {
    addNumber(clean, row, tr("ms"), range, get, [this, set](double v, bool) {
      rehearsing_.change([&](RehearseSettings& s) { set(s.limits, v); });
    });
  };
  limit(
      {tr("Every stroke within"), "how-late", tr("Early or late, of where it should be")},
      {1, 200, 1, 0, false}, [this] { return rehearsing_.settings().limits.late.count(); },
      [](CleanLimits& l, double v) { l.late = Milliseconds(v); });
  limit(
      {tr("Spread at most"), "how-spread", tr("Standard deviation of all strokes")},
      {1, 100, 1, 0, false}, [this] { return rehearsing_.settings().limits.sd.count(); },
      [](CleanLimits& l, double v) { l.sd = Milliseconds(v); });
  addNumber(
      clean, {tr("Wrong at most"), "how-left", tr("Strokes missing, extra or on another piece")},
      tr("strokes"), {0, 100, 1, 0, false}, [this] { return rehearsing_.settings().limits.left; },
      [this](double v, bool) {
        rehearsing_.change([&](RehearseSettings& s) { s.limits.left = static_cast<int>(v); });
      });
  section(tr("Listening"));
  source_ = addText(QStringLiteral("how-source"));
  addButton(
      tr("Measure the delay"), QStringLiteral("how-latency"),
      tr("Ten strokes on a click, on any pad: what arrives late of all of them is taken off (L)"),
      [this] { rehearsing_.measureLatency(); });
  QGridLayout* pads = section(tr("Pads that say it"));
  const std::pair<QString, QString> words[] = {{tr("Clean"), "pad-clean"},
                                               {tr("Not yet"), "pad-not-yet"},
                                               {tr("Next"), "pad-next"},
                                               {tr("Back"), "pad-back"}};
  for (std::size_t i = 0; i < std::size(words); ++i) {
    addNumber(
        pads, {words[i].first, words[i].second, tr("The MIDI note of a pad, 0 to 127; −1: none")},
        tr("note"), {-1, 127, 1, 0, false},
        [this, i]() -> std::optional<double> {
          const int note = rehearsing_.settings().pads[i];
          return note < 0 ? std::nullopt : std::optional<double>(note);
        },
        [this, i](double v, bool) {
          rehearsing_.change([&](RehearseSettings& s) { s.pads[i] = static_cast<int>(v); });
        })
        ->setBlankWord(tr("none"));
  }
  addStretch();
  connect(&rehearsing_, &Rehearsing::changed, this, [this] {
    if (isVisible()) read();
  });
}

template <typename T>
void HowCard::number(QGridLayout* grid, const Row& row, const QString& unit,
                     NumberField::Range range, T RehearseSettings::*member) {
  addNumber(
      grid, row, unit, range,
      [this, member] { return static_cast<double>(rehearsing_.settings().*member); },
      [this, member](double v, bool) {
        rehearsing_.change([&](RehearseSettings& s) { s.*member = static_cast<T>(v); });
      });
}

template <typename E>
void HowCard::choice(QGridLayout* grid, const Row& row,
                     const std::vector<std::pair<E, QString>>& words, E RehearseSettings::*member) {
  addChoice(
      grid, row,
      [words](ChoiceField& field) {
        for (const auto& [value, word] : words) field.addItem(word, static_cast<int>(value));
      },
      [this, member] { return static_cast<int>(rehearsing_.settings().*member); },
      [this, member](const QVariant& value) {
        rehearsing_.change([&](RehearseSettings& s) { s.*member = static_cast<E>(value.toInt()); });
      });
}

void HowCard::read() {
  FieldCard::read();
  source_->setText(
      rehearsing_.listens()
          ? tr("%1; %2 ms are taken off")
                .arg(rehearsing_.sourceText(), numberText(rehearsing_.latency().count(), 0))
          : tr("Nothing is listened to: you judge by hand. Pads or keys are chosen under Sound, "
               "MIDI from"));
}

}  // namespace uneven
