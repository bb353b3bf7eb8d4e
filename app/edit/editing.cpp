// SPDX-License-Identifier: GPL-3.0-or-later
// The intents of the Strike stage.
#include "app/edit/editing.h"

#include <QClipboard>
#include <QGuiApplication>
#include <QMimeData>
#include <algorithm>
#include <cmath>

#include "app/controls/labels.h"
#include "core/io/song_json.h"
#include "core/measure/level.h"
#include "core/song/core_groove.h"
#include "core/song/limbs.h"
#include "core/song/names.h"
#include "core/song/slots.h"
#include "core/time/count.h"

namespace uneven {
namespace {

const QString kHitsFormat = QStringLiteral("application/x-uneven-stick-hits");

constexpr double kUsualOpening = 0.6;

QString countText(std::size_t count, const QString& what) {
  return count == 1 ? what : Editing::tr("%1 × %2").arg(count).arg(what);
}

int ghostsAbove(const Groove& groove) {
  return static_cast<int>(std::count_if(groove.hits.begin(), groove.hits.end(), [](const Hit& h) {
    return h.role == Role::kGhost && h.velocity.value() > kGhostCeiling;
  }));
}
int accentsBelow(const Groove& groove) {
  return static_cast<int>(std::count_if(groove.hits.begin(), groove.hits.end(), [](const Hit& h) {
    return h.role == Role::kAccent && h.velocity.value() < kAccentFloor;
  }));
}

// What an edit has pushed over a ghost's ceiling or under an accent's floor, to be told.
QString newlyBeyond(const Groove& before, const Groove& after) {
  QString out;
  if (const int n = ghostsAbove(after); n > ghostsAbove(before)) {
    out += Editing::tr(", ghosts above their ceiling of %1: %2").arg(kGhostCeiling).arg(n);
  }
  if (const int n = accentsBelow(after); n > accentsBelow(before)) {
    out += Editing::tr(", accents below their floor of %1: %2").arg(kAccentFloor).arg(n);
  }
  return out;
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
  const bool drawnGone = drawn_ && drawnMove() == nullptr;
  if (drawnGone) drawn_.reset();
  if (kept != selection_ || drawnGone) {
    selection_ = std::move(kept);
    Q_EMIT selectionChanged();
  }
  if (cursorAt_ >= groove().length()) {
    cursorAt_ = Beat(0);
    Q_EMIT cursorMoved();
  }
}

void Editing::select(Selection selection) {
  if (selection == selection_ && !drawn_) return;
  selection_ = std::move(selection);
  drawn_.reset();
  document_.breakMerge();
  Q_EMIT selectionChanged();
}

void Editing::chooseDrawn(Beat at) {
  document_.breakMerge();
  selection_.clear();
  drawn_ = at;
  cursorAt_ = at;
  cursorPiece_ = piece::kHat;
  Q_EMIT selectionChanged();
  Q_EMIT cursorMoved();
}

const PedalMove* Editing::drawnMove() const {
  if (!drawn_ || !groove().pedal) return nullptr;
  const auto& moves = groove().pedal->moves;
  const auto found = std::find_if(moves.begin(), moves.end(),
                                  [&](const PedalMove& move) { return move.at == *drawn_; });
  return found == moves.end() ? nullptr : &*found;
}

void Editing::selectAll() {
  Selection all;
  for (std::size_t i = 0; i < groove().hits.size(); ++i) all.insert(refOf(groove(), i));
  select(std::move(all));
  Q_EMIT said(tr("%1 hits selected").arg(selection_.size()));
}

void Editing::moveCursor(Beat at, PieceId piece, Limb lane) {
  cursorAt_ = at;
  cursorPiece_ = piece;
  cursorLimb_ = lane;
  const HitRef there{at, piece};
  select(indexOf(groove(), there) ? Selection{there} : Selection{});
  Q_EMIT cursorMoved();
}

void Editing::extendCursor(Beat at, PieceId piece, Limb lane) {
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
  cursorLimb_ = lane;
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
  return Velocity(static_cast<int>(roundToInt(medianOf(std::move(same)))));
}

PieceId Editing::struckBy(Limb limb, Beat at, PieceId fallback) const {
  const std::vector<Limb> limbs = limbsOf(groove(), *document_.song().kit);
  for (std::size_t i = 0; i < limbs.size(); ++i) {
    if (limbs[i] == limb && groove().hits[i].at == at) return groove().hits[i].piece;
  }
  return fallback;
}

QString Editing::countAt(Beat at) const {
  const Beat bar = groove().meter.barLength();
  return QString::fromStdString(
      countName(at - Beat(at.floorDiv(bar)) * bar, groove().meter).text());
}

void Editing::toggleAt(Beat at, PieceId piece, Limb lane) {
  const HitRef there{at, piece};
  const Kit& kit = *document_.song().kit;
  const QString name = QString::fromStdString(kit[piece].name);
  if (indexOf(groove(), there)) {
    applyGroove(tr("%1 taken off %2").arg(name, countAt(at)), withoutHits(groove(), {there}));
    moveCursor(at, piece, lane);
    return;
  }
  Hit hit;
  hit.at = at;
  hit.piece = piece;
  if (lane != kit.usualLimb(piece)) hit.limb = lane;
  hit.velocity = velocityFor(piece, Role::kNormal);
  applyGroove(tr("%1 on %2").arg(name, countAt(at)), withHit(groove(), std::move(hit)));
  moveCursor(at, piece, lane);
}

void Editing::enter(Beat at, PieceId piece, Role role, bool open) {
  Hit hit;
  hit.at = at;
  hit.piece = piece;
  hit.role = role;
  hit.velocity = velocityFor(piece, role);
  if (open) {
    hit.open = kUsualOpening;
    hit.openFor = slotLength(groove(), at);
  }
  const QString name = QString::fromStdString((*document_.song().kit)[piece].name);
  applyGroove(tr("%1 on %2").arg(name, countAt(at)), withHit(groove(), std::move(hit)));
  moveCursor(std::min(slotAfter(groove(), at), slotBefore(groove(), groove().length())), piece);
}

void Editing::clearSlot(Beat at) {
  Selection there;
  for (std::size_t i = 0; i < groove().hits.size(); ++i) {
    if (groove().hits[i].at == at) there.insert(refOf(groove(), i));
  }
  if (there.empty()) return;
  applyGroove(tr("All taken off %1").arg(countAt(at)), withoutHits(groove(), there));
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
  const QString beyond = newlyBeyond(groove(), edited.groove);
  selection_ = edited.selection;
  applyGroove(countText(selection_.size(), step) + beyond, std::move(edited.groove), merge);
  if (before != selection_) Q_EMIT selectionChanged();
}

void Editing::setRole(Role role) {
  change(qs(spokenName(role)), [&](Hit& hit) {
    if (hit.role == role) return;
    hit.role = role;
    hit.velocity = velocityFor(hit.piece, role);
  });
}

void Editing::setSide(Side side) {
  const Kit& kit = *document_.song().kit;
  const auto limbFor = [&](const Hit& hit) {
    const Limb usual = kit.usualLimb(hit.piece);
    const bool right = usual == Limb::kRightHand || usual == Limb::kRightFoot;
    return usual == Limb::kAutomatic || right == (side == Side::kRight) ? usual : mirrored(usual);
  };
  const auto indices = indicesOf(groove(), selection_);
  const bool all = std::all_of(indices.begin(), indices.end(), [&](std::size_t i) {
    return groove().hits[i].limb == limbFor(groove().hits[i]);
  });
  const QString step = all ? tr("Limb automatic") : side == Side::kRight ? tr("Right") : tr("Left");
  change(step, [&](Hit& hit) { hit.limb = all ? Limb::kAutomatic : limbFor(hit); });
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
  change(anyShut ? tr("Open hat") : tr("Shut hat"), [&](Hit& hit) {
    if (hit.piece != piece::kHat) return;
    hit.open = anyShut ? std::max(hit.open, kUsualOpening) : 0;
    hit.openFor = anyShut ? std::max(hit.openFor, slotLength(groove(), hit.at)) : Beat(0);
  });
}

void Editing::openTo(double open, Merge merge) {
  if (const PedalMove* move = drawnMove()) {
    PedalMove changed = *move;
    changed.open = open;
    return setMove(changed, merge);
  }
  const int percent = static_cast<int>(std::lround(100 * open));
  change(
      percent == 0 ? tr("Shut") : tr("Open %1 %").arg(percent),
      [&](Hit& hit) {
        if (hit.piece != piece::kHat) return;
        // What is opened first is a bark.
        if (hit.open <= 0 && hit.openFor == Beat(0)) {
          hit.openFor = slotAfter(groove(), hit.at) - hit.at;
        }
        hit.open = open;
        if (open <= 0) hit.openFor = Beat(0);
      },
      merge);
}

void Editing::openFor(Beat length, Merge merge) {
  if (const PedalMove* move = drawnMove()) {
    PedalMove changed = *move;
    changed.length = length;
    return setMove(changed, merge);
  }
  change(
      length == Beat(0) ? tr("Open until the next stroke")
                        : tr("Open for %1").arg(QString::fromStdString(length.toString())),
      [&](Hit& hit) {
        if (hit.piece == piece::kHat) hit.openFor = length;
      },
      merge);
}

void Editing::changePedal(const QString& step, const std::function<void(Pedal&)>& change,
                          Merge merge) {
  Groove changed = groove();
  if (!changed.pedal) changed.pedal.emplace();
  change(*changed.pedal);
  applyGroove(step, std::move(changed), merge);
}

void Editing::setMove(const PedalMove& move, Merge merge) {
  const int percent = static_cast<int>(std::lround(100 * move.open));
  changePedal(
      percent == 0 ? tr("Drawn opening taken away") : tr("Opening drawn, %1 %").arg(percent),
      [&](Pedal& pedal) {
        takeMove(pedal, move.at);
        if (percent > 0) putMove(pedal, move);
      },
      merge);
}

void Editing::startDrawn(Beat at, Merge merge) {
  const PedalMove* move = drawnMove();
  if (move == nullptr || at == move->at) return;
  PedalMove changed = *move;
  changed.at = at;
  const Beat before = *drawn_;
  drawn_ = at;  // so that it stays chosen
  changePedal(
      tr("Drawn opening from %1").arg(countAt(at)),
      [&](Pedal& pedal) {
        takeMove(pedal, before);
        takeMove(pedal, at);
        putMove(pedal, changed);
      },
      merge);
  chooseDrawn(drawnMove() != nullptr ? at : before);
}

void Editing::replaceGroove(const QString& step, Groove groove) {
  applyGroove(step, std::move(groove));
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
  static const std::vector<Grid> all = {{8, 0}, {8, 3}, {16, 0}, {16, 3}, {32, 0}};
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

const std::vector<Grid>& Editing::beatGrids() {
  static const std::vector<Grid> all = {{8, 0},  {8, 3},  {16, 0}, {16, 5},
                                        {16, 3}, {16, 7}, {32, 0}};
  return all;
}

void Editing::setBeatGrid(Grid grid) {
  const Beat start = beatStart(groove(), cursorAt_);
  applyGroove(tr("Beat on %1 in %2").arg(countAt(start), QString::fromStdString(grid.toString())),
              withBeatGrid(groove(), start, grid));
}

void Editing::stepBeatGrid(int by) {
  const auto& all = beatGrids();
  const auto found = std::find(all.begin(), all.end(), gridAt(groove(), cursorAt_));
  const auto index = found == all.end() ? 2 : found - all.begin();
  setBeatGrid(all[static_cast<std::size_t>(
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
  const Groove& like = groove();
  Groove fresh;
  fresh.name = "New groove";
  fresh.meter = like.meter;
  fresh.bars = like.bars;
  fresh.grid = like.grid;
  fresh.feel = like.feel;
  addGroove(tr("New groove, played at the end of the song"), std::move(fresh));
}

void Editing::duplicateGroove() {
  Groove copy = groove();
  copy.name += " copy";
  const QString step =
      tr("%1, played at the end of the song").arg(QString::fromStdString(copy.name));
  addGroove(step, std::move(copy));
}

void Editing::embellishGroove() {
  Groove version = groove();
  if (version.core.empty()) version.core = version.id;
  version.name += " embellished";
  version.extras = {};
  addGroove(tr("A version of %1 to embellish, played at the end of the song")
                .arg(QString::fromStdString(groove().name)),
            std::move(version));
}

const Groove* Editing::core() const {
  return groove().core.empty() ? nullptr : document_.song().findGroove(groove().core);
}

void Editing::backToCore() {
  const Groove* plain = core();
  if (plain == nullptr) return Q_EMIT said(tr("This groove embellishes no other"));
  applyGroove(tr("Back to %1").arg(QString::fromStdString(plain->name)),
              uneven::backToCore(*plain, groove()));
}

void Editing::moveGroove(int by) {
  Song moved = withGrooveMoved(document_.song(), groove().id, by);
  if (moved == document_.song()) return;
  document_.apply(by < 0 ? tr("Groove up the list") : tr("Groove down the list"), std::move(moved));
}

void Editing::setKit(const QString& step, Kit kit) {
  Song song = document_.song();
  song.kit = SharedValue<Kit>(std::move(kit));
  document_.apply(step, std::move(song));
}

void Editing::setAim(SeparationAim aim, Merge merge) {
  aim.low = std::clamp(std::round(aim.low), 0.0, kAimMax);
  aim.high = std::clamp(std::round(aim.high), aim.low, kAimMax);
  if (aim == document_.song().aim) return;
  Song song = document_.song();
  song.aim = aim;
  document_.apply(tr("Aim %1 to %2 dB").arg(aim.low).arg(aim.high), std::move(song), merge);
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
  // As a song of one groove, so that any window of the program can read it. With the kit: what is
  // struck goes by its id.
  Song carrier = blankSong();
  carrier.kit = document_.song().kit;
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
  Song song = document_.song();
  std::vector<Hit> hits = carrier->grooves[0]->hits;
  const Carried carried = carryPieces(song, *carrier->kit, hits);
  pasteHits(std::move(song), hits);
  if (!carried.added.empty() || carried.leftOut > 0) {
    Q_EMIT said(tr("%1 hits pasted%2%3")
                    .arg(hits.size())
                    .arg(carried.added.empty()
                             ? QString()
                             : tr(", with %1 added to the kit").arg(qs(carried.added)))
                    .arg(carried.leftOut == 0
                             ? QString()
                             : tr(", %1 left out since the kit is full").arg(carried.leftOut)));
  }
}

std::optional<TabReading> Editing::readTab(const std::string& text, const std::string& file) {
  const Kit& kit = *document_.song().kit;
  LaneNames names;
  for (const std::string& lane : unknownLanes(text, kit)) {
    const auto piece = askLane_ ? askLane_(lane) : std::nullopt;
    if (!piece) break;  // what is not answered stands in the error below
    names[lane] = *piece;
  }
  Result<TabReading> read = readDrumTab(text, kit, file, names);
  if (!read) {
    Q_EMIT said(tr("Drum tab not read. %1").arg(QString::fromStdString(read.error().line())));
    return std::nullopt;
  }
  return *std::move(read);
}

void Editing::pasteTab(const std::string& text) {
  const std::optional<TabReading> read = readTab(text, "clipboard");
  if (!read) return;
  pasteHits(document_.song(), read->groove.hits);
  Q_EMIT said(tr("Drum tab pasted: %1").arg(QString::fromStdString(read->notes.front())));
}

void Editing::takeGroove(const QString& step, Groove groove, const QString& name) {
  groove.name = name.toStdString();
  groove.feel = this->groove().feel;
  addGroove(step, std::move(groove));
}

void Editing::pasteHits(Song song, const std::vector<Hit>& hits) {
  Pasted pasted = uneven::pasteHits(groove(), hits, cursorAt_);
  QString step = tr("%1 hits pasted").arg(pasted.selection.size());
  if (pasted.leftOut > 0) step += tr(", %1 beyond the end left out").arg(pasted.leftOut);
  if (!document_.apply(step, withGroove(std::move(song), std::move(pasted.groove)))) return;
  select(std::move(pasted.selection));
}

}  // namespace uneven
