// SPDX-License-Identifier: GPL-3.0-or-later
// What a drag over the strip makes of the song.
#include "app/arrange/strip_drag.h"

#include <algorithm>

#include "app/arrange/strip_view.h"
#include "app/controls/labels.h"
#include "core/base/number.h"

namespace uneven {

std::pair<QString, Song> stripDragged(const StripDrag& drag, QPointF to, TempoGoes goes) {
  using Kind = StripHit::Kind;
  const StripHit& hit = drag.hit;
  const SongStrip& was = drag.strip;
  const Song& before = drag.before;
  const QPointF way = to - drag.from;
  if (hit.kind == Kind::kTempoPoint || hit.kind == Kind::kTempoLine) {
    const TempoMark& mark = before.tempo[hit.index];
    const double bpm =
        std::clamp(roundedTo(was.bpmAt(was.yOfBpm(mark.bpm.value) + way.y()), StripDrag::kBpmSteps),
                   kBpmMin, kBpmMax);
    Song after = withTempoMark(before, mark.at, Bpm{bpm}, mark.ramp);
    if (hit.kind == Kind::kTempoPoint && hit.index > 0)
      after =
          withTempoMarkMoved(std::move(after), hit.index,
                             stripBeat(was, was.axis.xFromQuarters(mark.at.toDouble()) + way.x()));
    return {StripView::tr("Tempo %1").arg(bpm), std::move(after)};
  }
  const std::vector<Section> sections = before.sections();
  Section section = sections[hit.index];
  if (hit.kind == Kind::kEdge) {
    const double pass = std::max(1e-3, passLength(before, section).toDouble());
    const double pixels = pass * was.axis.pxPerQuarter();
    const int times = std::clamp(section.repeat + static_cast<int>(roundToInt(way.x() / pixels)), 1,
                                 kSongBarsMax);
    return {StripView::tr("%1: %2 times").arg(qs(section.name)).arg(times),
            withSectionRepeated(before, hit.index, times, goes)};
  }
  const double db = roundedTo(-way.y() / was.shapes.height() * 32, 2);  // half dB, as drawn
  if (hit.kind == Kind::kLevelEnd) {
    section.toLevelDb =
        std::clamp(section.toLevelDb.value_or(section.levelDb) + db, -kLevelDbMost, kLevelDbMost);
  } else {
    // The beginning; where the level was even it stays so.
    section.levelDb = std::clamp(section.levelDb + db, -kLevelDbMost, kLevelDbMost);
  }
  if (section.toLevelDb == section.levelDb) section.toLevelDb.reset();
  const QString step =
      StripView::tr("%1: %2 dB").arg(qs(section.name)).arg(numberText(section.levelDb, 1, true));
  return {step, withSectionChanged(before, hit.index, std::move(section), goes)};
}

}  // namespace uneven
