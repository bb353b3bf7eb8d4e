// SPDX-License-Identifier: GPL-3.0-or-later
// Findings.
#include "app/open/findings_card.h"

#include <QLabel>
#include <QVBoxLayout>

#include "app/shell/action_button.h"
#include "app/shell/labels.h"
#include "app/shell/theme.h"
#include "core/time/count.h"

namespace uneven {

namespace {

constexpr std::size_t kShownMost = 5;

QString kindText(FindingKind kind) {
  switch (kind) {
    case FindingKind::kLateClose:
      return FindingsCard::tr("Late close");
    case FindingKind::kEarlyClose:
      return FindingsCard::tr("Early close");
    case FindingKind::kEarlyOpening:
      return FindingsCard::tr("Early opening");
    case FindingKind::kNoRoom:
      return FindingsCard::tr("No room");
    case FindingKind::kTwoPlaces:
      return FindingsCard::tr("Foot in two places");
  }
  return {};
}

}  // namespace

FindingsCard::FindingsCard(Editing& editing, QWidget* parent)
    : Card(parent), editing_(editing), title_(strongLabel({}, 16, this)) {
  down_ = new QVBoxLayout(this);
  down_->setContentsMargins(16, 14, 14, 12);
  down_->setSpacing(8);
  down_->addWidget(title_);
  down_->addStretch(1);
  connect(&editing_.document(), &Document::changed, this, &FindingsCard::read);
  read();
}

void FindingsCard::mend(std::size_t index) {
  if (index >= findings_.size()) return;
  const Finding finding = findings_[index];
  editing_.replaceGroove(tr("Mended: %1").arg(QString::fromStdString(finding.fixText)),
                         finding.fix(editing_.groove()));
}

void FindingsCard::read() {
  const Document& document = editing_.document();
  findings_ = hatFindings(document.score(), document.performance());
  std::vector<std::string> texts;
  for (const Finding& f : findings_) {
    texts.push_back(f.at.toString() + f.text + f.fixText + std::to_string(f.bar));
  }
  if (texts == shown_ && list_ != nullptr) return;
  shown_ = std::move(texts);
  Q_EMIT countChanged(static_cast<int>(findings_.size()));
  title_->setText(findings_.empty() ? tr("Nothing found") : tr("Found: %1").arg(findings_.size()));
  // A button may be what called us: the old list goes when its event is through.
  if (list_ != nullptr) {
    list_->hide();
    list_->deleteLater();
  }
  list_ = new QWidget(this);
  auto* rows = new QVBoxLayout(list_);
  rows->setContentsMargins(0, 0, 0, 0);
  rows->setSpacing(4);
  for (std::size_t i = 0; i < std::min(findings_.size(), kShownMost); ++i) {
    const Finding& f = findings_[i];
    const Meter meter = document.groove().meter;
    auto* head = strongLabel(tr("%1, bar %2, %3")
                                 .arg(kindText(f.kind))
                                 .arg(f.bar - document.score().blocks.front().firstBar + 1)
                                 .arg(QString::fromStdString(countName(f.at, meter).text())),
                             13, list_);
    auto* text = quietLabel(QString::fromStdString(f.text), list_);
    text->setWordWrap(true);
    rows->addWidget(head);
    rows->addWidget(text);
    auto* mendIt =
        new ActionButton(QString::fromStdString(f.fixText), ActionButton::Tone::kQuiet, list_);
    mendIt->setObjectName(QStringLiteral("mend-%1").arg(i));
    mendIt->setToolTip(tr("Mend it so"));
    connect(mendIt, &QPushButton::clicked, this, [this, i] { mend(i); });
    rows->addWidget(mendIt);
    rows->addSpacing(8);
  }
  if (findings_.empty()) {
    auto* text = quietLabel(tr("Every opening is reached at its stroke and shut in time at this "
                               "tempo."),
                            list_);
    text->setWordWrap(true);
    rows->addWidget(text);
  } else if (findings_.size() > kShownMost) {
    rows->addWidget(quietLabel(tr("and %1 more").arg(findings_.size() - kShownMost), list_));
  }
  down_->insertWidget(1, list_);
}

}  // namespace uneven
