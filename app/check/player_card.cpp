// SPDX-License-Identifier: GPL-3.0-or-later
// The player's card.
#include "app/check/player_card.h"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QVBoxLayout>

#include "app/check/plan_view.h"
#include "app/controls/action_button.h"
#include "app/controls/card_scroll.h"
#include "app/controls/choice_field.h"
#include "app/controls/labels.h"
#include "app/controls/number_field.h"
#include "app/controls/prompts.h"
#include "core/arrange/edits.h"

namespace uneven {
namespace {

constexpr int kFieldWidth = 64, kNoteHeight = 60;
const char* const kAsBoth = "as-both";  // the leading hand has the limits of both
const char* const kOwnLimits = "own";   // read from a file

// A run is never easier than a shorter one, and nothing comfortable below what is playable: what is
// typed carries the others along.
void settle(RunLimits& r) {
  const auto pair = [](TimeLimit& l) { l.comfortable = std::max(l.comfortable, l.playable); };
  const auto after = [](const TimeLimit& a, TimeLimit& b) {
    b.comfortable = std::max(b.comfortable, a.comfortable);
    b.playable = std::max(b.playable, a.playable);
  };
  pair(r.second);
  after(r.second, r.run);
  pair(r.run);
  after(r.run, r.sustained);
  pair(r.sustained);
}

}  // namespace

PlayerCard::PlayerCard(Editing& editing, Checker& checker, Prompts& prompts, QWidget* parent)
    : Card(parent),
      editing_(editing),
      checker_(checker),
      prompts_(prompts),
      down_(scrollingColumn(*this)),
      player_(new ChoiceField(Qt::AlignRight, this)),
      technique_(new ChoiceField(Qt::AlignRight, this)),
      back_(new ActionButton(tr("back to before"), ActionButton::Tone::kQuiet, this)),
      plan_(new PlanView(this)),
      note_(quietLabel({}, this)),
      rows_(this, [this](const QString& why) { Q_EMIT said(why); }, {22, kFieldWidth, {}}) {
  setObjectName(QStringLiteral("player-card"));
  auto* top = new QGridLayout;
  top->setColumnStretch(1, 1);
  down_->addLayout(top);
  player_->setObjectName(QStringLiteral("player"));
  player_->setToolTip(tr("Whose hands and feet the part is held against; the song remembers"));
  top->addWidget(fieldLabel(tr("Player"), player_, this), 0, 0);
  top->addWidget(player_, 0, 1);
  connect(player_, &QComboBox::activated, this,
          [this] { use(player_->currentData().toString().toStdString()); });
  auto* buttons = new QHBoxLayout;
  auto* make = new ActionButton(tr("one of my own"), ActionButton::Tone::kQuiet, this);
  make->setObjectName(QStringLiteral("own-player"));
  make->setToolTip(tr("A new player that begins as this one, to be changed below"));
  connect(make, &QPushButton::clicked, this, &PlayerCard::makeOwn);
  auto* open = new ActionButton(tr("from a file"), ActionButton::Tone::kQuiet, this);
  open->setObjectName(QStringLiteral("bring-player"));
  open->setToolTip(tr("Reads a player's .json file and keeps a copy"));
  connect(open, &QPushButton::clicked, this, &PlayerCard::bring);
  buttons->addWidget(make);
  buttons->addWidget(open);
  buttons->addStretch(1);
  down_->addLayout(buttons);
  note_->setObjectName(QStringLiteral("player-note"));
  note_->setWordWrap(true);
  note_->setMinimumWidth(60);
  note_->setFixedHeight(kNoteHeight);  // of the longest text, so that nothing below moves
  note_->setAlignment(Qt::AlignTop);
  down_->addWidget(note_);

  down_->addWidget(strongLabel(tr("Where things stand"), 13, this));
  down_->addWidget(plan_);
  connect(plan_, &PlanView::moved, this, [this](const QString& piece, PlanPlace to) {
    change([&](Profile& p) { p.plan[piece.toStdString()] = to; });
  });

  down_->addWidget(strongLabel(tr("School"), 13, this));
  auto* school = new QGridLayout;
  school->setVerticalSpacing(1);
  school->setColumnStretch(0, 1);
  down_->addLayout(school);
  addSchool(school, tr("hand to hand"), "hand-to-hand", tr("by the slot"), tr("in turn"),
            tr("By the slot: the leading hand on numbers and &s, also after rests.\nIn turn: "
               "strictly one after the other, whatever the rests."),
            &Profile::bySlot);
  addSchool(
      school, tr("cymbal and snare"), "cymbal", tr("lead hand"), tr("by side"),
      tr("Struck together: the leading hand takes the cymbal, or each hand what stands on its "
         "side"),
      &Profile::leadTakesCymbal);
  addSchool(school, tr("four-stroke ruff"), "ruff", tr("in turn"), tr("bounce"),
            tr("Its three graces in turn, or a bounce and a single"), &Profile::ruffInTurn);
  addNumber(
      school, tr("one hand up to"), QStringLiteral("one-hand-up-to"), QStringLiteral("%"), 0, 100,
      0,
      tr("How far one hand keeps time between its comfortable (0 %) and its playable tempo (100 "
         "%); "
         "beyond, two take turns"),
      [](const Profile& p) { return 100 * p.oneHandUpTo; },
      [](Profile& p, double v) { p.oneHandUpTo = v / 100; });
  down_->addWidget(strongLabel(tr("The leading hand"), 13, this));
  technique_->setObjectName(QStringLiteral("technique"));
  technique_->setToolTip(tr("How the leading hand makes its strokes; its limits follow"));
  technique_->addItem(tr("as both hands below"), QLatin1String(kAsBoth));
  for (const Technique& t : techniques()) technique_->addItem(qs(t.name), qs(t.id));
  down_->addWidget(technique_);
  connect(technique_, &QComboBox::activated, this, [this] {
    const std::string id = technique_->currentData().toString().toStdString();
    change([&](Profile& p) {
      if (id == kAsBoth) p.leadHand.reset();
      for (const Technique& t : techniques()) {
        if (t.id == id) p.leadHand = t.limits;
      }
    });
  });
  addLimits(tr("A hand"), "hand", &Profile::hand);
  addLimits(tr("A foot on the kick"), "foot", &Profile::foot);
  addLimits(tr("The foot on the hats"), "hat-foot", &Profile::hatFoot);
  down_->addWidget(strongLabel(tr("Besides"), 13, this));
  auto* grid = new QGridLayout;
  grid->setVerticalSpacing(1);
  grid->setColumnStretch(0, 1);
  down_->addLayout(grid);
  const auto times = QStringLiteral("\u00d7");
  addNumber(
      grid, tr("weak hand"), QStringLiteral("weak-hand"), times, kWeakMin, kWeakMax, 2,
      tr("Its times are so many times as long"), [](const Profile& p) { return p.weakHand; },
      [](Profile& p, double v) { p.weakHand = v; });
  addNumber(
      grid, tr("weak foot"), QStringLiteral("weak-foot"), times, kWeakMin, kWeakMax, 2,
      tr("Its times are so many times as long"), [](const Profile& p) { return p.weakFoot; },
      [](Profile& p, double v) { p.weakFoot = v; });
  const auto way = [&](const QString& name, const char* object, Milliseconds Profile::*field,
                       const QString& tip) {
    addNumber(
        grid, name, QLatin1String(object), QStringLiteral("ms"), 0, kLimitMaxMs, 0, tip,
        [field](const Profile& p) { return (p.*field).count(); },
        [field](Profile& p, double v) { p.*field = Milliseconds(v); });
  };
  way(tr("to a neighbour"), "way-neighbour", &Profile::neighbour,
      tr("Added from one piece to the next, in ms"));
  way(tr("across the kit"), "way-across", &Profile::across, tr("Added for a longer way, in ms"));
  way(tr("crossed"), "way-crossed", &Profile::crossed,
      tr("Added over or under the other hand, in ms"));
  back_->setObjectName(QStringLiteral("player-back"));
  back_->setToolTip(tr("The player as it was when it was chosen"));
  connect(back_, &QPushButton::clicked, this, &PlayerCard::backToChosen);
  down_->addWidget(back_, 0, Qt::AlignLeft);
  down_->addStretch(1);
  connect(&checker_.players(), &Players::changed, this, [this] {
    if (isVisible()) read();
  });
  connect(&editing_.document(), &Document::changed, this, [this] {
    if (isVisible()) read();
  });
}

void PlayerCard::addLimits(const QString& heading, const char* name, RunLimits Profile::*limits) {
  down_->addWidget(strongLabel(heading, 13, this));
  auto* grid = new QGridLayout;
  grid->setVerticalSpacing(1);
  grid->setColumnStretch(0, 1);
  down_->addLayout(grid);
  grid->addWidget(quietLabel(tr("easy"), this), 0, 1, Qt::AlignRight);
  grid->addWidget(quietLabel(tr("most"), this), 0, 2, Qt::AlignRight);
  const auto row = [&](int at, const QString& words, const char* what, TimeLimit RunLimits::*of) {
    addLimit(grid, at, words, QStringLiteral("%1-%2").arg(QLatin1String(name), QLatin1String(what)),
             heading + QStringLiteral(", ") + words,
             [limits, of](Profile& p) -> TimeLimit& { return p.*limits.*of; });
  };
  row(1, tr("2nd of a run"), "second", &RunLimits::second);
  row(2, tr("3rd to 7th"), "run", &RunLimits::run);
  row(3, tr("from the 8th"), "sustained", &RunLimits::sustained);
}

void PlayerCard::addLimit(QGridLayout* grid, int row, const QString& name,
                          const QString& objectName, const QString& what,
                          std::function<TimeLimit&(Profile&)> of) {
  grid->addWidget(quietLabel(name, this), row, 0);
  for (const bool comfortable : {true, false}) {
    auto* field =
        new NumberField(QStringLiteral("ms"), {kLimitMinMs, kLimitMaxMs, 5, 0, false}, this);
    field->setObjectName(objectName +
                         (comfortable ? QStringLiteral("-easy") : QStringLiteral("-most")));
    field->setAccessibleName(what + (comfortable ? tr(", comfortable") : tr(", playable")));
    field->setToolTip(comfortable
                          ? tr("The shortest time to the stroke before that is comfortable, in ms")
                          : tr("The shortest time to the stroke before that can be played, in ms"));
    field->setMinimumHeight(22);
    field->setFixedWidth(kFieldWidth);
    grid->addWidget(field, row, comfortable ? 1 : 2);
    rows_.bind(
        field,
        [this, of, comfortable] {
          Profile copy = checker_.profile();
          const TimeLimit& limit = of(copy);
          return (comfortable ? limit.comfortable : limit.playable).count();
        },
        [this, of, comfortable](double v, bool) {
          change([&](Profile& p) {
            TimeLimit& limit = of(p);
            (comfortable ? limit.comfortable : limit.playable) = Milliseconds(v);
            if (comfortable) limit.playable = std::min(limit.playable, limit.comfortable);
            for (RunLimits* r : {&p.hand, &p.foot, &p.hatFoot}) settle(*r);
          });
        });
  }
}

void PlayerCard::addSchool(QGridLayout* grid, const QString& name, const char* objectName,
                           const QString& first, const QString& second, const QString& tip,
                           bool Profile::*member) {
  rows_.choice(
      grid, {name, QLatin1String(objectName), tip},
      [first, second](ChoiceField& field) {
        field.addItem(first, true);
        field.addItem(second, false);
      },
      [this, member] { return checker_.profile().*member; },
      [this, member](const QVariant& isFirst) {
        change([&](Profile& p) { p.*member = isFirst.toBool(); });
      });
}

void PlayerCard::addNumber(QGridLayout* grid, const QString& name, const QString& objectName,
                           const QString& unit, double min, double max, int decimals,
                           const QString& tip, std::function<double(const Profile&)> get,
                           std::function<void(Profile&, double)> set) {
  rows_.number(
      grid, {name, objectName, tip}, unit, {min, max, decimals > 0 ? 0.05 : 5.0, decimals, false},
      [this, get = std::move(get)] { return get(checker_.profile()); },
      [this, set = std::move(set)](double v, bool) { change([&](Profile& p) { set(p, v); }); });
}

bool PlayerCard::own() const {
  return checker_.profile().id != Profile{}.id;
}

void PlayerCard::change(const std::function<void(Profile&)>& edit) {
  Profile profile = checker_.profile();
  const Profile was = profile;
  edit(profile);
  if (profile == was || !own()) return read();
  if (!before_ || before_->id != profile.id) before_ = was;
  if (const Status kept = checker_.players().keep(std::move(profile)); !kept)
    Q_EMIT failed(qs(kept.error().line()));
}

void PlayerCard::use(const std::string& id) {
  before_.reset();
  Document& document = editing_.document();
  document.apply(tr("Player: %1").arg(player_->currentText()),
                 withPlayer(document.song(), id == Profile{}.id ? std::string() : id));
  read();
}

void PlayerCard::makeOwn() {
  const QString name = prompts_.line(this, tr("A player of your own"), tr("My hands"));
  if (name.trimmed().isEmpty()) return;
  Profile profile = checker_.profile();
  profile.id = checker_.players().idFor(name);
  profile.name = name.trimmed().toStdString();
  const std::string id = profile.id;
  if (const Status kept = checker_.players().keep(std::move(profile)); !kept)
    Q_EMIT failed(qs(kept.error().line()));
  read();
  player_->setCurrentIndex(player_->findData(qs(id)));
  use(id);
}

void PlayerCard::bring() {
  const QString file =
      prompts_.fileToOpen(this, tr("A player's file"), {}, tr("Players (*.json);;All files (*)"));
  if (file.isEmpty()) return;
  const Result<Profile> profile = checker_.players().bring(file.toStdString());
  if (!profile) return Q_EMIT failed(qs(profile.error().line()));
  read();
  player_->setCurrentIndex(player_->findData(qs(profile->id)));
  use(profile->id);
}

void PlayerCard::backToChosen() {
  if (!before_) return;
  const Profile back = *before_;
  before_.reset();
  if (const Status kept = checker_.players().keep(back); !kept)
    Q_EMIT failed(qs(kept.error().line()));
}

void PlayerCard::showEvent(QShowEvent* event) {
  read();
  Card::showEvent(event);
}

void PlayerCard::read() {
  const std::vector<Profile>& all = checker_.players().all();
  const Profile& now = checker_.profile();
  player_->clear();
  for (const Profile& p : all) player_->addItem(qs(p.name), qs(p.id));
  player_->setCurrentIndex(player_->findData(qs(now.id)));
  rows_.read();
  rows_.setEnabled(own());
  const int strange = technique_->findData(QLatin1String(kOwnLimits));
  if (strange >= 0) technique_->removeItem(strange);
  if (!now.leadHand) {
    technique_->setCurrentIndex(0);
  } else if (const Technique* t = techniqueOf(*now.leadHand)) {
    technique_->setCurrentIndex(technique_->findData(qs(t->id)));
  } else {
    technique_->addItem(tr("limits of its own"), QLatin1String(kOwnLimits));
    technique_->setCurrentIndex(technique_->count() - 1);
  }
  technique_->setEnabled(own());
  back_->setEnabled(before_ && before_->id == now.id);
  plan_->setEditable(own());
  const Song& song = editing_.document().song();
  std::set<PieceId> struck;
  for (const Hit& hit : editing_.groove().hits) struck.insert(hit.piece);
  plan_->show(now, *song.kit, struck);
  const std::string& wanted = song.check.profile;
  QString text = own() ? tr("Every figure is this player's; the file is kept as you change it.")
                       : tr("From memory and common practice: nobody was measured. Make a player "
                            "of your own to change it.");
  if (!wanted.empty() && checker_.players().find(wanted) == nullptr && wanted != now.id) {
    text = tr("The song's player \"%1\" is not known on this machine; %2 stands in.")
               .arg(qs(wanted), qs(now.name));
  }
  const QStringList& unread = checker_.players().unread();
  if (!unread.isEmpty()) text = tr("Not read: %1").arg(unread.front());
  note_->setText(text);
  note_->setToolTip(plainText(unread.join(QLatin1Char('\n'))));
}

}  // namespace uneven
