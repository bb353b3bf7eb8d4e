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
constexpr int kIndent = 14;
constexpr int kGreyAfterMs = 150;
constexpr int kRowWidth = Card::kWidth - 20;  // of a finding's buttons

// A finding's place in the list: a click chooses it.
class Row : public QWidget {
 public:
  // `indent`: of a place under its cause.
  Row(Severity severity, int indent, std::function<void()> clicked, QWidget* parent)
      : QWidget(parent), severity_(severity), indent_(indent), clicked_(std::move(clicked)) {
    setCursor(Qt::PointingHandCursor);
    down_->setContentsMargins(20 + indent, 3, 6, 5);
    down_->setSpacing(2);
    buttons_->setSpacing(6);
  }
  void setChosen(bool chosen) {
    chosen_ = chosen;
    update();
  }
  void setWords(const QString& title, const QString& text) {
    title_ = title;
    down_->addWidget(wrapped(strongLabel(title, 13, this)));
    down_->addWidget(wrapped(quietLabel(text, this)));
  }
  void addButton(const QString& words, const QString& name, const QString& tip,
                 std::function<void()> run) {
    auto* made = new ActionButton(words, ActionButton::Tone::kQuiet, this);
    made->setObjectName(name);
    made->setToolTip(tip);
    made->setAccessibleName(words + QStringLiteral(": ") + title_);
    connect(made, &QPushButton::clicked, this, std::move(run));
    buttons_->addWidget(made, 0, Qt::AlignLeft);
  }
  // Beside each other where they fit.
  void layButtons() {
    if (buttons_->sizeHint().width() > kRowWidth) buttons_->setDirection(QBoxLayout::TopToBottom);
    buttons_->addStretch(1);
    down_->addLayout(buttons_);
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
    p.drawLine(QPointF(9 + indent_, 12), QPointF(9 + indent_, 20));
    p.drawEllipse(QPointF(9 + indent_, 9), 3.6, 3.6);
  }

 private:
  Severity severity_;
  int indent_;
  static QLabel* wrapped(QLabel* label) {
    label->setWordWrap(true);
    label->setMinimumWidth(60);
    return label;
  }

  std::function<void()> clicked_;
  QVBoxLayout* down_ = new QVBoxLayout(this);
  QBoxLayout* buttons_ = new QBoxLayout(QBoxLayout::LeftToRight);
  QString title_;
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
  connect(&editing_.document(), &Document::replaced, this, [this] { mended_.clear(); });
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
  left_ = now->checked.left;
  const int step = editing_.document().undoStack().index();
  std::erase_if(mended_, [step](const Done& d) { return d.step > step; });
  std::vector<Finding> found = now->checked.findings;
  std::stable_partition(found.begin(), found.end(),
                        [&](const Finding& f) { return f.groove == groove; });
  // What has one cause stands together.
  causes_ = byCause(found);
  findings_.clear();
  for (std::vector<std::size_t>& cause : causes_) {
    for (std::size_t& place : cause) {
      findings_.push_back(std::move(found[place]));
      place = findings_.size() - 1;
    }
  }
  open_.clear();
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
  page_ = 0;
  if (chosen_) showCauseOf(*chosen_);
  build();
  Q_EMIT chose();
}

void FoundCard::build() {
  title_->setText(findings_.empty() ? tr("Nothing found")
                  : causes_.size() < findings_.size()
                      ? tr("Found %1, in %2 places").arg(causes_.size()).arg(findings_.size())
                      : tr("Found %1").arg(findings_.size()));
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
  const std::size_t from = page_ * kPage, to = std::min(causes_.size(), from + kPage);
  for (std::size_t i = from; i < to; ++i) {
    if (causes_[i].size() > 1) addCause(*rows, i);
    if (causes_[i].size() > 1 && !open_.contains(i)) continue;
    for (const std::size_t place : causes_[i])
      addFinding(*rows, place, causes_[i].size() > 1 ? kIndent : 0);
  }
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
  if (to < causes_.size()) turn(tr("%1 more").arg(causes_.size() - to), "more-findings", page_ + 1);
  if (page_ > 0) turn(tr("those before"), "findings-before", page_ - 1);
  addDone(*rows);
  rows->addStretch(1);
  scroll_->setWidget(list_);
}

QString FoundCard::placeOf(const Finding& f) const {
  const Groove* groove = editing_.document().song().findGroove(f.groove);
  if (groove == nullptr) return {};
  const QString count = qs(countName(f.at, groove->meter).text());
  const std::int64_t bar = f.inGroove.floorDiv(groove->meter.barLength());
  const QString place = groove->bars == 1 ? count : tr("bar %1, %2").arg(bar + 1).arg(count);
  return f.groove == editing_.document().grooveId() ? place : qs(groove->name) + tr(", ") + place;
}

