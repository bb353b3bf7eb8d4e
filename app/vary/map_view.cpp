// SPDX-License-Identifier: GPL-3.0-or-later
// The map.
#include "app/vary/map_view.h"

#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <array>
#include <set>
#include <utility>

#include "app/controls/choice_field.h"
#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "app/drawing/stick_painter.h"

namespace uneven {

namespace {

constexpr double kMapTop = 74, kMapBottom = 46;

QString measureName(MapView::Measure measure) {
  switch (measure) {
    case MapView::Measure::kSyncopation:
      return MapView::tr("syncopation");
    case MapView::Measure::kTempo:
      return MapView::tr("how fast it goes");
    case MapView::Measure::kEasyTempo:
      return MapView::tr("how fast it is easy");
    case MapView::Measure::kDensity:
      return MapView::tr("strokes a quarter");
    case MapView::Measure::kDistance:
      return MapView::tr("distance from the groove");
  }
  return {};
}

}  // namespace

MapView::MapView(Walker& walker, QWidget* parent)
    : QWidget(parent),
      walker_(walker),
      acrossField_(new ChoiceField(Qt::AlignLeft, this)),
      upField_(new ChoiceField(Qt::AlignLeft, this)),
      filterField_(new ChoiceField(Qt::AlignLeft, this)) {
  setObjectName(QStringLiteral("vary-map"));
  setMinimumWidth(180);
  setMouseTracking(true);
  setAccessibleName(tr("Map of the variants"));
  for (int m = 0; m < kMeasures; ++m) {
    upField_->addItem(tr("up: %1").arg(measureName(static_cast<Measure>(m))), m);
    acrossField_->addItem(tr("across: %1").arg(measureName(static_cast<Measure>(m))), m);
  }
  filterField_->addItem(tr("all are drawn"));
  filterField_->addItem(tr("drawn: without a verdict"), -1);
  for (const Named<WalkMark>& mark : namesOf<WalkMark>())
    filterField_->addItem(tr("drawn: %1").arg(qs(mark.spoken).toLower()),
                          static_cast<int>(mark.value));
  upField_->setObjectName(QStringLiteral("map-up"));
  upField_->setToolTip(tr("What grows upwards"));
  upField_->setAccessibleName(tr("Upwards"));
  acrossField_->setObjectName(QStringLiteral("map-across"));
  acrossField_->setToolTip(tr("What grows to the right"));
  acrossField_->setAccessibleName(tr("To the right"));
  filterField_->setObjectName(QStringLiteral("map-filter"));
  filterField_->setToolTip(tr("Which variants are drawn, by their verdict"));
  filterField_->setAccessibleName(tr("Drawn"));
  const auto axes = [this] {
    chosenByHand_ = true;
    setAxes(static_cast<Measure>(acrossField_->currentData().toInt()),
            static_cast<Measure>(upField_->currentData().toInt()));
  };
  connect(upField_, &QComboBox::activated, this, axes);
  connect(acrossField_, &QComboBox::activated, this, axes);
  connect(filterField_, &QComboBox::activated, this, [this] {
    const QVariant mark = filterField_->currentData();
    setFilter(mark.isValid() ? std::optional(mark.toInt()) : std::nullopt);
  });
  connect(&walker_, &Walker::changed, this, &MapView::read);
  connect(&walker_, &Walker::judgedMore, this, &MapView::read);
  setAxes(across_, up_);
}

void MapView::setAxes(Measure across, Measure up) {
  across_ = across;
  up_ = up;
  acrossField_->setCurrentIndex(static_cast<int>(across));
  upField_->setCurrentIndex(static_cast<int>(up));
  read();
}

void MapView::setFilter(std::optional<int> mark) {
  filter_ = mark;
  filterField_->setCurrentIndex(mark ? filterField_->findData(*mark) : 0);
  spread();
}

double MapView::valueOf(const Judged& judged, Measure measure) const {
  switch (measure) {
    case Measure::kSyncopation:
      return judged.measures.syncopation;
    case Measure::kTempo:
      return judged.ceiling.playable;
    case Measure::kEasyTempo:
      return judged.ceiling.comfortable;
    case Measure::kDensity:
      return judged.measures.density;
    case Measure::kDistance:
      return judged.measures.distance;
  }
  return 0;
}

bool MapView::shows(std::uint64_t index) const {
  if (!filter_) return true;
  const WalkNote* note = walker_.verdict(index);
  return note == nullptr ? *filter_ < 0 : static_cast<int>(note->mark) == *filter_;
}

// The two measures that tell the walk's variants apart best: with the most different values.
void MapView::chooseAxes() {
  std::array<std::pair<std::size_t, int>, kMeasures> told;
  for (int m = 0; m < kMeasures; ++m) {
    std::set<double> values;
    for (std::uint64_t i = 0; i < std::min(walker_.count(), kDrawnMost); ++i) {
      if (const Judged* j = walker_.judged(i)) values.insert(valueOf(*j, static_cast<Measure>(m)));
    }
    told[static_cast<std::size_t>(m)] = {values.size(), m};
  }
  std::stable_sort(told.begin(), told.end(),
                   [](const auto& a, const auto& b) { return a.first > b.first; });
  // What stands first in the list goes upwards.
  up_ = static_cast<Measure>(std::min(told[0].second, told[1].second));
  across_ = static_cast<Measure>(std::max(told[0].second, told[1].second));
  acrossField_->setCurrentIndex(static_cast<int>(across_));
  upField_->setCurrentIndex(static_cast<int>(up_));
}

void MapView::read() {
  const std::string walk = walker_.walk() == nullptr ? std::string() : walker_.walk()->kind;
  if (std::exchange(walk_, walk) != walk) chosenByHand_ = false;
  if (!chosenByHand_) chooseAxes();
  const auto spanOf = [this](Measure measure) {
    std::optional<Span> out;
    for (std::uint64_t i = 0; i < std::min(walker_.count(), kDrawnMost); ++i) {
      const Judged* j = walker_.judged(i);
      if (j == nullptr) continue;
      const double v = valueOf(*j, measure);
      if (!out) out = Span{v, v};
      out->least = std::min(out->least, v);
      out->most = std::max(out->most, v);
    }
    return out.value_or(Span{});
  };
  spanAcross_ = spanOf(across_);
  spanUp_ = spanOf(up_);
  spread();
}

void MapView::setCurrent(std::uint64_t index) {
  current_ = index;
  update();
}

QRectF MapView::area() const {
  return {14, kMapTop, width() - 28.0, std::max(40.0, height() - kMapTop - kMapBottom)};
}

void MapView::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  filterField_->setGeometry(8, 22, width() - 16, 22);
  upField_->setGeometry(8, 46, width() - 16, 22);
  acrossField_->setGeometry(8, height() - 44, width() - 16, 22);
  spread();
}

