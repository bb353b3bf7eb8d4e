// SPDX-License-Identifier: GPL-3.0-or-later
// Pulses.
#include "app/vary/pulse_strip.h"

#include <QPainter>
#include <algorithm>

#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "layout/time_axis.h"

namespace uneven {
namespace {

constexpr int kTextHeight = 34;  // two lines

}  // namespace

PulseStrip::PulseStrip(Walker& walker, QWidget* parent) : QWidget(parent), walker_(walker) {
  setObjectName(QStringLiteral("vary-pulses"));
  setFixedHeight(kTextHeight + 108);
  connect(&walker_, &Walker::changed, this, &PulseStrip::read);
  read();
}

void PulseStrip::read() {
  const Walk* walk = walker_.walk();
  setVisible(walk != nullptr && walk->relaid.has_value());
  if (walk == nullptr || !walk->relaid) return;
  const Relaid& r = *walk->relaid;
  // A cell against the bar has the part's own tempo.
  const QString seems =
      walk->kind == "against"
          ? QString()
          : tr("seems %1 BPM, ").arg(walker_.bpm() * r.times.toDouble(), 0, 'f', 1);
  words_ = tr("lasts %1 quarters, %2meets the bar after %3 bars and %4 rounds (%5)")
               .arg(qs(r.quarters.toString()), seems)
               .arg(r.meetsAfterBars)
               .arg(r.rounds)
               .arg(qs(r.cycle));
  for (const std::string& note : walk->notes) words_ += QStringLiteral("; ") + qs(note);
  setAccessibleName(words_);
  setToolTip(plainText(words_));
  update();
}

void PulseStrip::paintEvent(QPaintEvent* /*event*/) {
  const Walk* walk = walker_.walk();
  if (walk == nullptr || !walk->relaid) return;
  const Relaid& r = *walk->relaid;
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setFont(theme::font(13, theme::Weight::kSemiBold));
  p.setPen(theme::kInk);
  const QString title =
      walk->kind == "against" ? tr("Against the bar") : tr("Laid on another grid");
  p.drawText(QRectF(2, 2, width(), 18), Qt::AlignLeft | Qt::AlignVCenter, title);
  const double after = p.fontMetrics().horizontalAdvance(title) + 16;
  p.setFont(theme::font(12));
  p.setPen(theme::kQuiet);
  p.drawText(QRectF(after, 4, width() - after - 4, kTextHeight),
             Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap, words_);
  const Groove& core = *walk->core;
  const Beat bar = core.meter.barLength(), count = core.meter.countUnit();
  // As much as can be told apart.
  constexpr std::int64_t kBarsMost = 16;
  const std::int64_t bars = std::min(r.meetsAfterBars, kBarsMost);
  const double whole = (Beat(bars) * bar).toDouble();
  const double left = 70, right = width() - 16.0;
  const TimeAxis axis(left, right, 0, whole);
  const auto x = [&](double quarters) { return axis.xFromQuarters(quarters); };
  const double felt = kTextHeight + 32, seems = felt + 38;
  p.drawText(QRectF(0, felt - 18, left - 10, 18), Qt::AlignRight | Qt::AlignVCenter, tr("pulse"));
  p.drawText(QRectF(0, seems - 18, left - 10, 18), Qt::AlignRight | Qt::AlignVCenter,
             walk->kind == "against" ? tr("cell") : tr("seems"));
  p.setPen(QPen(theme::kLine, 1));
  for (const double y : {felt, seems}) p.drawLine(QPointF(left, y), QPointF(right, y));
  for (Beat at; at <= Beat(bars) * bar; at += count) {
    const bool line = Beat(at.floorDiv(bar)) * bar == at;
    p.setPen(QPen(theme::kInk, line ? 2 : 1.2));
    p.drawLine(QPointF(x(at.toDouble()), felt), QPointF(x(at.toDouble()), felt - (line ? 20 : 14)));
  }
  const Beat pulse = walk->kind == "against" ? r.quarters : Beat(1) / r.times;
  constexpr int kPulsesMost = 4'000;
  int drawn = 0;
  for (Beat at; at <= Beat(bars) * bar && drawn < kPulsesMost; at += pulse, ++drawn) {
    p.setPen(QPen(theme::kBrass, 2.4));
    p.drawLine(QPointF(x(at.toDouble()), seems), QPointF(x(at.toDouble()), seems - 14));
  }
  // Where the figure begins anew, and where all begins together.
  QPen round(theme::kAttention, 1.2, Qt::DashLine);
  int told = 0;
  double before = -100;
  for (Beat at; at <= Beat(bars) * bar && told < kPulsesMost; at += r.quarters, ++told) {
    const double here = x(at.toDouble());
    if (walk->kind != "against" || at == Beat(0) || at == Beat(r.meetsAfterBars) * bar) {
      p.setPen(round);
      p.drawLine(QPointF(here, felt - 24), QPointF(here, seems + 4));
    }
    const bool meets = at == Beat(r.meetsAfterBars) * bar;
    const QString word = at == Beat(0) ? tr("bar 1")
                         : meets       ? tr("meets bar %1").arg(r.meetsAfterBars + 1)
                                       : tr("comes round");
    if (walk->kind == "against" && !meets && at != Beat(0)) continue;
    if (!meets && here - before < 90) continue;
    before = here;
    p.setPen(theme::kQuiet);
    const QRectF box(here - 60, seems + 8, 120, 16);
    p.drawText(at == Beat(0) ? box.translated(60, 0)
               : meets       ? box.translated(-60, 0)
                             : box,
               at == Beat(0) ? Qt::AlignLeft
               : meets       ? Qt::AlignRight
                             : Qt::AlignHCenter,
               word);
  }
}

}  // namespace uneven
