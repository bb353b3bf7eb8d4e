// SPDX-License-Identifier: GPL-3.0-or-later
// The Deliver stage: choose how the MIDI file is made, see what will be in it, write it.
#pragma once

#include <QTemporaryDir>
#include <memory>
#include <optional>

#include "app/controls/aside.h"
#include "app/controls/field_rows.h"
#include "app/stage/stage.h"
#include "core/midi/render.h"

class QCheckBox;
class QGridLayout;
class QLabel;
class QProgressBar;
class QTableView;

namespace uneven {

class ActionButton;
class AudioForm;
class ChoiceField;
class EventList;
class MidiTile;
class NumberField;
class Prompts;
class Transport;

class DeliverStage : public Stage {
  Q_OBJECT
 public:
  static constexpr const char* kId = "deliver";
  explicit DeliverStage(const Workplace& place, QWidget* parent = nullptr);

  // Renders to `path` with the options shown: at once, or aside where the song is long. said() or
  // failed() tells what became of it.
  void writeTo(const QString& path);
  void write();  // asks where
  MidiTile& tile() { return *tile_; }
  AudioForm& audio() { return *audio_; }
  bool copy() override;  // the list of notes

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  // A rendering with all that the list needs; made on a worker thread for long songs.
  struct Made {
    SharedTake take;
    KitMap map;
    std::optional<Rendering> rendering;
    std::string bytes;
    std::optional<Error> error;
    std::uint64_t wanted = 0;  // of the stage, when it was asked for
  };
  static std::shared_ptr<const Made> make(const SharedTake& take, const KitMap& map,
                                          const RenderOptions& options, std::uint64_t wanted,
                                          const std::stop_token& stop);

  QWidget* form(Transport& transport);
  void fillMaps();
  void chooseMap(int index);
  void refresh();
  void accept(std::shared_ptr<const Made> made);
  void fail(Error error);
  void cancel();
  RenderOptions options() const;
  void finishWrite();
  void notWritten(const Error& why);
  QString makeTemporaryFile();
  QString fileName() const;

  Document& document_;
  FileSystem& files_;
  Prompts& prompts_;
  FieldRows rows_;
  NumberField* ppq_ = nullptr;
  ChoiceField* map_ = nullptr;
  ChoiceField* type_ = nullptr;
  NumberField* leadIn_ = nullptr;
  QCheckBox* perPiece_ = nullptr;
  ActionButton* write_ = nullptr;
  QLabel* written_ = nullptr;
  QLabel* notices_ = nullptr;
  QWidget* busy_ = nullptr;
  QTableView* table_ = nullptr;
  EventList* list_ = nullptr;
  QLabel* listTitle_ = nullptr;
  MidiTile* tile_ = nullptr;
  AudioForm* audio_ = nullptr;
  QTemporaryDir temporary_;
  std::shared_ptr<const Made> made_;
  bool fresh() const { return made_ != nullptr && made_->wanted == wanted_; }
  void again();                     // what has been made is stale
  std::uint64_t wanted_ = 1;        // grows with whatever is rendered anew
  bool waiting_ = false;            // for the document to perform the song
  std::optional<QString> pending_;  // where what is being made is to be written
  Aside<std::shared_ptr<const Made>> rendering_;
};

}  // namespace uneven
