// SPDX-License-Identifier: GPL-3.0-or-later
// A section's bars.
#include "app/arrange/bars_row.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>

#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "app/drawing/mini_groove.h"

namespace uneven {
namespace {

constexpr double kHead = 24, kGap = 6, kLeast = 92;

}  // namespace

BarsRow::BarsRow(Arranging& arranging, QWidget* parent) : QWidget(parent), arranging_(arranging) {
  setObjectName(QStringLiteral("section-bars"));
  setFocusPolicy(Qt::StrongFocus);
  setMinimumSize(200, 96);
  setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
  setAccessibleName(tr("The section's bars"));
  setToolTip(tr(
      "Each pass of the chosen section; framed: other than its first. Enter opens it in Strike"));
  connect(&arranging_, &Arranging::changed, this, &BarsRow::read);
  read();
}

std::size_t BarsRow::across() const {
  return std::max<std::size_t>(1, static_cast<std::size_t>((width() + kGap) / (kLeast + kGap)));
}

double BarsRow::widthOfCard() const {
  const auto [from, to] = arranging_.blocks();
  const auto shown = static_cast<double>(std::clamp<std::size_t>(to - from, 1, across()));
  return std::min(220.0, (width() - 2 - (shown - 1) * kGap) / shown);
}

void BarsRow::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  read();
}

void BarsRow::read() {
  if (!isVisible()) return;  // it reads when it is shown
  const auto [from, to] = arranging_.blocks();
  const std::size_t count = to - from, wide = across(), here = arranging_.block();
  if (here < first_) first_ = here;
  if (here >= first_ + wide) first_ = here + 1 - wide;
  first_ = count > wide ? std::min(first_, count - wide) : 0;
  const Score* score = arranging_.document().songScore();
  if (score != nullptr && from + here < to) {
    const Score::Block& block = score->blocks[from + here];
    setAccessibleDescription(tr("Bar %1, %2, %3 of %4%5")
                                 .arg(block.firstBar + 1)
                                 .arg(qs(block.groove->name))
                                 .arg(here + 1)
                                 .arg(count)
                                 .arg(differs(here) ? tr(", differs from the first") : QString()));
  }
  update();
}

void BarsRow::resizeEvent(QResizeEvent* /*event*/) {
  read();
}

QRectF BarsRow::cardRect(std::size_t block) const {
  if (block < first_ || block >= first_ + across()) return {};
  const double wide = widthOfCard();
  return {1 + static_cast<double>(block - first_) * (wide + kGap), kHead, wide,
          height() - kHead - 2};
}

bool BarsRow::differs(std::size_t block) const {
  const Score* score = arranging_.document().songScore();
  const auto [from, to] = arranging_.blocks();
  if (score == nullptr || from + block >= to) return false;
  // Against the pass before it all: the same place of the first pass.
  const std::size_t inPass = arranging_.chosen().pass().size();
  const Groove& first = *score->blocks[from + block % inPass].groove;
  const Groove& here = *score->blocks[from + block].groove;
  return &first != &here && first.hits != here.hits;
}

