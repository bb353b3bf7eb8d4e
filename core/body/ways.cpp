// SPDX-License-Identifier: GPL-3.0-or-later
// Reports of hands.
#include "core/body/ways.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <cmath>

#include "core/song/edit.h"
#include "core/time/count.h"

namespace uneven {

namespace {

// One motion over two pieces: what comes later is a stroke of its own.
constexpr double kSweptMs = 250;

}  // namespace

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

namespace {

std::string lowered(std::string name) {
  if (!name.empty()) name[0] = static_cast<char>(std::tolower(static_cast<unsigned char>(name[0])));
  return name;
}

}  // namespace

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
  const auto begin = where(first);
  const int bar = begin.first;
  const std::string& from = begin.second;
  const BodyStroke& only = report.part.hands[first];
  const BodyStroke* before = first == 0 ? nullptr : &report.part.hands[first - 1];
  const auto nameOf = [&](const BodyStroke& b) {
    return (*report.take->score().kit)[b.piece].name;
  };
  if (last - first == 1 && before != nullptr && other.hands[first - 1] == other.hands[first] &&
      before->piece != only.piece && only.grid - before->grid < kSweptMs) {
    return fmt::format("{} on {} of bar {} swept with the {}, on from {}", nameOf(only), from, bar,
                       side(other.hands[first]), nameOf(*before));
  }
  if (last - first == 1) {
    return fmt::format("{} takes the {} on {} of bar {}", side(other.hands[first]),
                       lowered(nameOf(only)), from, bar);
  }
  const std::string end = [&] {
    const auto [endBar, to] = where(last - 1);
    return endBar == bar ? to : fmt::format("{} of bar {}", to, endBar);
  }();
  constexpr std::size_t kSpelledMost = 8;
  if (last - first > kSpelledMost) {
    std::size_t changed = 0;
    for (std::size_t i = first; i < last; ++i) changed += now[i] != other.hands[i] ? 1 : 0;
    return fmt::format("{} strokes go to the other hand: bar {}, {} to {}", changed, bar, from,
                       end);
  }
  std::string mine, theirs;
  for (std::size_t i = first; i < last; ++i) {
    theirs += (i > first ? ", " : "") + std::string(side(other.hands[i]));
    mine += (i > first ? ", " : "") + std::string(side(now[i]));
  }
  return fmt::format("{} in place of {}: bar {}, {} to {}", theirs, mine, bar, from, end);
}

namespace {

// The groove with its limbs as a plan has them.
Groove played(const HandReport& report, const HandPlan& plan) {
  Groove out = *report.take->score().blocks.front().groove;
  for (std::size_t i = 0; i < plan.hands.size(); ++i) {
    const Stroke& s = report.take->strokes()[report.part.hands[i].stroke];
    if (s.part == 0) out.hits[s.hit].limb = plan.hands[i];
  }
  return out;
}

// The leading foot in place of one stroke of a hand.
std::optional<OtherWay> byFoot(const HandReport& report, const Body& body, std::size_t hand) {
  const BodyStroke& taken = report.part.hands[hand];
  const Kit& kit = *report.take->score().kit;
  const Stroke& s = report.take->strokes()[taken.stroke];
  const std::string& kind = kit[taken.piece].kind();
  const bool drum = kind == "snare" || kind.rfind("tom", 0) == 0;
  const Limb foot = kit.usualLimb(piece::kKick);
  if (!drum || s.part != 0 || taken.bounce > 0) return std::nullopt;
  for (const BodyStroke& b : report.part.feet) {
    if (b.limb == foot && b.place == taken.place) return std::nullopt;
  }
  BodyPart part = report.part;
  part.hands.erase(part.hands.begin() + static_cast<std::ptrdiff_t>(hand));
  BodyStroke kick = taken;
  kick.piece = piece::kKick;
  kick.limb = kick.usual = foot;
  kick.ostinato = false;
  part.feet.insert(
      std::upper_bound(part.feet.begin(), part.feet.end(), kick,
                       [](const BodyStroke& a, const BodyStroke& b) { return a.place < b.place; }),
      kick);
  const HandPlan plan = solveLoop(body, part);
  OtherWay way;
  way.ceiling = ceilingOf(body, part, plan.hands);
  way.cost = plan.cost;
  way.foot = taken.stroke;
  way.plan.cost = plan.cost;
  way.plan.hands = plan.hands;
  way.plan.hands.insert(way.plan.hands.begin() + static_cast<std::ptrdiff_t>(hand), foot);
  way.groove = played(report, way.plan);
  Hit& hit = way.groove.hits[s.hit];
  if (indexOf(way.groove, {hit.at, piece::kKick})) return std::nullopt;
  hit.piece = piece::kKick;
  hit.stroke = StrokeKind::kNormal;
  hit.ornament = Ornament::kNone;
  Groove sorted = way.groove.withoutHits();
  for (const Hit& h : way.groove.hits) sorted = withHit(std::move(sorted), h);
  way.groove = std::move(sorted);
  const Score::Block& block = report.take->score().blocks[s.block];
  way.text = fmt::format("the foot takes {} on {}, bar {}", kit[taken.piece].name,
                         countName(s.at, block.groove->meter).text(), s.bar - block.firstBar + 1);
  return way;
}

}  // namespace

std::vector<OtherWay> otherWays(const HandReport& report, const Profile& profile, std::size_t from,
                                std::size_t to, int most) {
  const Body body(*report.take->score().kit, profile);
  std::vector<OtherWay> out;
  const std::vector<HandPlan> plans = alternatives(body, report.part, report.plan, from, to, most);
  for (const HandPlan& plan : plans) {
    OtherWay way;
    way.plan = plan;
    way.cost = plan.cost;
    way.ceiling = ceilingOf(body, report.part, plan.hands);
    way.text = changeText(report, plan);
    way.groove = played(report, plan);
    out.push_back(std::move(way));
  }
  if (!report.ceiling.hand || most < 1) return out;
  // The run that sets the ceiling, back from its last stroke.
  std::optional<OtherWay> foot;
  int left = std::max(2, report.ceiling.at.run);
  for (std::size_t i = *report.ceiling.hand + 1; i-- > 0 && left > 0;) {
    if (report.plan.hands[i] != report.ceiling.at.limb) continue;
    --left;
    if (i < from || i >= to) continue;
    std::optional<OtherWay> way = byFoot(report, body, i);
    if (!way || way->ceiling.playable <= report.ceiling.playable) continue;
    if (!foot || way->ceiling.playable > foot->ceiling.playable) foot = std::move(way);
  }
  // What cannot be played at any tempo that there is, is no way.
  std::erase_if(out, [&](const OtherWay& way) {
    return report.part.thirdHand.empty() && way.ceiling.playable * report.bpm < kBpmMin;
  });
  const bool faster = foot && std::all_of(out.begin(), out.end(), [&](const OtherWay& way) {
                        return way.ceiling.playable < foot->ceiling.playable;
                      });
  if (faster) out.push_back(*std::move(foot));
  // By what they are good for: how fast they go, then how little they ask.
  std::stable_sort(out.begin(), out.end(), [](const OtherWay& a, const OtherWay& b) {
    return a.ceiling.playable != b.ceiling.playable ? a.ceiling.playable > b.ceiling.playable
                                                    : a.cost < b.cost;
  });
  return out;
}

}  // namespace uneven
