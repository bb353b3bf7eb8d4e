// SPDX-License-Identifier: GPL-3.0-or-later
// The strip and the histogram.
#include "app/lean/drift_strip.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/controls/theme.h"

namespace uneven {

DriftStrip::DriftStrip(QWidget* parent) : QWidget(parent) {
  setObjectName(QStringLiteral("drift-strip"));
  setFixedHeight(150);
  setToolTip(
      tr("Above: how far the body drifts along the song, late upwards, in ms. Below: how "
         "often it is how far"));
}

void DriftStrip::wait() {
  columns_.clear();
  waiting_ = true;
  update();
}

void DriftStrip::show(const Take& take, std::uint32_t feel) {
  columns_.clear();
  waiting_ = false;
  bins_.assign(kBins, 0);
  std::vector<const Stroke*> strokes;
  for (const Stroke& s : take.strokes()) {
    if (take.score().blocks[s.block].feel == feel) strokes.push_back(&s);
  }
  double sum = 0, squares = 0, most = 0;
  for (const Stroke* s : strokes) {
    const double ms = toMilliseconds(s->drift).count();
    sum += ms;
    squares += ms * ms;
    most = std::max(most, std::abs(ms));
  }
  const auto count = static_cast<double>(std::max<std::size_t>(1, strokes.size()));
  deviation_ = std::sqrt(std::max(0.0, squares / count - (sum / count) * (sum / count)));
  most_ = std::max(1.0, std::ceil(most));
  update();
  if (strokes.empty() || most == 0) return;
  columns_.resize(kColumns);
  const auto last = static_cast<double>(std::max(Moment(1), take.strokes().back().time).count());
  for (const Stroke* s : strokes) {
    const double ms = toMilliseconds(s->drift).count();
    const double along = std::clamp(static_cast<double>(s->time.count()) / last, 0.0, 1.0);
    Column& c = columns_[static_cast<std::size_t>(along * (kColumns - 1))];
    c.low = c.any ? std::min(c.low, ms) : ms;
    c.high = c.any ? std::max(c.high, ms) : ms;
    c.any = true;
    const double bin = (ms / most_ + 1) / 2 * kBins;
    ++bins_[static_cast<std::size_t>(std::clamp(bin, 0.0, kBins - 1.0))];
  }
}

void DriftStrip::paintEvent(QPaintEvent* /*event*/) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setFont(theme::font(11));
  const QRectF strip(0, 4, width() - 1, 56);
  const QRectF bars(0, 74, width() - 1, 54);
  p.setPen(QPen(theme::kLine, 1));
  p.setBrush(theme::kPaper);
  p.drawRect(strip);
  const double middle = strip.center().y();
  p.drawLine(QPointF(strip.left(), middle), QPointF(strip.right(), middle));
  p.drawLine(bars.bottomLeft(), bars.bottomRight());
  if (columns_.empty()) {
    p.setPen(theme::kQuiet);
    return p.drawText(strip, Qt::AlignCenter,
                      waiting_ ? tr("…") : tr("No drift: every stroke as written"));
  }
  const double column = strip.width() / kColumns;
  const double scale = strip.height() / 2 / most_;
  for (std::size_t i = 0; i < columns_.size(); ++i) {
    const Column& c = columns_[i];
    if (!c.any) continue;
    const double top = middle - scale * c.high;
    p.fillRect(QRectF(strip.left() + column * static_cast<double>(i), top, std::max(1.0, column),
                      std::max(1.2, scale * (c.high - c.low))),
               theme::kBrassEdge);
  }
  const int fullest = *std::max_element(bins_.begin(), bins_.end());
  const double width = bars.width() / kBins;
  for (int i = 0; i < kBins; ++i) {
    const double height = bars.height() * bins_[static_cast<std::size_t>(i)] / fullest;
    p.fillRect(QRectF(bars.left() + width * i + 0.5, bars.bottom() - height, width - 1, height),
               theme::kBrass);
  }
  p.setPen(theme::kQuiet);
  const QRectF words(0, bars.bottom() + 4, bars.width(), 14);
  p.drawText(words, Qt::AlignLeft, tr("\u2212%1 ms").arg(most_));
  p.drawText(words, Qt::AlignHCenter, tr("SD %1 ms").arg(deviation_, 0, 'f', 1));
  p.drawText(words, Qt::AlignRight, tr("+%1 ms").arg(most_));
}

}  // namespace uneven
