// SPDX-License-Identifier: GPL-3.0-or-later
// The window's part in playing: keys, playhead, the sound card, the word of caution.
#include <QKeyEvent>
#include <QSettings>
#include <QStackedWidget>
#include <utility>

#include "app/controls/labels.h"
#include "app/controls/notice_bar.h"
#include "app/frame/main_window.h"
#include "app/frame/module_monitor.h"
#include "app/frame/sound_card.h"
#include "app/frame/top_bar.h"
#include "app/stage/bar_view.h"
#include "app/stage/menu_titles.h"

namespace uneven {
namespace {

const QString kCautioned = QStringLiteral("sound/cautioned");

QString caution() {
  return MainWindow::tr(
      "Loud listening for long harms hearing: keep the level low, take breaks, and wear protection "
      "at the kit. With ringing ears or dull hearing, see a doctor or an audiologist.");
}

}  // namespace

void MainWindow::connectTransport() {
  transport_->readSettings(settings_);
  connect(transport_, &Transport::said, this, &MainWindow::say);
  connect(playIn_, &PlayIn::said, this, &MainWindow::say);
  connect(transport_, &Transport::moved, this, &MainWindow::showPlayhead);
  connect(topBar_, &TopBar::soundWanted, this,
          [this] { showSound(soundCard_ == nullptr || !soundCard_->isVisible()); });
  const auto care = [this] {
    if (settings_.value(kCautioned).toBool()) return;
    settings_.setValue(kCautioned, true);
    notice_->ask(caution(), tr("Understood"), {});
  };
  connect(transport_, &Transport::changed, this, [this, care] {
    if (transport_->playing()) care();
  });
  connect(transport_, &Transport::struck, this, care);
  connect(editing_, &Editing::cursorMoved, this, [this] {
    heardHit_.reset();
    hearCursor();
  });
  connect(&document_, &Document::changed, this, &MainWindow::hearCursor);
}

// Strike by ear: what the cursor comes to, and what an edit has put or changed there; not what a
// song or groove that is opened brings along.
void MainWindow::hearCursor() {
  const auto index = indexOf(document_.groove(), {editing_->cursorAt(), editing_->cursorPiece()});
  const std::optional<Hit> here =
      index ? std::optional(document_.groove().hits[*index]) : std::nullopt;
  const bool another = std::exchange(heardGroove_, document_.grooveId()) != document_.grooveId();
  if (std::exchange(heardHit_, here) == here || !here || another || quiet_ || !isVisible()) return;
  transport_->hear(*here);
}

void MainWindow::showPlayhead() {
  const auto& playhead = transport_->playhead();
  const bool here = playhead && playhead->groove == document_.grooveId();
  if (playhead) {
    if (here && playhead->at >= Quarters(0) && !playhead->counting) {
      topBar_->setCount(editing_->countAt(playhead->slot));
    }
  } else {
    topBar_->setCount(editing_->countAt(editing_->cursorAt()));
  }
  if (made_[shown_] == nullptr) return;
  for (BarView* view : made_[shown_]->findChildren<BarView*>()) {
    view->setPlayhead(here && !playhead->counting ? std::optional(playhead->at) : std::nullopt);
  }
}

void MainWindow::showSound(bool shown) {
  if (shown && soundCard_ == nullptr) {
    soundCard_ = new SoundCard(*transport_, *playIn_, *editing_, prompts_, this);
    connect(soundCard_, &SoundCard::refused, this, &MainWindow::say);
    connect(soundCard_, &SoundCard::monitorWanted, this, [this] { showMonitor(true); });
  }
  if (soundCard_ == nullptr) return;
  soundCard_->setVisible(shown);
  if (!shown) return made_[shown_]->setFocus();
  placeSound();
  soundCard_->raise();
  soundCard_->setFocus();
}

void MainWindow::showMonitor(bool shown) {
  if (shown && monitor_ == nullptr) monitor_ = new ModuleMonitor(*transport_, this);
  if (monitor_ == nullptr) return;
  monitor_->setVisible(shown);
  if (!shown) return made_[shown_]->setFocus();
  placeSound();
  monitor_->raise();
}

void MainWindow::placeSound() {
  if (monitor_ != nullptr) monitor_->move(130, height() - monitor_->height() - 40);
  if (soundCard_ == nullptr) return;
  const QPoint below = topBar_->mapTo(
      this, QPoint(topBar_->width() - soundCard_->width() - 12, topBar_->height() + 4));
  soundCard_->move(below);
}

void MainWindow::resizeEvent(QResizeEvent* event) {
  QMainWindow::resizeEvent(event);
  placeSound();
}

void MainWindow::listPlayActions() {
  const auto add = [this](const QString& text, std::function<void()> run) {
    return &table_.add(menus::play(), text, {}, std::move(run));
  };
  // Taken where no field or button takes it: typing a space stays typing.
  add(tr("&Play or stop"), [this] { transport_->toggle(); })->viewKey = QStringLiteral("Space");
  const auto range = [&](const QString& text, Transport::Range which) {
    ActionEntry* entry = add(text, [this, which] { transport_->setRange(which); });
    entry->checked = [this, which] { return transport_->range() == which; };
    return entry;
  };
  range(tr("The &groove"), Transport::Range::kGroove)->first = true;
  range(tr("The &bar"), Transport::Range::kBar);
  range(tr("The &chosen hits"), Transport::Range::kSelection);
  range(tr("The &section"), Transport::Range::kSection);
  range(tr("The s&ong"), Transport::Range::kSong);
  ActionEntry* loop =
      add(tr("&Round and round"), [this] { transport_->setLoops(!transport_->loops()); });
  loop->checked = [this] { return transport_->loops(); };
  loop->first = true;
  ActionEntry* record = add(tr("Record what is &played in"),
                            [this] { playIn_->setRecording(!playIn_->recording()); });
  record->checked = [this] { return playIn_->recording(); };
  record->keys = {QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_R)};
  ActionEntry* slower =
      add(tr("&Slower by 5 %"), [this] { transport_->setPercent(transport_->percent() - 5); });
  slower->keys = {QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_Down)};
  slower->first = true;
  add(tr("&Faster by 5 %"), [this] { transport_->setPercent(transport_->percent() + 5); })->keys = {
      QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_Up)};
  add(tr("At the song's &tempo"), [this] { transport_->setPercent(100); });
  const auto hold = [&](const QString& text, const QString& key, std::function<void()> toggle,
                        std::function<bool()> is) {
    ActionEntry* entry = add(text, std::move(toggle));
    entry->viewKey = key;
    entry->checked = std::move(is);
    return entry;
  };
  const auto heard = [&](const QString& text, const QString& key, bool Heard::*member) {
    return hold(
        text, key,
        [this, member] {
          Heard h = transport_->heard();
          h.*member = !(h.*member);
          transport_->setHeard(h);
        },
        [this, member] { return transport_->heard().*member; });
  };
  heard(tr("Str&aight"), tr("F5 held"), &Heard::straight)->first = true;
  heard(tr("Without &drift"), tr("F6 held"), &Heard::noDrift);
  heard(tr("The ne&xt take"), {}, &Heard::nextTake);
  heard(tr("Without displace&ment"), tr("F7 held"), &Heard::noDisplacement);
  const auto only = [&](const QString& text, const QString& key, Role role) {
    hold(
        text, key,
        [this, role] {
          Listening l = transport_->listening();
          l.only = l.only == role ? std::nullopt : std::optional(role);
          transport_->setListening(l);
        },
        [this, role] { return transport_->listening().only == role; });
  };
  only(tr("Only acce&nts"), tr("F8 held"), Role::kAccent);
  only(tr("Only g&hosts"), tr("Shift+F8 held"), Role::kGhost);
  ActionEntry* card = add(tr("Sound car&d"),
                          [this] { showSound(soundCard_ == nullptr || !soundCard_->isVisible()); });
  card->keys = {QKeySequence(Qt::Key_F9)};
  card->first = true;
  add(tr("The simulated module's mon&itor"), [this] {
    const bool shown = monitor_ != nullptr && monitor_->isVisible();
    if (!shown && transport_->sound().midiOut() != QLatin1String(SoundDesk::kModule)) {
      (void)transport_->sound().setMidiOut(QLatin1String(SoundDesk::kModule));
    }
    showMonitor(!shown);
  });
}

