// SPDX-License-Identifier: GPL-3.0-or-later
// A real window with files of its own, driven by real events.
#pragma once

#include <gtest/gtest.h>

#include <QComboBox>
#include <QLineEdit>
#include <QSettings>
#include <QTest>
#include <atomic>
#include <chrono>
#include <memory>
#include <thread>

#include "app/controls/prompts.h"
#include "app/frame/main_window.h"
#include "app/strike/lanes_view.h"
#include "tests/support/forwarding_files.h"
#include "tests/support/process.h"

namespace uneven::testing {

// Whether something comes to be that only takes its time: a loaded machine takes longer.
template <class What>
bool soon(What comes) {
  return QTest::qWaitFor(comes, 30'000);
}

// Answers given beforehand; counts what was asked.
class FakePrompts final : public Prompts {
 public:
  SaveAnswer saveAnswer = SaveAnswer::kCancel;
  QString open;
  QString save;
  QString typed;
  QStringList chosen;  // answers to choices, taken from the front; none left: cancelled
  int asked = 0;

  SaveAnswer saveChanges(QWidget*, const QString&) override {
    ++asked;
    return saveAnswer;
  }
  QString fileToOpen(QWidget*, const QString&, const QString&, const QString&) override {
    return open;
  }
  QString line(QWidget*, const QString&, const QString&) override { return typed; }
  int choice(QWidget*, const QString& title, const QStringList& words) override {
    titles << title;
    return chosen.isEmpty() ? -1 : static_cast<int>(words.indexOf(chosen.takeFirst()));
  }
  QStringList titles;  // of choices that were asked
  QString fileToSave(QWidget*, const QString&, const QString&, const QString&) override {
    return save;
  }
};

// The machine's files, until told to be full or slow.
class FullableFiles final : public ForwardingFiles {
 public:
  std::atomic<bool> full = false;
  std::atomic<int> slowMs = 0;
  std::atomic<int> begun = 0, slept = 0;  // writes
  Status writeNew(const std::string& path, std::string_view bytes,
                  std::optional<unsigned> mode) override {
    ++begun;
    std::this_thread::sleep_for(std::chrono::milliseconds(slowMs));
    ++slept;
    if (!full) return ForwardingFiles::writeNew(path, bytes, mode);
    return Error{ErrorCode::kNoSpace, "no space left on device", {path, 0, 0, std::nullopt}};
  }
};

// No device but the one a test pulls from by hand.
class HandOutput final : public AudioOutput {
 public:
  HandOutput(Player& player, HandOutput*& here) : player_(player), here_(here) { here_ = this; }
  ~HandOutput() override { here_ = nullptr; }
  std::string name() const override { return "by hand"; }
  // The next frames: the root of their mean square on the left.
  double pull(int frames);

 private:
  Player& player_;
  HandOutput*& here_;
};
class HandOutputs final : public Outputs {
 public:
  bool device = false;  // else there is none
  HandOutput* output = nullptr;
  std::string opened;  // what was asked for last
  std::vector<std::string> drivers() override {
    return device ? std::vector<std::string>{"by hand"} : std::vector<std::string>{};
  }
  std::vector<AudioCard> cards() override { return {{"by hand:second", "The second card"}}; }
  Result<std::unique_ptr<AudioOutput>> open(Player& player, const std::string& driver) override {
    opened = driver;
    if (driver == "by hand:gone") return Error{ErrorCode::kNotFound, "it is gone", {}};
    return std::unique_ptr<AudioOutput>(std::make_unique<HandOutput>(player, output));
  }
};

class WindowTest : public ::testing::Test {
 protected:
  WindowTest();

  // A second window with the same files and settings, as after a restart.
  std::unique_ptr<MainWindow> makeWindow(std::vector<StageEntry> entries = stages());
  void openDemo();

  template <typename T>
  T& child(const char* name) {
    T* found = window->findChild<T*>(QString::fromLatin1(name));
    EXPECT_NE(found, nullptr) << name;
    return *found;
  }
  // Made if need be, but not brought to the front.
  template <typename T>
  T& stage(const char* id) {
    return dynamic_cast<T&>(window->stage(QString::fromLatin1(id)));
  }
  void showStage(const char* id) { window->showStage(QString::fromLatin1(id)); }
  void openTool(const std::string& name);
  LanesView& lanes() { return child<LanesView>("lanes"); }
  const Groove& groove() { return window->document().groove(); }
  const Song& song() { return window->document().song(); }
  // The hit at a place; fails the test when there is none.
  const Hit& hitAt(Beat at, PieceId piece);
  bool hasHit(Beat at, PieceId piece);
  QString status();
  QString path(const char* name) { return QString::fromStdString(folder.file(name)); }

  QPoint slotPoint(Beat at, PieceId piece);  // on the lane's line, where the slot stands
  QPoint headPoint(Beat at, PieceId piece);  // of the stick there
  void press(Qt::Key key, Qt::KeyboardModifiers modifiers = Qt::NoModifier);
  void click(QPoint p, Qt::KeyboardModifiers modifiers = Qt::NoModifier);
  void drag(QPoint from, QPoint to, Qt::KeyboardModifiers modifiers = Qt::NoModifier);
  void type(QLineEdit& field, const char* text);
  void choose(QComboBox& field, const QString& word);
  void wheel(QWidget& widget, int notches, Qt::KeyboardModifiers modifiers = Qt::NoModifier);

  TemporaryFolder folder;
  FakePrompts prompts;
  FullableFiles files;
  HandOutputs outputs;
  std::unique_ptr<QSettings> settings;
  Milliseconds now{0};
  int autosaveMs = Autosave::kDelayMs;  // of windows that are made from here on
  std::unique_ptr<MainWindow> window;
};

}  // namespace uneven::testing
