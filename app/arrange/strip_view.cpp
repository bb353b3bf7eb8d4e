// SPDX-License-Identifier: GPL-3.0-or-later
// The strip.
#include "app/arrange/strip_view.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QWheelEvent>
#include <cmath>

#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "app/drawing/stick_painter.h"
#include "core/base/number.h"
#include "core/song/names.h"

namespace uneven {
namespace {

constexpr double kSlack = 5;  // px before a drag begins
// Seams of songs with more sections than this are looked for in the Lean stage only.
constexpr std::size_t kSeamsMost = 400;
constexpr double kNameFrom = 12;  // px: narrower sections have no name
constexpr int kStandsFrom = 30;   // px above a section: lower, its name is cut beside it

QColor mixed(const QColor& a, const QColor& b, double share) {
  const auto of = [share](int x, int y) { return qRound(std::lerp(x, y, share)); };
  return {of(a.red(), b.red()), of(a.green(), b.green()), of(a.blue(), b.blue())};
}

// A fill that rises from the ground to its top right, by columns. What is tall and not a rectangle
// of one plain colour is painted by several threads, which take longer to find together than the
// paint to spread.
constexpr double kNarrowFill = 12;  // px
void paintNarrowFill(QPainter& p, const QRectF& r, const QColor& ground, const QColor& color) {
  const auto yAt = [&](double x) {
    return qRound(r.bottom() - r.height() * (x - r.left()) / r.width());
  };
  for (int x = static_cast<int>(std::floor(r.left())); x < r.right(); ++x) {
    const double from = std::max<double>(x, r.left()), to = std::min<double>(x + 1, r.right());
    const int low = yAt(from), high = yAt(to);
    p.fillRect(x, low, 1, qRound(r.bottom()) - low, mixed(ground, color, to - from));
    p.fillRect(x, high, 1, low - high, mixed(ground, color, (to - from) / 2));
  }
}

// One for each feel, by its place in the song; the last one for none.
QColor tintOf(std::uint32_t feel) {
  static const QColor kTints[] = {{0xdc, 0xc9, 0x9e}, {0xb9, 0xc4, 0xcd}, {0xc6, 0xd1, 0xba},
                                  {0xdf, 0xc2, 0xb2}, {0xcb, 0xc1, 0xd2}, {0xd2, 0xd0, 0xa6}};
  return kTints[feel % std::size(kTints)];
}

}  // namespace

StripView::StripView(Arranging& arranging, QWidget* parent)
    : DrawnView(parent), arranging_(arranging) {
  setObjectName(QStringLiteral("song-strip"));
  setFocusPolicy(Qt::StrongFocus);
  setMinimumSize(300, 330);
  setAccessibleName(tr("The song"));
  connect(&arranging_, &Arranging::changed, this, &StripView::read);
  read();
}

void StripView::read() {
  strip_.reset();
  if (!isVisible()) return;  // it reads when it is shown
  hold();
  tell();
  update();
}

void StripView::tell() {
  const Section& s = arranging_.chosen();
  const Score* score = arranging_.document().songScore();
  const auto [from, to] = arranging_.blocks();
  const int bar = score != nullptr && from < to ? score->blocks[from].firstBar + 1 : 1;
  QString text = tr("Section %1 of %2: %3, %4 bars from bar %5, %6 BPM")
                     .arg(arranging_.section() + 1)
                     .arg(arranging_.count())
                     .arg(qs(s.name))
                     .arg(sectionBars(arranging_.song(), s))
                     .arg(bar)
                     .arg(arranging_.bpm(), 0, 'f', 1);
  if (s.levelDb != 0 || s.toLevelDb) text += tr(", %1 dB").arg(numberText(s.levelDb, 1, true));
  if (s.toLevelDb) text += tr(" to %1 dB").arg(numberText(*s.toLevelDb, 1, true));
  if (s.fill) text += tr(", with fills");
  setAccessibleDescription(text);
}

const SongStrip& StripView::strip() {
  if (strip_) return *strip_;
  Document& document = arranging_.document();
  const Score* score = document.songScore();
  viewport_.size = {static_cast<double>(width()), static_cast<double>(height())};
  if (score == nullptr) return strip_.emplace();
  // What a drag shows is looked at for jumps when the hand lets go.
  if (seamsOf_ != document.revision() && !drag_) {
    seamsOf_ = document.revision();
    seams_ = score->sections.size() <= kSeamsMost ? seams(*score) : std::vector<Seam>{};
  }
  const bool fits = std::all_of(seams_.begin(), seams_.end(), [&](const Seam& seam) {
    return seam.section < score->sections.size();
  });
  looks_.tidy();
  return strip_.emplace(
      songStrip(*score, document.song(), fits ? seams_ : std::vector<Seam>{}, viewport_, looks_));
}

void StripView::hold() {
  const Score* score = arranging_.document().songScore();
  if (score == nullptr) return;
  const double whole = std::max(1.0, score->length.toDouble());
  if (viewport_.quarters >= whole) viewport_.quarters = 0;
  if (viewport_.quarters <= 0) {
    viewport_.first = 0;
    return;
  }
  if (!drag_) {
    const Score::Span& span = score->spans[std::min(arranging_.section(), score->spans.size() - 1)];
    const double start = span.start.toDouble(), end = span.end.toDouble();
    if (end > viewport_.first + viewport_.quarters) viewport_.first = end - viewport_.quarters;
    if (start < viewport_.first) viewport_.first = start;
  }
  viewport_.first = std::clamp(viewport_.first, 0.0, whole - viewport_.quarters);
}

void StripView::zoom(double by, std::optional<double> x) {
  const Score* score = arranging_.document().songScore();
  if (score == nullptr) return;
  const double whole = std::max(1.0, score->length.toDouble());
  const double before = viewport_.quarters > 0 ? viewport_.quarters : whole;
  const double least = std::min(whole, 4.0);
  const SongStrip& now = strip();
  const double middle =
      x ? now.axis.quartersFromX(*x) : score->spans[arranging_.section()].start.toDouble();
  const double share = (middle - viewport_.first) / before;
  viewport_.quarters = std::clamp(before / by, least, whole);
  viewport_.first =
      std::clamp(middle - share * viewport_.quarters, 0.0, whole - viewport_.quarters);
  if (viewport_.quarters >= whole) showAll();
  strip_.reset();
  update();
}

void StripView::showAll() {
  viewport_.first = viewport_.quarters = 0;
  strip_.reset();
  update();
}

void StripView::setPlayhead(std::optional<Quarters> at) {
  if (at == playhead_) return;
  const auto strikes = [&](const std::optional<Quarters>& head) {
    if (!head) return;
    const int x = static_cast<int>(strip().axis.xFromQuarters(head->value()));
    update(QRect(x - 3, 0, 7, height()));
  };
  strikes(playhead_);
  playhead_ = at;
  strikes(playhead_);
}

void StripView::setBand(std::vector<int> density) {
  band_ = std::move(density);
  update();
}

void StripView::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  read();
}

