// SPDX-License-Identifier: GPL-3.0-or-later
// The chosen variant.
#include "app/vary/variant_card.h"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QVBoxLayout>

#include "app/controls/action_button.h"
#include "app/controls/flat_edit.h"
#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "app/vary/wall_view.h"

namespace uneven {
namespace {

constexpr int kVaryRestMs = 200;
constexpr int kNamePixels = 15, kNameHeight = 32;
constexpr int kHeight = 348, kArrangeHeight = 38;

// Kinds and places of what is found in a groove; a longer one goes round in its core.
std::set<std::pair<std::string, Beat>> foundIn(const Song& song, const std::string& groove,
                                               Beat core, const Profile& profile, const KitMap& map,
                                               const std::stop_token& stop) {
  std::set<std::pair<std::string, Beat>> out;
  const Result<SharedTake> take = Take::ofGroove(song, groove);
  if (!take) return out;
  for (const Finding& f : check(**take, profile, map, stop).findings)
    out.emplace(findingTitle(f.kind), f.inGroove - Beat(f.inGroove.floorDiv(core)) * core);
  return out;
}

QString titles(const std::set<std::pair<std::string, Beat>>& of,
               const std::set<std::pair<std::string, Beat>>& without) {
  std::map<std::string, int> counts;
  for (const auto& f : of) {
    if (!without.contains(f)) ++counts[f.first];
  }
  QStringList out;
  for (const auto& [title, count] : counts)
    out << (count == 1 ? qs(title) : QStringLiteral("%1 ×%2").arg(qs(title)).arg(count));
  return out.mid(0, 2).join(QStringLiteral(", ")) +
         (out.size() > 2 ? QStringLiteral(" …") : QString());
}

}  // namespace

VariantCard::VariantCard(Editing& editing, Walker& walker, Checker& checker, WallView& wall,
                         QWidget* parent)
    : Card(parent), editing_(editing), walker_(walker), checker_(checker), wall_(wall) {
  setObjectName(QStringLiteral("variant-card"));
  setFixedHeight(kHeight);
  auto* down = new QVBoxLayout(this);
  down->setContentsMargins(16, 10, 14, 10);
  down->setSpacing(5);
  name_ = strongLabel({}, kNamePixels, this);
  name_->setObjectName(QStringLiteral("variant-name"));
  name_->setWordWrap(true);
  name_->setFixedHeight(kNameHeight);
  down->addWidget(name_);
  auto* grid = new QGridLayout;
  grid->setColumnStretch(1, 1);
  grid->setVerticalSpacing(2);
  const auto row = [&](const QString& name, const char* object, const QString& tip) {
    auto* value = strongLabel({}, 13, this);
    value->setObjectName(QLatin1String(object));
    value->setAlignment(Qt::AlignRight);
    value->setToolTip(tip);
    const int at = grid->rowCount();
    grid->setRowMinimumHeight(at, 19);
    grid->addWidget(quietLabel(name, this), at, 0);
    grid->addWidget(value, at, 1);
    return value;
  };
  changed_ = row(tr("Changed"), "variant-changed", tr("Hits, by place and piece"));
  syncopation_ = row(tr("Syncopation"), "variant-syncopation",
                     tr("Of the walk's voice (Longuet-Higgins and Lee), and what the groove has"));
  tempo_ =
      row(tr("Playable to"), "variant-tempo", tr("BPM by the player's limits; comfortable to"));
  down->addLayout(grid);
  limit_ = quietLabel({}, this);
  limit_->setWordWrap(true);
  limit_->setMinimumHeight(16);
  down->addWidget(limit_);
  findings_ = quietLabel({}, this);
  findings_->setObjectName(QStringLiteral("variant-findings"));
  findings_->setWordWrap(true);
  findings_->setMinimumHeight(2 * 16);
  findings_->setAlignment(Qt::AlignLeft | Qt::AlignTop);
  down->addWidget(findings_);
  auto* verdicts = new QHBoxLayout;
  verdicts->setSpacing(4);
  const QString words[] = {tr("Good"), tr("Awkward"), tr("Not for me")};
  for (int i = 0; i < 3; ++i) {
    marks_[i] = new ActionButton(words[i], ActionButton::Tone::kQuiet, this);
    marks_[i]->setObjectName(QStringLiteral("verdict-%1").arg(i + 1));
    marks_[i]->setToolTip(tr("Key %1; 0 takes it back. It stays with the song").arg(i + 1));
    connect(marks_[i], &QPushButton::clicked, this, [this, i] { Q_EMIT verdictWanted(i + 1); });
    verdicts->addWidget(marks_[i]);
  }
  down->addLayout(verdicts);
  note_ = new FlatEdit(this);
  note_->setObjectName(QStringLiteral("variant-note"));
  note_->setPlaceholderText(tr("A note on it"));
  note_->setToolTip(tr("Kept with the verdict: Enter"));
  note_->setAccessibleName(tr("Note"));
  down->addWidget(note_);
  const auto button = [&](const QString& text, ActionButton::Tone tone, const char* object,
                          const QString& tip) {
    auto* made = new ActionButton(text, tone, this);
    made->setObjectName(QLatin1String(object));
    made->setToolTip(tip);
    return made;
  };
  keep_ = button(tr("Keep as a version"), ActionButton::Tone::kMain, "keep-variant",
                 tr("A groove of the song, linked to this one as its core: Enter"));
  auto* keeping = new QHBoxLayout;
  keeping->setSpacing(4);
  gather_ = button(tr("For the song"), ActionButton::Tone::kQuiet, "gather-variant",
                   tr("Gathers this variant for the end of the arrangement, or no longer: X"));
  keeping->addWidget(keep_, 1);
  keeping->addWidget(gather_);
  down->addLayout(keeping);
  connect(gather_, &QPushButton::clicked, this, [this] { wall_.gather(wall_.current()); });
  arrange_ =
      button({}, ActionButton::Tone::kQuiet, "arrange-variants",
             tr("All that were gathered (X) become versions, and sections at the end of the song"));
  down->addWidget(arrange_);
  auto* steps = new QHBoxLayout;
  steps->setSpacing(4);
  before_ = button(tr("‹ before"), ActionButton::Tone::kQuiet, "variant-before", tr("Left"));
  core_ = button(tr("core"), ActionButton::Tone::kQuiet, "variant-core",
                 tr("Hears the groove itself, or the variant again: C"));
  next_ = button(tr("next ›"), ActionButton::Tone::kQuiet, "variant-next", tr("Right"));
  for (ActionButton* b : {before_, core_, next_}) steps->addWidget(b);
  down->addLayout(steps);
  auto* foot = new QHBoxLayout;
  tally_ = quietLabel({}, this);
  tally_->setObjectName(QStringLiteral("variant-tally"));
  number_ = quietLabel({}, this);
  number_->setObjectName(QStringLiteral("variant-number"));
  foot->addWidget(tally_, 1);
  foot->addWidget(number_);
  down->addLayout(foot);
  connect(keep_, &QPushButton::clicked, this, &VariantCard::keepWanted);
  connect(arrange_, &QPushButton::clicked, this, &VariantCard::arrangeWanted);
  connect(core_, &QPushButton::clicked, this, &VariantCard::coreWanted);
  connect(before_, &QPushButton::clicked, this, [this] {
    if (wall_.current() > 0) wall_.choose(wall_.current() - 1);
  });
  connect(next_, &QPushButton::clicked, this, [this] { wall_.choose(wall_.current() + 1); });
  connect(note_, &QLineEdit::returnPressed, this, [this] { Q_EMIT noted(note_->text()); });
  connect(&wall_, &WallView::chosen, this, &VariantCard::read);
  connect(&walker_, &Walker::judgedMore, this, &VariantCard::read);
  rest_.setSingleShot(true);
  rest_.setInterval(kVaryRestMs);
  connect(&rest_, &QTimer::timeout, this, &VariantCard::lookAtFindings);
  read();
}

void VariantCard::read() {
  const bool any = walker_.count() > 0;
  for (QWidget* w : std::initializer_list<QWidget*>{marks_[0], marks_[1], marks_[2], note_, keep_,
                                                    gather_, core_, before_, next_})
    w->setEnabled(any);
  const std::size_t gathered = wall_.gathered().size();
  gather_->setText(any && wall_.gathered().contains(wall_.current()) ? tr("Not for the song")
                                                                     : tr("For the song"));
  arrange_->setText(gathered == 1 ? tr("Put it into the arrangement")
                                  : tr("Put these %1 into the arrangement").arg(gathered));
  arrange_->setVisible(gathered > 0);
  setFixedHeight(gathered > 0 ? kHeight + kArrangeHeight : kHeight);
  std::map<WalkMark, int> tally;
  for (const WalkNote& n : editing_.groove().walk) ++tally[n.mark];
  tally_->setText(editing_.groove().walk.empty() ? tr("Verdicts stay with the song.")
                                                 : tr("%1 good, %2 awkward, %3 not for me")
                                                       .arg(tally[WalkMark::kGood])
                                                       .arg(tally[WalkMark::kAwkward])
                                                       .arg(tally[WalkMark::kNotForMe]));
  if (!any) {
    name_->setText(tr("No variant"));
    for (QLabel* label : {number_, changed_, syncopation_, tempo_, limit_, findings_})
      label->clear();
    return;
  }
  const std::uint64_t index = wall_.current();
  const Variant& v = walker_.variant(index);
  // Large on one line, else smaller on two.
  const int room = contentsRect().width() - layout()->contentsMargins().left() -
                   layout()->contentsMargins().right();
  QFont nameFont = theme::font(kNamePixels, theme::Weight::kSemiBold);
  const QString name = qs(v.name);
  if (QFontMetrics(nameFont).horizontalAdvance(name) > room)
    nameFont = theme::font(kNamePixels - 3, theme::Weight::kSemiBold);
  name_->setFont(nameFont);
  name_->setText(QFontMetrics(nameFont).elidedText(name, Qt::ElideRight, 2 * room - 40));
  name_->setToolTip(plainText(qs(v.name)));
  number_->setText(tr("%1 of %2").arg(index + 1).arg(walker_.count()));
  const WalkNote* note = walker_.verdict(index);
  if (!note_->hasFocus()) note_->setText(note == nullptr ? QString() : qs(note->note));
  for (int i = 0; i < 3; ++i) {
    QFont font = marks_[i]->font();
    font.setUnderline(note != nullptr && static_cast<int>(note->mark) == i);
    marks_[i]->setFont(font);
  }
  const Judged* judged = walker_.judged(index);
  if (judged == nullptr) {
    for (QLabel* label : {changed_, syncopation_, tempo_}) label->setText(tr("…"));
    limit_->clear();
  } else {
    QStringList parts;
    const Measures& m = judged->measures;
    // Short where there is much to say.
    const bool much = m.changed > 0 && m.added > 0 && m.removed > 0;
    if (m.changed > 0) parts << (much ? tr("%1 other") : tr("%1 changed")).arg(m.changed);
    if (m.added > 0) parts << (much ? tr("+%1") : tr("%1 added")).arg(m.added);
    if (m.removed > 0) parts << (much ? tr("\u2212%1") : tr("%1 gone")).arg(m.removed);
    changed_->setText(parts.isEmpty() ? tr("nothing") : parts.join(QStringLiteral(", ")));
    syncopation_->setText(
        tr("%1, was %2").arg(m.syncopation).arg(walker_.core().measures.syncopation));
    const VariantCeiling& c = judged->ceiling;
    tempo_->setText(
        c.playable > 0
            ? tr("%1, easily %2 BPM").arg(c.playable, 0, 'f', 0).arg(c.comfortable, 0, 'f', 0)
            : tr("no tempo"));
    limit_->setText(qs(c.limit));
  }
  if (v.key != lookedAt_ && !looking_.busy()) {
    findings_->setText(tr("…"));
    rest_.start();
  }
}

void VariantCard::lookAtFindings() {
  if (walker_.count() == 0 || looking_.busy() || !isVisible()) return;
  const Variant& v = walker_.variant(wall_.current());
  lookedAt_ = v.key;
  const Document& document = editing_.document();
  looking_.ask(
      [song = document.song(), groove = v.groove, profile = checker_.profile(),
       map = document.kitMaps().orDefault(document.song().map)](const AsideWork& work) {
        const Beat core = song.findGroove(groove.id)->length();
        const auto before = foundIn(song, groove.id, core, profile, map, work.stop);
        const auto after =
            foundIn(withGroove(song, groove), groove.id, core, profile, map, work.stop);
        const QString come = titles(after, before), gone = titles(before, after);
        QStringList out;
        if (!come.isEmpty()) out << VariantCard::tr("New in Check: %1").arg(come);
        if (!gone.isEmpty()) out << VariantCard::tr("Gone: %1").arg(gone);
        return out.isEmpty() ? VariantCard::tr("Check finds nothing new")
                             : out.join(QStringLiteral(". "));
      },
      [this](const QString& found) {
        findings_->setText(found);
        if (walker_.count() > 0 && walker_.variant(wall_.current()).key != lookedAt_) rest_.start();
      });
}

}  // namespace uneven