QString BarsRow::headText() const {
  const Section& s = arranging_.chosen();
  const auto [from, to] = arranging_.blocks();
  int others = 0;
  for (std::size_t i = 0; i < std::min<std::size_t>(to - from, 2'000); ++i) others += differs(i);
  QString text = s.grooves.empty()
                     ? tr("%1 times").arg(s.repeat)
                     : tr("%1 grooves in turn, %2 times").arg(s.grooves.size()).arg(s.repeat);
  if (s.repeat == 1 && s.grooves.empty()) text = tr("once");
  if (others > 0) text += others == 1 ? tr(" · one differs") : tr(" · %1 differ").arg(others);
  return text;
}

void BarsRow::paintEvent(QPaintEvent* /*event*/) {
  QPainter p(this);
  p.fillRect(rect(), theme::kPaper);
  p.setRenderHint(QPainter::Antialiasing);
  const Score* score = arranging_.document().songScore();
  const auto [from, to] = arranging_.blocks();
  p.setFont(theme::font(13, theme::Weight::kSemiBold));
  p.setPen(theme::kInk);
  const QString name = qs(arranging_.chosen().name);
  p.drawText(QRectF(1, 0, width(), 18), Qt::AlignLeft | Qt::AlignVCenter, name);
  const double after = p.fontMetrics().horizontalAdvance(name) + 12;
  p.setFont(theme::font(12));
  p.setPen(theme::kQuiet);
  const QString head = headText();
  p.drawText(QRectF(after, 0, width() - after, 18), Qt::AlignLeft | Qt::AlignVCenter,
             p.fontMetrics().elidedText(head, Qt::ElideRight, static_cast<int>(width() - after)));
  if (score == nullptr) return;
  const Kit& kit = *arranging_.song().kit;
  const std::size_t last = std::min(to - from, first_ + across());
  for (std::size_t i = first_; i < last; ++i) {
    const Score::Block& block = score->blocks[from + i];
    const QRectF card = cardRect(i);
    const bool chosen = i == arranging_.block(), other = differs(i);
    p.setPen(QPen(chosen  ? theme::kChosenEdge
                  : other ? theme::kInk
                          : theme::kLine,
                  chosen || other ? 1.6 : 1));
    p.setBrush(chosen ? theme::kChosen : theme::kCard);
    p.drawRoundedRect(card, 4, 4);
    if (chosen && other) {
      p.setBrush(Qt::NoBrush);
      p.setPen(QPen(theme::kInk, 1.2));
      p.drawRoundedRect(card.adjusted(2, 2, -2, -2), 3, 3);
    }
    const int bars = std::max(kMiniBars, static_cast<int>(card.width() / 60));
    const std::size_t inPass = arranging_.chosen().pass().size();
    const Groove& first = *score->blocks[from + i % inPass].groove;
    paintMini(p, card.adjusted(4, 5, -4, -18), *block.groove, other ? &first : nullptr, kit, bars);
    p.setFont(theme::font(11));
    p.setPen(theme::kQuiet);
    p.drawText(QRectF(card.left() + 6, card.bottom() - 17, card.width() - 10, 15),
               Qt::AlignLeft | Qt::AlignVCenter, QString::number(block.firstBar + 1));
  }
  if (!hasFocus()) return;
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(theme::kBrassEdge, 1, Qt::DotLine));
  p.drawRect(rect().adjusted(0, 0, -1, -1));
}

void BarsRow::mousePressEvent(QMouseEvent* event) {
  setFocus();
  const auto [from, to] = arranging_.blocks();
  for (std::size_t i = first_; i < std::min(to - from, first_ + across()); ++i) {
    if (cardRect(i).contains(event->position())) return arranging_.choose(arranging_.section(), i);
  }
}

void BarsRow::mouseDoubleClickEvent(QMouseEvent* event) {
  if (event->position().y() > kHead) Q_EMIT openWanted();
}

void BarsRow::wheelEvent(QWheelEvent* event) {
  const auto [from, to] = arranging_.blocks();
  const std::size_t count = to - from, wide = across();
  if (count > wide) {
    const std::ptrdiff_t by = event->angleDelta().y() > 0 ? -1 : 1;
    const auto most = static_cast<std::ptrdiff_t>(count - wide);
    first_ = static_cast<std::size_t>(
        std::clamp<std::ptrdiff_t>(static_cast<std::ptrdiff_t>(first_) + by, 0, most));
    update();
  }
  event->accept();
}

void BarsRow::keyPressEvent(QKeyEvent* event) {
  const auto [from, to] = arranging_.blocks();
  const std::size_t here = arranging_.block(), last = to > from ? to - from - 1 : 0;
  switch (event->key()) {
    case Qt::Key_Right:
      return arranging_.choose(arranging_.section(), std::min(here + 1, last));
    case Qt::Key_Left:
      return arranging_.choose(arranging_.section(), here == 0 ? 0 : here - 1);
    case Qt::Key_Home:
      return arranging_.choose(arranging_.section(), 0);
    case Qt::Key_End:
      return arranging_.choose(arranging_.section(), last);
    case Qt::Key_Return:
    case Qt::Key_Enter:
      return Q_EMIT openWanted();
    case Qt::Key_S:
      return arranging_.split();
    case Qt::Key_W:
      return arranging_.writeOut();
    default:
      break;
  }
  QWidget::keyPressEvent(event);
}

}  // namespace uneven
