// SPDX-License-Identifier: GPL-3.0-or-later
// The Rehearse stage.
#include "app/rehearse/rehearse_stage.h"

#include <QClipboard>
#include <QDir>
#include <QFileInfo>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QVBoxLayout>

#include "app/controls/action_button.h"
#include "app/controls/labels.h"
#include "app/controls/prompts.h"
#include "app/controls/theme.h"
#include "app/controls/word_tabs.h"
#include "app/rehearse/click_card.h"
#include "app/rehearse/distance_view.h"
#include "app/rehearse/how_card.h"
#include "app/rehearse/log_card.h"
#include "app/rehearse/plan_card.h"
#include "app/rehearse/played_view.h"
#include "app/rehearse/stairs_view.h"
#include "app/rehearse/steps_row.h"
#include "app/rehearse/today_card.h"
#include "core/io/atomic_save.h"
#include "core/midi/onsets.h"
#include "core/midi/smf.h"

namespace uneven {
namespace {

// All cautions, over the stage until they have been read.
class CautionPanel : public QWidget {
 public:
  CautionPanel(QWidget* parent, std::function<void()> read)
      : QWidget(parent), read_(std::move(read)) {
    setFocusPolicy(Qt::StrongFocus);
    setObjectName(QStringLiteral("cautions"));
    setAccessibleName(RehearseStage::tr("Cautions"));
    auto* around = new QVBoxLayout(this);
    auto* card = new Card(this);
    card->setFixedWidth(600);
    auto* down = new QVBoxLayout(card);
    down->setContentsMargins(28, 22, 28, 20);
    down->setSpacing(10);
    down->addWidget(strongLabel(RehearseStage::tr("Before you practise"), 18, card));
    const QString lines[] = {
        RehearseStage::tr("Warm up: some minutes slowly and softly, hands and feet."),
        RehearseStage::tr("Rest at least as long as you have played hard. No plan here asks for "
                          "more minutes than you chose, and long days have breaks."),
        RehearseStage::tr("Stop at pain, numbness or tingling, and see a physician or a "
                          "physiotherapist who knows musicians. Do not play through it."),
        RehearseStage::tr(
            "Go up slowly: a week with a third more than the one before is warned of. "
            "Tendons follow later than eagerness."),
        RehearseStage::tr("Your ears: keep the level low, and wear protection at the kit. (A "
                          "common limit at work is 85 dB(A) over eight hours, half the time for "
                          "each 3 dB more: NIOSH 1998.) Local rules come first."),
        RehearseStage::tr("The limits of hands and feet that the program reckons with are from "
                          "memory and common practice, not measured on you.")};
    for (const QString& line : lines) {
      auto* label = new QLabel(line, card);
      label->setWordWrap(true);
      label->setFont(theme::font(14));
      down->addWidget(label);
    }
    auto* button =
        new ActionButton(RehearseStage::tr("I have read this"), ActionButton::Tone::kMain, card);
    button->setObjectName(QStringLiteral("cautions-read"));
    button->setToolTip(RehearseStage::tr("They stay under Practice, Cautions (Enter)"));
    QObject::connect(button, &QPushButton::clicked, this, read_);
    down->addWidget(button, 0, Qt::AlignRight);
    around->addWidget(card, 0, Qt::AlignCenter);
  }

 protected:
  void keyPressEvent(QKeyEvent* event) override {
    const int key = event->key();
    if (key == Qt::Key_Return || key == Qt::Key_Enter || key == Qt::Key_Escape) return read_();
    event->ignore();
  }
  void paintEvent(QPaintEvent* /*event*/) override {
    QPainter p(this);
    QColor veil = theme::kPaper;
    veil.setAlpha(225);
    p.fillRect(rect(), veil);
  }

