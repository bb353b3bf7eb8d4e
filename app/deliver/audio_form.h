// SPDX-License-Identifier: GPL-3.0-or-later
// The part of Deliver that writes audio files: what they are like, and a worker that renders them.
#pragma once

#include <QFutureWatcher>
#include <QWidget>
#include <atomic>
#include <functional>
#include <memory>

#include "app/edit/document.h"
#include "sound/file/render_audio.h"

class QCheckBox;
class QGridLayout;
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
  ~AudioForm() override;

  void write();                       // asks where
  void writeTo(const QString& path);  // on a worker
  bool writing() const { return worker_.isRunning(); }

 Q_SIGNALS:
  void said(const QString& what);
  void failed(const QString& why);

 private:
  struct Work {
    std::atomic<bool> givenUp{false};
    std::atomic<double> done{0};
  };
  void addRow(QGridLayout* grid, const QString& name, QWidget* field, const QString& tip);
  void finished();
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
  std::shared_ptr<Work> work_;
  QFutureWatcher<Result<AudioReport>> worker_;
};

}  // namespace uneven
