// SPDX-License-Identifier: GPL-3.0-or-later
// Undo as a stack of Songs.
#include "app/edit/document.h"

#include <QFileInfo>
#include <QUndoCommand>
#include <utility>

#include "core/io/atomic_save.h"
#include "core/io/song_json.h"
#include "core/song/edit.h"

namespace uneven {

constexpr Milliseconds kMergeWithin{1000};

class SongStep : public QUndoCommand {
 public:
  SongStep(Document& document, const QString& name, std::shared_ptr<const SongSnapshot> before,
           std::shared_ptr<const SongSnapshot> after, Merge merge)
      : QUndoCommand(name),
        document_(document),
        before_(std::move(before)),
        after_(std::move(after)),
        groove_(document.grooveId()),
        merge_(merge),
        epoch_(document.epoch_),
        when_(document.now()) {}
  int id() const override { return merge_.key == 0 ? -1 : merge_.key; }
  bool mergeWith(const QUndoCommand* next) override {
    const auto& later = static_cast<const SongStep&>(*next);
    if (later.groove_ != groove_ || later.epoch_ != epoch_) return false;
    if (later.when_ - when_ > kMergeWithin) return false;
    after_ = later.after_;
    when_ = later.when_;
    if (*after_ == *before_) setObsolete(true);  // back where it began: no step at all
    return true;
  }
  void undo() override { show(before_, *after_); }
  // Pushed for what is shown already.
  void redo() override {
    if (done_) show(after_, *before_);
    done_ = true;
  }

 private:
  void show(const std::shared_ptr<const SongSnapshot>& wanted, const SongSnapshot& now) {
    Song song = wanted->song(document_.song(), now);
    document_.kept_ = wanted;
    document_.show(std::move(song));
  }

  Document& document_;
  std::shared_ptr<const SongSnapshot> before_;
  std::shared_ptr<const SongSnapshot> after_;
  std::string groove_;
  Merge merge_;
  int epoch_;
  bool done_ = false;
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
  endGesture();
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

void Document::show(Song song) {
  song_ = std::move(song);
  ++revision_;
  refresh();
  Q_EMIT changed();
}

bool Document::apply(const QString& step, Song after, Merge merge) {
  const bool dragged = merge.key != 0 && !merge.timed;
  if (gesture_ && !(dragged && gesture_->key == merge.key)) endGesture();
  if (after == song_) return true;
  if (const Result<Score> whole = arrange(after); !whole) {
    Q_EMIT said(tr("Not done: %1").arg(QString::fromStdString(whole.error().message)));
    return false;
  }
  const int squeezedBefore = performance_.squeezed;
  const int heldBefore = performance_.held;
  if (dragged) {
    const bool begins = !gesture_;
    if (begins) gesture_ = OpenGesture{merge.key, step, song_};
    gesture_->step = step;
    show(std::move(after));
    if (begins) Q_EMIT fileChanged();
  } else {
    push(step, std::move(after), merge);
  }
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

void Document::push(const QString& step, Song after, Merge merge) {
  auto before = kept_;
  kept_ = SongSnapshot::of(after, before.get());
  undo_.push(new SongStep(*this, step, std::move(before), kept_, merge));
  if (after != song_) show(std::move(after));
}

void Document::endGesture() {
  if (!gesture_) return;
  const OpenGesture ended = *std::exchange(gesture_, std::nullopt);
  if (ended.before != song_) push(ended.step, song_, {});
  Q_EMIT fileChanged();
}

void Document::cancelGesture() {
  if (!gesture_) return;
  OpenGesture ended = *std::exchange(gesture_, std::nullopt);
  if (ended.before != song_) show(std::move(ended.before));
  Q_EMIT fileChanged();
}

void Document::undo() {
  if (gesture_) return cancelGesture();
  undo_.undo();
}

SongGesture::SongGesture(Document& document)
    : document_(document), merge_{Document::newMergeKey(), false} {}

bool SongGesture::isOpen() const {
  return document_.gesture_ && document_.gesture_->key == merge_.key;
}

void SongGesture::commit() {
  if (isOpen()) document_.endGesture();
}

void SongGesture::cancel() {
  if (isOpen()) document_.cancelGesture();
}

int Document::newMergeKey() {
  static int last = 0;
  return ++last;
}

void Document::replace(Song song, const QString& path) {
  gesture_.reset();
  undo_.clear();
  restored_ = false;
  song_ = std::move(song);
  kept_ = SongSnapshot::of(song_, nullptr);
  ++revision_;
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

Status Document::save(const QString& path) {
  endGesture();
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
