// SPDX-License-Identifier: GPL-3.0-or-later
// Undo as a stack of Songs.
#include "app/shell/document.h"

#include <QFileInfo>
#include <QUndoCommand>

#include "core/io/atomic_save.h"
#include "core/io/song_json.h"
#include "core/song/edit.h"

namespace uneven {

constexpr Milliseconds kMergeWithin{1000};

class SongStep : public QUndoCommand {
 public:
  SongStep(Document& document, const QString& name, Song after, Merge merge)
      : QUndoCommand(name),
        document_(document),
        before_(document.song()),
        after_(std::move(after)),
        merge_(merge),
        when_(document.now()) {}
  int id() const override { return merge_.key == 0 ? -1 : merge_.key; }
  bool mergeWith(const QUndoCommand* next) override {
    const auto& later = static_cast<const SongStep&>(*next);
    if (merge_.timed && later.when_ - when_ > kMergeWithin) return false;
    after_ = later.after_;
    when_ = later.when_;
    return true;
  }
  void undo() override {
    if (forgotten_) setObsolete(true);  // the stack then throws it away instead of keeping a redo
    document_.show(before_);
  }
  void redo() override { document_.show(after_); }
  void forget() { forgotten_ = true; }

 private:
  Document& document_;
  Song before_;
  Song after_;
  Merge merge_;
  bool forgotten_ = false;
  Milliseconds when_;
};

Document::Document(FileSystem& files, std::function<Milliseconds()> clock, QObject* parent)
    : QObject(parent), files_(files), clock_(std::move(clock)) {
  undo_.setUndoLimit(500);
  connect(&undo_, &QUndoStack::cleanChanged, this, &Document::fileChanged);
  replace(blankSong(), {});
}

const Groove& Document::groove() const {
  return *score_.blocks.front().groove;
}

const Feel& Document::feel() const {
  const Feel* feel = song_.findFeel(feelInForce(song_, grooveId_));
  return feel == nullptr ? straight_ : *feel;
}

Beat Document::start() const {
  return score_.blocks.front().start;
}
Tempo Document::tempo() const {
  return score_.tempo.tempoAt(start());
}

void Document::chooseGroove(const std::string& id) {
  if (id == grooveId_ || song_.findGroove(id) == nullptr) return;
  grooveId_ = id;
  refresh();
  Q_EMIT changed();
}

bool Document::refresh() {
  if (song_.findGroove(grooveId_) == nullptr) {
    if (song_.grooves.empty()) song_.grooves = blankSong().grooves;
    grooveId_ = song_.grooves.front()->id;
  }
  Result<Score> score = arrangeGroove(song_, grooveId_);
  if (!score) {
    Q_EMIT said(QString::fromStdString(score.error().line()));
    return false;
  }
  score_ = *std::move(score);
  performance_ = perform(score_);
  return true;
}

void Document::show(const Song& song) {
  song_ = song;
  refresh();
  Q_EMIT changed();
}

bool Document::apply(const QString& step, Song after, Merge merge) {
  if (after == song_) return true;
  if (const Result<Score> whole = arrange(after); !whole) {
    Q_EMIT said(tr("Not done: %1").arg(QString::fromStdString(whole.error().message)));
    return false;
  }
  const int squeezedBefore = performance_.squeezed;
  const int heldBefore = performance_.held;
  undo_.push(new SongStep(*this, step, std::move(after), merge));
  QString said = step;
  if (performance_.squeezed > squeezedBefore) {
    said = tr("%1. Squeezed, since the stroke before is too near: %2 ornaments here")
               .arg(step)
               .arg(performance_.squeezed);
  }
  if (performance_.held > heldBefore) {
    said += tr(". Held, since they would pass their neighbours: %1 strokes here")
                .arg(performance_.held);
  }
  Q_EMIT this->said(said);
  return true;
}

void Document::cancelLast() {
  if (!undo_.canUndo()) return;
  // The stack shows its commands as const, but it is we who put them there.
  auto* step = const_cast<QUndoCommand*>(undo_.command(undo_.index() - 1));
  static_cast<SongStep*>(step)->forget();
  undo_.undo();
}

int Document::newMergeKey() {
  static int last = 0;
  return ++last;
}

void Document::replace(Song song, const QString& path) {
  undo_.clear();
  restored_ = false;
  song_ = std::move(song);
  path_ = path;
  grooveId_.clear();
  refresh();
  Q_EMIT replaced();
  Q_EMIT changed();
  Q_EMIT fileChanged();
}

void Document::restore(Song song, const QString& path) {
  replace(std::move(song), path);
  restored_ = true;
  Q_EMIT fileChanged();
}

Status Document::load(const QString& path) {
  const Result<std::string> text = files_.read(path.toStdString());
  if (!text) return text.error();
  Result<Song> song = readSong(*text, QFileInfo(path).fileName().toStdString());
  if (!song) return song.error();
  replace(*std::move(song), path);
  return Done{};
}

Status Document::save(const QString& path) {
  Status saved = saveAtomically(files_, path.toStdString(), writeSong(song_));
  if (!saved) return saved;
  path_ = path;
  restored_ = false;
  undo_.setClean();
  Q_EMIT fileChanged();
  return saved;
}

QString Document::fileTitle() const {
  return path_.isEmpty() ? QString::fromStdString(song_.title) : QFileInfo(path_).fileName();
}

}  // namespace uneven
