// SPDX-License-Identifier: GPL-3.0-or-later
// The Vary stage.
#include "app/vary/vary_stage.h"

#include <QClipboard>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QPainter>
#include <QVBoxLayout>

#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "app/controls/word_tabs.h"
#include "app/drawing/mini_groove.h"
#include "app/play/transport.h"
#include "app/vary/map_view.h"
#include "app/vary/pulse_strip.h"
#include "app/vary/variant_card.h"
#include "app/vary/wall_view.h"
#include "core/arrange/edits.h"
#include "core/song/names.h"
#include "core/song/slots.h"
#include "core/time/count.h"

namespace uneven {

// The groove that is varied, with its counts, and which walk it is.
class CoreStrip : public QWidget {
 public:
  CoreStrip(Editing& editing, Walker& walker, QWidget* parent)
      : QWidget(parent), editing_(editing), walker_(walker) {
    setObjectName(QStringLiteral("vary-core"));
    setFixedHeight(112);
    connect(&walker_, &Walker::changed, this, qOverload<>(&QWidget::update));
    connect(&walker_, &Walker::judgedMore, this, qOverload<>(&QWidget::update));
  }

 protected:
  void paintEvent(QPaintEvent* /*event*/) override {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Groove& groove = editing_.groove();
    p.setFont(theme::font(16, theme::Weight::kSemiBold));
    p.setPen(theme::kInk);
    const QString name =
        QObject::tr("From %1").arg(qs(groove.name.empty() ? groove.id : groove.name));
    p.drawText(QRectF(1, 4, width(), 22), Qt::AlignLeft | Qt::AlignVCenter, name);
    const double after = p.fontMetrics().horizontalAdvance(name) + 16;
    p.setFont(theme::font(12));
    p.setPen(theme::kQuiet);
    QString told = QObject::tr("syncopation %1, playable to %2 BPM")
                       .arg(walker_.core().measures.syncopation)
                       .arg(walker_.core().ceiling.playable, 0, 'f', 0);
    if (const Walk* walk = walker_.walk())
      told = QObject::tr("%1: %2 · the groove itself: %3")
                 .arg(qs(findWalk(walk->kind)->title),
                      walk->count == 1 ? QObject::tr("one variant")
                                       : QObject::tr("%1 variants").arg(walk->count),
                      told);
    p.drawText(QRectF(after, 4, width() - after, 22), Qt::AlignLeft | Qt::AlignVCenter,
               p.fontMetrics().elidedText(told, Qt::ElideRight, static_cast<int>(width() - after)));
    const QRectF room(1, 30, width() - 6.0, 60);
    const MiniScene scene = miniScene(groove, nullptr, *editing_.document().song().kit,
                                      {room.left(), room.top(), room.right(), room.bottom()});
    paintMini(p, room, scene);
    const Beat bar = groove.meter.barLength();
    p.setFont(theme::font(11));
    double before = -100;
    for (const Beat at : slotsOf(groove, scene.span.from, scene.span.to)) {
      const double x = scene.axis.xFromQuarters(at.toDouble());
      const CountName count = countName(at - Beat(at.floorDiv(bar)) * bar, groove.meter);
      if (x - before < 12) continue;
      before = x;
      p.setPen(count.partial.empty() ? theme::kInk : theme::kQuiet);
      p.drawText(QRectF(x - 15, 92, 30, 16), Qt::AlignCenter, qs(count.label()));
    }
  }

