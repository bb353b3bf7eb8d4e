// SPDX-License-Identifier: GPL-3.0-or-later
// Grooves in and out.
#include "app/edit/exchange.h"

#include <QFileInfo>
#include <QWidget>

#include "app/controls/labels.h"
#include "app/controls/prompts.h"
#include "core/io/atomic_save.h"
#include "core/io/drum_tab.h"
#include "core/io/hits_csv.h"

namespace uneven {

namespace {

QString notesText(const std::vector<std::string>& notes) {
  QStringList out;
  for (const std::string& note : notes) out << QString::fromStdString(note);
  return out.join(QStringLiteral(", "));
}

}  // namespace

Exchange::Exchange(Editing& editing, FileSystem& files, Prompts& prompts, QWidget* window)
    : QObject(window), editing_(editing), files_(files), prompts_(prompts), window_(window) {
  editing_.clipboard().setLaneAsker([this](const std::string& lane) { return askLane(lane); });
}

std::optional<PieceId> Exchange::askLane(const std::string& lane) {
  const Kit& kit = *editing_.document().song().kit;
  QStringList names;
  for (const PieceId id : kit.order) names << QString::fromStdString(kit[id].name);
  const int index = prompts_.choice(
      window_, tr("What is struck in the lane “%1”?").arg(QString::fromStdString(lane)), names);
  if (index < 0) return std::nullopt;
  return kit.order[static_cast<std::size_t>(index)];
}

void Exchange::importGroove() {
  const QString path =
      prompts_.fileToOpen(window_, tr("Import a groove"), QString(),
                          tr("Drum tab text and CSV of hits (*.txt *.csv);;All files (*)"));
  if (path.isEmpty()) return;
  const std::string file = path.toStdString();
  const Result<std::string> text = files_.read(file);
  if (!text) return Q_EMIT failed(QString::fromStdString(text.error().line()));
  const QString name = QFileInfo(path).completeBaseName();
  if (path.endsWith(QStringLiteral(".csv"), Qt::CaseInsensitive)) {
    Result<Groove> groove = readHitsCsv(*text, *editing_.document().song().kit, file);
    if (!groove) return Q_EMIT failed(QString::fromStdString(groove.error().line()));
    return editing_.grooves().takeGroove(tr("%1 imported").arg(name), *std::move(groove), name);
  }
  std::optional<TabReading> tab = editing_.clipboard().readTab(*text, file);
  if (!tab) return;
  editing_.grooves().takeGroove(tr("%1 imported: %2").arg(name, notesText(tab->notes)),
                                std::move(tab->groove), name);
}

void Exchange::exportGroove() {
  const Groove& groove = editing_.groove();
  const Kit& kit = *editing_.document().song().kit;
  QString path = prompts_.fileToSave(window_, tr("Export this groove"),
                                     QString::fromStdString(groove.name) + QStringLiteral(".txt"),
                                     tr("Drum tab text (*.txt);;CSV of hits (*.csv)"));
  if (path.isEmpty()) return;
  const bool csv = path.endsWith(QStringLiteral(".csv"), Qt::CaseInsensitive);
  if (!csv && !path.endsWith(QStringLiteral(".txt"), Qt::CaseInsensitive)) {
    path += QStringLiteral(".txt");
  }
  TabWriting tab;
  if (csv) {
    tab.text = writeHitsCsv(groove, kit);
  } else {
    tab = writeDrumTab(groove, kit);
  }
  if (const Status saved = saveAtomically(files_, path.toStdString(), tab.text); !saved) {
    return Q_EMIT failed(QString::fromStdString(saved.error().line()));
  }
  const QString notes = notesText(tab.notes);
  Q_EMIT said(notes.isEmpty() ? tr("Written to %1").arg(path)
                              : tr("Written to %1, %2").arg(path, notes));
}

}  // namespace uneven
