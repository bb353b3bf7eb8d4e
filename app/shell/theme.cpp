// SPDX-License-Identifier: GPL-3.0-or-later
// Fonts, palette and style sheet.
#include "app/shell/theme.h"

#include <QApplication>
#include <QFontDatabase>
#include <QPalette>
#include <QStyleFactory>

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

QFont font(int pixels, Weight weight) {
  QFont f(QStringLiteral("Uneven Sans"));
  f.setPixelSize(pixels);
  switch (weight) {
    case Weight::kRegular:
      f.setWeight(QFont::Normal);
      break;
    case Weight::kMedium:
      f.setWeight(QFont::Medium);
      break;
    case Weight::kSemiBold:
      f.setWeight(QFont::DemiBold);
      break;
    case Weight::kBold:
      f.setWeight(QFont::Bold);
      break;
  }
  return f;
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

constexpr const char* kSheet = R"(
* { font-family: "Uneven Sans"; font-size: 13px; color: #2b2722; }
QMenuBar { background: #ece3d1; padding: 2px 8px; }
QMenuBar::item { padding: 4px 9px; background: transparent; border-radius: 3px; }
QMenuBar::item:selected { background: #e0d2b4; }
QMenu { background: #fffaf0; border: 1px solid #d5c9b2; padding: 5px 0; }
QMenu::item { padding: 5px 26px 5px 18px; }
QMenu::item:selected { background: #efe1bd; }
QMenu::item:disabled { color: #9a8f7e; }
QMenu::separator { height: 1px; background: #e8dfce; margin: 4px 0; }
QStatusBar { background: #ece3d1; }
QStatusBar::item { border: none; }
QStatusBar QLabel { color: #2b2722; padding: 2px 8px; }
QToolTip { background: #2b2722; color: #f7f2e8; border: none; padding: 5px 8px; }
QLineEdit { background: transparent; border: none; border-bottom: 1px solid transparent;
  padding: 1px 3px; selection-background-color: #efe1bd; selection-color: #2b2722; }
QLineEdit:hover { border-bottom: 1px solid #d5c9b2; }
QLineEdit:focus { border-bottom: 1px solid #8a6414; background: #fffaf0; }
QLineEdit:disabled { color: #9a8f7e; }
QLineEdit[wrong="true"] { border-bottom: 2px solid #a3121f; color: #a3121f; }
QPushButton { background: #2b2722; color: #f7f2e8; border: none; border-radius: 4px;
  padding: 8px 16px; font-weight: 600; }
QPushButton:hover { background: #423b33; }
QPushButton:focus { border: 2px solid #d3a037; padding: 6px 14px; }
QPushButton:disabled { background: #d5c9b2; color: #675d4f; }
QPushButton[quiet="true"] { background: transparent; color: #2b2722; border: 1px solid #d5c9b2;
  padding: 7px 15px; }
QPushButton[quiet="true"]:hover { background: #ece3d1; }
QPushButton[quiet="true"]:focus { border: 2px solid #d3a037; padding: 6px 14px; }
QCheckBox { spacing: 8px; }
QTableView { background: #fffaf0; border: 1px solid #d5c9b2; gridline-color: #efe7d8;
  selection-background-color: #efe1bd; selection-color: #2b2722; }
QHeaderView::section { background: #f7f2e8; color: #675d4f; border: none;
  border-bottom: 1px solid #d5c9b2; padding: 5px 12px; }
QScrollBar:vertical { background: transparent; width: 10px; }
QScrollBar::handle:vertical { background: #d5c9b2; border-radius: 4px; min-height: 30px; }
QScrollBar:horizontal { background: transparent; height: 10px; }
QScrollBar::handle:horizontal { background: #d5c9b2; border-radius: 4px; min-width: 30px; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
)";

}  // namespace

void install(QApplication& app) {
  for (const char* weight : {"Regular", "Medium", "SemiBold", "Bold"}) {
    QFontDatabase::addApplicationFont(QStringLiteral(":/fonts/UnevenSans-%1.otf").arg(weight));
  }
  app.setStyle(QStyleFactory::create(QStringLiteral("Fusion")));
  app.setPalette(palette());
  app.setFont(font(13));
  app.setStyleSheet(QString::fromLatin1(kSheet));
}

}  // namespace uneven::theme
