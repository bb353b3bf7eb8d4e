// SPDX-License-Identifier: GPL-3.0-or-later
// Button, count, range and meter.
#include "app/frame/transport_block.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QTimer>
#include <QVBoxLayout>
#include <cmath>

#include "app/controls/choice_field.h"
#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "app/play/transport.h"

namespace uneven {
namespace {

constexpr int kHoldFrames = 90;        // a second and a half
constexpr double kFallPerFrame = 0.5;  // dB

}  // namespace

PlayButton::PlayButton(QWidget* parent) : QAbstractButton(parent) {
  setObjectName(QStringLiteral("play"));
  setFixedSize(sizeHint());
  setCursor(Qt::PointingHandCursor);
  setPlaying(false);
}

void PlayButton::setPlaying(bool playing) {
  playing_ = playing;
  setToolTip(playing ? tr("Stop (Space)") : tr("Play from the cursor (Space)"));
  setAccessibleName(playing ? tr("Stop") : tr("Play"));
  update();
}

void PlayButton::paintEvent(QPaintEvent* /*event*/) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const QRectF circle = QRectF(rect()).adjusted(2, 2, -2, -2);
  p.setPen(Qt::NoPen);
  p.setBrush(isDown() ? theme::kQuiet : theme::kInk);
  p.drawEllipse(circle);
  if (hasFocus()) {
    p.setPen(QPen(theme::kBrassEdge, 1.5));
    p.setBrush(Qt::NoBrush);
    p.drawEllipse(circle.adjusted(-1, -1, 1, 1));
    p.setPen(Qt::NoPen);
  }
  p.setBrush(theme::kCard);
  const QPointF c = circle.center();
  if (playing_) {
    p.drawRect(QRectF(c.x() - 5, c.y() - 5, 10, 10));
  } else {
    p.drawPolygon(QPolygonF({c + QPointF(-4.5, -7), c + QPointF(7.5, 0), c + QPointF(-4.5, 7)}));
  }
}

LevelMeter::LevelMeter(QWidget* parent) : QAbstractButton(parent) {
  setObjectName(QStringLiteral("meter"));
  setFixedSize(sizeHint());
  setCursor(Qt::PointingHandCursor);
  setFocusPolicy(Qt::TabFocus);
  setAccessibleName(tr("Sound card, level"));
  setToolTip(tr("How loud it is, in dB below full scale. A click opens the sound card (F9)"));
}

void LevelMeter::setPeak(float peak) {
  const double now = peak > 0 ? 20 * std::log10(static_cast<double>(peak)) : kBottomDb;
  const double before = shownDb_;
  const double heldBefore = heldDb_;
  shownDb_ = std::max({kBottomDb, now, shownDb_ - kFallPerFrame});
  if (now >= heldDb_) {
    heldDb_ = now;
    held_ = 0;
  } else if (++held_ > kHoldFrames) {
    heldDb_ = std::max(kBottomDb, heldDb_ - kFallPerFrame);
  }
  if (shownDb_ != before || heldDb_ != heldBefore) update();
}

void LevelMeter::paintEvent(QPaintEvent* /*event*/) {
  QPainter p(this);
  const QRectF track = QRectF(rect()).adjusted(4, 1, -4, -1);
  p.fillRect(track, theme::kLine);
  const auto y = [&](double db) {
    return track.bottom() - track.height() * std::clamp((db - kBottomDb) / -kBottomDb, 0.0, 1.0);
  };
  p.fillRect(QRectF(track.left(), y(shownDb_), track.width(), track.bottom() - y(shownDb_)),
             shownDb_ > -1 ? theme::kAttention : theme::kBrass);
  if (heldDb_ > kBottomDb) {
    p.fillRect(QRectF(track.left(), y(heldDb_) - 1, track.width(), 2),
               heldDb_ > -1 ? theme::kAttention : theme::kBrassEdge);
  }
  if (hasFocus()) {
    p.setPen(QPen(theme::kBrassEdge, 1, Qt::DotLine));
    p.drawRect(rect().adjusted(0, 0, -1, -1));
  }
}

TransportBlock::TransportBlock(Transport& transport, QWidget* parent)
    : QWidget(parent),
      transport_(transport),
      play_(new PlayButton(this)),
      range_(new ChoiceField(Qt::AlignLeft, this)),
      count_(strongLabel({}, 16, this)),
      meter_(new LevelMeter(this)) {
  setFixedWidth(166);
  auto* across = new QHBoxLayout(this);
  across->setContentsMargins(0, 0, 0, 0);
  across->setSpacing(8);
  across->addWidget(play_);
  auto* down = new QVBoxLayout;
  down->setSpacing(1);
  count_->setObjectName(QStringLiteral("count"));
  count_->setToolTip(tr("What you say where the cursor stands, or where it plays"));
  count_->setContentsMargins(3, 0, 0, 0);
  down->addWidget(count_);
  range_->setObjectName(QStringLiteral("range"));
  range_->setAccessibleName(tr("Plays"));
  range_->setToolTip(
      tr("What Space plays, from the cursor on. Chosen hits: from the first to the last"));
  range_->addItems({tr("Groove"), tr("Bar"), tr("Chosen hits"), tr("Section"), tr("Song")});
  down->addWidget(range_);
  across->addLayout(down, 1);
  across->addWidget(meter_);
  connect(play_, &QAbstractButton::clicked, &transport_, &Transport::toggle);
  connect(range_, &QComboBox::activated, this,
          [this](int i) { transport_.setRange(static_cast<Transport::Range>(i)); });
  connect(meter_, &QAbstractButton::clicked, this, &TransportBlock::soundWanted);
  connect(&transport_, &Transport::changed, this, &TransportBlock::read);
  connect(&transport_, &Transport::moved, this,
          [this] { meter_->setPeak(transport_.sound().takePeak()); });
  // What rings on after it has stopped, and single strokes.
  auto* ringing = new QTimer(this);
  ringing->setInterval(50);
  connect(ringing, &QTimer::timeout, this, [this, ringing] {
    meter_->setPeak(transport_.sound().takePeak());
    const bool quiet =
        meter_->heldDb() <= LevelMeter::kBottomDb && meter_->shownDb() <= LevelMeter::kBottomDb;
    if (transport_.playing() || quiet) ringing->stop();
  });
  connect(&transport_, &Transport::changed, ringing, [this, ringing] {
    if (!transport_.playing()) ringing->start();
  });
  connect(&transport_, &Transport::struck, ringing, [ringing] { ringing->start(); });
  read();
}

void TransportBlock::read() {
  play_->setPlaying(transport_.playing());
  range_->setCurrentIndex(static_cast<int>(transport_.range()));
}

void TransportBlock::setCount(const QString& count) {
  count_->setText(count);
}

}  // namespace uneven
