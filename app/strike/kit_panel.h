// SPDX-License-Identifier: GPL-3.0-or-later
// The card of the kit: who sits behind it, its pieces in order, and the fields of the chosen one.
#pragma once

#include <QCheckBox>
#include <map>

#include "app/controls/card.h"
#include "app/edit/editing.h"

class QGridLayout;

namespace uneven {

class ActionButton;
class ChoiceField;
class FlatEdit;
class KitList;

class KitPanel : public Card {
  Q_OBJECT
 public:
  explicit KitPanel(Editing& editing, QWidget* parent = nullptr);

 Q_SIGNALS:
  void refused(const QString& why);

 private:
  QGridLayout* setupRows();
  QGridLayout* pieceRows();
  ChoiceField* addChoice(QGridLayout* grid, const QString& name, const char* objectName,
                         const QStringList& words, const QString& tip);
  void changeSetup(const QString& step, const std::function<void(Setup&)>& change);
  void changePiece(const QString& step, const std::function<void(Piece&)>& change);
  void addPiece();
  void removePiece();
  void read();

  Editing& editing_;
  ChoiceField* handed_ = nullptr;
  ChoiceField* lead_ = nullptr;
  ChoiceField* hats_ = nullptr;
  ChoiceField* pedal_ = nullptr;
  KitList* list_ = nullptr;
  FlatEdit* name_ = nullptr;
  ChoiceField* limb_ = nullptr;
  ChoiceField* like_ = nullptr;
  std::map<StrokeKind, QCheckBox*> strokes_;
  ActionButton* remove_ = nullptr;
};

}  // namespace uneven
