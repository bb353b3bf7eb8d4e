// SPDX-License-Identifier: GPL-3.0-or-later
// Tempo arithmetic.
#include "core/measure/tempo_card.h"

#include <fmt/format.h>

#include "core/base/number.h"

namespace uneven {

const std::vector<NoteValue>& noteValues() {
  static const std::vector<NoteValue> values{
      {"quarters", Beat(1)},          {"quarter triplets", Beat(2, 3)},
      {"eighths", Beat(1, 2)},        {"eighth triplets", Beat(1, 3)},
      {"sixteenths", Beat(1, 4)},     {"quintuplets", Beat(1, 5)},
      {"sextuplets", Beat(1, 6)},     {"septuplets", Beat(1, 7)},
      {"thirty-seconds", Beat(1, 8)},
  };
  return values;
}

Milliseconds noteLength(Bpm bpm, Beat length) {
  return Milliseconds(60'000 / bpm.value * length.toDouble());
}

std::vector<SameNotes> sameNotes(Bpm bpm) {
  std::vector<SameNotes> out;
  const NoteValue& sixteenths = noteValues()[4];
  const NoteValue& eighths = noteValues()[2];
  for (const NoteValue& here : noteValues()) {
    if (here.length == Beat(1) || here.length == Beat(1, 5) || here.length == Beat(1, 7)) continue;
    for (const NoteValue& there : {sixteenths, eighths}) {
      if (there.length == here.length) continue;
      const double as = bpm.value * (there.length / here.length).toDouble();
      if (!(as >= kBpmMin && as <= kBpmMax)) continue;
      SameNotes same{here, there, Bpm{as}, {}};
      same.text = fmt::format("{} at {} are {} at {}", here.name, roundedTo(bpm.value, 100),
                              there.name, roundedTo(as, 100));
      out.push_back(std::move(same));
      break;
    }
  }
  return out;
}

}  // namespace uneven
