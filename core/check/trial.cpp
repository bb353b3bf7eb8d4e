// SPDX-License-Identifier: GPL-3.0-or-later
// Mendings tried on a copy, the smallest that shows the finding: the bars around it, the groove by
// itself, each twice over at the tempo and under the feel of the place; else the whole song.
#include "core/check/trial.h"

#include <algorithm>
#include <map>
#include <set>
#include <tuple>

#include "core/check/song_check.h"
#include "core/song/positions.h"

namespace uneven {
namespace {

using Key = std::tuple<FindingKind, Beat, std::vector<PieceId>>;
using Found = std::map<Key, Severity>;

Key keyOf(const Finding& f, Beat from) {
  return {f.kind, f.inGroove - from, f.pieces};
}

// Bars of a groove, from 0; the end not among them.
struct Bars {
  int from = 0, to = 0;
  bool operator==(const Bars&) const = default;
  auto operator<=>(const Bars&) const = default;
};

// Of these all that matters stands within a bar of them.
bool isLocal(FindingKind kind) {
  switch (kind) {
    case FindingKind::kUnisonSpread:
    case FindingKind::kThirdHand:
    case FindingKind::kNotPlayable:
    case FindingKind::kHard:
    case FindingKind::kTooClose:
    case FindingKind::kHeld:
    case FindingKind::kSqueezed:
    case FindingKind::kShortBuzz:
    case FindingKind::kNotLinear:
      return true;
    default:
      return kind >= FindingKind::kCutOpening;
  }
}

Bars barsAround(const Groove& groove, const Finding& f, const Mend& mend) {
  const Bars all{0, groove.bars};
  if (!isLocal(f.kind) || !mend.strokes.empty()) return all;
  const Beat length = groove.meter.barLength();
  Beat first = f.inGroove, last = f.inGroove;
  const auto see = [&](Beat at) {
    first = std::min(first, at);
    last = std::max(last, at);
  };
  for (const HitRef& ref : mend.hits) see(ref.at);
  if (mend.drawn) see(*mend.drawn);
  const Bars around{std::max(0, static_cast<int>(first.floorDiv(length)) - 1),
                    std::min(groove.bars, static_cast<int>(last.floorDiv(length)) + 2)};
  constexpr int kBarsMost = 8;
  return around.to - around.from > kBarsMost ? all : around;
}

Groove cutTo(Groove groove, Bars bars) {
  if (bars == Bars{0, groove.bars}) return groove;
  const Beat from = Beat(bars.from) * groove.meter.barLength();
  const Beat to = Beat(bars.to) * groove.meter.barLength();
  const auto moved = [from, to](Beat at) {
    return at < from || at >= to ? Beat::invalid() : at - from;
  };
  PositionMap map;
  map.to = moved;
  map.beats = moved;
  groove.core.clear();
  groove.bars = bars.to - bars.from;
  (void)mapPositions(groove, map);
  return groove;
}

Mend movedBy(Mend mend, Beat from) {
  for (HitRef& ref : mend.hits) ref.at = ref.at - from;
  if (mend.drawn) mend.drawn = *mend.drawn - from;
  mend.at = mend.kind == MendKind::kTempo ? Beat(0) : mend.at - from;
  return mend;
}

class Trial {
 public:
  Trial(const Take& take, const Profile& profile, const KitMap& map, const std::stop_token& stop)
      : take_(take), profile_(profile), map_(map), stop_(stop) {}

