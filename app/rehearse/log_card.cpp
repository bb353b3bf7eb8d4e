// SPDX-License-Identifier: GPL-3.0-or-later
// The card of the log.
#include "app/rehearse/log_card.h"

#include <QDir>
#include <QFileInfo>
#include <QLabel>

#include "app/controls/action_button.h"
#include "app/controls/labels.h"
#include "app/rehearse/days_chart.h"

namespace uneven {

LogCard::LogCard(Rehearsing& rehearsing, QWidget* parent)
    : FieldCard(parent), rehearsing_(rehearsing) {
  section(tr("Tempo reached"));
  chart_ = new DaysChart(rehearsing_, body());
  addWidget(chart_);
  facts_ = addText(QStringLiteral("log-facts"));
  section(tr("What feels bad"));
  felt_ = addText(QStringLiteral("log-felt"));
  addStretch();
  file_ = addText(QStringLiteral("log-file"));
  addButton(tr("Export…"), QStringLiteral("log-export"),
            tr("All times through, of all songs, as CSV or JSON"),
            [this] { Q_EMIT exportWanted(); });
  addButton(
      tr("Import…"), QStringLiteral("log-import"),
      tr("Times through from such a file; those that are there already stay single"),
      [this] { Q_EMIT importWanted(); }, true);
  connect(&rehearsing_, &Rehearsing::changed, this, [this] {
    if (isVisible()) read();
  });
}

void LogCard::read() {
  FieldCard::read();
  const LogSummary& log = rehearsing_.log().summary();
  int times = 0, clean = 0;
  double minutes = 0;
  QStringList felt;
  for (auto day = log.days.rbegin(); day != log.days.rend(); ++day) {
    times += day->times;
    clean += day->clean;
    minutes += day->minutes;
    constexpr qsizetype kShown = 5;
    if (!day->felt.empty() && felt.size() < kShown)
      felt << tr("%1: %2").arg(qs(spokenDate(day->date, rehearsing_.today())), qs(day->felt));
  }
  facts_->setText(log.days.empty() ? tr("Nothing is kept of this groove yet")
                                   : tr("%1 times through, %2 clean, on %3 days; %4 minutes")
                                         .arg(times)
                                         .arg(clean)
                                         .arg(log.days.size())
                                         .arg(numberText(minutes, 0)));
  felt_->setText(felt.isEmpty() ? tr("Nothing noted (B notes it)") : felt.join(QLatin1Char('\n')));
  const QString file = rehearsing_.log().file();
  file_->setText(tr("Kept in %1, apart from the song").arg(QFileInfo(file).fileName()));
  file_->setToolTip(QDir::toNativeSeparators(file));
  chart_->update();
}

}  // namespace uneven
