// SPDX-License-Identifier: GPL-3.0-or-later
// The Deliver stage.
#include "app/deliver/deliver_stage.h"

#include <QCheckBox>
#include <QClipboard>
#include <QDir>
#include <QFileInfo>
#include <QGridLayout>
#include <QGuiApplication>
#include <QHeaderView>
#include <QLabel>
#include <QPainter>
#include <QProgressBar>
#include <QStyledItemDelegate>
#include <QTableView>
#include <QVBoxLayout>

#include "app/controls/action_button.h"
#include "app/controls/airy_table.h"
#include "app/controls/card_room.h"
#include "app/controls/choice_field.h"
#include "app/controls/labels.h"
#include "app/controls/number_field.h"
#include "app/controls/prompts.h"
#include "app/controls/theme.h"
#include "app/deliver/audio_form.h"
#include "app/deliver/event_list.h"
#include "app/deliver/midi_tile.h"
#include "core/arrange/edits.h"
#include "core/io/atomic_save.h"
#include "core/midi/smf.h"

namespace uneven {
DeliverStage::DeliverStage(const Workplace& place, QWidget* parent)
    : Stage(parent),
      document_(place.editing.document()),
      files_(place.files),
      prompts_(place.prompts),
      rows_(this, [this](const QString& why) { Q_EMIT refused(why); }, {26, 0, {}}) {
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(20, 18, 20, 14);
  layout->setSpacing(28);
  layout->addWidget(new CardRoom(form(place.transport), this));
  auto* right = new QVBoxLayout;
  right->setSpacing(8);
  listTitle_ = strongLabel({}, 16, this);
  right->addWidget(listTitle_);
  table_ = new QTableView(this);
  table_->setObjectName(QStringLiteral("event-list"));
  table_->setAccessibleName(tr("Notes that will be written"));
  list_ = new EventList(this);
  table_->setModel(list_);
  makeAiry(*table_);
  const int widths[EventList::kColumns] = {64, 92, 72, 190, 92, 100, 126};
  for (int i = 0; i < EventList::kColumns; ++i) table_->setColumnWidth(i, widths[i]);
  table_->horizontalHeader()->setSectionResizeMode(EventList::kName, QHeaderView::Stretch);
  right->addWidget(table_, 1);
  layout->addLayout(right, 1);
  connect(&document_, &Document::changed, this, [this] {
    fillMaps();
    again();
  });
  connect(&document_, &Document::songTaken, this, [this] {
    if (waiting_) refresh();
  });
  fillMaps();
}

QWidget* DeliverStage::form(Transport& transport) {
  auto* side = new QWidget(this);
  side->setFixedWidth(320);
  auto* down = new QVBoxLayout(side);
  down->setContentsMargins(0, 0, 0, 0);
  down->setSpacing(12);
  down->addWidget(strongLabel(tr("MIDI file"), 16, side));
  auto* grid = new QGridLayout;
  grid->setColumnStretch(1, 1);
  grid->setVerticalSpacing(6);
  map_ = new ChoiceField(Qt::AlignRight, side);
  map_->setObjectName(QStringLiteral("map-choice"));
  rows_.add(grid,
            {tr("Kit map"),
             {},
             tr("Which note plays which piece; another map can be read from a "
                "file")},
            map_);
  ppq_ = new NumberField({}, {kPpqMin, kPpqMax, 96, 0, false}, side);
  ppq_->setObjectName(QStringLiteral("ppq"));
  ppq_->setValue(960);
  rows_.add(grid,
            {tr("Ticks per quarter"),
             {},
             tr("Resolution of the file, 24 to 15360 ticks to a "
                "quarter note")},
            ppq_);
  type_ = new ChoiceField(Qt::AlignRight, side);
  type_->addItem(tr("1, conductor and drums"), 1);
  type_->addItem(tr("0, all on one track"), 0);
  rows_.add(grid, {tr("Type"), {}, tr("How the file is laid out; most programs read both")}, type_);
  leadIn_ = new NumberField(tr("bars"), {0, kLeadInMax, 1, 0, false}, side);
  leadIn_->setObjectName(QStringLiteral("lead-in"));
  leadIn_->setValue(0);
  rows_.add(grid,
            {tr("Lead-in"),
             {},
             tr("Silence before the song, in bars of its first meter. It "
                "keeps strokes that fall before the first beat")},
            leadIn_);
  perPiece_ = new QCheckBox(tr("a track for each piece"), side);
  rows_.add(grid, {tr("Tracks"), {}, tr("In place of one track of drums; type 1 only")}, perPiece_);
  down->addLayout(grid);

  tile_ = new MidiTile([this] { return makeTemporaryFile(); }, side);
  down->addWidget(tile_);
  write_ = new ActionButton(tr("Write the file…"), ActionButton::Tone::kMain, side);
  write_->setObjectName(QStringLiteral("write"));
  write_->setToolTip(tr("Ctrl+E"));
  down->addWidget(write_);

  busy_ = new QWidget(side);
  auto* busyRow = new QHBoxLayout(busy_);
  busyRow->setContentsMargins(0, 0, 0, 0);
  auto* bar = new QProgressBar(busy_);
  bar->setRange(0, 0);
  bar->setTextVisible(false);
  auto* stop = new ActionButton(tr("Cancel"), ActionButton::Tone::kQuiet, busy_);
  stop->setObjectName(QStringLiteral("cancel-rendering"));
  stop->setToolTip(tr("Leaves the rendering; nothing is written"));
  busyRow->addWidget(bar, 1);
  busyRow->addWidget(stop);
  busy_->hide();
  down->addWidget(busy_);
  written_ = new QLabel(side);
  written_->setWordWrap(true);
  written_->setAccessibleName(tr("Where it was written"));
  written_->setTextFormat(Qt::PlainText);
  written_->setTextInteractionFlags(Qt::TextSelectableByMouse);
  down->addWidget(written_);
  notices_ = quietLabel({}, side);
  notices_->setObjectName(QStringLiteral("notices"));
  notices_->setWordWrap(true);
  down->addWidget(notices_);
  down->addSpacing(6);
  audio_ = new AudioForm(
      document_, files_, prompts_, transport,
      [this] { return static_cast<int>(leadIn_->value().value_or(0)); }, side);
  down->addWidget(audio_);
  down->addStretch(1);
  connect(audio_, &AudioForm::said, this, &DeliverStage::said);
  connect(audio_, &AudioForm::failed, this, &DeliverStage::failed);

  const auto again = [this] { this->again(); };
  for (NumberField* field : {ppq_, leadIn_}) connect(field, &NumberField::edited, this, again);
  connect(type_, &QComboBox::activated, this, [this, again] {
    perPiece_->setEnabled(type_->currentData().toInt() == 1);
    again();
  });
  connect(perPiece_, &QCheckBox::toggled, this, again);
  connect(map_, &QComboBox::activated, this, &DeliverStage::chooseMap);
  connect(write_, &QPushButton::clicked, this, &DeliverStage::write);
  connect(stop, &QPushButton::clicked, this, &DeliverStage::cancel);
  return side;
}

void DeliverStage::fillMaps() {
  map_->clear();
  QStringList unread;
  for (const std::string& why : document_.kitMaps().unread()) unread << qs(why);
  map_->setToolTip(
      unread.isEmpty()
          ? tr("Which note plays which piece. A map that is read from a file is kept")
          : tr("Kit maps that cannot be read: %1").arg(unread.join(QStringLiteral("; "))));
  for (const KitMap* map : document_.kitMaps().maps()) {
    map_->addItem(QString::fromStdString(map->name), QString::fromStdString(map->id));
  }
  const int found = map_->findData(QString::fromStdString(document_.song().map));
  if (found < 0) {
    map_->addItem(tr("%1 (not found)").arg(QString::fromStdString(document_.song().map)),
                  QString::fromStdString(document_.song().map));
  }
  map_->setCurrentIndex(found < 0 ? map_->count() - 1 : found);
  map_->addItem(tr("From a file…"));
}

void DeliverStage::chooseMap(int index) {
  QString id = map_->itemData(index).toString();
  if (id.isEmpty()) {
    const QString path =
        prompts_.fileToOpen(this, tr("Read a kit map"), QDir::homePath(), tr("Kit maps (*.json)"));
    if (path.isEmpty()) return fillMaps();
    const Result<std::string> text = files_.read(path.toStdString());
    const Result<KitMap> map =
        text ? readKitMap(*text, QFileInfo(path).fileName().toStdString()) : text.error();
    if (!map) {
      fillMaps();
      return Q_EMIT failed(tr("Not read. %1").arg(QString::fromStdString(map.error().line())));
    }
    // So that the song finds it at the next start, too.
    const Status kept = document_.kitMaps().keep(*map);
    if (!kept)
      Q_EMIT failed(tr("The map is here until the program ends, and could not be kept. %1")
                        .arg(QString::fromStdString(kept.error().line())));
    id = QString::fromStdString(map->id);
  }
  document_.apply(tr("Kit map %1").arg(id), withMap(document_.song(), id.toStdString()));
  // The map of that id may be another now.
  fillMaps();
  again();
}

void DeliverStage::again() {
  ++wanted_;
  // What is edited while a file waits to be written is written too.
  if (isVisible() || pending_) refresh();
}

RenderOptions DeliverStage::options() const {
  RenderOptions options;
  options.ppq = static_cast<int>(ppq_->value().value_or(960));
  options.type = type_->currentData().toInt();
  options.leadInBars = static_cast<int>(leadIn_->value().value_or(0));
  options.trackPerPiece = options.type == 1 && perPiece_->isChecked();
  return options;
}

std::shared_ptr<const DeliverStage::Made> DeliverStage::make(const SharedTake& take,
                                                             const KitMap& map,
                                                             const RenderOptions& options,
                                                             std::uint64_t wanted,
                                                             const std::stop_token& stop) {
  auto made = std::make_shared<Made>();
  made->wanted = wanted;
  made->map = map;
  made->take = take;
  Result<Rendering> rendering = uneven::render(*take, map, options, stop);
  if (!rendering) {
    made->error = rendering.error();
    return made;
  }
  Result<std::string> bytes = writeSmf(rendering->sequence);
  if (!bytes) {
    made->error = bytes.error();
    return made;
  }
  made->rendering = *std::move(rendering);
  made->bytes = *std::move(bytes);
  return made;
}

void DeliverStage::fail(Error error) {
  auto nothing = std::make_shared<Made>();
  nothing->wanted = wanted_;
  nothing->error = std::move(error);
  accept(std::move(nothing));
}

void DeliverStage::refresh() {
  const KitMap* map = document_.kitMaps().find(document_.song().map);
  if (map == nullptr) {
    return fail({ErrorCode::kUnknown,
                 "the song's kit map \"" + document_.song().map +
                     "\" is not here; choose another, or read it from its file",
                 {}});
  }
  const SharedTake take = document_.songTake();
  if (!take && document_.songError()) return fail(*document_.songError());
  waiting_ = !take;
  if (take && std::ssize(take->strokes()) <= Document::kStrokesAtOnce) {
    return accept(make(take, *map, options(), wanted_, {}));
  }
  busy_->show();
  if (waiting_) return rendering_.cancel();  // songTaken() comes back here
  rendering_.ask([take, map = *map, options = options(), wanted = wanted_](
                     const AsideWork& work) { return make(take, map, options, wanted, work.stop); },
                 [this](std::shared_ptr<const Made> made) { accept(std::move(made)); });
}

void DeliverStage::cancel() {
  waiting_ = false;
  rendering_.cancel();
  busy_->hide();
  listTitle_->setText(tr("Rendering was cancelled"));
  if (std::exchange(pending_, std::nullopt))
    notWritten({ErrorCode::kUsage, "rendering was cancelled", {}});
}

void DeliverStage::accept(std::shared_ptr<const Made> made) {
  made_ = std::move(made);
  busy_->hide();
  write_->setEnabled(!made_->error);
  tile_->setVisible(!made_->error);
  if (made_->error) {
    list_->clear();
    listTitle_->setText(tr("Nothing can be written"));
    notices_->setText(QString::fromStdString(made_->error->line()));
    if (pending_) finishWrite();
    return;
  }
  list_->show(*made_->take, made_->map, *made_->rendering);
  const auto strokes = std::ssize(made_->take->strokes());
  listTitle_->setText(list_->rowCount() == 0
                          ? tr("Nothing is struck yet: put hits on the lanes of Strike")
                          : tr("The first %1 notes that will be written").arg(list_->rowCount()));
  tile_->setFile(fileName(), tr("%1 strokes, %2 bars, %3 kB")
                                 .arg(strokes)
                                 .arg(made_->take->score().bars)
                                 .arg(static_cast<double>(made_->bytes.size()) / 1000, 0, 'f', 1));
  QString notices;
  for (const std::string& notice : made_->rendering->notices) {
    notices += (notices.isEmpty() ? "" : "\n") + QString::fromStdString(notice);
  }
  notices_->setText(notices);
  if (pending_) finishWrite();
}

QString DeliverStage::fileName() const {
  QString name = QString::fromStdString(document_.song().title).trimmed();
  name.replace(QLatin1Char('/'), QLatin1Char('-'));
  return (name.isEmpty() ? tr("Untitled") : name) + QStringLiteral(".mid");
}

void DeliverStage::writeTo(const QString& path) {
  const Status safe = refuseOverwriting(
      {document_.path().toStdString(), document_.recording().toStdString()}, {path.toStdString()});
  if (!safe) return notWritten(safe.error());
  pending_ = path;
  if (fresh()) {
    finishWrite();
  } else {
    refresh();  // a long song is rendered aside, and written once that is done
  }
}

void DeliverStage::finishWrite() {
  const QString path = *std::exchange(pending_, std::nullopt);
  if (made_->error) return notWritten(*made_->error);
  if (const Status saved = saveAtomically(files_, path.toStdString(), made_->bytes); !saved)
    return notWritten(saved.error());
  written_->setText(tr("Written to %1").arg(QDir::toNativeSeparators(path)));
  Q_EMIT said(tr("Wrote %1").arg(QDir::toNativeSeparators(path)));
}

void DeliverStage::notWritten(const Error& why) {
  Q_EMIT failed(tr("Not written. %1").arg(QString::fromStdString(why.line())));
}

void DeliverStage::write() {
  const QString folder =
      document_.path().isEmpty() ? QDir::homePath() : QFileInfo(document_.path()).absolutePath();
  QString path =
      prompts_.fileToSave(this, tr("Write the MIDI file"), folder + QLatin1Char('/') + fileName(),
                          tr("MIDI files (*.mid)"));
  if (path.isEmpty()) return;
  if (!path.endsWith(QStringLiteral(".mid"))) path += QStringLiteral(".mid");
  writeTo(path);
}

QString DeliverStage::makeTemporaryFile() {
  if (!fresh()) refresh();
  if (!fresh()) {
    Q_EMIT refused(tr("The file is still being made: drag it once it is"));
    return {};
  }
  if (!temporary_.isValid() || made_->error) return {};
  const QString path = temporary_.filePath(fileName());
  return saveAtomically(files_, path.toStdString(), made_->bytes) ? path : QString();
}

bool DeliverStage::copy() {
  QGuiApplication::clipboard()->setText(list_->text());
  Q_EMIT said(tr("The list of notes is on the clipboard"));
  return true;
}

void DeliverStage::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  if (!fresh()) refresh();
}

}  // namespace uneven