void MapView::spread() {
  const auto count = static_cast<std::size_t>(std::min(walker_.count(), kDrawnMost));
  std::vector<std::optional<Point>> places(count);
  const QRectF room = area().adjusted(16, 16, -16, -16);
  const auto share = [](double value, const Span& span) {
    return span.most > span.least ? (value - span.least) / (span.most - span.least) : 0.5;
  };
  for (std::size_t i = 0; i < count; ++i) {
    const Judged* j = shows(i) ? walker_.judged(i) : nullptr;
    if (j == nullptr) continue;
    places[i] = Point{room.left() + share(valueOf(*j, across_), spanAcross_) * room.width(),
                      room.bottom() - share(valueOf(*j, up_), spanUp_) * room.height()};
  }
  constexpr double kOff = 7;  // the edge
  points_ = spreadOut(places, {area().left() + kOff, area().top() + kOff, area().right() - kOff,
                               area().bottom() - kOff});
  update();
}

std::optional<QPointF> MapView::pointOf(std::uint64_t index) const {
  if (index >= points_.size() || !points_[index]) return std::nullopt;
  return qp(*points_[index]);
}

void MapView::paintEvent(QPaintEvent* /*event*/) {
  QPainter p(this);
  p.fillRect(rect(), theme::kPaper);
  p.setRenderHint(QPainter::Antialiasing);
  const QRectF room = area();
  p.setFont(theme::font(11));
  p.setPen(theme::kQuiet);
  const auto said = walker_.count() > walker_.judgedCount()
                        ? tr("%1 of %2 measured").arg(walker_.judgedCount()).arg(walker_.count())
                    : walker_.count() == 1 ? tr("One variant")
                                           : tr("All %1 variants").arg(walker_.count());
  p.drawText(QRectF(room.left(), 4, room.width(), 16), Qt::AlignLeft, said);
  p.setPen(QPen(theme::kBarLine, 1));
  p.drawLine(room.topLeft(), room.bottomLeft());
  p.drawLine(room.bottomLeft(), room.bottomRight());
  p.setPen(theme::kQuiet);
  p.drawText(QRectF(room.left(), height() - 20.0, room.width(), 16), Qt::AlignLeft,
             p.fontMetrics().elidedText(tr("large: goes fast · ring: no verdict"), Qt::ElideRight,
                                        static_cast<int>(room.width())));
  const double fastest = std::max(60.0, walker_.core().ceiling.playable * 1.2);
  for (std::uint64_t i = 0; i < std::min(walker_.count(), kDrawnMost); ++i) {
    const auto at = pointOf(i);
    if (!at) continue;
    const double share = std::clamp(walker_.judged(i)->ceiling.playable / fastest, 0.0, 1.0);
    const double size = 2.2 + 3.6 * share;
    const WalkNote* note = walker_.verdict(i);
    QColor color = theme::kInk;
    if (note != nullptr) {
      color = note->mark == WalkMark::kGood      ? theme::limbColor(Limb::kRightFoot)
              : note->mark == WalkMark::kAwkward ? theme::kBrass
                                                 : theme::kDisabled;
    }
    p.setPen(note == nullptr ? QPen(theme::kQuiet, 1) : QPen(Qt::NoPen));
    p.setBrush(note == nullptr ? QBrush(theme::kCard) : QBrush(color));
    p.drawEllipse(*at, size, size);
  }
  if (const auto at = pointOf(current_)) {
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(theme::kBrassEdge, 2));
    p.drawEllipse(*at, 9, 9);
  }
}

std::optional<std::uint64_t> MapView::near(const QPointF& p) const {
  std::optional<std::uint64_t> out;
  double best = 10;
  for (std::uint64_t i = 0; i < std::min(walker_.count(), kDrawnMost); ++i) {
    const auto at = pointOf(i);
    if (!at) continue;
    const double away = std::hypot(at->x() - p.x(), at->y() - p.y());
    if (away >= best) continue;
    best = away;
    out = i;
  }
  return out;
}

void MapView::mousePressEvent(QMouseEvent* event) {
  if (const auto index = near(event->position())) Q_EMIT chosen(*index);
}

void MapView::mouseMoveEvent(QMouseEvent* event) {
  const auto index = near(event->position());
  setToolTip(index ? plainText(qs(walker_.variant(*index).name)) : QString());
}

}  // namespace uneven
