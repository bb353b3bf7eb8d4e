// SPDX-License-Identifier: GPL-3.0-or-later
// Questions that wait for an answer, behind an interface so that tests can give it.
#pragma once

#include <QString>
#include <QStringList>

class QWidget;

namespace uneven {

enum class SaveAnswer { kSave, kDiscard, kCancel };

class Prompts {
 public:
  virtual ~Prompts() = default;
  virtual SaveAnswer saveChanges(QWidget* parent, const QString& title) = 0;
  // Empty: cancelled.
  virtual QString fileToOpen(QWidget* parent, const QString& title, const QString& folder,
                             const QString& filter) = 0;
  // A line of text, `text` to begin with.
  virtual QString line(QWidget* parent, const QString& title, const QString& text) = 0;
  // Which of these; -1: cancelled.
  virtual int choice(QWidget* parent, const QString& title, const QStringList& words) = 0;
  virtual QString fileToSave(QWidget* parent, const QString& title, const QString& suggestion,
                             const QString& filter) = 0;
};

// The desktop's own dialogs.
class DesktopPrompts final : public Prompts {
 public:
  SaveAnswer saveChanges(QWidget* parent, const QString& title) override;
  QString fileToOpen(QWidget* parent, const QString& title, const QString& folder,
                     const QString& filter) override;
  QString line(QWidget* parent, const QString& title, const QString& text) override;
  int choice(QWidget* parent, const QString& title, const QStringList& words) override;
  QString fileToSave(QWidget* parent, const QString& title, const QString& suggestion,
                     const QString& filter) override;
};

}  // namespace uneven
