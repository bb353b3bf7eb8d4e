// SPDX-License-Identifier: GPL-3.0-or-later
// The intents of sections.
#include "app/arrange/arranging.h"

#include <algorithm>

#include "app/controls/labels.h"
#include "core/arrange/form.h"
#include "core/arrange/joints.h"
#include "core/arrange/write_out.h"

namespace uneven {

Arranging::Arranging(Editing& editing, QObject* parent)
    : QObject(parent), editing_(editing), document_(editing.document()) {
  connect(&document_, &Document::changed, this, &Arranging::read);
  connect(&document_, &Document::replaced, this, [this] { section_ = block_ = 0; });
  read();
}

void Arranging::read() {
  sections_ = song().sections();
  section_ = std::min(section_, sections_.size() - 1);
  const auto [from, to] = blocks();
  block_ = to > from ? std::min(block_, to - from - 1) : 0;
  Q_EMIT changed();
}

void Arranging::choose(std::size_t section, std::size_t block) {
  section = std::min(section, sections_.size() - 1);
  if (section == section_ && block == block_) return;
  section_ = section;
  block_ = block;
  read();
}

std::pair<std::size_t, std::size_t> Arranging::blocks() const {
  const Score* score = document_.songScore();
  if (score == nullptr) return {0, 0};
  const auto& all = score->blocks;
  const auto from = std::lower_bound(
      all.begin(), all.end(), section_,
      [](const Score::Block& block, std::size_t section) { return block.section < section; });
  const auto to = std::upper_bound(
      from, all.end(), section_,
      [](std::size_t section, const Score::Block& block) { return section < block.section; });
  return {static_cast<std::size_t>(from - all.begin()), static_cast<std::size_t>(to - all.begin())};
}

double Arranging::bpm() const {
  const Score* score = document_.songScore();
  if (score == nullptr) return song().tempo.front().bpm.value;
  return bpmAt(song().tempo, score->spans[section_].start).value;
}

double Arranging::bpmAtEnd() const {
  const Score* score = document_.songScore();
  if (score == nullptr) return bpm();
  const Score::Span& span = score->spans[section_];
  return score->tempo.tempoAt(std::max(span.start, span.end - Beat(1))).bpm().value;
}

const TempoMark* Arranging::mark() const {
  const Score* score = document_.songScore();
  if (score == nullptr) return nullptr;
  for (const TempoMark& mark : song().tempo) {
    if (mark.at == score->spans[section_].start) return &mark;
  }
  return nullptr;
}

void Arranging::setTempoAlong(bool along) {
  along_ = along;
  Q_EMIT changed();
}

bool Arranging::apply(const QString& step, Result<Song> song, Merge merge) {
  if (!song) {
    Q_EMIT refused(qs(song.error().message));
    return false;
  }
  return document_.apply(step, *std::move(song), merge);
}

void Arranging::change(const QString& step, const std::function<void(Section&)>& edit,
                       Merge merge) {
  Section section = chosen();
  edit(section);
  apply(step, withSectionChanged(song(), section_, std::move(section), goes()), merge);
}

void Arranging::setTimes(int times, Merge merge) {
  times = std::clamp(times, 1, kSongBarsMax);
  apply(tr("%1: %2 times").arg(qs(chosen().name)).arg(times),
        withSectionRepeated(song(), section_, times, goes()), merge);
}

void Arranging::level(double by, bool end) {
  static const int key = Document::newMergeKey();
  const auto held = [](double db) { return std::clamp(db, -kLevelDbMost, kLevelDbMost); };
  change(end ? tr("Level at the end") : tr("Level"),
         [&](Section& s) {
           const double last = s.toLevelDb.value_or(s.levelDb);
           if (!end) s.levelDb = held(s.levelDb + by);
           if (end) s.toLevelDb = held(last + by);
           if (s.toLevelDb == s.levelDb) s.toLevelDb.reset();
         },
         {key, true});
}

void Arranging::split() {
  const Section& section = chosen();
  const bool inside = section.repeat == 1 && section.grooves.size() > 1;
  const auto inPass = static_cast<int>(section.pass().size());
  int passes = inside ? static_cast<int>(block_) : static_cast<int>(block_) / inPass;
  if (passes == 0) passes = (inside ? inPass : section.repeat) / 2;
  if (apply(tr("%1 split").arg(qs(section.name)), withSectionSplit(song(), section_, passes)))
    choose(section_ + 1);
}

void Arranging::join() {
  apply(tr("%1 and the next joined").arg(qs(chosen().name)), withSectionsJoined(song(), section_));
}

void Arranging::moveTo(std::size_t from, std::size_t to) {
  to = std::min(to, count() - 1);
  if (from >= count() || from == to) return;
  if (apply(tr("%1 moved").arg(qs(sections_[from].name)),
            withSectionMoved(song(), from, to, goes())))
    choose(to);
}

void Arranging::move(int by) {
  const auto to = static_cast<std::ptrdiff_t>(section_) + by;
  if (to < 0 || to >= static_cast<std::ptrdiff_t>(count())) return;
  moveTo(section_, static_cast<std::size_t>(to));
}

void Arranging::duplicate() {
  if (apply(tr("%1 once more").arg(qs(chosen().name)),
            withSectionDoubled(song(), section_, goes())))
    choose(section_ + 1);
}

void Arranging::remove() {
  if (count() == 1) return Q_EMIT refused(tr("The last section stays"));
  apply(tr("%1 deleted").arg(qs(chosen().name)), withoutSection(song(), section_, goes()));
}

void Arranging::add(const std::string& groove) {
  const Groove* known = song().findGroove(groove);
  if (known == nullptr) return;
  Section section;
  section.groove = groove;
  section.name = known->name;
  if (apply(tr("%1 as a section").arg(qs(known->name)),
            withSectionAt(song(), section_ + 1, std::move(section), goes())))
    choose(section_ + 1);
}

void Arranging::writeOut() {
  const std::size_t before = song().grooves.size();
  if (apply(tr("%1 written out").arg(qs(chosen().name)), writtenOut(song(), section_)))
    Q_EMIT said(tr("%1 bars are grooves of their own now; Enter opens one")
                    .arg(song().grooves.size() - before));
}

void Arranging::fold() {
  Folded folded = foldedUp(song());
  const QString text = qs(foldText(folded));
  if (apply(tr("Folded"), std::move(folded.song))) Q_EMIT said(text);
}

void Arranging::smooth(double aboveMs) {
  if (apply(tr("The seam into %1 smoothed").arg(qs(chosen().name)),
            withSmoothSeam(song(), section_, Milliseconds(aboveMs))))
    Q_EMIT said(tr("It turns over %1 quarters").arg(chosen().morph.toDouble()));
}

void Arranging::fill(const FillPlan& plan) {
  apply(tr("Fill in %1").arg(qs(chosen().name)), withFill(song(), section_, plan));
}

void Arranging::noFill() {
  change(tr("No fill"), [](Section& s) { s.fill.reset(); });
}

void Arranging::applyTemplate(const TemplateAsked& asked) {
  Result<Templated> made = withTemplate(song(), section_, asked);
  if (!made) return Q_EMIT refused(qs(made.error().message));
  QString title;
  for (const SectionTemplate& one : sectionTemplates()) {
    if (one.id == asked.id) title = qs(one.title);
  }
  const QString note = qs(made->note);
  if (apply(title, std::move(made->song)) && !note.isEmpty())
    Q_EMIT said(tr("%1: %2").arg(title, note));
}

void Arranging::setForm(const QString& text) {
  apply(tr("Form"), withForm(song(), text.toStdString(), goes()));
}

void Arranging::setBpm(double bpm, Merge merge) {
  const TempoMark* there = mark();
  const Beat at = sectionStarts(song())[section_];
  apply(tr("Tempo %1 in %2").arg(bpm).arg(qs(chosen().name)),
        withTempoMark(song(), at, Bpm{bpm}, there != nullptr && there->ramp), merge);
}

void Arranging::setRamp(bool ramp) {
  const Beat at = sectionStarts(song())[section_];
  const TempoMark* there = mark();
  const double here = bpm();
  Song after = withTempoMark(song(), at, Bpm{here}, ramp,
                             there == nullptr ? std::string() : there->relation);
  if (ramp && after.tempo.back().at == at)
    return Q_EMIT refused(tr("There is no tempo behind it to go to: set one first"));
  apply(ramp ? tr("The tempo goes evenly to the next") : tr("The tempo holds"), std::move(after));
}

void Arranging::noMark() {
  apply(tr("The tempo before goes on"), withoutTempoMark(song(), sectionStarts(song())[section_]));
}

void Arranging::setRelation(const QString& text) {
  const Result<TempoRelation> relation = readRelation(text.toStdString());
  if (!relation) return Q_EMIT refused(qs(relation.error().message));
  apply(tr("%1 at %2").arg(text, qs(chosen().name)),
        withTempoRelation(song(), section_, *relation));
}

void Arranging::open() {
  const Score* score = document_.songScore();
  if (score == nullptr) return;
  const auto [from, to] = blocks();
  if (from + block_ >= to) return;
  const Score::Block& block = score->blocks[from + block_];
  document_.choosePlace(block.groove->id, {block.section, static_cast<int>(block.pass)});
  Q_EMIT opened();
}

}  // namespace uneven
