// SPDX-License-Identifier: GPL-3.0-or-later
// Sticks, strain and tempo.
#include "app/check/check_view.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "app/drawing/bar_painter.h"
#include "app/drawing/stick_painter.h"
#include "core/base/number.h"
#include "core/song/names.h"
#include "core/song/slots.h"
#include "layout/hand_runs.h"

namespace uneven {
namespace {

constexpr Limb kLimbs[] = {Limb::kRightHand, Limb::kLeftHand, Limb::kRightFoot, Limb::kLeftFoot};
constexpr QColor kEasy(0xcf, 0xdd, 0xc8), kHardly(0xf1, 0xd9, 0xa2), kNot(0xef, 0xd2, 0xcd);

}  // namespace

CheckView::CheckView(Editing& editing, Checker& checker, QWidget* parent)
    : BarView(editing, tr("The part, its hands and their strain"), 2, parent), checker_(checker) {
  setObjectName(QStringLiteral("check-view"));
  setMinimumSize(480, 440);
  viewport_.bars = visibleBars();
  connect(&editing_.document(), &Document::changed, this, [this] { trial_.reset(); });
  connect(&checker_, &Checker::looked, this, &CheckView::looked);
}

const HandReport* CheckView::report() const {
  const Looked* now = checker_.now();
  return now != nullptr && now->report ? &*now->report : nullptr;
}

void CheckView::looked() {
  hands_.clear();
  strains_.reset();
  if (report() != nullptr) setTrial(trial_);
  update();
}

void CheckView::setTrial(std::optional<double> bpm) {
  trial_ = bpm;
  Q_EMIT tried(bpm);
  const HandReport* r = report();
  if (r == nullptr) return;
  if (!trial_) {
    hands_ = checker_.now()->hands;
    strains_ = r->strains;
  } else {
    // At another tempo a drummer may play it another way.
    const Body body(*r->take->score().kit, checker_.now()->of.profile);
    const double pace = *trial_ / r->bpm;
    const HandPlan plan = solveLoop(body, r->part, pace);
    strains_ = loopStrains(body, r->part, plan.hands, pace);
    showHands(plan.hands);
  }
  update();
}

void CheckView::setShown(std::optional<Finding> finding) {
  shown_ = std::move(finding);
  refresh();
  if (shown_ && shown_->groove == editing_.document().grooveId()) {
    showBar(barOf(editing_.groove(), shown_->inGroove));
  }
}

void CheckView::setWay(const OtherWay* way) {
  const HandReport* r = report();
  if (r == nullptr) return;
  hands_ = checker_.now()->hands;
  if (way != nullptr) showHands(way->plan.hands);
  update();
}

void CheckView::showHands(const std::vector<Limb>& hands) {
  const HandReport* r = report();
  const Groove& groove = editing_.groove();
  for (std::size_t i = 0; i < std::min(hands.size(), r->part.hands.size()); ++i) {
    const Stroke& s = r->take->strokes()[r->part.hands[i].stroke];
    if (s.part == 0 && s.hit < groove.hits.size()) hands_[refOf(groove, s.hit)] = hands[i];
  }
}

const std::optional<StrikeScene>& CheckView::previewScene() {
  scene();
  return preview_;
}

const StrikeScene& CheckView::scene() {
  if (!stale()) return scene_;
  const Document& document = editing_.document();
  viewport_.size = {static_cast<double>(width()), std::floor(rooms().top) - 14};
  viewport_.firstBar = firstBar();
  std::set<PieceId> struck;
  for (const Hit& hit : document.groove().hits) struck.insert(hit.piece);
  SharedTake then;
  if (shown_ && !shown_->mends.empty() && shown_->mends.front().ofGroove() &&
      shown_->groove == document.grooveId()) {
    const Result<SharedTake> take = Take::ofGroove(withMend(document.song(), shown_->mends.front()),
                                                   document.grooveId(), document.at());
    if (take) then = *take;
  }
  if (then != nullptr) {
    for (const Stroke& s : then->strokes()) struck.insert(s.piece);
  }
  viewport_.lanes.clear();
  for (const PieceId p : document.song().kit->order) {
    if (struck.contains(p)) viewport_.lanes.push_back(p);
  }
  if (viewport_.lanes.empty()) viewport_.lanes = {piece::kHat, piece::kSnare, piece::kKick};
  scene_ = strikeScene(document.take(), viewport_);
  preview_.reset();
  if (then != nullptr) preview_ = strikeScene(*then, viewport_);
  return scene_;
}

std::vector<BarRow> CheckView::rows() {
  return barRows(scene());
}

QString CheckView::letterAt(Beat at, PieceId piece) {
  const auto index = indexOf(editing_.groove(), {at, piece});
  if (!index) return {};
  const Hit& hit = editing_.groove().hits[*index];
  if (hit.limb != Limb::kAutomatic) return qs(limbLetter(hit.limb)) + tr(" set");
  const auto found = hands_.find({at, piece});
  return found == hands_.end() ? QString() : qs(limbLetter(found->second));
}

// --- Painting ---

void CheckView::paintEvent(QPaintEvent* /*event*/) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.fillRect(rect(), theme::kPaper);
  scene();
  if (shown_ && shown_->groove == editing_.document().grooveId()) {
    if (const auto x = scene_.xOf(shown_->inGroove)) {
      const QRectF box(*x - 15, scene_.area.top + 4, 44, scene_.area.bottom - scene_.area.top - 8);
      p.setPen(QPen(theme::kChosenEdge, 1));
      p.setBrush(theme::kChosen);
      p.drawRoundedRect(box, 4, 4);
    }
  }
  paintBars(p, scene_);
  paintSticks(p);
  paintHills(p);
  paintRuler(p);
  drawPlayhead(p);
  if (hasFocus()) paintFocus(p, QRectF(rect()).adjusted(1, 1, -1, -1));
}

