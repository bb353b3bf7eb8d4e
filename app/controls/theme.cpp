// SPDX-License-Identifier: GPL-3.0-or-later
// Fonts and palette.
#include "app/controls/theme.h"

#include <QApplication>
#include <QFontDatabase>
#include <QIconEngine>
#include <QPainter>
#include <QPalette>
#include <QProxyStyle>
#include <QStyleOption>
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

QString sheet(const char* text) {
  QString out = QString::fromLatin1(text);
  for (const auto& [name, color] : {std::pair("@paper", kPaper),
                                    {"@card", kCard},
                                    {"@line", kLine},
                                    {"@ink", kInk},
                                    {"@quiet", kQuiet},
                                    {"@chosen", kChosen}}) {
    out.replace(QLatin1String(name), color.name());
  }
  return out;
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
  p.setColor(QPalette::Disabled, QPalette::Text, kDisabled);
  p.setColor(QPalette::Disabled, QPalette::ButtonText, kDisabled);
  p.setColor(QPalette::Disabled, QPalette::WindowText, kDisabled);
  return p;
}

// What a bar shows where it has no more room.
class MoreIcon : public QIconEngine {
 public:
  void paint(QPainter* p, const QRect& rect, QIcon::Mode /*mode*/,
             QIcon::State /*state*/) override {
    p->save();
    p->setRenderHint(QPainter::Antialiasing);
    p->setPen(QPen(kInk, 1.4));
    const QPointF middle = QRectF(rect).center();
    for (const double x : {-4.0, 1.0}) {
      p->drawPolyline(
          QPolygonF({middle + QPointF(x, -3), middle + QPointF(x + 3, 0), middle + QPointF(x, 3)}));
    }
    p->restore();
  }
  QPixmap pixmap(const QSize& size, QIcon::Mode mode, QIcon::State state) override {
    QPixmap out(size);
    out.fill(Qt::transparent);
    QPainter p(&out);
    paint(&p, QRect(QPoint(), size), mode, state);
    return out;
  }
  QIconEngine* clone() const override { return new MoreIcon(*this); }
};

// Fusion reads that icon from files when a menu bar is made, and every image format's plugin is
// loaded for it: a tenth of the whole start.
class Style : public QProxyStyle {
 public:
  Style() : QProxyStyle(QStringLiteral("Fusion")) {}
  QIcon standardIcon(StandardPixmap icon, const QStyleOption* option,
                     const QWidget* widget) const override {
    if (icon == SP_ToolBarHorizontalExtensionButton) return QIcon(new MoreIcon);
    return QProxyStyle::standardIcon(icon, option, widget);
  }
  // Fusion makes menus lighter than the card they stand on: white.
  void drawPrimitive(PrimitiveElement element, const QStyleOption* option, QPainter* p,
                     const QWidget* widget) const override {
    if (element != PE_PanelMenu && element != PE_FrameMenu) {
      return QProxyStyle::drawPrimitive(element, option, p, widget);
    }
    if (element == PE_PanelMenu) p->fillRect(option->rect, kCard);
    p->save();
    p->setPen(QPen(kLine, 1));
    p->setBrush(Qt::NoBrush);
    p->drawRect(option->rect.adjusted(0, 0, -1, -1));
    p->restore();
  }
};

}  // namespace

void install(QApplication& app) {
  for (const char* weight : {"Regular", "SemiBold"}) {
    QFontDatabase::addApplicationFont(QStringLiteral(":/fonts/UnevenSans-%1.ttf").arg(weight));
  }
  app.setStyle(new Style);
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
