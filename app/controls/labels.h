// SPDX-License-Identifier: GPL-3.0-or-later
// Text as the interface writes it: labels and numbers with their units.
#pragma once

#include <QLabel>
#include <QString>
#include <optional>

#include "core/measure/level.h"
#include "core/time/units.h"

namespace uneven {

QLabel* quietLabel(const QString& text, QWidget* parent);
// The name beside or over a field, with the field's tool tip; what cannot see it is told it as
// well.
QLabel* fieldLabel(const QString& name, QWidget* field, QWidget* parent);
QLabel* strongLabel(const QString& text, int pixels, QWidget* parent);

inline QString qs(std::string_view text) {
  return QString::fromUtf8(text.data(), static_cast<qsizetype>(text.size()));
}

// Text that a tool tip, or whatever else guesses, shows as it stands: the names of pieces, feels
// and files may look like rich text.
QString plainText(const QString& text);

// "−4.5" with a true minus sign, which is as wide as a figure; zero has no sign.
QString numberText(double value, int decimals, bool plus = false);
// What was typed as a number: with either minus, a comma or a point, a plus, the unit or none.
std::optional<double> typedNumber(QString text, const QString& unit);

// "+14.0 ms" with a true minus sign; without a sign: "652.2 ms".
QString signedMs(Milliseconds ms);
QString plainMs(Milliseconds ms, int decimals = 1);
QString decibels(Decibels level);  // "−2.2 dB"

}  // namespace uneven