void CheckView::paintSticks(QPainter& p) {
  p.setFont(theme::font(14, theme::Weight::kSemiBold));
  for (const LaneShape& lane : scene_.lanes) {
    p.setPen(QPen(theme::kLaneLine, 1.4));
    p.drawLine(QPointF(scene_.area.left, lane.baseline), QPointF(scene_.area.right, lane.baseline));
    paintLaneName(p, laneNameRect(lane.baseline),
                  qs((*editing_.document().song().kit)[lane.piece].name));
  }
  const auto draw = [&](const StickShape& stick) {
    StickShape drawn = stick;
    const auto computed = hands_.find(stick.ref);
    if (computed != hands_.end()) drawn.limb = computed->second;
    paintStick(p, drawn);
  };
  paintChange(p, scene_, preview_ ? &*preview_ : nullptr, draw);
  paintHands(p);
}

// A letter where a hand begins, and a line as far as it goes on: two lines where two take turns.
void CheckView::paintHands(QPainter& p) {
  const Groove& groove = editing_.groove();
  const auto penOf = [](Limb limb, bool set) {
    QColor color = theme::limbColor(limb);
    // What the player has not set is paler.
    if (!set) color.setAlpha(150);
    return color;
  };
  for (const LaneShape& lane : scene_.lanes) {
    std::vector<const StickShape*> sticks;
    std::vector<Limb> limbs;
    std::vector<bool> set;
    for (const StickShape& stick : scene_.sticks) {
      if (stick.part != 0 || stick.ref.piece != lane.piece) continue;
      const auto computed = hands_.find(stick.ref);
      const auto index = indexOf(groove, stick.ref);
      sticks.push_back(&stick);
      limbs.push_back(computed == hands_.end() ? stick.limb : computed->second);
      set.push_back(index && groove.hits[*index].limb != Limb::kAutomatic);
    }
    const double y = lane.baseline + 9;
    const auto letter = [&](std::size_t i) {
      // Not through the lines of the grid.
      p.fillRect(QRectF(sticks[i]->foot.x - 5, y - 6, 10, 12), theme::kPaper);
      p.setPen(penOf(limbs[i], set[i]));
      p.setFont(theme::font(12, set[i] ? theme::Weight::kSemiBold : theme::Weight::kRegular));
      p.drawText(QRectF(sticks[i]->foot.x - 12, y - 7, 24, 14), Qt::AlignCenter,
                 qs(limbLetter(limbs[i])));
    };
    for (const HandRun& run : handRuns(limbs)) {
      const bool turns = run.kind == HandRun::Kind::kTurns;
      const std::size_t told = run.first + (turns ? 1 : 0);
      for (std::size_t i = run.first; i <= run.last; ++i) {
        if (i <= told || set[i]) letter(i);
      }
      if (run.kind == HandRun::Kind::kEach) continue;
      const double right = sticks[run.last]->foot.x;
      for (const int line : {0, 1}) {
        if (line == 1 && !turns) continue;
        const double at = y + (turns ? 3 * line - 1.5 : 0);
        p.setPen(QPen(penOf(limbs[run.first + static_cast<std::size_t>(line)], false), 1.4));
        // Not through the letters of what is set.
        double from = sticks[told]->foot.x + 8;
        for (std::size_t i = told + 1; i <= run.last; ++i) {
          if (!set[i]) continue;
          const double to = sticks[i]->foot.x - 8;
          if (to > from) p.drawLine(QPointF(from, at), QPointF(to, at));
          from = sticks[i]->foot.x + 8;
        }
        if (right + 4 > from) p.drawLine(QPointF(from, at), QPointF(right + 4, at));
      }
    }
  }
}

