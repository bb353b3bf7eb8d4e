// SPDX-License-Identifier: GPL-3.0-or-later
// The wall.
#include "app/vary/wall_view.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QScrollBar>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>

#include "app/controls/airy_table.h"
#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "app/drawing/mini_groove.h"
#include "app/drawing/stick_painter.h"
#include "core/song/names.h"

namespace uneven {
namespace {

QString markWord(WalkMark mark) {
  return qs(spokenName(mark)).toLower();
}
QColor markColor(WalkMark mark) {
  return mark == WalkMark::kGood      ? theme::limbColor(Limb::kRightFoot)
         : mark == WalkMark::kAwkward ? theme::kBrassEdge
                                      : theme::kQuiet;
}

}  // namespace

WallView::WallView(Walker& walker, Editing& editing, QWidget* parent)
    : QWidget(parent),
      walker_(walker),
      editing_(editing),
      bar_(new QScrollBar(Qt::Vertical, this)) {
  setObjectName(QStringLiteral("vary-wall"));
  setFocusPolicy(Qt::StrongFocus);
  setMouseTracking(true);
  setMinimumSize(220, 200);
  setAccessibleName(tr("Variants"));
  makeAiry(*bar_);
  connect(bar_, &QScrollBar::valueChanged, this, [this] {
    const auto [from, to] = seen();
    walker_.want(from, to);
    update();
  });
  connect(&walker_, &Walker::changed, this, &WallView::read);
  connect(&walker_, &Walker::judgedMore, this, qOverload<>(&QWidget::update));
}

CardWall WallView::wall() const {
  return cardWall(walker_.count(), {static_cast<double>(width()), static_cast<double>(height())});
}

void WallView::layOut() {
  const CardWall shown = wall();
  const int bar = static_cast<int>(CardWall::kBar);
  bar_->setGeometry(width() - bar, 0, bar, height());
  bar_->setRange(0, static_cast<int>(std::min(2e9, shown.scrollMost())));
  bar_->setPageStep(height());
  bar_->setSingleStep(static_cast<int>(shown.step()));
  bar_->setVisible(bar_->maximum() > 0);
}

void WallView::read() {
  // The same variant stays the chosen one where it is there still.
  if (walker_.count() == 0 || current_ >= walker_.count() ||
      walker_.variant(current_).key != key_) {
    gathered_.clear();
    constexpr std::uint64_t kLookedThrough = 2'000;
    std::uint64_t found = 0;
    for (std::uint64_t i = 0; i < std::min(walker_.count(), kLookedThrough) && !key_.empty(); ++i) {
      if (walker_.variant(i).key != key_) continue;
      found = i;
      break;
    }
    current_ = found;
    key_ = walker_.count() == 0 ? std::string() : walker_.variant(current_).key;
  }
  layOut();
  show(current_);
  const auto [from, to] = seen();
  walker_.want(from, to);
  setAccessibleDescription(walker_.count() == 0 ? tr("No variants")
                                                : tr("%1 of %2: %3")
                                                      .arg(current_ + 1)
                                                      .arg(walker_.count())
                                                      .arg(qs(walker_.variant(current_).name)));
  update();
  Q_EMIT chosen();
}

void WallView::resizeEvent(QResizeEvent* /*event*/) {
  layOut();
  show(current_);
  const auto [from, to] = seen();
  walker_.want(from, to);
}

QRectF WallView::cardRect(std::uint64_t index) const {
  return qr(wall().card(index, bar_->value()));
}

std::pair<std::uint64_t, std::uint64_t> WallView::seen() const {
  return wall().seen(bar_->value());
}

void WallView::show(std::uint64_t index) {
  const QRectF card = cardRect(index);
  if (card.top() < 0) bar_->setValue(bar_->value() + static_cast<int>(card.top()) - 1);
  if (card.bottom() > height())
    bar_->setValue(bar_->value() + static_cast<int>(std::ceil(card.bottom() - height())) + 1);
}

void WallView::choose(std::uint64_t index) {
  if (walker_.count() == 0) return;
  current_ = std::min(index, walker_.count() - 1);
  key_ = walker_.variant(current_).key;
  show(current_);
  setAccessibleDescription(tr("%1 of %2: %3")
                               .arg(current_ + 1)
                               .arg(walker_.count())
                               .arg(qs(walker_.variant(current_).name)));
  update();
  Q_EMIT chosen();
}

void WallView::gather(std::uint64_t index) {
  if (index >= walker_.count()) return;
  if (!gathered_.insert(index).second) gathered_.erase(index);
  update();
  Q_EMIT chosen();
}

void WallView::forgetGathered() {
  gathered_.clear();
  update();
}

std::optional<std::uint64_t> WallView::at(const QPointF& p) const {
  return wall().at(pointOf(p), bar_->value());
}

void WallView::paintCard(QPainter& p, std::uint64_t index) {
  const QRectF card = cardRect(index);
  const Variant& v = walker_.variant(index);
  const bool chosen = index == current_;
  p.setPen(QPen(chosen ? theme::kChosenEdge : theme::kLine, chosen ? 1.6 : 1));
  p.setBrush(chosen ? theme::kChosen : hover_ == index ? theme::kBar : theme::kCard);
  p.drawRoundedRect(card, 4, 4);
  QRectF head(card.left() + 8, card.top() + 4, card.width() - 16, 18);
  p.setFont(theme::font(12, theme::Weight::kSemiBold));
  if (const WalkNote* note = walker_.verdict(index)) {
    const QString word = markWord(note->mark);
    p.setPen(markColor(note->mark));
    const double wide = p.fontMetrics().horizontalAdvance(word);
    p.drawText(head, Qt::AlignRight | Qt::AlignVCenter, word);
    head.setRight(head.right() - wide - 8);
  }
  p.setPen(theme::kInk);
  p.drawText(
      head, Qt::AlignLeft | Qt::AlignVCenter,
      p.fontMetrics().elidedText(qs(v.name), Qt::ElideRight, static_cast<int>(head.width())));
  constexpr double kBarRoom = 90;
  paintMini(p, QRectF(card.left() + 6, card.top() + 26, card.width() - 12, card.height() - 50),
            v.groove, &*walker_.walk()->core, *editing_.document().song().kit,
            std::max(kMiniBars, static_cast<int>(card.width() / kBarRoom)));
  p.setFont(theme::font(11));
  p.setPen(theme::kQuiet);
  const QRectF foot(card.left() + 8, card.bottom() - 21, card.width() - 16, 18);
  const Judged* judged = walker_.judged(index);
  const QString text = judged == nullptr ? tr("…")
                       : judged->ceiling.playable > 0
                           ? tr("syncopation %1 · to %2 BPM")
                                 .arg(judged->measures.syncopation)
                                 .arg(judged->ceiling.playable, 0, 'f', 0)
                           : tr("syncopation %1 · not playable").arg(judged->measures.syncopation);
  p.drawText(foot, Qt::AlignLeft | Qt::AlignVCenter, text);
  if (!gathered_.contains(index)) return;
  p.setPen(Qt::NoPen);
  p.setBrush(theme::kBrass);
  p.drawEllipse(QPointF(card.right() - 13, card.bottom() - 12), 4.5, 4.5);
}

void WallView::paintEvent(QPaintEvent* /*event*/) {
  QPainter p(this);
  p.fillRect(rect(), theme::kPaper);
  p.setRenderHint(QPainter::Antialiasing);
  if (walker_.count() == 0) {
    p.setPen(walker_.problem().isEmpty() ? theme::kQuiet : theme::kAttention);
    p.setFont(theme::font(14));
    const QString text = walker_.making()               ? tr("Looking at every variant…")
                         : !walker_.problem().isEmpty() ? walker_.problem()
                                                        : tr("No variant is left: choose another "
                                                             "span or grid, or a wider filter.");
    p.drawText(rect().adjusted(30, 30, -30, -30), Qt::AlignCenter | Qt::TextWordWrap, text);
  } else {
    const auto [from, to] = seen();
    for (std::uint64_t i = from; i < to; ++i) paintCard(p, i);
  }
  if (!hasFocus()) return;
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(theme::kBrassEdge, 1, Qt::DotLine));
  p.drawRect(rect().adjusted(0, 0, -1, -1));
}