// Places that have one cause: what it is, and what can be done to all of them.
void FoundCard::addCause(QVBoxLayout& rows, std::size_t cause) {
  const std::vector<std::size_t>& places = causes_[cause];
  const Finding& first = findings_[places.front()];
  auto* row = new Row(
      first.severity, 0, [this, first = places.front()] { choose(first); }, list_);
  row->setObjectName(QStringLiteral("cause-%1").arg(cause));
  QStringList names;
  for (const PieceId piece : first.pieces)
    names << qs((*editing_.document().song().kit)[piece].name);
  QString of = names.join(tr(" and "));
  if (first.groove != editing_.document().grooveId()) {
    if (const Groove* groove = editing_.document().song().findGroove(first.groove))
      of = qs(groove->name) + tr(", ") + of;
  }
  const auto count = static_cast<int>(places.size());
  row->setWords(tr("%1: %2").arg(qs(findingTitle(first.kind)), of),
                tr("%1 places; on %2: %3").arg(count).arg(placeOf(first), qs(first.text)));
  const auto button = [&](const QString& words, const char* name, const QString& tip,
                          std::function<void()> run) {
    row->addButton(words, QLatin1String(name) + QString::number(cause), tip, std::move(run));
  };
  const bool open = open_.contains(cause);
  button(open ? tr("close") : tr("open"), "places-", tr("Each place by itself"),
         [this, cause, open] { openCause(cause, !open); });
  if (std::any_of(places.begin(), places.end(),
                  [&](std::size_t i) { return !findings_[i].mends.empty(); })) {
    button(tr("mend all"), "mend-cause-", tr("Each place as it is offered there"),
           [this, cause] { mendCause(cause); });
  }
  button(tr("leave all"), "leave-cause-", tr("They are meant so: the song remembers"),
         [this, cause] { leaveCause(cause); });
  row->layButtons();
  rows.addWidget(row);
}

