// SPDX-License-Identifier: GPL-3.0-or-later
// Findings of every kind.
#include "core/check/check.h"

#include <algorithm>

#include "core/base/number.h"
#include "core/check/song_check.h"
#include "core/check/trial.h"
#include "core/perform/passage.h"

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
  constexpr void (SongCheck::*kStrokeByStroke[])() = {
      &SongCheck::checkUnisons, &SongCheck::checkLimbs, &SongCheck::checkStrokes,
      &SongCheck::checkNotes};
  for (const auto part : kStrokeByStroke) {
    if (isStopped()) return std::move(found_);
    (this->*part)();
  }
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
    if (isStopped()) return std::move(found_);
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
  const bool changed =
      std::any_of(score_.sections.begin(), score_.sections.end(),
                  [](const Section& s) { return s.fill || s.crash || changesAll(s); });
  return changed ? asOne(std::move(found_)) : std::move(found_);
}

// A groove that sections play in several ways has what is found in each of them once.
std::vector<Finding> SongCheck::asOne(std::vector<Finding> found) {
  std::map<std::tuple<FindingKind, std::string, Beat, std::vector<PieceId>>, std::size_t> known;
  std::vector<Finding> out;
  for (Finding& f : found) {
    const auto [same, isNew] =
        known.try_emplace({f.kind, f.groove, f.inGroove, f.pieces}, out.size());
    if (isNew) {
      out.push_back(std::move(f));
      continue;
    }
    Finding& first = out[same->second];
    first.times += f.times;
    first.severity = std::max(first.severity, f.severity);
  }
  return out;
}

namespace {

std::vector<std::string> idsOf(const Song& song, const std::vector<PieceId>& pieces) {
  std::vector<std::string> out;
  out.reserve(pieces.size());
  for (const PieceId p : pieces) out.push_back((*song.kit)[p].id);
  return out;
}

}  // namespace

namespace {

bool isAbout(const Song& song, const LeftAlone& left, const Finding& finding) {
  if (left.kind != findingWord(finding.kind) || left.groove != finding.groove) return false;
  if (left.at != finding.inGroove) return false;
  if (left.pieces.empty()) return true;
  const std::vector<std::string> ids = idsOf(song, finding.pieces);
  return std::set(left.pieces.begin(), left.pieces.end()) == std::set(ids.begin(), ids.end());
}

}  // namespace

bool leftAlone(const Song& song, const Finding& finding) {
  return std::any_of(song.check.ignored.begin(), song.check.ignored.end(),
                     [&](const LeftAlone& left) { return isAbout(song, left, finding); });
}

Song withTakenUp(Song song, const Finding& finding) {
  std::vector<LeftAlone> kept;
  for (const LeftAlone& left : song.check.ignored) {
    if (!isAbout(song, left, finding)) kept.push_back(left);
  }
  song.check.ignored = std::move(kept);
  return song;
}

std::vector<std::vector<std::size_t>> byCause(const std::vector<Finding>& findings) {
  std::vector<std::vector<std::size_t>> out;
  std::map<std::tuple<FindingKind, std::string, std::vector<PieceId>, bool>, std::size_t> known;
  for (std::size_t i = 0; i < findings.size(); ++i) {
    const Finding& f = findings[i];
    const bool byFeel = !f.mends.empty() && f.mends.front().kind == MendKind::kDisplacement;
    const auto [cause, isNew] = known.try_emplace({f.kind, f.groove, f.pieces, byFeel}, out.size());
    if (isNew) out.emplace_back();
    out[cause->second].push_back(i);
  }
  return out;
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

Checked check(const Take& take, const Profile& profile, const KitMap& map,
              const std::stop_token& stop) {
  Checked out;
  out.findings = SongCheck(take, profile, map, stop).run();
  if (stop.stop_requested()) return {};
  const auto left =
      std::stable_partition(out.findings.begin(), out.findings.end(),
                            [&](const Finding& f) { return !leftAlone(take.song(), f); });
  out.left.assign(std::move_iterator(left), std::move_iterator(out.findings.end()));
  out.findings.erase(left, out.findings.end());
  keepWhatMends(take, profile, map, out.findings, stop);
  if (stop.stop_requested()) return {};
  std::stable_sort(
      out.findings.begin(), out.findings.end(), [](const Finding& a, const Finding& b) {
        return std::tuple(b.severity, a.bar, a.at) < std::tuple(a.severity, b.bar, b.at);
      });
  return out;
}

}  // namespace uneven
