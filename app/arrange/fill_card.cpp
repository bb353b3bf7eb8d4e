// SPDX-License-Identifier: GPL-3.0-or-later
// The card of fills.
#include "app/arrange/fill_card.h"

#include <QGridLayout>
#include <QLabel>
#include <QPainter>

#include "app/controls/action_button.h"
#include "app/controls/choice_field.h"
#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "app/drawing/mini_groove.h"
#include "core/perform/passage.h"
#include "core/song/names.h"
#include "core/song/positions.h"
#include "core/tools/fill_library.h"

namespace uneven {

// The last bar with the fill in it, what is the fill's in brass.
class FillPicture : public QWidget {
 public:
  FillPicture(const FillCard& card, const Groove& base, Arranging& arranging)
      : card_(card), base_(base), arranging_(arranging) {
    setObjectName(QStringLiteral("fill-picture"));
    setFixedHeight(84);
  }

 protected:
  void paintEvent(QPaintEvent* /*event*/) override {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(theme::kLine, 1));
    p.setBrush(theme::kPaper);
    p.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 4, 4);
    if (!card_.preview()) return;
    paintMini(p, QRectF(rect()).adjusted(4, 6, -4, -6), *card_.preview(), &base_,
              *arranging_.song().kit);
  }

 private:
  const FillCard& card_;
  const Groove& base_;
  Arranging& arranging_;
};

FillCard::FillCard(Arranging& arranging, QWidget* parent)
    : FieldCard(parent), arranging_(arranging) {
  QGridLayout* grid = section(tr("Fill"));
  const auto again = [this] {
    makePreview();
    FieldCard::read();
  };
  addChoice(
      grid,
      {tr("From"), "fill-source", tr("A recipe, a fill of the library, or a groove of the song")},
      [this](ChoiceField& field) {
        field.addHeading(tr("Made of the groove"));
        for (const FillRecipe& recipe : fillRecipes())
          field.addItem(qs(recipe.title), QStringLiteral("recipe ") + qs(recipe.id));
        field.addHeading(tr("Library"));
        for (const LibraryFill& one : fillLibrary())
          field.addItem(tr("%1 (%2)").arg(qs(one.groove.name)).arg(one.beats.toDouble()),
                        QStringLiteral("groove ") + qs(one.groove.id));
        field.addHeading(tr("The song's grooves"));
        for (const auto& groove : arranging_.song().grooves)
          field.addItem(qs(groove->name), QStringLiteral("groove ") + qs(groove->id));
      },
      [this] {
        return source_.recipe.empty() ? QStringLiteral("groove ") + qs(source_.groove)
                                      : QStringLiteral("recipe ") + qs(source_.recipe);
      },
      [this, again](const QVariant& word) {
        const QString text = word.toString();
        const std::string id = text.mid(7).toStdString();
        source_ = text.startsWith(QStringLiteral("recipe ")) ? Source{id, {}} : Source{{}, id};
        for (const LibraryFill& one : fillLibrary()) {
          if (one.groove.id == source_.groove) beats_ = one.beats;
        }
        again();
      });
  addBeat(
      grid, {tr("How long"), "fill-beats", tr("Quarter notes, exact: 2, 3/2")},
      {Beat(1, 4), Beat(256)}, [this] { return beats_; },
      [this, again](Beat beats) {
        beats_ = beats;
        again();
      });
  addNumber(
      grid, {tr("Every"), "fill-every", tr("In every so many passes; 0: in the section's last")},
      tr("times"), {0, kSongBarsMax, 1, 0, false}, [this] { return every_; },
      [this, again](double every, bool) {
        every_ = static_cast<int>(every);
        again();
      });
  addNumber(
      grid, {tr("Take"), "fill-seed", tr("The same number gives the same fill")}, {},
      {1, 1'000'000, 1, 0, false}, [this] { return seed_; },
      [this, again](double seed, bool) {
        seed_ = static_cast<int>(seed);
        again();
      });
  addChoice(
      grid,
      {tr("Never the same"), "fill-another", tr("Each fill of the section has a take of its own")},
      [](ChoiceField& field) {
        field.addItem(tr("no"), false);
        field.addItem(tr("yes"), true);
      },
      [this] { return another_; }, [this](const QVariant& yes) { another_ = yes.toBool(); });
  addChoice(
      grid, {tr("After it"), "fill-after", tr("What the next pass or section begins with")},
      [](ChoiceField& field) { fillWith<FillAfter>(field); }, [this] { return qs(textOf(after_)); },
      [this](const QVariant& word) {
        after_ = fromText<FillAfter>(word.toString().toStdString()).value_or(after_);
      });
  picture_ = new FillPicture(*this, base_, arranging_);
  addWidget(picture_);
  says_ = addText(QStringLiteral("fill-says"));
  addButton(tr("Hear it"), QStringLiteral("fill-hear"),
            tr("Round and round in its place; again: as the song has it (H)"),
            [this] { Q_EMIT hearWanted(); });
  addButton(
      tr("Take it"), QStringLiteral("fill-take"), tr("Into the section (F)"), [this] { take(); },
      true);
  addButton(tr("No fill"), QStringLiteral("fill-none"), tr("The section's passes end as written"),
            [this] { arranging_.noFill(); });
  addStretch();
  connect(&arranging_, &Arranging::changed, this, [this] {
    if (isVisible()) read();
  });
}

