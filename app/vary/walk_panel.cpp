// SPDX-License-Identifier: GPL-3.0-or-later
// Choosing a walk.
#include "app/vary/walk_panel.h"

#include <QLabel>
#include <QScrollArea>
#include <QScrollBar>
#include <QVBoxLayout>

#include "app/controls/airy_table.h"
#include "app/controls/choice_field.h"
#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "app/edit/argument_form.h"

namespace uneven {
namespace {

WalkPanel::Tab tabOf(const std::string& kind) {
  if (kind == "regrid") return WalkPanel::Tab::kGrid;
  if (kind == "against") return WalkPanel::Tab::kAgainst;
  if (kind == "free") return WalkPanel::Tab::kFree;
  return WalkPanel::Tab::kWalk;
}

}  // namespace

WalkPanel::WalkPanel(Editing& editing, QWidget* parent)
    : Card(parent),
      editing_(editing),
      choice_(new ChoiceField(Qt::AlignLeft, this)),
      help_(quietLabel({}, this)),
      scroll_(new QScrollArea(this)) {
  setObjectName(QStringLiteral("walk-panel"));
  auto* down = new QVBoxLayout(this);
  down->setContentsMargins(16, 10, 10, 8);
  down->setSpacing(4);
  choice_->setObjectName(QStringLiteral("walk-choice"));
  choice_->setAccessibleName(tr("Walk"));
  choice_->setTextPixels(15);
  choice_->setToolTip(tr("What the program walks through"));
  std::string group;
  for (const WalkKind& kind : walks()) {
    if (tabOf(kind.name) != Tab::kWalk) continue;
    if (kind.group != group) choice_->addHeading(qs(kind.group));
    group = kind.group;
    choice_->addItem(qs(kind.title), qs(kind.name));
  }
  down->addWidget(choice_);
  help_->setWordWrap(true);
  down->addWidget(help_);
  scroll_->setFrameShape(QFrame::NoFrame);
  scroll_->setFocusPolicy(Qt::NoFocus);
  scroll_->setWidgetResizable(true);
  scroll_->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Ignored);
  scroll_->setMinimumHeight(80);
  scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  makeAiry(*scroll_->verticalScrollBar());
  down->addWidget(scroll_, 1);
  connect(choice_, &QComboBox::activated, this,
          [this] { setKind(choice_->currentData().toString().toStdString()); });
  setKind("placement");
}

void WalkPanel::showTab(Tab tab) {
  constexpr const char* kKinds[] = {"", "regrid", "against", "free"};
  setKind(tab == Tab::kWalk ? walked_ : kKinds[static_cast<int>(tab)]);
}

void WalkPanel::setKind(const std::string& kind) {
  if (findWalk(kind) == nullptr) return;
  if (kind == kind_) return Q_EMIT tabShown(static_cast<int>(tabOf(kind)));
  if (form_ != nullptr) typed_[kind_] = form_->arguments();
  kind_ = kind;
  if (tabOf(kind) == Tab::kWalk) walked_ = kind;
  build();
  Q_EMIT tabShown(static_cast<int>(tabOf(kind)));
  Q_EMIT changed();
}

void WalkPanel::build() {
  const WalkKind& kind = *findWalk(kind_);
  choice_->setVisible(tabOf(kind_) == Tab::kWalk);
  choice_->setCurrentIndex(choice_->findData(qs(kind_)));
  help_->setText(qs(kind.help));
  form_ =
      new ArgumentForm(kind.parameters, *editing_.document().song().kit, QStringLiteral("walk-"));
  if (const auto typed = typed_.find(kind_); typed != typed_.end()) {
    for (const auto& [name, value] : typed->second) form_->set(name, qs(value));
  } else {
    // New strokes leave the backbeat alone unless they are told otherwise.
    form_->set("keep", QStringLiteral("backbeat"));
    if (kind_ == "backbeat" || kind_ == "against" || kind_ == "openings")
      form_->set("keep", QStringLiteral("none"));
  }
  if (kind_ == "regrid" && !typed_.contains(kind_)) {
    // From what it is written on: straight into triplets, triplets into sixteenths.
    const Grid grid = editing_.groove().grid;
    form_->set("from_grid", qs(grid.toString()));
    form_->set("to_grid", grid.tuplet == 0 ? QStringLiteral("1/8T") : QStringLiteral("1/16"));
  }
  form_->speakCounts([this] {
    return ArgumentForm::Bars{editing_.groove().meter, editing_.groove().grid};
  });
  connect(form_, &ArgumentForm::changed, this, &WalkPanel::changed);
  scroll_->setWidget(form_);  // deletes the fields of the walk before
}

Arguments WalkPanel::arguments() const {
  return form_->arguments();
}

}  // namespace uneven
