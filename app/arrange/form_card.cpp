// SPDX-License-Identifier: GPL-3.0-or-later
// The card of the form.
#include "app/arrange/form_card.h"

#include <QGridLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPlainTextEdit>
#include <QScrollBar>

#include "app/controls/action_button.h"
#include "app/controls/airy_table.h"
#include "app/controls/choice_field.h"
#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "core/arrange/form.h"
#include "core/arrange/joints.h"
#include "core/song/names.h"

namespace uneven {

FormCard::FormCard(Arranging& arranging, QWidget* parent)
    : FieldCard(parent), arranging_(arranging) {
  section(tr("The song's form"));
  text_ = new QPlainTextEdit(body());
  text_->setObjectName(QStringLiteral("song-form"));
  text_->setAccessibleName(tr("The song's form as text"));
  text_->setToolTip(
      tr("Name, bars, + fill; with commas: Intro 4, Verse 8 + fill. Enter lays it out"));
  text_->setFixedHeight(104);
  text_->setTabChangesFocus(true);
  text_->setUndoRedoEnabled(false);
  makeAiry(*text_->verticalScrollBar());
  text_->setStyleSheet(
      theme::sheet("QPlainTextEdit { background: @paper; border: 1px solid @line; "
                   "color: @ink; }"));
  text_->installEventFilter(this);
  addWidget(text_);
  addButton(tr("Lay it out"), QStringLiteral("form-set"), tr("Enter in the text does the same"),
            [this] { setForm(); });
  addButton(
      tr("Frame from MIDI…"), QStringLiteral("form-frame"),
      tr("Tempo, meters and markers of a MIDI file of the song as its sections"),
      [this] { Q_EMIT frameWanted(); }, true);

  QGridLayout* grid = section(tr("With this section"));
  addChoice(
      grid, {tr("Do"), "template-choice", tr("What is done with the chosen section, in one step")},
      [](ChoiceField& field) {
        for (const SectionTemplate& one : sectionTemplates())
          field.addItem(qs(one.title), qs(one.id));
      },
      [this] { return qs(asked_.id); },
      [this](const QVariant& id) {
        asked_.id = id.toString().toStdString();
        read();
      });
  addChoice(
      grid, {tr("Alone"), "template-limb", tr("Who plays alone in a break")},
      [](ChoiceField& field) {
        for (const Named<Limb>& n : namesOf<Limb>()) {
          if (n.value != Limb::kAutomatic) field.addItem(qs(n.spoken), qs(n.text));
        }
      },
      [this] { return qs(textOf(asked_.limb)); },
      [this](const QVariant& word) {
        asked_.limb = fromText<Limb>(word.toString().toStdString()).value_or(asked_.limb);
      });
  says_ = addText(QStringLiteral("template-says"));
  addButton(tr("Do it"), QStringLiteral("template-do"), tr("One step of undo"), [this] {
    asked_.fill.asked.bpm = arranging_.bpmAtEnd();
    arranging_.applyTemplate(asked_);
  });
  grid = section(tr("Turn and open"));
  addChoice(
      grid, {tr("Turns"), "turn-into", tr("Stroke by stroke into its sister, the softest first")},
      [this](ChoiceField& field) {
        field.addItem(tr("linear"), QStringLiteral("linear"));
        field.addItem(tr("shuffled"), QStringLiteral("shuffled"));
        for (const auto& groove : arranging_.song().grooves)
          field.addItem(qs(groove->name), qs(groove->id));
      },
      [this] { return qs(into_); },
      [this](const QVariant& id) { into_ = id.toString().toStdString(); });
  addNumber(
      grid, {tr("over"), "turn-bars", tr("Its first bars")}, tr("bars"), {1, kBarsMax, 1, 0, false},
      [this] { return bars_; }, [this](double bars, bool) { bars_ = static_cast<int>(bars); });
  addNumber(
      grid, {tr("Hats open"), "hats-open", tr("Percent, at the section's start")}, tr("%"),
      {0, 100, 5, 0, false}, [this] { return open_; }, [this](double open, bool) { open_ = open; });
  addNumber(
      grid, {tr("to"), "hats-open-to", tr("Percent, at its end")}, tr("%"), {0, 100, 5, 0, false},
      [this] { return openTo_; }, [this](double open, bool) { openTo_ = open; });
  addNumber(
      grid, {tr("Pickup"), "pickup-beats", tr("Its last quarter notes lead into it")},
      tr("quarters"), {0.25, 64, 1, 2, false}, [this] { return pickup_; },
      [this](double beats, bool) { pickup_ = beats; });
  addButton(tr("Turn"), QStringLiteral("turn-do"), tr("Over its first bars"), [this] {
    arranging_.apply(tr("%1 turns").arg(qs(arranging_.chosen().name)),
                     withTurnInto(arranging_.song(), arranging_.section(), into_, bars_));
  });
  addButton(
      tr("Open"), QStringLiteral("hats-do"), tr("Opens the hats along the line"),
      [this] {
        arranging_.apply(
            tr("Hats open in %1").arg(qs(arranging_.chosen().name)),
            withHatsOpened(arranging_.song(), arranging_.section(), open_ / 100, openTo_ / 100));
      },
      true);
  addButton(
      tr("Pickup"), QStringLiteral("pickup-do"), tr("Before the section"),
      [this] {
        arranging_.apply(
            tr("Pickup to %1").arg(qs(arranging_.chosen().name)),
            withPickup(arranging_.song(), arranging_.section(), Beat(roundToInt(4 * pickup_), 4)));
      },
      true);
  grid = section(tr("Another section"));
  addChoice(
      grid, {tr("Plays"), "add-groove", tr("What the new section plays")},
      [this](ChoiceField& field) {
        for (const auto& groove : arranging_.song().grooves)
          field.addItem(qs(groove->name), qs(groove->id));
      },
      [this] { return qs(added_); },
      [this](const QVariant& id) { added_ = id.toString().toStdString(); });
  addButton(tr("Add it behind this one"), QStringLiteral("add-section"), tr("Once; then + and −"),
            [this] { arranging_.add(added_); });
  addStretch();
  connect(&arranging_, &Arranging::changed, this, [this] {
    if (isVisible()) read();
  });
}

void FormCard::read() {
  const Song& song = arranging_.song();
  if (song.findGroove(added_) == nullptr) added_ = song.grooves.front()->id;
  if (into_ != "linear" && into_ != "shuffled" && song.findGroove(into_) == nullptr)
    into_ = "linear";
  FieldCard::read();
  for (const SectionTemplate& one : sectionTemplates()) {
    if (one.id == asked_.id) says_->setText(qs(one.help));
  }
  const QString now = qs(formText(song));
  // What is being typed stays.
  if (text_->toPlainText() == read_ || !text_->hasFocus()) text_->setPlainText(now);
  read_ = now;
}

void FormCard::setForm() {
  QString text = text_->toPlainText();
  text.replace(QLatin1Char('\n'), QLatin1Char(' '));
  read_ = text_->toPlainText();
  arranging_.setForm(text);
}

bool FormCard::eventFilter(QObject* watched, QEvent* event) {
  // Undo is the song's, here too.
  if (watched == text_ && event->type() == QEvent::ShortcutOverride) {
    const auto* key = static_cast<QKeyEvent*>(event);
    if (key->matches(QKeySequence::Undo) || key->matches(QKeySequence::Redo)) {
      event->ignore();
      return true;
    }
  }
  if (watched == text_ && event->type() == QEvent::KeyPress) {
    const int key = static_cast<QKeyEvent*>(event)->key();
    if (key == Qt::Key_Return || key == Qt::Key_Enter) {
      setForm();
      return true;
    }
    if (key == Qt::Key_Escape) {
      text_->setPlainText(qs(formText(arranging_.song())));
      return true;
    }
  }
  return FieldCard::eventFilter(watched, event);
}

}  // namespace uneven