 private:
  Editing& editing_;
  Walker& walker_;
};

VaryStage::VaryStage(const Workplace& place, QWidget* parent)
    : Stage(parent),
      editing_(place.editing),
      transport_(place.transport),
      walker_(place.editing, place.checker),
      tabs_(new WordTabs(this)),
      strip_(new CoreStrip(editing_, walker_, this)),
      wall_(new WallView(walker_, editing_, this)),
      map_(new MapView(walker_, this)),
      pulses_(new PulseStrip(walker_, this)),
      panel_(new WalkPanel(editing_, this)),
      card_(new VariantCard(editing_, walker_, place.checker, *wall_, this)) {
  constexpr int kSideWidth = Card::kWidth + 30;
  auto* across = new QHBoxLayout(this);
  across->setContentsMargins(20, 6, 14, 6);
  across->setSpacing(10);
  auto* down = new QVBoxLayout;
  down->setSpacing(6);
  down->addWidget(strip_);
  auto* middle = new QHBoxLayout;
  middle->setSpacing(10);
  middle->addWidget(wall_, 5);
  middle->addWidget(map_, 2);
  down->addLayout(middle, 1);
  down->addWidget(pulses_);
  across->addLayout(down, 1);
  auto* side = new QVBoxLayout;
  side->setSpacing(2);
  tabs_->setObjectName(QStringLiteral("vary-tabs"));
  tabs_->setPurpose(tr("Card"));
  tabs_->setFixedWidth(kSideWidth);
  tabs_->addWord(tr("Walk"), tr("Moving, adding, taking away, one step at a time"));
  tabs_->addWord(tr("Grid"), tr("The same strokes at another subdivision"));
  tabs_->addWord(tr("Against"), tr("A cell against the bar"));
  tabs_->addWord(tr("Free"), tr("A stream of small changes"));
  side->addWidget(tabs_);
  panel_->setFixedWidth(kSideWidth);
  card_->setFixedWidth(kSideWidth);
  side->addWidget(panel_, 1);
  side->addWidget(card_);
  across->addLayout(side);
  setFocusProxy(wall_);
  connect(tabs_, &WordTabs::chosen, this,
          [this](int i) { panel_->showTab(static_cast<WalkPanel::Tab>(i)); });
  connect(panel_, &WalkPanel::tabShown, tabs_, &WordTabs::setCurrent);
  connect(panel_, &WalkPanel::changed, this, [this] {
    Q_EMIT said({});  // of another walk's variant
    walker_.set(panel_->kind(), panel_->arguments());
  });
  walker_.set(panel_->kind(), panel_->arguments());
  connect(wall_, &WallView::chosen, this, [this] {
    map_->setCurrent(wall_->current());
    coreHeard_ = false;
    hear();
  });
  connect(map_, &MapView::chosen, wall_, &WallView::choose);
  connect(wall_, &WallView::keepWanted, this, &VaryStage::keep);
  connect(wall_, &WallView::verdictWanted, this, &VaryStage::setVerdict);
  connect(wall_, &WallView::coreWanted, this, [this] { hearCore(!coreHeard_); });
  connect(card_, &VariantCard::verdictWanted, this, &VaryStage::setVerdict);
  connect(card_, &VariantCard::noted, this, &VaryStage::note);
  connect(card_, &VariantCard::keepWanted, this, &VaryStage::keep);
  connect(card_, &VariantCard::arrangeWanted, this, &VaryStage::arrangeGathered);
  connect(card_, &VariantCard::coreWanted, this, [this] { hearCore(!coreHeard_); });
}

void VaryStage::showTab(WalkPanel::Tab tab) {
  panel_->showTab(tab);
}

void VaryStage::showEvent(QShowEvent* event) {
  Stage::showEvent(event);
  walker_.setShown(true);
  hear();
}

void VaryStage::hideEvent(QHideEvent* event) {
  walker_.setShown(false);
  hearInstead(std::nullopt);
  Stage::hideEvent(event);
}

// The chosen variant in place of the groove, from the next stroke on.
void VaryStage::hear() {
  if (!isVisible()) return;
  if (coreHeard_ || walker_.count() == 0) return hearInstead(std::nullopt);
  hearInstead(SharedValue<Groove>(walker_.variant(wall_->current()).groove));
}

void VaryStage::hearInstead(std::optional<SharedValue<Groove>> groove) {
  Heard heard = transport_.heard();
  heard.groove = std::move(groove);
  transport_.setHeard(heard);
}

void VaryStage::hearCore(bool core) {
  coreHeard_ = core;
  hear();
  if (walker_.count() == 0) return;
  Q_EMIT said(core ? tr("Heard: the groove itself; C: the variant")
                   : tr("Heard: %1").arg(qs(walker_.variant(wall_->current()).name)));
}

void VaryStage::setVerdict(int number) {
  if (walker_.count() == 0) return;
  const Variant& v = walker_.variant(wall_->current());
  Groove groove = editing_.groove();
  const QString name = qs(v.name);
  if (number == 0) {
    std::erase_if(groove.walk, [&](const WalkNote& n) { return n.placement == v.key; });
    editing_.grooves().replaceGroove(tr("No verdict on %1").arg(name), std::move(groove));
    return Q_EMIT said(tr("%1: no verdict").arg(name));
  }
  constexpr WalkMark kMarks[] = {WalkMark::kGood, WalkMark::kAwkward, WalkMark::kNotForMe};
  const WalkMark mark = kMarks[std::clamp(number, 1, 3) - 1];
  const WalkNote* before = verdictOf(groove, v.key);
  const std::string kept = before == nullptr ? std::string() : before->note;
  editing_.grooves().replaceGroove(tr("%1 is %2").arg(name, qs(spokenName(mark)).toLower()),
                                   withVerdict(std::move(groove), v.key, mark, kept));
  Q_EMIT said(tr("%1: %2").arg(name, qs(spokenName(mark)).toLower()));
}

void VaryStage::note(const QString& text) {
  if (walker_.count() == 0) return;
  const Variant& v = walker_.variant(wall_->current());
  const WalkNote* before = verdictOf(editing_.groove(), v.key);
  if (before == nullptr) return Q_EMIT refused(tr("A note goes with a verdict: 1, 2 or 3 first"));
  editing_.grooves().replaceGroove(
      tr("Note on %1").arg(qs(v.name)),
      withVerdict(editing_.groove(), v.key, before->mark, text.toStdString()));
  wall_->setFocus();
}

std::string VaryStage::newVersion(Song& song, std::uint64_t index) {
  const Variant& v = walker_.variant(index);
  Groove groove = v.groove;
  groove.name = editing_.groove().name + ": " + v.name;
  std::string id;
  song = withVersion(std::move(song), std::move(groove), editing_.document().grooveId(), id);
  return id;
}

void VaryStage::keep() {
  if (walker_.count() == 0) return;
  const QString name = qs(walker_.variant(wall_->current()).name);
  Song song = editing_.document().song();
  (void)newVersion(song, wall_->current());
  if (editing_.document().apply(tr("Version: %1").arg(name), std::move(song)))
    Q_EMIT said(tr("%1 is a version of %2").arg(name, qs(editing_.groove().name)));
}

bool VaryStage::intoSong() {
  if (walker_.count() == 0) return false;
  if (wall_->gathered().empty()) wall_->gather(wall_->current());
  arrangeGathered();
  return true;
}

void VaryStage::arrangeGathered() {
  if (wall_->gathered().empty()) return;
  Song song = editing_.document().song();
  std::size_t count = 0;
  for (const std::uint64_t index : wall_->gathered()) {
    Section section;
    section.groove = newVersion(song, index);
    section.name = walker_.variant(index).name;
    song = withSection(std::move(song), std::move(section));
    ++count;
    // A change of the pulse comes with its return.
    if (!walker_.walk()->relaid) continue;
    Section back;
    back.groove = editing_.document().grooveId();
    back.name = editing_.groove().name;
    song = withSection(std::move(song), std::move(back));
  }
  if (!editing_.document().apply(tr("%1 variants in the arrangement").arg(count), std::move(song)))
    return;
  wall_->forgetGathered();
  Q_EMIT said(count == 1 ? tr("One version stands at the end of the arrangement")
                         : tr("%1 versions stand at the end of the arrangement").arg(count));
}

bool VaryStage::copy() {
  copyVerdicts(false);
  return true;
}

void VaryStage::copyVerdicts(bool csv) {
  const std::string report =
      verdictReport(editing_.document().song(), csv ? VerdictFormat::kCsv : VerdictFormat::kText);
  if (report.empty()) return Q_EMIT refused(tr("Nothing is marked yet"));
  QGuiApplication::clipboard()->setText(qs(report));
  Q_EMIT said(tr("The verdicts are on the clipboard"));
}

}  // namespace uneven
