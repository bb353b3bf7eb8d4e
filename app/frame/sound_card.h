// SPDX-License-Identifier: GPL-3.0-or-later
// The sound card: how loud, how fast, the click, and who is listened to. It stands over the stage
// until it is closed.
#pragma once

#include <QPointer>
#include <functional>
#include <vector>

#include "app/controls/card.h"
#include "app/controls/field_rows.h"
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
  FieldRows rows_;
  std::vector<std::function<void()>> pieceReaders_;
  QString shownPieces_;
};

}  // namespace uneven
