// SPDX-License-Identifier: GPL-3.0-or-later
// Ways to play a groove.
#include "app/check/ways_card.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QScrollArea>
#include <QScrollBar>
#include <QVBoxLayout>

#include "app/controls/action_button.h"
#include "app/controls/card_scroll.h"
#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "app/play/transport.h"

namespace uneven {

WaysCard::WaysCard(Editing& editing, Checker& checker, Transport& transport, QWidget* parent)
    : Card(parent),
      editing_(editing),
      checker_(checker),
      transport_(transport),
      down_(scrollingColumn(*this)) {
  setObjectName(QStringLiteral("ways-card"));
  connect(&checker_, &Checker::looked, this, [this] {
    hear(std::nullopt);
    read();
  });
  read();
}

void WaysCard::read() {
  QVBoxLayout* rows = renewedList(list_, *down_, 10);
  const auto text = [&](const QString& words) {
    auto* label = quietLabel(words, list_);
    label->setWordWrap(true);
    rows->addWidget(label);
    return label;
  };
  const Looked* now = checker_.now();
  if (now == nullptr || !now->report) {
    text(now == nullptr ? tr("Looking…") : tr("There is nothing to play."));
    rows->addStretch(1);
    return;
  }
  const HandReport& r = *now->report;
  const auto tempo = [&](double pace) { return QString::number(ceilingBpm(r, pace), 'f', 0); };
  rows->addWidget(strongLabel(tr("As it is"), 13, list_));
  text(tr("0: comfortable to %1, playable to %2 BPM")
           .arg(tempo(now->asPlayed.comfortable), tempo(now->asPlayed.playable)));
  if (now->ways.empty()) {
    text(r.part.hands.empty() ? tr("No hand plays here.")
         : r.part.hands.size() > 2'000
             ? tr("A groove this long has too many other ways: look at a part of it.")
             : tr("There is no other way that a drummer would name. Where hands are set, take "
                  "limbs off (Strike, the hit's card) for others to be looked for."));
  }
  for (std::size_t i = 0; i < now->ways.size(); ++i) {
    const OtherWay& way = now->ways[i];
    auto* box = new QWidget(list_);
    box->setObjectName(QStringLiteral("way-%1").arg(i));
    auto* down = new QVBoxLayout(box);
    down->setContentsMargins(0, 0, 0, 0);
    down->setSpacing(2);
    auto* words = strongLabel(tr("%1: %2").arg(i + 1).arg(qs(way.text)), 13, box);
    words->setWordWrap(true);
    words->setMinimumWidth(60);
    down->addWidget(words);
    down->addWidget(
        wrappedLabel(tr("comfortable to %1, playable to %2 BPM")
                         .arg(tempo(way.ceiling.comfortable), tempo(way.ceiling.playable)),
                     box));
    auto* buttons = new QHBoxLayout;
    buttons->setSpacing(6);
    const auto button = [&](const QString& what, const char* name, const QString& tip, auto run) {
      auto* made = new ActionButton(what, ActionButton::Tone::kQuiet, box);
      made->setObjectName(QLatin1String(name) + QString::number(i));
      made->setToolTip(tip);
      made->setAccessibleName(what + QStringLiteral(": ") + qs(way.text));
      connect(made, &QPushButton::clicked, this, run);
      buttons->addWidget(made);
    };
    button(tr("hear it"), "hear-way-",
           tr("Plays the groove so, from the next stroke on: key %1; 0: as it is").arg(i + 1),
           [this, i] { hear(i); });
    button(tr("play it so"), "keep-way-", tr("These limbs become the hits' own"),
           [this, i] { keep(i); });
    buttons->addStretch(1);
    down->addLayout(buttons);
    rows->addWidget(box);
  }
  rows->addStretch(1);
}

void WaysCard::hear(std::optional<std::size_t> way) {
  const Looked* now = checker_.now();
  if (way && (now == nullptr || *way >= now->ways.size())) return;
  if (!way && !heard_) return;
  heard_ = way;
  Heard heard = transport_.heard();
  heard.groove.reset();
  if (way) heard.groove = SharedValue<Groove>(now->ways[*way].groove);
  transport_.setHeard(std::move(heard));
  if (way && !transport_.playing()) transport_.play();
  Q_EMIT shown(way ? &now->ways[*way] : nullptr);
  Q_EMIT said(way ? tr("Heard: %1; 0: as it is").arg(qs(now->ways[*way].text))
                  : tr("Heard as it is"));
}

void WaysCard::keep(std::size_t way) {
  const Looked* now = checker_.now();
  if (now == nullptr || way >= now->ways.size()) return;
  Groove groove = now->ways[way].groove;
  editing_.grooves().replaceGroove(tr("Played so: %1").arg(qs(now->ways[way].text)),
                                   std::move(groove));
}

void WaysCard::hideEvent(QHideEvent* event) {
  hear(std::nullopt);
  Card::hideEvent(event);
}

}  // namespace uneven
