// SPDX-License-Identifier: GPL-3.0-or-later
// A column of a card that scrolls where it is too long.
#pragma once

#include <QString>

class QLabel;
class QVBoxLayout;
class QWidget;

namespace uneven {

class Card;

QVBoxLayout* scrollingColumn(Card& card);

// Quiet words over several lines of such a column, as high as they need.
QLabel* wrappedLabel(const QString& text, QWidget* parent);
void setWrapped(QLabel& label, const QString& text);

}  // namespace uneven
