// SPDX-License-Identifier: GPL-3.0-or-later
// Reports of hands.
#include "core/body/ways.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/time/count.h"

namespace uneven {

Result<HandReport> handReport(const Song& song, const std::string& groove, const Profile& profile,
                              std::optional<double> bpm) {
  Result<SharedTake> there = Take::ofGroove(song, groove);
  if (!there) return there.error();
  HandReport out;
  const Score& score = (*there)->score();
  out.bpm = bpm.value_or(60e6 / score.tempo.tempoAt(score.blocks.front().start).usPerQuarter);
  // One tempo throughout, so that a ceiling is one number.
  Song at = song;
  at.tempo = {{Beat(0), Bpm{out.bpm}, {}}};
  if (profile.setup) at.kit.edit([&](Kit& kit) { kit.setup = *profile.setup; });
  there = Take::ofGroove(std::move(at), groove);
  if (!there) return there.error();
  out.take = *there;
  out.part = bodyPart(*out.take);
  const Body body(*out.take->score().kit, profile);
  out.plan = solveLoop(body, out.part);
  out.strains = loopStrains(body, out.part, out.plan.hands);
  out.ceiling = ceilingOf(body, out.part, out.plan.hands);
  return out;
}

double ceilingBpm(const HandReport& report, double pace) {
  // What arithmetic gives exactly is not rounded down for its last bit.
  return std::min(kBpmMax, std::floor(pace * report.bpm * 100 + 1e-6) / 100);
}

std::string changeText(const HandReport& report, const HandPlan& other) {
  const std::vector<Limb>& now = report.plan.hands;
  std::size_t first = 0, last = now.size();
  while (first < last && now[first] == other.hands[first]) ++first;
  while (last > first && now[last - 1] == other.hands[last - 1]) --last;
  if (first == last) return "as it is";
  const auto side = [](Limb limb) { return limb == Limb::kRightHand ? "right" : "left"; };
  const auto where = [&](std::size_t i) {
    const Stroke& s = report.take->strokes()[report.part.hands[i].stroke];
    const Score::Block& block = report.take->score().blocks[s.block];
    return std::pair(s.bar - block.firstBar + 1, countName(s.at, block.groove->meter).text());
  };
  const auto [bar, from] = where(first);
  if (last - first == 1) {
    const Stroke& s = report.take->strokes()[report.part.hands[first].stroke];
    return fmt::format("the {} hand takes {} on {}, bar {}", side(other.hands[first]),
                       (*report.take->score().kit)[s.piece].name, from, bar);
  }
  std::string mine, theirs;
  for (std::size_t i = first; i < last; ++i) {
    theirs += (i > first ? ", " : "") + std::string(side(other.hands[i]));
    mine += (i > first ? ", " : "") + std::string(side(now[i]));
  }
  const auto [endBar, to] = where(last - 1);
  const std::string end = endBar == bar ? to : fmt::format("{} of bar {}", to, endBar);
  return fmt::format("{} in place of {}: bar {}, {} to {}", theirs, mine, bar, from, end);
}

}  // namespace uneven
