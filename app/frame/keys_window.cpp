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

// What the views take, stage by stage, then the actions that have a key.
std::vector<KeyHelp> allKeys(const ActionTable& actions, const std::vector<StageEntry>& stages) {
  std::vector<KeyHelp> out;
  const auto named = [](const QString& where, const QString& what) {
    return KeysWindow::tr("%1: %2").arg(QString(where).remove(QLatin1Char('&')), what);
  };
  for (const StageEntry& stage : stages) {
    for (const KeyHelp& key : stage.keys) out.push_back({key.keys, named(stage.title, key.what)});
  }
  for (const ActionEntry& entry : actions.all()) {
    if (entry.keyText().isEmpty()) continue;
    out.push_back({entry.keyText(), named(entry.menu, entry.plainText())});
  }
  return out;
}

}  // namespace

KeysWindow::KeysWindow(const ActionTable& actions, const std::vector<StageEntry>& stages,
                       QWidget* parent)
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
  for (const KeyHelp& key : allKeys(actions, stages)) {
    const int row = static_cast<int>(rows_.size());
    auto* keys = strongLabel(key.keys, 13, sheet);
    keys->setWordWrap(true);
    keys->setFixedWidth(170);
    auto* what = new QLabel(key.what, sheet);
    what->setWordWrap(true);
    grid->addWidget(keys, row, 0, Qt::AlignTop);
    grid->addWidget(what, row, 1, Qt::AlignTop);
    rows_.push_back({keys, what});
  }
  none_ = quietLabel(tr("No key says that"), sheet);
  grid->addWidget(none_, static_cast<int>(rows_.size()), 1);
  none_->hide();
  grid->setRowStretch(static_cast<int>(rows_.size()) + 1, 1);
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
  for (const Row& row : rows_) {
    const bool shown =
        wanted.match(row.keys->text()).hasMatch() || wanted.match(row.what->text()).hasMatch();
    row.keys->setVisible(shown);
    row.what->setVisible(shown);
    any = any || shown;
  }
  none_->setVisible(!any);
}

}  // namespace uneven
