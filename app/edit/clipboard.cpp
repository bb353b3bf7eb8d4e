// SPDX-License-Identifier: GPL-3.0-or-later
// Copying and pasting.
#include "app/edit/clipboard.h"

#include <QClipboard>
#include <QGuiApplication>
#include <QMimeData>

#include "app/controls/labels.h"
#include "app/edit/editing.h"
#include "core/io/song_json.h"

namespace uneven {
namespace {

const QString kHitsFormat = QStringLiteral("application/x-uneven-stick-hits");

}  // namespace

void Clipboard::copy() {
  if (!needSelection()) return;
  // As a song of one groove, so that any window of the program can read it. With the kit: what is
  // struck goes by its id.
  Song carrier = blankSong();
  carrier.kit = document().song().kit;
  carrier.grooves[0].edit([&](Groove& g) {
    g.meter = {64, 1};
    g.bars = kBarsMax;
    g.hits = copyHits(groove(), selection());
  });
  auto* data = new QMimeData;
  data->setData(kHitsFormat, QByteArray::fromStdString(writeSong(carrier)));
  QGuiApplication::clipboard()->setMimeData(data);
  say(Editing::tr("%1 hits copied").arg(selection().size()));
}

void Clipboard::cut() {
  if (!needSelection()) return;
  copy();
  const std::size_t count = selection().size();
  applyGroove(Editing::tr("%1 hits cut").arg(count), withoutHits(groove(), selection()));
}

void Clipboard::paste() {
  const QMimeData* data = QGuiApplication::clipboard()->mimeData();
  const bool tab = data != nullptr && !data->hasFormat(kHitsFormat) && data->hasText() &&
                   data->text().contains(QLatin1Char('|'));
  if (tab) return pasteTab(data->text().toStdString());
  if (data == nullptr || !data->hasFormat(kHitsFormat)) {
    return say(Editing::tr("There are no hits on the clipboard"));
  }
  const Result<Song> carrier = readSong(data->data(kHitsFormat).toStdString(), "clipboard");
  if (!carrier || carrier->grooves.empty()) {
    return say(Editing::tr("The hits on the clipboard cannot be read"));
  }
  Song song = document().song();
  std::vector<Hit> hits = carrier->grooves[0]->hits;
  const Carried carried = carryPieces(song, *carrier->kit, hits);
  pasteHits(std::move(song), hits);
  if (!carried.added.empty() || carried.leftOut > 0) {
    say(Editing::tr("%1 hits pasted%2%3")
            .arg(hits.size())
            .arg(carried.added.empty()
                     ? QString()
                     : Editing::tr(", with %1 added to the kit").arg(qs(carried.added)))
            .arg(carried.leftOut == 0
                     ? QString()
                     : Editing::tr(", %1 left out since the kit is full").arg(carried.leftOut)));
  }
}

std::optional<TabReading> Clipboard::readTab(const std::string& text, const std::string& file) {
  const Kit& kit = *document().song().kit;
  LaneNames names;
  for (const std::string& lane : unknownLanes(text, kit)) {
    const auto piece = askLane_ ? askLane_(lane) : std::nullopt;
    if (!piece) break;  // what is not answered stands in the error below
    names[lane] = *piece;
  }
  Result<TabReading> read = readDrumTab(text, kit, file, names);
  if (!read) {
    say(Editing::tr("Drum tab not read. %1").arg(QString::fromStdString(read.error().line())));
    return std::nullopt;
  }
  return *std::move(read);
}

void Clipboard::pasteTab(const std::string& text) {
  const std::optional<TabReading> read = readTab(text, "clipboard");
  if (!read) return;
  pasteHits(document().song(), read->groove.hits);
  say(Editing::tr("Drum tab pasted: %1").arg(QString::fromStdString(read->notes.front())));
}

void Clipboard::pasteHits(Song song, const std::vector<Hit>& hits) {
  Pasted pasted = uneven::pasteHits(groove(), hits, editing_.cursorAt());
  QString step = Editing::tr("%1 hits pasted").arg(pasted.selection.size());
  if (pasted.leftOut > 0) step += Editing::tr(", %1 beyond the end left out").arg(pasted.leftOut);
  if (!document().apply(step, withGroove(std::move(song), std::move(pasted.groove)))) return;
  editing_.select(std::move(pasted.selection));
}

}  // namespace uneven
