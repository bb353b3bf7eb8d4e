// SPDX-License-Identifier: GPL-3.0-or-later
// The transport in the top bar: play and stop, round what, the count, and how loud it is.
#pragma once

#include <QAbstractButton>
#include <QWidget>

class QLabel;

namespace uneven {

class ChoiceField;
class Transport;

// A round button: a triangle, or a square while it plays.
class PlayButton : public QAbstractButton {
  Q_OBJECT
 public:
  explicit PlayButton(QWidget* parent = nullptr);
  void setPlaying(bool playing);
  QSize sizeHint() const override { return {38, 38}; }

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  bool playing_ = false;
};

// How loud it is, with the highest peak held for a while; a click opens the sound card.
class LevelMeter : public QAbstractButton {
  Q_OBJECT
 public:
  static constexpr double kBottomDb = -48;
  explicit LevelMeter(QWidget* parent = nullptr);
  // 0..1 and beyond; called at every frame while it plays, then until all is quiet.
  void setPeak(float peak);
  double shownDb() const { return shownDb_; }
  double heldDb() const { return heldDb_; }
  QSize sizeHint() const override { return {14, 44}; }

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  double shownDb_ = kBottomDb, heldDb_ = kBottomDb;
  int held_ = 0;  // frames
};

class TransportBlock : public QWidget {
  Q_OBJECT
 public:
  explicit TransportBlock(Transport& transport, QWidget* parent = nullptr);
  void setCount(const QString& count);

 Q_SIGNALS:
  void soundWanted();  // the card

 private:
  void read();

  Transport& transport_;
  PlayButton* play_;
  ChoiceField* range_;
  QLabel* count_;
  LevelMeter* meter_;
};

}  // namespace uneven
