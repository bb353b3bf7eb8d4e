// SPDX-License-Identifier: GPL-3.0-or-later
// The top bar.
#include "app/frame/top_bar.h"

#include <QHBoxLayout>
#include <QPainter>
#include <QVBoxLayout>

#include "app/controls/choice_field.h"
#include "app/controls/labels.h"
#include "app/controls/number_field.h"
#include "app/controls/theme.h"
#include "app/edit/document.h"
#include "app/edit/swing_reader.h"
#include "app/frame/transport_block.h"
#include "app/play/transport.h"
#include "core/arrange/edits.h"
#include "core/perform/swing.h"
#include "core/song/edit.h"

namespace uneven {
namespace {

constexpr int kSwingLeast = 152, kSwingMost = 284;

QVBoxLayout* blockLayout(QWidget* block) {
  auto* layout = new QVBoxLayout(block);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(1);
  return layout;
}

QHBoxLayout* rowLayout() {
  auto* row = new QHBoxLayout;
  row->setSpacing(4);
  row->setContentsMargins(0, 0, 0, 0);
  return row;
}

}  // namespace

TopBar::TopBar(Document& document, Transport& transport, std::function<Milliseconds()> clock,
               QWidget* parent)
    : QWidget(parent), document_(document), clock_(std::move(clock)) {
  setFixedHeight(66);
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(20, 6, 20, 6);
  layout->setSpacing(12);
  layout->addWidget(titleBlock(), 2);
  layout->addWidget(tempoBlock());
  layout->addWidget(meterBlock());
  layout->addWidget(swingBlock(), 100);  // has its width before titles grow
  layout->addWidget(
      choiceBlock(tr("Feel"), feel_,
                  tr("The feel this groove is played with: swing and displacement"), "feel-choice"),
      1);
  connect(feel_, &QComboBox::activated, this, [this] {
    if (feel_->currentIndex() == feel_->count() - 1)
      return feel_->fromList() ? newFeel() : readChoices();
    document_.apply(tr("Feel %1").arg(feel_->currentText()),
                    withFeelInForce(document_.song(), document_.grooveId(),
                                    feel_->currentData().toString().toStdString(), document_.at()));
  });
  layout->addWidget(
      choiceBlock(tr("Groove"), groove_, tr("The groove that is edited (Ctrl+PgUp, Ctrl+PgDown)"),
                  "groove-choice"),
      1);
  connect(groove_, &QComboBox::activated, this,
          [this] { document_.chooseGroove(groove_->currentData().toString().toStdString()); });
  play_ = new TransportBlock(transport, this);
  layout->addWidget(play_);
  connect(play_, &TransportBlock::soundWanted, this, &TopBar::soundWanted);
  connect(&transport, &Transport::changed, this, [this, &transport] {
    tempoUnit_->setText(transport.percent() == 100
                            ? tr("BPM")
                            : tr("at %1 %").arg(numberText(transport.percent(), 0)));
  });
  connect(&document_, &Document::changed, this, &TopBar::read);
  connect(&document_, &Document::fileChanged, this, &TopBar::read);
  read();
}

QWidget* TopBar::titleBlock() {
  auto* block = new QWidget(this);
  auto* layout = blockLayout(block);
  title_ = new FlatEdit(block);
  title_->setObjectName(QStringLiteral("title"));
  title_->setTextPixels(16);
  title_->setToolTip(tr("The song's title: Enter, F2 or a double click to change it"));
  title_->setGuarded();
  title_->setAccessibleName(tr("Title"));
  title_->setMinimumWidth(126);
  layout->addWidget(title_);
  subtitle_ = quietLabel({}, block);
  subtitle_->setMinimumWidth(60);
  layout->addWidget(subtitle_);
  connect(title_, &QLineEdit::editingFinished, this, [this] {
    document_.apply(tr("Title"), withTitle(document_.song(), title_->text().toStdString()));
  });
  return block;
}

QWidget* TopBar::tempoBlock() {
  auto* block = new QWidget(this);
  auto* layout = new QHBoxLayout(block);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(2);
  tempo_ = new NumberField({}, {kBpmMin, kBpmMax, 1, 1, false}, block);
  tempo_->setObjectName(QStringLiteral("tempo"));
  tempo_->setTextPixels(26);
  tempo_->setFixedWidth(96);
  tempo_->setToolTip(
      tr("Tempo where this groove is first played, in quarter notes a minute, 20 to "
         "400. Type it, turn the wheel, or tap T in time"));
  tempo_->setAccessibleName(tr("Tempo, BPM"));
  layout->addWidget(tempo_);
  tempoUnit_ = quietLabel(tr("BPM"), block);
  layout->addWidget(tempoUnit_, 0, Qt::AlignBottom);
  tempoUnit_->setContentsMargins(0, 0, 0, 12);
  connect(tempo_, &NumberField::edited, this, &TopBar::setTempo);
  connect(tempo_, &NumberField::refused, this, &TopBar::refused);
  return block;
}

QWidget* TopBar::meterBlock() {
  auto* block = new QWidget(this);
  block->setFixedWidth(110);
  auto* layout = blockLayout(block);
  layout->addWidget(quietLabel(tr("Meter"), block));
  auto* row = rowLayout();
  meter_ = new FlatEdit(block);
  meter_->setObjectName(QStringLiteral("meter"));
  meter_->setFixedWidth(48);
  meter_->setTextPixels(16);
  meter_->setToolTip(
      tr("Meter of this groove: 1 to 64 over 1, 2, 4, 8, 16 or 32. Hits keep their "
         "distance from the start; those beyond the end are dropped"));
  meter_->setAccessibleName(tr("Meter"));
  row->addWidget(meter_);
  bars_ = new NumberField(tr("bars"), {1, kBarsMax, 1, 0, false}, block);
  bars_->setObjectName(QStringLiteral("bars"));
  bars_->setFixedWidth(58);
  bars_->setAlignment(Qt::AlignLeft);
  bars_->setToolTip(tr("Length of this groove in bars, 1 to 64"));
  bars_->setAccessibleName(tr("Bars"));
  row->addWidget(bars_);
  layout->addLayout(row);
  connect(meter_, &QLineEdit::editingFinished, this, &TopBar::setMeter);
  connect(bars_, &NumberField::edited, this, [this](double bars, bool) {
    setLength(document_.groove().meter, static_cast<int>(bars));
  });
  connect(bars_, &NumberField::refused, this, &TopBar::refused);
  return block;
}

QWidget* TopBar::swingBlock() {
  auto* block = new QWidget(this);
  block->setMinimumWidth(kSwingLeast);
  block->setMaximumWidth(kSwingMost);
  auto* layout = blockLayout(block);
  swingName_ = quietLabel({}, block);
  layout->addWidget(swingName_);
  auto* row = rowLayout();
  ratio_ = new NumberField(QStringLiteral(": 1"), {kRatioMin, kRatioMax, 0.05, 2, false}, block);
  ratio_->setObjectName(QStringLiteral("ratio"));
  ratio_->setTextPixels(16);
  ratio_->setFixedWidth(74);
  ratio_->setAlignment(Qt::AlignLeft);
  ratio_->setToolTip(
      tr("Swing: how much longer the first note of a pair is than the second, 1 to 9. "
         "1 is straight, 2 a triplet with its middle left out, 3 dotted; 62 %, 5:3, 120 ms or "
         "triplet are understood as well"));
  ratio_->setReader(swingReader(document_));
  ratio_->setAccessibleName(tr("Swing ratio"));
  row->addWidget(ratio_);
  swingUnits_ = quietLabel({}, block);
  swingUnits_->setObjectName(QStringLiteral("swing-units"));
  swingUnits_->setToolTip(
      tr("Where the second note of a pair falls, and how long both last at this "
         "tempo"));
  swingUnits_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
  row->addWidget(swingUnits_, 1);
  layout->addLayout(row);
  connect(ratio_, &NumberField::edited, this, [this](double ratio, bool stepped) {
    static const int key = Document::newMergeKey();
    document_.apply(tr("Swing ratio %1").arg(ratio),
                    withFeelChanged(
                        document_.song(), document_.grooveId(),
                        [ratio](Feel& feel) {
                          feel.swing.ratio = ratio;
                          feel.swing.linked = false;
                        },
                        document_.at()),
                    {stepped ? key : 0, true});
  });
  connect(ratio_, &NumberField::refused, this, &TopBar::refused);
  return block;
}

QWidget* TopBar::choiceBlock(const QString& name, ChoiceField*& field, const QString& tip,
                             const char* objectName) {
  auto* block = new QWidget(this);
  auto* layout = blockLayout(block);
  field = new ChoiceField(Qt::AlignLeft, block);
  field->setObjectName(QString::fromLatin1(objectName));
  field->setTextPixels(16);
  field->setToolTip(tip);
  field->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
  block->setMinimumWidth(100);
  QLabel* label = fieldLabel(name, field, block);
  if (&field == &groove_) {
    place_ = label;
    label->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
  }
  layout->addWidget(label);
  layout->addWidget(field);
  return block;
}

// The one in force under another name, to be bent from there.
void TopBar::newFeel() {
  Feel feel = document_.feel();
  feel.name = feel.id.empty() ? tr("Feel").toStdString()
                              : tr("%1, another").arg(qs(feel.name)).toStdString();
  const std::string name = feel.name;
  std::string id;
  Song song = withNewFeel(document_.song(), std::move(feel), "feel", id);
  if (!document_.apply(tr("New feel: %1").arg(qs(name)),
                       withFeelInForce(std::move(song), document_.grooveId(), id, document_.at())))
    readChoices();
}

void TopBar::setCount(const QString& count) {
  play_->setCount(count);
}

void TopBar::tap() {
  if (const auto bpm = taps_.tap(clock_())) {
    static const int key = Document::newMergeKey();
    document_.apply(tr("Tapped tempo %1").arg(bpm->value),
                    withTempoAt(document_.song(), document_.start(), *bpm), {key, true});
  } else {
    Q_EMIT refused(tr("Tap T again in time"));
  }
}

void TopBar::setTempo(double bpm, bool stepped) {
  static const int key = Document::newMergeKey();
  document_.apply(tr("Tempo %1").arg(bpm), withTempoAt(document_.song(), document_.start(), {bpm}),
                  {stepped ? key : 0, true});
}

void TopBar::setMeter() {
  const auto meter = Meter::parse(meter_->text().trimmed().toStdString());
  meter_->setWrong(!meter);
  if (!meter) {
    return Q_EMIT refused(
        tr("%1 is no meter: write 1 to 64 over 1, 2, 4, 8, 16 or 32, as 7/8").arg(meter_->text()));
  }
  setLength(*meter, document_.groove().bars);
}

void TopBar::setLength(Meter meter, int bars) {
  const Groove& before = document_.groove();
  Moved moved;
  Groove after = withMeter(before, meter, bars, MeterChange::kKeepDistance, &moved);
  QString step = tr("%1, %2 bars").arg(QString::fromStdString(meter.toString())).arg(after.bars);
  if (const std::string lost = moved.lostText(); !lost.empty()) {
    step += QStringLiteral(" (") + qs(lost) + QLatin1Char(')');
  }
  document_.apply(step, withGroove(document_.song(), std::move(after)));
}

void TopBar::read() {
  const Groove& groove = document_.groove();
  if (!title_->hasFocus()) {
    title_->setText(QString::fromStdString(document_.song().title));
    title_->setCursorPosition(0);  // its beginning is what is seen of a long one
  }
  subtitle_->setText((document_.path().isEmpty() ? tr("not saved yet") : document_.fileTitle()) +
                     (document_.modified() ? tr(", changed") : QString()));
  tempo_->setValue(bpmAt(document_.song().tempo, document_.start()).value);
  if (!meter_->hasFocus()) meter_->setText(QString::fromStdString(groove.meter.toString()));
  bars_->setUnit(groove.bars == 1 ? tr("bar") : tr("bars"));
  bars_->setValue(groove.bars);
  readSwing();
  readChoices();
}

void TopBar::readSwing() {
  const Swing& swing = document_.feel().swing;
  const double ratio = ratioAt(swing, document_.tempo());
  const double share = pointOfRatio(ratio);
  const Milliseconds pair = pairLength(swing.unit, document_.tempo());
  swingName_->setText((swing.linked ? tr("Swing by tempo, %1") : tr("Swing, %1"))
                          .arg(qs(spokenName(swing.unit)).toLower()));
  ratio_->setValue(ratio);
  const QString percent = tr("%1 %").arg(100 * share, 0, 'f', 1);
  const QString whole =
      ratio == 1 ? tr("straight · each %1").arg(plainMs(pair / 2, 0))
                 : tr("%1 · long %2 · short %3")
                       .arg(percent, plainMs(pair * share, 0), plainMs(pair * (1 - share), 0));
  // In a narrow window the short of it.
  const bool fits = swingName_->parentWidget()->width() >= kSwingMost;
  swingUnits_->setText(fits ? whole : ratio == 1 ? tr("straight") : percent);
}

void TopBar::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  layout()->activate();
  readSwing();
}

void TopBar::readChoices() {
  const auto fill = [](ChoiceField* field, const auto& entries, const std::string& current) {
    field->clear();
    for (const auto& [id, name] : entries) {
      field->addItem(QString::fromStdString(name), QString::fromStdString(id));
    }
    field->setCurrentIndex(field->findData(QString::fromStdString(current)));
  };
  std::vector<std::pair<std::string, std::string>> entries;
  for (const Feel& feel : document_.song().feels) entries.emplace_back(feel.id, feel.name);
  entries.emplace_back("", "None");
  fill(feel_, entries, document_.feel().id);
  feel_->addItem(tr("New feel…"));
  entries.clear();
  for (const auto& groove : document_.song().grooves)
    entries.emplace_back(groove->id, groove->name);
  fill(groove_, entries, document_.grooveId());
  // Which of its places is looked at, once one is.
  place_->setText(document_.at() ? document_.atText() : tr("Groove"));
}

void TopBar::paintEvent(QPaintEvent* /*event*/) {
  QPainter p(this);
  p.fillRect(rect(), theme::kBar);
}

}  // namespace uneven
