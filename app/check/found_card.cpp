// SPDX-License-Identifier: GPL-3.0-or-later
// The list of findings.
#include "app/check/found_card.h"

#include <QGuiApplication>
#include <QHBoxLayout>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QScrollArea>
#include <QScrollBar>
#include <QVBoxLayout>
#include <algorithm>
#include <array>

#include "app/controls/action_button.h"
#include "app/controls/airy_table.h"
#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "core/time/count.h"

namespace uneven {
namespace {

constexpr std::size_t kPage = 40;
constexpr int kGreyAfterMs = 150;
constexpr int kRowWidth = Card::kWidth - 20;  // of a finding's buttons

// A finding's place in the list: a click chooses it.
class Row : public QWidget {
 public:
  Row(Severity severity, std::function<void()> clicked, QWidget* parent)
      : QWidget(parent), severity_(severity), clicked_(std::move(clicked)) {
    setCursor(Qt::PointingHandCursor);
  }
  void setChosen(bool chosen) {
    chosen_ = chosen;
    update();
  }

 protected:
  void mousePressEvent(QMouseEvent* /*event*/) override { clicked_(); }
  void paintEvent(QPaintEvent* /*event*/) override {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    if (chosen_) p.fillRect(rect(), theme::kChosen);
    // A pin for what is worth a look, a filled one for what cannot stay.
    const bool error = severity_ == Severity::kError;
    const QColor color = error ? theme::kAttention : theme::kBrassEdge;
    p.setPen(QPen(severity_ == Severity::kNote ? theme::kLine : color, 1.6));
    p.setBrush(error ? QBrush(color) : QBrush(Qt::NoBrush));
    p.drawLine(QPointF(9, 12), QPointF(9, 20));
    p.drawEllipse(QPointF(9, 9), 3.6, 3.6);
  }

