// SPDX-License-Identifier: GPL-3.0-or-later
// The intents of the Strike stage.
#include "app/strike/editing.h"

#include <QClipboard>
#include <QGuiApplication>
#include <QMimeData>
#include <algorithm>

#include "app/shell/labels.h"
#include "core/io/drum_tab.h"
#include "core/io/song_json.h"
#include "core/song/names.h"
#include "core/time/count.h"

namespace uneven {
namespace {

const QString kHitsFormat = QStringLiteral("application/x-uneven-stick-hits");

QString countText(std::size_t count, const QString& what) {
  return count == 1 ? what : Editing::tr("%1 × %2").arg(count).arg(what);
}

}  // namespace

Editing::Editing(Document& document, QObject* parent) : QObject(parent), document_(document) {
  connect(&document_, &Document::changed, this, &Editing::documentChanged);
}

void Editing::documentChanged() {
  Selection kept;
  for (const HitRef& ref : selection_) {
    if (indexOf(groove(), ref)) kept.insert(ref);
  }
  if (kept != selection_) {
    selection_ = std::move(kept);
    Q_EMIT selectionChanged();
  }
  if (cursorAt_ >= groove().length()) {
    cursorAt_ = Beat(0);
    Q_EMIT cursorMoved();
  }
}

void Editing::select(Selection selection) {
  if (selection == selection_) return;
  selection_ = std::move(selection);
  Q_EMIT selectionChanged();
}

void Editing::selectAll() {
  Selection all;
  for (std::size_t i = 0; i < groove().hits.size(); ++i) all.insert(refOf(groove(), i));
  select(std::move(all));
  Q_EMIT said(tr("%1 hits selected").arg(selection_.size()));
}

void Editing::moveCursor(Beat at, PieceId piece) {
  cursorAt_ = at;
  cursorPiece_ = piece;
  const HitRef there{at, piece, 0};
  select(indexOf(groove(), there) ? Selection{there} : Selection{});
  Q_EMIT cursorMoved();
}

void Editing::extendCursor(Beat at, PieceId piece) {
  Selection grown = selection_;
  for (std::size_t i = 0; i < groove().hits.size(); ++i) {
    const Hit& hit = groove().hits[i];
    const bool between = hit.at >= std::min(at, cursorAt_) && hit.at <= std::max(at, cursorAt_) &&
                         hit.piece >= std::min(piece, cursorPiece_) &&
                         hit.piece <= std::max(piece, cursorPiece_);
    if (between) grown.insert(refOf(groove(), i));
  }
  cursorAt_ = at;
  cursorPiece_ = piece;
  select(std::move(grown));
  Q_EMIT cursorMoved();
}

void Editing::applyGroove(const QString& step, Groove groove, Merge merge) {
  document_.apply(step, withGroove(document_.song(), std::move(groove)), merge);
}

Velocity Editing::velocityFor(PieceId piece, Role role) const {
  std::vector<int> same;
  for (const Hit& hit : groove().hits) {
    if (hit.piece == piece && hit.role == role) same.push_back(hit.velocity.value());
  }
  if (same.empty()) {
    if (role == Role::kAccent) return Velocity(kAccentVelocity);
    return Velocity(role == Role::kNormal ? kNormalVelocity : kGhostVelocity);
  }
  const auto middle = same.begin() + static_cast<std::ptrdiff_t>(same.size() / 2);
  std::nth_element(same.begin(), middle, same.end());
  return Velocity(*middle);
}

void Editing::toggleAt(Beat at, PieceId piece) {
  const HitRef there{at, piece, 0};
  const QString name = QString::fromStdString((*document_.song().kit)[piece].name);
  const QString count = QString::fromStdString(
      countName(at - Beat(at.floorDiv(groove().meter.barLength())) * groove().meter.barLength(),
                groove().meter)
          .text());
  if (indexOf(groove(), there)) {
    applyGroove(tr("%1 taken off %2").arg(name, count), withoutHits(groove(), {there}));
    moveCursor(at, piece);
    return;
  }
  Hit hit;
  hit.at = at;
  hit.piece = piece;
  hit.velocity = velocityFor(piece, Role::kNormal);
  applyGroove(tr("%1 on %2").arg(name, count), withHit(groove(), std::move(hit)));
  moveCursor(at, piece);
}

bool Editing::needSelection() {
  if (!selection_.empty()) return true;
  Q_EMIT said(tr("Nothing is selected"));
  return false;
}

void Editing::removeSelected() {
  if (!needSelection()) return;
  const std::size_t count = selection_.size();
  applyGroove(count == 1 ? tr("Hit taken off") : tr("%1 hits taken off").arg(count),
              withoutHits(groove(), selection_));
}

void Editing::change(const QString& step, const std::function<void(Hit&)>& edit, Merge merge) {
  if (!needSelection()) return;
  Edited edited = changeHits(groove(), selection_, edit);
  // The selection first, so that it fits the groove that the views are about to read.
  const Selection before = selection_;
  selection_ = edited.selection;
  applyGroove(countText(selection_.size(), step), std::move(edited.groove), merge);
  if (before != selection_) Q_EMIT selectionChanged();
}

void Editing::setRole(Role role) {
  change(qs(spokenName(role)), [&](Hit& hit) {
    if (hit.role == role) return;
    hit.role = role;
    hit.velocity = velocityFor(hit.piece, role);
  });
}

void Editing::toggleOpen() {
  if (!needSelection()) return;
  const auto indices = indicesOf(groove(), selection_);
  const bool anyHat = std::any_of(indices.begin(), indices.end(), [&](std::size_t i) {
    return groove().hits[i].piece == piece::kHat;
  });
  if (!anyHat) return Q_EMIT said(tr("Only hits on the hats can be opened"));
  const bool anyShut = std::any_of(indices.begin(), indices.end(), [&](std::size_t i) {
    return groove().hits[i].piece == piece::kHat && groove().hits[i].open == 0;
  });
  const Beat step = groove().grid.step();
  change(anyShut ? tr("Open hat") : tr("Shut hat"), [&](Hit& hit) {
    if (hit.piece != piece::kHat) return;
    hit.open = anyShut ? std::max(hit.open, 0.6) : 0;
    hit.openFor = anyShut ? std::max(hit.openFor, step) : Beat(0);
  });
}

void Editing::setVelocity(int velocity) {
  change(tr("Velocity %1").arg(velocity), [&](Hit& h) { h.velocity = Velocity(velocity); });
}

void Editing::addVelocity(int by, Merge merge) {
  change(
      tr("Velocity %1%2").arg(by > 0 ? QStringLiteral("+") : QString()).arg(by),
      [&](Hit& h) { h.velocity = Velocity(h.velocity.value() + by); }, merge);
}

void Editing::addNudge(Milliseconds by, Merge merge) {
  change(
      tr("Nudge %1").arg(signedMs(by)), [&](Hit& h) { h.nudge += by; }, merge);
}

const std::vector<Grid>& Editing::grids() {
  static const std::vector<Grid> all = {
      {8, false}, {8, true}, {16, false}, {16, true}, {32, false}};
  return all;
}

void Editing::setGrid(Grid grid) {
  Groove changed = groove();
  changed.grid = grid;
  applyGroove(tr("Grid %1").arg(QString::fromStdString(grid.toString())), std::move(changed));
}

void Editing::stepGrid(int by) {
  const auto& all = grids();
  const auto found = std::find(all.begin(), all.end(), groove().grid);
  const auto index = found == all.end() ? 2 : found - all.begin();
  setGrid(all[static_cast<std::size_t>(
      std::clamp<std::ptrdiff_t>(index + by, 0, std::ssize(all) - 1))]);
}

void Editing::repeatFirstBar() {
  if (groove().bars == 1) return Q_EMIT said(tr("This groove has only one bar"));
  applyGroove(tr("First bar over the rest"), uneven::repeatFirstBar(groove()));
}

void Editing::runTool(const std::string& name, const Arguments& arguments) {
  Result<ToolOutcome> outcome = uneven::runTool(name, groove(), *document_.song().kit, arguments);
  if (!outcome) return Q_EMIT said(QString::fromStdString(outcome.error().message));
  QStringList notes;
  for (const std::string& note : outcome->notes) notes << QString::fromStdString(note);
  const QString title = QString::fromStdString(findTool(name)->title);
  applyGroove(title, std::move(outcome->groove));
  Q_EMIT said(title + QStringLiteral(": ") + notes.join(QStringLiteral(", ")));
}

void Editing::addGroove(const QString& step, Groove groove) {
  std::string id;
  Song song = withNewGroove(document_.song(), std::move(groove), "groove", id);
  if (!document_.apply(step, std::move(song))) return;
  document_.chooseGroove(id);
  moveCursor(Beat(0), cursorPiece_);
}

void Editing::newGroove() {
  Groove fresh = groove();
  fresh.name = "New groove";
  fresh.hits.clear();
  fresh.extras = {};
  addGroove(tr("New groove, played at the end of the song"), std::move(fresh));
}

void Editing::duplicateGroove() {
  Groove copy = groove();
  copy.name += " copy";
  addGroove(tr("%1, played at the end of the song").arg(QString::fromStdString(copy.name)),
            std::move(copy));
}

void Editing::renameGroove(const QString& name) {
  if (name.trimmed().isEmpty()) return;
  Groove renamed = groove();
  renamed.name = name.trimmed().toStdString();
  applyGroove(tr("Groove named %1").arg(name.trimmed()), std::move(renamed));
}

void Editing::deleteGroove() {
  if (document_.song().grooves.size() < 2) {
    return Q_EMIT said(tr("A song keeps at least one groove"));
  }
  const QString name = QString::fromStdString(groove().name);
  document_.apply(tr("Groove %1 deleted with its sections").arg(name),
                  withoutGroove(document_.song(), groove().id));
}

void Editing::copy() {
  if (!needSelection()) return;
  // As a song of one groove, so that any window of the program can read it.
  Song carrier = blankSong();
  carrier.grooves[0].edit([&](Groove& g) {
    g.meter = {64, 1};
    g.bars = kBarsMax;
    g.hits = copyHits(groove(), selection_);
  });
  auto* data = new QMimeData;
  data->setData(kHitsFormat, QByteArray::fromStdString(writeSong(carrier)));
  QGuiApplication::clipboard()->setMimeData(data);
  Q_EMIT said(tr("%1 hits copied").arg(selection_.size()));
}

void Editing::cut() {
  if (!needSelection()) return;
  copy();
  const std::size_t count = selection_.size();
  applyGroove(tr("%1 hits cut").arg(count), withoutHits(groove(), selection_));
}

void Editing::paste() {
  const QMimeData* data = QGuiApplication::clipboard()->mimeData();
  const bool tab = data != nullptr && !data->hasFormat(kHitsFormat) && data->hasText() &&
                   data->text().contains(QLatin1Char('|'));
  if (tab) return pasteTab(data->text().toStdString());
  if (data == nullptr || !data->hasFormat(kHitsFormat)) {
    return Q_EMIT said(tr("There are no hits on the clipboard"));
  }
  const Result<Song> carrier = readSong(data->data(kHitsFormat).toStdString(), "clipboard");
  if (!carrier || carrier->grooves.empty()) {
    return Q_EMIT said(tr("The hits on the clipboard cannot be read"));
  }
  pasteHits(carrier->grooves[0]->hits);
}

void Editing::pasteTab(const std::string& text) {
  const Result<TabReading> read = readDrumTab(text, *document_.song().kit, "clipboard");
  if (!read) {
    return Q_EMIT said(
        tr("Drum tab not read. %1").arg(QString::fromStdString(read.error().line())));
  }
  pasteHits(read->groove.hits);
  Q_EMIT said(tr("Drum tab pasted: %1").arg(QString::fromStdString(read->notes.front())));
}

void Editing::pasteHits(const std::vector<Hit>& hits) {
  Pasted pasted = uneven::pasteHits(groove(), hits, cursorAt_);
  QString step = tr("%1 hits pasted").arg(pasted.selection.size());
  if (pasted.leftOut > 0) step += tr(", %1 beyond the end left out").arg(pasted.leftOut);
  applyGroove(step, std::move(pasted.groove));
  select(std::move(pasted.selection));
}

}  // namespace uneven
