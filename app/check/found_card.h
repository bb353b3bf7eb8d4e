// SPDX-License-Identifier: GPL-3.0-or-later
// The list of findings by cause: those of the groove at hand first, each with its mending, or left
// as it is. A cause opens to its places; what is left, and what was mended here, can be shown.
#pragma once

#include <map>
#include <set>

#include "app/controls/card.h"
#include "app/stage/checker.h"

class QLabel;
class QScrollArea;
class QVBoxLayout;

namespace uneven {

class FoundCard : public Card {
  Q_OBJECT
 public:
  FoundCard(Editing& editing, Checker& checker, QWidget* parent);

  // In the order of the list.
  const std::vector<Finding>& findings() const { return findings_; }
  std::optional<std::size_t> chosen() const { return chosen_; }
  void choose(std::optional<std::size_t> index);
  void step(int by);  // to the next one, or the one before
  void mend(std::size_t index, std::size_t way = 0);
  void mendKind(std::size_t index);  // all of its kind in its groove
  void leave(std::size_t index);
  void takeUp(std::size_t left);  // of those that are left
  void mendCause(std::size_t cause);
  void leaveCause(std::size_t cause);
  void openCause(std::size_t cause, bool open);
  std::size_t causes() const { return causes_.size(); }
  // What is listed is of the song as it is.
  bool fresh() const { return checker_.now() != nullptr; }

 Q_SIGNALS:
  void chose();

 private:
  void read();
  void build();
  void addFinding(QVBoxLayout& rows, std::size_t index, int indent);
  void addCause(QVBoxLayout& rows, std::size_t cause);
  void showCauseOf(std::size_t index);
  void mendAll(const std::vector<std::size_t>& which);
  void addDone(QVBoxLayout& rows);
  void done(const Finding& f, const QString& how);
  QString placeOf(const Finding& f) const;

  Editing& editing_;
  Checker& checker_;
  QLabel* title_;
  QScrollArea* scroll_;
  QWidget* list_ = nullptr;
  std::vector<Finding> findings_;
  std::vector<Finding> left_;
  struct Done {
    QString what;
    int step = 0;  // of the undo stack, with it done
  };
  std::vector<Done> mended_;  // that still are, as far as this window knows
  bool showsDone_ = false;
  std::vector<std::vector<std::size_t>> causes_;  // indices into findings_
  std::set<std::size_t> open_;                    // causes whose places are shown
  std::optional<std::size_t> chosen_;
  std::map<std::size_t, QWidget*> rows_;  // of the page that is shown, by finding
  std::size_t page_ = 0;
  QTimer stale_;  // what is listed turns grey where the look takes its time
};

}  // namespace uneven
