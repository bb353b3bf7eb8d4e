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

// An empty column at the end of `down`, in place of the one that was there (nullptr: none). That
// one goes when its events are done: a button of it may be what called.
QVBoxLayout* renewedList(QWidget*& list, QVBoxLayout& down, int spacing);

// Quiet words over several lines of such a column, as high as they need.
QLabel* wrappedLabel(const QString& text, QWidget* parent);
void setWrapped(QLabel& label, const QString& text);

}  // namespace uneven
