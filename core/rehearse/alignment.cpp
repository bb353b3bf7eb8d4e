// SPDX-License-Identifier: GPL-3.0-or-later
// Alignment.
#include "core/rehearse/alignment.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/base/number.h"
#include "core/body/part.h"
#include "core/measure/level.h"
#include "core/song/edit.h"
#include "core/song/slots.h"

namespace uneven {
namespace {

constexpr double kLeftOver = 0.75;

// A stroke of the part in one of its rounds.
struct PartStroke {
  double ms = 0;
  std::uint32_t stroke = 0;  // of the take
  int round = 0;
  bool told = true;    // not an ornament's, nor the player's own
  bool needed = true;  // missing where nobody plays it
  double reach = 0;
};

double reachOf(double before, double after) {
  return std::clamp(0.5 * std::min(before, after), 20.0, kReachMost.count());
}

// The cheapest pairs of two lists in order of time; nothing: left over.
std::vector<std::optional<std::size_t>> matched(const std::vector<PartStroke>& written,
                                                const std::vector<double>& played) {
  const std::size_t n = written.size(), m = played.size();
  std::vector<std::optional<std::size_t>> out(n);
  // Runs between which nothing can be matched are solved one by one.
  std::size_t i = 0, j = 0;
  while (i < n) {
    while (j < m && played[j] < written[i].ms - written[i].reach) ++j;
    std::size_t iEnd = i + 1, jEnd = j;
    double until = written[i].ms + written[i].reach;
    for (;;) {
      while (jEnd < m && played[jEnd] <= until) ++jEnd;
      if (iEnd >= n || jEnd == j || played[jEnd - 1] < written[iEnd].ms - written[iEnd].reach)
        break;
      until = std::max(until, written[iEnd].ms + written[iEnd].reach);
      ++iEnd;
    }
    const std::size_t rows = iEnd - i, columns = jEnd - j;
    if (columns > 0) {
      // cost[a][b]: of the first a written and b played strokes of the run.
      std::vector<double> cost((rows + 1) * (columns + 1));
      std::vector<std::uint8_t> from(cost.size());
      const auto at = [&](std::size_t a, std::size_t b) { return a * (columns + 1) + b; };
      for (std::size_t a = 0; a <= rows; ++a) {
        for (std::size_t b = 0; b <= columns; ++b) {
          if (a == 0 && b == 0) continue;
          double best = std::numeric_limits<double>::infinity();
          if (a > 0) {
            best = cost[at(a - 1, b)] + (written[i + a - 1].needed ? kLeftOver : 0);
            from[at(a, b)] = 1;
          }
          if (b > 0 && cost[at(a, b - 1)] + kLeftOver < best) {
            best = cost[at(a, b - 1)] + kLeftOver;
            from[at(a, b)] = 2;
          }
          if (a > 0 && b > 0) {
            const PartStroke& w = written[i + a - 1];
            const double apart = std::abs(played[j + b - 1] - w.ms);
            if (apart <= w.reach && cost[at(a - 1, b - 1)] + apart / w.reach < best) {
              best = cost[at(a - 1, b - 1)] + apart / w.reach;
              from[at(a, b)] = 3;
            }
          }
          cost[at(a, b)] = best;
        }
      }
      for (std::size_t a = rows, b = columns; a > 0 || b > 0;) {
        const std::uint8_t step = from[at(a, b)];
        if (step == 3) out[i + a - 1] = j + b - 1;
        if (step != 2) --a;
        if (step != 1) --b;
      }
    }
    i = iEnd;
    j = jEnd;
  }
  return out;
}

Spread spreadOf(const std::vector<double>& ms) {
  Spread out;
  out.n = static_cast<int>(ms.size());
  if (ms.empty()) return out;
  double sum = 0;
  for (const double x : ms) sum += x;
  const double mean = sum / static_cast<double>(ms.size());
  double squares = 0;
  for (const double x : ms) squares += (x - mean) * (x - mean);
  out.mean = Milliseconds(mean);
  if (ms.size() > 1) out.sd = Milliseconds(std::sqrt(squares / static_cast<double>(ms.size() - 1)));
  return out;
}

class Aligner {
 public:
  Aligner(const Take& part, const std::vector<Onset>& played)
      : part_(part),
        played_(played),
        block_(part.score().blocks.front()),
        start_(part.score().tempo.msAt(block_.start).count()),
        length_(part.score().tempo.msAt(block_.start + block_.groove->length()).count() - start_) {}

