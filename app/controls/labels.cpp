// SPDX-License-Identifier: GPL-3.0-or-later
// Labels and numbers as text.
#include "app/controls/labels.h"

#include <QTextDocument>

#include "app/controls/theme.h"
#include "core/base/number.h"

namespace uneven {

QString numberText(double value, int decimals, bool plus) {
  QString text = QString::number(std::abs(value), 'f', decimals);
  if (text.toDouble() == 0) return text;
  if (value < 0) return QChar(0x2212) + text;
  return plus ? QLatin1Char('+') + text : text;
}

std::optional<double> typedNumber(QString text, const QString& unit) {
  text = text.trimmed();
  text.replace(QChar(0x2212), QLatin1Char('-')).replace(QLatin1Char(','), QLatin1Char('.'));
  if (text.endsWith(unit)) text.chop(unit.size());
  text = text.trimmed();
  if (text.startsWith(QLatin1Char('+'))) text.remove(0, 1);
  return decimalNumber(text.toStdString());
}

QString plainText(const QString& text) {
  return Qt::mightBeRichText(text) ? Qt::convertFromPlainText(text, Qt::WhiteSpaceNormal) : text;
}

QLabel* quietLabel(const QString& text, QWidget* parent) {
  auto* label = new QLabel(text, parent);
  label->setTextFormat(Qt::PlainText);
  label->setFont(theme::font(12));
  QPalette quiet = label->palette();
  quiet.setColor(QPalette::WindowText, theme::kQuiet);
  label->setPalette(quiet);
  return label;
}

QLabel* fieldLabel(const QString& name, QWidget* field, QWidget* parent) {
  QLabel* label = quietLabel(name, parent);
  label->setToolTip(field->toolTip());
  field->setAccessibleName(name);
  return label;
}

QLabel* strongLabel(const QString& text, int pixels, QWidget* parent) {
  auto* label = new QLabel(text, parent);
  label->setTextFormat(Qt::PlainText);
  label->setFont(theme::font(pixels, theme::Weight::kSemiBold));
  return label;
}

QString signedMs(Milliseconds ms) {
  return numberText(ms.count(), 1, true) + QStringLiteral(" ms");
}
QString plainMs(Milliseconds ms, int decimals) {
  return numberText(ms.count(), decimals, false) + QStringLiteral(" ms");
}
QString decibels(Decibels level) {
  return numberText(level.value, 1, false) + QStringLiteral(" dB");
}

}  // namespace uneven
