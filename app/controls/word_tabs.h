// SPDX-License-Identifier: GPL-3.0-or-later
// A row of words, one of which is current: which card stands beside the lanes.
#pragma once

#include <QStringList>
#include <QWidget>

namespace uneven {

class WordTabs : public QWidget {
  Q_OBJECT
 public:
  explicit WordTabs(QWidget* parent = nullptr);

  // What the words choose among: "Card".
  void setPurpose(const QString& purpose);
  void addWord(const QString& word, const QString& tip);
  void setWord(int index, const QString& word);
  void setCurrent(int index);
  int current() const { return current_; }
  int count() const { return static_cast<int>(words_.size()); }
  QRect wordRect(int index) const;
  QString word(int index) const { return words_.value(index); }
  QString tip(int index) const { return tips_.value(index); }
  // As a hand does it.
  void choose(int index) { Q_EMIT chosen(index); }

 Q_SIGNALS:
  void chosen(int index);  // by mouse or the arrow keys

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  bool event(QEvent* event) override;

 private:
  int wordAt(const QPoint& p) const;
  void tell();

  QString purpose_;
  QStringList words_;
  QStringList tips_;
  int current_ = 0;
};

}  // namespace uneven
