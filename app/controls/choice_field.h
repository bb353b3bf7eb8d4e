// SPDX-License-Identifier: GPL-3.0-or-later
// A choice among words, drawn flat: the word and a small arrow.
#pragma once

#include <QComboBox>

#include "core/song/names.h"

namespace uneven {

class ChoiceField : public QComboBox {
  Q_OBJECT
 public:
  explicit ChoiceField(Qt::Alignment alignment, QWidget* parent = nullptr);

  // Blank: several values differ.
  void setBlank() { setCurrentIndex(-1); }
  void setTextPixels(int pixels) { pixels_ = pixels; }
  // A line among the choices that cannot be chosen.
  void addHeading(const QString& text);
  QSize sizeHint() const override;
  QSize minimumSizeHint() const override;

  // Whether what was activated last was taken from the open list, not passed by with arrows or
  // wheel.
  bool fromList() const { return fromList_; }
  void hidePopup() override;

 protected:
  void paintEvent(QPaintEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;

 private:
  bool fromList_ = false;
  Qt::Alignment alignment_;
  int pixels_ = 13;
};

// Fills a field with every value of an enumeration, its file word as data.
template <typename E>
void fillWith(ChoiceField& field) {
  for (const Named<E>& n : namesOf<E>()) {
    field.addItem(QString::fromUtf8(n.spoken.data(), static_cast<int>(n.spoken.size())),
                  QString::fromUtf8(n.text.data(), static_cast<int>(n.text.size())));
  }
}
template <typename E>
E chosen(const ChoiceField& field, E fallback) {
  return fromText<E>(field.currentData().toString().toStdString()).value_or(fallback);
}
template <typename E>
void choose(ChoiceField& field, E value) {
  const std::string_view text = textOf(value);
  field.setCurrentIndex(
      field.findData(QString::fromUtf8(text.data(), static_cast<int>(text.size()))));
}

}  // namespace uneven
