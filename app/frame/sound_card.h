// SPDX-License-Identifier: GPL-3.0-or-later
// The sound card: how loud, how fast, the click, and who is listened to. It stands over the stage
// until it is closed.
#pragma once

#include <QPointer>
#include <functional>
#include <vector>

#include "app/controls/card.h"
#include "app/controls/number_field.h"
#include "sound/play/programme.h"

class QCheckBox;
class QGridLayout;
class QVBoxLayout;

namespace uneven {

class ChoiceField;
class Prompts;
class PlayIn;
class Transport;
class Editing;

class SoundCard : public Card {
  Q_OBJECT
 public:
  SoundCard(Transport& transport, PlayIn& playIn, Editing& editing, Prompts& prompts,
            QWidget* parent);

 Q_SIGNALS:
  void refused(const QString& why);
  void monitorWanted();

 protected:
  void keyPressEvent(QKeyEvent* event) override;
  void showEvent(QShowEvent* event) override;

 private:
  QGridLayout* section(const QString& title);
  void addRow(QGridLayout* grid, const QString& name, QWidget* field, const char* objectName,
              const QString& tip);
  NumberField* addNumber(QGridLayout* grid, const QString& name, const QString& unit,
                         NumberField::Range range, const char* objectName, const QString& tip,
                         std::function<double()> get, std::function<void(double)> set);
  QCheckBox* addCheck(QGridLayout* grid, const QString& text, const char* objectName,
                      const QString& tip, std::function<bool()> get, std::function<void(bool)> set);
  void addOutput();
  void addClick();
  void addListening();
  void fillPieces();
  void addBox(int row, int column, const QString& name, const QString& what,
              std::function<bool(const Listening&)> get, std::function<void(Listening&, bool)> set);
  void addMix(int row, PieceId piece, const QString& name);
  void chooseBank(int index);
  void fillBanks();
  void fillDevices();
  void read();

  Transport& transport_;
  PlayIn& playIn_;
  Editing& editing_;
  Prompts& prompts_;
  QVBoxLayout* down_;
  QGridLayout* pieces_ = nullptr;
  ChoiceField* device_ = nullptr;
  ChoiceField* midi_ = nullptr;
  ChoiceField* from_ = nullptr;
  ChoiceField* unit_ = nullptr;
  ChoiceField* beside_ = nullptr;
  ChoiceField* bank_ = nullptr;
  std::vector<std::function<void()>> readers_;
  std::vector<std::function<void()>> pieceReaders_;
  QString shownPieces_;
};

}  // namespace uneven