void StripView::resizeEvent(QResizeEvent* /*event*/) {
  strip_.reset();
}

void StripView::paintShapes(QPainter& p, const SongStrip& s) {
  const Document& document = arranging_.document();
  const std::vector<Section>& sections = arranging_.sections();
  p.save();
  p.setClipRect(qr(s.shapes).adjusted(-2, -6, 2, 2));
  for (const StripSection& one : s.sections) {
    const QColor tint = tintOf(one.feel);
    // To whole pixels: the joints are painted over the sides.
    const double level = std::ceil(std::max(one.leftTop, one.rightTop));
    p.fillRect(QRect(QPoint(qRound(one.left), static_cast<int>(level)),
                     QPoint(qRound(one.right) - 1, qRound(s.shapes.bottom) - 1)),
               tint);
    QPolygonF slope;
    slope << QPointF(one.left, level) << QPointF(one.left, one.leftTop)
          << QPointF(one.right, one.rightTop) << QPointF(one.right, level);
    p.setPen(Qt::NoPen);
    p.setBrush(tint);
    p.drawPolygon(slope);
    p.setBrush(tint.darker(116));
    for (const auto& [from, to] : one.fills) {
      const auto top = [&](double x) {
        return std::lerp(one.leftTop, one.rightTop, (x - one.left) / (one.right - one.left));
      };
      if (to - from < kNarrowFill) {
        paintNarrowFill(p, QRectF(from, top(to), to - from, s.shapes.bottom - top(to)), tint,
                        tint.darker(116));
        continue;
      }
      QPolygonF fill;
      fill << QPointF(from, s.shapes.bottom) << QPointF(to, top(to))
           << QPointF(to, s.shapes.bottom);
      p.drawPolygon(fill);
    }
  }
  if (!band_.empty()) {
    const int most = std::max(1, *std::max_element(band_.begin(), band_.end()));
    QPainterPath line;
    for (std::size_t q = 0; q < band_.size(); ++q) {
      const double x = s.axis.xFromQuarters(static_cast<double>(q) + 0.5);
      if (x < s.shapes.left - 20 || x > s.shapes.right + 20) continue;
      const double y = s.shapes.bottom - 0.5 * s.shapes.height() * band_[q] / most;
      if (line.isEmpty()) {
        line.moveTo(x, y);
      } else {
        line.lineTo(x, y);
      }
    }
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(theme::kQuiet, 1, Qt::DotLine));
    p.drawPath(line);
  }
  for (const StripStick& stick : s.sticks) {
    QColor color = stick.limb == Limb::kAutomatic ? theme::kQuiet : theme::limbColor(stick.limb);
    color.setAlphaF(0.75F);
    p.setPen(QPen(color, 1));
    p.drawLine(QPointF(stick.x, s.shapes.bottom), QPointF(stick.x, s.shapes.bottom - stick.height));
  }
  p.setBrush(Qt::NoBrush);
  for (const StripSection& one : s.sections) {
    p.setPen(QPen(theme::kPaper, 2));
    p.drawLine(QPointF(one.right, one.rightTop), QPointF(one.right, s.shapes.bottom));
    if (one.section != arranging_.section()) continue;
    QPolygonF shape;
    shape << QPointF(one.left + 1, s.shapes.bottom) << QPointF(one.left + 1, one.leftTop)
          << QPointF(one.right - 1, one.rightTop) << QPointF(one.right - 1, s.shapes.bottom);
    p.setPen(QPen(theme::kInk, 2));
    p.drawPolygon(shape);
  }
  p.restore();
  p.setPen(QPen(theme::kLine, 1));
  p.drawLine(QPointF(s.shapes.left, s.shapes.bottom), QPointF(s.shapes.right, s.shapes.bottom));
  for (const StripSection& one : s.sections) {
    const double left = std::max(one.left, s.names.left),
                 right = std::min(one.right, s.names.right);
    if (right - left < kNameFrom) continue;
    const int wide = static_cast<int>(right - left) - 10;
    const bool chosen = one.section == arranging_.section();
    const QString name = qs(sections[one.section].name);
    p.setFont(theme::font(12, theme::Weight::kSemiBold));
    p.setPen(theme::kInk);
    // A name that is wider than its section stands on it.
    const int high = static_cast<int>(std::min(one.leftTop, one.rightTop) - s.shapes.top) - 8;
    const bool stands = high >= kStandsFrom && p.fontMetrics().horizontalAdvance(name) >
                                                   static_cast<int>(one.right - one.left) - 10;
    if (stands) {
      p.save();
      p.translate((left + right) / 2, s.shapes.top + high + 4);
      p.rotate(-90);
      p.drawText(QRectF(0, -9, high, 18), Qt::AlignLeft | Qt::AlignVCenter,
                 p.fontMetrics().elidedText(name, Qt::ElideMiddle, high));
      p.restore();
    }
    if (wide < 16) continue;
    if (!stands)
      p.drawText(QRectF(left + 5, s.names.top + 2, wide + 4, 18), Qt::AlignLeft | Qt::AlignVCenter,
                 p.fontMetrics().elidedText(name, Qt::ElideRight, wide));
    p.setFont(theme::font(11));
    p.setPen(theme::kQuiet);
    const QString bars = one.bars == 1 ? tr("1 bar") : tr("%1 bars").arg(one.bars);
    const auto& feels = document.song().feels;
    const QString feel = one.feel < feels.size() ? qs(feels[one.feel].name) : tr("straight");
    const QString both = tr("%1 · %2").arg(bars, feel);
    const bool fits = p.fontMetrics().horizontalAdvance(both) <= wide;
    if (p.fontMetrics().horizontalAdvance(bars) <= wide + 4)
      p.drawText(QRectF(left + 5, s.names.top + 19, wide + 4, 16), Qt::AlignLeft | Qt::AlignVCenter,
                 fits ? both : bars);
    if (!chosen) continue;
    p.fillRect(QRectF(left + 1, s.names.top, right - left - 2, 2), theme::kInk);
  }
}

