// SPDX-License-Identifier: GPL-3.0-or-later
// Clicks.
#include "core/rehearse/click.h"

#include <algorithm>

namespace uneven {
namespace {

std::vector<ClickPattern> patterns() {
  std::vector<ClickPattern> out;
  const auto add = [&](const char* id, const char* title, const char* help) -> ClickPattern& {
    out.emplace_back();
    out.back().id = id;
    out.back().title = title;
    out.back().help = help;
    return out.back();
  };
  add("plain", "Every count", "the counts of the bar");
  ClickPattern& slow =
      add("divided", "Divided where it is slow", "halves of the count below 90 BPM");
  slow.parts = 2;
  slow.dividedBelow = 90;
  ClickPattern& two = add("two-and-two", "Two bars on, two off", "the player keeps two bars alone");
  two.on = two.off = 2;
  ClickPattern& more =
      add("longer-gaps", "Longer and longer gaps", "two bars on, then one off, two off, three off");
  more.on = 2;
  more.off = 1;
  more.grows = 1;
  ClickPattern& chance =
      add("by-chance", "Bars left out by chance", "a third of the bars, never told which");
  chance.silent = 1.0 / 3;
  add("offbeat", "On the &", "half a count late").moved = Beat(1, 2);
  add("on-the-e", "On the e", "a quarter of a count late").moved = Beat(1, 4);
  add("on-the-a", "On the a", "three quarters of a count late").moved = Beat(3, 4);
  add("leaving", "Softer and softer", "1.5 dB a bar").fades = 1.5;
  return out;
}

// Whether the pattern sounds in a bar.
bool sounds(const ClickPattern& pattern, int bar) {
  if (pattern.silent > 0) {
    // By the bar's number alone: starting later changes nothing. The first is always heard.
    std::uint64_t z = pattern.seed * 0x9E3779B97F4A7C15ULL + static_cast<std::uint64_t>(bar);
    z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9ULL;
    z = (z ^ (z >> 27)) * 0x94D049BB133111EBULL;
    z ^= z >> 31;
    return bar == 0 || static_cast<double>(z >> 11) * 0x1p-53 >= pattern.silent;
  }
  if (pattern.off == 0) return true;
  int off = pattern.off;
  for (int at = 0;; off += pattern.grows) {
    if (bar < at + pattern.on) return true;
    at += pattern.on + off;
    if (bar < at) return false;
  }
}

}  // namespace

const std::vector<ClickPattern>& clickPatterns() {
  static const std::vector<ClickPattern> all = patterns();
  return all;
}

const ClickPattern* findClick(std::string_view id) {
  const auto& all = clickPatterns();
  const auto found =
      std::find_if(all.begin(), all.end(), [&](const ClickPattern& p) { return p.id == id; });
  return found == all.end() ? nullptr : &*found;
}

ClickPattern at(ClickPattern pattern, double bpm) {
  if (bpm >= pattern.dividedBelow) pattern.parts = 1;
  pattern.dividedBelow = 2 * kBpmMax;
  return pattern;
}

std::vector<ClickStroke> clicksOf(const ClickPattern& pattern, Meter meter, double bpm, int from,
                                  int bars) {
  std::vector<ClickStroke> out;
  const Beat bar = meter.barLength(), unit = meter.countUnit();
  const int parts = bpm < pattern.dividedBelow ? std::max(1, pattern.parts) : 1;
  // Moved by shares of a count.
  const Beat moved = pattern.moved * unit;
  for (int b = 0; b < bars; ++b) {
    if (!sounds(pattern, from + b)) continue;
    for (Beat count; count < bar; count += unit) {
      for (int part = 0; part < parts; ++part) {
        const Beat in = count + unit * Beat(part, parts) + moved;
        if (in >= bar) continue;
        ClickStroke stroke;
        stroke.at = Beat(b) * bar + in;
        stroke.one = count == Beat(0) && part == 0;
        constexpr double kPartDb = 6;
        stroke.db = -pattern.fades * (from + b) - (part > 0 ? kPartDb : 0);
        out.push_back(stroke);
      }
    }
  }
  return out;
}

}  // namespace uneven
