// SPDX-License-Identifier: GPL-3.0-or-later
// The song's feels as a list: chosen, duplicated, renamed, compared, taken away, and in files of
// their own.
#pragma once

#include "app/controls/card.h"
#include "app/edit/editing.h"

class QListWidget;

namespace uneven {

class ActionButton;
class Prompts;

class FeelsCard : public Card {
  Q_OBJECT
 public:
  FeelsCard(Editing& editing, FileSystem& files, Prompts& prompts, QWidget* parent = nullptr);

 Q_SIGNALS:
  void refused(const QString& why);
  void failed(const QString& why);
  void said(const QString& what);
  void compared(const std::string& feelId);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  const Document& document() const { return editing_.document(); }
  ActionButton* add(const QString& text, const char* objectName, const QString& tip,
                    void (FeelsCard::*act)());
  void read();
  const Feel* chosen() const;
  void use();
  void duplicate();
  void rename();
  void remove();
  void compare();
  void copyTo();
  void save();
  void load();

  Editing& editing_;
  FileSystem& files_;
  Prompts& prompts_;
  QListWidget* list_;
  ActionButton* compare_ = nullptr;
  std::string compared_;
};

}  // namespace uneven
