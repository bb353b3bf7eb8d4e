// SPDX-License-Identifier: GPL-3.0-or-later
// The card of seams.
#include "app/lean/seams_card.h"

#include <QGridLayout>
#include <QLabel>
#include <QVBoxLayout>

#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "core/measure/seam.h"

namespace uneven {
namespace {

std::vector<Seam> seamsOf(const Document& document) {
  const Score* score = document.songScore();
  return score == nullptr ? std::vector<Seam>{} : seams(*score);
}

}  // namespace

SeamsCard::SeamsCard(Editing& editing, QWidget* parent) : FeelCard(editing, parent) {}

void SeamsCard::setBound(double ms) {
  bound_ = ms;
  if (isVisible()) read();
}

void SeamsCard::build() {
  clear();
  rows_.clear();
  QGridLayout* grid = section(tr("From feel to feel"));
  boundField_ = new NumberField(QStringLiteral("ms"), {1, 200, 1, 1, false}, this);
  addRow(grid, tr("Warn above"), boundField_, QStringLiteral("seam-bound"),
         tr("A change of an interval by more than this, in ms, is marked"));
  connect(boundField_, &NumberField::edited, this, [this](double ms, bool) { setBound(ms); });
  const std::vector<Seam> found = seamsOf(document());
  for (std::size_t i = 0; i < found.size(); ++i) {
    down_->addSpacing(8);
    Row row{found[i].section, nullptr, strongLabel({}, 13, this), nullptr};
    row.title->setWordWrap(true);
    down_->addWidget(row.title);
    QGridLayout* fields = section({});
    row.beats = new NumberField(tr("quarters"), {0, 256, 1, 1, false}, this);
    addRow(fields, tr("Turns over"), row.beats, QStringLiteral("seam-beats-%1").arg(i),
           tr("For so many quarter notes from the section's start the ratio and the displacement "
              "glide; 0: at once"));
    row.jump = addText(QStringLiteral("seam-jump-%1").arg(i));
    const int key = Document::newMergeKey();
    connect(row.beats, &NumberField::edited, this,
            [this, section = row.section, key](double beats, bool stepped) {
              // Half a quarter note is as fine as it gets by hand.
              setMorph(section, Beat(roundToInt(2 * beats), 2), {stepped ? key : 0, true});
            });
    rows_.push_back(row);
  }
  if (found.empty()) {
    addText(QStringLiteral("no-seams"))
        ->setText(tr("No section begins with another feel than the one before."));
  }
  addStretch();
}

void SeamsCard::setMorph(std::size_t index, Beat length, Merge merge) {
  editing_.document().apply(tr("The feel turns over %1 quarters").arg(length.toDouble()),
                            withMorph(document().song(), index, length), merge);
}

void SeamsCard::read() {
  const std::vector<Seam> found = seamsOf(document());
  const bool same = boundField_ != nullptr && found.size() == rows_.size() &&
                    std::equal(found.begin(), found.end(), rows_.begin(),
                               [](const Seam& s, const Row& r) { return s.section == r.section; });
  if (!same) build();
  boundField_->setValue(bound_);
  const Song& song = document().song();
  const std::vector<Section> sections = song.sections();
  const auto nameOf = [&](std::uint32_t feel) {
    return feel < song.feels.size() ? QString::fromStdString(song.feels[feel].name)
                                    : tr("straight");
  };
  for (std::size_t i = 0; i < found.size(); ++i) {
    const Seam& seam = found[i];
    const Section& section = sections[seam.section];
    rows_[i].title->setText(
        tr("%1: %2 to %3")
            .arg(QString::fromStdString(section.name), nameOf(seam.before), nameOf(seam.after)));
    rows_[i].beats->setValue(section.morph.toDouble());
    const bool above = seam.jump.count() > bound_;
    QString text = tr("An interval jumps by %1, %2 %")
                       .arg(plainMs(seam.jump))
                       .arg(100 * seam.share, 0, 'f', 1);
    if (above) text += tr(": above the bound");
    rows_[i].jump->setText(text);
    QPalette colors = rows_[i].jump->palette();
    colors.setColor(QPalette::WindowText, above ? theme::kAttention : theme::kQuiet);
    rows_[i].jump->setPalette(colors);
  }
}

}  // namespace uneven
