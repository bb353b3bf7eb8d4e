// SPDX-License-Identifier: GPL-3.0-or-later
// Fields for fractions of a quarter note.
#include "app/controls/beat_field.h"

#include <QKeyEvent>

#include "core/song/song.h"

namespace uneven {

BeatField::BeatField(Range range, QWidget* parent) : FlatEdit(parent), range_(range) {
  setAlignment(Qt::AlignRight);
  connect(this, &QLineEdit::editingFinished, this, &BeatField::take);
}

void BeatField::setZeroWords(const QString& words) {
  zeroWords_ = words;
  showValue();
}

void BeatField::setValue(std::optional<Beat> value) {
  value_ = value;
  if (!isModified() || !hasFocus()) showValue();
}

void BeatField::showValue() {
  const bool zero = value_ == Beat(0) && !zeroWords_.isEmpty();
  setWrong(false);
  setText(value_ && !zero ? QString::fromStdString(value_->toString()) : QString());
  setPlaceholderText(zero ? zeroWords_ : value_ ? QString() : tr("–"));
  setModified(false);
}

void BeatField::take() {
  if (!isModified()) return;
  const QString typed = text().trimmed();
  const bool nothing = typed.isEmpty() && !zeroWords_.isEmpty();
  const auto beat = nothing ? Beat(0) : Beat::parse(typed.toStdString());
  const bool good = beat && *beat >= range_.least && beat->den() <= kDenominatorMax &&
                    (range_.included ? *beat <= range_.most : *beat < range_.most);
  if (!good) {
    setWrong(true);
    const QString bound = range_.included ? tr("%1 is not taken: %2 to %3 quarter notes, as 7/4")
                                          : tr("%1 is not taken: %2 to below %3 quarter notes, as "
                                               "7/4");
    return Q_EMIT refused(bound.arg(typed, QString::fromStdString(range_.least.toString()),
                                    QString::fromStdString(range_.most.toString())));
  }
  setWrong(false);
  setModified(false);
  value_ = *beat;
  Q_EMIT edited(*beat);
}

void BeatField::keyPressEvent(QKeyEvent* event) {
  if (event->key() != Qt::Key_Escape) return FlatEdit::keyPressEvent(event);
  showValue();
  selectAll();
}

}  // namespace uneven
