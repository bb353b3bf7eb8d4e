// SPDX-License-Identifier: GPL-3.0-or-later
// Reports of hands.
#include "core/playing/ways.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/body/weights.h"
#include "core/song/edit.h"
#include "core/time/count.h"

namespace uneven {

namespace {

constexpr double kSeenFromBpm = 100;

}  // namespace

Result<HandReport> handReport(const Song& song, const std::string& groove, const Profile& profile,
                              std::optional<double> bpm, AtPlace place,
                              const std::stop_token& stop) {
  Result<SharedTake> there = Take::ofGroove(song, groove, place);
  if (!there) return there.error();
  HandReport out;
  const Score& score = (*there)->score();
  out.bpm = bpm.value_or(score.tempo.tempoAt(score.blocks.front().start).bpm().value);
  // One tempo throughout, so that a ceiling is one number.
  Song at = song;
  if (profile.setup) at.kit.edit([&](Kit& kit) { kit.setup = *profile.setup; });
  const auto takeAt = [&](double tempo) {
    at.tempo = {{Beat(0), Bpm{tempo}, {}}};
    return Take::ofGroove(at, groove, place);
  };
  const auto partOf = [&](const Take& take) {
    return bodyPart(take, std::nullopt, nullptr, profile.ruffInTurn);
  };
  there = takeAt(out.bpm);
  if (!there) return there.error();
  out.take = *there;
  out.part = partOf(*out.take);
  const Body body(*out.take->score().kit, profile);
  if (stop.stop_requested()) return givenUp();
  out.plan = solveLoop(body, out.part);
  if (stop.stop_requested()) return givenUp();
  out.strains = loopStrains(body, out.part, out.plan.hands);
  // Seen from one tempo always, so that it is the same from all, rounding and search included.
  const Result<SharedTake> seen = takeAt(kSeenFromBpm);
  if (!seen) return seen.error();
  const BodyPart from = partOf(**seen);
  const bool alike =
      from.hands.size() == out.part.hands.size() && from.feet.size() == out.part.feet.size();
  out.ceiling = ceilingOf(body, alike ? from : out.part, stop);
  if (stop.stop_requested()) return givenUp();
  if (alike) {
    out.ceiling.playable *= kSeenFromBpm / out.bpm;
    out.ceiling.comfortable *= kSeenFromBpm / out.bpm;
  }
  return out;
}

double ceilingBpm(const HandReport& report, double pace) {
  // What arithmetic gives exactly is not rounded down for its last bit.
  return std::min(kBpmMax, std::floor(pace * report.bpm * 100 + 1e-6) / 100);
}

double comfortableBpm(const HandReport& report, double pace) {
  return std::min(ceilingBpm(report, pace), std::floor(kBpmMax * weight::kComfortableMost));
}

std::optional<Beat> heldBackAt(const HandReport& report) {
  const Ceiling& ceiling = report.ceiling;
  if (!ceiling.hand && !ceiling.foot) return std::nullopt;
  const BodyStroke& s =
      ceiling.hand ? report.part.hands[*ceiling.hand] : report.part.feet[*ceiling.foot];
  const Stroke& stroke = report.take->strokes()[s.stroke];
  const Score::Block& block = report.take->score().blocks.front();
  return Beat(stroke.bar - block.firstBar) * block.groove->meter.barLength() + stroke.at;
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
  if (!drum || s.part != 0 || taken.bounce > Milliseconds(0)) return std::nullopt;
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
                       [](const BodyStroke& a, const BodyStroke& b) { return a.grid < b.grid; }),
      kick);
  const HandPlan plan = solveLoop(body, part);
  OtherWay way;
  way.word = "foot";
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

struct NamedWay {
  HandWay way;
  std::string_view word, text;
};
constexpr NamedWay kNamed[] = {
    {HandWay::kOneHand, "one-hand", "one hand keeps time, the other takes all else"},
    {HandWay::kHandToHand, "hand-to-hand", "time goes hand to hand, by the slot"},
    {HandWay::kDoubles, "doubles", "what goes hand to hand goes in doubles"},
    {HandWay::kOtherLead, "other-lead", "the other hand leads"},
};

bool isPlayed(const HandReport& report, const Ceiling& ceiling) {
  return !report.part.thirdHand.empty() || ceiling.playable * report.bpm >= kBpmMin;
}

}  // namespace

std::vector<OtherWay> otherWays(const HandReport& report, const Profile& profile, int most,
                                const std::stop_token& stop) {
  if (most < 1) return {};
  const Body body(*report.take->score().kit, profile);
  std::vector<OtherWay> out;
  for (const NamedWay& named : kNamed) {
    if (stop.stop_requested()) return {};
    OtherWay way;
    way.word = named.word;
    way.plan = solveLoop(body, report.part, 1, named.way);
    const bool known = way.plan.hands == report.plan.hands ||
                       std::any_of(out.begin(), out.end(), [&](const OtherWay& other) {
                         return other.plan.hands == way.plan.hands;
                       });
    if (known) continue;
    way.cost = way.plan.cost;
    way.ceiling = ceilingOf(body, report.part, way.plan.hands);
    if (!isPlayed(report, way.ceiling)) continue;
    way.text = named.text;
    way.groove = played(report, way.plan);
    out.push_back(std::move(way));
  }
  // The run that sets the ceiling, back from its last stroke.
  std::optional<OtherWay> foot;
  int left = std::max(2, report.ceiling.at.run);
  for (std::size_t i = report.ceiling.hand ? *report.ceiling.hand + 1 : 0; i-- > 0 && left > 0;) {
    if (stop.stop_requested()) return {};
    if (report.ceiling.hands[i] != report.ceiling.at.limb) continue;
    --left;
    std::optional<OtherWay> way = byFoot(report, body, i);
    if (!way || way->ceiling.playable <= report.ceiling.playable) continue;
    if (!foot || way->ceiling.playable > foot->ceiling.playable) foot = std::move(way);
  }
  const bool faster = foot && std::all_of(out.begin(), out.end(), [&](const OtherWay& way) {
                        return way.ceiling.playable < foot->ceiling.playable;
                      });
  if (faster) out.push_back(*std::move(foot));
  // By what they are good for: how fast they go, then how little they ask.
  std::stable_sort(out.begin(), out.end(), [](const OtherWay& a, const OtherWay& b) {
    return a.ceiling.playable != b.ceiling.playable ? a.ceiling.playable > b.ceiling.playable
                                                    : a.cost < b.cost;
  });
  if (out.size() > static_cast<std::size_t>(most)) out.resize(static_cast<std::size_t>(most));
  return out;
}

std::vector<WayBand> bandsOf(const HandReport& report, const Profile& profile) {
  const Body body(*report.take->score().kit, profile);
  std::vector<WayBand> out;
  std::vector<Limb> before;
  for (const NamedWay& named : kNamed) {
    if (named.way != HandWay::kOneHand && named.way != HandWay::kHandToHand) continue;
    const std::vector<Limb> hands = solveLoop(body, report.part, 1, named.way).hands;
    if (hands == before) return {};
    before = hands;
    const Ceiling c = ceilingOf(body, report.part, hands);
    if (isPlayed(report, c)) out.push_back({named.word, ceilingBpm(report, c.playable)});
  }
  if (out.size() < 2 || out[1].bpm <= out[0].bpm) return {};
  return out;
}

}  // namespace uneven
