// SPDX-License-Identifier: GPL-3.0-or-later
// The frame of bars.
#include "layout/bar_frame.h"

#include <algorithm>
#include <cmath>

#include "core/perform/clock.h"
#include "core/song/slots.h"

namespace uneven {
namespace {

constexpr double kLetter = 6.5;  // of a count name
constexpr double kLabelGap = 5;  // between two of them

double labelWidth(const GridLine& line) {
  return kLetter * static_cast<double>(line.count.label().size());
}

// Whether both names, centred on their lines, fit beside each other.
bool fitBeside(const GridLine& a, const GridLine& b) {
  return b.x - a.x >= (labelWidth(a) + labelWidth(b)) / 2 + kLabelGap;
}

// Numbers win over the names between them, and earlier ones over later ones.
void dropCrowdedLabels(std::vector<GridLine>& lines) {
  const auto isCount = [](const GridLine& l) { return l.weight != LineWeight::kPartial; };
  const GridLine* before = nullptr;
  for (GridLine& line : lines) {
    if (!isCount(line)) continue;
    line.labelled = before == nullptr || fitBeside(*before, line);
    if (line.labelled) before = &line;
  }
  // The next number that is shown, seen from each line.
  std::vector<const GridLine*> next(lines.size(), nullptr);
  const GridLine* coming = nullptr;
  for (std::size_t i = lines.size(); i-- > 0;) {
    next[i] = coming;
    if (isCount(lines[i]) && lines[i].labelled) coming = &lines[i];
  }
  before = nullptr;
  for (std::size_t i = 0; i < lines.size(); ++i) {
    GridLine& line = lines[i];
    if (!isCount(line)) {
      line.labelled = (before == nullptr || fitBeside(*before, line)) &&
                      (next[i] == nullptr || fitBeside(line, *next[i]));
    }
    if (line.labelled) before = &line;
  }
}

std::vector<GridLine> linesOf(const Groove& groove, const FeelClock* swung, const BarFrame& frame) {
  std::vector<GridLine> out;
  for (const Beat slot : slotsOf(groove, frame.begin, frame.end)) {
    const Beat at = slot - Beat(slot.floorDiv(frame.barLength)) * frame.barLength;
    GridLine line;
    line.at = slot;
    line.straightX = frame.axis.xFromQuarters(slot.toDouble());
    line.x =
        swung == nullptr ? line.straightX : frame.axis.xFromQuarters(swung->line(slot).value());
    line.count = countName(at, groove.meter);
    line.weight = at == Beat(0)                ? LineWeight::kBar
                  : line.count.partial.empty() ? LineWeight::kCount
                                               : LineWeight::kPartial;
    out.push_back(line);
  }
  dropCrowdedLabels(out);
  GridLine last;
  last.at = frame.end;
  last.x = last.straightX = frame.axis.xFromQuarters(frame.end.toDouble());
  last.weight = LineWeight::kBar;
  last.labelled = false;
  out.push_back(last);
  return out;
}

}  // namespace

std::optional<double> BarFrame::xOf(Beat at) const {
  if (const auto line = lineAt(*this, at)) return lines[*line].x;
  if (!shows(at)) return std::nullopt;
  return axis.xFromQuarters(at.toDouble());
}

BarFrame barFrame(const Groove& groove, const FeelClock* swung, const BarFrameWanted& wanted) {
  BarFrame frame;
  frame.area = wanted.area;
  frame.barLength = groove.meter.barLength();
  const Beat length = Beat(std::min(wanted.bars, groove.bars - wanted.firstBar)) * frame.barLength;
  frame.begin = Beat(wanted.firstBar) * frame.barLength;
  frame.end = frame.begin + length;
  frame.axis = TimeAxis(frame.area.left + wanted.inset, frame.area.right, frame.begin.toDouble(),
                        length.toDouble());
  frame.lines = linesOf(groove, swung, frame);
  return frame;
}

int heldFirstBar(const Groove& groove, int firstBar, int bars) {
  return std::clamp(firstBar, 0, std::max(0, groove.bars - bars));
}

int barOf(const Groove& groove, Beat at) {
  return static_cast<int>(at.floorDiv(groove.meter.barLength()));
}

Beat slotAt(const BarFrame& frame, double x) {
  // The last line is the bar line behind what is shown, where no hit can stand.
  const auto last = std::prev(frame.lines.end());
  return std::min_element(frame.lines.begin(), last,
                          [&](const GridLine& a, const GridLine& b) {
                            return std::abs(a.x - x) < std::abs(b.x - x);
                          })
      ->at;
}

std::optional<std::size_t> lineAt(const BarFrame& frame, Beat at) {
  const auto found = std::lower_bound(frame.lines.begin(), frame.lines.end(), at,
                                      [](const GridLine& line, Beat b) { return line.at < b; });
  if (found == frame.lines.end() || found->at != at) return std::nullopt;
  return static_cast<std::size_t>(found - frame.lines.begin());
}

}  // namespace uneven
