// SPDX-License-Identifier: GPL-3.0-or-later
// Labels and numbers as text.
#include "app/shell/labels.h"

#include "app/shell/theme.h"

namespace uneven {
namespace {

QString withMinus(double value, int decimals, bool plus) {
  QString text = QString::number(std::abs(value), 'f', decimals);
  if (text.toDouble() == 0) return text;
  if (value < 0) return QChar(0x2212) + text;
  return plus ? QLatin1Char('+') + text : text;
}

}  // namespace

QLabel* quietLabel(const QString& text, QWidget* parent) {
  auto* label = new QLabel(text, parent);
  label->setFont(theme::font(12));
  QPalette quiet = label->palette();
  quiet.setColor(QPalette::WindowText, theme::kQuiet);
  label->setPalette(quiet);
  return label;
}

QLabel* strongLabel(const QString& text, int pixels, QWidget* parent) {
  auto* label = new QLabel(text, parent);
  label->setFont(theme::font(pixels, theme::Weight::kSemiBold));
  return label;
}

QString signedMs(Milliseconds ms) {
  return withMinus(ms.count(), 1, true) + QStringLiteral(" ms");
}
QString plainMs(Milliseconds ms, int decimals) {
  return withMinus(ms.count(), decimals, false) + QStringLiteral(" ms");
}
QString decibels(Decibels level) {
  return withMinus(level.value, 1, false) + QStringLiteral(" dB");
}

}  // namespace uneven
