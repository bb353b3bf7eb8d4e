// SPDX-License-Identifier: GPL-3.0-or-later
// The desktop's dialogs.
#include "app/controls/prompts.h"

#include <QCoreApplication>
#include <QFileDialog>
#include <QInputDialog>
#include <QMessageBox>

#include "app/controls/labels.h"

namespace uneven {
namespace {

// Choosing a file must not change the disk: Qt's own dialog would delete folders with all they
// hold, also what its filter hides.
constexpr QFileDialog::Options kDialogOptions = QFileDialog::ReadOnly;

}  // namespace

SaveAnswer DesktopPrompts::saveChanges(QWidget* parent, const QString& title) {
  QMessageBox box(
      QMessageBox::NoIcon, QCoreApplication::translate("Prompts", "Unsaved changes"),
      QCoreApplication::translate("Prompts", "\"%1\" has changes that are not saved.").arg(title),
      QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel, parent);
  box.setTextFormat(Qt::PlainText);
  box.setDefaultButton(QMessageBox::Save);
  switch (box.exec()) {
    case QMessageBox::Save:
      return SaveAnswer::kSave;
    case QMessageBox::Discard:
      return SaveAnswer::kDiscard;
    default:
      return SaveAnswer::kCancel;
  }
}

QString DesktopPrompts::fileToOpen(QWidget* parent, const QString& title, const QString& folder,
                                   const QString& filter) {
  return QFileDialog::getOpenFileName(parent, title, folder, filter, nullptr, kDialogOptions);
}

QString DesktopPrompts::line(QWidget* parent, const QString& title, const QString& text) {
  bool ok = false;
  const QString typed =
      QInputDialog::getText(parent, title, QString(), QLineEdit::Normal, text, &ok);
  return ok ? typed : QString();
}

int DesktopPrompts::choice(QWidget* parent, const QString& title, const QStringList& words) {
  bool ok = false;
  const QString word = QInputDialog::getItem(parent, title, plainText(title), words, 0, false, &ok);
  return ok ? static_cast<int>(words.indexOf(word)) : -1;
}

QString DesktopPrompts::fileToSave(QWidget* parent, const QString& title, const QString& suggestion,
                                   const QString& filter) {
  return QFileDialog::getSaveFileName(parent, title, suggestion, filter, nullptr, kDialogOptions);
}

}  // namespace uneven