void StripView::paintJoints(QPainter& p, const SongStrip& s) {
  p.setFont(theme::font(11));
  double last = -200;
  for (const StripJoint& joint : s.joints) {
    const bool jumps = joint.jump.count() > kJumpMost;
    const QColor color = jumps ? theme::kAttention : theme::limbColor(Limb::kRightFoot);
    const double top = s.shapes.top - 2;
    QPolygonF mark;
    mark << QPointF(joint.x - 6, top - 9) << QPointF(joint.x + 6, top - 9) << QPointF(joint.x, top);
    p.setPen(Qt::NoPen);
    p.setBrush(color);
    p.drawPolygon(mark);
    const QString text = joint.morph > Beat(0) && !jumps
                             ? tr("over %1 quarters").arg(joint.morph.toDouble())
                             : tr("jumps %1").arg(plainMs(joint.jump, 0));
    const double wide = p.fontMetrics().horizontalAdvance(text);
    const double left = std::clamp(joint.x - wide / 2, s.shapes.left, s.shapes.right - wide);
    if (left < last + 8) continue;
    last = left + wide;
    p.setPen(jumps ? theme::kAttention : theme::kQuiet);
    p.drawText(QRectF(left, top - 27, wide + 2, 16), Qt::AlignLeft | Qt::AlignVCenter, text);
  }
}

