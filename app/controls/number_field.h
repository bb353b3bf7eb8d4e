// SPDX-License-Identifier: GPL-3.0-or-later
// A number that can be typed, wheeled and stepped with the arrow keys.
#pragma once

#include <functional>
#include <optional>

#include "app/controls/flat_edit.h"

namespace uneven {

// Shows a value with its unit, or nothing when several values differ. What is typed is taken with
// Enter or on leaving; what cannot be taken stays, turns red and says what is allowed; Escape
// brings the old value back. Up, Down and the wheel step; with Shift ten times as far.
class NumberField : public FlatEdit {
  Q_OBJECT
 public:
  struct Range {
    double min = 0;
    double max = 100;
    double step = 1;
    int decimals = 0;
    bool sign = false;  // shows + for positive numbers
  };
  NumberField(const QString& unit, Range range, QWidget* parent = nullptr);

  // Reads what is typed in place of a plain number with its unit.
  using Reader = std::function<std::optional<double>(const QString&)>;
  void setReader(Reader reader) { reader_ = std::move(reader); }
  void setUnit(const QString& unit);
  // What stands there when there is no value; a dash of itself.
  void setBlankWord(const QString& word);
  void setValue(std::optional<double> value);
  std::optional<double> value() const { return value_; }

 Q_SIGNALS:
  // By typing, wheel or key; never by setValue. `stepped`: by wheel or key, many may follow.
  void edited(double value, bool stepped);
  void refused(const QString& why);

 protected:
  void keyPressEvent(QKeyEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void focusInEvent(QFocusEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;

 private:
  void take();
  void step(double times);
  void showNumber(bool editing);
  QString number(double value) const;

  Reader reader_;
  QString unit_;
  QString blank_;
  Range range_;
  std::optional<double> value_;
};

}  // namespace uneven
