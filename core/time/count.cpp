// SPDX-License-Identifier: GPL-3.0-or-later
// Count names.
#include "core/time/count.h"

#include <array>

#include "core/base/number.h"

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
    const Beat before = part - Beat(1, part.den());
    name.partial = before == Beat(0)      ? "ta"
                   : part.den() == 6      ? "let ta"
                   : before == Beat(1, 2) ? "& ta"
                   : before == Beat(1, 4) ? "e ta"
                                          : "a ta";
  } else {
    name.partial = std::to_string(part.num() + 1) + ":" + std::to_string(part.den());
  }
  return name;
}

std::string placeName(Beat at, Meter meter) {
  const std::int64_t bar = at.floorDiv(meter.barLength());
  const std::string count = countName(at - Beat(bar) * meter.barLength(), meter).text();
  return bar == 0 ? count : count + " of bar " + std::to_string(bar + 1);
}

std::optional<Beat> placeOfName(std::string_view text, Meter meter, Grid grid) {
  std::string words(text);
  std::int64_t bar = 0;
  if (const std::size_t of = words.find(" of bar "); of != std::string::npos) {
    const auto number = wholeNumber(words.substr(of + 8));
    if (!number || *number < 1 || *number > 1'000'000) return std::nullopt;
    bar = *number - 1;
    words.resize(of);
  }
  std::size_t digits = 0;
  while (digits < words.size() && words[digits] >= '0' && words[digits] <= '9') ++digits;
  const auto count = wholeNumber(words.substr(0, digits));
  if (!count || *count < 1) return std::nullopt;
  std::string partial = words.substr(digits);
  partial.erase(0, partial.find_first_not_of(' ') == std::string::npos
                       ? partial.size()
                       : partial.find_first_not_of(' '));
  Beat part;
  if (const std::size_t colon = partial.find(':'); colon != std::string::npos) {
    const auto which = wholeNumber(partial.substr(0, colon)),
               of = wholeNumber(partial.substr(colon + 1));
    if (!which || !of || *of < 1 || *of > 1'000 || *which < 1 || *which > *of) return std::nullopt;
    part = Beat(*which - 1, *of);
  } else if (!partial.empty()) {
    // By the names themselves: what is said is what is read.
    std::optional<Beat> found;
    const bool sixths = grid.tuplet == 3 || meter.compound();
    const std::array<int, 3> parts = sixths ? std::array{6, 8, 4} : std::array{8, 6, 4};
    for (const int den : parts) {
      for (int k = 1; k < den && !found; ++k) {
        if (countName(Beat(k, den) * meter.countUnit(), meter).partial == partial)
          found = Beat(k, den);
      }
    }
    if (!found) return std::nullopt;
    part = *found;
  }
  const Beat inBar = (Beat(*count - 1) + part) * meter.countUnit();
  if (inBar >= meter.barLength()) return std::nullopt;
  return Beat(bar) * meter.barLength() + inBar;
}

}  // namespace uneven
