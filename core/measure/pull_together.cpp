// SPDX-License-Identifier: GPL-3.0-or-later
// Pulling unisons together.
#include "core/measure/pull_together.h"

#include <algorithm>
#include <cmath>

#include "core/measure/unison.h"
#include "core/take/take.h"

namespace uneven {

Result<PulledTogether> pullTogether(const Song& song, const std::string& grooveId,
                                    const std::set<Beat>& at, const std::set<PieceId>& pieces,
                                    Milliseconds above) {
  const Result<SharedTake> take = Take::ofGroove(song, grooveId);
  if (!take) return take.error();
  const Performance& performance = (*take)->performance();
  PulledTogether out{*(*take)->score().blocks.front().groove, 0, 0};
  for (const Unison& unison : unisons(performance)) {
    std::vector<const Stroke*> named;
    Moment first = Moment::max(), last = Moment::min();
    double sum = 0;
    for (const std::size_t i : unison.strokes) {
      const Stroke& s = performance.strokes[i];
      if (!pieces.empty() && !pieces.contains(s.piece)) continue;
      named.push_back(&s);
      const Moment plain = s.time - s.drift;
      first = std::min(first, plain);
      last = std::max(last, plain);
      sum += toMilliseconds(plain).count();
    }
    if (named.size() < 2 || toMilliseconds(last - first) <= above) continue;
    if (!at.empty() && !at.contains(out.groove.hits[named.front()->hit].at)) continue;
    ++out.positions;
    const double mean = sum / static_cast<double>(named.size());
    for (const Stroke* s : named) {
      Hit& hit = out.groove.hits[s->hit];
      const double nudge = hit.nudge.count() + mean - toMilliseconds(s->time - s->drift).count();
      const Milliseconds wanted(roundedTo(nudge, 1000));
      const Milliseconds held = std::clamp(wanted, -kShiftMax, kShiftMax);
      out.hits += held == hit.nudge ? 0 : 1;
      hit.nudge = held;
    }
  }
  return out;
}

}  // namespace uneven
