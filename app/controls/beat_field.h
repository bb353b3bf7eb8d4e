// SPDX-License-Identifier: GPL-3.0-or-later
// A position or a length in quarter notes that can be typed as an exact fraction.
#pragma once

#include <optional>

#include "app/controls/flat_edit.h"
#include "core/time/beat.h"

namespace uneven {

// Shows a value, or nothing when several differ. What is typed is taken with Enter or on leaving;
// what cannot be taken stays, turns red and says what is allowed; Escape brings the old value back.
class BeatField : public FlatEdit {
  Q_OBJECT
 public:
  struct Range {
    Beat least;
    Beat most;
    bool included = true;  // most itself
  };
  explicit BeatField(Range range, QWidget* parent = nullptr);

  void setRange(Range range) { range_ = range; }
  // Nothing typed means 0 then, and 0 shows as these words.
  void setZeroWords(const QString& words);
  void setValue(std::optional<Beat> value);
  std::optional<Beat> value() const { return value_; }

 Q_SIGNALS:
  void edited(Beat value);  // by typing; never by setValue
  void refused(const QString& why);

 protected:
  void keyPressEvent(QKeyEvent* event) override;

 private:
  void take();
  void showValue();

  Range range_;
  QString zeroWords_;
  std::optional<Beat> value_;
};

}  // namespace uneven