  // A tempo that is not slow enough yet is made slower: other hands are tired there.
  bool mends(const Finding& f, Mend& mend) {
    const Groove* groove = take_.song().findGroove(f.groove);
    if (groove == nullptr || stop_.stop_requested()) return false;
    const Bars around = barsAround(*groove, f, mend), all{0, groove->bars};
    for (const Bars bars : {around, all}) {
      const auto strokes = static_cast<std::ptrdiff_t>(groove->hits.size()) * 2 *
                           (bars.to - bars.from) / groove->bars;
      if (tried_ + strokes > kStrokesMost) return true;
      const Beat from = Beat(bars.from) * groove->meter.barLength();
      const Alone& alone = aloneAt(f, *groove, bars);
      if (alone.found.contains(keyOf(f, from)))
        return helps(f, from, alone.song, alone.found, mend);
    }
    if (tried_ + std::ssize(take_.strokes()) > kStrokesMost) return true;
    return helps(f, std::nullopt, take_.song(), inSong(f.groove), mend);
  }

 private:
  // Beyond so many strokes that were performed for it, mendings are offered untried.
  static constexpr std::ptrdiff_t kStrokesMost = 30'000;
  struct Alone {
    Song song;
    Found found;
  };

  // `from`: where the copy begins in the groove; nothing: it is the whole song.
  bool helps(const Finding& f, std::optional<Beat> from, const Song& song, const Found& before,
             Mend& mend) {
    const Key key = keyOf(f, from.value_or(Beat(0)));
    constexpr int kRounds = 4;
    for (int round = 0; round < kRounds; ++round) {
      const auto after = lookAt(withMend(song, from ? movedBy(mend, *from) : mend));
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
      if (keyOf(f, Beat(0)) != key) continue;
      for (const Mend& mend : f.mends) {
        if (mend.kind == MendKind::kTempo) return &mend;
      }
    }
    return nullptr;
  }

  // Nothing: the song cannot be played so.
  std::optional<std::vector<Finding>> lookAt(Song song) {
    const Result<SharedTake> take = Take::ofSong(std::move(song), stop_);
    if (!take) return std::nullopt;
    tried_ += std::ssize((*take)->strokes());
    return SongCheck(**take, profile_, map_, stop_).run();
  }
  static Found of(const std::vector<Finding>& findings, const std::string& groove) {
    Found out;
    for (const Finding& f : findings) {
      if (f.groove != groove) continue;
      Severity& worst = out.try_emplace(keyOf(f, Beat(0)), f.severity).first->second;
      worst = std::max(worst, f.severity);
    }
    return out;
  }

  const Alone& aloneAt(const Finding& f, const Groove& groove, Bars bars) {
    const Score& score = take_.score();
    const auto after =
        std::upper_bound(score.blocks.begin(), score.blocks.end(), f.bar,
                         [](int bar, const Score::Block& b) { return bar < b.firstBar; });
    const Score::Block& block = after == score.blocks.begin() ? *after : *std::prev(after);
    const std::int64_t us = score.tempo.tempoAt(block.start).usPerQuarter;
    const auto [known, isNew] = alone_.try_emplace({f.groove, block.feel, us, bars});
    Alone& alone = known->second;
    if (!isNew) return alone;
    alone.song = take_.song();
    if (bars != Bars{0, groove.bars})
      alone.song = withGroove(std::move(alone.song), cutTo(groove, bars));
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
    if (isNew) {
      tried_ += std::ssize(take_.strokes());
      known->second = of(SongCheck(take_, profile_, map_, stop_).run(), groove);
    }
    return known->second;
  }

  const Take& take_;
  const Profile& profile_;
  const KitMap& map_;
  const std::stop_token& stop_;
  std::ptrdiff_t tried_ = 0;
  std::map<std::tuple<std::string, std::uint32_t, std::int64_t, Bars>, Alone> alone_;
  std::map<std::string, Found> inSong_;
};

}  // namespace

void keepWhatMends(const Take& take, const Profile& profile, const KitMap& map,
                   std::vector<Finding>& findings, const std::stop_token& stop) {
  Trial trial(take, profile, map, stop);
  for (Finding& f : findings) {
    std::vector<Mend> good;
    for (Mend& mend : f.mends) {
      if (trial.mends(f, mend)) good.push_back(std::move(mend));
    }
    f.mends = std::move(good);
  }
}

}  // namespace uneven
