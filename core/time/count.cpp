// SPDX-License-Identifier: GPL-3.0-or-later
// Count names.
#include "core/time/count.h"

namespace uneven {

std::string CountName::text() const {
  return partial.empty() ? std::to_string(count) : std::to_string(count) + " " + partial;
}

std::string CountName::label() const {
  return partial.empty() ? std::to_string(count) : partial;
}

CountName countName(Beat atInBar, Meter meter) {
  const Beat unit = meter.countUnit();
  const std::int64_t index = atInBar.floorDiv(unit);
  const Beat part = (atInBar - Beat(index) * unit) / unit;  // share of the count, in [0, 1)
  CountName name;
  name.count = static_cast<int>(index) + 1;
  if (part == Beat(0)) return name;
  if (part == Beat(1, 2)) {
    name.partial = "&";
  } else if (part.den() == 4) {
    name.partial = part.num() == 1 ? "e" : "a";
  } else if (part.den() == 3) {
    name.partial = part.num() == 1 ? "trip" : "let";
  } else if (part.den() == 8 || part.den() == 6) {
    name.partial = "ta";
  } else {
    name.partial = std::to_string(part.num() + 1) + ":" + std::to_string(part.den());
  }
  return name;
}

}  // namespace uneven
