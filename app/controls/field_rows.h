// SPDX-License-Identifier: GPL-3.0-or-later
// Rows of a name and a field in a grid, each bound once: where its value comes from, and where what
// is typed goes.
//
//   FieldRows rows(this, [this](const QString& why) { Q_EMIT refused(why); });
//   rows.number(grid, {tr("Tempo"), "sound-percent", tr("How fast, in per cent of the song's")},
//   tr("%"),
//               {25, 200, 5, 0, false}, [this] { return percent(); },
//               [this](double v, bool) { setPercent(v); });
//   rows.read();
//
// A setter's bool tells that the value was stepped, by a wheel or a key, and not typed.
#pragma once

#include <QVariant>
#include <functional>
#include <optional>
#include <vector>

#include "app/controls/beat_field.h"
#include "app/controls/number_field.h"

class QCheckBox;
class QGridLayout;

namespace uneven {

class ChoiceField;
class FlatEdit;

class FieldRows {
 public:
  struct Row {
    QString name;
    QString objectName;
    QString tip;
  };
  struct Look {
    int height = 22;               // of a field at least
    int width = 0;                 // of numbers; 0: what the column has
    Qt::Alignment alignment = {};  // of a field in its column
  };
  // Fields belong to `owner`; `refused` is told what cannot be taken.
  FieldRows(QWidget* owner, std::function<void(const QString&)> refused, const Look& look);
  FieldRows(QWidget* owner, std::function<void(const QString&)> refused)
      : FieldRows(owner, std::move(refused), Look{}) {}

  // Below the rows that the grid has.
  QWidget* add(QGridLayout* grid, const Row& row, QWidget* field);
  NumberField* number(QGridLayout* grid, const Row& row, const QString& unit,
                      NumberField::Range range, std::function<std::optional<double>()> get,
                      std::function<void(double, bool stepped)> set);
  BeatField* beat(QGridLayout* grid, const Row& row, BeatField::Range range,
                  std::function<std::optional<Beat>()> get, std::function<void(Beat)> set);
  FlatEdit* line(QGridLayout* grid, const Row& row, std::function<QString()> get,
                 std::function<void(const QString&)> set);
  // `fill` puts the words there, with their data, and `get` says which data is chosen.
  ChoiceField* choice(QGridLayout* grid, const Row& row, std::function<void(ChoiceField&)> fill,
                      std::function<QVariant()> get, std::function<void(const QVariant&)> set);
  // Its name stands behind its box.
  QCheckBox* check(QGridLayout* grid, const Row& row, std::function<bool()> get,
                   std::function<void(bool)> set);
  // A field that stands elsewhere.
  void bind(NumberField* field, std::function<std::optional<double>()> get,
            std::function<void(double, bool stepped)> set);

  // Asks every bound field's getter.
  void read() const;
  void setEnabled(bool enabled) const;
  // They are somebody else's to delete.
  void forget() { bound_.clear(); }

 private:
  struct Bound {
    QWidget* field;
    std::function<void()> read;
  };
  void watch(QWidget* field) const;

  QWidget* owner_;
  std::function<void(const QString&)> refused_;
  Look look_;
  std::vector<Bound> bound_;
};

}  // namespace uneven
