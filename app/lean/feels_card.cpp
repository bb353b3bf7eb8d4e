// SPDX-License-Identifier: GPL-3.0-or-later
// The list of feels.
#include "app/lean/feels_card.h"

#include <QGridLayout>
#include <QListWidget>
#include <QVBoxLayout>

#include "app/controls/action_button.h"
#include "app/controls/labels.h"
#include "app/controls/prompts.h"
#include "app/controls/theme.h"
#include "core/io/atomic_save.h"
#include "core/io/song_json.h"
#include "core/perform/swing.h"

namespace uneven {
namespace {

const char* kSheet =
    "QListWidget { background: @paper; border: 1px solid @line; outline: none; }"
    "QListWidget::item { border: none; padding: 5px 6px; color: @ink; }"
    "QListWidget::item:selected { background: @chosen; color: @ink; }";

}  // namespace

FeelsCard::FeelsCard(Editing& editing, FileSystem& files, Prompts& prompts, QWidget* parent)
    : Card(parent),
      editing_(editing),
      files_(files),
      prompts_(prompts),
      list_(new QListWidget(this)) {
  auto* down = new QVBoxLayout(this);
  down->setContentsMargins(16, 14, 14, 12);
  down->setSpacing(4);
  down->addWidget(strongLabel(tr("Feels"), 13, this));
  list_->setObjectName(QStringLiteral("feel-list"));
  list_->setAccessibleName(tr("Feels"));
  list_->setStyleSheet(theme::sheet(kSheet));
  list_->setToolTip(tr("The song's feels; the bold one is what this groove is played with"));
  down->addWidget(list_, 1);
  add(tr("Play this groove with it"), "feel-use", tr("Enter on the list does the same"),
      &FeelsCard::use);
  compare_ =
      add({}, "feel-compare", tr("Dashed in the map: where its strokes would fall under that feel"),
          &FeelsCard::compare);
  add(tr("Duplicate"), "feel-duplicate", tr("A copy to change freely"), &FeelsCard::duplicate);
  add(tr("Rename"), "feel-rename", tr("Another name"), &FeelsCard::rename);
  add(tr("Delete"), "feel-delete", tr("Away with it; what it played becomes straight"),
      &FeelsCard::remove);
  add(tr("Copy into another song"), "feel-copy", tr("Adds it to a song file and saves that"),
      &FeelsCard::copyTo);
  add(tr("Save as a file"), "feel-save", tr("A small JSON file of its own"), &FeelsCard::save);
  add(tr("Read from a file"), "feel-load", tr("Adds a feel that was saved so"), &FeelsCard::load);
  connect(list_, &QListWidget::itemActivated, this, &FeelsCard::use);
  connect(list_, &QListWidget::currentRowChanged, this, [this] {
    const Feel* feel = chosen();
    compare_->setText(feel != nullptr && feel->id == compared_ ? tr("No longer compare")
                                                               : tr("Compare"));
  });
  connect(&editing_.document(), &Document::changed, this, [this] {
    if (isVisible()) read();
  });
}

void FeelsCard::showEvent(QShowEvent* event) {
  Card::showEvent(event);
  read();
}

ActionButton* FeelsCard::add(const QString& text, const char* objectName, const QString& tip,
                             void (FeelsCard::*act)()) {
  auto* button = new ActionButton(text, ActionButton::Tone::kQuiet, this);
  button->setObjectName(QString::fromLatin1(objectName));
  button->setToolTip(tip);
  connect(button, &QPushButton::clicked, this, act);
  layout()->addWidget(button);
  return button;
}

const Feel* FeelsCard::chosen() const {
  const int row = list_->currentRow();
  const auto& feels = document().song().feels;
  return row < 0 || row >= static_cast<int>(feels.size()) ? nullptr
                                                          : &feels[static_cast<std::size_t>(row)];
}

void FeelsCard::read() {
  const Feel* before = chosen();
  const auto& feels = document().song().feels;
  if (document().song().findFeel(compared_) == nullptr && !compared_.empty()) {
    compared_.clear();
    Q_EMIT compared(compared_);
  }
  int row = before == nullptr ? -1 : list_->currentRow();
  const QSignalBlocker quiet(list_);
  list_->clear();
  for (std::size_t i = 0; i < feels.size(); ++i) {
    const Feel& feel = feels[i];
    const QString swing = feel.swing.linked ? tr("by tempo")
                          : feel.swing.ratio == 1
                              ? tr("straight")
                              : QStringLiteral("%1 : 1").arg(feel.swing.ratio, 0, 'g', 4);
    auto* item = new QListWidgetItem(
        QStringLiteral("%1   %2").arg(QString::fromStdString(feel.name), swing), list_);
    const bool here = feel.id == document().feel().id;
    item->setFont(theme::font(13, here ? theme::Weight::kSemiBold : theme::Weight::kRegular));
    if (here && row < 0) row = static_cast<int>(i);
  }
  list_->setCurrentRow(std::min(row, list_->count() - 1));
  const Feel* now = chosen();
  compare_->setText(now != nullptr && now->id == compared_ ? tr("No longer compare")
                                                           : tr("Compare"));
}

void FeelsCard::use() {
  const Feel* feel = chosen();
  if (feel == nullptr) return Q_EMIT refused(tr("Choose a feel first"));
  const QString step = tr("Feel %1").arg(QString::fromStdString(feel->name));
  const std::string id = feel->id;
  editing_.document().apply(
      step, withFeelInForce(document().song(), document().grooveId(), id, document().at()));
}

void FeelsCard::duplicate() {
  const Feel* feel = chosen();
  if (feel == nullptr) return Q_EMIT refused(tr("Choose a feel first"));
  std::string id;
  const QString step = tr("Duplicated %1").arg(QString::fromStdString(feel->name));
  Song song = withNewFeel(document().song(), *feel, feel->id, id);
  editing_.document().apply(step, std::move(song));
  list_->setCurrentRow(list_->count() - 1);
}

void FeelsCard::rename() {
  const Feel* feel = chosen();
  if (feel == nullptr) return Q_EMIT refused(tr("Choose a feel first"));
  Feel renamed = *feel;
  const QString name =
      prompts_.line(this, tr("Name of the feel"), QString::fromStdString(renamed.name)).trimmed();
  if (name.isEmpty()) return;
  renamed.name = name.toStdString();
  editing_.document().apply(tr("Feel renamed to %1").arg(name),
                            withFeel(document().song(), std::move(renamed)));
}

void FeelsCard::remove() {
  const Feel* feel = chosen();
  if (feel == nullptr) return Q_EMIT refused(tr("Choose a feel first"));
  const QString step = tr("Feel %1 deleted").arg(QString::fromStdString(feel->name));
  const std::string id = feel->id;
  editing_.document().apply(step, withoutFeel(document().song(), id));
}

void FeelsCard::compare() {
  const Feel* feel = chosen();
  if (feel == nullptr) return Q_EMIT refused(tr("Choose a feel first"));
  compared_ = feel->id == compared_ ? std::string() : feel->id;
  compare_->setText(compared_.empty() ? tr("Compare") : tr("No longer compare"));
  Q_EMIT compared(compared_);
}

void FeelsCard::copyTo() {
  const Feel* feel = chosen();
  if (feel == nullptr) return Q_EMIT refused(tr("Choose a feel first"));
  const QString path =
      prompts_.fileToOpen(this, tr("Copy the feel into"), {}, tr("Songs (*.ustick)"));
  if (path.isEmpty()) return;
  const Result<std::string> text = files_.read(path.toStdString());
  if (!text) return Q_EMIT failed(QString::fromStdString(text.error().line()));
  Result<Song> song = readSong(*text, path.toStdString());
  if (!song) return Q_EMIT failed(QString::fromStdString(song.error().line()));
  // Pieces that only this song has mean nothing there.
  const Result<Feel> there =
      readFeel(writeFeel(*feel, *document().song().kit), path.toStdString(), *song->kit);
  if (!there) return Q_EMIT failed(QString::fromStdString(there.error().message));
  std::string id;
  const Song with = withNewFeel(*std::move(song), *there, feel->id, id);
  const Status saved = saveAtomically(files_, path.toStdString(), writeSong(with));
  if (!saved) return Q_EMIT failed(QString::fromStdString(saved.error().line()));
  Q_EMIT said(tr("%1 copied into %2").arg(QString::fromStdString(with.findFeel(id)->name), path));
}

void FeelsCard::save() {
  const Feel* feel = chosen();
  if (feel == nullptr) return Q_EMIT refused(tr("Choose a feel first"));
  const Feel kept = *feel;
  const QString path =
      prompts_.fileToSave(this, tr("Save the feel"), QString::fromStdString(kept.id) + ".feel.json",
                          tr("Feels (*.feel.json)"));
  if (path.isEmpty()) return;
  const Status safe =
      refuseOverwriting({document().path().toStdString(), document().recording().toStdString()},
                        {path.toStdString()});
  if (!safe) return Q_EMIT failed(QString::fromStdString(safe.error().line()));
  const Status saved =
      saveAtomically(files_, path.toStdString(), writeFeel(kept, *document().song().kit));
  if (!saved) return Q_EMIT failed(QString::fromStdString(saved.error().line()));
  Q_EMIT said(tr("Saved as %1").arg(path));
}

void FeelsCard::load() {
  const QString path =
      prompts_.fileToOpen(this, tr("Read a feel"), {}, tr("Feels (*.feel.json *.json)"));
  if (path.isEmpty()) return;
  const Result<std::string> text = files_.read(path.toStdString());
  if (!text) return Q_EMIT failed(QString::fromStdString(text.error().line()));
  Result<Feel> feel = readFeel(*text, path.toStdString(), *document().song().kit);
  if (!feel) return Q_EMIT failed(QString::fromStdString(feel.error().line()));
  const QString step = tr("Feel %1 read").arg(QString::fromStdString(feel->name));
  const std::string wanted = feel->id;
  std::string id;
  editing_.document().apply(step, withNewFeel(document().song(), *std::move(feel), wanted, id));
  list_->setCurrentRow(list_->count() - 1);
}

}  // namespace uneven
