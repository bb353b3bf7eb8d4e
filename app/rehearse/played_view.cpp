// SPDX-License-Identifier: GPL-3.0-or-later
// Played sticks.
#include "app/rehearse/played_view.h"

#include <QPainter>
#include <cmath>

#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "core/time/count.h"

namespace uneven {
namespace {

constexpr double kNames = 66;

}  // namespace

PlayedView::PlayedView(Rehearsing& rehearsing, QWidget* parent)
    : DrawnView(parent), rehearsing_(rehearsing) {
  setObjectName(QStringLiteral("played"));
  setFocusPolicy(Qt::StrongFocus);
  setMinimumSize(300, 110);
  setAccessibleName(tr("What was played"));
  connect(&rehearsing_, &Rehearsing::played, this, qOverload<>(&QWidget::update));
  connect(&rehearsing_, &Rehearsing::changed, this, [this] {
    const auto& heard = rehearsing_.heard();
    QStringList wrong;
    if (heard) {
      for (const AlignedStroke& s : heard->strokes) {
        if (s.state != PlayedState::kPlayed && wrong.size() < 12) wrong << strokeText(s);
      }
    }
    setAccessibleDescription(!heard          ? tr("nothing has been played yet")
                             : wrong.empty() ? tr("every stroke was there")
                                             : wrong.join(QStringLiteral("; ")));
    update();
  });
}

int PlayedView::firstBar() const {
  const auto& heard = rehearsing_.heard();
  if (!heard) return 0;
  const Groove& groove = rehearsing_.practised();
  // The bars that hold the stroke that was played last.
  for (auto s = heard->strokes.rbegin(); s != heard->strokes.rend(); ++s) {
    if (s->state == PlayedState::kMissing) continue;
    const int bar = s->round * groove.bars + s->bar - heard->firstBar;
    return bar / kPlayedBars * kPlayedBars;
  }
  return 0;
}

PlayedScene PlayedView::scene() const {
  const auto& heard = rehearsing_.heard();
  const Groove groove = rehearsing_.practised();
  const int rounds = heard ? std::max(1, heard->rounds) : 1;
  return playedScene(groove, *rehearsing_.editing().document().song().kit, rounds,
                     heard ? &*heard : nullptr, firstBar(),
                     {kNames, 2, width() - 4.0, height() - 2.0});
}

QString PlayedView::strokeText(const AlignedStroke& s) const {
  const Song& song = rehearsing_.editing().document().song();
  const QString where = tr("%1, %2").arg(qs((*song.kit)[s.piece].name),
                                         qs(countName(s.at, rehearsing_.groove().meter).text()));
  switch (s.state) {
    case PlayedState::kMissing:
      return tr("%1: not played").arg(where);
    case PlayedState::kExtra:
      return tr("%1: nobody wrote it").arg(where);
    case PlayedState::kWrongPiece:
      return tr("%1: on %2").arg(where, s.struck ? qs((*song.kit)[*s.struck].name) : QString());
    case PlayedState::kPlayed:
      break;
  }
  const double late = s.late.count();
  const QString when =
      std::abs(late) < 0.5
          ? tr("in time")
          : tr("%1 ms %2").arg(numberText(std::abs(late), 0), late > 0 ? tr("late") : tr("early"));
  return tr("%1: %2, velocity %3, %4 against what is written")
      .arg(where, when)
      .arg(s.velocity)
      .arg(numberText(s.velocityBy, 0, true));
}

void PlayedView::paintEvent(QPaintEvent* /*event*/) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const PlayedScene made = scene();
  const Kit& kit = *rehearsing_.editing().document().song().kit;
  p.setFont(theme::font(11));
  for (const PlayedLine& line : made.lines) {
    p.fillRect(QRectF(line.x - 0.5, 16, 1, height() - 18.0), line.bar ? theme::kBarLine
                                                             : line.count.empty()
                                                                 ? theme::kFaintLine
                                                                 : theme::kLine);
    p.setPen(theme::kQuiet);
    if (!line.count.empty())
      p.drawText(QRectF(line.x - 20, 0, 40, 14), Qt::AlignCenter, qs(line.count));
  }
  for (std::size_t i = 0; i < made.lanes.size(); ++i) {
    const double y = made.baselines[i];
    p.fillRect(QRectF(kNames, y - 0.5, width() - kNames - 4, 1), theme::kLaneLine);
    p.setFont(theme::font(12, theme::Weight::kSemiBold));
    p.setPen(theme::kInk);
    p.drawText(QRectF(0, y - 18, kNames - 8, 18), Qt::AlignRight | Qt::AlignVCenter,
               p.fontMetrics().elidedText(qs(kit[made.lanes[i]].name), Qt::ElideRight,
                                          static_cast<int>(kNames) - 8));
  }
  for (const PlayedStick& s : made.sticks) {
    const QPointF foot(s.foot.x, s.foot.y), head(s.head.x, s.head.y);
    switch (s.state) {
      case PlayedState::kMissing:
        p.setPen(QPen(theme::kAttention, 1.6, Qt::DotLine));
        p.setBrush(Qt::NoBrush);
        p.drawEllipse(QPointF(s.foot.x, s.head.y), 5, 5);
        break;
      case PlayedState::kExtra:
      case PlayedState::kWrongPiece:
        p.setPen(QPen(theme::kAttention, 1.8));
        p.drawLine(head + QPointF(-4, -4), head + QPointF(4, 4));
        p.drawLine(head + QPointF(-4, 4), head + QPointF(4, -4));
        break;
      case PlayedState::kPlayed: {
        const QColor color = theme::limbColor(s.limb);
        const bool ghost = s.role == Role::kGhost;
        p.setPen(QPen(color, ghost ? 1.4 : 2.2, Qt::SolidLine, Qt::RoundCap));
        p.drawLine(foot, head);
        p.setBrush(ghost ? theme::kPaper : color);
        p.setPen(QPen(color, 1.4));
        p.drawEllipse(head, ghost ? 3.2 : 4, ghost ? 3.2 : 4);
        break;
      }
    }
  }
  if (rehearsing_.heard()) return;
  const QString begin = rehearsing_.listens()
                            ? tr("Space begins; what you play is held against the step (from: %1)")
                                  .arg(rehearsing_.sourceText())
                            : tr("Space begins. Nothing is connected: you judge by hand, C for "
                                 "clean, N for not yet.\n"
                                 "Pads or keys are chosen under Sound, MIDI from");
  p.setFont(theme::font(13));
  const QRectF room(kNames + 10, 16, width() - kNames - 20, height() - 18);
  const QRectF text = p.boundingRect(room, Qt::AlignCenter | Qt::TextWordWrap, begin);
  p.fillRect(text.adjusted(-10, -5, 10, 5), theme::kPaper);
  p.setPen(theme::kQuiet);
  p.drawText(text, Qt::AlignCenter | Qt::TextWordWrap, begin);
}

QString PlayedView::tipAt(QPointF point) {
  const PlayedScene made = scene();
  const auto& heard = rehearsing_.heard();
  for (const PlayedStick& s : made.sticks) {
    const QRectF around =
        QRectF(QPointF(s.foot.x, s.foot.y), QPointF(s.head.x, s.head.y)).normalized();
    if (heard && around.adjusted(-7, -7, 7, 5).contains(point))
      return strokeText(heard->strokes[s.stroke]);
  }
  return tr(
      "A stick is a stroke of yours: as high as it was loud, leaning from where it should "
      "be, 1 px a ms");
}

}  // namespace uneven
