// SPDX-License-Identifier: GPL-3.0-or-later
// Who plays: limits, technique, and where the pieces stand. Kept as a file of the player's own and
// chosen by the song.
#pragma once

#include <QTimer>
#include <functional>

#include "app/controls/card.h"
#include "app/controls/field_rows.h"
#include "app/stage/checker.h"

class QGridLayout;
class QLabel;
class QVBoxLayout;

namespace uneven {

class ActionButton;
class ChoiceField;
class NumberField;
class PlanView;
class Prompts;

class PlayerCard : public Card {
  Q_OBJECT
 public:
  PlayerCard(Editing& editing, Checker& checker, Prompts& prompts, QWidget* parent);

  void makeOwn();  // a player that begins as this one
  void bring();    // from a file
  void backToChosen();

 Q_SIGNALS:
  void said(const QString& what);
  void failed(const QString& why);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void addLimits(const QString& heading, const char* name, RunLimits Profile::*limits);
  void addLimit(QGridLayout* grid, int row, const QString& name, const QString& objectName,
                const QString& what, std::function<TimeLimit&(Profile&)> of);
  void addSchool(QGridLayout* grid, const QString& name, const char* objectName,
                 const QString& first, const QString& second, const QString& tip,
                 bool Profile::*member);
  void addNumber(QGridLayout* grid, const QString& name, const QString& objectName,
                 const QString& unit, double min, double max, int decimals, const QString& tip,
                 std::function<double(const Profile&)> get,
                 std::function<void(Profile&, double)> set);
  void change(const std::function<void(Profile&)>& edit);
  void use(const std::string& id);
  void read();
  bool own() const;

  Editing& editing_;
  Checker& checker_;
  Prompts& prompts_;
  QVBoxLayout* down_;
  ChoiceField* player_;
  ChoiceField* technique_;
  ActionButton* back_;
  PlanView* plan_;
  QLabel* note_;
  FieldRows rows_;
  std::optional<Profile> before_;  // as it was when it was chosen
};

}  // namespace uneven
