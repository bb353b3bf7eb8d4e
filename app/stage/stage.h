// SPDX-License-Identifier: GPL-3.0-or-later
// What a stage of the work is, and how it makes itself known.
//
// A stage lives in a folder of its own under app/, named as its id, and defines there
//
//   StageEntry <id>Entry();
//
// One line names the folder in app/CMakeLists.txt, in the order of the rail. Rail, menus, keys,
// list of keys, finder, settings and pictures follow from the entry (docs/howto-add-a-stage.md).
#pragma once

#include <QWidget>
#include <functional>
#include <vector>

#include "app/edit/editing.h"
#include "app/stage/actions.h"

class QSettings;

namespace uneven {

class Checker;
class Listener;
class PlayIn;
class Prompts;
class Transport;

class Stage : public QWidget {
  Q_OBJECT
 public:
  using QWidget::QWidget;
  // Draws what leans wider (above 1) or narrower.
  virtual void zoom(double by);
  // Puts what the stage itself shows on the clipboard; false: it copies the chosen hits.
  virtual bool copy();
  // What the stage has at hand becomes a section of the song; false: the groove that is edited
  // does.
  virtual bool intoSong();
  // What is remembered from one start to the next.
  virtual void readSettings(const QSettings& settings);
  virtual void writeSettings(QSettings& settings) const;

 Q_SIGNALS:
  void said(const QString& what);       // for the status line
  void refused(const QString& why);     // what was typed cannot be
  void failed(const QString& why);      // for the notice bar
  void stageWanted(const QString& id);  // to be brought to the front
};

// What a stage is made from.
struct Workplace {
  Editing& editing;
  FileSystem& files;
  Prompts& prompts;
  Transport& transport;
  Checker& checker;
  Listener& listener;
  PlayIn& playIn;
  QString practiceLog;  // the file
};

// Takes pictures of a stage with the demo song open.
class Photographer {
 public:
  virtual ~Photographer() = default;
  virtual Editing& editing() = 0;
  // Shows it, with the song as it was opened and nothing in the status line.
  virtual Stage& stage(const QString& id) = 0;
  virtual void openDemo() = 0;
  virtual void openPiece() = 0;  // a whole one
  // `shows`: whether what the picture is for is on it. Where it is not, or where a picture is the
  // same as one before, nothing is written and the whole fails.
  virtual void take(const QString& name, bool shows) = 0;
};

// The window, as far as what a stage adds to it may ask.
class StageDoor {
 public:
  virtual ~StageDoor() = default;
  virtual Workplace workplace() = 0;
  virtual Stage& stage(const QString& id) = 0;      // made if need be
  virtual Stage& showStage(const QString& id) = 0;  // and brought to the front
};

struct StageEntry {
  QString id;
  QString title;    // in the menu, with its mnemonic: "&Lean"
  QString purpose;  // on the rail; its key, Alt and its place there, is added
  std::function<Stage*(const Workplace&, QWidget* parent)> make;
  // These may be empty.
  std::function<void(ActionTable&, StageDoor&)> actions;
  std::function<std::vector<Found>(StageDoor&)> finds;  // besides its actions
  std::vector<KeyHelp> keys;
  std::function<void(Photographer&)> pictures;
};

// A stage's class says its id: static constexpr const char* kId = "lean".
template <class S>
S& stageOf(StageDoor& door) {
  return static_cast<S&>(door.stage(QLatin1String(S::kId)));
}

// Door or photographer: the stage, in front.
template <class S>
S& shown(StageDoor& door) {
  return static_cast<S&>(door.showStage(QLatin1String(S::kId)));
}
template <class S>
S& shown(Photographer& photographer) {
  return static_cast<S&>(photographer.stage(QLatin1String(S::kId)));
}

template <class S>
StageEntry entryOf(const QString& title, const QString& purpose) {
  StageEntry entry;
  entry.id = QLatin1String(S::kId);
  entry.title = title;
  entry.purpose = purpose;
  entry.make = [](const Workplace& place, QWidget* parent) -> Stage* {
    return new S(place, parent);
  };
  return entry;
}

// In the order of the rail.
std::vector<StageEntry> stages();

}  // namespace uneven
