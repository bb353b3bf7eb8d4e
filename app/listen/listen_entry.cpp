// SPDX-License-Identifier: GPL-3.0-or-later
// What Listen adds to the window.
#include <QEventLoop>

#include "app/listen/listen_stage.h"
#include "app/stage/menu_titles.h"
#include "app/stage/stage.h"
#include "core/perform/drift.h"

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
  entry.keys = {{listenTr("up, down"), listenTr("the bar before, the next one")},
                {listenTr("Enter"), listenTr("the chosen bar is bar 1")},
                {listenTr("H, D"), listenTr("half the tempo, double the tempo")},
                {listenTr("E, Shift+E"), listenTr("the beat an eighth later, earlier")},
                {listenTr("M"), listenTr("the next meter")},
                {listenTr("Delete"), listenTr("leaves the chosen bar out, or takes it in again")}};
  entry.pictures = listenPictures;
  return entry;
}

}  // namespace uneven
