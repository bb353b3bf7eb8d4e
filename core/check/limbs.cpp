// SPDX-License-Identifier: GPL-3.0-or-later
// Findings about hands and feet.
#include "core/check/song_check.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "core/song/names.h"

namespace uneven {

namespace {

bool isDrum(const Kit& kit, PieceId id) {
  return kit[id].kind() == "snare" || kit[id].kind().rfind("tom", 0) == 0;
}

constexpr std::size_t kRunKept = std::size_t{2} * RunLimits::kSustainedFrom;

}  // namespace

void SongCheck::checkLimbs() {
  folded_ = foldedBlocks(score_);
  const BodyPart part = bodyPart(take_, std::nullopt, &folded_, body_.profile().ruffInTurn, stop_);
  for (const std::uint32_t i : part.thirdHand) {
    if (isStopped()) return;
    const Stroke& s = strokes_[i];
    weight_ = folded_.times[s.block];
    Finding* f =
        at(FindingKind::kThirdHand, s, {hitOf(s).at, {s.piece}, 0, 0}, {s.piece}, 3, false);
    if (f == nullptr) continue;
    f->severity = Severity::kError;
    f->unit = "hands";
    const bool ornament = std::find(part.underOrnament.begin(), part.underOrnament.end(), i) !=
                          part.underOrnament.end();
    f->text =
        ornament ? fmt::format("no hand is left for {}: an ornament takes both", kit_[s.piece].name)
                 : fmt::format("no hand is left for {}: two strike already", kit_[s.piece].name);
    offer(*f, MendKind::kLeaveOut, fmt::format("leave {} out", kit_[s.piece].name),
          {refOf(grooveOf(s), s.hit)});
  }
  const std::vector<Limb> hands = songHands(body_, take_, part, stop_);
  if (isStopped()) return;
  tellStrains(part, part.hands, strains(body_, part.hands, hands));
  if (isStopped()) return;
  std::vector<Limb> feet;
  for (const BodyStroke& b : part.feet) feet.push_back(b.limb);
  tellStrains(part, part.feet, strains(body_, part.feet, feet));
  checkSecondPedal(part);
  weight_ = 1;
}

void SongCheck::tellStrains(const BodyPart& part, const std::vector<BodyStroke>& strokes,
                            const std::vector<Strain>& all) {
  std::map<Limb, std::vector<const Stroke*>> runs;
  std::map<std::size_t, Strained> strained;  // by finding
  for (std::size_t i = 0; i < all.size(); ++i) {
    if (isStopped()) return;
    const Strain& strain = all[i];
    const Stroke& s = strokes_[strokes[i].stroke];
    std::vector<const Stroke*>& run = runs[strain.limb];
    // Of the run before only its last stroke matters, from which a way or a pull-out comes.
    if (strain.run == 1 && run.size() > 1) run.erase(run.begin(), run.end() - 1);
    // A long run is as strained by its last strokes as by all of them.
    if (run.size() == kRunKept) run.erase(run.begin());
    run.push_back(&s);
    if (strain.comfortable()) continue;
    const bool playable = strain.playable();
    const FindingKind kind = playable ? FindingKind::kHard : FindingKind::kNotPlayable;
    const About about{Beat(0), {}, static_cast<int>(strain.limb), static_cast<int>(strain.reason)};
    weight_ = folded_.times[s.block];
    // The shorter the time, the worse.
    Finding* f = at(kind, s, about, {s.piece}, -strain.gap.count(), true);
    Strained& here = strained[index_.at({&grooveOf(s), kind, about})];
    for (auto r = run.rbegin(); r != run.rend() && (*r)->block == s.block; ++r) {
      if (hitOf(**r).limb != Limb::kAutomatic && here.looked.insert((*r)->hit).second)
        here.set.insert(refOf(grooveOf(s), (*r)->hit));
    }
    if (run.size() > 1 && run[run.size() - 2]->block == s.block)
      here.before.insert(refOf(grooveOf(s), run[run.size() - 2]->hit));
    if (f == nullptr) continue;
    here.worst = strain;
    here.run = run;
    here.hand = &strokes == &part.hands;
    f->severity = playable ? Severity::kFinding : Severity::kError;
    f->unit = "ms";
    if (strain.reason == StrainReason::kTwoAtOnce) {
      f->text = fmt::format("the {} is on two pieces at once", spoken(strain.limb));
    } else if (strain.gap < Milliseconds(1)) {
      f->text = fmt::format("the {} has two strokes at one moment", spoken(strain.limb));
    } else {
      f->text = fmt::format(
          "{}: {}, {:.0f} ms apart; {} up to {:.0f} BPM", spoken(strain.limb),
          reasonText(strain.reason), strain.gap.count(), playable ? "comfortable" : "playable",
          std::floor(bpmAt(s) / (playable ? strain.effort : strain.strain) + 1e-6));
    }
  }
  for (const auto& [finding, what] : strained) offerMends(found_[finding], what);
  // Times were negative while they were compared.
  for (Finding& f : found_) {
    if (f.kind == FindingKind::kHard || f.kind == FindingKind::kNotPlayable) {
      f.value = tenth(std::abs(f.value));
    }
  }
  std::erase_if(index_, [](const auto& entry) {
    const FindingKind kind = std::get<1>(entry.first);
    return kind == FindingKind::kHard || kind == FindingKind::kNotPlayable;
  });
}

std::string SongCheck::spoken(Limb limb) {
  std::string word(textOf(limb));
  std::replace(word.begin(), word.end(), '-', ' ');
  return word;
}

// Which of them help is seen when they are tried.
void SongCheck::offerMends(Finding& f, const Strained& strained) {
  const Strain& strain = strained.worst;
  const Stroke& s = *strained.run.back();
  const Groove& groove = grooveOf(s);
  const std::size_t length = strained.run.size();
  const Stroke* before = length > 1 ? strained.run[length - 2] : nullptr;
  if (before != nullptr && before->block != s.block) before = nullptr;
  if (strain.reason == StrainReason::kPullOut && !strained.before.empty()) {
    offer(f, MendKind::kLeaveOut,
          strained.before.size() == 1 ? "drop the ghost before it" : "drop the ghosts before them",
          {strained.before.begin(), strained.before.end()});
  }
  // Where one hand was asked for both may share it.
  if (strained.hand && !strained.set.empty()) {
    offer(f, MendKind::kFreeHands,
          length > 2 ? "spread it over both hands" : "let the other hand take one",
          {strained.set.begin(), strained.set.end()});
  }
  if (strain.reason == StrainReason::kTwoAtOnce) return;
  if (strained.hand && strain.reason == StrainReason::kTravel && before != nullptr &&
      before->piece != s.piece && isDrum(kit_, s.piece) && isDrum(kit_, before->piece) &&
      !indexOf(groove, {hitOf(s).at, before->piece})) {
    offer(f, MendKind::kMoveTo, fmt::format("play it on {}", kit_[before->piece].name),
          {{hitOf(s).at, s.piece}})
        .pieces = {before->piece};
  }
  const double bpm =
      std::floor(bpmAt(s) / (strain.playable() ? strain.effort : strain.strain) + 1e-6);
  if (bpm < kBpmMin) return;
  Mend& slower = offer(f, MendKind::kTempo, fmt::format("slow down to {:.0f} BPM", bpm));
  slower.at = score_.blocks[s.block].start + hitOf(s).at;
  slower.value = bpm;
}

// With two pedals the foot of the hats is on the second one: it can't shut the hats by then.
void SongCheck::checkSecondPedal(const BodyPart& part) {
  if (!kit_.setup.doublePedal) return;
  const Limb foot = kit_.usualLimb(piece::kHatFoot);
  const std::vector<FootSound>& sounds = take_.performance().pedal.sounds;
  const Milliseconds needs = body_.profile().hatFoot.second.playable;
  for (const BodyStroke& b : part.feet) {
    if (b.limb != foot || b.piece != piece::kKick) continue;
    const Stroke& s = strokes_[b.stroke];
    weight_ = folded_.times[s.block];
    const Moment time = plain(s);
    const auto from =
        std::upper_bound(sounds.begin(), sounds.end(), time - toMoment(needs),
                         [](Moment t, const FootSound& sound) { return t < sound.time; });
    for (auto sound = from; sound != sounds.end() && sound->time < time + toMoment(needs);
         ++sound) {
      if (sound->written) continue;  // a stroke of its own: its limits are looked at as such
      const double apart = std::abs(toMilliseconds(sound->time - time).count());
      Finding* f = at(FindingKind::kTwoPlaces, s, {hitOf(s).at, {s.piece}, 0, 0}, {s.piece},
                      tenth(apart), false);
      if (f == nullptr) break;
      f->severity = Severity::kError;
      f->unit = "ms";
      f->text = fmt::format("the {} is on the second pedal {:.0f} ms from where it shuts the hats",
                            spoken(foot), apart);
      break;
    }
  }
}

}  // namespace uneven
