// SPDX-License-Identifier: GPL-3.0-or-later
// A card of fields that scrolls: headings, rows of a name and a field, texts and buttons.
//
//   QGridLayout* grid = section(tr("Tempo"));
//   addNumber(grid, {tr("Here"), "tempo-here", tr("BPM from here on")}, tr("BPM"), {20, 400, 1, 1,
//   false},
//             [this] { return bpm(); }, [this](double bpm, bool) { setBpm(bpm); });
//
// A field that is bound asks its getter whenever the card reads, and hands what is typed to its
// setter; what cannot be taken is told by refused().
#pragma once

#include <functional>
#include <optional>

#include "app/controls/card.h"
#include "app/controls/field_rows.h"

class QGridLayout;
class QHBoxLayout;
class QLabel;
class QVBoxLayout;

namespace uneven {

class ActionButton;
class ChoiceField;

class FieldCard : public Card {
  Q_OBJECT
 public:
  explicit FieldCard(QWidget* parent);

 Q_SIGNALS:
  void refused(const QString& why);

 protected:
  using Row = FieldRows::Row;
  // A heading and a grid of rows under it; without a heading only the rows.
  QGridLayout* section(const QString& heading);
  QWidget* addRow(QGridLayout* grid, const QString& name, QWidget* field, const QString& objectName,
                  const QString& tip) {
    return rows_->add(grid, {name, objectName, tip}, field);
  }
  NumberField* addNumber(QGridLayout* grid, const Row& row, const QString& unit,
                         NumberField::Range range, std::function<std::optional<double>()> get,
                         std::function<void(double, bool stepped)> set) {
    return rows_->number(grid, row, unit, range, std::move(get), std::move(set));
  }
  BeatField* addBeat(QGridLayout* grid, const Row& row, BeatField::Range range,
                     std::function<std::optional<Beat>()> get, std::function<void(Beat)> set) {
    return rows_->beat(grid, row, range, std::move(get), std::move(set));
  }
  FlatEdit* addLine(QGridLayout* grid, const Row& row, std::function<QString()> get,
                    std::function<void(const QString&)> set) {
    return rows_->line(grid, row, std::move(get), std::move(set));
  }
  ChoiceField* addChoice(QGridLayout* grid, const Row& row, std::function<void(ChoiceField&)> fill,
                         std::function<QVariant()> get, std::function<void(const QVariant&)> set) {
    return rows_->choice(grid, row, std::move(fill), std::move(get), std::move(set));
  }
  QLabel* addText(const QString& objectName);
  // Buttons beside each other.
  ActionButton* addButton(const QString& text, const QString& objectName, const QString& tip,
                          std::function<void()> run, bool besideLast = false);
  void addStretch();
  void addWidget(QWidget* widget);
  // Asks every bound field's getter.
  virtual void read();
  void showEvent(QShowEvent* event) override;
  // Takes all rows away, for a card that builds them anew.
  void clear();
  QWidget* body() { return body_; }

  QVBoxLayout* down_;

 private:
  QWidget* body_ = nullptr;
  QHBoxLayout* buttons_ = nullptr;
  std::optional<FieldRows> rows_;
};

}  // namespace uneven
