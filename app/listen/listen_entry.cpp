// SPDX-License-Identifier: GPL-3.0-or-later
// What Listen adds to the window.
#include <QEventLoop>

#include "app/listen/compare_card.h"
#include "app/listen/listen_stage.h"
#include "app/stage/menu_titles.h"
#include "app/stage/stage.h"
#include "core/perform/drift.h"
#include "core/song/edit.h"

namespace uneven {
namespace {

void listenActions(ActionTable& table, StageDoor& door) {
  ActionEntry& open = table.add(menus::file(), ListenStage::tr("Open a &take to listen to…"), {},
                                [&door] { shown<ListenStage>(door).askForTake(); });
  open.keys = {QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_O)};
}

// The demo's groove as a body would play it, heard as if nothing were known of it.
void listenPictures(Photographer& photographer) {
  ListenStage& stage = shown<ListenStage>(photographer);
  Song theirs = photographer.editing().document().song();
  const std::string id = theirs.grooves.front()->id;
  constexpr int kTimes = 12;
  for (Feel& feel : theirs.feels) {
    if (!feel.drift) feel.drift.emplace();
    feel.drift = withPreset(*feel.drift, driftPresets().back());
  }
  // Somebody else: the backbeat farther back, the ghosts louder, one kick more.
  theirs.grooves.front().edit([](Groove& g) {
    for (Hit& hit : g.hits) {
      if (hit.piece == piece::kSnare && hit.role == Role::kAccent) hit.nudge += Milliseconds(9);
      if (hit.role == Role::kGhost) hit.velocity = Velocity(hit.velocity.value() + 14);
    }
    Hit kick;
    kick.at = Beat(11, 4);
    kick.piece = piece::kKick;
    kick.velocity = Velocity(92);
    g = withHit(std::move(g), kick);
  });
  Section section;
  section.name = section.groove = id;
  section.repeat = kTimes;
  theirs.arrangement = {section};
  theirs.tempo = {theirs.tempo.front()};
  const Result<SharedTake> take = Take::ofSong(std::move(theirs));
  if (!take) return;
  Recording recording;
  recording.file = "ferry-horn-take-3.mid";
  for (const Stroke& s : (*take)->strokes()) {
    Onset o;
    o.seconds = toMilliseconds(s.time).count() / 1'000 + 0.125;
    o.piece = s.piece;
    o.velocity = s.velocity.value();
    recording.onsets.push_back(o);
  }
  QEventLoop loop;
  QObject::connect(&stage.listener(), &Listener::changed, &loop, [&] {
    if (!stage.listener().fitting()) loop.quit();
  });
  stage.listener().take(std::move(recording));
  if (stage.listener().fitting()) loop.exec();
  photographer.take(QStringLiteral("listen"), stage.listener().found() != nullptr);
  stage.showSide(ListenStage::Side::kCompare);
  stage.compareCard().step(1);
  photographer.take(QStringLiteral("listen-compare"), stage.compareCard().found() != nullptr);
  stage.showSide(ListenStage::Side::kFound);
}

}  // namespace

StageEntry listenEntry() {
  StageEntry entry = entryOf<ListenStage>(
      ListenStage::tr("L&isten"), ListenStage::tr("The tempo, swing and lean of a recording"));
  entry.actions = listenActions;
  entry.keys = {
      {ListenStage::tr("up, down"), ListenStage::tr("the bar before, the next one")},
      {ListenStage::tr("Enter"), ListenStage::tr("the chosen bar is bar 1")},
      {ListenStage::tr("H, D"), ListenStage::tr("half the tempo, double the tempo")},
      {ListenStage::tr("E, Shift+E"), ListenStage::tr("the beat an eighth later, earlier")},
      {ListenStage::tr("M"), ListenStage::tr("the next meter")},
      {ListenStage::tr("S"), ListenStage::tr("one tempo for all of it, or one that moves")},
      {ListenStage::tr("A"), ListenStage::tr("the next of what it may mean")},
      {ListenStage::tr("Z"), ListenStage::tr("the chosen bar alone, with the sound's energy")},
      {ListenStage::tr("R"),
       ListenStage::tr("listens to a take that is played now; again: ends it")},
      {ListenStage::tr("P"), ListenStage::tr("plays the recording by itself from the chosen bar")},
      {ListenStage::tr("K, B"), ListenStage::tr("while it plays: marks a beat, a bar line")},
      {ListenStage::tr("G, Shift+G"), ListenStage::tr("the recording beside the part; it alone")},
      {ListenStage::tr("1, 2, 3"), ListenStage::tr("hears my part straight, as it is, as theirs")},
      {ListenStage::tr("N, Shift+N"),
       ListenStage::tr("the next place where mine differs from theirs, the one before")},
      {ListenStage::tr("left, right"),
       ListenStage::tr("the strokes of the chosen bar; L leaves one out")},
      {ListenStage::tr(", ."),
       ListenStage::tr("the beat a millisecond earlier, later; with Shift ten")},
      {ListenStage::tr("Shift+up, down"), ListenStage::tr("chooses several bars")},
      {ListenStage::tr("O"), ListenStage::tr("only the chosen bars count")},
      {ListenStage::tr("Delete"),
       ListenStage::tr("leaves the chosen bars out, or takes them in again")}};
  entry.pictures = listenPictures;
  return entry;
}

}  // namespace uneven