void StripView::paintTempo(QPainter& p, const SongStrip& s) {
  p.setFont(theme::font(13, theme::Weight::kSemiBold));
  p.setPen(theme::kInk);
  p.drawText(QRectF(s.tempo.left, s.tempo.top - 27, 200, 18), Qt::AlignLeft | Qt::AlignVCenter,
             tr("Tempo"));
  p.save();
  p.setClipRect(qr(s.tempo).adjusted(-6, -22, 10, 8));
  QPainterPath line;
  for (std::size_t i = 0; i < s.tempoLine.size(); ++i) {
    if (i == 0) {
      line.moveTo(qp(s.tempoLine[i]));
    } else {
      line.lineTo(qp(s.tempoLine[i]));
    }
  }
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(theme::kInk, 1.8));
  p.drawPath(line);
  p.setFont(theme::font(12, theme::Weight::kSemiBold));
  for (const StripTempo& mark : s.tempos) {
    p.setPen(QPen(theme::kInk, 1.6));
    p.setBrush(mark.ramp ? theme::kBrass : theme::kPaper);
    p.drawEllipse(qp(mark.point), 4, 4);
    if (!mark.labelled) continue;
    const bool right = mark.point.x > s.tempo.right - 40;
    p.drawText(QRectF(right ? mark.point.x - 60 : mark.point.x + 3, mark.point.y - 21, 60, 16),
               (right ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter,
               numberText(mark.bpm, mark.bpm == roundedTo(mark.bpm, 1) ? 0 : 1));
  }
  p.restore();
}

void StripView::paintLanes(QPainter& p, const SongStrip& s) {
  const double top = s.lanesArea.top;
  p.setFont(theme::font(13, theme::Weight::kSemiBold));
  p.setPen(theme::kInk);
  p.drawText(QRectF(s.lanesArea.left, top, 300, 18), Qt::AlignLeft | Qt::AlignVCenter,
             tr("Who plays"));
  p.setFont(theme::font(11, theme::Weight::kSemiBold));
  for (const StripLane& lane : s.lanes) {
    const QColor color = theme::limbColor(lane.limb);
    double clear = -1;  // text stands up to there
    for (const StripLane::Run& run : lane.runs) {
      double left = run.left;
      if (!run.piece.empty()) {
        const QString name = qs(run.piece).toLower();
        const double wide = p.fontMetrics().horizontalAdvance(name) + 8;
        const double from = std::max(run.left, clear);
        if (from + wide <= std::min(s.lanesArea.right, std::max(run.right, run.left + wide))) {
          p.setPen(color);
          p.drawText(QRectF(from + 2, lane.y - 9, wide, 18), Qt::AlignLeft | Qt::AlignVCenter,
                     name);
          clear = from + wide;
        }
      }
      left = std::max(left, clear);
      if (run.thickness <= 0 || run.right <= left) continue;
      p.fillRect(QRectF(left, lane.y - run.thickness / 2, run.right - left, run.thickness), color);
    }
  }
}

