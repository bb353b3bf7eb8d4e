// SPDX-License-Identifier: GPL-3.0-or-later
// The feel panel.
#include "app/strike/feel_panel.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QVBoxLayout>
#include <set>

#include "app/controls/choice_field.h"
#include "app/controls/labels.h"
#include "app/controls/number_field.h"
#include "app/controls/theme.h"
#include "app/edit/swing_reader.h"
#include "core/measure/pivot.h"
#include "core/perform/swing.h"
#include "core/song/edit.h"

namespace uneven {
namespace {

// A field under its name.
QWidget* named(const QString& name, QWidget* field, QWidget* parent) {
  auto* block = new QWidget(parent);
  auto* layout = new QVBoxLayout(block);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(0);
  layout->addWidget(fieldLabel(name, field, block));
  layout->addWidget(field, 0, Qt::AlignLeft);
  return block;
}

}  // namespace

FeelPanel::FeelPanel(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), layout_(new QHBoxLayout(this)) {
  layout_->setContentsMargins(20, 8, 20, 2);
  layout_->setSpacing(18);
  setFixedHeight(54);
  buildSwing();
  layout_->addStretch(1);
  connect(&document_, &Document::changed, this, &FeelPanel::read);
  read();
}

void FeelPanel::buildSwing() {
  name_ = strongLabel({}, 13, this);
  name_->setMinimumWidth(104);
  layout_->addWidget(named(tr("Feel"), name_, this));
  ratio_ = new NumberField(QStringLiteral(": 1"), {kRatioMin, kRatioMax, 0.05, 2, false}, this);
  ratio_->setObjectName(QStringLiteral("feel-ratio"));
  ratio_->setAlignment(Qt::AlignLeft);
  ratio_->setFixedWidth(70);
  ratio_->setToolTip(tr("Swing ratio, long to short, 1 to 9; also 62 %, 5:3, 120 ms or triplet"));
  ratio_->setReader(swingReader(document_));
  layout_->addWidget(named(tr("Ratio"), ratio_, this));
  unit_ = new ChoiceField(Qt::AlignLeft, this);
  unit_->setObjectName(QStringLiteral("feel-unit"));
  unit_->setToolTip(tr("Which notes swing in pairs"));
  fillWith<SwingUnit>(*unit_);
  layout_->addWidget(named(tr("Swings"), unit_, this));
  written_ = new ChoiceField(Qt::AlignLeft, this);
  written_->setObjectName(QStringLiteral("feel-written"));
  written_->setToolTip(
      tr("Where the second note of a pair is written: halfway, or on the last triplet "
         "partial. Triplets written as triplets are not swung twice"));
  fillWith<Written>(*written_);
  layout_->addWidget(named(tr("Written"), written_, this));
  connect(ratio_, &NumberField::edited, this, [this](double ratio, bool stepped) {
    static const int key = Document::newMergeKey();
    change(tr("Swing ratio %1").arg(ratio),
           [&](Feel& f) {
             f.swing.ratio = ratio;
             f.swing.linked = false;
           },
           {stepped ? key : 0, true});
  });
  connect(ratio_, &NumberField::refused, this, &FeelPanel::refused);
  connect(unit_, &QComboBox::activated, this, [this] {
    change(tr("Swing in %1").arg(unit_->currentText().toLower()),
           [&](Feel& f) { f.swing.unit = chosen(*unit_, f.swing.unit); });
  });
  connect(written_, &QComboBox::activated, this, [this] {
    change(tr("Written %1").arg(written_->currentText().toLower()), [&](Feel& f) {
      f.swing = writtenAs(document_.groove(), f.swing, chosen(*written_, f.swing.written));
    });
  });
}

void FeelPanel::change(const QString& step, const std::function<void(Feel&)>& edit, Merge merge) {
  document_.apply(
      step, withFeelChanged(document_.song(), document_.grooveId(), edit, document_.at()), merge);
}

void FeelPanel::buildDisplacement() {
  std::set<PieceId> struck;
  for (const Hit& hit : document_.groove().hits) struck.insert(hit.piece);
  for (const auto& [piece, shift] : document_.feel().displacement) struck.insert(piece);
  if (pieces_ != nullptr && displacement_.size() == struck.size() &&
      std::equal(struck.begin(), struck.end(), displacement_.begin(),
                 [](PieceId a, const auto& b) { return a == b.first; })) {
    return;
  }
  if (pieces_ != nullptr) {
    // A field of it may be what called us: it goes when its event is through.
    for (const auto& [piece, field] : displacement_) field->setObjectName({});
    pieces_->hide();
    layout()->removeWidget(pieces_);
    pieces_->deleteLater();
  }
  displacement_.clear();
  pieces_ = new QWidget(this);
  auto* row = new QHBoxLayout(pieces_);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(14);
  for (const PieceId piece : struck) {
    const Piece& named0 = (*document_.song().kit)[piece];
    auto* field = new NumberField(QStringLiteral("ms"),
                                  {-kShiftMax.count(), kShiftMax.count(), 1, 1, true}, pieces_);
    field->setObjectName(QStringLiteral("displace-") + QString::fromStdString(named0.id));
    field->setAlignment(Qt::AlignLeft);
    field->setFixedWidth(68);
    const QString name = QString::fromStdString(named0.name);
    field->setToolTip(
        tr("How far the %1 lies behind (+) or ahead (−) of the grid, in ms").arg(name.toLower()));
    row->addWidget(named(name, field, pieces_));
    displacement_[piece] = field;
    const int key = Document::newMergeKey();
    connect(field, &NumberField::edited, this, [this, piece, name, key](double ms, bool stepped) {
      change(tr("%1 %2").arg(name, signedMs(Milliseconds(ms))),
             [&](Feel& f) { setDisplacement(f, piece, Milliseconds(ms)); },
             {stepped ? key : 0, true});
    });
    connect(field, &NumberField::refused, this, &FeelPanel::refused);
  }
  layout_->insertWidget(layout_->count() - 1, pieces_);
}

void FeelPanel::paintEvent(QPaintEvent* /*event*/) {
  QPainter p(this);
  p.setPen(QPen(theme::kLine, 1));
  p.drawLine(20, 0, width() - 20, 0);
}

void FeelPanel::read() {
  const Feel& feel = document_.feel();
  name_->setText(feel.id.empty() ? tr("None") : QString::fromStdString(feel.name));
  ratio_->setValue(ratioAt(feel.swing, document_.tempo()));
  choose(*unit_, feel.swing.unit);
  choose(*written_, feel.swing.written);
  buildDisplacement();
  for (const auto& [piece, field] : displacement_) {
    const auto found = feel.displacement.find(piece);
    field->setValue(found == feel.displacement.end() ? 0 : found->second.count());
  }
}

}  // namespace uneven
