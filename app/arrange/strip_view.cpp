// SPDX-License-Identifier: GPL-3.0-or-later
// The strip.
#include "app/arrange/strip_view.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>
#include <cmath>

#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "core/base/number.h"

namespace uneven {
namespace {

constexpr double kSlack = 5;  // px before a drag begins
// Seams of songs with more sections than this are looked for in the Lean stage only.
constexpr std::size_t kSeamsMost = 400;

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
  paintNames(p, s);
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
