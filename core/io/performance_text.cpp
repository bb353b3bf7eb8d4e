// SPDX-License-Identifier: GPL-3.0-or-later
// Strokes as CSV and JSON.
#include "core/io/performance_text.h"

#include <fmt/format.h>

#include <array>
#include <iterator>

#include "core/song/names.h"

namespace uneven {
namespace {

// Whole nanoseconds as exact decimal milliseconds.
void putMs(TextOut& out, Moment moment) {
  const std::int64_t ns = moment.count();
  const std::uint64_t size =
      ns < 0 ? 0 - static_cast<std::uint64_t>(ns) : static_cast<std::uint64_t>(ns);
  if (ns < 0) out.put('-');
  out.put(size / 1'000'000).put('.').putDigits(size % 1'000'000, 6);
}

void putBeat(TextOut& out, Beat beat) {
  if (!beat.valid()) {
    out.put(beat.toString());
    return;
  }
  out.put(beat.num());
  if (beat.den() != 1) out.put('/').put(beat.den());
}

// The shortest decimal of a float; most hats are shut, and many openings the same.
class Openings {
 public:
  std::string_view text(HatOpening opening) {
    if (opening != last_) {
      last_ = opening;
      text_ = fmt::format("{}", opening.value());
    }
    return text_;
  }

 private:
  HatOpening last_;
  std::string text_ = "0";
};

std::string_view soundText(FootSoundKind sound) {
  return sound == FootSoundKind::kSplash ? "splash" : "chick";
}

}  // namespace

void pedalCsv(TextOut& out, const HatPedal& pedal) {
  out.put("time_ms,opening,sound,velocity,masked\n");
  for (const PedalVertex& v : pedal.path) {
    putMs(out, v.time);
    out.put(fmt::format(",{:.6f},,,\n", v.opening));
  }
  for (const FootSound& s : pedal.sounds) {
    if (s.velocity == 0) continue;
    putMs(out, s.time);
    out.put(",,").put(soundText(s.sound)).put(',').put(s.velocity);
    out.put(s.masked ? ",yes\n" : ",no\n");
  }
}

void pedalJson(TextOut& out, const HatPedal& pedal) {
  out.put("{\n  \"path\": [");
  const char* comma = "";
  for (const PedalVertex& v : pedal.path) {
    out.put(comma).put("\n    {\"time_ms\": ");
    putMs(out, v.time);
    out.put(fmt::format(", \"opening\": {:.6f}}}", v.opening));
    comma = ",";
  }
  out.put(pedal.path.empty() ? "],\n  \"sounds\": [" : "\n  ],\n  \"sounds\": [");
  comma = "";
  for (const FootSound& s : pedal.sounds) {
    if (s.velocity == 0) continue;
    out.put(comma).put("\n    {\"time_ms\": ");
    putMs(out, s.time);
    out.put(", \"sound\": \"").put(soundText(s.sound)).put("\", \"velocity\": ").put(s.velocity);
    out.put(s.masked ? ", \"masked\": true}" : ", \"masked\": false}");
    comma = ",";
  }
  out.put(*comma == 0 ? "]\n}\n" : "\n  ]\n}\n");
}

namespace {

// Of what forEachSound calls for, one after the other.
class Limbs {
 public:
  explicit Limbs(const Take& take) : take_(take) {}
  Limb of(const Stroke& s) {
    const bool stroke = next_ < take_.strokes().size() && &s == &take_.strokes()[next_];
    return stroke ? take_.limbs()[next_++] : s.limb;
  }

 private:
  const Take& take_;
  std::size_t next_ = 0;
};

}  // namespace

void performanceCsv(TextOut& out, const Take& take) {
  const Performance& performance = take.performance();
  const Kit& kit = *take.score().kit;
  Limbs limbs(take);
  out.put(
      "bar,at,piece,stroke,role,limb,velocity,opening,grid_ms,time_ms,"
      "displacement_ms,drift_ms\n");
  Openings openings;
  forEachSound(performance, kit, [&](const Stroke& s) {
    out.put(s.bar + 1).put(',');
    putBeat(out, s.at);
    out.put(',').put(kit[s.piece].id).put(',').put(textOf(s.stroke));
    out.put(',').put(textOf(s.role)).put(',').put(textOf(limbs.of(s)));
    out.put(',').put(s.velocity.value()).put(',').put(openings.text(s.opening));
    for (const Moment m : {s.grid, s.time, s.time - s.grid - s.drift, s.drift}) {
      out.put(',');
      putMs(out, m);
    }
    out.put('\n');
    return out.good();
  });
}

void performanceJson(TextOut& out, const Take& take) {
  const Performance& performance = take.performance();
  const Kit& kit = *take.score().kit;
  Limbs limbs(take);
  out.put('[');
  bool first = true;
  Openings openings;
  forEachSound(performance, kit, [&](const Stroke& s) {
    // Ids and names hold no character that JSON would escape.
    out.put(first ? "\n  {\"bar\": " : ",\n  {\"bar\": ").put(s.bar + 1);
    out.put(", \"at\": \"");
    putBeat(out, s.at);
    out.put("\", \"piece\": \"").put(kit[s.piece].id);
    out.put("\", \"stroke\": \"").put(textOf(s.stroke));
    out.put("\", \"role\": \"").put(textOf(s.role));
    out.put("\", \"limb\": \"").put(textOf(limbs.of(s)));
    out.put("\", \"velocity\": ").put(s.velocity.value());
    out.put(", \"opening\": ").put(openings.text(s.opening));
    const std::pair<const char*, Moment> times[] = {
        {", \"grid_ms\": ", s.grid},
        {", \"time_ms\": ", s.time},
        {", \"displacement_ms\": ", s.time - s.grid - s.drift},
        {", \"drift_ms\": ", s.drift}};
    for (const auto& [key, moment] : times) {
      out.put(key);
      putMs(out, moment);
    }
    out.put('}');
    first = false;
    return out.good();
  });
  out.put(first ? "]\n" : "\n]\n");
}

}  // namespace uneven
