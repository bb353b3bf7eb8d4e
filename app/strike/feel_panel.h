// SPDX-License-Identifier: GPL-3.0-or-later
// The feel in force, compact: ratio, unit, how it is written, and each piece's displacement.
#pragma once

#include <QWidget>
#include <functional>
#include <map>

#include "app/edit/document.h"

class QHBoxLayout;
class QLabel;

namespace uneven {

class ChoiceField;
class NumberField;

class FeelPanel : public QWidget {
  Q_OBJECT
 public:
  explicit FeelPanel(Document& document, QWidget* parent = nullptr);

 Q_SIGNALS:
  void refused(const QString& why);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  void read();
  void buildSwing();
  void buildDisplacement();
  void change(const QString& step, const std::function<void(Feel&)>& edit, Merge merge = {});

  Document& document_;
  QHBoxLayout* layout_;
  QLabel* name_ = nullptr;
  NumberField* ratio_ = nullptr;
  ChoiceField* unit_ = nullptr;
  ChoiceField* written_ = nullptr;
  QWidget* pieces_ = nullptr;
  std::map<PieceId, NumberField*> displacement_;
};

}  // namespace uneven
