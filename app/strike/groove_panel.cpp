// SPDX-License-Identifier: GPL-3.0-or-later
// The card of grooves.
#include "app/strike/groove_panel.h"

#include <QGridLayout>
#include <QScrollArea>
#include <QVBoxLayout>

#include "app/controls/action_button.h"
#include "app/controls/theme.h"
#include "app/strike/groove_list.h"

namespace uneven {

GroovePanel::GroovePanel(Editing& editing, QWidget* parent)
    : Card(parent), editing_(editing), scroll_(new QScrollArea(this)) {
  setObjectName(QStringLiteral("groove-panel"));
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(12, 12, 12, 12);
  layout->setSpacing(8);
  list_ = new GrooveList(editing, scroll_);
  QPalette card = list_->palette();
  card.setColor(QPalette::Window, theme::kCard);
  list_->setPalette(card);
  list_->setAutoFillBackground(true);
  scroll_->setPalette(card);
  scroll_->setFrameShape(QFrame::NoFrame);
  scroll_->setFocusPolicy(Qt::NoFocus);
  list_->setAccessibleName(tr("Grooves"));
  scroll_->setWidgetResizable(true);
  scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  scroll_->setWidget(list_);
  setFocusProxy(list_);
  layout->addWidget(scroll_, 1);
  auto* grid = new QGridLayout;
  grid->setSpacing(6);
  const auto add = [&](int row, int column, const QString& text, const QString& tip,
                       void (GrooveEdits::*what)()) {
    auto* button = new ActionButton(text, ActionButton::Tone::kQuiet, this);
    button->setToolTip(tip);
    grid->addWidget(button, row, column);
    connect(button, &QPushButton::clicked, &editing_,
            [this, what] { (editing_.grooves().*what)(); });
    return button;
  };
  add(0, 0, tr("New"), tr("An empty groove like this one: Ctrl+Shift+N"), &GrooveEdits::newGroove);
  add(0, 1, tr("Duplicate"), tr("A copy of this groove: Ctrl+D"), &GrooveEdits::duplicateGroove);
  add(1, 0, tr("Embellish"),
      tr("A copy that stays linked to this groove, its core: what you add is shown, and you can go "
         "back: Ctrl+Shift+D"),
      &GrooveEdits::embellishGroove)
      ->setObjectName(QStringLiteral("embellish"));
  back_ = add(1, 1, tr("Back to core"),
              tr("The core's hits in place of this version's own, in one step"),
              &GrooveEdits::backToCore);
  back_->setObjectName(QStringLiteral("back-to-core"));
  layout->addLayout(grid);
  connect(list_, &GrooveList::currentShown, this, [this](const QRect& row) {
    scroll_->ensureVisible(row.center().x(), row.center().y(), 0, row.height());
  });
  connect(&editing_.document(), &Document::changed, this, &GroovePanel::read);
  read();
}

void GroovePanel::read() {
  back_->setEnabled(editing_.grooves().core() != nullptr);
}

}  // namespace uneven
