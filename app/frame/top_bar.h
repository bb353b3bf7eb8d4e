// SPDX-License-Identifier: GPL-3.0-or-later
// What holds for the groove at hand: title, tempo, meter, swing, feel, groove, and the count where
// the cursor stands.
#pragma once

#include <QWidget>
#include <functional>

#include "core/measure/tap_tempo.h"
#include "core/time/meter.h"

class QLabel;

namespace uneven {

class ChoiceField;
class Document;
class FlatEdit;
class NumberField;
class Transport;
class TransportBlock;

class TopBar : public QWidget {
  Q_OBJECT
 public:
  // `clock` gives milliseconds on a steady clock; taps are timed with it.
  TopBar(Document& document, Transport& transport, std::function<Milliseconds()> clock,
         QWidget* parent = nullptr);

  void setCount(const QString& count);
  void tap();

 Q_SIGNALS:
  void refused(const QString& why);
  void soundWanted();

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  void read();
  void readSwing();
  void readChoices();
  void setTempo(double bpm, bool stepped);
  void setMeter();  // as typed
  void newFeel();
  void setLength(Meter meter, int bars);
  QWidget* titleBlock();
  QWidget* tempoBlock();
  QWidget* meterBlock();
  QWidget* swingBlock();
  QWidget* choiceBlock(const QString& name, ChoiceField*& field, const QString& tip,
                       const char* objectName);

  Document& document_;
  std::function<Milliseconds()> clock_;
  TapTempo taps_;
  FlatEdit* title_ = nullptr;
  QLabel* subtitle_ = nullptr;
  NumberField* tempo_ = nullptr;
  FlatEdit* meter_ = nullptr;
  NumberField* bars_ = nullptr;
  NumberField* ratio_ = nullptr;
  QLabel* swingName_ = nullptr;
  QLabel* swingUnits_ = nullptr;
  ChoiceField* feel_ = nullptr;
  ChoiceField* groove_ = nullptr;
  QLabel* place_ = nullptr;  // over it: where the song plays it
  QLabel* tempoUnit_ = nullptr;
  TransportBlock* play_ = nullptr;
};

}  // namespace uneven
