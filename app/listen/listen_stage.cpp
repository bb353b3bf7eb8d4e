// SPDX-License-Identifier: GPL-3.0-or-later
// The Listen stage.
#include "app/listen/listen_stage.h"

#include <QDragEnterEvent>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QMimeData>
#include <QVBoxLayout>
#include <algorithm>

#include "app/controls/card.h"
#include "app/controls/labels.h"
#include "app/controls/prompts.h"
#include "app/listen/measured_card.h"
#include "app/listen/rows_view.h"
#include "core/base/number.h"
#include "core/match/song_of.h"

namespace uneven {

ListenStage::ListenStage(const Workplace& place, QWidget* parent)
    : Stage(parent),
      editing_(place.editing),
      prompts_(place.prompts),
      listener_(place.files),
      rows_(new RowsView(listener_, this)),
      card_(new MeasuredCard(listener_, this)) {
  auto* across = new QHBoxLayout(this);
  across->setContentsMargins(0, 6, 14, 6);
  across->setSpacing(6);
  auto* down = new QVBoxLayout;
  down->addWidget(rows_, 1);
  auto* legend = quietLabel(
      tr("A row is a bar, a mark a stroke, a line where the feel puts the slot. A click on a bar's "
         "number makes it bar 1, one on a mark leaves it out; drag the counts to move the beat."),
      this);
  legend->setWordWrap(true);
  legend->setContentsMargins(20, 0, 20, 6);
  down->addWidget(legend);
  across->addLayout(down, 1);
  card_->setFixedWidth(Card::kWidth + 20);
  across->addWidget(card_);
  setFocusProxy(rows_);
  setAcceptDrops(true);
  connect(&listener_, &Listener::failed, this, &ListenStage::failed);
  connect(card_, &MeasuredCard::openWanted, this, &ListenStage::askForTake);
  connect(card_, &MeasuredCard::feelWanted, this, &ListenStage::makeFeel);
  connect(card_, &MeasuredCard::tempoWanted, this, &ListenStage::followTempo);
  connect(card_, &MeasuredCard::grooveWanted, this, &ListenStage::makeGroove);
  connect(rows_, &RowsView::keyed, this, &ListenStage::key);
  connect(rows_, &RowsView::barOneWanted, this, [this](std::int64_t bar) {
    const Fit* fit = listener_.found();
    if (fit == nullptr || bar == 0) return;
    startAt(fit->grid.line.secondsAt(static_cast<double>(bar) *
                                     fit->grid.meter.barLength().toDouble()));
  });
  connect(rows_, &RowsView::movedBeat, this, [this](double seconds) {
    if (const Fit* fit = listener_.found()) startAt(fit->start + seconds);
  });
}

void ListenStage::askForTake() {
  const QString file =
      prompts_.fileToOpen(this, tr("Open a take"), folder_,
                          tr("Takes (*.wav *.flac *.ogg *.mp3 *.aiff *.mid *.csv);;All files (*)"));
  if (file.isEmpty()) return;
  folder_ = QFileInfo(file).path();
  listener_.open(file);
}

void ListenStage::startAt(double seconds) {
  FitWanted wanted = listener_.wanted();
  wanted.where.start = seconds;
  // The grid that was given by hand is there for the beat; lean stays as it was measured.
  if (!wanted.against && listener_.found() != nullptr) wanted.against = listener_.found()->against;
  listener_.setWanted(std::move(wanted));
}

void ListenStage::key(QChar letter) {
  const Fit* fit = listener_.found();
  if (fit == nullptr) return;
  FitWanted wanted = listener_.wanted();
  const auto tempo = [&](double times) {
    const double bpm = fit->bpm * times;
    if (bpm < kBpmMin || bpm > kBpmMax) return Q_EMIT refused(tr("No tempo is so far away"));
    wanted.where.bpm = bpm;
    listener_.setWanted(std::move(wanted));
  };
  switch (letter.toLower().unicode()) {
    case 'h':
      return tempo(0.5);
    case 'd':
      return tempo(2);
    case 'e': {
      const double eighth = fit->grid.line.periodAt(0) / 2;
      return startAt(fit->start + (letter.isUpper() ? -eighth : eighth));
    }
    case 'm': {
      static const Meter kMeters[] = {{4, 4}, {3, 4}, {2, 4}, {5, 4}, {6, 8}, {7, 8}};
      const auto* here = std::find(std::begin(kMeters), std::end(kMeters), fit->grid.meter);
      const bool last = here == std::end(kMeters) || here + 1 == std::end(kMeters);
      wanted.where.meter = last ? kMeters[0] : *(here + 1);
      return listener_.setWanted(std::move(wanted));
    }
    default:
      break;
  }
}

const Fit* ListenStage::worthwhile() {
  const Fit* fit = listener_.found();
  if (fit != nullptr && fit->confidence >= kWorthwhile) return fit;
  Q_EMIT refused(tr("There is no beat in it that could be used"));
  return nullptr;
}

QString ListenStage::takeName() const {
  const QString name = QFileInfo(qs(listener_.recording()->file)).completeBaseName();
  return name.isEmpty() ? tr("Measured") : name;
}

void ListenStage::makeFeel() {
  const Fit* fit = worthwhile();
  if (fit == nullptr) return;
  Document& document = editing_.document();
  const QString name = takeName();
  std::string id;
  Song song =
      withNewFeel(document.song(), feelOf(*fit, {}, name.toStdString()), name.toStdString(), id);
  song = withFeelInForce(std::move(song), document.grooveId(), id);
  document.apply(tr("Feel of %1").arg(name), std::move(song));
  Q_EMIT said(
      tr("The groove has the feel of %1: %2 : 1").arg(name, numberText(fit->swing.ratio, 2)));
}

void ListenStage::followTempo() {
  const Fit* fit = worthwhile();
  if (fit == nullptr) return;
  Song song = editing_.document().song();
  song.tempo.clear();
  for (const TempoFound& mark : fit->marks) {
    song.tempo.push_back(
        {mark.at, Bpm{std::clamp(roundedTo(mark.bpm, 1'000), kBpmMin, kBpmMax)}, {}});
  }
  editing_.document().apply(tr("Tempo of %1").arg(takeName()), std::move(song));
  Q_EMIT said(fit->marks.size() == 1
                  ? tr("The song goes at %1 BPM").arg(numberText(fit->bpm, 2))
                  : tr("The song follows the take: %1 tempo marks").arg(fit->marks.size()));
}

void ListenStage::makeGroove() {
  const Fit* fit = worthwhile();
  if (fit == nullptr) return;
  Document& document = editing_.document();
  const QString name = takeName();
  const Song measured = songOf(*fit, listener_.recording()->onsets, *document.song().kit,
                               {name.toStdString(), false});
  if (measured.grooves.empty()) return;
  std::string feel, id;
  Song song =
      withNewFeel(document.song(), feelOf(*fit, {}, name.toStdString()), name.toStdString(), feel);
  Groove groove = *measured.grooves.front();
  groove.feel = feel;
  groove.name = name.toStdString();
  song = withNewGroove(std::move(song), std::move(groove), name.toStdString(), id);
  document.apply(tr("Groove of %1").arg(name), std::move(song));
  document.chooseGroove(id);
  Q_EMIT said(tr("%1 is a groove of the song").arg(name));
}

namespace {

QString droppedTake(const QMimeData* data) {
  for (const QUrl& url : data->urls()) {
    if (url.isLocalFile() && !url.toLocalFile().endsWith(QStringLiteral(".ustick")))
      return url.toLocalFile();
  }
  return {};
}

}  // namespace

void ListenStage::dragEnterEvent(QDragEnterEvent* event) {
  if (!droppedTake(event->mimeData()).isEmpty()) event->acceptProposedAction();
}

void ListenStage::dropEvent(QDropEvent* event) {
  const QString file = droppedTake(event->mimeData());
  if (file.isEmpty()) return;
  event->acceptProposedAction();
  listener_.open(file);
}

}  // namespace uneven