void StripView::paintEvent(QPaintEvent* /*event*/) {
  QPainter p(this);
  p.fillRect(rect(), theme::kPaper);
  p.setRenderHint(QPainter::Antialiasing);
  const SongStrip& s = strip();
  if (s.sections.empty()) {
    p.setPen(theme::kQuiet);
    p.setFont(theme::font(14));
    const auto& error = arranging_.document().songError();
    p.drawText(rect(), Qt::AlignCenter | Qt::TextWordWrap,
               error ? qs(error->message) : tr("The song has no sections."));
    return;
  }
  paintShapes(p, s);
  paintJoints(p, s);
  paintTempo(p, s);
  paintLanes(p, s);
  if (drag_ && drag_->target) {
    // Between which sections it would be let go.
    const std::size_t target = *drag_->target, from = drag_->hit.index;
    for (const StripSection& one : s.sections) {
      if (one.section != target) continue;
      const double x = target > from ? one.right : one.left;
      p.fillRect(QRectF(x - 2, s.shapes.top, 4, s.names.bottom - s.shapes.top), theme::kBrassEdge);
    }
  }
  if (playhead_) {
    const double x = s.axis.xFromQuarters(playhead_->value());
    if (x >= s.shapes.left && x <= s.shapes.right)
      p.fillRect(QRectF(x - 0.75, s.shapes.top - 8, 1.5, s.lanesArea.bottom - s.shapes.top + 8),
                 theme::kAttention);
  }
  if (!hasFocus()) return;
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(theme::kBrassEdge, 1, Qt::DotLine));
  p.drawRect(rect().adjusted(0, 0, -1, -1));
}

void StripView::mousePressEvent(QMouseEvent* event) {
  setFocus();
  if (event->button() != Qt::LeftButton) return;
  const Point p{event->position().x(), event->position().y()};
  const StripHit hit = stripAt(strip(), p);
  using Kind = StripHit::Kind;
  const bool ofSection = hit.kind == Kind::kSection || hit.kind == Kind::kEdge ||
                         hit.kind == Kind::kLevel || hit.kind == Kind::kLevelEnd;
  if (ofSection) arranging_.choose(hit.index);
  if (hit.kind == Kind::kNothing) return;
  StripDrag drag;
  drag.hit = hit;
  drag.from = event->position();
  drag.before = arranging_.song();
  drag.strip = strip();
  drag_ = std::move(drag);
}

void StripView::drag(const QPointF& to) {
  using Kind = StripHit::Kind;
  if (!drag_->moved && (to - drag_->from).manhattanLength() < kSlack) return;
  drag_->moved = true;
  if (drag_->hit.kind == Kind::kSection) {
    drag_->target.reset();
    for (const StripSection& one : strip().sections) {
      if (to.x() >= one.left && to.x() < one.right && one.section != drag_->hit.index)
        drag_->target = one.section;
    }
    update();
    return;
  }
  if (drag_->gesture == nullptr)
    drag_->gesture = std::make_unique<SongGesture>(arranging_.document());
  const TempoGoes goes = arranging_.tempoAlong() ? TempoGoes::kAlong : TempoGoes::kStays;
  auto [step, song] = stripDragged(*drag_, to, goes);
  arranging_.document().apply(step, std::move(song), drag_->gesture->merge());
}

void StripView::mouseMoveEvent(QMouseEvent* event) {
  if (drag_) return drag(event->position());
  using Kind = StripHit::Kind;
  switch (stripAt(strip(), {event->position().x(), event->position().y()}).kind) {
    case Kind::kEdge:
      setCursor(Qt::SizeHorCursor);
      break;
    case Kind::kLevel:
    case Kind::kLevelEnd:
    case Kind::kTempoLine:
      setCursor(Qt::SizeVerCursor);
      break;
    case Kind::kTempoPoint:
      setCursor(Qt::SizeAllCursor);
      break;
    case Kind::kSection:
    case Kind::kNothing:
      unsetCursor();
      break;
  }
}

void StripView::mouseReleaseEvent(QMouseEvent* /*event*/) {
  if (!drag_) return;
  const std::optional<std::size_t> target = drag_->target;
  const std::size_t from = drag_->hit.index;
  drag_.reset();  // what was dragged becomes a step
  if (target) arranging_.moveTo(from, *target);
  strip_.reset();
  update();
}

void StripView::mouseDoubleClickEvent(QMouseEvent* event) {
  using Kind = StripHit::Kind;
  const Point p{event->position().x(), event->position().y()};
  const StripHit hit = stripAt(strip(), p);
  drag_.reset();
  if (hit.kind == Kind::kTempoLine) {
    // A point of its own, where the line is.
    const Beat at = stripBeat(strip(), p.x);
    const double bpm = roundedTo(strip().bpmAt(p.y), StripDrag::kBpmSteps);
    const bool ramp = arranging_.song().tempo[hit.index].ramp;
    arranging_.apply(tr("Tempo %1").arg(bpm), withTempoMark(arranging_.song(), at, Bpm{bpm}, ramp));
  } else if (hit.kind == Kind::kTempoPoint) {
    arranging_.apply(tr("A tempo taken away"),
                     withoutTempoMark(arranging_.song(), arranging_.song().tempo[hit.index].at));
  } else if (hit.kind == Kind::kSection) {
    Q_EMIT openWanted();
  }
}