  // How much of the take fits, if the part begins there: a stroke counts the more the nearer it is
  // to one of its piece.
  double fitting(double offset) const {
    double out = 0;
    const std::size_t each = std::max<std::size_t>(1, played_.size() / kLookedAt);
    for (std::size_t i = 0; i < played_.size(); i += each) {
      const Onset& onset = played_[i];
      const auto times = inRound_.find(onset.piece);
      if (times == inRound_.end()) continue;
      double at = std::fmod(onset.seconds * 1000 - offset, length_);
      if (at < 0) at += length_;
      const auto next = std::lower_bound(times->second.begin(), times->second.end(), at);
      double apart = length_;
      const auto to = [&](double ms) {
        const double d = std::abs(at - ms);
        apart = std::min({apart, d, length_ - d});
      };
      if (next != times->second.end()) to(*next);
      if (next != times->second.begin()) to(*std::prev(next));
      to(times->second.front());
      to(times->second.back());
      out += std::max(0.0, 1 - apart / kNear);
    }
    const std::size_t looked = (played_.size() + each - 1) / each;
    return out / static_cast<double>(looked);
  }

  Alignment run(const AlignWanted& wanted) {
    for (const Stroke& s : part_.strokes()) inRound_[s.piece].push_back(timeOf(s));
    for (auto& [piece, times] : inRound_) std::sort(times.begin(), times.end());
    double offset = 0;
    if (wanted.searchOffset && !played_.empty()) offset = found();
    Alignment out;
    out.offset = Milliseconds(offset);
    out.firstBar = block_.firstBar;
    out.bpm = part_.score().tempo.tempoAt(block_.start).bpm().value;
    if (played_.empty() && wanted.rounds == 0) return out;
    for (const auto& [from, to] : wanted.free) free_.emplace_back(msAt(from), msAt(to));
    fixed_ = wanted.rounds > 0;
    if (fixed_) {
      const double end = wanted.until ? wanted.until->count() - kReachMost.count() : 1e18;
      lay(0, wanted.rounds * length_, end);
    } else {
      layByBars(offset);
    }
    match(offset, out);
    judge(out);
    return out;
  }

 private:
  static constexpr double kNear = 40;            // ms
  static constexpr std::size_t kLookedAt = 400;  // strokes, where the beginning is looked for

  // From the groove's start; without what a body adds.
  double timeOf(const Stroke& s) const { return toMilliseconds(s.time - s.drift).count() - start_; }

  // The file's own zero is taken unless another beginning fits much better.
  double found() const {
    const double here = fitting(0);
    constexpr double kStep = 10, kMuchBetter = 0.3;
    double best = 0, most = here;
    for (double offset = -length_ / 2; offset < length_ / 2; offset += kStep) {
      const double fits = fitting(offset);
      if (fits > most) most = fits, best = offset;
    }
    if (most < here + kMuchBetter) return 0;
    for (double step = kStep / 2; step > 0.1; step /= 2) {
      for (const double offset : {best - step, best + step}) {
        const double fits = fitting(offset);
        if (fits > most) most = fits, best = offset;
      }
    }
    return best;
  }

  double msAt(Beat at) const {
    return part_.score().tempo.msAt(block_.start + at).count() - start_;
  }
  bool isFree(double ms) const {
    const double in = ms - std::floor(ms / length_) * length_;
    return std::any_of(free_.begin(), free_.end(), [&](const auto& span) {
      return in >= span.first - kNear && in < span.second - kNear;
    });
  }

  // The rounds in which the take plays, from the bar of its first stroke to that of its last.
  void layByBars(double offset) {
    const Beat bar = block_.groove->meter.barLength();
    std::vector<double> barStarts;
    for (int b = 0; b <= block_.groove->bars; ++b) barStarts.push_back(msAt(Beat(b) * bar));
    const auto barBefore = [&](double ms) {
      const double round = std::floor(ms / length_);
      const double in = ms - round * length_;
      const auto next = std::upper_bound(barStarts.begin(), barStarts.end(), in);
      return round * length_ + *std::prev(next);
    };
    const auto barAfter = [&](double ms) {
      const double round = std::floor(ms / length_);
      const double in = ms - round * length_;
      const auto next = std::upper_bound(barStarts.begin(), barStarts.end(), in);
      return round * length_ + (next == barStarts.end() ? length_ : *next);
    };
    const double first = played_.front().seconds * 1000 - offset;
    const double last = played_.back().seconds * 1000 - offset;
    // A stroke just before a bar line is that bar's.
    lay(barBefore(first + kNear) - kNear, barAfter(std::max(first, last - kNear)) - kNear, 1e18);
  }

