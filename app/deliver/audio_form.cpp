// SPDX-License-Identifier: GPL-3.0-or-later
// Audio files from Deliver.
#include "app/deliver/audio_form.h"

#include <QCheckBox>
#include <QDir>
#include <QFileInfo>
#include <QGridLayout>
#include <QLabel>
#include <QProgressBar>
#include <QTimer>
#include <QVBoxLayout>

#include "app/controls/action_button.h"
#include "app/controls/choice_field.h"
#include "app/controls/labels.h"
#include "app/controls/prompts.h"
#include "app/play/transport.h"
#include "core/io/atomic_save.h"

namespace uneven {

AudioForm::AudioForm(Document& document, FileSystem& files, Prompts& prompts, Transport& transport,
                     std::function<int()> leadIn, QWidget* parent)
    : QWidget(parent),
      document_(document),
      files_(files),
      prompts_(prompts),
      transport_(transport),
      leadIn_(std::move(leadIn)),
      rate_(new ChoiceField(Qt::AlignRight, this)),
      bits_(new ChoiceField(Qt::AlignRight, this)),
      stems_(new ChoiceField(Qt::AlignRight, this)),
      click_(new QCheckBox(tr("the click as a file of its own"), this)),
      write_(new ActionButton(tr("Write audio…"), ActionButton::Tone::kQuiet, this)),
      busy_(new QWidget(this)),
      bar_(new QProgressBar(busy_)),
      written_(quietLabel({}, this)),
      rows_(this, [this](const QString& why) { Q_EMIT failed(why); }, {26, 0, {}}) {
  auto* down = new QVBoxLayout(this);
  down->setContentsMargins(0, 0, 0, 0);
  down->setSpacing(12);
  down->addWidget(strongLabel(tr("Audio files"), 16, this));
  auto* grid = new QGridLayout;
  grid->setColumnStretch(1, 1);
  grid->setVerticalSpacing(6);
  for (const int rate : kAudioRates) {
    rate_->addItem(tr("%1 kHz").arg(rate / 1000.0), rate);
  }
  rate_->setCurrentIndex(rate_->findData(kSoundRate));
  rate_->setObjectName(QStringLiteral("audio-rate"));
  rows_.add(grid, {tr("Rate"), {}, tr("Samples a second")}, rate_);
  bits_->addItem(tr("16 bits"), static_cast<int>(AudioBits::k16));
  bits_->addItem(tr("24 bits"), static_cast<int>(AudioBits::k24));
  bits_->addItem(tr("float (WAV)"), static_cast<int>(AudioBits::kFloat));
  bits_->setCurrentIndex(1);
  bits_->setObjectName(QStringLiteral("audio-bits"));
  rows_.add(grid, {tr("Bits"), {}, tr("Of each sample; 16 and 24 are dithered")}, bits_);
  stems_->addItem(tr("the mix"), static_cast<int>(Stems::kNone));
  stems_->addItem(tr("and one for each piece"), static_cast<int>(Stems::kPieces));
  stems_->addItem(tr("and one for each limb"), static_cast<int>(Stems::kLimbs));
  stems_->setObjectName(QStringLiteral("audio-stems"));
  rows_.add(grid,
            {tr("Files"), {}, tr("Parts are as long as the mix, have its gain, and add up to it")},
            stems_);
  click_->setObjectName(QStringLiteral("audio-click"));
  rows_.add(grid, {tr("Click"), {}, tr("Quarters, as long as the mix")}, click_);
  down->addLayout(grid);
  write_->setObjectName(QStringLiteral("write-audio"));
  write_->setToolTip(
      tr("WAV or FLAC, by the file's ending; strokes begin on their sample (Ctrl+Alt+E)"));
  down->addWidget(write_);
  auto* busyRow = new QHBoxLayout(busy_);
  busyRow->setContentsMargins(0, 0, 0, 0);
  bar_->setRange(0, 1000);
  bar_->setTextVisible(false);
  auto* stop = new ActionButton(tr("Cancel"), ActionButton::Tone::kQuiet, busy_);
  stop->setObjectName(QStringLiteral("cancel-audio"));
  stop->setToolTip(tr("Leaves the rendering; nothing is written"));
  busyRow->addWidget(bar_, 1);
  busyRow->addWidget(stop);
  busy_->hide();
  down->addWidget(busy_);
  written_->setObjectName(QStringLiteral("audio-written"));
  written_->setWordWrap(true);
  written_->setAccessibleName(tr("What became of the audio files"));
  written_->setTextFormat(Qt::PlainText);
  written_->setTextInteractionFlags(Qt::TextSelectableByMouse);
  down->addWidget(written_);
  connect(write_, &QPushButton::clicked, this, &AudioForm::write);
  connect(stop, &QPushButton::clicked, this, [this] {
    givenUp_ = true;
    aside_.stop();
  });
  look_ = new QTimer(this);
  look_->setInterval(50);
  connect(look_, &QTimer::timeout, this,
          [this] { bar_->setValue(static_cast<int>(1000 * aside_.done())); });
}

AudioCall AudioForm::call(const QString& path) const {
  AudioCall call;
  call.out = path.toStdString();
  call.bank = transport_.sound().bank().toStdString();
  call.format.kind = path.endsWith(QStringLiteral(".flac"), Qt::CaseInsensitive) ? AudioKind::kFlac
                                                                                 : AudioKind::kWav;
  call.format.bits = static_cast<AudioBits>(bits_->currentData().toInt());
  call.format.rate = rate_->currentData().toInt();
  call.stems = static_cast<Stems>(stems_->currentData().toInt());
  call.click = click_->isChecked();
  call.leadInBars = leadIn_();
  call.reads = {document_.path().toStdString(), document_.recording().toStdString(), call.bank};
  return call;
}

void AudioForm::write() {
  const QString folder =
      document_.path().isEmpty() ? QDir::homePath() : QFileInfo(document_.path()).absolutePath();
  QString name = qs(document_.song().title).trimmed().replace(QLatin1Char('/'), QLatin1Char('-'));
  if (name.isEmpty()) name = tr("Untitled");
  QString path = prompts_.fileToSave(this, tr("Write audio"),
                                     folder + QLatin1Char('/') + name + QStringLiteral(".wav"),
                                     tr("Audio files (*.wav *.flac)"));
  if (path.isEmpty()) return;
  if (!path.endsWith(QStringLiteral(".wav"), Qt::CaseInsensitive) &&
      !path.endsWith(QStringLiteral(".flac"), Qt::CaseInsensitive)) {
    path += QStringLiteral(".wav");
  }
  writeTo(path);
}

void AudioForm::writeTo(const QString& path) {
  if (writing()) return;
  const KitMap* map = document_.kitMaps().find(document_.song().map);
  if (map == nullptr) {
    return Q_EMIT failed(
        tr("Not written. The song's kit map \"%1\" is not here; choose another, or "
           "read it from its file")
            .arg(qs(document_.song().map)));
  }
  givenUp_ = false;
  busy_->show();
  look_->start();
  bar_->setValue(0);
  write_->setEnabled(false);
  written_->clear();
  aside_.ask(
      [&files = files_, song = document_.song(), map = *map,
       call = call(path)](const AsideWork& work) -> Result<AudioReport> {
        const Result<SharedTake> take = Take::ofSong(song);
        if (!take) return take.error();
        return renderAudio(files, **take, map, call, [&](double share) {
          work.done = share;
          return !work.cancelled();
        });
      },
      [this](const Result<AudioReport>& report) { tell(report); });
}

void AudioForm::tell(const Result<AudioReport>& report) {
  look_->stop();
  busy_->hide();
  write_->setEnabled(true);
  if (!report && givenUp_) {
    written_->setText(tr("Given up; nothing was written"));
    return;
  }
  if (!report) return Q_EMIT failed(tr("Not written. %1").arg(qs(report.error().line())));
  QString text = qs(audioText(*report));
  for (const std::string& notice : report->notices) text += QLatin1Char('\n') + qs(notice);
  const QString where = QDir::toNativeSeparators(qs(report->files.front()));
  written_->setText(report->files.size() == 1 ? tr("Written to %1\n%2").arg(where, text)
                                              : tr("Written to %1 and %2 beside it\n%3")
                                                    .arg(where)
                                                    .arg(report->files.size() - 1)
                                                    .arg(text));
  Q_EMIT said(tr("Wrote %1").arg(where));
}

}  // namespace uneven