FillPlan FillCard::plan() const {
  FillPlan plan;
  plan.asked.recipe = source_.recipe;
  plan.asked.beats = beats_;
  plan.asked.seed = static_cast<std::uint64_t>(seed_);
  plan.asked.bpm = arranging_.bpmAtEnd();
  plan.every = every_;
  plan.another = another_;
  plan.after = after_;
  return plan;
}

void FillCard::makePreview() {
  const Song& song = arranging_.song();
  const Section& section = arranging_.chosen();
  preview_.reset();
  const Groove* base = song.findGroove(section.pass().back());
  if (base == nullptr) return;
  base_ = *base;
  Result<Groove> fill = Error{ErrorCode::kUnknown, "there is no such groove", {}};
  if (source_.recipe.empty()) {
    for (const LibraryFill& one : fillLibrary()) {
      if (one.groove.id == source_.groove) fill = one.groove;
    }
    if (const Groove* own = song.findGroove(source_.groove)) fill = *own;
  } else {
    fill = makeFill(*base, *song.kit, plan().asked);
  }
  if (fill && (beats_ > fill->length() || beats_ > base->length()))
    fill = Error{
        ErrorCode::kLimit, tr("it has no %1 quarters").arg(beats_.toDouble()).toStdString(), {}};
  if (!fill) {
    says_->setText(qs(fill.error().message));
    return picture_->update();
  }
  PassChange change;
  change.fill = FillSpan{base->length() - beats_, base->length(), &*fill, fill->length() - beats_};
  preview_ = passageOf(*base, section, *song.kit, change);
  const double bpm = arranging_.bpmAtEnd();
  // Its last bars are enough, and looked at between two frames.
  constexpr int kBarsTried = 4;
  const Groove last = lastBars(*preview_, Beat(kBarsTried) * preview_->meter.barLength());
  const Tried tried = triedBy(song, last, Profile{}, bpm);
  says_->setText(tried.comfortable >= bpm
                     ? tr("%1, comfortable here").arg(qs(triedText(tried, bpm)))
                     : qs(triedText(tried, bpm)));
  picture_->update();
}

void FillCard::read() {
  // The fields are those of the section's fill until they are changed.
  const std::optional<std::size_t> now = arranging_.section();
  if (of_ != now) {
    of_ = now;
    if (const auto& fill = arranging_.chosen().fill) {
      source_ = {{}, fill->groove};
      beats_ = fill->beats;
      every_ = fill->every;
      after_ = fill->after;
      another_ = fill->takes().size() > 1;
    }
  }
  makePreview();
  FieldCard::read();
}

void FillCard::take() {
  if (!source_.recipe.empty()) return arranging_.fill(plan());
  const Groove* groove = arranging_.song().findGroove(source_.groove);
  for (const LibraryFill& one : fillLibrary()) {
    if (groove == nullptr && one.groove.id == source_.groove) groove = &one.groove;
  }
  if (groove == nullptr) return;
  arranging_.apply(
      tr("Fill in %1").arg(qs(arranging_.chosen().name)),
      withFillFrom(arranging_.song(), arranging_.section(), *groove, beats_, every_, after_));
}

}  // namespace uneven
