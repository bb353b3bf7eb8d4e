// SPDX-License-Identifier: GPL-3.0-or-later
// The song that is open: the one truth, its undo steps and its file.
//
// Edits flow one way: a widget makes a changed Song with a pure edit and hands it to apply(); the
// undo stack keeps the Songs before and after; changed() tells the views to read again. No view
// keeps a second copy.
#pragma once

#include <QObject>
#include <QString>
#include <QUndoStack>
#include <functional>
#include <memory>

#include "core/io/file_system.h"
#include "core/perform/performance.h"
#include "core/song/song.h"

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
  Document(FileSystem& files, std::function<Milliseconds()> clock, QObject* parent = nullptr);

  const Song& song() const { return song_; }
  const Groove& groove() const;  // the one that is edited
  const std::string& grooveId() const { return grooveId_; }
  const Feel& feel() const;  // in force for that groove
  // That groove alone, where the song plays it first.
  const Score& score() const { return score_; }
  const Performance& performance() const { return performance_; }
  Tempo tempo() const;  // there
  Beat start() const;   // there

  void chooseGroove(const std::string& id);

  // False, with a message, when the change would break a limit of the song; nothing is changed
  // then.
  bool apply(const QString& step, Song after, Merge merge = {});
  // Takes back the last step without leaving it for redo: a gesture was cancelled.
  void cancelLast();
  static int newMergeKey();
  QUndoStack& undoStack() { return undo_; }

  // Another song, with an empty history. `path` empty: not saved yet.
  void replace(Song song, const QString& path);
  // As replace, but counts as unsaved: restored after a crash.
  void restore(Song song, const QString& path);
  Status load(const QString& path);
  Status save(const QString& path);
  const QString& path() const { return path_; }
  bool modified() const { return !undo_.isClean() || restored_; }
  QString fileTitle() const;  // the file's name, or the song's title

 Q_SIGNALS:
  void changed();                  // song, groove or performance
  void replaced();                 // another song altogether
  void fileChanged();              // path or modified
  void said(const QString& what);  // for the status line

 private:
  friend class SongStep;
  Milliseconds now() const { return clock_(); }
  void show(const Song& song);
  bool refresh();

  FileSystem& files_;
  std::function<Milliseconds()> clock_;
  Song song_;
  std::string grooveId_;
  Score score_;
  Performance performance_;
  Feel straight_;
  QUndoStack undo_;
  QString path_;
  bool restored_ = false;
};

}  // namespace uneven