 private:
  Severity severity_;
  std::function<void()> clicked_;
  bool chosen_ = false;
};

}  // namespace

FoundCard::FoundCard(Editing& editing, Checker& checker, QWidget* parent)
    : Card(parent),
      editing_(editing),
      checker_(checker),
      title_(strongLabel({}, 16, this)),
      scroll_(new QScrollArea(this)) {
  setObjectName(QStringLiteral("found-card"));
  auto* down = new QVBoxLayout(this);
  down->setContentsMargins(8, 14, 6, 10);
  down->setSpacing(6);
  title_->setContentsMargins(8, 0, 0, 0);
  down->addWidget(title_);
  scroll_->setFrameShape(QFrame::NoFrame);
  scroll_->setFocusPolicy(Qt::NoFocus);
  scroll_->setWidgetResizable(true);
  scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  makeAiry(*scroll_->verticalScrollBar());
  QPalette card = scroll_->palette();
  card.setColor(QPalette::Window, theme::kCard);
  scroll_->setPalette(card);
  down->addWidget(scroll_, 1);
  stale_.setSingleShot(true);
  stale_.setInterval(kGreyAfterMs);
  connect(&stale_, &QTimer::timeout, this, [this] { setEnabled(fresh()); });
  connect(&checker_, &Checker::looked, this, &FoundCard::read);
  read();
}

void FoundCard::read() {
  const Looked* now = checker_.now();
  if (now == nullptr) {
    title_->setText(tr("Looking…"));
    if (!stale_.isActive()) stale_.start();  // what is listed is of the song before
    return;
  }
  stale_.stop();
  setEnabled(true);
  const std::string groove = editing_.document().grooveId();
  const std::optional<Finding> kept = chosen_ ? std::optional(findings_[*chosen_]) : std::nullopt;
  findings_ = now->checked.findings;
  left_ = now->checked.left;
  std::stable_partition(findings_.begin(), findings_.end(),
                        [&](const Finding& f) { return f.groove == groove; });
  chosen_.reset();
  if (kept) {
    for (std::size_t i = 0; i < findings_.size(); ++i) {
      const Finding& f = findings_[i];
      if (f.kind == kept->kind && f.groove == kept->groove && f.inGroove == kept->inGroove) {
        chosen_ = i;
        break;
      }
    }
  }
  page_ = chosen_ ? *chosen_ / kPage : 0;
  build();
  Q_EMIT chose();
}

void FoundCard::build() {
  title_->setText(findings_.empty() ? tr("Nothing found") : tr("Found %1").arg(findings_.size()));
  // A button may be what called us: the old list goes when its event is through.
  if (list_ != nullptr) {
    scroll_->takeWidget();
    list_->deleteLater();
  }
  rows_.clear();
  list_ = new QWidget;
  auto* rows = new QVBoxLayout(list_);
  rows->setContentsMargins(0, 0, 0, 0);
  rows->setSpacing(4);
  if (findings_.empty()) {
    auto* empty =
        quietLabel(tr("Two hands, two feet and the hats can play it as it is written."), list_);
    empty->setWordWrap(true);
    empty->setContentsMargins(8, 0, 8, 0);
    rows->addWidget(empty);
  }
  const std::size_t from = page_ * kPage, to = std::min(findings_.size(), from + kPage);
  for (std::size_t i = from; i < to; ++i) addFinding(*rows, i);
  const auto turn = [&](const QString& words, const char* name, std::size_t page) {
    auto* button = new ActionButton(words, ActionButton::Tone::kQuiet, list_);
    button->setObjectName(QLatin1String(name));
    button->setToolTip(tr("Another part of the list"));
    connect(button, &QPushButton::clicked, this, [this, page] {
      page_ = page;
      build();
    });
    rows->addWidget(button, 0, Qt::AlignLeft);
  };
  if (to < findings_.size())
    turn(tr("%1 more").arg(findings_.size() - to), "more-findings", page_ + 1);
  if (page_ > 0) turn(tr("those before"), "findings-before", page_ - 1);
  if (left_ > 0) rows->addWidget(quietLabel(tr("%1 left as they are").arg(left_), list_));
  rows->addStretch(1);
  scroll_->setWidget(list_);
}

void FoundCard::addFinding(QVBoxLayout& rows, std::size_t index) {
  const Finding& f = findings_[index];
  const Groove* groove = editing_.document().song().findGroove(f.groove);
  if (groove == nullptr) return;
  auto* row = new Row(
      f.severity, [this, index] { choose(index); }, list_);
  row->setObjectName(QStringLiteral("finding-%1").arg(index));
  auto* down = new QVBoxLayout(row);
  down->setContentsMargins(20, 3, 6, 5);
  down->setSpacing(2);
  const std::int64_t bar = f.inGroove.floorDiv(groove->meter.barLength());
  const QString count = qs(countName(f.at, groove->meter).text());
  QString place = groove->bars == 1 ? count : tr("bar %1, %2").arg(bar + 1).arg(count);
  if (f.groove != editing_.document().grooveId()) place = qs(groove->name) + tr(", ") + place;
  auto* title = strongLabel(tr("%1 on %2").arg(qs(findingTitle(f.kind)), place), 13, row);
  title->setWordWrap(true);
  title->setMinimumWidth(60);
  down->addWidget(title);
  auto* text =
      quietLabel(qs(f.text) + (f.times > 1 ? tr(", %1 times").arg(f.times) : QString()), row);
  text->setWordWrap(true);
  text->setMinimumWidth(60);
  down->addWidget(text);
  // Beside each other where they fit.
  auto* buttons = new QBoxLayout(QBoxLayout::LeftToRight);
  buttons->setSpacing(6);
  const auto button = [&](const QString& words, const char* name, const QString& tip,
                          std::function<void()> run) {
    auto* made = new ActionButton(words, ActionButton::Tone::kQuiet, row);
    made->setObjectName(QLatin1String(name) + QString::number(index));
    made->setToolTip(tip);
    made->setAccessibleName(words + QStringLiteral(": ") + title->text());
    connect(made, &QPushButton::clicked, this, std::move(run));
    buttons->addWidget(made, 0, Qt::AlignLeft);
  };
  constexpr std::array kNames{"mend-", "other-mend-", "another-mend-", "last-mend-"};
  for (std::size_t i = 0; i < std::min(f.mends.size(), kNames.size()); ++i) {
    button(qs(f.mends[i].text), kNames[i],
           i == 0 ? tr("Mend it so; Shift: all of this kind in the groove") : tr("Or mend it so"),
           [this, index, i] {
             const bool all = (QGuiApplication::keyboardModifiers() & Qt::ShiftModifier) != 0;
             if (i == 0 && all) return mendKind(index);
             mend(index, i);
           });
  }
  button(tr("leave it"), "leave-", tr("It is meant so: the song remembers"),
         [this, index] { leave(index); });
  if (buttons->sizeHint().width() > kRowWidth) buttons->setDirection(QBoxLayout::TopToBottom);
  buttons->addStretch(1);
  down->addLayout(buttons);
  row->setChosen(chosen_ == index);
  rows.addWidget(row);
  rows_.push_back(row);
}

void FoundCard::choose(std::optional<std::size_t> index) {
  if (index && *index >= findings_.size()) return;
  chosen_ = index;
  if (index) page_ = *index / kPage;
  build();
  if (index) {
    const Finding f = findings_[*index];
    // Where the row is, is known once it has been laid out.
    QTimer::singleShot(0, this, [this] {
      if (chosen_ && *chosen_ / kPage == page_ && *chosen_ % kPage < rows_.size())
        scroll_->ensureWidgetVisible(rows_[*chosen_ % kPage], 0, 20);
    });
    if (f.groove != editing_.document().grooveId())
      return editing_.document().chooseGroove(f.groove);
    editing_.moveCursor(f.inGroove, f.pieces.empty() ? editing_.cursorPiece() : f.pieces.front());
  }
  Q_EMIT chose();
}

void FoundCard::step(int by) {
  if (findings_.empty()) return;
  const auto count = static_cast<std::ptrdiff_t>(findings_.size());
  const std::ptrdiff_t at = chosen_  ? static_cast<std::ptrdiff_t>(*chosen_) + by
                            : by > 0 ? 0
                                     : count - 1;
  choose(static_cast<std::size_t>(std::clamp<std::ptrdiff_t>(at, 0, count - 1)));
}

void FoundCard::mend(std::size_t index, std::size_t way) {
  if (index >= findings_.size() || way >= findings_[index].mends.size() || !fresh()) return;
  const Mend mend = findings_[index].mends[way];
  editing_.document().apply(tr("Mended: %1").arg(qs(mend.text)),
                            withMend(editing_.document().song(), mend));
}

void FoundCard::mendKind(std::size_t index) {
  if (index >= findings_.size() || !fresh()) return;
  const Finding first = findings_[index];
  const Song& song = editing_.document().song();
  Song mended = song;
  for (const Finding& f : findings_) {
    if (f.kind == first.kind && f.groove == first.groove && !f.mends.empty() &&
        f.mends.front().ofGroove())
      mended = withMend(std::move(mended), f.mends.front());
  }
  editing_.document().apply(tr("Mended: every %1").arg(qs(findingTitle(first.kind)).toLower()),
                            std::move(mended));
}

void FoundCard::leave(std::size_t index) {
  if (index >= findings_.size() || !fresh()) return;
  const Finding f = findings_[index];
  editing_.document().apply(tr("Left as it is: %1").arg(qs(findingTitle(f.kind))),
                            withLeftAlone(editing_.document().song(), f, "meant"));
}

}  // namespace uneven
