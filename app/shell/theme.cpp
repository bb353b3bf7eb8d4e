// SPDX-License-Identifier: GPL-3.0-or-later
// Fonts and palette.
#include "app/shell/theme.h"

#include <QApplication>
#include <QFontDatabase>
#include <QPalette>
#include <QStyleFactory>
#include <QToolTip>
#include <QWidget>
#include <map>
#include <utility>

namespace uneven::theme {

QColor limbColor(Limb limb) {
  switch (limb) {
    case Limb::kRightHand:
      return {0xb2, 0x4a, 0x00};
    case Limb::kLeftHand:
      return {0x0a, 0x5e, 0x94};
    case Limb::kRightFoot:
      return {0x00, 0x75, 0x5b};
    case Limb::kLeftFoot:
      return {0x8e, 0x3f, 0x77};
    case Limb::kAutomatic:
      break;
  }
  return kInk;
}

void makeBar(QWidget& widget) {
  QPalette p = widget.palette();
  p.setColor(QPalette::Window, kBar);
  p.setColor(QPalette::Button, kBar);
  p.setColor(QPalette::Base, kBar);
  widget.setPalette(p);
  widget.setAutoFillBackground(true);
}

namespace {

QFont madeFont(int pixels, Weight weight) {
  QFont f(QStringLiteral("Uneven Sans"));
  f.setPixelSize(pixels);
  // One picture of each letter, not one for every fraction of a pixel: quicker to start and to
  // draw.
  f.setHintingPreference(QFont::PreferFullHinting);
  f.setWeight(weight == Weight::kSemiBold ? QFont::DemiBold : QFont::Normal);
  return f;
}

}  // namespace

QFont font(int pixels, Weight weight) {
  // Copies share what Qt has found out about a font; a new one is looked up again.
  static std::map<std::pair<int, Weight>, QFont> made;
  const auto found = made.find({pixels, weight});
  if (found != made.end()) return found->second;
  return made.emplace(std::pair(pixels, weight), madeFont(pixels, weight)).first->second;
}

namespace {

QPalette palette() {
  QPalette p;
  p.setColor(QPalette::Window, kPaper);
  p.setColor(QPalette::WindowText, kInk);
  p.setColor(QPalette::Base, kCard);
  p.setColor(QPalette::AlternateBase, kPaper);
  p.setColor(QPalette::Text, kInk);
  p.setColor(QPalette::Button, kBar);
  p.setColor(QPalette::ButtonText, kInk);
  p.setColor(QPalette::Highlight, kChosen);
  p.setColor(QPalette::HighlightedText, kInk);
  p.setColor(QPalette::PlaceholderText, kQuiet);
  p.setColor(QPalette::ToolTipBase, kInk);
  p.setColor(QPalette::ToolTipText, kPaper);
  p.setColor(QPalette::Mid, kLine);
  p.setColor(QPalette::Disabled, QPalette::Text, QColor(0x9a, 0x8f, 0x7e));
  p.setColor(QPalette::Disabled, QPalette::ButtonText, QColor(0x9a, 0x8f, 0x7e));
  p.setColor(QPalette::Disabled, QPalette::WindowText, QColor(0x9a, 0x8f, 0x7e));
  return p;
}

}  // namespace

void install(QApplication& app) {
  for (const char* weight : {"Regular", "SemiBold"}) {
    QFontDatabase::addApplicationFont(QStringLiteral(":/fonts/UnevenSans-%1.otf").arg(weight));
  }
  app.setStyle(QStyleFactory::create(QStringLiteral("Fusion")));
  app.setPalette(palette());
  app.setFont(font(13));
  QPalette flat = app.palette();
  flat.setColor(QPalette::Base, Qt::transparent);
  QApplication::setPalette(flat, "uneven::FlatEdit");
  QApplication::setFont(font(13, Weight::kSemiBold), "uneven::FlatEdit");
  QPalette tip = app.palette();
  tip.setColor(QPalette::ToolTipBase, kInk);
  tip.setColor(QPalette::ToolTipText, kPaper);
  QToolTip::setPalette(tip);
}

}  // namespace uneven::theme
