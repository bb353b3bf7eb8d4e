// SPDX-License-Identifier: GPL-3.0-or-later
// Undo as a stack of Songs.
#include "app/edit/document.h"

#include <QDir>
#include <QFileInfo>
#include <QUndoCommand>
#include <algorithm>
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

Document::Document(FileSystem& files, KitMapLibrary& kitMaps, std::function<Milliseconds()> clock,
                   QObject* parent)
    : QObject(parent), files_(files), clock_(std::move(clock)), kitMaps_(kitMaps) {
  undo_.setUndoLimit(500);
  connect(&undo_, &QUndoStack::cleanChanged, this, &Document::fileChanged);
  replace(blankSong(), {});
}

const Groove& Document::groove() const {
  return *take_->score().blocks.front().groove;
}

const Feel& Document::feel() const {
  const Feel* feel = song_.findFeel(feelInForce(song_, grooveId_, at()));
  return feel == nullptr ? straight_ : *feel;
}

Beat Document::start() const {
  return take_->score().blocks.front().start;
}
Tempo Document::tempo() const {
  return take_->score().tempo.tempoAt(start());
}

void Document::chooseGroove(const std::string& id) {
  if ((id == grooveId_ && !at_) || song_.findGroove(id) == nullptr) return;
  endGesture();
  grooveId_ = id;
  at_.reset();
  refresh();
  Q_EMIT changed();
}

void Document::choosePlace(const std::string& id, const GroovePlace& at) {
  if (!song_.plays(id, at) || (id == grooveId_ && at == at_)) return;
  endGesture();
  grooveId_ = id;
  at_ = at;
  refresh();
  Q_EMIT changed();
}

void Document::stepPlace(int by) {
  const Score* score = songScore();
  if (score == nullptr || score->blocks.empty()) return;
  const auto here = place().block;
  const auto last = static_cast<std::ptrdiff_t>(score->blocks.size()) - 1;
  const std::ptrdiff_t to =
      here ? std::clamp<std::ptrdiff_t>(static_cast<std::ptrdiff_t>(*here) + by, 0, last) : 0;
  const Score::Block& block = score->blocks[static_cast<std::size_t>(to)];
  choosePlace(block.groove->id, {block.section, static_cast<int>(block.pass)});
  Q_EMIT said(atText());
}

QString Document::atText() const {
  const Score* score = songScore();
  const Score::Block* block = score == nullptr ? nullptr : blockIn(*score);
  if (block == nullptr) return {};
  const Section& section = score->sections[block->section];
  const QString name = QString::fromStdString(section.name);
  if (section.repeat == 1) return name;
  return tr("%1, %2 of %3").arg(name).arg(block->pass + 1).arg(section.repeat);
}

const Score::Block* Document::blockIn(const Score& score) const {
  return blockAt(score, grooveId_, at());
}

Document::Place Document::place() const {
  Place place;
  place.bar = take_->score().blocks.front().firstBar;
  const Score* whole = songScore();
  if (whole == nullptr) return place;
  if (const Score::Block* block = blockIn(*whole))
    place.block = static_cast<std::uint32_t>(block - whole->blocks.data());
  return place;
}

const Score* Document::songScore() const {
  if (!songScore_ && !songError_) {
    Result<Score> score = arrange(song_);
    if (score) {
      songScore_ = *std::move(score);
    } else {
      songError_ = score.error();
    }
  }
  return songScore_ ? &*songScore_ : nullptr;
}

SharedTake Document::songTake() const {
  if (songTake_ || songError_) return songTake_;
  const Score* score = songScore();
  if (score == nullptr) return nullptr;
  if (score->strokes <= kStrokesAtOnce) {
    songTake_ = std::make_shared<const Take>(song_, *score);
    return songTake_;
  }
  songAsked_ = true;
  if (performing_.busy()) return nullptr;
  performing_.ask(
      [song = song_, score = *score](const AsideWork& work) -> SharedTake {
        auto take = std::make_shared<const Take>(song, score, work.stop);
        if (work.cancelled()) return nullptr;
        take->prepare();
        return take;
      },
      [this, of = revision_](SharedTake take) { performed(std::move(take), of); },
      [this, of = revision_] {
        if (of == revision_)
          songError_ = Error{ErrorCode::kLimit, "the song could not be performed", {}};
        performed(nullptr, of);
      });
  return nullptr;
}

// Whoever waits is told; where the song is another by now, once that one is there.
void Document::performed(SharedTake take, std::uint64_t of) const {
  if (of == revision_) songTake_ = std::move(take);
  if (!songAsked_) return;
  if (!songTake_ && !songError_ && !songTake()) return;
  songAsked_ = false;
  Q_EMIT songTaken();
}

// What was made of the song before is let go.
void Document::songChanged(std::optional<Score> whole) {
  ++revision_;
  performing_.stop();
  songScore_ = std::move(whole);
  songError_.reset();
  songTake_.reset();
}

void Document::refresh() {
  if (song_.findGroove(grooveId_) == nullptr) {
    if (song_.grooves.empty()) song_.grooves = blankSong().grooves;
    grooveId_ = song_.grooves.front()->id;
  }
  Result<SharedTake> take = Take::ofGroove(song_, grooveId_, at());
  if (!take) return Q_EMIT said(QString::fromStdString(take.error().line()));
  take_ = *std::move(take);
}

void Document::show(Song song, std::optional<Score> whole) {
  song_ = std::move(song);
  songChanged(std::move(whole));
  refresh();
  Q_EMIT changed();
}