StrainRooms CheckView::rooms() const {
  return strainRooms(height(), scene_.area.left, scene_.area.right);
}

double CheckView::strainOf(Limb limb) const {
  double most = 0;
  if (!strains_) return most;
  for (const auto* all : {&strains_->hands, &strains_->feet}) {
    for (const Strain& s : *all) {
      if (s.limb == limb) most = std::max(most, s.strain);
    }
  }
  return most;
}

void CheckView::paintHills(QPainter& p) {
  const HandReport* r = report();
  const StrainRooms rooms = this->rooms();
  const double head = rooms.top + 6;
  p.setPen(theme::kInk);
  p.setFont(theme::font(14, theme::Weight::kSemiBold));
  p.drawText(QRectF(kLaneNameWidth - 76, head, 70, 18), Qt::AlignLeft | Qt::AlignVCenter,
             tr("Strain"));
  p.setPen(theme::kQuiet);
  p.setFont(theme::font(12));
  const QString what =
      r == nullptr
          ? tr("being looked at")
          : tr("how near each limb is to its limit at %1 BPM; above the line it cannot be played")
                .arg(QString::number(trial_.value_or(r->bpm), 'f', 0));
  p.drawText(QRectF(scene_.area.left, head, scene_.area.right - scene_.area.left, 18),
             Qt::AlignLeft | Qt::AlignVCenter, what);
  for (int row = 0; row < 4; ++row) {
    const Limb limb = kLimbs[row];
    const QRectF hill = qr(rooms.hills[static_cast<std::size_t>(row)]);
    const double limit = hill.bottom() - hill.height() / kStrainShown;
    p.setPen(theme::kQuiet);
    p.drawText(QRectF(0, hill.bottom() - 17, kLaneNameWidth - 10, 18),
               Qt::AlignRight | Qt::AlignVCenter, qs(spokenName(limb)));
    p.setPen(QPen(theme::kLine, 1));
    p.drawLine(hill.bottomLeft(), hill.bottomRight());
    if (r != nullptr && strains_) paintHill(p, limb, rooms.hills[static_cast<std::size_t>(row)]);
    p.setPen(QPen(theme::kAttention, 1, Qt::DotLine));
    p.drawLine(QPointF(hill.left(), limit), QPointF(hill.right(), limit));
  }
}

// A stroke's strain where it is struck, and how it goes from there on: the limb is fresh again when
// a gap lets go of what was before it (docs/strain.md).
void CheckView::paintHill(QPainter& p, Limb limb, const Rect& hill) {
  const HandReport& r = *report();
  const Profile& profile = checker_.now()->of.profile;
  const Body body(*r.take->score().kit, profile);
  const double bpm = trial_.value_or(r.bpm);
  std::vector<StrainAt> all;
  const double perMs = (scene_.area.right - scene_.area.left) /
                       (viewport_.bars * editing_.groove().meter.barLength().toDouble()) * bpm /
                       60e3;
  const auto add = [&](const std::vector<BodyStroke>& strokes, const std::vector<Strain>& strains) {
    for (std::size_t i = 0; i < std::min(strokes.size(), strains.size()); ++i) {
      if (strains[i].limb != limb) continue;
      const Stroke& s = r.take->strokes()[strokes[i].stroke];
      const Beat at = r.take->score().blocks[s.block].groove->hits[s.hit].at;
      const auto x = scene_.xOf(at);
      if (!x) continue;
      const Milliseconds lets = std::max(
          profile.runGap, body.limitsOf(limb, strokes[i].piece).sustained.comfortable * 1.5);
      all.push_back({*x, strains[i].strain, lets.count() * perMs});
    }
  };
  add(r.part.hands, strains_->hands);
  add(r.part.feet, strains_->feet);
  std::stable_sort(all.begin(), all.end(),
                   [](const StrainAt& a, const StrainAt& b) { return a.x < b.x; });
  QPainterPath path;
  for (const Point& point : hillEdge(all, hill)) {
    path.elementCount() == 0 ? path.moveTo(qp(point)) : path.lineTo(qp(point));
  }
  path.closeSubpath();
  QColor fill = theme::limbColor(limb);
  fill.setAlpha(95);
  p.fillPath(path, fill);
}

