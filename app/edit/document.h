// SPDX-License-Identifier: GPL-3.0-or-later
// The song that is open: the one truth, its undo steps and its file.
//
// Edits flow one way: a widget makes a changed Song with a pure edit and hands it to apply(); the
// undo stack keeps the songs before and after; changed() tells the views to read again. No view
// keeps a second copy.
//
// While a hand drags, a SongGesture (gesture.h) is open: what it applies is shown at once but
// becomes a step only when the hand lets go. A gesture that is given up, or ends where it began,
// leaves undo and redo as they were.
#pragma once

#include <QObject>
#include <QString>
#include <QUndoStack>
#include <functional>
#include <memory>

#include "app/controls/aside.h"
#include "core/io/file_system.h"
#include "core/song/edit.h"
#include "core/song/snapshot.h"
#include "core/song/song.h"
#include "core/take/take.h"
#include "core/voice/kit_maps.h"

namespace uneven {

// Which edits become one undo step with the one before.
struct Merge {
  int key = 0;         // 0: never
  bool timed = false;  // only within a second, for wheels and held keys; else for a whole gesture
};

class Document : public QObject {
  Q_OBJECT
 public:
  // `clock` gives milliseconds on a steady clock; it tells which edits follow each other closely.
  Document(FileSystem& files, KitMapLibrary& kitMaps, std::function<Milliseconds()> clock,
           QObject* parent = nullptr);
  // The undo stack tells of its end; nobody should ask what is gone by then.
  ~Document() override { undo_.blockSignals(true); }

  const Song& song() const { return song_; }
  const Groove& groove() const;  // the one that is edited
  const std::string& grooveId() const { return grooveId_; }
  const Feel& feel() const;  // in force for that groove
  // That groove alone, where the song plays it first: always of the song as it is now.
  const Take& take() const { return *take_; }
  const SharedTake& sharedTake() const { return take_; }
  Tempo tempo() const;  // there
  Beat start() const;   // there
  // Which of the places that play it is meant; nothing: the first one.
  AtPlace at() const { return at_ && song_.plays(grooveId_, *at_) ? at_ : std::nullopt; }
  // "Verse, 2nd of 8"; empty where the song does not play it.
  QString atText() const;
  // Where that is.
  struct Place {
    std::optional<std::uint32_t> block;  // of the whole song; nothing: the song does not play it
    int bar = 0;                         // of the whole song
  };
  Place place() const;
  // The block of a song's score, as it stands or listened to otherwise, that is there.
  const Score::Block* blockIn(const Score& score) const;
  // The whole song as arranged; nullptr when it cannot be, see songError().
  const Score* songScore() const;
  // The whole song as performed, made once an edit when somebody asks. nullptr: it cannot be
  // arranged, or it is long and being made aside; then songTaken() follows. Never of another song
  // than the one shown.
  SharedTake songTake() const;
  const std::optional<Error>& songError() const { return songError_; }
  // Songs of fewer strokes are performed between two frames, longer ones on a worker thread.
  static constexpr std::int64_t kStrokesAtOnce = 4'000;
  // Built-in kit maps and those that have been read since.
  KitMapLibrary& kitMaps() { return kitMaps_; }
  const KitMapLibrary& kitMaps() const { return kitMaps_; }
  // Grows with every change of the song.
  std::uint64_t revision() const { return revision_; }

  void chooseGroove(const std::string& id);
  void choosePlace(const std::string& id, const GroovePlace& at);
  // To the next (+1) or the last (-1) place of the song, whatever groove it plays.
  void stepPlace(int by);

  // False, with a message, when the change would break a limit of the song; nothing is changed
  // then.
  bool apply(const QString& step, Song after, Merge merge = {});
  // The next edit is a step of its own, however closely it follows.
  void breakMerge() { ++epoch_; }
  static int newMergeKey();
  // Gives up a gesture that is open, else takes the last step back. Whoever asks is told where what
  // has changed by it stands.
  void undo();
  void redo();
  QUndoStack& undoStack() { return undo_; }

  // Another song, with an empty history. `path` empty: not saved yet.
  void replace(Song song, const QString& path);
  // As replace, but counts as unsaved: restored after a crash.
  void restore(Song song, const QString& path);
  // The same file, as somebody else has written it: one step of undo, and nothing is unsaved.
  void reread(Song song);
  Status save(const QString& path);
  const QString& path() const { return path_; }
  // Where the recording that the song names is, seen from the song's folder; empty: it has none.
  QString recording() const;
  bool modified() const { return !undo_.isClean() || restored_ || gesture_; }
  QString fileTitle() const;  // the file's name, or the song's title

 Q_SIGNALS:
  void changed();   // song, groove or performance
  void replaced();  // another song altogether
  // Undone or done again: where the first difference is.
  void turned(const std::string& groove, const HitRef& hit);
  void songTaken() const;          // songTake() has it now
  void fileChanged();              // path or modified
  void said(const QString& what);  // for the status line

 private:
  friend class SongStep;
  friend class SongGesture;
  struct OpenGesture {
    int key = 0;
    QString step;
    Song before;
  };
  Milliseconds now() const { return clock_(); }
  void show(Song song, std::optional<Score> whole = {});
  void songChanged(std::optional<Score> whole);
  void performed(SharedTake take, std::uint64_t of) const;
  void refresh();
  void push(const QString& step, Song after, Merge merge, std::optional<Score> whole = {});
  void turn(const std::function<void()>& step);
  void endGesture();     // what it has changed becomes a step
  void cancelGesture();  // or is taken back

  FileSystem& files_;
  std::function<Milliseconds()> clock_;
  KitMapLibrary& kitMaps_;
  Song song_;
  std::uint64_t revision_ = 0;
  std::string grooveId_;
  AtPlace at_;
  SharedTake take_;
  mutable std::optional<Score> songScore_;  // of the song as it is, once asked for
  mutable std::optional<Error> songError_;
  mutable SharedTake songTake_;
  mutable Aside<SharedTake> performing_;  // one at a time, however quickly edits come
  mutable bool songAsked_ = false;        // and not answered yet
  Feel straight_;
  QUndoStack undo_;
  std::shared_ptr<const SongSnapshot> kept_;  // of the song, but for an open gesture
  std::optional<OpenGesture> gesture_;
  int epoch_ = 0;
  QString path_;
  bool restored_ = false;
};

}  // namespace uneven
