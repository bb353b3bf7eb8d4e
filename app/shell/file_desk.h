// SPDX-License-Identifier: GPL-3.0-or-later
// New, open, save, save as, recent files, and what becomes of unsaved changes.
#pragma once

#include <QObject>
#include <QStringList>

class QSettings;
class QWidget;

namespace uneven {

class Document;
class Prompts;

class FileDesk : public QObject {
  Q_OBJECT
 public:
  FileDesk(Document& document, Prompts& prompts, QSettings& settings, QWidget* window);

  void newSong();
  void open();
  void openDemo();
  bool openPath(const QString& path);  // asks about unsaved changes first
  bool save();
  bool saveAs();
  // Asks about unsaved changes; false: stay.
  bool mayLeave();
  QStringList recent() const;

  static constexpr int kRecentMost = 8;
  static QString songFilter();

 Q_SIGNALS:
  void said(const QString& what);
  void failed(const QString& what);
  void recentChanged();

 private:
  // What is being typed belongs to the song that is saved or left.
  void takeTyped();
  bool writeTo(const QString& path);
  void remember(const QString& path);
  QString folder() const;

  Document& document_;
  Prompts& prompts_;
  QSettings& settings_;
  QWidget* window_;
};

}  // namespace uneven