  // What is written from one moment to another; of what comes after `end` nothing is needed.
  void lay(double from, double to, double end) {
    constexpr double kHair = 1e-3;  // bar lines are rounded to ns
    from -= kHair;
    to -= kHair;
    const int firstRound = static_cast<int>(std::floor(from / length_));
    const int lastRound = static_cast<int>(std::floor(to / length_));
    for (int round = firstRound; round <= lastRound; ++round) {
      for (std::uint32_t i = 0; i < part_.strokes().size(); ++i) {
        const Stroke& s = part_.strokes()[i];
        const double ms = timeOf(s) + round * length_;
        // By where it is written: one that leans over the border counts to its bar.
        const double grid = toMilliseconds(s.grid).count() - start_ + round * length_;
        if (grid < from || grid >= to) continue;
        const bool told = s.part == 0 && !isFree(grid);
        written_[s.piece].push_back({ms, i, round, told, told && ms < end, 0});
      }
    }
    for (auto& [piece, list] : written_) {
      std::stable_sort(list.begin(), list.end(),
                       [](const PartStroke& a, const PartStroke& b) { return a.ms < b.ms; });
      for (std::size_t i = 0; i < list.size(); ++i) {
        const double before = i == 0 ? 1e9 : list[i].ms - list[i - 1].ms;
        const double after = i + 1 == list.size() ? 1e9 : list[i + 1].ms - list[i].ms;
        list[i].reach = reachOf(before, after);
      }
    }
  }

  AlignedStroke rowOf(const PartStroke& w) const {
    const Stroke& s = part_.strokes()[w.stroke];
    AlignedStroke out;
    out.round = w.round;
    out.bar = s.bar;
    out.at = s.at;
    out.piece = s.piece;
    out.limb = part_.limbs().size() > w.stroke ? part_.limbs()[w.stroke] : s.limb;
    out.role = s.role;
    out.velocity = s.velocity.value();
    return out;
  }

  void match(double offset, Alignment& out) {
    std::map<PieceId, std::vector<std::size_t>> onsets;
    for (std::size_t i = 0; i < played_.size(); ++i) onsets[played_[i].piece].push_back(i);
    struct Left {
      double ms;
      AlignedStroke row;
      int velocity;
    };
    std::vector<Left> missing, extra;
    std::vector<std::pair<double, AlignedStroke>> rows;
    for (const auto& [piece, list] : written_) {
      const std::vector<std::size_t>& of = onsets[piece];
      std::vector<double> times;
      times.reserve(of.size());
      for (const std::size_t i : of) times.push_back(played_[i].seconds * 1000 - offset);
      const auto pairs = matched(list, times);
      std::vector<bool> used(of.size(), false);
      for (std::size_t w = 0; w < list.size(); ++w) {
        const Stroke& s = part_.strokes()[list[w].stroke];
        AlignedStroke row = rowOf(list[w]);
        if (!pairs[w]) {
          row.state = PlayedState::kMissing;
          if (list[w].needed) missing.push_back({list[w].ms, row, s.velocity.value()});
          continue;
        }
        used[*pairs[w]] = true;
        if (!list[w].told) continue;
        const Onset& onset = played_[of[*pairs[w]]];
        row.late = Milliseconds(times[*pairs[w]] - list[w].ms);
        row.velocity = static_cast<int>(roundToInt(onset.velocity));
        row.velocityBy = row.velocity - s.velocity.value();
        row.onset = of[*pairs[w]];
        if (s.piece == piece::kHat) {
          row.opening = onset.opening;
          row.openingBy = onset.opening - s.opening.value();
        }
        rows.emplace_back(list[w].ms, row);
      }
      for (std::size_t p = 0; p < of.size(); ++p) {
        if (!used[p] && !isFree(times[p]))
          extra.push_back({times[p], extraRow(of[p], times[p]), 0});
      }
    }
    for (const auto& [piece, of] : onsets) {
      if (written_.contains(piece)) continue;
      // The foot that shuts the hats sounds, whether it is written or not.
      if (piece == piece::kHatFoot) continue;
      for (const std::size_t i : of) {
        const double ms = played_[i].seconds * 1000 - offset;
        if (isFree(ms)) continue;
        extra.push_back({ms, extraRow(i, ms), 0});
      }
    }
    const auto earlier = [](const Left& a, const Left& b) { return a.ms < b.ms; };
    std::stable_sort(missing.begin(), missing.end(), earlier);
    std::stable_sort(extra.begin(), extra.end(), earlier);
    std::vector<bool> taken(extra.size(), false);
    for (Left& m : missing) {
      std::optional<std::size_t> best;
      for (std::size_t e = 0; e < extra.size(); ++e) {
        const double apart = std::abs(extra[e].ms - m.ms);
        if (taken[e] || apart > kSameMoment.count()) continue;
        if (!best || apart < std::abs(extra[*best].ms - m.ms)) best = e;
      }
      if (best) {
        taken[*best] = true;
        const Onset& onset = played_[*extra[*best].row.onset];
        m.row.state = PlayedState::kWrongPiece;
        m.row.struck = onset.piece;
        m.row.late = Milliseconds(extra[*best].ms - m.ms);
        m.row.velocity = static_cast<int>(roundToInt(onset.velocity));
        m.row.velocityBy = m.row.velocity - m.velocity;
        m.row.onset = extra[*best].row.onset;
        ++out.wrong;
      } else {
        ++out.missing;
      }
      rows.emplace_back(m.ms, m.row);
    }
    for (std::size_t e = 0; e < extra.size(); ++e) {
      if (taken[e]) continue;
      ++out.extra;
      rows.emplace_back(extra[e].ms, extra[e].row);
    }
    std::stable_sort(rows.begin(), rows.end(),
                     [](const auto& a, const auto& b) { return a.first < b.first; });
    int first = rows.empty() ? 0 : rows.front().second.round;
    for (const auto& row : rows) first = std::min(first, row.second.round);
    if (fixed_) first = 0;
    for (auto& row : rows) {
      row.second.round -= first;
      out.rounds = std::max(out.rounds, row.second.round + 1);
      out.strokes.push_back(row.second);
    }
    times_.clear();
    for (const auto& row : rows) times_.push_back(row.first);
  }