 private:
  std::function<void()> read_;
};

}  // namespace

RehearseStage::RehearseStage(const Workplace& place, QWidget* parent)
    : Stage(parent),
      files_(place.files),
      prompts_(place.prompts),
      rehearsing_(place.editing, place.transport, place.playIn, place.checker, place.practiceLog,
                  nullptr),
      title_(strongLabel({}, 16, this)),
      facts_(quietLabel({}, this)),
      stairs_(new StairsView(rehearsing_, this)),
      stepsTitle_(quietLabel({}, this)),
      steps_(new StepsRow(rehearsing_, this)),
      played_(new PlayedView(rehearsing_, this)),
      tabs_(new WordTabs(this)),
      distance_(new DistanceView(rehearsing_, this)) {
  constexpr int kSideWidth = Card::kWidth + 30;
  auto* across = new QHBoxLayout(this);
  across->setContentsMargins(20, 10, 14, 8);
  across->setSpacing(12);
  auto* down = new QVBoxLayout;
  down->setSpacing(3);
  const auto heading = [&](QLabel* strong, QLabel* quiet) {
    auto* head = new QHBoxLayout;
    head->setSpacing(12);
    head->addWidget(strong);
    quiet->setMinimumWidth(60);
    head->addWidget(quiet, 1);
    down->addLayout(head);
  };
  facts_->setObjectName(QStringLiteral("rehearse-facts"));
  heading(title_, facts_);
  down->addWidget(stairs_, 5);
  down->addWidget(
      quietLabel(tr("A step is a tempo, a dot one time through: full when it was clean."), this));
  down->addSpacing(4);
  heading(strongLabel(tr("Built up"), 14, this), stepsTitle_);
  down->addWidget(steps_);
  down->addSpacing(4);
  heading(strongLabel(tr("What you played"), 14, this),
          quietLabel(tr("a stick is a stroke of yours; it leans from where it should be"), this));
  down->addWidget(played_, 4);
  across->addLayout(down, 1);
  auto* side = new QVBoxLayout;
  side->setSpacing(2);
  tabs_->setObjectName(QStringLiteral("rehearse-tabs"));
  tabs_->setPurpose(tr("Card"));
  tabs_->setFixedWidth(kSideWidth);
  tabs_->addWord(tr("Today"), tr("The ladder, and how it went"));
  tabs_->addWord(tr("How"), tr("Steps, times through, what counts as clean, pads"));
  tabs_->addWord(tr("Click"), tr("A click that helps and then leaves you alone"));
  tabs_->addWord(tr("Plan"), tr("The next days, minute by minute"));
  tabs_->addWord(tr("Log"), tr("What the days came to"));
  side->addWidget(tabs_);
  auto* today = new TodayCard(rehearsing_, this);
  plan_ = new PlanCard(rehearsing_, this);
  auto* log = new LogCard(rehearsing_, this);
  cards_ = {today, new HowCard(rehearsing_, this), new ClickCard(rehearsing_, this), plan_, log};
  for (FieldCard* card : cards_) {
    card->setFixedWidth(kSideWidth);
    side->addWidget(card, 1);
    connect(card, &FieldCard::refused, this, &RehearseStage::refused);
  }
  across->addLayout(side);
  setFocusProxy(stairs_);
  connect(tabs_, &WordTabs::chosen, this, [this](int i) { showSide(static_cast<Side>(i)); });
  connect(&rehearsing_, &Rehearsing::said, this, &RehearseStage::said);
  connect(&rehearsing_, &Rehearsing::refused, this, &RehearseStage::refused);
  connect(&rehearsing_.log(), &LogDesk::failed, this, &RehearseStage::failed);
  connect(&rehearsing_, &Rehearsing::changed, this, &RehearseStage::readTitle);
  connect(today, &TodayCard::feelsWanted, this, &RehearseStage::askFeels);
  connect(today, &TodayCard::cautionsWanted, this, [this] { showCautions(true); });
  connect(plan_, &PlanCard::calendarWanted, this, &RehearseStage::askCalendar);
  connect(plan_, &PlanCard::copyWanted, this, &RehearseStage::copy);
  connect(log, &LogCard::exportWanted, this, &RehearseStage::askExport);
  connect(log, &LogCard::importWanted, this, &RehearseStage::askImport);
  distance_->hide();
  showSide(Side::kToday);
  readTitle();
}

void RehearseStage::readTitle() {
  const std::vector<double>& rungs = rehearsing_.rungs();
  title_->setText(
      tr("%1, up to %2").arg(qs(rehearsing_.groove().name), numberText(rungs.back(), 0)));
  QString facts =
      tr("now %1 at %2 BPM").arg(qs(rehearsing_.step().title), numberText(rehearsing_.bpm(), 0));
  if (const auto comfortable = rehearsing_.comfortable(); comfortable && *comfortable > 0)
    facts += tr(" · comfortable to %1 by the player's limits").arg(numberText(*comfortable, 0));
  facts_->setText(facts);
  stepsTitle_->setText(tr("step %1 of %2; what is new in brass")
                           .arg(rehearsing_.place().step + 1)
                           .arg(rehearsing_.steps().size()));
}

void RehearseStage::showSide(Side side) {
  for (std::size_t i = 0; i < cards_.size(); ++i)
    cards_[i]->setVisible(i == static_cast<std::size_t>(side));
  tabs_->setCurrent(static_cast<int>(side));
}

void RehearseStage::showDistance(bool shown) {
  distance_->setGeometry(rect());
  distance_->setVisible(shown);
  if (shown) distance_->raise();
  if (cautions()) cautions_->raise();
}

bool RehearseStage::distance() const {
  return distance_->isVisibleTo(this);
}

void RehearseStage::showCautions(bool shown) {
  if (cautions_ == nullptr) {
    if (!shown) return;
    cautions_ = new CautionPanel(this, [this] {
      rehearsing_.change([](RehearseSettings& s) { s.cautionRead = true; });
      showCautions(false);
    });
  }
  cautions_->setGeometry(rect());
  cautions_->setVisible(shown);
  if (shown) cautions_->raise();
  setFocusProxy(shown ? cautions_ : static_cast<QWidget*>(stairs_));
  setFocus();
}

bool RehearseStage::cautions() const {
  return cautions_ != nullptr && cautions_->isVisibleTo(this);
}

void RehearseStage::showEvent(QShowEvent* event) {
  Stage::showEvent(event);
  rehearsing_.setShown(true);
  if (!rehearsing_.settings().cautionRead) showCautions(true);
}

void RehearseStage::hideEvent(QHideEvent* event) {
  rehearsing_.setShown(false);
  Stage::hideEvent(event);
}

void RehearseStage::resizeEvent(QResizeEvent* event) {
  Stage::resizeEvent(event);
  distance_->setGeometry(rect());
  if (cautions_ != nullptr) cautions_->setGeometry(rect());
}

void RehearseStage::keyPressEvent(QKeyEvent* event) {
  using Settings = RehearseSettings;
  const bool alt = event->modifiers().testFlag(Qt::AltModifier);
  const RehearsalPlace at = rehearsing_.place();
  switch (event->key()) {
    case Qt::Key_C:
      return rehearsing_.run(Settings::kClean);
    case Qt::Key_N:
      return rehearsing_.run(Settings::kNotYet);
    case Qt::Key_Return:
    case Qt::Key_Enter:
      return rehearsing_.run(Settings::kNext);
    case Qt::Key_Backspace:
      return rehearsing_.run(Settings::kBack);
    case Qt::Key_Left:
    case Qt::Key_Right: {
      const int by = event->key() == Qt::Key_Left ? -1 : 1;
      if (alt) return rehearsing_.moveStep(by);
      if (by < 0 && at.step == 0) return;
      return rehearsing_.goTo(at.step + static_cast<std::size_t>(by), at.rung);
    }
    case Qt::Key_Up:
      return rehearsing_.goTo(at.step, at.rung + 1);
    case Qt::Key_Down:
      if (at.rung > 0) rehearsing_.goTo(at.step, at.rung - 1);
      return;
    case Qt::Key_B:
      return askFeels();
    case Qt::Key_D:
      return showDistance(!distance());
    case Qt::Key_Escape:
      if (!distance()) break;
      return showDistance(false);
    case Qt::Key_L:
      return rehearsing_.measureLatency();
    case Qt::Key_S:
      return rehearsing_.takeToday();
    default:
      break;
  }
  Stage::keyPressEvent(event);
}

void RehearseStage::askFeels() {
  const QString before = rehearsing_.last() ? qs(rehearsing_.last()->felt) : QString();
  const QString what = prompts_.line(this, tr("What feels bad?"), before).trimmed();
  if (what != before) rehearsing_.feels(what);
}

void RehearseStage::askTake() {
  const QString path = prompts_.fileToOpen(this, tr("A take of this groove"), QDir::homePath(),
                                           tr("MIDI files (*.mid *.midi)"));
  if (!path.isEmpty()) scoreTake(path);
}

void RehearseStage::scoreTake(const QString& path) {
  const Song& song = rehearsing_.editing().document().song();
  const std::string name = QFileInfo(path).fileName().toStdString();
  const Result<std::string> bytes = files_.read(path.toStdString());
  const Result<MidiSequence> sequence = bytes ? readSmf(*bytes, name) : bytes.error();
  if (!sequence) return Q_EMIT failed(tr("Not read. %1").arg(qs(sequence.error().line())));
  const KitMap& map = rehearsing_.editing().document().kitMaps().orDefault(song.map);
  const MidiOnsets found = onsetsOf(*sequence, *song.kit, &map);
  const Result<Alignment> aligned = alignTake(song, rehearsing_.groove().id, found);
  if (!aligned) return Q_EMIT failed(tr("Not scored. %1").arg(qs(aligned.error().line())));
  if (found.onsets.empty()) return Q_EMIT refused(tr("The take has no strokes"));
  rehearsing_.show(*aligned);
  showSide(Side::kToday);
  Q_EMIT said(tr("%1: %2 strokes, %3 missing, %4 extra, %5 on another piece; %6")
                  .arg(qs(name))
                  .arg(aligned->all.n)
                  .arg(aligned->missing)
                  .arg(aligned->extra)
                  .arg(aligned->wrong)
                  .arg(isClean(*aligned, rehearsing_.settings().limits) ? tr("clean")
                                                                        : tr("not clean yet")));
}

void RehearseStage::askCalendar() {
  if (!rehearsing_.plan())
    return Q_EMIT refused(tr("There is no plan: %1").arg(rehearsing_.planError()));
  const QString path =
      prompts_.fileToSave(this, tr("The plan for a calendar"),
                          QDir::home().filePath(tr("practice.ics")), tr("iCalendar (*.ics)"));
  if (path.isEmpty()) return;
  const Status saved =
      saveAtomically(files_, path.toStdString(),
                     planCalendar(*rehearsing_.plan(), rehearsing_.editing().document().song()));
  if (!saved) return Q_EMIT failed(tr("Not written. %1").arg(qs(saved.error().line())));
  Q_EMIT said(tr("The plan is in %1").arg(QDir::toNativeSeparators(path)));
}

void RehearseStage::askExport() {
  const QString path =
      prompts_.fileToSave(this, tr("The practice log"), QDir::home().filePath(tr("practice.csv")),
                          tr("CSV or JSON (*.csv *.json)"));
  if (!path.isEmpty()) rehearsing_.log().exportTo(path);
}

void RehearseStage::askImport() {
  const QString path = prompts_.fileToOpen(this, tr("A practice log"), QDir::homePath(),
                                           tr("CSV or JSON (*.csv *.json)"));
  if (!path.isEmpty()) rehearsing_.log().importFrom(path);
}

bool RehearseStage::copy() {
  if (!rehearsing_.plan()) return false;
  QGuiApplication::clipboard()->setText(
      qs(planText(*rehearsing_.plan(), rehearsing_.editing().document().song())));
  Q_EMIT said(tr("The plan is on the clipboard as text"));
  return true;
}

void RehearseStage::readSettings(const QSettings& settings) {
  rehearsing_.readSettings(settings);
}

void RehearseStage::writeSettings(QSettings& settings) const {
  rehearsing_.writeSettings(settings);
}

}  // namespace uneven
