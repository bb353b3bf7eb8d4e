// SPDX-License-Identifier: GPL-3.0-or-later
// The card of the kit.
#include "app/strike/kit_panel.h"

#include <QGridLayout>
#include <QScrollArea>
#include <QVBoxLayout>

#include "app/controls/action_button.h"
#include "app/controls/choice_field.h"
#include "app/controls/flat_edit.h"
#include "app/controls/labels.h"
#include "app/strike/kit_list.h"

namespace uneven {

KitPanel::KitPanel(Editing& editing, QWidget* parent) : Card(parent), editing_(editing) {
  setObjectName(QStringLiteral("kit-panel"));
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(12, 12, 12, 12);
  layout->setSpacing(8);
  layout->addLayout(setupRows());
  auto* scroll = new QScrollArea(this);
  list_ = new KitList(editing, scroll);
  list_->setAccessibleName(tr("Pieces"));
  scroll->setFocusPolicy(Qt::NoFocus);
  QPalette card = list_->palette();
  card.setColor(QPalette::Window, theme::kCard);
  list_->setPalette(card);
  list_->setAutoFillBackground(true);
  scroll->setPalette(card);
  scroll->setFrameShape(QFrame::NoFrame);
  scroll->setWidgetResizable(true);
  scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  scroll->setWidget(list_);
  setFocusProxy(list_);
  layout->addWidget(scroll, 1);
  layout->addLayout(pieceRows());
  auto* buttons = new QHBoxLayout;
  auto* add = new ActionButton(tr("Add a piece"), ActionButton::Tone::kQuiet, this);
  add->setObjectName(QStringLiteral("kit-add"));
  add->setToolTip(tr("A further piece: a second crash, a rim, a bell"));
  remove_ = new ActionButton(tr("Remove"), ActionButton::Tone::kQuiet, this);
  remove_->setObjectName(QStringLiteral("kit-remove"));
  remove_->setToolTip(
      tr("Pieces that you added and that no groove or section plays can be removed"));
  buttons->addWidget(add, 1);
  buttons->addWidget(remove_);
  layout->addLayout(buttons);
  connect(add, &QPushButton::clicked, this, &KitPanel::addPiece);
  connect(remove_, &QPushButton::clicked, this, &KitPanel::removePiece);
  connect(list_, &KitList::chosenChanged, this, &KitPanel::read);
  connect(list_, &KitList::currentShown, scroll, [scroll](const QRect& row) {
    scroll->ensureVisible(row.center().x(), row.center().y(), 0, row.height());
  });
  read();
}

ChoiceField* KitPanel::addChoice(QGridLayout* grid, const QString& name, const char* objectName,
                                 const QStringList& words, const QString& tip) {
  auto* field = new ChoiceField(Qt::AlignRight, this);
  field->setObjectName(QString::fromLatin1(objectName));
  field->addItems(words);
  field->setToolTip(tip);
  field->setMinimumHeight(23);
  const int row = grid->rowCount();
  grid->addWidget(fieldLabel(name, field, this), row, 0);
  grid->addWidget(field, row, 1);
  return field;
}

QGridLayout* KitPanel::setupRows() {
  auto* grid = new QGridLayout;
  grid->setColumnStretch(1, 1);
  grid->setVerticalSpacing(1);
  handed_ = addChoice(grid, tr("Kit"), "kit-handed", {tr("Right-handed"), tr("Left-handed")},
                      tr("A left-handed kit is mirrored, and every usual limb with it"));
  lead_ = addChoice(grid, tr("Leads"), "kit-lead", {tr("Right hand"), tr("Left hand")},
                    tr("The hand that leads hand-to-hand figures"));
  hats_ = addChoice(grid, tr("Hats"), "kit-hats", {tr("Crossed"), tr("Open-handed")},
                    tr("Open-handed: the hats with the hand on their side, the snare with the "
                       "other"));
  pedal_ = addChoice(grid, tr("Kick pedal"), "kit-pedal", {tr("Single"), tr("Double")},
                     tr("With a double pedal, kicks closer than an eighth take the feet in turn"));
  connect(handed_, &QComboBox::activated, this, [this](int i) {
    changeSetup(handed_->currentText(),
                [i](Setup& s) { s.kit = i == 0 ? Side::kRight : Side::kLeft; });
  });
  connect(lead_, &QComboBox::activated, this, [this](int i) {
    changeSetup(tr("%1 leads").arg(lead_->currentText()),
                [i](Setup& s) { s.lead = i == 0 ? Side::kRight : Side::kLeft; });
  });
  connect(hats_, &QComboBox::activated, this, [this](int i) {
    changeSetup(hats_->currentText(), [i](Setup& s) { s.openHanded = i == 1; });
  });
  connect(pedal_, &QComboBox::activated, this, [this](int i) {
    changeSetup(tr("%1 pedal").arg(pedal_->currentText()),
                [i](Setup& s) { s.doublePedal = i == 1; });
  });
  return grid;
}

QGridLayout* KitPanel::pieceRows() {
  auto* grid = new QGridLayout;
  grid->setColumnStretch(1, 1);
  grid->setVerticalSpacing(1);
  name_ = new FlatEdit(this);
  name_->setObjectName(QStringLiteral("kit-name"));
  name_->setAlignment(Qt::AlignRight);
  name_->setToolTip(tr("What the piece is called"));
  grid->addWidget(fieldLabel(tr("Name"), name_, this), 0, 0);
  grid->addWidget(name_, 0, 1);
  limb_ = addChoice(grid, tr("Played by"), "kit-limb", {},
                    tr("The usual limb of a right-handed player who crosses; the setup above "
                       "mirrors it"));
  fillWith<Limb>(*limb_);
  like_ = addChoice(grid, tr("Sounds like"), "kit-like", {tr("itself")},
                    tr("Which piece's note is played where a kit map has none for this one"));
  for (const Piece& piece : houseKit().pieces) {
    like_->addItem(QString::fromStdString(piece.name), QString::fromStdString(piece.id));
  }
  auto* strokes = new QGridLayout;
  strokes->setVerticalSpacing(0);
  int at = 0;
  for (const Named<StrokeKind>& n : namesOf<StrokeKind>()) {
    auto* box = new QCheckBox(qs(n.spoken), this);
    box->setObjectName(QStringLiteral("kit-stroke-") + qs(n.text));
    box->setFont(theme::font(12));
    box->setToolTip(tr("Whether the piece can be struck so; the card offers what is ticked"));
    strokes->addWidget(box, at / 2, at % 2);
    strokes_[n.value] = box;
    ++at;
    connect(box, &QCheckBox::clicked, this, [this, kind = n.value](bool on) {
      changePiece(tr("Strokes"), [&](Piece& piece) {
        if (on) piece.strokes.push_back(kind);
        // A piece can be struck somehow.
        if (!on && piece.strokes.size() > 1) std::erase(piece.strokes, kind);
        std::sort(piece.strokes.begin(), piece.strokes.end());
      });
      read();
    });
  }
  grid->addLayout(strokes, grid->rowCount(), 0, 1, 2);
  connect(name_, &QLineEdit::editingFinished, this, [this] {
    const std::string name = name_->text().trimmed().toStdString();
    if (name.empty()) return read();
    changePiece(tr("Piece named %1").arg(name_->text().trimmed()),
                [&](Piece& piece) { piece.name = name; });
  });
  connect(limb_, &QComboBox::activated, this, [this] {
    changePiece(tr("Played by %1").arg(limb_->currentText().toLower()),
                [this](Piece& piece) { piece.usual = chosen(*limb_, piece.usual); });
  });
  connect(like_, &QComboBox::activated, this, [this] {
    changePiece(tr("Sounds like %1").arg(like_->currentText()), [this](Piece& piece) {
      piece.like = like_->currentData().toString().toStdString();
    });
  });
  return grid;
}

void KitPanel::changeSetup(const QString& step, const std::function<void(Setup&)>& change) {
  Kit kit = *editing_.document().song().kit;
  change(kit.setup);
  if (kit != *editing_.document().song().kit) editing_.kit().setKit(step, std::move(kit));
}

void KitPanel::changePiece(const QString& step, const std::function<void(Piece&)>& change) {
  Kit kit = *editing_.document().song().kit;
  change(kit.pieces[list_->chosen().value]);
  if (kit != *editing_.document().song().kit) editing_.kit().setKit(step, std::move(kit));
}

void KitPanel::addPiece() {
  Kit kit = *editing_.document().song().kit;
  if (kit.pieces.size() >= kPiecesMax) {
    return Q_EMIT refused(tr("A kit holds at most %1 pieces").arg(kPiecesMax));
  }
  Piece piece;
  int number = 1;
  do piece.id = "own-" + std::to_string(number++);
  while (kit.find(piece.id));
  piece.name = "New piece";
  piece.like = "crash";
  const auto id = static_cast<std::uint8_t>(kit.pieces.size());
  const int row = list_->row() + 1;
  kit.order.insert(kit.order.begin() + row, PieceId{id});
  kit.pieces.push_back(std::move(piece));
  editing_.kit().setKit(tr("A piece added"), std::move(kit));
  list_->chooseRow(row);
  name_->setFocus();
  name_->selectAll();
}

void KitPanel::removePiece() {
  auto without = withoutPiece(editing_.document().song(), list_->chosen());
  if (!without) {
    return Q_EMIT refused(
        tr("Only a piece that you added and that no groove or section plays can be removed"));
  }
  editing_.document().apply(tr("A piece removed"), *std::move(without));
}

void KitPanel::read() {
  const Kit& kit = *editing_.document().song().kit;
  handed_->setCurrentIndex(kit.setup.kit == Side::kRight ? 0 : 1);
  lead_->setCurrentIndex(kit.setup.lead == Side::kRight ? 0 : 1);
  hats_->setCurrentIndex(kit.setup.openHanded ? 1 : 0);
  pedal_->setCurrentIndex(kit.setup.doublePedal ? 1 : 0);
  const PieceId id = list_->chosen();
  const Piece& piece = kit[id];
  if (!name_->hasFocus() || !name_->isModified())
    name_->setText(QString::fromStdString(piece.name));
  choose(*limb_, piece.usual);
  like_->setCurrentIndex(std::max(0, like_->findData(QString::fromStdString(piece.like))));
  like_->setEnabled(id.value >= houseKit().pieces.size());
  for (const auto& [kind, box] : strokes_) {
    box->setChecked(std::find(piece.strokes.begin(), piece.strokes.end(), kind) !=
                    piece.strokes.end());
  }
  remove_->setEnabled(id.value >= houseKit().pieces.size());
}

}  // namespace uneven