void CheckView::paintRuler(QPainter& p) {
  const StrainRooms rooms = this->rooms();
  const QRectF ruler = qr(rooms.ruler);
  const auto xOfBpm = [&](double bpm) { return rooms.xOfBpm(bpm); };
  const HandReport* r = report();
  p.setPen(theme::kInk);
  p.setFont(theme::font(14, theme::Weight::kSemiBold));
  const QRectF head(kLaneNameWidth - 76, ruler.top() - 42, 150, 18);
  p.drawText(head, Qt::AlignLeft | Qt::AlignVCenter, tr("How fast it can go"));
  if (r == nullptr) return;
  p.setFont(theme::font(12));
  p.setPen(theme::kQuiet);
  QString why = tr("nothing holds it back");
  const Ceiling& c = r->ceiling;
  if (!r->part.thirdHand.empty()) {
    why = tr("not at any tempo: a third hand is asked for");
  } else if (c.hand || c.foot) {
    const BodyStroke& b = c.hand ? r->part.hands[*c.hand] : r->part.feet[*c.foot];
    const Stroke& s = r->take->strokes()[b.stroke];
    const Score::Block& block = r->take->score().blocks[s.block];
    why = tr("set by the %1 on %2 of bar %3: %4")
              .arg(qs(spokenName(c.at.limb)).toLower(),
                   qs(countName(s.at, block.groove->meter).text()),
                   QString::number(s.bar - block.firstBar + 1), qs(reasonText(c.at.reason)));
  }
  p.drawText(QRectF(head.right() + 4, head.top(), ruler.right() - head.right(), 18),
             Qt::AlignLeft | Qt::AlignVCenter, why);
  const bool none = !r->part.thirdHand.empty();
  const double easy = none ? kRulerFrom : ceilingBpm(*r, c.comfortable);
  const double hard = none ? kRulerFrom : ceilingBpm(*r, c.playable);
  const auto stretch = [&](double from, double to, const QColor& color, const QString& words) {
    const QRectF part(xOfBpm(from), ruler.top(), xOfBpm(to) - xOfBpm(from), ruler.height());
    if (part.width() <= 0) return;
    p.fillRect(part, color);
    p.setPen(theme::kInk);
    if (p.fontMetrics().horizontalAdvance(words) < part.width() - 6)
      p.drawText(part, Qt::AlignCenter, words);
  };
  stretch(kRulerFrom, easy, kEasy, tr("comfortable to %1").arg(std::floor(easy)));
  stretch(std::max(kRulerFrom, easy), hard, kHardly, tr("hard to %1").arg(std::floor(hard)));
  stretch(std::max(kRulerFrom, hard), kRulerTo, kNot, tr("not with these limbs"));
  p.setPen(theme::kQuiet);
  p.drawText(QRectF(0, ruler.top(), kLaneNameWidth - 10, ruler.height()),
             Qt::AlignRight | Qt::AlignVCenter, tr("BPM"));
  for (int bpm = static_cast<int>(kRulerFrom); bpm <= kRulerTo; bpm += 20) {
    const double x = xOfBpm(bpm);
    p.drawLine(QPointF(x, ruler.bottom()), QPointF(x, ruler.bottom() + 4));
    p.drawText(QRectF(x - 20, ruler.bottom() + 5, 40, 14), Qt::AlignCenter, QString::number(bpm));
  }
  // How far each way of keeping time goes.
  double before = kRulerFrom;
  for (const WayBand& band : checker_.now()->bands) {
    const QRectF part(xOfBpm(before) + 1, ruler.bottom() + 23,
                      xOfBpm(band.bpm) - xOfBpm(before) - 2, 14);
    before = band.bpm;
    if (part.width() < 8) continue;
    p.setPen(QPen(theme::kBrassEdge, 2));
    p.drawLine(part.topLeft(), part.topRight());
    const QString words = tr("%1 to %2")
                              .arg(band.word == "one-hand" ? tr("one hand") : tr("hand to hand"))
                              .arg(std::floor(band.bpm));
    p.setPen(theme::kQuiet);
    if (p.fontMetrics().horizontalAdvance(words) < part.width())
      p.drawText(part.adjusted(0, 1, 0, 2), Qt::AlignCenter, words);
  }
  const auto marker = [&](double bpm, bool trial) {
    const double x = xOfBpm(bpm);
    p.setPen(QPen(trial ? theme::kBrassEdge : theme::kInk, 3));
    p.drawLine(QPointF(x, ruler.top() - 7), QPointF(x, ruler.top() + 1));
    p.setFont(theme::font(12, theme::Weight::kSemiBold));
    p.drawText(QRectF(x - 30, ruler.top() - 21, 60, 14), Qt::AlignCenter,
               QString::number(bpm, 'f', 0));
  };
  marker(r->bpm, false);
  if (trial_) marker(*trial_, true);
}

