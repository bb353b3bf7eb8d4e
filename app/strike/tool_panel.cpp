// SPDX-License-Identifier: GPL-3.0-or-later
// The tool panel.
#include "app/strike/tool_panel.h"

#include <QKeyEvent>
#include <QLabel>
#include <QScrollArea>
#include <QTimer>
#include <QVBoxLayout>

#include "app/controls/action_button.h"
#include "app/controls/choice_field.h"
#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "app/edit/argument_form.h"
#include "core/song/slots.h"

namespace uneven {
namespace {

constexpr int kPreviewAfter = 120;  // ms

}  // namespace

ToolPanel::ToolPanel(Editing& editing, QWidget* parent)
    : Card(parent),
      editing_(editing),
      tool_(new ChoiceField(Qt::AlignLeft, this)),
      help_(quietLabel({}, this)),
      scroll_(new QScrollArea(this)),
      outcome_(new QLabel(this)),
      do_(new ActionButton(tr("Do it"), ActionButton::Tone::kMain, this)),
      later_(new QTimer(this)) {
  setObjectName(QStringLiteral("tool-panel"));
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(16, 12, 14, 12);
  layout->setSpacing(6);
  tool_->setObjectName(QStringLiteral("tool-choice"));
  tool_->setTextPixels(16);
  tool_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
  tool_->setToolTip(tr("Which tool"));
  std::string group;
  for (const Tool& tool : tools()) {
    if (tool.group != group) tool_->addHeading(qs(tool.group));
    group = tool.group;
    tool_->addItem(qs(tool.title), qs(tool.name));
  }
  layout->addWidget(tool_);
  help_->setWordWrap(true);
  layout->addWidget(help_);
  scroll_->setFrameShape(QFrame::NoFrame);
  scroll_->setFocusPolicy(Qt::NoFocus);
  tool_->setAccessibleName(tr("Tool"));
  scroll_->setWidgetResizable(true);
  scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  layout->addWidget(scroll_, 1);
  outcome_->setWordWrap(true);
  outcome_->setTextFormat(Qt::PlainText);
  outcome_->setMinimumHeight(36);
  layout->addWidget(outcome_);
  auto* buttons = new QHBoxLayout;
  auto* close = new ActionButton(tr("Close"), ActionButton::Tone::kQuiet, this);
  close->setToolTip(tr("Back to the card: Escape"));
  do_->setObjectName(QStringLiteral("tool-do"));
  do_->setToolTip(tr("Enter"));
  buttons->addWidget(close);
  buttons->addWidget(do_, 1);
  layout->addLayout(buttons);
  setTool("sticking");
  connect(tool_, &QComboBox::activated, this, [this] {
    setTool(tool_->currentData().toString().toStdString());
    reopen();
  });
  connect(do_, &QPushButton::clicked, this, &ToolPanel::doIt);
  connect(close, &QPushButton::clicked, this, &ToolPanel::closed);
  later_->setSingleShot(true);
  later_->setInterval(kPreviewAfter);
  connect(later_, &QTimer::timeout, this, [this] {
    if (isVisible()) preview();
  });
  connect(&editing_.document(), &Document::changed, this, [this] {
    if (!isVisible()) return;
    Q_EMIT previewed(std::nullopt);
    // What was tried on another groove is at its end.
    if (std::exchange(groove_, editing_.document().grooveId()) != editing_.document().grooveId())
      return Q_EMIT closed();
    later_->start();
  });
  connect(&editing_, &Editing::selectionChanged, this, [this] {
    if (isVisible()) fillSpan();
  });
}

void ToolPanel::setTool(const std::string& name) {
  const Tool* tool = findTool(name);
  if (tool == nullptr) return;
  tool_->setCurrentIndex(tool_->findData(QString::fromStdString(name)));
  help_->setText(QString::fromStdString(tool->help));
  buildFields(*tool);
}

void ToolPanel::reopen() {
  fillSpan();
  preview();
  const Tool* tool = findTool(tool_->currentData().toString().toStdString());
  form_->field(tool->parameters.front().name)->setFocus();
}

void ToolPanel::buildFields(const Tool& tool) {
  form_ =
      new ArgumentForm(tool.parameters, *editing_.document().song().kit, QStringLiteral("tool-"));
  connect(form_, &ArgumentForm::changed, this, &ToolPanel::preview);
  connect(form_, &ArgumentForm::accepted, this, &ToolPanel::doIt);
  scroll_->setWidget(form_);  // deletes the fields of the tool before
}

// What is selected is the span: several hits from the first to the slot after the last, a single
// one (or only the cursor) from there on.
void ToolPanel::fillSpan() {
  if (!form_->has("from") || !form_->has("to")) return;
  const Selection& selection = editing_.selection();
  Beat first;
  QString last = QStringLiteral("end");
  if (selection.size() > 1) {
    first = selection.begin()->at;
    const Beat after = slotAfter(editing_.groove(), selection.rbegin()->at);
    if (after < editing_.groove().length()) last = QString::fromStdString(after.toString());
  } else if (tool_->currentData().toString() == QStringLiteral("sticking")) {
    first = editing_.cursorAt();
  }
  form_->set("from", QString::fromStdString(first.toString()));
  form_->set("to", last);
}

void ToolPanel::preview() {
  groove_ = editing_.document().grooveId();
  const Result<ToolOutcome> outcome =
      runTool(tool_->currentData().toString().toStdString(), editing_.groove(),
              *editing_.document().song().kit, form_->arguments());
  QStringList notes;
  if (outcome) {
    for (const std::string& note : outcome->notes) notes << QString::fromStdString(note);
  } else {
    notes << QString::fromStdString(outcome.error().message);
  }
  outcomeText_ = notes.mid(0, 4).join(QStringLiteral(", "));
  outcome_->setText(outcome ? tr("It would give: %1").arg(outcomeText_) : outcomeText_);
  QPalette colors = outcome_->palette();
  colors.setColor(QPalette::WindowText, outcome ? theme::kInk : theme::kAttention);
  outcome_->setPalette(colors);
  do_->setEnabled(bool(outcome));
  Q_EMIT previewed(outcome ? std::optional(outcome->groove) : std::nullopt);
}

void ToolPanel::hideEvent(QHideEvent* /*event*/) {
  Q_EMIT previewed(std::nullopt);
}

void ToolPanel::doIt() {
  editing_.grooves().runTool(tool_->currentData().toString().toStdString(), form_->arguments());
}

void ToolPanel::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Escape) return Q_EMIT closed();
  if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) return doIt();
  QWidget::keyPressEvent(event);
}

}  // namespace uneven