void StripView::wheelEvent(QWheelEvent* event) {
  const int by = event->angleDelta().y();
  if ((event->modifiers() & Qt::ControlModifier) != 0) {
    zoom(std::pow(2, by / 240.0), event->position().x());
  } else if (viewport_.quarters > 0) {
    const Score* score = arranging_.document().songScore();
    viewport_.first -= by / 120.0 * viewport_.quarters / 8;
    if (score != nullptr)
      viewport_.first = std::clamp(viewport_.first, 0.0,
                                   std::max(0.0, score->length.toDouble() - viewport_.quarters));
    strip_.reset();
    update();
  }
  event->accept();
}

void StripView::keyPressEvent(QKeyEvent* event) {
  const bool alt = (event->modifiers() & Qt::AltModifier) != 0;
  const bool shift = (event->modifiers() & Qt::ShiftModifier) != 0;
  if ((event->modifiers() & Qt::ControlModifier) != 0) return QWidget::keyPressEvent(event);
  static const int key = Document::newMergeKey();
  const std::size_t here = arranging_.section();
  switch (event->key()) {
    case Qt::Key_Right:
      return alt ? arranging_.move(1) : arranging_.choose(here + 1);
    case Qt::Key_Left:
      return alt ? arranging_.move(-1) : arranging_.choose(here == 0 ? 0 : here - 1);
    case Qt::Key_Home:
      return arranging_.choose(0);
    case Qt::Key_End:
      return arranging_.choose(arranging_.count() - 1);
    case Qt::Key_Up:
      return arranging_.level(1, shift);
    case Qt::Key_Down:
      return arranging_.level(-1, shift);
    case Qt::Key_Plus:
    case Qt::Key_Equal:
      return arranging_.setTimes(arranging_.chosen().repeat + 1, {key, true});
    case Qt::Key_Minus:
      return arranging_.setTimes(arranging_.chosen().repeat - 1, {key, true});
    case Qt::Key_Return:
    case Qt::Key_Enter:
      return Q_EMIT openWanted();
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
      return arranging_.remove();
    case Qt::Key_D:
      return arranging_.duplicate();
    case Qt::Key_S:
      return arranging_.split();
    case Qt::Key_J:
      return arranging_.join();
    case Qt::Key_W:
      return arranging_.writeOut();
    case Qt::Key_F: {
      if (arranging_.chosen().fill) return arranging_.noFill();
      FillPlan plan;
      plan.asked.bpm = arranging_.bpmAtEnd();
      return arranging_.fill(plan);
    }
    case Qt::Key_X:
      return zoom(1.5);
    case Qt::Key_Z:
      return zoom(1 / 1.5);
    case Qt::Key_0:
      return showAll();
    case Qt::Key_Escape:
      if (drag_ && drag_->gesture) {
        drag_->gesture->cancel();
        drag_.reset();
        return read();
      }
      break;
    default:
      break;
  }
  QWidget::keyPressEvent(event);
}

QString StripView::tipAt(QPointF point) {
  const Point p{point.x(), point.y()};
  using Kind = StripHit::Kind;
  const StripHit hit = stripAt(strip(), p);
  switch (hit.kind) {
    case Kind::kEdge:
      return tr("Drag sideways: how many times it is played (+ and −)");
    case Kind::kLevel:
      return tr("Drag up and down: how loud it begins, dB (up and down)");
    case Kind::kLevelEnd:
      return tr("Drag up and down: how loud it ends, dB (Shift and up or down)");
    case Kind::kTempoPoint:
      return tr("%1 BPM: drag it to another beat and tempo; a double click takes it away")
          .arg(arranging_.song().tempo[hit.index].bpm.value);
    case Kind::kTempoLine:
      return tr("Drag up and down: BPM from the point before on; a double click sets a point");
    case Kind::kSection: {
      const Section& s = arranging_.sections()[hit.index];
      return tr("%1, %2 bars. Drag it to another place; a double click opens its bar")
          .arg(qs(s.name))
          .arg(sectionBars(arranging_.song(), s));
    }
    case Kind::kNothing:
      return {};
  }
  return {};
}

}  // namespace uneven