  // What nobody wrote, at the slot that is nearest.
  AlignedStroke extraRow(std::size_t onset, double ms) const {
    AlignedStroke out;
    out.state = PlayedState::kExtra;
    out.piece = played_[onset].piece;
    out.onset = onset;
    out.velocity = static_cast<int>(roundToInt(played_[onset].velocity));
    const Groove& groove = *block_.groove;
    const double round = std::floor(ms / length_);
    const double in = ms - round * length_;
    double best = 1e9;
    Beat at;
    for (const Beat slot : slotsOf(groove, Beat(0), groove.length())) {
      const double apart =
          std::abs(part_.score().tempo.msAt(block_.start + slot).count() - start_ - in);
      if (apart >= best) continue;
      best = apart;
      at = slot;
    }
    const Beat bar = groove.meter.barLength();
    const std::int64_t number = at.floorDiv(bar);
    out.bar = block_.firstBar + static_cast<int>(number);
    out.at = at - Beat(number) * bar;
    out.round = static_cast<int>(round);
    return out;
  }

  void judge(Alignment& out) const {
    std::vector<double> all;
    std::map<Limb, std::vector<double>> byLimb;
    for (const AlignedStroke& s : out.strokes) {
      if (s.state != PlayedState::kPlayed) continue;
      all.push_back(s.late.count());
      byLimb[s.limb].push_back(s.late.count());
    }
    out.all = spreadOf(all);
    for (const auto& [limb, late] : byLimb) out.limbs[limb] = spreadOf(late);
    unisons(out);
    evenness(out);
    ghosts(out);
  }

  void unisons(Alignment& out) const {
    std::map<std::tuple<int, int, Beat>, std::pair<double, double>> places;
    for (const AlignedStroke& s : out.strokes) {
      if (s.state != PlayedState::kPlayed || !s.onset) continue;
      const double at = played_[*s.onset].seconds * 1000;
      const auto [place, isNew] = places.try_emplace({s.round, s.bar, s.at}, at, at);
      if (isNew) continue;
      place->second.first = std::min(place->second.first, at);
      place->second.second = std::max(place->second.second, at);
    }
    double sum = 0;
    int count = 0;
    for (const auto& [place, span] : places) {
      const double apart = span.second - span.first;
      if (apart == 0) continue;
      sum += apart;
      ++count;
      if (!out.widest || apart > out.widest->apart.count())
        out.widest = {Milliseconds(apart), std::get<1>(place), std::get<2>(place)};
    }
    if (count > 0) out.unison = Milliseconds(sum / count);
  }

