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
#include "core/song/names.h"

namespace uneven {
namespace {

constexpr double kCardWidth = 184, kCardHeight = 96, kCardHeightMost = 300, kCardGap = 8,
                 kBarWidth = 14;

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

int WallView::columns() const {
  const int most =
      std::max(1, static_cast<int>((width() - kBarWidth + kCardGap) / (kCardWidth + kCardGap)));
  const double down = std::max(1.0, std::floor((height() + kCardGap) / (kCardHeight + kCardGap)));
  const double across = std::ceil(static_cast<double>(walker_.count()) / down);
  return std::clamp(across < most ? static_cast<int>(across) : most, 1, most);
}
double WallView::cardHeight() const {
  const double each =
      (height() + kCardGap) / static_cast<double>(std::max<std::uint64_t>(1, rows()));
  return std::clamp(std::floor(each - kCardGap), kCardHeight, kCardHeightMost);
}
std::uint64_t WallView::rows() const {
  const auto n = static_cast<std::uint64_t>(columns());
  return (walker_.count() + n - 1) / n;
}

void WallView::layOut() {
  bar_->setGeometry(width() - static_cast<int>(kBarWidth), 0, static_cast<int>(kBarWidth),
                    height());
  const double whole = static_cast<double>(rows()) * (cardHeight() + kCardGap) - kCardGap;
  bar_->setRange(0, std::max(0, static_cast<int>(std::min(2e9, whole - height()))));
  bar_->setPageStep(height());
  bar_->setSingleStep(static_cast<int>(cardHeight() + kCardGap));
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
  const auto n = static_cast<std::uint64_t>(columns());
  const double wide =
      (width() - (bar_->isVisible() ? kBarWidth + 4 : 4) - (columns() - 1) * kCardGap) / columns();
  return {1 + static_cast<double>(index % n) * (wide + kCardGap),
          static_cast<double>(index / n) * (cardHeight() + kCardGap) - bar_->value() + 1, wide,
          cardHeight() - 2};
}

std::pair<std::uint64_t, std::uint64_t> WallView::seen() const {
  const auto n = static_cast<std::uint64_t>(columns());
  const double each = cardHeight() + kCardGap;
  const auto first = static_cast<std::uint64_t>(std::max(0.0, bar_->value() / each));
  const auto last = static_cast<std::uint64_t>((bar_->value() + height()) / each) + 1;
  return {std::min(first * n, walker_.count()), std::min(last * n, walker_.count())};
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
  const auto [from, to] = seen();
  for (std::uint64_t i = from; i < to; ++i) {
    if (cardRect(i).contains(p)) return i;
  }
  return std::nullopt;
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
  const int page = std::max(1, static_cast<int>(height() / (cardHeight() + kCardGap))) * columns();
  switch (event->key()) {
    case Qt::Key_Right:
      return step(1);
    case Qt::Key_Left:
      return step(-1);
    case Qt::Key_Down:
      return step(columns());
    case Qt::Key_Up:
      return step(-columns());
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
