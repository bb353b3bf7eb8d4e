// SPDX-License-Identifier: GPL-3.0-or-later
// The plan of the kit.
#include "app/check/plan_view.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>
#include <optional>
#include <vector>

#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "core/base/number.h"

namespace uneven {
namespace {

// What is shown of the plan, in forearms.
constexpr double kPlanLeft = -1.8, kPlanRight = 2.2, kNear = -0.65, kFar = 1.75;
constexpr double kPieceGrab = 16;  // px

}  // namespace

PlanView::PlanView(QWidget* parent) : DrawnView(parent) {
  setObjectName(QStringLiteral("kit-plan"));
  setFocusPolicy(Qt::StrongFocus);
  setFixedHeight(sizeHint().height());
  setAccessibleName(tr("Plan of the kit"));
}

void PlanView::show(const Profile& profile, const Kit& kit, const std::set<PieceId>& struck) {
  nearby_ = profile.nearby;
  pieces_.clear();
  for (const PieceId id : kit.order) {
    const Piece& piece = kit[id];
    const auto place = placeOf(profile, piece);
    if (!place || id == piece::kHatFoot) continue;
    const std::string& kind = piece.kind();
    const bool drum = kind == "snare" || kind == "kick" || kind.rfind("tom", 0) == 0;
    pieces_.push_back({qs(piece.id), qs(piece.name), *place, !drum, struck.contains(id)});
  }
  update();
}

void PlanView::setEditable(bool editable) {
  editable_ = editable;
  setCursor(editable ? Qt::OpenHandCursor : Qt::ArrowCursor);
}

double PlanView::scale() const {
  return std::min(width() / (kPlanRight - kPlanLeft), height() / (kFar - kNear));
}

QPointF PlanView::pointOf(const PlanPlace& place) const {
  return {(place.x - kPlanLeft) * scale(), height() - (place.y - kNear) * scale()};
}

PlanPlace PlanView::placeAt(QPointF point) const {
  const double x = kPlanLeft + point.x() / scale();
  const double y = kNear + (height() - point.y()) / scale();
  return {roundedTo(std::clamp(x, kPlanLeft, kPlanRight), 100),
          roundedTo(std::clamp(y, kNear, kFar), 100)};
}

void PlanView::paintEvent(QPaintEvent* /*event*/) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(theme::kLine, 1));
  p.setBrush(theme::kPaper);
  p.drawRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5));
  // The player's shoulders, in front.
  const QPointF seat = pointOf({0, -0.5});
  p.setPen(QPen(theme::kQuiet, 2));
  p.drawLine(seat - QPointF(14, 0), seat + QPointF(14, 0));
  for (const Standing& piece : pieces_) {
    const QPointF at = pointOf(piece.place);
    const bool chosen = piece.id == chosen_;
    if (chosen) {
      p.setBrush(Qt::NoBrush);
      p.setPen(QPen(theme::kChosenEdge, 1, Qt::DashLine));
      p.drawEllipse(at, nearby_ * scale(), nearby_ * scale());
    }
    p.setPen(QPen(chosen ? theme::kBrassEdge : theme::kInk, chosen ? 2 : 1.2));
    p.setBrush(piece.cymbal ? theme::kChosen : theme::kCard);
    p.drawEllipse(at, 6, piece.cymbal ? 4 : 6);
  }
  // Every piece by its name: below it, above it or beside it, wherever no other name stands. Those
  // that the groove strikes and the chosen one have the first choice.
  std::vector<const Standing*> order;
  for (const bool first : {true, false}) {
    for (const Standing& piece : pieces_) {
      if ((piece.struck || piece.id == chosen_) == first) order.push_back(&piece);
    }
  }
  std::vector<QRectF> taken;
  for (const Standing& piece : pieces_)
    taken.emplace_back(pointOf(piece.place) - QPointF(6, 5), QSizeF(12, 10));
  for (const Standing* piece : order) {
    const bool strong = piece->struck || piece->id == chosen_;
    p.setFont(theme::font(strong ? 12 : 10));
    p.setPen(strong ? theme::kInk : theme::kQuiet);
    const QSizeF size(p.fontMetrics().horizontalAdvance(piece->name) + 2, strong ? 13 : 11);
    const QPointF at = pointOf(piece->place);
    const double w = size.width(), h = size.height();
    std::optional<QRectF> best;
    double least = 0;
    for (const QPointF& corner :
         {QPointF(-w / 2, 6), QPointF(-w / 2, -6 - h), QPointF(9, -h / 2), QPointF(-9 - w, -h / 2),
          QPointF(0, 6), QPointF(-w, 6), QPointF(0, -6 - h), QPointF(-w, -6 - h)}) {
      QRectF text(at + corner, size);
      text.moveLeft(std::clamp(text.left(), 2.0, std::max(2.0, width() - 2 - w)));
      text.moveTop(std::clamp(text.top(), 1.0, std::max(1.0, height() - 1 - h)));
      double over = 0;
      for (const QRectF& other : taken) {
        const QRectF both = text & other;
        if (!both.isEmpty()) over += both.width() * both.height();
      }
      if (best && over >= least) continue;
      best = text;
      least = over;
      if (over == 0) break;
    }
    taken.push_back(*best);
    p.drawText(*best, Qt::AlignCenter, piece->name);
  }
  if (hasFocus()) {
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(theme::kBrassEdge, 1, Qt::DotLine));
    p.drawRect(rect().adjusted(2, 2, -3, -3));
  }
}

