// SPDX-License-Identifier: GPL-3.0-or-later
// The window: it only puts the parts together.
#pragma once

#include <QMainWindow>
#include <QSize>
#include <functional>
#include <map>
#include <set>
#include <vector>

#include "app/edit/document.h"
#include "app/frame/autosave.h"
#include "app/frame/file_desk.h"
#include "app/play/play_in.h"
#include "app/play/transport.h"
#include "app/stage/checker.h"
#include "app/stage/listener.h"
#include "app/stage/stage.h"
#include "core/time/units.h"

class QLabel;
class QMenu;
class QSettings;
class QStackedWidget;

namespace uneven {

class Editing;
class NoticeBar;
class Prompts;
class StageRail;
class Exchange;
class ModuleMonitor;
class SoundCard;
class TopBar;

// What the window takes from outside, so that tests can bring their own.
struct Surroundings {
  FileSystem& files;
  Prompts& prompts;
  QSettings& settings;
  QString autosaveFolder;
  std::function<Milliseconds()> clock;
  int autosaveMs = Autosave::kDelayMs;  // from an edit to its being kept aside
  std::vector<StageEntry> stages = uneven::stages();
  Outputs& outputs = deviceOutputs();
  QString playersFolder = {};  // empty: beside autosaveFolder
  QString practiceLog = {};    // likewise
};

class MainWindow : public QMainWindow, private StageDoor {
  Q_OBJECT
 public:
  // The window fits into this, whatever is shown in it.
  static constexpr QSize kLeast{1000, 640};

  explicit MainWindow(const Surroundings& surroundings);
  ~MainWindow() override;

  Document& document() { return document_; }
  FileDesk& fileDesk() { return *fileDesk_; }
  Editing& editing() { return *editing_; }
  Transport& transport() { return *transport_; }
  PlayIn& playIn() { return *playIn_; }
  Checker& checker() { return *checker_; }
  Listener& listener() { return *listener_; }
  // By the id of its entry, which must be one of them; made when first asked for.
  Stage& stage(const QString& id) override;
  Stage& showStage(const QString& id) override;
  const std::vector<StageEntry>& stages() const { return entries_; }
  const ActionTable& actionTable() const { return table_; }
  void askAim();
  void showSound(bool shown);
  void showMonitor(bool shown);
  // An exception has been caught: keeps the work aside and says what happened.
  void tellBroken(const QString& what);
  // All that the finder knows.
  std::vector<Found> everything();
  // Offers what a crash left behind.
  void offerUnsavedWork();

 protected:
  void closeEvent(QCloseEvent* event) override;
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dropEvent(QDropEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void keyReleaseEvent(QKeyEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  Workplace workplace() override {
    return {*editing_, files_,     prompts_, *transport_,
            *checker_, *listener_, *playIn_, practiceLog_};
  }
  void buildBody(const Surroundings& surroundings);
  void listActions();
  void listFileActions();
  void listEditActions();
  void listGrooveActions();
  void listPlayActions();
  void listCaution();
  void listHelpActions();
  void intoSong();
  QMenu* menuOf(const QString& title);
  void fillMenus();
  void connectParts();
  void fillRecent();
  void showKeys();
  void find();
  void findCards(const StageEntry& entry, std::vector<Found>& out);
  void findFields(QWidget& in, const QString& kind, const QString& stageId,
                  std::vector<Found>& out);
  void reveal(QWidget& field);
  void stepGroove(int by);
  void connectTransport();
  void showPlayhead();
  void hearCursor();
  void quietly(const std::function<void()>& move);
  void placeSound();
  void holdKey(int key, bool shift, bool down);
  void showFile();
  void offerName();
  void say(const QString& what);
  void warn(const QString& what);

  FileSystem& files_;
  Prompts& prompts_;
  QSettings& settings_;
  QString practiceLog_;
  KitMapLibrary kitMaps_;
  Document document_;
  FileDesk* fileDesk_;
  Autosave autosave_;
  Exchange* exchange_ = nullptr;
  Editing* editing_;
  Transport* transport_;
  PlayIn* playIn_;
  Players* players_;
  Checker* checker_;
  Listener* listener_;
  std::optional<Hit> heardHit_;  // at the cursor, as it was heard last
  std::string heardGroove_;
  bool quiet_ = false;              // the cursor is not moved by hand
  SoundCard* soundCard_ = nullptr;  // made when first shown
  ModuleMonitor* monitor_ = nullptr;
  TopBar* topBar_ = nullptr;
  StageRail* rail_ = nullptr;
  NoticeBar* notice_ = nullptr;
  std::vector<StageEntry> entries_;
  std::vector<Stage*> made_;  // beside the entries; nullptr: never shown yet
  std::size_t shown_ = 0;
  QStackedWidget* stages_ = nullptr;
  ActionTable table_;
  struct Listed {
    QAction* action;
    const ActionEntry* entry;
  };
  std::vector<Listed> listed_;  // what stands in the menus, in the order of the table
  std::map<QString, QMenu*> menus_;
  QMenu* recentMenu_ = nullptr;
  QLabel* status_ = nullptr;
  std::set<std::string> named_;  // feels that were offered a name
};

}  // namespace uneven
