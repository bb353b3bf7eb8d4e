// SPDX-License-Identifier: GPL-3.0-or-later
// Findings about hands and feet.
#include "core/check/song_check.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

namespace uneven {

void SongCheck::checkLimbs() {
  const BodyPart part = bodyPart(take_);
  for (const std::uint32_t i : part.thirdHand) {
    const Stroke& s = strokes_[i];
    Finding* f =
        at(FindingKind::kThirdHand, s, {hitOf(s).at, {s.piece}, 0, 0}, {s.piece}, 3, false);
    if (f == nullptr) continue;
    f->severity = Severity::kError;
    f->unit = "hands";
    f->text = fmt::format("no hand is left for {}: two strike already", kit_[s.piece].name);
    f->fixText = fmt::format("leave {} out", kit_[s.piece].name);
    f->fix = [ref = refOf(grooveOf(s), s.hit)](Groove g) {
      return withoutHits(std::move(g), {ref});
    };
  }
  const HandPlan plan = solve(body_, part.hands);
  tellStrains(part.hands, strains(body_, part.hands, plan.hands));
  std::vector<Limb> feet;
  for (const BodyStroke& b : part.feet) feet.push_back(b.limb);
  tellStrains(part.feet, strains(body_, part.feet, feet));
}

void SongCheck::tellStrains(const std::vector<BodyStroke>& strokes,
                            const std::vector<Strain>& all) {
  std::map<Limb, std::size_t> last;
  for (std::size_t i = 0; i < all.size(); ++i) {
    const Strain& strain = all[i];
    const auto before = last.find(strain.limb);
    const std::size_t previous = before == last.end() ? i : before->second;
    last[strain.limb] = i;
    if (strain.comfortable()) continue;
    const Stroke& s = strokes_[strokes[i].stroke];
    const bool playable = strain.playable();
    const FindingKind kind = playable ? FindingKind::kHard : FindingKind::kNotPlayable;
    // The shorter the time, the worse.
    Finding* f =
        at(kind, s, {Beat(0), {}, static_cast<int>(strain.limb), static_cast<int>(strain.reason)},
           {s.piece}, -strain.gap, true);
    if (f == nullptr) continue;
    f->severity = playable ? Severity::kFinding : Severity::kError;
    f->unit = "ms";
    if (strain.reason == StrainReason::kTwoAtOnce) {
      f->text = fmt::format("the {} is on two pieces at once", spoken(strain.limb));
    } else {
      f->text =
          fmt::format("{}: {}, {:.0f} ms apart; {} up to {:.0f} BPM", spoken(strain.limb),
                      reasonText(strain.reason), strain.gap, playable ? "comfortable" : "playable",
                      std::floor(bpmAt(s) / (playable ? strain.effort : strain.strain) + 1e-6));
    }
    if (strain.reason == StrainReason::kPullOut && previous != i) {
      const Stroke& ghost = strokes_[strokes[previous].stroke];
      if (ghost.block == s.block) {
        f->fixText = "drop the ghost before it";
        f->fix = [ref = refOf(grooveOf(ghost), ghost.hit)](Groove g) {
          return withoutHits(std::move(g), {ref});
        };
      }
    }
  }
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

}  // namespace uneven
