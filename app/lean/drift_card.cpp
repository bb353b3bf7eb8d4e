// SPDX-License-Identifier: GPL-3.0-or-later
// The card of drift.
#include "app/lean/drift_card.h"

#include <QGridLayout>
#include <QLabel>
#include <QTimer>
#include <QVBoxLayout>

#include "app/controls/action_button.h"
#include "app/controls/choice_field.h"
#include "app/controls/labels.h"
#include "app/lean/drift_strip.h"
#include "core/measure/unison.h"
#include "core/perform/drift.h"
#include "core/song/names.h"

namespace uneven {
namespace {

constexpr int kDriftRestMs = 120;

bool hasSizesOf(const Drift& drift, const DriftPreset& preset) {
  return withPreset(drift, preset) == drift;
}

}  // namespace

DriftCard::DriftCard(Editing& editing, QWidget* parent)
    : FeelCard(editing, parent),
      preset_(new ChoiceField(Qt::AlignRight, this)),
      another_(new ActionButton(tr("Another take"), ActionButton::Tone::kQuiet, this)),
      back_(new ActionButton({}, ActionButton::Tone::kQuiet, this)),
      strip_(new DriftStrip(this)),
      later_(new QTimer(this)) {
  QGridLayout* grid = section(tr("Drift"));
  for (const DriftPreset& preset : driftPresets()) preset_->addItem(qs(preset.name), qs(preset.id));
  addRow(grid, tr("A body"), preset_, QStringLiteral("drift-preset"),
         tr("Sizes by name; the numbers stand below and are of no one in particular"));
  connect(preset_, &QComboBox::activated, this, [this](int i) {
    const DriftPreset& preset = driftPresets()[static_cast<std::size_t>(i)];
    changeDrift(qs(preset.name), [&](Drift& d) { d = withPreset(d, preset); });
  });
  const NumberField::Range ms{0, kShiftMax.count(), 0.5, 1, false};
  addDrift(
      grid, tr("Clock"), QStringLiteral("ms"), ms, "drift-clock",
      tr("Standard deviation of the clock that all limbs share, in ms: unisons stay together"),
      [](const Drift& d) { return d.clock.count(); },
      [](Drift& d, double v) { d.clock = Milliseconds(v); });
  addDrift(
      grid, tr("Each limb"), QStringLiteral("ms"), ms, "drift-motor",
      tr("Standard deviation of each limb by itself, in ms: this is what opens unisons"),
      [](const Drift& d) { return d.motor.count(); },
      [](Drift& d, double v) { d.motor = Milliseconds(v); });
  addDrift(
      grid, tr("Velocity"), tr("steps"), {0, 60, 0.5, 1, false}, "drift-velocity",
      tr("Standard deviation of velocities, in steps of 127; ghosts stay ghosts"),
      [](const Drift& d) { return d.velocity; }, [](Drift& d, double v) { d.velocity = v; });
  addDrift(
      grid, tr("Wanders slowly"), {}, {0, kExponentMax, 0.1, 2, false}, "drift-exponent",
      tr("The clock's spectrum is 1/f to this power: 0 white, near 1 in drumming, more wanders"),
      [](const Drift& d) { return d.exponent; }, [](Drift& d, double v) { d.exponent = v; });
  addDrift(
      grid, tr("Take"), {}, {0, 2147483647, 1, 0, false}, "drift-take",
      tr("The same number gives the same take, every time"),
      [](const Drift& d) { return static_cast<double>(d.seed); },
      [](Drift& d, double v) { d.seed = static_cast<std::uint64_t>(v); });
  another_->setObjectName(QStringLiteral("another-take"));
  another_->setToolTip(tr("The next take: the same sizes, played again"));
  back_->setObjectName(QStringLiteral("back-to-take"));
  back_->setToolTip(tr("The take before this one, exactly as it was"));
  down_->addWidget(another_);
  down_->addWidget(back_);
  connect(another_, &QPushButton::clicked, this, [this] {
    const std::uint64_t now = feel().drift.value_or(Drift{}).seed;
    takes_.push_back(now);
    setTake(now + 1);
  });
  connect(back_, &QPushButton::clicked, this, [this] {
    if (takes_.empty()) return;
    const std::uint64_t take = takes_.back();
    takes_.pop_back();
    setTake(take);
  });
  down_->addWidget(strip_);
  unisons_ = addText(QStringLiteral("drift-unisons"));
  grid = section(tr("Each limb's share"));
  for (const Limb limb : limbs()) {
    addDrift(
        grid, qs(spokenName(limb)), QStringLiteral("\u00d7"), {0, 4, 0.1, 2, false},
        qPrintable(QStringLiteral("drift-limb-") + qs(textOf(limb))),
        tr("What the limb's own part is multiplied by: a weak hand or a foot drifts more"),
        [limb](const Drift& d) {
          const auto found = d.limbs.find(limb);
          return found == d.limbs.end() ? 1.0 : found->second;
        },
        [limb](Drift& d, double v) { d.limbs[limb] = v; });
  }
  addStretch();
  later_->setSingleShot(true);
  later_->setInterval(kDriftRestMs);
  connect(later_, &QTimer::timeout, this, &DriftCard::readSong);
  connect(&document(), &Document::songTaken, later_, qOverload<>(&QTimer::start));
}

void DriftCard::addDrift(QGridLayout* grid, const QString& name, const QString& unit,
                         NumberField::Range range, const char* objectName, const QString& tip,
                         const std::function<double(const Drift&)>& get,
                         const std::function<void(Drift&, double)>& set) {
  addNumber(
      grid, name, unit, range, QString::fromUtf8(objectName), tip,
      [get](const Feel& f) { return std::optional(get(f.drift.value_or(Drift{}))); },
      [set](Feel& f, double v) {
        if (!f.drift) f.drift.emplace();
        set(*f.drift, v);
      });
}

void DriftCard::changeDrift(const QString& step, const std::function<void(Drift&)>& edit,
                            Merge merge) {
  change(
      step,
      [&](Feel& f) {
        if (!f.drift) f.drift.emplace();
        edit(*f.drift);
      },
      merge);
}

void DriftCard::setTake(std::uint64_t take) {
  changeDrift(tr("Take %1").arg(take), [take](Drift& d) { d.seed = take; });
}

void DriftCard::showEvent(QShowEvent* event) {
  FeelCard::showEvent(event);
  read();
  readSong();
}

void DriftCard::read() {
  FeelCard::read();
  if (takesOf_ != feel().id) takes_.clear();
  takesOf_ = feel().id;
  const Drift drift = feel().drift.value_or(Drift{});
  int chosen = -1;
  for (int i = 0; i < static_cast<int>(driftPresets().size()); ++i) {
    if (hasSizesOf(drift, driftPresets()[static_cast<std::size_t>(i)])) chosen = i;
  }
  preset_->setCurrentIndex(chosen);
  back_->setVisible(!takes_.empty());
  if (!takes_.empty()) back_->setText(tr("Back to take %1").arg(takes_.back()));
  later_->start();
}

void DriftCard::readSong() {
  const SharedTake take = document().songTake();
  if (!take) {
    strip_->wait();
    unisons_->setText(tr("A long song: being performed aside"));
    return;
  }
  const auto& feels = document().song().feels;
  const auto here =
      std::find_if(feels.begin(), feels.end(), [&](const Feel& f) { return f.id == feel().id; });
  strip_->show(*take, static_cast<std::uint32_t>(here - feels.begin()));
  const std::vector<Unison> all = unisons(take->performance());
  const Milliseconds plain = all.empty() ? Milliseconds(0) : widestWritten(all)->plain;
  const Milliseconds drifted = all.empty() ? Milliseconds(0) : widest(all)->spread;
  unisons_->setText(tr("Widest unison of the song: %1 as written, %2 with drift")
                        .arg(plainMs(plain), plainMs(drifted)));
}

}  // namespace uneven