void FoundCard::addFinding(QVBoxLayout& rows, std::size_t index, int indent) {
  const Finding& f = findings_[index];
  if (editing_.document().song().findGroove(f.groove) == nullptr) return;
  auto* row = new Row(
      f.severity, indent, [this, index] { choose(index); }, list_);
  row->setObjectName(QStringLiteral("finding-%1").arg(index));
  row->setWords(tr("%1 on %2").arg(qs(findingTitle(f.kind)), placeOf(f)),
                qs(f.text) + (f.times > 1 ? tr(", %1 times").arg(f.times) : QString()));
  const auto button = [&](const QString& words, const char* name, const QString& tip,
                          std::function<void()> run) {
    row->addButton(words, QLatin1String(name) + QString::number(index), tip, std::move(run));
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
  // A feel that lays a piece behind does it on purpose more often than not.
  const bool byFeel = !f.mends.empty() && f.mends.front().kind == MendKind::kDisplacement;
  button(byFeel ? tr("keep") : tr("leave it"), "leave-", tr("It is meant so: the song remembers"),
         [this, index] { leave(index); });
  row->layButtons();
  row->setChosen(chosen_ == index);
  rows.addWidget(row);
  rows_[index] = row;
}

// Of the page that is shown, and open.
void FoundCard::showCauseOf(std::size_t index) {
  for (std::size_t i = 0; i < causes_.size(); ++i) {
    if (std::find(causes_[i].begin(), causes_[i].end(), index) == causes_[i].end()) continue;
    open_.insert(i);
    page_ = i / kPage;
  }
}

void FoundCard::openCause(std::size_t cause, bool open) {
  if (open) {
    open_.insert(cause);
  } else {
    open_.erase(cause);
  }
  build();
}

// What is left, and what was mended here, at the end of the list.
void FoundCard::addDone(QVBoxLayout& rows) {
  if (left_.empty() && mended_.empty()) return;
  QStringList words;
  if (!left_.empty()) words << tr("%1 left as they are").arg(left_.size());
  if (!mended_.empty()) words << tr("%1 mended").arg(mended_.size());
  rows.addWidget(quietLabel(words.join(QStringLiteral(", ")), list_));
  auto* toggle = new ActionButton(showsDone_ ? tr("hide them") : tr("show them"),
                                  ActionButton::Tone::kQuiet, list_);
  toggle->setObjectName(QStringLiteral("show-done"));
  toggle->setToolTip(tr("What the song leaves as it is, and what was mended since it was opened"));
  connect(toggle, &QPushButton::clicked, this, [this] {
    showsDone_ = !showsDone_;
    build();
  });
  rows.addWidget(toggle, 0, Qt::AlignLeft);
  if (!showsDone_) return;
  const auto line = [&](const QString& text) {
    auto* label = quietLabel(text, list_);
    label->setWordWrap(true);
    label->setMinimumWidth(60);
    label->setContentsMargins(20, 4, 6, 0);
    rows.addWidget(label);
  };
  for (std::size_t i = 0; i < left_.size(); ++i) {
    const Finding& f = left_[i];
    line(tr("Left: %1 on %2: %3").arg(qs(findingTitle(f.kind)), placeOf(f), qs(f.text)));
    auto* again = new ActionButton(tr("look at it again"), ActionButton::Tone::kQuiet, list_);
    again->setObjectName(QStringLiteral("take-up-%1").arg(i));
    again->setToolTip(tr("It is a finding again"));
    connect(again, &QPushButton::clicked, this, [this, i] { takeUp(i); });
    auto* across = new QHBoxLayout;
    across->setContentsMargins(20, 0, 0, 0);
    across->addWidget(again, 0, Qt::AlignLeft);
    rows.addLayout(across);
  }
  for (const Done& done : mended_) line(done.what);
}

void FoundCard::done(const Finding& f, const QString& how) {
  mended_.insert(mended_.begin(),
                 {tr("Mended: %1 on %2: %3").arg(qs(findingTitle(f.kind)), placeOf(f), how),
                  editing_.document().undoStack().index()});
}

void FoundCard::choose(std::optional<std::size_t> index) {
  if (index && *index >= findings_.size()) return;
  chosen_ = index;
  if (index) showCauseOf(*index);
  build();
  if (index) {
    const Finding f = findings_[*index];
    // Where the row is, is known once it has been laid out.
    QTimer::singleShot(0, this, [this] {
      const auto row = chosen_ ? rows_.find(*chosen_) : rows_.end();
      if (row != rows_.end()) scroll_->ensureWidgetVisible(row->second, 0, 20);
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
  const Finding f = findings_[index];
  const QString how = qs(f.mends[way].text);
  editing_.document().apply(tr("Mended: %1").arg(how),
                            withMend(editing_.document().song(), f.mends[way]));
  done(f, how);
}

void FoundCard::mendKind(std::size_t index) {
  if (index >= findings_.size()) return;
  std::vector<std::size_t> all;
  for (std::size_t i = 0; i < findings_.size(); ++i) {
    if (findings_[i].kind == findings_[index].kind &&
        findings_[i].groove == findings_[index].groove)
      all.push_back(i);
  }
  mendAll(all);
}

void FoundCard::mendCause(std::size_t cause) {
  if (cause < causes_.size()) mendAll(causes_[cause]);
}

// In one step. What goes beyond the groove is for one finding at a time.
void FoundCard::mendAll(const std::vector<std::size_t>& which) {
  if (which.empty() || !fresh()) return;
  Song song = editing_.document().song();
  std::vector<Finding> mended;
  for (const std::size_t i : which) {
    const Finding& f = findings_[i];
    if (f.mends.empty() || !f.mends.front().ofGroove()) continue;
    song = withMend(std::move(song), f.mends.front());
    mended.push_back(f);
  }
  if (mended.empty()) return mend(which.front());
  editing_.document().apply(
      tr("Mended: every %1").arg(qs(findingTitle(mended.front().kind)).toLower()), std::move(song));
  for (const Finding& f : mended) done(f, qs(f.fix()));
}

void FoundCard::leave(std::size_t index) {
  if (index >= findings_.size() || !fresh()) return;
  const Finding f = findings_[index];
  editing_.document().apply(tr("Left as it is: %1").arg(qs(findingTitle(f.kind))),
                            withLeftAlone(editing_.document().song(), f, "meant"));
}

void FoundCard::leaveCause(std::size_t cause) {
  if (cause >= causes_.size() || !fresh()) return;
  Song song = editing_.document().song();
  for (const std::size_t place : causes_[cause])
    song = withLeftAlone(std::move(song), findings_[place], "meant");
  const Finding& first = findings_[causes_[cause].front()];
  editing_.document().apply(tr("Left as they are: %1").arg(qs(findingTitle(first.kind))),
                            std::move(song));
}

void FoundCard::takeUp(std::size_t left) {
  if (left >= left_.size() || !fresh()) return;
  const Finding f = left_[left];
  editing_.document().apply(tr("Looked at again: %1").arg(qs(findingTitle(f.kind))),
                            withTakenUp(editing_.document().song(), f));
}

}  // namespace uneven
