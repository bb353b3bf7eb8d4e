// SPDX-License-Identifier: GPL-3.0-or-later
// Fields for the arguments of a tool or a walk, made from its table (core/tools/tool.h), so that a
// new one needs nothing here.
#pragma once

#include <QWidget>
#include <functional>
#include <map>

#include "core/song/kit.h"
#include "core/tools/tool.h"

namespace uneven {

class ArgumentForm : public QWidget {
  Q_OBJECT
 public:
  // Fields are named `prefix` and the parameter's name.
  ArgumentForm(const std::vector<ToolParameter>& parameters, const Kit& kit, const QString& prefix,
               QWidget* parent = nullptr);

  // From here on the ends of a span are shown and typed as counts ("2", "3 a of bar 2") of what
  // `bars` gives, and not as quarters; set() and arguments() go on in quarters.
  struct Bars {
    Meter meter;
    Grid grid;
  };
  void speakCounts(std::function<Bars()> bars);
  Arguments arguments() const;
  // Nothing where there is no such field.
  void set(const std::string& name, const QString& value);
  bool has(const std::string& name) const { return byName_.contains(name); }
  QWidget* field(const std::string& name) const { return byName_.at(name); }

 Q_SIGNALS:
  void changed();
  void accepted();  // Enter in a text

 private:
  QWidget* fieldFor(const ToolParameter& parameter, const Kit& kit);
  QString countOf(const std::string& name, const QString& quarters) const;
  std::function<Bars()> bars_;
  std::map<std::string, QWidget*> byName_;
};

}  // namespace uneven
