// SPDX-License-Identifier: GPL-3.0-or-later
// The Arrange stage: the song as a strip, the chosen section bar by bar, its cards beside.
#pragma once

#include "app/arrange/arranging.h"
#include "app/stage/stage.h"

class QLabel;

namespace uneven {

class BarsRow;
class FillCard;
class FormCard;
class SectionCard;
class StripView;
class TempoCard;
class WordTabs;

class ArrangeStage : public Stage {
  Q_OBJECT
 public:
  static constexpr const char* kId = "arrange";
  explicit ArrangeStage(const Workplace& place, QWidget* parent = nullptr);

  Arranging& arranging() { return arranging_; }
  StripView& strip() { return *strip_; }
  BarsRow& bars() { return *bars_; }
  FillCard& fills() { return *fills_; }
  FormCard& form() { return *form_; }
  enum class Side { kSection, kTempo, kFill, kForm };
  void showSide(Side side);
  // The fill that the card shows, round and round in its place; again: as the song has it.
  void hearFill();
  bool hearsFill() const { return hears_; }
  // Tempo, meters and markers of a MIDI file as sections.
  void layOutFrame(const QString& path);
  void askFrame();
  bool copy() override;  // the form as text
  bool intoSong() override;
  void zoom(double by) override;

 protected:
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;

 private:
  void lookAtPlayhead();
  void stopHearing();
  void readTitle();

  Editing& editing_;
  FileSystem& files_;
  Prompts& prompts_;
  Transport& transport_;
  Arranging arranging_;
  QLabel* title_;
  QLabel* facts_;
  StripView* strip_;
  BarsRow* bars_;
  WordTabs* tabs_;
  SectionCard* section_;
  TempoCard* tempo_;
  FillCard* fills_;
  FormCard* form_;
  bool hears_ = false;
  int rangeBefore_ = 0;  // what was played round before the fill was
};

}  // namespace uneven
