// SPDX-License-Identifier: GPL-3.0-or-later
// Core grooves.
#include "core/song/core_groove.h"

namespace uneven {

Groove backToCore(const Groove& core, Groove version) {
  version.hits.clear();
  const Beat length = version.length();
  for (Beat start; start < length; start += core.length()) {
    for (Hit hit : core.hits) {
      hit.at += start;
      if (hit.at < length) version.hits.push_back(std::move(hit));
    }
  }
  return version;
}

Selection addedTo(const Groove& core, const Groove& version) {
  const Groove plain = backToCore(core, version);
  Selection out;
  for (std::size_t i = 0; i < version.hits.size(); ++i) {
    const HitRef ref = refOf(version, i);
    if (!indexOf(plain, ref)) out.insert(ref);
  }
  return out;
}

int leftOutOf(const Groove& core, const Groove& version) {
  const Groove plain = backToCore(core, version);
  int out = 0;
  for (std::size_t i = 0; i < plain.hits.size(); ++i) {
    if (!indexOf(version, refOf(plain, i))) ++out;
  }
  return out;
}

}  // namespace uneven
