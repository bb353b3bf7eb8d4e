// SPDX-License-Identifier: GPL-3.0-or-later
// The part of Deliver that writes audio files: what they are like, and a worker that renders them.
#pragma once

#include <QWidget>
#include <functional>

#include "app/controls/aside.h"
#include "app/controls/field_rows.h"
#include "app/edit/document.h"
#include "sound/file/render_audio.h"

class QCheckBox;
class QLabel;
class QProgressBar;
class QTimer;

namespace uneven {

class ActionButton;
class ChoiceField;
class Prompts;
class Transport;

class AudioForm : public QWidget {
  Q_OBJECT
 public:
  // `leadIn` gives the bars of silence before the song.
  AudioForm(Document& document, FileSystem& files, Prompts& prompts, Transport& transport,
            std::function<int()> leadIn, QWidget* parent);

  void write();                       // asks where
  void writeTo(const QString& path);  // on a worker
  bool writing() const { return aside_.busy(); }

 Q_SIGNALS:
  void said(const QString& what);
  void failed(const QString& why);

 private:
  void tell(const Result<AudioReport>& report);
  AudioCall call(const QString& path) const;

  Document& document_;
  FileSystem& files_;
  Prompts& prompts_;
  Transport& transport_;
  std::function<int()> leadIn_;
  ChoiceField* rate_;
  ChoiceField* bits_;
  ChoiceField* stems_;
  QCheckBox* click_;
  ActionButton* write_;
  QWidget* busy_;
  QProgressBar* bar_;
  QTimer* look_ = nullptr;  // how far it is, while it writes
  QLabel* written_;
  FieldRows rows_;
  bool givenUp_ = false;
  Aside<Result<AudioReport>> aside_;
};

}  // namespace uneven
