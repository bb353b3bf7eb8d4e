// SPDX-License-Identifier: GPL-3.0-or-later
// Editing the song's sections: which one and which of its bars are chosen, and every intent of hand
// and key. Each is one undo step; what cannot be is told by refused() and changes nothing.
#pragma once

#include <QObject>
#include <functional>
#include <optional>

#include "app/edit/editing.h"
#include "core/arrange/sections.h"
#include "core/arrange/templates.h"

namespace uneven {

class Arranging : public QObject {
  Q_OBJECT
 public:
  explicit Arranging(Editing& editing, QObject* parent = nullptr);

  Document& document() { return document_; }
  const Document& document() const { return document_; }
  const Song& song() const { return document_.song(); }

  // The chosen section, from 0, and the chosen block of it, from 0.
  std::size_t section() const { return section_; }
  std::size_t block() const { return block_; }
  void choose(std::size_t section, std::size_t block = 0);
  std::size_t count() const { return sections_.size(); }
  const Section& chosen() const { return sections_[section_]; }
  const std::vector<Section>& sections() const { return sections_; }
  // Blocks of the whole song's score that belong to the chosen section: first and behind the last.
  std::pair<std::size_t, std::size_t> blocks() const;
  // The tempo in force where the chosen section begins, and ends.
  double bpm() const;
  double bpmAtEnd() const;
  // What the song holds there: a mark of its own at the section's start.
  const TempoMark* mark() const;

  bool tempoAlong() const { return along_; }
  void setTempoAlong(bool along);

  void change(const QString& step, const std::function<void(Section&)>& edit, Merge merge = {});
  // Told where it refuses.
  bool apply(const QString& step, Result<Song> song, Merge merge = {});

  void setTimes(int times, Merge merge = {});
  void level(double by, bool end);  // dB
  void split();                     // before the chosen bar, else in the middle
  void join();
  void move(int by);
  void moveTo(std::size_t from, std::size_t to);
  void duplicate();
  void remove();
  void add(const std::string& groove);  // behind the chosen one
  void writeOut();
  void fold();
  void smooth(double aboveMs);
  void fill(const FillPlan& plan);
  void noFill();
  void applyTemplate(const TemplateAsked& asked);
  void setForm(const QString& text);
  void setBpm(double bpm, Merge merge = {});
  void setRamp(bool ramp);
  void noMark();
  void setRelation(const QString& text);
  // The chosen bar's groove, at that place, becomes the one that is edited.
  void open();

 Q_SIGNALS:
  void changed();  // the song, or what is chosen
  void said(const QString& what);
  void refused(const QString& why);
  void opened();

 private:
  void read();
  TempoGoes goes() const { return along_ ? TempoGoes::kAlong : TempoGoes::kStays; }

  Editing& editing_;
  Document& document_;
  std::vector<Section> sections_;
  std::size_t section_ = 0;
  std::size_t block_ = 0;
  bool along_ = true;
};

}  // namespace uneven
