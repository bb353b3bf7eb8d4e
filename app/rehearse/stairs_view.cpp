// SPDX-License-Identifier: GPL-3.0-or-later
// The staircase.
#include "app/rehearse/stairs_view.h"

#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "app/drawing/stick_painter.h"

namespace uneven {
namespace {

const QColor kStair{0xda, 0xc9, 0xa4}, kToCome{0xee, 0xe6, 0xd3}, kHere{0xf0, 0xd8, 0xa4};
constexpr double kLabel = 26, kFlag = 34;  // px

}  // namespace

StairsView::StairsView(Rehearsing& rehearsing, QWidget* parent)
    : DrawnView(parent), rehearsing_(rehearsing) {
  setObjectName(QStringLiteral("stairs"));
  setFocusPolicy(Qt::StrongFocus);
  setMinimumSize(300, 120);
  setAccessibleName(tr("Tempos"));
  connect(&rehearsing_, &Rehearsing::changed, this, &StairsView::read);
  read();
}

void StairsView::read() {
  const std::vector<double>& rungs = rehearsing_.rungs();
  times_.assign(rungs.size(), {});
  constexpr double kSame = 0.3;  // BPM
  const auto& times = rehearsing_.log().summary().times;
  for (auto t = times.rbegin(); t != times.rend(); ++t) {
    if (t->result == Through::kBrokenOff || t->step != rehearsing_.step().title) continue;
    for (std::size_t i = 0; i < rungs.size(); ++i) {
      if (std::abs(rungs[i] - t->bpm) < kSame) times_[i].push_back(t->result);
    }
  }
  const auto& here = times_[rehearsing_.place().rung];
  setAccessibleDescription(tr("%1 at %2 BPM, tempo %3 of %4; %5 times through, %6 clean")
                               .arg(qs(rehearsing_.step().title), numberText(rehearsing_.bpm(), 0))
                               .arg(rehearsing_.place().rung + 1)
                               .arg(rungs.size())
                               .arg(here.size())
                               .arg(std::count(here.begin(), here.end(), Through::kClean)));
  update();
}

std::vector<Through> StairsView::timesOf(std::size_t rung) const {
  return rung < times_.size() ? times_[rung] : std::vector<Through>{};
}

std::vector<Stair> StairsView::stairs() const {
  std::vector<int> counts;
  for (const auto& times : times_) counts.push_back(static_cast<int>(times.size()));
  return stairsOf(rehearsing_.rungs(), counts, {6, kFlag + kLabel, width() - 6.0, height() - 4.0},
                  34);
}

void StairsView::paintEvent(QPaintEvent* /*event*/) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const std::vector<Stair> all = stairs();
  const std::size_t here = rehearsing_.place().rung;
  for (std::size_t i = 0; i < all.size(); ++i) {
    const Stair& stair = all[i];
    const QRectF rect = qr(stair.rect);
    p.fillRect(rect, i == here ? kHere : i < here ? kStair : kToCome);
    if (i == here) {
      p.setPen(QPen(theme::kChosenEdge, 1.4));
      p.setBrush(Qt::NoBrush);
      p.drawRect(rect);
    }
    const std::vector<Through>& times = times_[i];
    for (std::size_t d = 0; d < stair.dots.size(); ++d) {
      // The latest are those that have room.
      const bool clean = times[static_cast<std::size_t>(stair.more) + d] == Through::kClean;
      p.setPen(QPen(clean ? theme::kGood : theme::kAttention, 1.6));
      p.setBrush(clean ? theme::kGood : theme::kCard);
      p.drawEllipse(QPointF(stair.dots[d].x, stair.dots[d].y), clean ? 4.2 : 3.8,
                    clean ? 4.2 : 3.8);
    }
    if (!stair.labelled && i != here) continue;
    p.setFont(theme::font(i == here ? 15 : 12,
                          i == here ? theme::Weight::kSemiBold : theme::Weight::kRegular));
    p.setPen(i <= here ? theme::kInk : theme::kQuiet);
    const double middle = rect.center().x();
    p.drawText(QRectF(middle - 40, rect.top() - kLabel, 80, kLabel - 4),
               Qt::AlignHCenter | Qt::AlignBottom, numberText(stair.bpm, 0));
  }
  p.fillRect(QRectF(6, height() - 4, width() - 12.0, 1.5), theme::kBarLine);
  if (all.empty()) return;
  const QRectF top = qr(all.back().rect);
  const double x = top.right() - 4, y = top.top() - kLabel - 2;
  const bool reached = rehearsing_.place().reached;
  p.setPen(QPen(reached ? theme::kGood : theme::kAttention, 1.6));
  p.drawLine(QPointF(x - 20, y), QPointF(x - 20, y - 26));
  p.setBrush(reached ? theme::kGood : theme::kAttention);
  p.setPen(Qt::NoPen);
  p.drawPolygon(
      QPolygonF({QPointF(x - 20, y - 26), QPointF(x + 2, y - 20), QPointF(x - 20, y - 13)}));
  if (hasFocus()) {
    p.setPen(QPen(theme::kChosenEdge, 1));
    p.setBrush(Qt::NoBrush);
    p.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 4, 4);
  }
}

void StairsView::mousePressEvent(QMouseEvent* event) {
  if (event->button() != Qt::LeftButton) return;
  const auto rung = stairAt(stairs(), {event->position().x(), event->position().y()});
  if (rung) rehearsing_.goTo(rehearsing_.place().step, *rung);
}

QString StairsView::tipAt(QPointF point) {
  const auto rung = stairAt(stairs(), {point.x(), point.y()});
  if (!rung) return {};
  const std::vector<Through> times = timesOf(*rung);
  return tr("%1 BPM, %2: %3 times through, %4 clean. A click goes there")
      .arg(numberText(rehearsing_.rungs()[*rung], 1), qs(rehearsing_.step().title))
      .arg(times.size())
      .arg(std::count(times.begin(), times.end(), Through::kClean));
}

}  // namespace uneven
