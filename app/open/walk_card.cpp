// SPDX-License-Identifier: GPL-3.0-or-later
// The placement walk.
#include "app/open/walk_card.h"

#include <QGridLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QVBoxLayout>

#include "app/controls/action_button.h"
#include "app/controls/choice_field.h"
#include "app/controls/field_rows.h"
#include "app/controls/labels.h"
#include "core/song/names.h"
#include "core/song/slots.h"

namespace uneven {

WalkCard::WalkCard(Editing& editing, QWidget* parent)
    : Card(parent),
      editing_(editing),
      from_(new BeatField({}, this)),
      to_(new BeatField({}, this)),
      open_(new NumberField(QStringLiteral("%"), {5, 100, 5, 0, false}, this)),
      place_(strongLabel({}, 16, this)),
      count_(quietLabel({}, this)),
      mark_(strongLabel({}, 13, this)),
      note_(new FlatEdit(this)),
      tally_(quietLabel({}, this)) {
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(tr("Placement walk"));
  note_->setAccessibleName(tr("Note about this placement"));
  auto* down = new QVBoxLayout(this);
  down->setContentsMargins(16, 14, 14, 12);
  down->setSpacing(6);
  auto* help = quietLabel(tr("Every place the hats can open in a span: one slot, two slots, pairs. "
                             "Left and Right step, 1 good, 2 awkward, 3 not for me, Enter keeps, "
                             "Escape ends."),
                          this);
  help->setWordWrap(true);
  down->addWidget(help);
  auto* grid = new QGridLayout;
  grid->setColumnStretch(1, 1);
  grid->setVerticalSpacing(2);
  FieldRows rows(this, [this](const QString& why) { Q_EMIT refused(why); }, {23, 0, {}});
  note_->setAlignment(Qt::AlignRight);
  rows.add(grid, {tr("From"), "walk-from", tr("Start of the span, quarter notes from the start")},
           from_);
  rows.add(grid, {tr("To"), "walk-to", tr("End of the span, not included")}, to_);
  rows.add(grid, {tr("Opens to"), "walk-open", tr("How far, 5 to 100 %")}, open_);
  down->addLayout(grid);
  down->addSpacing(10);
  down->addWidget(count_);
  place_->setWordWrap(true);
  down->addWidget(place_);
  down->addWidget(mark_);
  note_->setPlaceholderText(tr("a note"));
  note_->setObjectName(QStringLiteral("walk-note"));
  note_->setToolTip(tr("A word about this placement, kept with the song"));
  down->addWidget(note_);
  auto* marks = new QHBoxLayout;
  for (const Named<WalkMark>& n : namesOf<WalkMark>()) {
    auto* button = new ActionButton(qs(n.spoken), ActionButton::Tone::kQuiet, this);
    button->setToolTip(tr("Key %1").arg(static_cast<int>(n.value) + 1));
    button->setFont(theme::font(12, theme::Weight::kSemiBold));
    marks->addWidget(button, 1);
    connect(button, &QPushButton::clicked, this, [this, value = n.value] { mark(value); });
  }
  down->addLayout(marks);
  auto* steps = new QHBoxLayout;
  auto* back = new ActionButton(tr("‹"), ActionButton::Tone::kQuiet, this);
  auto* next = new ActionButton(tr("›"), ActionButton::Tone::kQuiet, this);
  auto* keepIt = new ActionButton(tr("Keep it"), ActionButton::Tone::kMain, this);
  keepIt->setToolTip(tr("Enter"));
  steps->addWidget(back);
  steps->addWidget(next);
  steps->addWidget(keepIt, 1);
  down->addLayout(steps);
  down->addStretch(1);
  tally_->setWordWrap(true);
  down->addWidget(tally_);
  open_->setValue(60);
  from_->setValue(Beat(0));
  to_->setValue(Beat(2));
  connect(back, &QPushButton::clicked, this, [this] { step(-1); });
  connect(next, &QPushButton::clicked, this, [this] { step(1); });
  connect(keepIt, &QPushButton::clicked, this, &WalkCard::keep);
  for (BeatField* field : {from_, to_}) {
    connect(field, &BeatField::edited, this, [this] {
      if (walking_) restart();
    });
  }
  connect(open_, &NumberField::edited, this, [this](double value, bool) {
    open_->setValue(value);
    if (!walking_) return;
    make();
    show();
  });
  connect(note_, &QLineEdit::editingFinished, this, [this] {
    const std::optional<Variant> now = current();
    const WalkNote* known = now ? verdictOf(editing_.groove(), now->key) : nullptr;
    if (note_->isModified()) mark(known == nullptr ? WalkMark::kGood : known->mark);
  });
  connect(&editing_.document(), &Document::changed, this, [this] {
    if (!walking_) return;
    make();
    show();
  });
}

std::optional<Variant> WalkCard::current() const {
  if (!walking_ || !walk_ || at_ >= walk_->count) return std::nullopt;
  return walk_->at(at_);
}

bool WalkCard::readSpan() {
  const Beat length = editing_.groove().length();
  const Beat from = from_->value().value_or(Beat(0));
  const Beat to = to_->value().value_or(Beat(0));
  const bool good = from < to && to <= length;
  from_->setWrong(!good);
  to_->setWrong(!good);
  if (!good) {
    Q_EMIT refused(tr("The walk needs a span inside the groove: 0 to %1 quarter notes")
                       .arg(QString::fromStdString(length.toString())));
    return false;
  }
  // All pairs of a long span would be walked by nobody.
  if (to - from > Beat(8)) {
    Q_EMIT refused(tr("A walk goes through at most 8 quarter notes"));
    return false;
  }
  first_ = from;
  end_ = to;
  return true;
}

void WalkCard::begin() {
  const Selection& selection = editing_.selection();
  if (selection.size() > 1) {
    from_->setValue(selection.begin()->at);
    to_->setValue(slotAfter(editing_.groove(), selection.rbegin()->at));
  }
  walking_ = true;
  const Beat length = editing_.groove().length();
  from_->setRange({Beat(0), length, false});
  to_->setRange({Beat(0), length});
  restart();
}

void WalkCard::restart() {
  at_ = 0;
  isGood_ = readSpan();
  make();
  show();
}

void WalkCard::make() {
  walk_.reset();
  if (!isGood_) return;
  const Document& document = editing_.document();
  const double open = open_->value().value_or(60) / 100;
  Result<Walk> made = makeWalk("openings", document.song(), document.grooveId(),
                               {{"from", first_.toString()},
                                {"to", end_.toString()},
                                {"open", QString::number(open).toStdString()}},
                               {});
  if (!made) return Q_EMIT refused(qs(made.error().message));
  walk_ = *std::move(made);
}

void WalkCard::step(int by) {
  if (!walk_ || walk_->count == 0) return;
  const auto last = static_cast<std::int64_t>(walk_->count) - 1;
  at_ = static_cast<std::uint64_t>(
      std::clamp<std::int64_t>(static_cast<std::int64_t>(at_) + by, 0, last));
  show();
}

void WalkCard::mark(WalkMark mark) {
  const std::optional<Variant> now = current();
  if (!now) return;
  const std::string note = note_->text().trimmed().toStdString();
  note_->setModified(false);
  editing_.grooves().replaceGroove(tr("Placement marked: %1").arg(qs(spokenName(mark)).toLower()),
                                   withVerdict(editing_.groove(), now->key, mark, note));
}

void WalkCard::keep() {
  std::optional<Variant> now = current();
  if (!now) return;
  walking_ = false;
  Q_EMIT previewed(std::nullopt);
  editing_.grooves().replaceGroove(tr("Placement kept"), std::move(now->groove));
  Q_EMIT ended();
}

void WalkCard::key(int key) {
  switch (key) {
    case Qt::Key_W:
      return begin();
    case Qt::Key_Right:
      return step(1);
    case Qt::Key_Left:
      return step(-1);
    case Qt::Key_1:
      return mark(WalkMark::kGood);
    case Qt::Key_2:
      return mark(WalkMark::kAwkward);
    case Qt::Key_3:
      return mark(WalkMark::kNotForMe);
    case Qt::Key_Return:
    case Qt::Key_Enter:
      return keep();
    case Qt::Key_Escape:
      walking_ = false;
      Q_EMIT previewed(std::nullopt);
      return Q_EMIT ended();
    default:
      break;
  }
}

void WalkCard::keyPressEvent(QKeyEvent* event) {
  // Enter in a field takes what was typed, no more; the next key is the walk's again.
  if (qobject_cast<QLineEdit*>(focusWidget()) != nullptr) return setFocus();
  if (event->key() == Qt::Key_Space) return event->ignore();
  key(event->key());
}

void WalkCard::hideEvent(QHideEvent* /*event*/) {
  walking_ = false;
  Q_EMIT previewed(std::nullopt);
}

void WalkCard::show() {
  std::optional<Variant> now = current();
  if (!now) {
    place_->setText(tr("No walk yet: press W"));
    count_->clear();
    mark_->clear();
    Q_EMIT previewed(std::nullopt);
    return;
  }
  QString name = qs(now->name);
  if (!name.isEmpty()) name[0] = name[0].toUpper();
  place_->setText(name);
  count_->setText(tr("%1 of %2").arg(at_ + 1).arg(walk_->count));
  const WalkNote* note = verdictOf(editing_.groove(), now->key);
  mark_->setText(note == nullptr ? tr("Not marked yet") : qs(spokenName(note->mark)));
  if (!note_->hasFocus())
    note_->setText(note == nullptr ? QString() : QString::fromStdString(note->note));
  std::map<WalkMark, int> marks;
  for (const WalkNote& n : editing_.groove().walk) ++marks[n.mark];
  tally_->setText(tr("Marked so far: %1 good, %2 awkward, %3 not for me")
                      .arg(marks[WalkMark::kGood])
                      .arg(marks[WalkMark::kAwkward])
                      .arg(marks[WalkMark::kNotForMe]));
  Q_EMIT previewed(std::move(now->groove));
}

}  // namespace uneven
