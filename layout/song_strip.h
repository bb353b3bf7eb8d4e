// SPDX-License-Identifier: GPL-3.0-or-later
// The whole song as shapes: sections as high as they are loud, their strokes as fine sticks, fills,
// joints; the tempo as a line; and a line for each limb that thickens with how much it plays.
//
//   y(dB) = base - height * clamp((dB + 24) / 32, 0.08, 1)      dB as loudnessOf() gives it
//
// All stand on one axis of quarter notes. What a groove looks like is worked out once and kept from
// scene to scene (GrooveLooks). A scene holds no reference to what it is made from.
#pragma once

#include <array>
#include <optional>
#include <string>
#include <unordered_map>
#include <vector>

#include "core/measure/seam.h"
#include "core/perform/score.h"
#include "layout/geometry.h"
#include "layout/time_axis.h"

namespace uneven {

// 10 log10 of the mean over its quarter notes of the strokes' summed 10^(L/10), L the level of
// each; -60 where nothing is struck.
double loudnessOf(const Groove& groove);

struct GrooveLook {
  struct Stick {
    double at = 0;  // quarter notes
    int velocity = 0;
    Limb limb = Limb::kAutomatic;
  };
  struct Part {
    double perQuarter = 0;         // strokes
    std::optional<PieceId> piece;  // that it strikes most
  };
  double loudness = 0;
  std::vector<Stick> sticks;
  std::optional<std::size_t> loudest;  // index of one
  std::array<Part, 4> parts;           // right hand, left hand, right foot, left foot
};

// By the groove itself, which is kept alive meanwhile.
class GrooveLooks {
 public:
  const GrooveLook& of(const SharedValue<Groove>& groove, const Kit& kit);
  // Forgets what was not asked for since the last time.
  void tidy();

 private:
  struct Known {
    SharedValue<Groove> groove;
    GrooveLook look;
    bool used = true;
  };
  std::unordered_map<const Groove*, Known> known_;
};

struct StripViewport {
  Size size;
  double first = 0;     // quarter notes at the left
  double quarters = 0;  // across; 0: the whole song
};

struct StripSection {
  std::size_t section = 0;
  double left = 0, right = 0;  // may lie outside what is shown
  double leftTop = 0, rightTop = 0;
  std::uint32_t feel = 0;  // of its first block, of the score
  int bars = 0;
  std::vector<std::pair<double, double>> fills;  // from and to
};
struct StripStick {
  double x = 0, height = 0;
  Limb limb = Limb::kAutomatic;
};
struct StripJoint {
  std::size_t section = 0;  // that begins there
  double x = 0;
  Milliseconds jump{0};
  Beat morph;
};
struct StripTempo {
  std::size_t mark = 0;  // of the song
  Point point;
  double bpm = 0;
  bool ramp = false;
  bool labelled = true;  // there is room for its number
};
struct StripLane {
  struct Run {
    double left = 0, right = 0;
    double thickness = 0;  // 0: it rests
    std::string piece;     // name, where it changes; else empty
  };
  Limb limb = Limb::kRightHand;
  double y = 0;
  std::vector<Run> runs;
};

struct SongStrip {
  TimeAxis axis;
  double shownTo = 0;  // quarter notes
  Rect shapes, names, tempo, lanesArea;
  double lowBpm = 0, highBpm = 0;      // of the tempo's scale
  std::vector<StripSection> sections;  // that are shown, at least in part
  std::vector<StripStick> sticks;
  std::vector<StripJoint> joints;
  std::vector<StripTempo> tempos;
  std::vector<Point> tempoLine;
  std::vector<StripLane> lanes;

  double bpmAt(double y) const;
  double yOfBpm(double bpm) const;
};

// `seams` may be empty: they are looked for aside in long songs.
SongStrip songStrip(const Score& score, const Song& song, const std::vector<Seam>& seams,
                    const StripViewport& viewport, GrooveLooks& looks);

// What lies under a point.
struct StripHit {
  enum class Kind { kNothing, kSection, kEdge, kLevel, kLevelEnd, kTempoPoint, kTempoLine };
  Kind kind = Kind::kNothing;
  std::size_t index = 0;  // section, or mark
};
StripHit stripAt(const SongStrip& strip, Point p);
// The quarter note that is nearest, a beat apart at least.
Beat stripBeat(const SongStrip& strip, double x);

}  // namespace uneven
