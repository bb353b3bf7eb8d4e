// SPDX-License-Identifier: GPL-3.0-or-later
// The Listen stage.
#include "app/listen/listen_stage.h"

#include <QDir>
#include <QDragEnterEvent>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QMimeData>
#include <QVBoxLayout>
#include <algorithm>

#include "app/controls/card.h"
#include "app/controls/card_room.h"
#include "app/controls/labels.h"
#include "app/controls/prompts.h"
#include "app/controls/word_tabs.h"
#include "app/listen/compare_card.h"
#include "app/listen/guide_card.h"
#include "app/listen/make_card.h"
#include "app/listen/measured_card.h"
#include "app/listen/rows_view.h"
#include "app/play/play_in.h"
#include "app/play/transport.h"
#include "core/arrange/edits.h"
#include "core/base/number.h"
#include "core/match/song_of.h"
#include "core/match/taps.h"

namespace uneven {

ListenStage::ListenStage(const Workplace& place, QWidget* parent)
    : Stage(parent),
      editing_(place.editing),
      prompts_(place.prompts),
      transport_(place.transport),
      playIn_(place.playIn),
      listener_(place.listener),
      rows_(new RowsView(listener_, this)),
      tabs_(new WordTabs(this)),
      card_(new MeasuredCard(listener_, playIn_, this)),
      make_(new MakeCard(listener_, this)),
      compare_(new CompareCard(editing_, listener_, transport_, this)),
      guide_(new GuideCard(editing_, listener_, transport_, this)) {
  constexpr int kSideWidth = Card::kWidth + 30;
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
  auto* side = new QVBoxLayout;
  side->setSpacing(2);
  tabs_->setObjectName(QStringLiteral("listen-tabs"));
  tabs_->setPurpose(tr("Card"));
  tabs_->setFixedWidth(kSideWidth);
  tabs_->addWord(tr("Found"), tr("Tempo, swing and lean, each with its error"));
  tabs_->addWord(tr("Make"), tr("What of it is used, and how"));
  tabs_->addWord(tr("Compare"), tr("My part beside it, place by place"));
  tabs_->addWord(tr("Guide"), tr("The recording beside the part; tapping its beat"));
  side->addWidget(tabs_);
  for (Card* card : {static_cast<Card*>(card_), static_cast<Card*>(make_),
                     static_cast<Card*>(compare_), static_cast<Card*>(guide_)}) {
    card->setFixedWidth(kSideWidth);
    side->addWidget(new CardRoom(card, this), 1);
  }
  across->addLayout(side);
  setFocusProxy(rows_);
  setAcceptDrops(true);
  connect(&listener_, &Listener::failed, this, &ListenStage::failed);
  connect(card_, &MeasuredCard::openWanted, this, &ListenStage::askForTake);
  connect(card_, &MeasuredCard::feelWanted, this, &ListenStage::makeFeel);
  connect(card_, &MeasuredCard::tempoWanted, this, &ListenStage::followTempo);
  connect(card_, &MeasuredCard::grooveWanted, this, &ListenStage::makeGroove);
  connect(card_, &MeasuredCard::takeWanted, this, &ListenStage::playTake);
  connect(make_, &MakeCard::songWanted, this, &ListenStage::layOutSong);
  connect(make_, &MakeCard::refused, this, &ListenStage::refused);
  connect(compare_, &CompareCard::said, this, &ListenStage::said);
  connect(compare_, &CompareCard::refused, this, &ListenStage::refused);
  connect(compare_, &CompareCard::looked, rows_, &RowsView::setPlace);
  connect(compare_, &CompareCard::compared, this, [this] {
    const Fit* fit = listener_.found();
    const Document& document = editing_.document();
    if (fit == nullptr || !compare_->isVisible() || compare_->found() == nullptr)
      return rows_->setMine({}, 1, 500);
    rows_->setMine(strokesOfMine(document.take(), *fit), document.groove().bars,
                   document.tempo().quarter().count());
  });
  connect(guide_, &GuideCard::besideWanted, this, &ListenStage::putBeside);
  connect(guide_, &GuideCard::alongWanted, this, &ListenStage::playAlong);
  connect(guide_, &GuideCard::tapsWanted, this, &ListenStage::useTaps);
  connect(guide_, &GuideCard::tapsDropped, this, &ListenStage::forgetTaps);
  connect(guide_, &GuideCard::refused, this, &ListenStage::refused);
  connect(tabs_, &WordTabs::chosen, this, [this](int i) { showSide(static_cast<Side>(i)); });
  showSide(Side::kFound);
  connect(rows_, &RowsView::keyed, this, &ListenStage::key);
  connect(rows_, &RowsView::barOneWanted, this, [this](std::int64_t bar) {
    const Fit* fit = listener_.found();
    if (fit == nullptr || bar == 0) return;
    startAt(Seconds(fit->grid.line.secondsAt(static_cast<double>(bar) *
                                             fit->grid.meter.barLength().toDouble())));
  });
  connect(rows_, &RowsView::movedBeat, this, [this](double seconds) {
    if (const Fit* fit = listener_.found()) startAt(fit->start + Seconds(seconds));
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

void ListenStage::startAt(Seconds moment) {
  FitWanted wanted = listener_.wanted();
  wanted.where.start = moment;
  // The grid that was given by hand is there for the beat; lean stays as it was measured.
  if (!wanted.against && listener_.found() != nullptr) wanted.against = listener_.found()->against;
  listener_.setWanted(std::move(wanted));
}

void ListenStage::showSide(Side side) {
  Card* const cards[] = {card_, make_, compare_, guide_};
  for (Card* card : cards) card->setVisible(card == cards[static_cast<int>(side)]);
  tabs_->setCurrent(static_cast<int>(side));
}

void ListenStage::key(QChar letter) {
  const auto guide = [this](auto change) {
    Transport::GuidePlan plan = transport_.guide();
    change(plan);
    transport_.setGuide(plan);
  };
  switch (letter.toLower().unicode()) {
    case 'k':
    case 'b':
      return tap(letter.toLower() == QLatin1Char('b'));
    case 'n':
      showSide(Side::kCompare);
      return compare_->step(letter.isUpper() ? -1 : 1);
    case 'p':
      return playAlong();
    case 'r':
      return playTake();
    case 'g':
      return guide([&](Transport::GuidePlan& p) { (letter.isUpper() ? p.alone : p.on) ^= true; });
    case '1':
    case '2':
    case '3': {
      constexpr CompareCard::Ear kEars[] = {CompareCard::Ear::kStraight, CompareCard::Ear::kMine,
                                            CompareCard::Ear::kTheirs};
      showSide(Side::kCompare);
      return compare_->hear(kEars[letter.unicode() - '1']);
    }
    default:
      break;
  }
  const Fit* fit = listener_.found();
  if (fit == nullptr) return;
  FitWanted wanted = listener_.wanted();
  const auto tempo = [&](double times) {
    const Bpm bpm = fit->bpm * times;
    if (bpm.value < kBpmMin || bpm.value > kBpmMax)
      return Q_EMIT refused(tr("No tempo is so far away"));
    wanted.where.bpm = bpm;
    wanted.where.swing.reset();
    listener_.setWanted(std::move(wanted));
  };
  switch (letter.toLower().unicode()) {
    case 'h':
      return tempo(0.5);
    case 'd':
      return tempo(2);
    case 'e': {
      const Seconds eighth(fit->grid.line.periodAt(0) / 2);
      return startAt(fit->start + (letter.isUpper() ? -eighth : eighth));
    }
    case 'o': {
      const auto [from, to] = rows_->chosenBars();
      return listener_.onlyBars(from, to);
    }
    case 'a': {
      // The next of what it may mean, round.
      const std::vector<ReadingTold>& readings = listener_.readings();
      if (readings.size() < 2) return Q_EMIT refused(tr("There is no other reading of it"));
      std::size_t here = 0;
      for (std::size_t i = 0; i < readings.size(); ++i) {
        if (wanted.where.bpm && *wanted.where.bpm == readings[i].bpm &&
            wanted.where.meter == readings[i].meter && wanted.where.swing == readings[i].kind)
          here = i;
      }
      return listener_.takeReading((here + 1) % readings.size());
    }
    case 's':
      wanted.where.steady = !wanted.where.steady;
      Q_EMIT said(wanted.where.steady ? tr("One tempo for all of it")
                                      : tr("The tempo goes where the strokes go"));
      return listener_.setWanted(std::move(wanted));
    case 'm': {
      static const Meter kMeters[] = {{4, 4}, {3, 4}, {2, 4}, {5, 4}, {6, 4},
                                      {6, 8}, {7, 8}, {9, 8}, {12, 8}};
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
  Song song = withNewFeel(
      document.song(), feelOf(*fit, {}, name.toStdString(), *document.song().kit, make_->parts()),
      name.toStdString(), id);
  song = withFeelInForce(std::move(song), document.grooveId(), id, document.at());
  document.apply(tr("Feel of %1").arg(name), std::move(song));
  Q_EMIT said(
      tr("The groove has the feel of %1: %2 : 1").arg(name, numberText(fit->swing.ratio, 2)));
}

void ListenStage::followTempo() {
  const Fit* fit = worthwhile();
  if (fit == nullptr) return;
  const Followed followed = follow(*fit, listener_.recording()->onsets, make_->follow());
  editing_.document().apply(tr("Tempo of %1").arg(takeName()),
                            withTempoOf(editing_.document().song(), followed));
  Q_EMIT said(
      followed.marks.size() == 1
          ? tr("The song goes at %1 BPM").arg(numberText(followed.marks.front().bpm.value, 2))
          : tr("The song follows the take: %1 tempo marks").arg(followed.marks.size()));
}

void ListenStage::layOutSong() {
  const Fit* fit = worthwhile();
  if (fit == nullptr) return;
  Document& document = editing_.document();
  const QString name = takeName();
  const std::vector<Onset>& onsets = listener_.recording()->onsets;
  const Followed followed = follow(*fit, onsets, make_->follow());
  TakeLaidOut laid = withTakeLaidOut(document.song(), *fit, onsets, name.toStdString(),
                                     make_->parts(), make_->nudges(), followed);
  if (!listener_.recording()->energy.empty())
    laid.song = withGuide(std::move(laid.song), guideOf(followed.start));
  const std::size_t sections = laid.song.arrangement.size();
  if (!document.apply(tr("Song laid out as %1").arg(name), std::move(laid.song))) return;
  if (!laid.first.empty()) document.chooseGroove(laid.first);
  Q_EMIT said(tr("The song has %1 sections of %2 grooves").arg(sections).arg(laid.grooves));
}

bool ListenStage::intoSong() {
  if (listener_.found() == nullptr) return false;
  layOutSong();
  return true;
}

// The recording as the song names it, its song beginning there.
Guide ListenStage::guideOf(Seconds start) const {
  QString file = QFileInfo(qs(listener_.recording()->file)).absoluteFilePath();
  if (const QString path = editing_.document().path(); !path.isEmpty())
    file = QFileInfo(path).absoluteDir().relativeFilePath(file);
  return {file.toStdString(), offsetOf(start), {}};
}

void ListenStage::putBeside() {
  const Fit* fit = listener_.found();
  const Recording* recording = listener_.recording();
  if (fit == nullptr || recording == nullptr || recording->energy.empty())
    return Q_EMIT refused(tr("Only a recording in sound can play beside the part"));
  editing_.document().apply(
      tr("%1 beside the part").arg(takeName()),
      withGuide(editing_.document().song(),
                guideOf(follow(*fit, recording->onsets, make_->follow()).start)));
  Transport::GuidePlan plan = transport_.guide();
  plan.on = true;
  transport_.setGuide(plan);
  Q_EMIT said(tr("%1 plays beside the part: G turns it off").arg(takeName()));
}

void ListenStage::playAlong() {
  if (transport_.playsRecording() && transport_.playing()) return transport_.stop();
  const Recording* recording = listener_.recording();
  if (recording == nullptr || recording->energy.empty())
    return Q_EMIT refused(tr("There is no recording that could be played"));
  double from = 0;
  if (const Fit* fit = listener_.found())
    from = fit->grid.line.secondsAt(static_cast<double>(rows_->currentBar()) *
                                    fit->grid.meter.barLength().toDouble());
  transport_.playRecording(qs(recording->file), from);
}

void ListenStage::tap(bool bar) {
  const auto at = transport_.recordingAt(std::chrono::steady_clock::now());
  if (!at) return Q_EMIT refused(tr("Taps go along with the recording: P plays it"));
  (bar ? bars_ : beats_).push_back(*at);
  showSide(Side::kGuide);
  guide_->setTaps(beats_.size(), bars_.size());
}

void ListenStage::forgetTaps() {
  beats_.clear();
  bars_.clear();
  guide_->setTaps(0, 0);
}

void ListenStage::useTaps() {
  const std::optional<Tapped> found = tapped(beats_, bars_);
  if (!found) return Q_EMIT refused(tr("No tempo comes of these taps: tap at least four beats"));
  FitWanted wanted = listener_.wanted();
  wanted.where.bpm = found->bpm;
  wanted.where.start = found->start;
  if (found->meter) wanted.where.meter = found->meter;
  listener_.setWanted(std::move(wanted));
  Q_EMIT said(tr("The beat goes by %1 taps: %2 BPM")
                  .arg(beats_.size() + bars_.size())
                  .arg(numberText(found->bpm.value, 1)));
  forgetTaps();
}

void ListenStage::playTake() {
  if (!playIn_.taking()) return playIn_.startTake();
  const std::vector<NoteIn> notes = playIn_.endTake();
  const Kit& kit = *editing_.document().song().kit;
  Recording made;
  made.file = tr("Take %1").arg(takes_ + 1).toStdString();
  NoteReader reader;
  for (const NoteIn& note : notes) {
    const auto struck = reader.read(note, transport_.sound().portMap(), kit);
    if (!struck) continue;
    Onset o;
    o.seconds = std::chrono::duration<double>(note.when - notes.front().when).count();
    o.piece = struck->piece;
    o.velocity = struck->velocity.value();
    o.opening = struck->opening;
    made.onsets.push_back(o);
  }
  if (made.onsets.empty()) return Q_EMIT refused(tr("Nothing was played"));
  std::stable_sort(made.onsets.begin(), made.onsets.end(),
                   [](const Onset& a, const Onset& b) { return a.seconds < b.seconds; });
  made.seconds = made.onsets.back().seconds;
  ++takes_;
  listener_.take(std::move(made));
}

void ListenStage::makeGroove() {
  const Fit* fit = worthwhile();
  if (fit == nullptr) return;
  Document& document = editing_.document();
  const QString name = takeName();
  const Song measured = songOf(*fit, listener_.recording()->onsets, *document.song().kit,
                               {name.toStdString(), make_->nudges()});
  if (measured.grooves.empty()) return;
  std::string feel, id;
  Song song = withNewFeel(
      document.song(), feelOf(*fit, {}, name.toStdString(), *document.song().kit, make_->parts()),
      name.toStdString(), feel);
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