bool Document::apply(const QString& step, Song after, Merge merge) {
  const bool dragged = merge.key != 0 && !merge.timed;
  if (gesture_ && !(dragged && gesture_->key == merge.key)) endGesture();
  if (after == song_) return true;
  Result<Score> whole = arrange(after);
  if (!whole) {
    Q_EMIT said(tr("Not done: %1").arg(QString::fromStdString(whole.error().message)));
    return false;
  }
  const int squeezedBefore = take_->performance().squeezed;
  const int heldBefore = take_->performance().held;
  if (dragged) {
    const bool begins = !gesture_;
    if (begins) gesture_ = OpenGesture{merge.key, step, song_};
    gesture_->step = step;
    show(std::move(after), *std::move(whole));
    if (begins) Q_EMIT fileChanged();
  } else {
    push(step, std::move(after), merge, *std::move(whole));
  }
  QString said = step;
  const Performance& performance = take_->performance();
  if (performance.squeezed > squeezedBefore) {
    said = tr("%1. Squeezed, since the stroke before is too near: %2 ornaments here")
               .arg(step)
               .arg(performance.squeezed);
  }
  if (performance.held > heldBefore) {
    said +=
        tr(". Held, since they would pass their neighbours: %1 strokes here").arg(performance.held);
  }
  Q_EMIT this->said(said);
  return true;
}

void Document::push(const QString& step, Song after, Merge merge, std::optional<Score> whole) {
  auto before = kept_;
  kept_ = SongSnapshot::of(after, before.get());
  undo_.push(new SongStep(*this, step, std::move(before), kept_, merge));
  if (after != song_) show(std::move(after), std::move(whole));
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

namespace {

// The first hit that one of two grooves has and the other has not, or has otherwise.
std::optional<HitRef> firstDifference(const Groove& a, const Groove& b) {
  const auto [x, y] = std::mismatch(a.hits.begin(), a.hits.end(), b.hits.begin(), b.hits.end());
  std::optional<HitRef> out;
  if (x != a.hits.end()) out = HitRef{x->at, x->piece};
  if (y != b.hits.end() && (!out || HitRef{y->at, y->piece} < *out)) out = HitRef{y->at, y->piece};
  return out;
}

}  // namespace

void Document::undo() {
  if (gesture_) return cancelGesture();
  turn([this] { undo_.undo(); });
}

void Document::redo() {
  turn([this] { undo_.redo(); });
}

void Document::turn(const std::function<void()>& step) {
  const Song before = song_;
  step();
  // The groove at hand first: what is seen there need not be looked for.
  std::vector<std::string> ids{grooveId_};
  for (const auto& groove : song_.grooves) ids.push_back(groove->id);
  for (const std::string& id : ids) {
    const Groove* now = song_.findGroove(id);
    const Groove* then = before.findGroove(id);
    if (now == nullptr || then == nullptr || now == then || *now == *then) continue;
    if (const auto where = firstDifference(*then, *now)) return Q_EMIT turned(id, *where);
    return Q_EMIT turned(id, HitRef{Beat(0), piece::kHat});
  }
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
  songChanged({});
  path_ = path;
  grooveId_.clear();
  at_.reset();
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

void Document::reread(Song song) {
  apply(tr("Read again: another program changed the file"), std::move(song));
  undo_.setClean();
  restored_ = false;
  Q_EMIT fileChanged();
}

namespace {

// Where a song's recording lies, seen from another folder; nothing where that says the same.
std::optional<std::string> seenFrom(const Song& song, const QString& before, const QString& path) {
  if (!song.audio || song.audio->file.empty()) return std::nullopt;
  const QDir to = QFileInfo(path).absoluteDir();
  QString file = QString::fromStdString(song.audio->file);
  if (QFileInfo(file).isRelative()) {
    if (before.isEmpty() || QFileInfo(before).absoluteDir() == to) return std::nullopt;
    file = QFileInfo(before).absoluteDir().absoluteFilePath(file);
  }
  return to.relativeFilePath(QDir::cleanPath(file)).toStdString();
}

}  // namespace

QString Document::recording() const {
  if (!song_.audio || song_.audio->file.empty()) return {};
  const QString file = QString::fromStdString(song_.audio->file);
  if (QFileInfo(file).isAbsolute() || path_.isEmpty()) return file;
  return QFileInfo(path_).dir().filePath(file);
}

Status Document::save(const QString& path) {
  endGesture();
  // The song is another only once it has been saved there.
  std::optional<Song> moved;
  QString step;
  if (song_.title.empty() || song_.title == blankSong().title) {
    moved = song_;
    moved->title = QFileInfo(path).completeBaseName().toStdString();
    step = tr("Titled as it is saved");
  }
  if (const auto file = seenFrom(song_, path_, path)) {
    if (!moved) moved = song_;
    moved->audio->file = *file;
    step = tr("The recording, seen from where the song is");
  }
  Status saved = saveAtomically(files_, path.toStdString(), writeSong(moved ? *moved : song_));
  if (!saved) return saved;
  path_ = path;
  if (moved) apply(step, *std::move(moved));
  restored_ = false;
  undo_.setClean();
  Q_EMIT fileChanged();
  return saved;
}

QString Document::fileTitle() const {
  return path_.isEmpty() ? QString::fromStdString(song_.title) : QFileInfo(path_).fileName();
}

}  // namespace uneven
