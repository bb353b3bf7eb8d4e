// SPDX-License-Identifier: GPL-3.0-or-later
// The Arrange stage.
#include "app/arrange/arrange_stage.h"

#include <QClipboard>
#include <QDir>
#include <QFileInfo>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QLabel>
#include <QVBoxLayout>

#include "app/arrange/bars_row.h"
#include "app/arrange/fill_card.h"
#include "app/arrange/form_card.h"
#include "app/arrange/section_card.h"
#include "app/arrange/strip_view.h"
#include "app/arrange/tempo_card.h"
#include "app/controls/card_room.h"
#include "app/controls/labels.h"
#include "app/controls/prompts.h"
#include "app/controls/word_tabs.h"
#include "app/play/transport.h"
#include "core/arrange/form.h"
#include "core/midi/song_frame.h"

namespace uneven {

ArrangeStage::ArrangeStage(const Workplace& place, QWidget* parent)
    : Stage(parent),
      editing_(place.editing),
      files_(place.files),
      prompts_(place.prompts),
      transport_(place.transport),
      arranging_(place.editing),
      title_(strongLabel(tr("The song"), 16, this)),
      facts_(quietLabel({}, this)),
      strip_(new StripView(arranging_, this)),
      bars_(new BarsRow(arranging_, this)),
      tabs_(new WordTabs(this)),
      section_(new SectionCard(arranging_, this)),
      tempo_(new TempoCard(arranging_, this)),
      fills_(new FillCard(arranging_, this)),
      form_(new FormCard(arranging_, this)) {
  constexpr int kSideWidth = Card::kWidth + 30;
  auto* across = new QHBoxLayout(this);
  across->setContentsMargins(20, 10, 14, 8);
  across->setSpacing(12);
  auto* down = new QVBoxLayout;
  down->setSpacing(2);
  auto* head = new QHBoxLayout;
  head->setSpacing(12);
  head->addWidget(title_);
  facts_->setObjectName(QStringLiteral("song-facts"));
  facts_->setMinimumWidth(60);
  head->addWidget(facts_, 1);
  down->addLayout(head);
  down->addWidget(strip_, 1);
  down->addSpacing(6);
  down->addWidget(bars_);
  across->addLayout(down, 1);
  auto* side = new QVBoxLayout;
  side->setSpacing(2);
  tabs_->setObjectName(QStringLiteral("arrange-tabs"));
  tabs_->setPurpose(tr("Card"));
  tabs_->setFixedWidth(kSideWidth);
  tabs_->addWord(tr("Section"), tr("What it plays, how often, how loud and by whom"));
  tabs_->addWord(tr("Tempo"), tr("Typed, tapped, by relation, evenly to the next"));
  tabs_->addWord(tr("Fill"), tr("How its passes end"));
  tabs_->addWord(tr("Form"), tr("The song as text; what is done with a section as a whole"));
  side->addWidget(tabs_);
  for (FieldCard* card : {static_cast<FieldCard*>(section_), static_cast<FieldCard*>(tempo_),
                          static_cast<FieldCard*>(fills_), static_cast<FieldCard*>(form_)}) {
    card->setFixedWidth(kSideWidth);
    side->addWidget(card, 1);
    connect(card, &FieldCard::refused, this, &ArrangeStage::refused);
  }
  across->addLayout(side);
  setFocusProxy(strip_);
  connect(tabs_, &WordTabs::chosen, this, [this](int i) { showSide(static_cast<Side>(i)); });
  connect(&arranging_, &Arranging::said, this, &ArrangeStage::said);
  connect(&arranging_, &Arranging::refused, this, &ArrangeStage::refused);
  connect(&arranging_, &Arranging::changed, this, &ArrangeStage::readTitle);
  connect(strip_, &StripView::openWanted, &arranging_, &Arranging::open);
  connect(bars_, &BarsRow::openWanted, &arranging_, &Arranging::open);
  connect(&arranging_, &Arranging::opened, this,
          [this] { Q_EMIT stageWanted(QStringLiteral("strike")); });
  connect(fills_, &FillCard::hearWanted, this, &ArrangeStage::hearFill);
  connect(form_, &FormCard::frameWanted, this, &ArrangeStage::askFrame);
  connect(&transport_, &Transport::moved, this, &ArrangeStage::lookAtPlayhead);
  showSide(Side::kSection);
  readTitle();
}

void ArrangeStage::showSide(Side side) {
  FieldCard* const cards[] = {section_, tempo_, fills_, form_};
  for (FieldCard* card : cards) card->setVisible(card == cards[static_cast<int>(side)]);
  tabs_->setCurrent(static_cast<int>(side));
}

void ArrangeStage::readTitle() {
  const Score* score = arranging_.document().songScore();
  if (score == nullptr) {
    const auto& error = arranging_.document().songError();
    return facts_->setText(error ? qs(error->message) : QString());
  }
  const double seconds = score->tempo.msAt(score->length).count() / 1000;
  const int minutes = static_cast<int>(seconds) / 60;
  facts_->setText(tr("%1 · %2:%3 · height is loudness, colour the feel")
                      .arg(score->bars == 1 ? tr("1 bar") : tr("%1 bars").arg(score->bars))
                      .arg(minutes)
                      .arg(static_cast<int>(seconds) % 60, 2, 10, QLatin1Char('0')));
}

void ArrangeStage::showEvent(QShowEvent* event) {
  Stage::showEvent(event);
  // Where the groove at hand stands.
  if (const auto at = editing_.document().at()) {
    if (at->section != arranging_.section()) arranging_.choose(at->section);
  }
  lookAtPlayhead();
}

void ArrangeStage::hideEvent(QHideEvent* event) {
  stopHearing();
  Stage::hideEvent(event);
}

void ArrangeStage::lookAtPlayhead() {
  if (!isVisible()) return;
  const auto& head = transport_.playhead();
  strip_->setPlayhead(head && !head->counting ? std::optional(head->song) : std::nullopt);
}

void ArrangeStage::hearFill() {
  if (hears_) {
    transport_.stop();
    return stopHearing();
  }
  if (!fills_->preview()) return Q_EMIT refused(tr("There is no fill to hear"));
  const Section& section = arranging_.chosen();
  const std::string base = section.pass().back();
  editing_.document().choosePlace(base, {arranging_.section(), section.repeat - 1});
  Groove groove = *fills_->preview();
  groove.id = base;
  Heard heard = transport_.heard();
  heard.groove = SharedValue<Groove>(std::move(groove));
  transport_.setHeard(heard);
  rangeBefore_ = static_cast<int>(transport_.range());
  transport_.setRange(Transport::Range::kGroove);
  hears_ = true;
  if (!transport_.playing()) transport_.play();
  Q_EMIT said(tr("Heard: the fill in its place; again: stop"));
}

void ArrangeStage::stopHearing() {
  if (!hears_) return;
  hears_ = false;
  Heard heard = transport_.heard();
  heard.groove.reset();
  transport_.setHeard(heard);
  transport_.setRange(static_cast<Transport::Range>(rangeBefore_));
}

bool ArrangeStage::copy() {
  QGuiApplication::clipboard()->setText(qs(formText(arranging_.song())));
  Q_EMIT said(tr("The form is on the clipboard as text"));
  return true;
}

bool ArrangeStage::intoSong() {
  arranging_.add(editing_.document().grooveId());
  return true;
}

void ArrangeStage::zoom(double by) {
  strip_->zoom(by);
}

void ArrangeStage::askFrame() {
  const QString path = prompts_.fileToOpen(this, tr("The song's MIDI file"), QDir::homePath(),
                                           tr("MIDI files (*.mid *.midi)"));
  if (!path.isEmpty()) layOutFrame(path);
}

void ArrangeStage::layOutFrame(const QString& path) {
  const Result<std::string> bytes = files_.read(path.toStdString());
  const Result<SongFrame> frame =
      bytes ? readFrame(*bytes, QFileInfo(path).fileName().toStdString()) : bytes.error();
  if (!frame) return Q_EMIT failed(tr("Not read. %1").arg(qs(frame.error().line())));
  Result<FramedSong> framed = withFrame(arranging_.song(), *frame);
  if (!framed) return Q_EMIT failed(tr("Not laid out. %1").arg(qs(framed.error().message)));
  const QString note = qs(framed->note);
  if (!arranging_.apply(tr("Frame of %1").arg(QFileInfo(path).fileName()), std::move(framed->song)))
    return;
  strip_->setBand(frame->density);
  Q_EMIT said(note);
}

}  // namespace uneven
