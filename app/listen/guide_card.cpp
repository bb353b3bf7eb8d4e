// SPDX-License-Identifier: GPL-3.0-or-later
// The guide's card.
#include "app/listen/guide_card.h"

#include <QCheckBox>
#include <QFileInfo>
#include <QGridLayout>
#include <QVBoxLayout>

#include "app/controls/action_button.h"
#include "app/controls/card_scroll.h"
#include "app/controls/labels.h"
#include "app/controls/number_field.h"
#include "app/edit/editing.h"
#include "app/play/transport.h"
#include "core/match/taps.h"

namespace uneven {

GuideCard::GuideCard(Editing& editing, Listener& listener, Transport& transport, QWidget* parent)
    : Card(parent), editing_(editing), listener_(listener), transport_(transport) {
  setObjectName(QStringLiteral("guide-card"));
  auto* down = new QVBoxLayout(this);
  down->setContentsMargins(16, 14, 16, 14);
  down->setSpacing(6);
  const auto button = [&](const QString& text, const char* name, const QString& tip) {
    auto* made = new ActionButton(text, ActionButton::Tone::kQuiet, this);
    made->setObjectName(QLatin1String(name));
    made->setToolTip(tip);
    down->addWidget(made);
    return made;
  };
  const auto check = [&](const QString& text, const char* name, const QString& tip) {
    auto* made = new QCheckBox(text, this);
    made->setObjectName(QLatin1String(name));
    made->setToolTip(tip);
    down->addWidget(made);
    return made;
  };
  down->addWidget(strongLabel(tr("Beside the part"), 16, this));
  file_ = wrappedLabel({}, this);
  file_->setObjectName(QStringLiteral("guide-file"));
  down->addWidget(file_);
  beside_ = button(tr("Hear it beside my part"), "guide-beside",
                   tr("The song keeps the recording, with bar 1 where it was found"));
  on_ = check(tr("plays along"), "guide-on",
              tr("The recording sounds with the part, at every tempo, at its own pitch: key G"));
  alone_ = check(tr("only the recording"), "guide-alone",
                 tr("The part is silent; the click is not: Shift+G"));
  auto* grid = new QGridLayout;
  grid->setColumnStretch(1, 1);
  const double most = kGuideOffsetMost.count();
  offset_ = new NumberField(tr("ms"), {-most, most, 1, 1, false}, this);
  offset_->setObjectName(QStringLiteral("guide-offset"));
  offset_->setToolTip(tr("Where in the recording the song begins, in ms"));
  level_ =
      new NumberField(tr("dB"), {Transport::kGuideMin, Transport::kGuideMax, 1, 0, true}, this);
  level_->setObjectName(QStringLiteral("guide-level"));
  level_->setToolTip(tr("How loud the recording is beside the part, in dB: begin low"));
  grid->addWidget(fieldLabel(tr("Song begins at"), offset_, this), 0, 0);
  grid->addWidget(offset_, 0, 1);
  grid->addWidget(fieldLabel(tr("Level"), level_, this), 1, 0);
  grid->addWidget(level_, 1, 1);
  down->addLayout(grid);
  away_ = button(tr("No recording beside it"), "guide-away",
                 tr("The song forgets it; the file stays where it is"));
  down->addSpacing(10);
  down->addWidget(strongLabel(tr("Tap its beat"), 13, this));
  along_ = button(tr("Play the recording"), "guide-along",
                  tr("By itself, from the chosen bar on: key P"));
  taps_ = wrappedLabel({}, this);
  taps_->setObjectName(QStringLiteral("guide-taps"));
  down->addWidget(taps_);
  use_ = button(tr("Use the taps"), "use-taps", tr("Tempo, beat and meter go by them"));
  drop_ = button(tr("Forget the taps"), "forget-taps", tr("Begin anew"));
  down->addStretch(1);
  connect(beside_, &QPushButton::clicked, this, &GuideCard::besideWanted);
  connect(along_, &QPushButton::clicked, this, &GuideCard::alongWanted);
  connect(use_, &QPushButton::clicked, this, &GuideCard::tapsWanted);
  connect(drop_, &QPushButton::clicked, this, &GuideCard::tapsDropped);
  connect(away_, &QPushButton::clicked, this, [this] {
    Song song = editing_.document().song();
    song.audio.reset();
    editing_.document().apply(tr("No recording beside the part"), std::move(song));
  });
  const auto plan = [this](auto change) {
    Transport::GuidePlan now = transport_.guide();
    change(now);
    transport_.setGuide(now);
  };
  connect(on_, &QCheckBox::clicked, this,
          [plan](bool on) { plan([on](Transport::GuidePlan& p) { p.on = on; }); });
  connect(alone_, &QCheckBox::clicked, this,
          [plan](bool on) { plan([on](Transport::GuidePlan& p) { p.alone = on; }); });
  connect(level_, &NumberField::edited, this,
          [plan](double db, bool) { plan([db](Transport::GuidePlan& p) { p.levelDb = db; }); });
  connect(offset_, &NumberField::edited, this, [this](double ms, bool stepped) {
    static const int key = Document::newMergeKey();
    Song song = editing_.document().song();
    if (!song.audio) return;
    song.audio->offset = Milliseconds(ms);
    editing_.document().apply(
        tr("The song begins at %1 of the recording").arg(plainMs(Milliseconds(ms))),
        std::move(song), {stepped ? key : 0, true});
  });
  connect(offset_, &NumberField::refused, this, &GuideCard::refused);
  connect(level_, &NumberField::refused, this, &GuideCard::refused);
  connect(&editing_.document(), &Document::changed, this, &GuideCard::read);
  connect(&listener_, &Listener::changed, this, &GuideCard::read);
  connect(&transport_, &Transport::changed, this, &GuideCard::read);
  setTaps(0, 0);
  read();
}

void GuideCard::read() {
  const std::optional<Guide>& audio = editing_.document().song().audio;
  const Recording* take = listener_.recording();
  const bool sounds = take != nullptr && !take->energy.empty();
  QString words = tr("The song has no recording beside it.");
  if (audio) {
    words = QFileInfo(qs(audio->file)).fileName();
    if (transport_.guide().on && transport_.guideDesk().reading()) words += tr(": being read…");
    if (transport_.guide().on && !transport_.guideDesk().reading() &&
        transport_.guideDesk().voice() == nullptr)
      words += tr(": cannot be read");
  }
  setWrapped(*file_, words);
  beside_->setEnabled(sounds && listener_.found() != nullptr);
  along_->setEnabled(sounds);
  along_->setText(transport_.playsRecording() && transport_.playing() ? tr("Stop the recording")
                                                                      : tr("Play the recording"));
  for (QWidget* w : {static_cast<QWidget*>(on_), static_cast<QWidget*>(alone_),
                     static_cast<QWidget*>(offset_), static_cast<QWidget*>(away_)})
    w->setEnabled(audio.has_value());
  on_->setChecked(transport_.guide().on);
  alone_->setChecked(transport_.guide().alone);
  level_->setValue(transport_.guide().levelDb);
  offset_->setValue(audio ? std::optional(audio->offset.count()) : std::nullopt);
}

void GuideCard::setTaps(std::size_t beats, std::size_t bars) {
  setWrapped(*taps_, beats + bars == 0
                         ? tr("While it plays: K on each beat, B on a bar line.")
                         : tr("%1 taps, %2 of them bar lines").arg(beats + bars).arg(bars));
  use_->setEnabled(beats + bars >= kTapsFewest);
  drop_->setEnabled(beats + bars > 0);
}

}  // namespace uneven
