// SPDX-License-Identifier: GPL-3.0-or-later
// The card of the pedal: the chosen opening, the foot's technique, the pump.
#pragma once

#include "app/controls/card.h"
#include "app/controls/field_rows.h"
#include "app/edit/editing.h"
#include "core/voice/kit_map.h"

class QGridLayout;
class QLabel;

namespace uneven {

class BeatField;
class ChoiceField;
class FlatEdit;
class NumberField;

class PedalCard : public Card {
  Q_OBJECT
 public:
  explicit PedalCard(Editing& editing, QWidget* parent = nullptr);

 Q_SIGNALS:
  void refused(const QString& why);

 private:
  void buildOpening(QGridLayout* grid);
  void buildFoot(QGridLayout* grid);
  void buildPump(QGridLayout* grid);
  void changePump(const QString& step, const std::function<void(Pump&)>& change, Merge merge = {});
  void exchange(bool toFoot);
  void takeCell();
  void read();
  // The opening that is chosen: a stroke's, shut ones too, or a drawn one.
  struct Chosen {
    Beat at;
    double open = 0;
    Beat length;
    bool drawn = false;
  };
  std::optional<Chosen> opening() const;
  void readOpening();
  void readPump();

  Editing& editing_;
  FieldRows rows_;
  std::vector<HatDegree> degrees_;  // of the song's kit map
  QLabel* title_ = nullptr;
  BeatField* start_ = nullptr;
  NumberField* open_ = nullptr;
  ChoiceField* degree_ = nullptr;
  ChoiceField* bark_ = nullptr;
  BeatField* length_ = nullptr;
  ChoiceField* shutBy_ = nullptr;
  ChoiceField* technique_ = nullptr;
  NumberField* travel_ = nullptr;
  ChoiceField* pump_ = nullptr;
  ChoiceField* unit_ = nullptr;
  FlatEdit* cell_ = nullptr;
  NumberField* lift_ = nullptr;
  QLabel* overridden_ = nullptr;
};

}  // namespace uneven
