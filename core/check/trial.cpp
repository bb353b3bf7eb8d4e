// SPDX-License-Identifier: GPL-3.0-or-later
// Mendings tried on a copy: of the groove by itself, twice over at the tempo and under the feel of
// the place; of the whole song where the finding comes from what stands around it.
#include "core/check/trial.h"

#include <algorithm>
#include <map>
#include <set>
#include <tuple>

#include "core/check/song_check.h"

namespace uneven {
namespace {

using Key = std::tuple<FindingKind, Beat, std::vector<PieceId>>;
using Found = std::map<Key, Severity>;

// A groove with more strokes is not played again for each of its mendings.
constexpr std::size_t kHitsMost = 2'000;

class Trial {
 public:
  Trial(const Take& take, const Profile& profile, const KitMap& map)
      : take_(take), profile_(profile), map_(map) {}

  // A tempo that is not slow enough yet is made slower: other hands are tired there.
  bool mends(const Finding& f, Mend& mend) {
    const Groove* groove = take_.song().findGroove(f.groove);
    if (groove == nullptr) return false;
    if (groove->hits.size() > kHitsMost) return true;
    const Key key{f.kind, f.inGroove, f.pieces};
    Alone& alone = aloneAt(f);
    const bool byItself = alone.found.contains(key);
    const Found& before = byItself ? alone.found : inSong(f.groove);
    constexpr int kRounds = 4;
    for (int round = 0; round < kRounds; ++round) {
      Mend there = mend;
      if (byItself && mend.kind == MendKind::kTempo) there.at = Beat(0);
      const auto after = lookAt(withMend(byItself ? alone.song : take_.song(), there));
      if (!after) return false;
      const Found found = of(*after, f.groove);
      if (!found.contains(key)) return !heavier(f, before, found);
      if (mend.kind != MendKind::kTempo) return false;
      const Mend* slower = tempoIn(*after, key);
      if (slower == nullptr || slower->value >= mend.value) return false;
      mend.value = slower->value;
      mend.text = slower->text;
    }
    return false;
  }

 private:
  struct Alone {
    Song song;
    Found found;
  };

  // An error in place of another is no mending either.
  static bool heavier(const Finding& f, const Found& before, const Found& after) {
    return std::any_of(after.begin(), after.end(), [&](const auto& now) {
      if (now.second <= f.severity && now.second != Severity::kError) return false;
      const auto was = before.find(now.first);
      return was == before.end() || was->second < now.second;
    });
  }

  static const Mend* tempoIn(const std::vector<Finding>& findings, const Key& key) {
    for (const Finding& f : findings) {
      if (Key{f.kind, f.inGroove, f.pieces} != key) continue;
      for (const Mend& mend : f.mends) {
        if (mend.kind == MendKind::kTempo) return &mend;
      }
    }
    return nullptr;
  }

  // Nothing: the song cannot be played so.
  std::optional<std::vector<Finding>> lookAt(Song song) const {
    const Result<SharedTake> take = Take::ofSong(std::move(song));
    if (!take) return std::nullopt;
    return SongCheck(**take, profile_, map_).run();
  }
  static Found of(const std::vector<Finding>& findings, const std::string& groove) {
    Found out;
    for (const Finding& f : findings) {
      if (f.groove != groove) continue;
      Severity& worst = out.try_emplace({f.kind, f.inGroove, f.pieces}, f.severity).first->second;
      worst = std::max(worst, f.severity);
    }
    return out;
  }

  Alone& aloneAt(const Finding& f) {
    const Score& score = take_.score();
    const auto after =
        std::upper_bound(score.blocks.begin(), score.blocks.end(), f.bar,
                         [](int bar, const Score::Block& b) { return bar < b.firstBar; });
    const Score::Block& block = after == score.blocks.begin() ? *after : *std::prev(after);
    const std::int64_t us = score.tempo.tempoAt(block.start).usPerQuarter;
    const auto [known, isNew] = alone_.try_emplace({f.groove, block.feel, us});
    Alone& alone = known->second;
    if (!isNew) return alone;
    alone.song = take_.song();
    // Every hat shuts and opens as in a song that goes on.
    Section section;
    section.groove = f.groove;
    section.repeat = 2;
    section.feel = score.feels[block.feel].id;
    if (alone.song.findFeel(section.feel) == nullptr) section.feel.clear();
    alone.song.arrangement = {section};
    alone.song.tempo = {TempoMark{Beat(0), Bpm{60e6 / static_cast<double>(us)}, {}}};
    if (const auto found = lookAt(alone.song)) alone.found = of(*found, f.groove);
    return alone;
  }

  const Found& inSong(const std::string& groove) {
    const auto [known, isNew] = inSong_.try_emplace(groove);
    if (isNew) known->second = of(SongCheck(take_, profile_, map_).run(), groove);
    return known->second;
  }

  const Take& take_;
  const Profile& profile_;
  const KitMap& map_;
  std::map<std::tuple<std::string, std::uint32_t, std::int64_t>, Alone> alone_;
  std::map<std::string, Found> inSong_;
};

}  // namespace

void keepWhatMends(const Take& take, const Profile& profile, const KitMap& map,
                   std::vector<Finding>& findings) {
  Trial trial(take, profile, map);
  for (Finding& f : findings) {
    std::vector<Mend> good;
    for (Mend& mend : f.mends) {
      if (trial.mends(f, mend)) good.push_back(std::move(mend));
    }
    f.mends = std::move(good);
  }
}

}  // namespace uneven
