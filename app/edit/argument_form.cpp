// SPDX-License-Identifier: GPL-3.0-or-later
// Fields from a table.
#include "app/edit/argument_form.h"

#include <QGridLayout>

#include "app/controls/choice_field.h"
#include "app/controls/flat_edit.h"
#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "app/edit/groove_edits.h"
#include "core/time/count.h"

namespace uneven {
namespace {

// "level_db" reads "level db", "rim_shot" "rim shot".
QString spokenWord(const std::string& name) {
  QString text = QString::fromStdString(name);
  text.replace(QLatin1Char('_'), QLatin1Char(' ')).replace(QLatin1Char('-'), QLatin1Char(' '));
  text[0] = text[0].toUpper();
  return text;
}

}  // namespace

ArgumentForm::ArgumentForm(const std::vector<ToolParameter>& parameters, const Kit& kit,
                           const QString& prefix, QWidget* parent)
    : QWidget(parent) {
  QPalette card = palette();
  card.setColor(QPalette::Window, theme::kCard);
  setPalette(card);
  auto* grid = new QGridLayout(this);
  grid->setContentsMargins(0, 2, 6, 0);
  grid->setHorizontalSpacing(8);
  grid->setVerticalSpacing(2);
  grid->setColumnStretch(1, 1);
  int row = 0;
  for (const ToolParameter& parameter : parameters) {
    QWidget* field = fieldFor(parameter, kit);
    field->setObjectName(prefix + QString::fromStdString(parameter.name));
    QString tip = QString::fromStdString(parameter.help);
    tip[0] = tip[0].toUpper();
    field->setToolTip(tip);
    field->setMinimumHeight(23);
    grid->addWidget(fieldLabel(spokenWord(parameter.name), field, this), row, 0);
    grid->addWidget(field, row, 1);
    byName_[parameter.name] = field;
    ++row;
  }
  grid->setRowStretch(row, 1);
}

QWidget* ArgumentForm::fieldFor(const ToolParameter& parameter, const Kit& kit) {
  std::vector<std::pair<QString, QString>> words;  // shown, meant
  for (const std::string& choice : parameter.choices) {
    words.emplace_back(spokenWord(choice), QString::fromStdString(choice));
  }
  if (parameter.kind == ParameterKind::kPiece) {
    for (const Piece& piece : kit.pieces) {
      words.emplace_back(QString::fromStdString(piece.name), QString::fromStdString(piece.id));
    }
  }
  if (parameter.kind == ParameterKind::kLimb) {
    for (const Named<Limb>& limb : namesOf<Limb>()) {
      if (limb.value != Limb::kAutomatic) words.emplace_back(qs(limb.spoken), qs(limb.text));
    }
  }
  if (parameter.kind == ParameterKind::kFlag) words = {{tr("Yes"), "yes"}, {tr("No"), "no"}};
  if (parameter.kind == ParameterKind::kGrid) {
    words.emplace_back(tr("The groove's"), "groove");
    for (const Grid& grid : GrooveEdits::grids()) {
      const QString text = QString::fromStdString(grid.toString());
      words.emplace_back(text, text);
    }
  }
  if (!words.empty()) {
    auto* field = new ChoiceField(Qt::AlignRight, this);
    for (const auto& [shown, meant] : words) field->addItem(shown, meant);
    field->setCurrentIndex(field->findData(QString::fromStdString(parameter.fallback)));
    connect(field, &QComboBox::currentIndexChanged, this, &ArgumentForm::changed);
    return field;
  }
  auto* field = new FlatEdit(this);
  field->setAlignment(Qt::AlignRight);
  field->setText(QString::fromStdString(parameter.fallback));
  field->setPlaceholderText(QStringLiteral("–"));
  connect(field, &QLineEdit::textChanged, this, &ArgumentForm::changed);
  connect(field, &QLineEdit::returnPressed, this, &ArgumentForm::accepted);
  return field;
}

void ArgumentForm::set(const std::string& name, const QString& value) {
  const auto found = byName_.find(name);
  if (found == byName_.end()) return;
  if (auto* choice = qobject_cast<ChoiceField*>(found->second)) {
    choice->setCurrentIndex(choice->findData(value));
  } else {
    static_cast<FlatEdit*>(found->second)->setText(countOf(name, value));
  }
}

namespace {

bool isEnd(const std::string& name) {
  return name == "from" || name == "to";
}

}  // namespace

void ArgumentForm::speakCounts(std::function<Bars()> bars) {
  const Arguments now = arguments();
  bars_ = std::move(bars);
  for (const char* name : {"from", "to"}) {
    const auto value = now.find(name);
    if (value == now.end()) continue;
    QWidget* field = byName_.at(name);
    field->setToolTip(name == std::string("from")
                          ? tr("From this count on: 2, 3 a, 1 of bar 2")
                          : tr("To before this count: 2, 3 a, 1 of bar 2; end: the whole groove"));
    set(name, qs(value->second));
  }
}

QString ArgumentForm::countOf(const std::string& name, const QString& quarters) const {
  const auto at = bars_ && isEnd(name) ? Beat::parse(quarters.toStdString()) : std::nullopt;
  return at ? qs(placeName(*at, bars_().meter)) : quarters;
}

Arguments ArgumentForm::arguments() const {
  Arguments out;
  for (const auto& [name, widget] : byName_) {
    if (const auto* choice = qobject_cast<const ChoiceField*>(widget)) {
      out[name] = choice->currentData().toString().toStdString();
    } else {
      std::string typed = static_cast<const FlatEdit*>(widget)->text().trimmed().toStdString();
      if (bars_ && isEnd(name)) {
        const Bars bars = bars_();
        if (const auto at = placeOfName(typed, bars.meter, bars.grid)) typed = at->toString();
      }
      out[name] = std::move(typed);
    }
  }
  return out;
}

}  // namespace uneven
