// SPDX-License-Identifier: GPL-3.0-or-later
// Painting the lanes.
#include "app/strike/lanes_painter.h"

#include <QPainter>
#include <QPainterPath>
#include <QStaticText>
#include <cmath>
#include <map>

#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "app/drawing/stick_painter.h"
#include "app/strike/step_entry.h"
#include "core/base/number.h"
#include "core/song/core_groove.h"
#include "core/song/names.h"
#include "layout/hit_test.h"

namespace uneven {
namespace {

constexpr double kNamesApart = 36;  // baselines nearer than this leave no line between two names

constexpr double kLineOverhang = 14;

// The letter of a piece in step entry, left of its name.
void paintKeyCap(QPainter& p, const QRectF& name, const QString& title, const QString& letter) {
  if (letter.isEmpty()) return;
  const double right = name.right() - QFontMetricsF(p.font()).horizontalAdvance(title) - 5;
  const QRectF cap(right - 17, name.top() + 1, 17, 16);
  p.setPen(QPen(theme::kBrassEdge, 1));
  p.setBrush(theme::kChosen);
  p.drawRoundedRect(cap, 3, 3);
  p.setPen(theme::kInk);
  p.setFont(theme::font(12, theme::Weight::kSemiBold));
  p.drawText(cap, Qt::AlignCenter, letter);
}

void paintLaneLines(QPainter& p, const LanesPicture& picture) {
  const StrikeScene& scene = picture.scene;
  const Document& document = picture.editing.document();
  const Kit& kit = *document.song().kit;
  const auto& displacement = document.feel().displacement;
  for (std::size_t i = 0; i < scene.lanes.size(); ++i) {
    const LaneShape& lane = scene.lanes[i];
    p.setPen(QPen(theme::kLaneLine, 1.4));
    p.drawLine(QPointF(scene.area.left, lane.baseline),
               QPointF(scene.area.right + kLineOverhang, lane.baseline));
    const QRectF name = laneNameRect(lane.baseline);
    const bool byLimb = lane.limb != Limb::kAutomatic;
    const QString title = byLimb ? qs(spokenName(lane.limb)) : qs(kit[lane.piece].name);
    paintLaneName(p, name, title);
    if (byLimb) {
      p.setPen(theme::kQuiet);
      p.setFont(theme::font(12));
      p.drawText(name.translated(0, 15), Qt::AlignRight | Qt::AlignVCenter,
                 qs(kit[lane.piece].name));
      continue;
    }
    if (picture.stepEntry) paintKeyCap(p, name, title, StepEntry::letterOf(lane.piece, kit));
    const auto shift = displacement.find(lane.piece);
    if (shift == displacement.end() || shift->second.count() == 0 || lane.room < 16) continue;
    // Under the name, or left of it where the next lane's name is near.
    const bool near =
        i + 1 < scene.lanes.size() && scene.lanes[i + 1].baseline - lane.baseline < kNamesApart;
    const double taken = QFontMetricsF(p.font()).horizontalAdvance(title) + 6;
    p.setPen(theme::kQuiet);
    p.setFont(theme::font(12));
    QString text = signedMs(shift->second);
    if (near) {
      // Without its unit where that is too long, and not at all rather than cut.
      const QFontMetricsF metrics(p.font());
      const double room = name.width() - taken;
      if (metrics.horizontalAdvance(text) > room) text.chop(3);
      if (metrics.horizontalAdvance(text) > room) continue;
    }
    p.drawText(near ? name.adjusted(0, 0, -taken, 0) : name.translated(0, 15),
               Qt::AlignRight | Qt::AlignVCenter, text);
  }
}

void paintWedges(QPainter& p, const StrikeScene& scene) {
  for (const WedgeShape& w : scene.wedges) {
    QPainterPath path(qp(w.edge.front()));
    for (const Point& point : w.edge) path.lineTo(qp(point));
    path.closeSubpath();
    QColor fill = theme::kBrass;
    fill.setAlpha(110);
    p.setPen(QPen(theme::kBrassEdge, 1));
    p.setBrush(fill);
    p.drawPath(path);
  }
}

// What an embellished groove adds to its core stands on a small plate.
void paintAdded(QPainter& p, const StrikeScene& scene, const Editing& editing) {
  const Groove* core = editing.grooves().core();
  if (core == nullptr) return;
  const Selection added = addedTo(*core, editing.groove());
  p.setPen(Qt::NoPen);
  p.setBrush(theme::kBrass);
  for (const StickShape& stick : scene.sticks) {
    if (stick.part > 0 || !added.contains(stick.ref)) continue;
    p.drawRoundedRect(QRectF(stick.foot.x - 6, stick.foot.y - 1.5, 12, 3.5), 1.5, 1.5);
  }
}

// R and L stand under every stick: laid out once, not for each.
const QStaticText& letterOf(Limb limb) {
  static std::map<Limb, QStaticText> made;
  const auto found = made.find(limb);
  if (found != made.end()) return found->second;
  QStaticText text(qs(limbLetter(limb)));
  text.setTextFormat(Qt::PlainText);
  text.prepare({}, theme::font(12, theme::Weight::kSemiBold));
  return made.emplace(limb, text).first->second;
}

// Who plays it: as it is set, else the computed hand, which is paler.
struct Hand {
  Limb limb = Limb::kAutomatic;
  bool set = false;
};
Hand handOf(const LanesPicture& picture, const Groove& groove, const StickShape& stick) {
  const auto index = indexOf(groove, stick.ref);
  if (index && groove.hits[*index].limb != Limb::kAutomatic) return {stick.limb, true};
  if (picture.hands != nullptr) {
    const auto found = picture.hands->find(stick.ref);
    if (found != picture.hands->end()) return {found->second, false};
  }
  return {stick.limb, false};
}

void paintFoot(QPainter& p, const StickShape& stick, const Kit& kit, const Hand& hand) {
  constexpr int kPale = 150;
  QColor color = theme::limbColor(hand.limb);
  if (!hand.set) color.setAlpha(kPale);
  p.setPen(color);
  p.setFont(theme::font(12, theme::Weight::kSemiBold));
  const QStaticText& letter = letterOf(hand.limb);
  const QSizeF size = letter.size();
  p.drawStaticText(QPointF(roundedTo(stick.foot.x - size.width() / 2, 1),
                           roundedTo(stick.foot.y + 7.5 - size.height() / 2, 1)),
                   letter);
  if (!stick.foreign) return;
  p.setPen(theme::kInk);
  p.setFont(theme::font(12));
  p.drawText(QRectF(stick.head.x - 40, stick.head.y - 20, 80, 13), Qt::AlignCenter,
             qs(kit[stick.ref.piece].name));
}

void paintSticks(QPainter& p, const LanesPicture& picture) {
  const Kit& kit = *picture.editing.document().song().kit;
  const Groove& groove = picture.editing.groove();
  paintChange(p, picture.scene, picture.preview, [&](const StickShape& stick) {
    paintStick(p, stick);
    if (stick.part == 0) paintFoot(p, stick, kit, handOf(picture, groove, stick));
  });
}

}  // namespace

void paintLanes(QPainter& p, const LanesPicture& picture) {
  const StrikeScene& scene = picture.scene;
  const Editing& editing = picture.editing;
  p.fillRect(p.viewport(), theme::kPaper);
  p.setRenderHint(QPainter::Antialiasing);
  paintBars(p, scene);
  paintLaneLines(p, picture);
  paintWedges(p, scene);
  for (const StickShape& stick : scene.sticks) {
    const bool selected = editing.selection().contains(stick.ref);
    if (stick.part == 0 && (selected || picture.hovered == stick.ref)) {
      paintChosen(p, around(stick), selected);
    }
  }
  paintAdded(p, scene, editing);
  paintSticks(p, picture);
  if (editing.groove().hits.empty() && picture.preview == nullptr) {
    const QString text = Editing::tr(
        "An empty groove. Click on a line to strike it, or move with the arrow keys and "
        "press Enter.");
    p.setFont(theme::font(13));
    const double width = QFontMetricsF(p.font()).horizontalAdvance(text) + 40;
    const Rect& area = scene.area;
    const QRectF box((area.left + area.right - width) / 2, (area.top + area.bottom) / 2 - 22, width,
                     40);
    p.setPen(QPen(theme::kLine, 1));
    p.setBrush(theme::kCard);
    p.drawRoundedRect(box, 6, 6);
    p.setPen(theme::kInk);
    p.drawText(box, Qt::AlignCenter, text);
  }
}

void paintCursor(QPainter& p, const StrikeScene& scene, const Editing& editing) {
  const auto x = scene.xOf(editing.cursorAt());
  if (!x) return;
  for (const LaneShape& lane : scene.lanes) {
    const bool here = lane.limb == Limb::kAutomatic ? lane.piece == editing.cursorPiece()
                                                    : lane.limb == editing.cursorLimb();
    if (!here) continue;
    // A foot under the slot and a faint column over it: the stick itself stays clear to see.
    QColor column = theme::kBrass;
    column.setAlpha(46);
    p.fillRect(QRectF(*x - 8, lane.top + 3, 16, lane.baseline - lane.top - 3), column);
    p.fillRect(QRectF(*x - 9, lane.baseline - 1.5, 18, 4), theme::kBrassEdge);
  }
}

}  // namespace uneven
