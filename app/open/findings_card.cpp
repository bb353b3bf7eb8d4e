// SPDX-License-Identifier: GPL-3.0-or-later
// Findings.
#include "app/open/findings_card.h"

#include <QLabel>
#include <QVBoxLayout>
#include <algorithm>
#include <set>

#include "app/controls/action_button.h"
#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "core/time/count.h"

namespace uneven {

namespace {

constexpr std::size_t kShownMost = 5;

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
  editing_.grooves().replaceGroove(tr("Mended: %1").arg(QString::fromStdString(finding.fix())),
                                   mendedGroove(editing_.document().song(), finding.mends.front()));
}

void FindingsCard::mendAll() {
  editing_.grooves().replaceGroove(tr("All mended"),
                                   mended(editing_.document().song(), editing_.groove().id));
}

// What is wrong with one opening stands together.
std::vector<std::vector<std::size_t>> FindingsCard::grouped() const {
  std::vector<std::vector<std::size_t>> out;
  for (std::size_t i = 0; i < findings_.size(); ++i) {
    const auto same = std::find_if(out.begin(), out.end(), [&](const auto& group) {
      const Finding& first = findings_[group.front()];
      return first.hit == findings_[i].hit && first.drawn == findings_[i].drawn;
    });
    if (same == out.end()) {
      out.push_back({i});
    } else {
      same->push_back(i);
    }
  }
  return out;
}

QString FindingsCard::placeOf(std::int32_t bar, Beat inBar) const {
  QString count = QString::fromStdString(countName(inBar, editing_.groove().meter).text());
  if (editing_.groove().bars == 1) return count;
  return tr("bar %1, %2").arg(bar + 1).arg(count);
}

void FindingsCard::addOpening(QVBoxLayout& rows, const std::vector<std::size_t>& group) {
  const Finding& first = findings_[group.front()];
  const Beat at = first.drawn.value_or(first.hit.at);
  const Beat barLength = editing_.groove().meter.barLength();
  const std::int64_t bar = at.floorDiv(barLength);
  const QString place = placeOf(static_cast<std::int32_t>(bar), at - Beat(bar) * barLength);
  rows.addWidget(strongLabel(
      first.drawn ? tr("Drawn opening, %1").arg(place) : tr("Opening, %1").arg(place), 13, list_));
  const std::int32_t firstBar = editing_.document().take().score().blocks.front().firstBar;
  std::set<std::string> offered;
  std::vector<QWidget*> buttons;
  for (const std::size_t i : group) {
    const Finding& f = findings_[i];
    auto* text = quietLabel(tr("%1 at %2: %3")
                                .arg(qs(findingTitle(f.kind)), placeOf(f.bar - firstBar, f.at),
                                     QString::fromStdString(f.text)),
                            list_);
    text->setWordWrap(true);
    rows.addWidget(text);
    if (!offered.insert(f.fix()).second) continue;
    auto* mendIt =
        new ActionButton(QString::fromStdString(f.fix()), ActionButton::Tone::kQuiet, list_);
    mendIt->setObjectName(QStringLiteral("mend-%1").arg(i));
    mendIt->setToolTip(tr("Mend it so"));
    connect(mendIt, &QPushButton::clicked, this, [this, i] { mend(i); });
    buttons.push_back(mendIt);
  }
  for (QWidget* button : buttons) rows.addWidget(button);
  rows.addSpacing(8);
}

void FindingsCard::read() {
  const Document& document = editing_.document();
  findings_ = hatFindings(document.take());
  std::vector<std::string> texts;
  for (const Finding& f : findings_) {
    texts.push_back(f.at.toString() + f.text + f.fix() + std::to_string(f.bar));
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
  if (findings_.size() > 1) {
    auto* all = new ActionButton(tr("Mend all"), ActionButton::Tone::kMain, list_);
    all->setObjectName(QStringLiteral("mend-all"));
    all->setToolTip(tr("Every one as it is offered below, one step to undo"));
    connect(all, &QPushButton::clicked, this, &FindingsCard::mendAll);
    rows->addWidget(all);
    rows->addSpacing(8);
  }
  const auto byOpening = grouped();
  std::size_t shown = 0;
  for (const std::vector<std::size_t>& group : byOpening) {
    if (shown >= kShownMost) break;
    shown += group.size();
    addOpening(*rows, group);
  }
  if (findings_.empty()) {
    auto* text = quietLabel(tr("Every opening is reached at its stroke and shut in time at this "
                               "tempo."),
                            list_);
    text->setWordWrap(true);
    rows->addWidget(text);
  } else if (findings_.size() > shown) {
    rows->addWidget(quietLabel(tr("and %1 more").arg(findings_.size() - shown), list_));
  }
  down_->insertWidget(1, list_);
}

}  // namespace uneven
