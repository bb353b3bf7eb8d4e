// SPDX-License-Identifier: GPL-3.0-or-later
// Fields for the arguments of a tool or a walk, made from its table (core/tools/tool.h), so that a
// new one needs nothing here.
#pragma once

#include <QWidget>
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
  std::map<std::string, QWidget*> byName_;
};

}  // namespace uneven
