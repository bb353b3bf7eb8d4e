// SPDX-License-Identifier: GPL-3.0-or-later
// Finds anything by a few letters of its name: an action, a tool, a groove, a feel, a section.
#pragma once

#include <QDialog>
#include <vector>

#include "app/stage/actions.h"

class QLabel;
class QLineEdit;
class QTreeWidget;

namespace uneven {

// Whether each word of `typed` begins a word of the entry. Best first: what is so called, what
// begins so, then the rest in its own order.
std::vector<const Found*> matching(const std::vector<Found>& all, const QString& typed);

class Finder : public QDialog {
  Q_OBJECT
 public:
  explicit Finder(std::vector<Found> all, QWidget* parent = nullptr);

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void search(const QString& typed);
  void run();

  std::vector<Found> all_;
  std::vector<const Found*> shown_;
  QLineEdit* field_;
  QTreeWidget* list_;
  QLabel* none_;
};

}  // namespace uneven
