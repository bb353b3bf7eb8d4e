// SPDX-License-Identifier: GPL-3.0-or-later
// The steps.
#include "app/rehearse/steps_row.h"

#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>
#include <algorithm>

#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "app/drawing/mini_groove.h"

namespace uneven {
namespace {

constexpr double kStepWidth = 126, kStepGap = 6, kHeading = 20, kMore = 22;

}  // namespace

StepsRow::StepsRow(Rehearsing& rehearsing, QWidget* parent)
    : DrawnView(parent), rehearsing_(rehearsing) {
  setObjectName(QStringLiteral("steps"));
  setFocusPolicy(Qt::StrongFocus);
  setFixedHeight(84);
  setMinimumWidth(300);
  setAccessibleName(tr("Steps"));
  connect(&rehearsing_, &Rehearsing::changed, this, &StepsRow::read);
  read();
}

void StepsRow::read() {
  const auto& steps = rehearsing_.steps();
  done_.assign(steps.size(), false);
  // So many clean ones in a row, at any time.
  const auto& times = rehearsing_.log().summary().times;
  const int up = rehearsing_.settings().up;
  for (std::size_t i = 0; i < steps.size(); ++i) {
    int run = 0;
    for (const TimeThrough& t : times) {
      if (t.step != steps[i].title || t.result == Through::kBrokenOff) continue;
      run = t.result == Through::kClean ? run + 1 : 0;
      if (run >= up) done_[i] = true;
    }
  }
  const std::size_t here = rehearsing_.place().step;
  const auto room = static_cast<std::size_t>(columns());
  if (here < first_ || here >= first_ + room) first_ = here < room ? 0 : here - room / 2;
  first_ = steps.size() <= room ? 0 : std::min(first_, steps.size() - room);
  setAccessibleDescription(
      tr("step %1 of %2: %3").arg(here + 1).arg(steps.size()).arg(qs(rehearsing_.step().title)));
  update();
}

int StepsRow::columns() const {
  return std::max(1, static_cast<int>((width() - 2 * kMore + kStepGap) / (kStepWidth + kStepGap)));
}

std::pair<std::size_t, std::size_t> StepsRow::seen() const {
  return {first_,
          std::min(rehearsing_.steps().size(), first_ + static_cast<std::size_t>(columns()))};
}

QRectF StepsRow::cardRect(std::size_t step) const {
  const double left = first_ > 0 || seen().second < rehearsing_.steps().size() ? kMore : 1;
  return {left + static_cast<double>(step - first_) * (kStepWidth + kStepGap), 1, kStepWidth,
          height() - 2.0};
}

void StepsRow::paintEvent(QPaintEvent* /*event*/) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const auto& steps = rehearsing_.steps();
  const Kit& kit = *rehearsing_.editing().document().song().kit;
  const auto [first, end] = seen();
  for (std::size_t i = first; i < end; ++i) {
    const QRectF rect = cardRect(i);
    const bool here = i == rehearsing_.place().step;
    p.setPen(QPen(here ? theme::kChosenEdge : theme::kLine, here ? 1.6 : 1));
    p.setBrush(here ? theme::kChosen : theme::kCard);
    p.drawRoundedRect(rect, 5, 5);
    p.setFont(theme::font(12, theme::Weight::kSemiBold));
    p.setPen(theme::kInk);
    const double tick = done(i) ? 18 : 0;
    const QRectF heading(rect.left() + 7, rect.top() + 4, rect.width() - 14 - tick, kHeading - 4);
    // "ghost 1 & · bar 2": all that tells it apart has room.
    const QString title = qs(steps[i].title)
                              .replace(QStringLiteral(" on "), QStringLiteral(" "))
                              .replace(QStringLiteral(" of bar "), QStringLiteral(" · bar "));
    p.drawText(
        heading, Qt::AlignLeft | Qt::AlignVCenter,
        p.fontMetrics().elidedText(title, Qt::ElideRight, static_cast<int>(heading.width())));
    if (done(i)) {
      const QPointF at(rect.right() - 18, rect.top() + 12);
      p.setPen(QPen(theme::kGood, 2));
      p.drawPolyline(QPolygonF({at, at + QPointF(4, 4), at + QPointF(11, -5)}));
    }
    const QRectF picture = rect.adjusted(6, kHeading + 2, -6, -4);
    const Groove* before = i == 0 ? nullptr : &steps[i - 1].groove;
    paintMini(p, picture, steps[i].groove, before, kit);
  }
  p.setFont(theme::font(14, theme::Weight::kSemiBold));
  p.setPen(theme::kQuiet);
  if (first > 0)
    p.drawText(QRectF(0, 0, kMore - 4, height()), Qt::AlignCenter, QStringLiteral("‹"));
  if (end < steps.size())
    p.drawText(QRectF(width() - kMore + 4, 0, kMore - 4, height()), Qt::AlignCenter,
               QStringLiteral("›"));
}

std::optional<std::size_t> StepsRow::at(const QPointF& p) const {
  const auto [first, end] = seen();
  for (std::size_t i = first; i < end; ++i) {
    if (cardRect(i).contains(p)) return i;
  }
  return std::nullopt;
}

void StepsRow::mousePressEvent(QMouseEvent* event) {
  if (event->button() != Qt::LeftButton) return;
  if (const auto step = at(event->position()))
    return rehearsing_.goTo(*step, rehearsing_.place().rung);
  const bool back = event->position().x() < kMore;
  const auto room = static_cast<std::size_t>(columns()), all = rehearsing_.steps().size();
  if (all <= room) return;
  first_ = back ? first_ - std::min(first_, room) : std::min(all - room, first_ + room);
  update();
}

void StepsRow::wheelEvent(QWheelEvent* event) {
  const auto room = static_cast<std::size_t>(columns()), all = rehearsing_.steps().size();
  if (all > room) {
    const bool back = event->angleDelta().y() > 0;
    first_ = back ? first_ - std::min<std::size_t>(first_, 1) : std::min(all - room, first_ + 1);
    update();
  }
  event->accept();
}

void StepsRow::resizeEvent(QResizeEvent* /*event*/) {
  read();
}

QString StepsRow::tipAt(QPointF point) {
  const auto step = at(point);
  if (!step) return {};
  return tr("Step %1: %2. A click goes there; Alt and arrows change the order")
      .arg(*step + 1)
      .arg(qs(rehearsing_.steps()[*step].title));
}

}  // namespace uneven
