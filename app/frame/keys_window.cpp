// SPDX-License-Identifier: GPL-3.0-or-later
// The keys.
#include "app/frame/keys_window.h"

#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QRegularExpression>
#include <QScrollArea>
#include <QVBoxLayout>

#include "app/controls/action_button.h"
#include "app/controls/labels.h"
#include "app/controls/theme.h"

namespace uneven {
namespace {

struct Heading {
  QString name;
  std::vector<KeyHelp> keys;
};

// What the stage takes that one is in, then the others, then the actions that have a key, by menu.
std::vector<Heading> allKeys(const ActionTable& actions, const std::vector<StageEntry>& stages,
                             std::size_t shown) {
  std::vector<Heading> out;
  const auto under = [&out](QString name) -> std::vector<KeyHelp>& {
    name.remove(QLatin1Char('&'));
    for (Heading& heading : out) {
      if (heading.name == name) return heading.keys;
    }
    out.push_back({name, {}});
    return out.back().keys;
  };
  for (const KeyHelp& key : stages[shown].keys) under(stages[shown].title).push_back(key);
  for (const StageEntry& stage : stages) {
    if (&stage == &stages[shown]) continue;
    for (const KeyHelp& key : stage.keys) under(stage.title).push_back(key);
  }
  for (const ActionEntry& entry : actions.all()) {
    if (!entry.keyText().isEmpty())
      under(KeysWindow::tr("%1 menu").arg(entry.menu))
          .push_back({entry.keyText(), entry.plainText()});
  }
  return out;
}

}  // namespace

KeysWindow::KeysWindow(const ActionTable& actions, const std::vector<StageEntry>& stages,
                       std::size_t shown, QWidget* parent)
    : QDialog(parent) {
  setObjectName(QStringLiteral("keys"));
  setWindowTitle(tr("Keys"));
  auto* down = new QVBoxLayout(this);
  down->setContentsMargins(24, 18, 24, 18);
  down->setSpacing(12);
  auto* field = new QLineEdit(this);
  field->setObjectName(QStringLiteral("keys-search"));
  field->setPlaceholderText(tr("Type what you look for: ghost, Ctrl+D, wheel"));
  field->setClearButtonEnabled(false);
  field->setMinimumHeight(30);
  down->addWidget(field);
  auto* room = new QScrollArea(this);
  room->setWidgetResizable(true);
  room->setFrameShape(QFrame::NoFrame);
  room->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  auto* sheet = new QWidget(room);
  auto* grid = new QGridLayout(sheet);
  grid->setContentsMargins(0, 0, 12, 0);
  grid->setHorizontalSpacing(18);
  grid->setVerticalSpacing(8);
  grid->setColumnStretch(1, 1);
  int line = 0;
  for (const Heading& heading : allKeys(actions, stages, shown)) {
    auto* name = strongLabel(heading.name, 16, sheet);
    name->setContentsMargins(0, line == 0 ? 0 : 12, 0, 2);
    grid->addWidget(name, line++, 0, 1, 2);
    for (const KeyHelp& key : heading.keys) {
      auto* keys = strongLabel(key.keys, 13, sheet);
      keys->setWordWrap(true);
      keys->setFixedWidth(170);
      auto* what = new QLabel(key.what, sheet);
      what->setWordWrap(true);
      grid->addWidget(keys, line, 0, Qt::AlignTop);
      grid->addWidget(what, line++, 1, Qt::AlignTop);
      rows_.push_back({keys, what, name});
    }
  }
  none_ = quietLabel(tr("No key says that"), sheet);
  grid->addWidget(none_, line, 1);
  none_->hide();
  grid->setRowStretch(line + 1, 1);
  room->setWidget(sheet);
  down->addWidget(room, 1);
  auto* close = new ActionButton(tr("Close"), ActionButton::Tone::kQuiet, this);
  close->setToolTip(tr("Esc"));
  down->addWidget(close, 0, Qt::AlignRight);
  connect(close, &QPushButton::clicked, this, &QDialog::accept);
  connect(field, &QLineEdit::textChanged, this, &KeysWindow::search);
  resize(640, 600);
  field->setFocus();
}

void KeysWindow::search(const QString& text) {
  // At the beginning of a word: who looks for the hat does not want what.
  const QRegularExpression wanted(
      QStringLiteral("(^|[^\\w])") + QRegularExpression::escape(text.trimmed()),
      QRegularExpression::CaseInsensitiveOption | QRegularExpression::UseUnicodePropertiesOption);
  bool any = false;
  for (const Row& row : rows_) row.heading->hide();
  for (const Row& row : rows_) {
    const bool shown = wanted.match(row.keys->text()).hasMatch() ||
                       wanted.match(row.what->text()).hasMatch() ||
                       wanted.match(row.heading->text()).hasMatch();
    row.keys->setVisible(shown);
    row.what->setVisible(shown);
    if (shown) row.heading->show();
    any = any || shown;
  }
  none_->setVisible(!any);
}

}  // namespace uneven
