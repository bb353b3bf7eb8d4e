// SPDX-License-Identifier: GPL-3.0-or-later
// The Listen stage: a take, what is found in it, and what is made of it.
#pragma once

#include "app/stage/listener.h"
#include "app/stage/stage.h"

namespace uneven {

class CompareCard;
class GuideCard;
class MakeCard;
class MeasuredCard;
class RowsView;
class WordTabs;

class ListenStage : public Stage {
  Q_OBJECT
 public:
  static constexpr const char* kId = "listen";
  explicit ListenStage(const Workplace& place, QWidget* parent = nullptr);

  Listener& listener() { return listener_; }
  RowsView& rows() { return *rows_; }
  void askForTake();
  void makeFeel();
  void followTempo();
  void makeGroove();
  void layOutSong();
  bool intoSong() override;  // the take's bars
  // What stands beside the rows, one at a time.
  enum class Side { kFound, kMake, kCompare, kGuide };
  void showSide(Side side);
  // The recording stays with the song and sounds beside the part.
  void putBeside();
  // By itself, from the chosen bar on; stops it where it plays.
  void playAlong();
  void tap(bool bar);
  void useTaps();
  // A take is played now; ends the one that is.
  void playTake();
  CompareCard& compareCard() { return *compare_; }

 protected:
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dropEvent(QDropEvent* event) override;

 private:
  void key(QChar letter);
  void startAt(Seconds moment);
  const Fit* worthwhile();
  QString takeName() const;
  Guide guideOf(Seconds start) const;
  void forgetTaps();

  Editing& editing_;
  Prompts& prompts_;
  Transport& transport_;
  PlayIn& playIn_;
  Listener& listener_;
  RowsView* rows_;
  WordTabs* tabs_;
  MeasuredCard* card_;
  MakeCard* make_;
  CompareCard* compare_;
  GuideCard* guide_;
  QString folder_;
  std::vector<double> beats_, bars_;  // taps, in seconds of the recording
  int takes_ = 0;                     // played here
};

}  // namespace uneven
