// SPDX-License-Identifier: GPL-3.0-or-later
// Number fields.
#include "app/controls/number_field.h"

#include <QFocusEvent>
#include <QKeyEvent>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>

#include "app/controls/labels.h"

namespace uneven {

NumberField::NumberField(const QString& unit, Range range, QWidget* parent)
    : FlatEdit(parent), unit_(unit), range_(range) {
  setAlignment(Qt::AlignRight);
}

QString NumberField::number(double value) const {
  return numberText(value, range_.decimals, range_.sign);
}

void NumberField::setUnit(const QString& unit) {
  unit_ = unit;
}

void NumberField::setBlankWord(const QString& word) {
  blank_ = word;
  showNumber(hasFocus());
}

void NumberField::setValue(std::optional<double> value) {
  value_ = value;
  if (!hasFocus() || !isModified()) showNumber(hasFocus());
}

void NumberField::showNumber(bool editing) {
  setWrong(false);
  const QString unit = editing || unit_.isEmpty() ? QString() : QStringLiteral(" ") + unit_;
  setText(value_ ? number(*value_) + unit : QString());
  setPlaceholderText(value_ ? QString() : blank_.isEmpty() ? tr("–") : blank_);
  setModified(false);
}

void NumberField::take() {
  if (!isModified()) return;
  const auto number = reader_ ? reader_(text()) : typedNumber(text(), unit_);
  if (!number || *number < range_.min || *number > range_.max) {
    setWrong(true);
    Q_EMIT refused(tr("%1 is not taken: %2 to %3 %4")
                       .arg(text(), this->number(range_.min), this->number(range_.max), unit_));
    return;
  }
  setWrong(false);
  value_ = *number;
  setModified(false);
  Q_EMIT edited(*number, false);
  showNumber(hasFocus());
  if (hasFocus()) selectAll();
}

void NumberField::step(double times) {
  take();
  if (!value_) return;
  // On the step's own lattice, so that 92.37 goes to 93, not 93.37.
  const double steps = *value_ / range_.step;
  const double rounded = roundedTo(steps, 1);
  const double next = std::abs(steps - rounded) < 1e-6 ? rounded + times
                      : times > 0                      ? std::ceil(steps) + times - 1
                                                       : std::floor(steps) + times + 1;
  const double value = std::clamp(next * range_.step, range_.min, range_.max);
  if (value == *value_) return;
  value_ = value;
  Q_EMIT edited(value, true);
  showNumber(hasFocus());
  if (hasFocus()) selectAll();
}

void NumberField::keyPressEvent(QKeyEvent* event) {
  const double size = (event->modifiers() & Qt::ShiftModifier) != 0 ? 10 : 1;
  switch (event->key()) {
    case Qt::Key_Up:
      return step(size);
    case Qt::Key_Down:
      return step(-size);
    case Qt::Key_Return:
    case Qt::Key_Enter:
      return take();
    case Qt::Key_Escape:
      showNumber(true);
      return selectAll();
    default:
      FlatEdit::keyPressEvent(event);
  }
}

void NumberField::wheelEvent(QWheelEvent* event) {
  if (!isEnabled() || event->angleDelta().y() == 0) return;
  const double size = (event->modifiers() & Qt::ShiftModifier) != 0 ? 10 : 1;
  step(event->angleDelta().y() > 0 ? size : -size);
  event->accept();
}

void NumberField::focusInEvent(QFocusEvent* event) {
  FlatEdit::focusInEvent(event);
  showNumber(true);
  selectAll();
}

void NumberField::focusOutEvent(QFocusEvent* event) {
  take();
  FlatEdit::focusOutEvent(event);
  if (!wrong()) showNumber(false);
}

}  // namespace uneven
