// SPDX-License-Identifier: GPL-3.0-or-later
// The window: it only puts the parts together.
#pragma once

#include <QMainWindow>
#include <functional>

#include "app/edit/document.h"
#include "app/frame/autosave.h"
#include "app/frame/file_desk.h"
#include "core/time/units.h"

class QLabel;
class QMenu;
class QSettings;
class QStackedWidget;

namespace uneven {

class DeliverStage;
class Editing;
class NoticeBar;
class Prompts;
class StageRail;
class Exchange;
class LeanStage;
class OpenStage;
class StrikeStage;
class TopBar;

// What the window takes from outside, so that tests can bring their own.
struct Surroundings {
  FileSystem& files;
  Prompts& prompts;
  QSettings& settings;
  QString autosaveFolder;
  std::function<Milliseconds()> clock;
  int autosaveMs = Autosave::kDelayMs;  // from an edit to its being kept aside
};

enum class Stage { kStrike, kOpen, kLean, kDeliver };

class MainWindow : public QMainWindow {
  Q_OBJECT
 public:
  explicit MainWindow(const Surroundings& surroundings);
  ~MainWindow() override;

  Document& document() { return document_; }
  FileDesk& fileDesk() { return *fileDesk_; }
  Editing& editing() { return *editing_; }
  void showStage(Stage stage);
  void openTool(const std::string& name);
  StrikeStage& strike() { return *strike_; }
  OpenStage& open();
  LeanStage& lean();
  void askAim();
  // An exception has been caught: keeps the work aside and says what happened.
  void tellBroken(const QString& what);
  // Offers what a crash left behind.
  void offerUnsavedWork();

 protected:
  void closeEvent(QCloseEvent* event) override;
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dropEvent(QDropEvent* event) override;

 private:
  void buildStages(const Surroundings& surroundings);
  void buildMenus();
  void buildFileMenu();
  void buildEditMenu();
  void buildHitMenu();
  void buildToolMenu();
  void buildGrooveMenu();
  void buildViewMenu();
  void buildHelpMenu();
  void connectParts();
  DeliverStage& deliver();
  void fillRecent();
  void showKeys();
  void stepGroove(int by);
  void showFile();
  void say(const QString& what);
  void warn(const QString& what);

  FileSystem& files_;
  Prompts& prompts_;
  QSettings& settings_;
  Document document_;
  FileDesk* fileDesk_;
  Autosave autosave_;
  Exchange* exchange_ = nullptr;
  Editing* editing_;
  TopBar* topBar_ = nullptr;
  StageRail* rail_ = nullptr;
  NoticeBar* notice_ = nullptr;
  Stage stage_ = Stage::kStrike;
  QStackedWidget* stages_ = nullptr;
  StrikeStage* strike_ = nullptr;
  OpenStage* open_ = nullptr;  // these are made when they are first shown
  LeanStage* lean_ = nullptr;
  DeliverStage* deliver_ = nullptr;
  QMenu* recentMenu_ = nullptr;
  QLabel* status_ = nullptr;
};

}  // namespace uneven