void WallView::mousePressEvent(QMouseEvent* event) {
  setFocus();
  const auto index = at(event->position());
  if (!index) return;
  if ((event->modifiers() & Qt::ControlModifier) != 0) return gather(*index);
  choose(*index);
}

void WallView::mouseDoubleClickEvent(QMouseEvent* event) {
  if (at(event->position())) Q_EMIT keepWanted();
}

void WallView::mouseMoveEvent(QMouseEvent* event) {
  const auto before = hover_;
  hover_ = at(event->position());
  if (hover_ != before) update();
  if (hover_ && hover_ != before) {
    setToolTip(plainText(qs(walker_.variant(*hover_).name)));
    Q_EMIT hovered(*hover_);
  }
}

void WallView::wheelEvent(QWheelEvent* event) {
  bar_->setValue(bar_->value() - event->angleDelta().y());
  event->accept();
}

void WallView::keyPressEvent(QKeyEvent* event) {
  if (walker_.count() == 0) return QWidget::keyPressEvent(event);
  const auto step = [&](std::int64_t by) {
    const auto to = static_cast<std::int64_t>(current_) + by;
    choose(static_cast<std::uint64_t>(
        std::clamp<std::int64_t>(to, 0, static_cast<std::int64_t>(walker_.count()) - 1)));
  };
  const int columns = wall().columns, page = wall().rowsSeen() * columns;
  switch (event->key()) {
    case Qt::Key_Right:
      return step(1);
    case Qt::Key_Left:
      return step(-1);
    case Qt::Key_Down:
      return step(columns);
    case Qt::Key_Up:
      return step(-columns);
    case Qt::Key_PageDown:
      return step(page);
    case Qt::Key_PageUp:
      return step(-page);
    case Qt::Key_Home:
      return choose(0);
    case Qt::Key_End:
      return choose(walker_.count() - 1);
    case Qt::Key_Return:
    case Qt::Key_Enter:
      return Q_EMIT keepWanted();
    case Qt::Key_H:
      // What the mouse is over.
      if (hover_) choose(*hover_);
      return;
    case Qt::Key_X:
      return gather(current_);
    case Qt::Key_C:
      return Q_EMIT coreWanted();
    case Qt::Key_0:
    case Qt::Key_1:
    case Qt::Key_2:
    case Qt::Key_3:
      if (event->modifiers() != Qt::NoModifier && event->modifiers() != Qt::KeypadModifier) break;
      return Q_EMIT verdictWanted(event->key() - Qt::Key_0);
    default:
      break;
  }
  QWidget::keyPressEvent(event);
}

}  // namespace uneven
