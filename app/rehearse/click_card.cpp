// SPDX-License-Identifier: GPL-3.0-or-later
// The card of the click.
#include "app/rehearse/click_card.h"

#include <QGridLayout>
#include <QLabel>
#include <QPainter>

#include "app/controls/choice_field.h"
#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "layout/time_axis.h"

namespace uneven {
namespace {

// Eight bars of it: a mark a click, as high as it is loud.
class ClickBars : public QWidget {
 public:
  explicit ClickBars(Rehearsing& rehearsing) : rehearsing_(rehearsing) {
    setObjectName(QStringLiteral("click-bars"));
    setFixedHeight(44);
    setToolTip(ClickCard::tr("The first eight bars: a mark a click, as high as it is loud"));
  }

 protected:
  void paintEvent(QPaintEvent* /*event*/) override {
    QPainter p(this);
    constexpr int kBars = 8;
    const Meter meter = rehearsing_.groove().meter;
    const double bar = meter.barLength().toDouble(), base = height() - 6.0;
    const TimeAxis axis(0, width(), 0, kBars * bar);
    for (int b = 0; b < kBars; ++b)
      p.fillRect(QRectF(axis.xFromQuarters(b * bar), 2, 1, height() - 4.0), theme::kFaintLine);
    p.fillRect(QRectF(0, base, width(), 1), theme::kLaneLine);
    const ClickPattern now = at(rehearsing_.settings().click, rehearsing_.bpm());
    for (const ClickStroke& c : clicksOf(now, meter, rehearsing_.bpm(), 0, kBars)) {
      const double x = axis.xFromQuarters(c.at.toDouble());
      const double height = (c.one ? 28 : 20) * std::max(0.15, 1 + c.db / 24);
      p.fillRect(QRectF(x + 1, base - height, c.one ? 2.4 : 1.6, height),
                 c.one ? theme::kBrassEdge : theme::kInk);
    }
  }

 private:
  Rehearsing& rehearsing_;
};

}  // namespace

ClickCard::ClickCard(Rehearsing& rehearsing, QWidget* parent)
    : FieldCard(parent), rehearsing_(rehearsing) {
  QGridLayout* grid = section(tr("Click"));
  addChoice(
      grid, {tr("Pattern"), "click-pattern", tr("A click that helps, and then leaves you alone")},
      [](ChoiceField& field) {
        for (const ClickPattern& one : clickPatterns()) field.addItem(qs(one.title), qs(one.id));
      },
      [this] { return qs(rehearsing_.settings().click.id); },
      [this](const QVariant& id) {
        if (const ClickPattern* one = findClick(id.toString().toStdString()))
          rehearsing_.change([&](RehearseSettings& r) { r.click = *one; });
      });
  help_ = addText(QStringLiteral("click-help"));
  bars_ = new ClickBars(rehearsing_);
  addWidget(bars_);
  QGridLayout* own = section(tr("As it is"));
  const auto number = [&](const Row& row, const QString& unit, NumberField::Range range,
                          auto member, double scale = 1) {
    addNumber(
        own, row, unit, range,
        [this, member, scale] {
          return static_cast<double>(rehearsing_.settings().click.*member) * scale;
        },
        [this, member, scale](double v, bool) {
          rehearsing_.change([&](RehearseSettings& r) {
            ClickPattern& c = r.click;
            c.*member = static_cast<std::remove_reference_t<decltype(c.*member)>>(v / scale);
          });
        });
  };
  number({tr("Parts of a count"), "click-parts",
          tr("Each count is cut into so many where it is slow")},
         {}, {1, 6, 1, 0, false}, &ClickPattern::parts);
  number({tr("Cut below"), "click-cut", tr("Above this tempo the counts stay whole; 0: always")},
         tr("BPM"), {0, kBpmMax, 5, 0, false}, &ClickPattern::dividedBelow);
  number(
      {tr("Bars with"), "click-bars-on", tr("So many bars with the click, then so many without")},
      tr("bars"), {1, 16, 1, 0, false}, &ClickPattern::on);
  number({tr("Bars without"), "click-bars-off", tr("0: always with it")}, tr("bars"),
         {0, 16, 1, 0, false}, &ClickPattern::off);
  number({tr("Longer each turn by"), "click-grows", tr("The gaps grow by so many bars")},
         tr("bars"), {0, 8, 1, 0, false}, &ClickPattern::grows);
  number({tr("Left out by chance"), "click-silent",
          tr("The share of bars without a click, never told which")},
         tr("%"), {0, 90, 5, 0, false}, &ClickPattern::silent, 100);
  number({tr("Chance number"), "click-seed", tr("The same number leaves out the same bars")}, {},
         {1, 1'000'000, 1, 0, false}, &ClickPattern::seed);
  number({tr("Softer each bar by"), "click-fades", tr("Until nothing is heard of it")}, tr("dB"),
         {0, 12, 0.5, 1, false}, &ClickPattern::fades);
  addChoice(
      own, {tr("On the"), "click-moved", tr("The click beside the count: you keep the count")},
      [](ChoiceField& field) {
        for (const auto& [word, sixteenths] :
             {std::pair(tr("count"), 0), {tr("e"), 1}, {tr("&&").mid(1), 2}, {tr("a"), 3}})
          field.addItem(word, sixteenths);
      },
      [this] {
        return static_cast<int>((rehearsing_.settings().click.moved * Beat(4)).floorDiv(Beat(1)));
      },
      [this](const QVariant& sixteenths) {
        rehearsing_.change(
            [&](RehearseSettings& r) { r.click.moved = Beat(sixteenths.toInt(), 4); });
      });
  addStretch();
  connect(&rehearsing_, &Rehearsing::changed, this, [this] {
    if (isVisible()) read();
  });
}

void ClickCard::read() {
  FieldCard::read();
  help_->setText(qs(rehearsing_.settings().click.help));
  bars_->update();
}

}  // namespace uneven