  // Of the piece that keeps time: how much its intervals differ from those that are written.
  void evenness(Alignment& out) const {
    std::map<PieceId, std::vector<std::pair<double, double>>> byPiece;  // written, played
    for (std::size_t i = 0; i < out.strokes.size(); ++i) {
      const AlignedStroke& s = out.strokes[i];
      if (s.state != PlayedState::kPlayed || !keepsTime(*part_.score().kit, s.piece)) continue;
      byPiece[s.piece].emplace_back(times_[i], times_[i] + s.late.count());
    }
    const auto most = std::max_element(
        byPiece.begin(), byPiece.end(),
        [](const auto& a, const auto& b) { return a.second.size() < b.second.size(); });
    if (most == byPiece.end() || most->second.size() < 3) return;
    double sum = 0;
    int count = 0;
    for (std::size_t i = 1; i < most->second.size(); ++i) {
      const double was = most->second[i].first - most->second[i - 1].first;
      const double is = most->second[i].second - most->second[i - 1].second;
      if (was <= 1) continue;
      sum += std::abs(is - was) / was;
      ++count;
    }
    if (count > 0) out.uneven = sum / count;
  }

  void ghosts(Alignment& out) const {
    std::vector<int> accents, soft, accentsWritten, softWritten;
    for (const AlignedStroke& s : out.strokes) {
      if (s.state != PlayedState::kPlayed || s.piece != piece::kSnare || !s.onset) continue;
      const int played = std::max(1, static_cast<int>(roundToInt(played_[*s.onset].velocity)));
      if (s.role == Role::kAccent) {
        accents.push_back(played);
        accentsWritten.push_back(played - s.velocityBy);
      } else if (s.role == Role::kGhost) {
        soft.push_back(played);
        softWritten.push_back(played - s.velocityBy);
      }
    }
    if (accents.empty() || soft.empty()) return;
    out.ghosts = levelOf(medianOf(soft)).value - levelOf(medianOf(accents)).value;
    out.ghostsWritten =
        levelOf(medianOf(softWritten)).value - levelOf(medianOf(accentsWritten)).value;
  }

  const Take& part_;
  const std::vector<Onset>& played_;
  const Score::Block& block_;
  double start_, length_;
  std::map<PieceId, std::vector<double>> inRound_;
  std::map<PieceId, std::vector<PartStroke>> written_;
  std::vector<double> times_;                    // of the rows, as written
  std::vector<std::pair<double, double>> free_;  // ms
  bool fixed_ = false;                           // the first round is the part's first
};

}  // namespace

bool isClean(const Alignment& alignment, const CleanLimits& limits) {
  if (alignment.missing + alignment.extra + alignment.wrong > limits.left) return false;
  if (alignment.all.n == 0 || alignment.all.sd > limits.sd) return false;
  return std::all_of(alignment.strokes.begin(), alignment.strokes.end(), [&](const auto& s) {
    return s.state != PlayedState::kPlayed || std::abs(s.late.count()) <= limits.late.count();
  });
}

Alignment align(const Take& part, const std::vector<Onset>& played, const AlignWanted& wanted) {
  return Aligner(part, played).run(wanted);
}

Result<Alignment> alignTake(const Song& song, const std::string& groove,
                            const std::vector<Onset>& played, std::optional<double> bpm) {
  if (played.size() > kPlayedMost) {
    return Error{ErrorCode::kLimit,
                 fmt::format("the take has {} strokes; at most {} are looked at", played.size(),
                             kPlayedMost),
                 {}};
  }
  const auto against = [&](std::optional<double> tempo) -> Result<Alignment> {
    const Result<SharedTake> part =
        Take::ofGroove(tempo ? atOneTempo(song, Bpm{*tempo}) : song, groove);
    if (!part) return part.error();
    return align(**part, played);
  };
  Result<Alignment> own = against(std::nullopt);
  if (!own || !bpm || *bpm < kBpmMin || *bpm > kBpmMax) return own;
  constexpr double kSameBpm = 0.01;
  if (std::abs(own->bpm - *bpm) < kSameBpm) return own;
  Result<Alignment> other = against(bpm);
  if (!other) return other;
  return other->all.n > own->all.n ? other : own;
}

Result<Alignment> alignTake(const Song& song, const std::string& groove, const MidiOnsets& played) {
  constexpr double kFar = 1e6, kSame = 1e-9;
  const double first = played.line.periodAt(0), last = played.line.periodAt(kFar);
  std::optional<double> bpm;
  if (std::abs(first - last) < kSame) bpm = 60 / first;
  return alignTake(song, groove, played.onsets, bpm);
}

}  // namespace uneven
