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

struct Key {
  QString keys;
  QString what;
};

std::vector<Key> allKeys() {
  const auto tr = [](const char* text) { return KeysWindow::tr(text); };
  return {
      {tr("arrows"), tr("move the cursor by a slot or a lane; Ctrl by a count, Shift selects")},
      {tr("Space, Enter"), tr("put a hit, or take it off")},
      {tr("Delete"), tr("take off what is chosen")},
      {tr("A, N, G"), tr("accent, normal, ghost")},
      {tr("O"), tr("open or shut the hat")},
      {tr("R, L"), tr("right or left hand or foot; again: automatic")},
      {tr("I"), tr("step entry: the lanes show a letter for each piece; a letter strikes and moves "
                   "on, Shift accent, Alt ghost, + joins, dot leaves a slot, Backspace goes back, "
                   "Escape ends")},
      {tr("1 … 9, 0"), tr("velocity 14 … 126, 127")},
      {tr("+ −"), tr("louder, softer")},
      {tr(", ."), tr("earlier, later by 1 ms; Shift by 10")},
      {tr("[ ]"), tr("grid coarser, finer; { } of the beat under the cursor alone")},
      {tr("T"), tr("tap the tempo")},
      {tr("Ctrl+1, 2, 4"), tr("bars shown at once; Page Up and Page Down move")},
      {tr("Ctrl+K"), tr("sticking line; the other tools are in the Tools menu (Alt+T)")},
      {tr("Ctrl+R"), tr("first bar over the rest")},
      {tr("Ctrl+PgUp, PgDown"), tr("previous, next groove")},
      {tr("Ctrl+Shift+N, Ctrl+D, F2"),
       tr("new groove, duplicate, rename; Ctrl+Shift+D a version to embellish")},
      {tr("Ctrl+G, Ctrl+J, Ctrl+L"), tr("card of grooves, card of the kit, lanes by limb")},
      {tr("Ctrl+C, X, V, A"), tr("copy, cut, paste at the cursor, select all")},
      {tr("Ctrl+Z, Ctrl+Shift+Z"), tr("undo, redo")},
      {tr("mouse"),
       tr("click puts, a second click takes off; drag up or down for velocity; Ctrl and "
          "drag sideways nudges; Alt and drag over a lane draws velocities; drag over an empty "
          "place selects; Esc gives up")},
      {tr("wheel"), tr("moves through the bars; Ctrl and wheel widens the lean")},
      {tr("in Open"),
       tr("left, right walk the strokes; up, down open; Shift and left or right moves the end; O "
          "opens or shuts; F a stroke of the foot; Delete shuts, or takes a drawn opening away; W "
          "walks through placements (1 2 3 mark, Enter keeps). Ctrl and drag draws an opening, Alt "
          "and drag sets the pump's lift")},
      {tr("in Lean"),
       tr("left, right walk the strokes, up, down the rows; , and . nudge; S held shows straight; "
          "drag a stick, a piece's name or a slot's point; Ctrl and wheel magnifies; Page Up and "
          "Page Down go through the bars")},
      {tr("Alt+1, 2, 3, 4"), tr("Strike, Open, Lean, Deliver")},
      {tr("Ctrl+E"), tr("write the MIDI file; Ctrl+I, Ctrl+Shift+E import, export a groove")}};
}

}  // namespace

KeysWindow::KeysWindow(QWidget* parent) : QDialog(parent) {
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
  for (const Key& key : allKeys()) {
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
