// SPDX-License-Identifier: GPL-3.0-or-later
// What is typed into a field of the swing ratio, as people say it.
#pragma once

#include <QString>
#include <functional>
#include <optional>

#include "app/edit/document.h"
#include "core/perform/swing.h"

namespace uneven {

// `document` outlives what is given back.
inline std::function<std::optional<double>(const QString&)> swingReader(const Document& document) {
  return [&document](const QString& text) {
    const Milliseconds pair = pairLength(document.feel().swing.unit, document.tempo());
    return ratioSaid(text.toStdString(), SwingSaid::kRatio, pair);
  };
}

}  // namespace uneven
