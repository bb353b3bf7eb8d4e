// SPDX-License-Identifier: GPL-3.0-or-later
// What Listen adds to the window.
#include <QEventLoop>

#include "app/listen/listen_stage.h"
#include "app/stage/menu_titles.h"
#include "app/stage/stage.h"
#include "core/perform/drift.h"
#include "core/song/edit.h"

namespace uneven {
namespace {

QString listenTr(const char* text) {
  return ListenStage::tr(text);
}

ListenStage& listenOf(Stage& stage) {
  return static_cast<ListenStage&>(stage);
}

void listenActions(ActionTable& table, StageDoor& door) {
  ActionEntry& open = table.add(menus::file(), listenTr("Open a &take to listen to…"), {}, [&door] {
    listenOf(door.showStage(QStringLiteral("listen"))).askForTake();
  });
  open.keys = {QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_O)};
}

// The demo's groove as a body would play it, heard as if nothing were known of it.
void listenPictures(Photographer& photographer) {
  ListenStage& stage = listenOf(photographer.stage(QStringLiteral("listen")));
  Song song = photographer.editing().document().song();
  const std::string id = song.grooves.front()->id;
  constexpr int kTimes = 12;
  for (Feel& feel : song.feels) {
    if (!feel.drift) feel.drift.emplace();
    feel.drift = withPreset(*feel.drift, driftPresets().back());
  }
  // Somebody else: the backbeat farther back, the ghosts louder, one kick more.
  song.grooves.front().edit([](Groove& g) {
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
  song.arrangement = {section};
  song.tempo = {song.tempo.front()};
  const Result<SharedTake> take = Take::ofSong(std::move(song));
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
  photographer.take(QStringLiteral("listen"));
  stage.showSide(ListenStage::Side::kCompare);
  photographer.take(QStringLiteral("listen-compare"));
  stage.showSide(ListenStage::Side::kFound);
}

}  // namespace

StageEntry listenEntry() {
  StageEntry entry;
  entry.id = QStringLiteral("listen");
  entry.title = listenTr("L&isten");
  entry.purpose = listenTr("The tempo, swing and lean of a recording");
  entry.make = [](const Workplace& place, QWidget* parent) -> Stage* {
    return new ListenStage(place, parent);
  };
  entry.actions = listenActions;
  entry.keys = {
      {listenTr("up, down"), listenTr("the bar before, the next one")},
      {listenTr("Enter"), listenTr("the chosen bar is bar 1")},
      {listenTr("H, D"), listenTr("half the tempo, double the tempo")},
      {listenTr("E, Shift+E"), listenTr("the beat an eighth later, earlier")},
      {listenTr("M"), listenTr("the next meter")},
      {listenTr("Z"), listenTr("the chosen bar alone, with the sound's energy")},
      {listenTr("R"), listenTr("listens to a take that is played now; again: ends it")},
      {listenTr("P"), listenTr("plays the recording by itself from the chosen bar")},
      {listenTr("K, B"), listenTr("while it plays: marks a beat, a bar line")},
      {listenTr("G, Shift+G"), listenTr("the recording beside the part; it alone")},
      {listenTr("1, 2, 3"), listenTr("hears my part straight, as it is, as theirs")},
      {listenTr("left, right"), listenTr("the strokes of the chosen bar; L leaves one out")},
      {listenTr(", ."), listenTr("the beat a millisecond earlier, later; with Shift ten")},
      {listenTr("Shift+up, down"), listenTr("chooses several bars")},
      {listenTr("O"), listenTr("only the chosen bars count")},
      {listenTr("Delete"), listenTr("leaves the chosen bars out, or takes them in again")}};
  entry.pictures = listenPictures;
  return entry;
}

}  // namespace uneven
