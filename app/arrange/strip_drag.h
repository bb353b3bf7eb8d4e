// SPDX-License-Identifier: GPL-3.0-or-later
// A drag over the song's strip: how often a section is played, its levels, a tempo and its place.
#pragma once

#include <QPointF>
#include <memory>
#include <optional>
#include <utility>

#include "app/edit/gesture.h"
#include "core/arrange/sections.h"
#include "layout/song_strip.h"

namespace uneven {

struct StripDrag {
  static constexpr double kBpmSteps = 2;  // in one BPM

  StripHit hit;
  QPointF from;
  Song before;
  SongStrip strip;  // as it was
  std::unique_ptr<SongGesture> gesture;
  std::optional<std::size_t> target;  // where a section would be let go
  bool moved = false;
};

// The step and the song that it leads to, of anything but a section that is moved.
std::pair<QString, Song> stripDragged(const StripDrag& drag, QPointF to, TempoGoes goes);

}  // namespace uneven