int PlanView::nearest(QPointF point) const {
  int best = -1;
  double most = kPieceGrab;
  for (std::size_t i = 0; i < pieces_.size(); ++i) {
    const QPointF away = pointOf(pieces_[i].place) - point;
    const double distance = std::hypot(away.x(), away.y());
    if (distance > most) continue;
    most = distance;
    best = static_cast<int>(i);
  }
  return best;
}

void PlanView::choose(int index) {
  if (pieces_.empty()) return;
  const auto last = static_cast<int>(pieces_.size()) - 1;
  const Standing& piece = pieces_[static_cast<std::size_t>(std::clamp(index, 0, last))];
  chosen_ = piece.id;
  setAccessibleDescription(
      tr("%1: %2 to the right, %3 away, in forearms")
          .arg(piece.name, numberText(piece.place.x, 2), numberText(piece.place.y, 2)));
  update();
}

void PlanView::mousePressEvent(QMouseEvent* event) {
  const int index = nearest(event->position());
  if (index < 0) return;
  choose(index);
  dragging_ = editable_;
}

void PlanView::mouseMoveEvent(QMouseEvent* event) {
  if (!dragging_) return;
  for (Standing& piece : pieces_) {
    if (piece.id == chosen_) piece.place = placeAt(event->position());
  }
  update();
}

void PlanView::mouseReleaseEvent(QMouseEvent* event) {
  if (!dragging_) return;
  dragging_ = false;
  Q_EMIT moved(chosen_, placeAt(event->position()));
}

void PlanView::keyPressEvent(QKeyEvent* event) {
  int index = -1;
  for (std::size_t i = 0; i < pieces_.size(); ++i) {
    if (pieces_[i].id == chosen_) index = static_cast<int>(i);
  }
  const bool shift = (event->modifiers() & Qt::ShiftModifier) != 0;
  const int x = (event->key() == Qt::Key_Right ? 1 : 0) - (event->key() == Qt::Key_Left ? 1 : 0);
  const int y = (event->key() == Qt::Key_Up ? 1 : 0) - (event->key() == Qt::Key_Down ? 1 : 0);
  if (x == 0 && y == 0) return QWidget::keyPressEvent(event);
  if (!shift) return choose(index < 0 ? 0 : index + x - y);
  if (index < 0 || !editable_) return;
  PlanPlace to = pieces_[static_cast<std::size_t>(index)].place;
  to.x = roundedTo(std::clamp(to.x + 0.1 * x, kPlanLeft, kPlanRight), 100);
  to.y = roundedTo(std::clamp(to.y + 0.1 * y, kNear, kFar), 100);
  Q_EMIT moved(chosen_, to);
  choose(index);
}

QString PlanView::tipAt(QPointF point) {
  const int index = nearest(point);
  if (index >= 0) {
    const Standing& piece = pieces_[static_cast<std::size_t>(index)];
    return tr("%1: %2 to the right, %3 away, in forearms; within the dashed ring a hand goes to a "
              "neighbour")
        .arg(piece.name, numberText(piece.place.x, 2), numberText(piece.place.y, 2));
  }
  return editable_ ? tr("Drag a piece to where it stands; by keys: the arrows choose, with Shift "
                        "they move it by 0.1")
                   : tr("Make a player of your own to move pieces");
}

}  // namespace uneven
