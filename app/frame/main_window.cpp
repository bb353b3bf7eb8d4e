// SPDX-License-Identifier: GPL-3.0-or-later
// The window.
#include "app/frame/main_window.h"

#include <QApplication>
#include <QCloseEvent>
#include <QDir>
#include <QDragEnterEvent>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenuBar>
#include <QMimeData>
#include <QSettings>
#include <QStackedWidget>
#include <QStatusBar>
#include <QStyle>
#include <QTimer>
#include <QVBoxLayout>
#include <algorithm>

#include "app/controls/labels.h"
#include "app/controls/notice_bar.h"
#include "app/controls/prompts.h"
#include "app/controls/theme.h"
#include "app/edit/exchange.h"
#include "app/frame/focus_keeper.h"
#include "app/frame/stage_rail.h"
#include "app/frame/top_bar.h"
#include "core/song/names.h"

namespace uneven {
namespace {

// Stages make do with the room there is: what needs more scrolls.
class StageRoom final : public QStackedWidget {
 public:
  using QStackedWidget::QStackedWidget;
  QSize minimumSizeHint() const override { return {860, 500}; }
};

// What a desktop's own edge and title take, before it has drawn them.
constexpr QSize kFrame{16, 56};

// When the window has been up for so long, the part is looked at without being asked.
constexpr int kLookAfterMs = 1'000;

QString besideUnsaved(const Surroundings& surroundings, const QString& given, const char* name) {
  if (!given.isEmpty()) return given;
  return QFileInfo(surroundings.autosaveFolder).dir().filePath(QString::fromLatin1(name));
}

}  // namespace

MainWindow::MainWindow(const Surroundings& surroundings)
    : files_(surroundings.files),
      prompts_(surroundings.prompts),
      settings_(surroundings.settings),
      practiceLog_(besideUnsaved(surroundings, surroundings.practiceLog, "practice.sqlite")),
      kitMaps_(files_, besideUnsaved(surroundings, {}, "maps").toStdString()),
      document_(surroundings.files, kitMaps_, surroundings.clock),
      fileDesk_(new FileDesk(document_, files_, surroundings.prompts, surroundings.settings, this)),
      autosave_(document_, surroundings.files, surroundings.autosaveFolder,
                surroundings.autosaveMs),
      editing_(new Editing(document_, this)),
      transport_(new Transport(*editing_, files_, surroundings.outputs, this)),
      playIn_(new PlayIn(*transport_, *editing_, this)),
      players_(new Players(
          files_, besideUnsaved(surroundings, surroundings.playersFolder, "players"), this)),
      checker_(new Checker(*editing_, *players_, this)),
      listener_(new Listener(files_, this)),
      entries_(surroundings.stages),
      made_(entries_.size(), nullptr) {
  exchange_ = new Exchange(*editing_, files_, prompts_, this);
  setAcceptDrops(true);
  buildBody(surroundings);
  connectParts();
  connectTransport();
  // The work begins with the part; Listen stands above it for who has a recording.
  const auto strike = std::find_if(entries_.begin(), entries_.end(), [](const StageEntry& e) {
    return e.id == QStringLiteral("strike");
  });
  showStage(strike == entries_.end() ? entries_.front().id : strike->id);
  listActions();
  fillMenus();
  setMinimumSize(kLeast);
  resize(QSize(1280, 800).boundedTo(screen()->availableSize() - kFrame).expandedTo(kLeast));
  restoreGeometry(settings_.value(QStringLiteral("window/geometry")).toByteArray());
  showFile();
  editing_->moveCursor(Beat(0), piece::kHat);
  made_[shown_]->setFocus();
  new FocusKeeper(*this, [this] { return made_[shown_]; });
  QTimer::singleShot(kLookAfterMs, checker_, &Checker::begin);
}

// The fields go first: one that loses the focus as it goes takes what was typed, and tells us.
MainWindow::~MainWindow() {
  // A recording is a gesture of the document, which goes before its children do.
  playIn_->setRecording(false);
  delete takeCentralWidget();
}

void MainWindow::buildBody(const Surroundings& surroundings) {
  auto* body = new QWidget(this);
  auto* down = new QVBoxLayout(body);
  down->setContentsMargins(0, 0, 0, 0);
  down->setSpacing(0);
  topBar_ = new TopBar(document_, *transport_, surroundings.clock, body);
  down->addWidget(topBar_);
  auto* across = new QHBoxLayout;
  across->setSpacing(0);
  rail_ = new StageRail(body);
  for (std::size_t i = 0; i < entries_.size(); ++i) {
    rail_->addStage(QString(entries_[i].title).remove(QLatin1Char('&')),
                    tr("%1: Alt+%2").arg(entries_[i].purpose).arg((i + 1) % 10));
  }
  across->addWidget(rail_);
  stages_ = new StageRoom(body);
  across->addWidget(stages_, 1);
  down->addLayout(across, 1);
  notice_ = new NoticeBar(*stages_);
  setCentralWidget(body);
  status_ = new QLabel(this);
  status_->setTextFormat(Qt::PlainText);
  status_->setObjectName(QStringLiteral("status"));
  status_->setContentsMargins(18, 0, 0, 0);
  statusBar()->addWidget(status_, 1);
  theme::makeBar(*statusBar());
  theme::makeBar(*menuBar());
  statusBar()->setSizeGripEnabled(false);
}

void MainWindow::connectParts() {
  const auto say = [this](const QString& what) { this->say(what); };
  const auto warn = [this](const QString& what) { this->warn(what); };
  connect(&document_, &Document::said, this, say);
  connect(editing_, &Editing::said, this, say);
  connect(fileDesk_, &FileDesk::said, this, say);
  connect(fileDesk_, &FileDesk::failed, this, warn);
  connect(fileDesk_, &FileDesk::wanted, this, [this, say] {
    setWindowState(windowState() & ~Qt::WindowMinimized);
    show();
    raise();
    activateWindow();
    say(tr("This song was to be opened once more: it is open here"));
  });
  connect(fileDesk_, &FileDesk::readingBegan, this, [this](const QString& name) {
    stages_->setEnabled(false);
    topBar_->setEnabled(false);
    notice_->showProgress(tr("Opening %1").arg(name), [this] { fileDesk_->cancelReading(); });
  });
  connect(fileDesk_, &FileDesk::readingAt, notice_, &NoticeBar::setProgress);
  connect(fileDesk_, &FileDesk::readingEnded, this, [this] {
    stages_->setEnabled(true);
    topBar_->setEnabled(true);
    notice_->hide();
    made_[shown_]->setFocus();  // what was disabled has lost the keys
  });
  connect(exchange_, &Exchange::said, this, say);
  connect(exchange_, &Exchange::failed, this, warn);
  connect(&autosave_, &Autosave::failed, this, warn);
  connect(topBar_, &TopBar::refused, this, say);
  connect(rail_, &StageRail::chosen, this,
          [this](int index) { showStage(entries_[static_cast<std::size_t>(index)].id); });
  connect(&document_, &Document::fileChanged, this, &MainWindow::showFile);
  connect(&document_, &Document::replaced, this, [this] {
    notice_->hide();  // it spoke of the song before
    named_.clear();
    listener_->close();
    quietly([this] { editing_->moveCursor(Beat(0), piece::kHat); });
  });
  // What comes and goes by undo is seen.
  connect(&document_, &Document::turned, this,
          [this](const std::string& groove, const HitRef& hit) {
            if (groove == document_.grooveId() && editing_->selection().contains(hit)) return;
            quietly([&] {
              document_.chooseGroove(groove);
              editing_->moveCursor(hit.at, hit.piece);
            });
          });
  connect(&document_, &Document::changed, this, &MainWindow::offerName);
  connect(checker_, &Checker::looked, this, [this] {
    const Looked* looked = checker_->now();
    const auto check = std::find_if(entries_.begin(), entries_.end(), [](const StageEntry& e) {
      return e.id == QStringLiteral("check");
    });
    if (check == entries_.end()) return;
    rail_->setCount(static_cast<int>(check - entries_.begin()),
                    looked == nullptr
                        ? std::nullopt
                        : std::optional(static_cast<int>(std::ssize(looked->checked.findings))));
  });
  const auto count = [this] {
    if (!transport_->playing()) topBar_->setCount(editing_->countAt(editing_->cursorAt()));
  };
  connect(editing_, &Editing::cursorMoved, this, count);
  connect(&document_, &Document::changed, this, count);
}

void MainWindow::quietly(const std::function<void()>& move) {
  quiet_ = true;
  move();
  quiet_ = false;
}

void MainWindow::say(const QString& what) {
  status_->setText(what);
}

void MainWindow::warn(const QString& what) {
  say(what);
  notice_->ask(what, tr("Close"), {});
}

void MainWindow::tellBroken(const QString& what) {
  const Result<QString> kept = autosave_.keepNow();
  const QString where =
      kept ? tr("Your work is kept aside in %1").arg(QDir::toNativeSeparators(*kept))
           : tr("Your work could not be kept aside: %1").arg(qs(kept.error().line()));
  warn(tr("Something went wrong inside the program (%1). %2. Save the song under a new name and "
          "start again.")
           .arg(what, where));
}

Stage& MainWindow::stage(const QString& id) {
  const auto entry = std::find_if(entries_.begin(), entries_.end(),
                                  [&](const StageEntry& e) { return e.id == id; });
  Q_ASSERT(entry != entries_.end());
  Stage*& made = made_[static_cast<std::size_t>(entry - entries_.begin())];
  if (made == nullptr) {
    made = entry->make(workplace(), stages_);
    made->setAccessibleName(QString(entry->title).remove(QLatin1Char('&')));
    made->setAccessibleDescription(entry->purpose);
    stages_->addWidget(made);
    connect(made, &Stage::said, this, &MainWindow::say);
    connect(made, &Stage::refused, this, &MainWindow::say);
    connect(made, &Stage::failed, this, &MainWindow::warn);
    connect(made, &Stage::stageWanted, this, [this](const QString& other) { showStage(other); });
    made->readSettings(settings_);
  }
  return *made;
}

Stage& MainWindow::showStage(const QString& id) {
  Stage& shown = stage(id);
  shown_ = static_cast<std::size_t>(std::find(made_.begin(), made_.end(), &shown) - made_.begin());
  stages_->setCurrentWidget(&shown);
  showPlayhead();
  rail_->setCurrent(static_cast<int>(shown_));
  shown.setFocus();
  return shown;
}

void MainWindow::showFile() {
  setWindowTitle(tr("%1[*] – Uneven Stick").arg(document_.fileTitle()));
  setWindowModified(document_.modified());
}

void MainWindow::stepGroove(int by) {
  const auto& grooves = document_.song().grooves;
  const auto here = std::find_if(grooves.begin(), grooves.end(),
                                 [&](const auto& g) { return g->id == document_.grooveId(); });
  const auto next =
      std::clamp<std::ptrdiff_t>(here - grooves.begin() + by, 0, std::ssize(grooves) - 1);
  const Groove& groove = *grooves[static_cast<std::size_t>(next)];
  quietly([&] {
    document_.chooseGroove(groove.id);
    editing_->moveCursor(Beat(0), editing_->cursorPiece());
  });
  say(tr("Groove %1").arg(QString::fromStdString(groove.name)));
}

// A feel that is called straight and swings is offered a name that says what it does, once.
void MainWindow::offerName() {
  const Feel& feel = document_.feel();
  const auto isCalledStraight = [](const Feel& f) {
    return qs(f.name).compare(tr("Straight"), Qt::CaseInsensitive) == 0;
  };
  if (feel.id.empty() || !isCalledStraight(feel) || !feel.swing.swings()) return;
  if (!named_.insert(feel.id).second) return;
  notice_->ask(tr("The feel is called \"%1\", and swings now.").arg(qs(feel.name)),
               tr("Name it by its swing"),
               [this, id = feel.id, isCalledStraight] {
                 Song song = document_.song();
                 for (Feel& f : song.feels) {
                   if (f.id != id || !isCalledStraight(f)) continue;
                   f.name = tr("%1 %2 : 1")
                                .arg(qs(spokenName(f.swing.unit)), numberText(f.swing.ratio, 2))
                                .toStdString();
                   document_.apply(tr("Feel named %1").arg(qs(f.name)), song);
                   return;
                 }
               },
               tr("Leave it"), {});
}

void MainWindow::offerUnsavedWork() {
  const auto left = autosave_.left();
  if (left.empty()) return;
  const Autosave::Left& newest = left.front();
  const QString name = newest.songPath.isEmpty() ? tr("a song that was never saved")
                                                 : QFileInfo(newest.songPath).fileName();
  notice_->ask(
      tr("The program ended without saving %1. What was kept is from %2.")
          .arg(name, QLocale().toString(newest.when, QLocale::ShortFormat)),
      tr("Bring it back"),
      [this, newest] {
        const Status restored = autosave_.restore(newest);
        if (restored) return say(tr("Brought back; it is not saved yet"));
        warn(QString::fromStdString(restored.error().line()));
      },
      tr("Throw it away"), [this, newest] { autosave_.discard(newest); });
}

void MainWindow::closeEvent(QCloseEvent* event) {
  if (!fileDesk_->mayLeave()) return event->ignore();
  autosave_.finish();
  settings_.setValue(QStringLiteral("window/geometry"), saveGeometry());
  transport_->stop();
  transport_->writeSettings(settings_);
  for (const Stage* stage : made_) {
    if (stage != nullptr) stage->writeSettings(settings_);
  }
  event->accept();
}

namespace {

QString droppedSong(const QMimeData* data) {
  for (const QUrl& url : data->urls()) {
    if (url.isLocalFile() && url.toLocalFile().endsWith(QStringLiteral(".ustick"))) {
      return url.toLocalFile();
    }
  }
  return {};
}

}  // namespace

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
  if (!droppedSong(event->mimeData()).isEmpty()) event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event) {
  const QString path = droppedSong(event->mimeData());
  if (path.isEmpty()) return;
  event->acceptProposedAction();
  fileDesk_->openPath(path);
}

}  // namespace uneven