// --- Hands ---

bool CheckView::onRuler(QPointF point) const {
  return qr(rooms().ruler).adjusted(-4, -24, 4, 22).contains(point);
}

void CheckView::mousePressEvent(QMouseEvent* event) {
  setFocus();
  const QPointF at = event->position();
  if (onRuler(at)) return setTrial(rooms().bpmAt(at.x()));
  if (at.y() >= scene().area.bottom) return;
  PieceId piece = editing_.cursorPiece();
  for (const BarRow& row : rows()) {
    if (at.y() >= row.top && at.y() < row.bottom) piece = row.piece;
  }
  editing_.moveCursor(slotAt(scene_, at.x()), piece);
}

void CheckView::mouseMoveEvent(QMouseEvent* event) {
  const QPointF at = event->position();
  setCursor(onRuler(at) ? Qt::SizeHorCursor : Qt::ArrowCursor);
  if ((event->buttons() & Qt::LeftButton) != 0 && trial_) setTrial(rooms().bpmAt(at.x()));
}

void CheckView::keyPressEvent(QKeyEvent* event) {
  const Groove& groove = editing_.groove();
  const auto walk = [&](Beat to) {
    if (to >= Beat(0) && to < groove.length()) editing_.moveCursor(to, editing_.cursorPiece());
  };
  const double bpm = trial_.value_or(report() == nullptr ? 100 : report()->bpm);
  switch (event->key()) {
    case Qt::Key_Down:
      return Q_EMIT stepped(1);
    case Qt::Key_Up:
      return Q_EMIT stepped(-1);
    case Qt::Key_Return:
    case Qt::Key_Enter:
      return Q_EMIT mendWanted();
    case Qt::Key_L:
      return Q_EMIT leaveWanted();
    case Qt::Key_Right:
      return walk(slotAfter(groove, editing_.cursorAt()));
    case Qt::Key_Left:
      return walk(slotBefore(groove, editing_.cursorAt()));
    case Qt::Key_Plus:
      return setTrial(std::min(kRulerTo, roundedTo(bpm, 1) + 1));
    case Qt::Key_Minus:
      return setTrial(std::max(kRulerFrom, roundedTo(bpm, 1) - 1));
    case Qt::Key_Escape:
      return setTrial(std::nullopt);
    default:
      if (event->key() >= Qt::Key_0 && event->key() <= Qt::Key_9)
        return Q_EMIT wayWanted(event->key() - Qt::Key_0);
      if (!pageKey(*event)) BarView::keyPressEvent(event);
  }
}

QString CheckView::tipAt(QPointF point) {
  if (onRuler(point)) {
    return tr(
        "Drag to see the strain at another tempo, in BPM; the song stays as it is. + and -: "
        "by 1, Escape: back to the song's");
  }
  if (point.y() > rooms().top)
    return tr("Strain: the shortest time a limb can, over the time it has; 1 at the dotted line");
  return tr(
      "R and L: the hands that a drummer would use, pale; full where the hit sets its own. A "
      "stick has the colour of its hand");
}

}  // namespace uneven
