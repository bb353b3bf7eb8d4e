// SPDX-License-Identifier: GPL-3.0-or-later
// Findings of every kind.
#include "core/check/check.h"

#include <algorithm>

#include "core/base/number.h"
#include "core/check/song_check.h"
#include "core/check/trial.h"

namespace uneven {

double tenth(double value) {
  return roundedTo(value, 10);
}

std::vector<Finding> SongCheck::run() {
  std::map<const Groove*, std::uint32_t> feels;
  for (const Score::Block& b : score_.blocks) {
    const auto [known, isNew] = feels.emplace(&*b.groove, b.feel);
    if (b.morphs() || known->second != b.feel) mixed_.insert(&*b.groove);
  }
  found_ = hatFindings(take_);
  checkUnisons();
  checkLimbs();
  checkStrokes();
  checkNotes();
  // What is written is looked at once a groove, at the first place it is played.
  std::map<const Groove*, std::pair<std::size_t, int>> first;
  std::vector<const Groove*> order;
  for (std::size_t b = 0; b < score_.blocks.size(); ++b) {
    const Groove* groove = &*score_.blocks[b].groove;
    const auto [known, isNew] = first.emplace(groove, std::pair(b, 0));
    if (isNew) order.push_back(groove);
    ++known->second.second;
  }
  for (const Groove* groove : order) {
    block_ = first[groove].first;
    times_ = first[groove].second;
    checkGhosts(*groove);
    checkBackbeat(*groove);
    checkSoftUnisons(*groove);
    checkTriplets(*groove);
    checkEvenness(*groove);
    checkFeet(*groove);
    checkFlat(*groove);
    checkMachine(*groove);
    checkBars(*groove);
    checkCore(*groove);
    if (groove->linear) checkLinear(*groove);
  }
  return std::move(found_);
}

namespace {

std::vector<std::string> idsOf(const Song& song, const std::vector<PieceId>& pieces) {
  std::vector<std::string> out;
  out.reserve(pieces.size());
  for (const PieceId p : pieces) out.push_back((*song.kit)[p].id);
  return out;
}

}  // namespace

bool leftAlone(const Song& song, const Finding& finding) {
  return std::any_of(song.check.ignored.begin(), song.check.ignored.end(), [&](const LeftAlone& l) {
    if (l.kind != findingWord(finding.kind) || l.groove != finding.groove) return false;
    if (l.at != finding.inGroove) return false;
    if (l.pieces.empty()) return true;
    const std::vector<std::string> ids = idsOf(song, finding.pieces);
    return std::set(l.pieces.begin(), l.pieces.end()) == std::set(ids.begin(), ids.end());
  });
}

Song withLeftAlone(Song song, const Finding& finding, std::string why) {
  if (leftAlone(song, finding)) return song;
  LeftAlone left;
  left.kind = findingWord(finding.kind);
  left.groove = finding.groove;
  left.at = finding.inGroove;
  left.pieces = idsOf(song, finding.pieces);
  left.why = std::move(why);
  song.check.ignored.push_back(std::move(left));
  return song;
}

Checked check(const Take& take, const Profile& profile, const KitMap& map) {
  Checked out;
  out.findings = SongCheck(take, profile, map).run();
  out.left = static_cast<int>(
      std::erase_if(out.findings, [&](const Finding& f) { return leftAlone(take.song(), f); }));
  keepWhatMends(take, profile, map, out.findings);
  std::stable_sort(
      out.findings.begin(), out.findings.end(), [](const Finding& a, const Finding& b) {
        return std::tuple(b.severity, a.bar, a.at) < std::tuple(a.severity, b.bar, b.at);
      });
  return out;
}

}  // namespace uneven