void MainWindow::listCaution() {
  table_.add(menus::help(), tr("&Listening with care"), {},
             [this] { notice_->ask(caution(), tr("Close"), {}); });
}

// Held: heard so; let go: as before.
void MainWindow::holdKey(int key, bool shift, bool down) {
  Heard heard = transport_->heard();
  Listening listening = transport_->listening();
  switch (key) {
    case Qt::Key_F5:
      heard.straight = down;
      return transport_->setHeard(heard);
    case Qt::Key_F6:
      heard.noDrift = down;
      return transport_->setHeard(heard);
    case Qt::Key_F7:
      heard.noDisplacement = down;
      return transport_->setHeard(heard);
    default:
      listening.only = down ? std::optional(shift ? Role::kGhost : Role::kAccent) : std::nullopt;
      return transport_->setListening(listening);
  }
}

void MainWindow::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Space && event->modifiers() == Qt::NoModifier) {
    if (!event->isAutoRepeat()) transport_->toggle();
    return;
  }
  if (event->key() >= Qt::Key_F5 && event->key() <= Qt::Key_F8) {
    if (!event->isAutoRepeat())
      holdKey(event->key(), (event->modifiers() & Qt::ShiftModifier) != 0, true);
    return;
  }
  QMainWindow::keyPressEvent(event);
}

void MainWindow::keyReleaseEvent(QKeyEvent* event) {
  if (event->key() >= Qt::Key_F5 && event->key() <= Qt::Key_F8) {
    if (!event->isAutoRepeat()) holdKey(event->key(), false, false);
    return;
  }
  QMainWindow::keyReleaseEvent(event);
}

}  // namespace uneven
