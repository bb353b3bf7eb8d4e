// SPDX-License-Identifier: GPL-3.0-or-later
// Takes by a drummer who is not ours.
#include "tests/support/played_takes.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace uneven::testing {
namespace {

struct Struck {
  double at = 0;  // quarters in the bar, written
  PieceId piece;
  double velocity = 80;
};
using Bar = std::vector<Struck>;

// What a class is made of.
struct Style {
  Meter meter{4, 4};
  double slowest = 70, fastest = 160;  // quarters a minute
  double hat = 0.5;                    // a step of the timekeeper, quarters
  std::vector<double> hats;            // or its places
  PieceId keeper = piece::kHat;
  std::vector<double> kicks{0}, snares{1, 3};
  double grid = 0.5;  // of kicks that are drawn
  double more = 0.2;  // their chance
  double ghosts = 0;  // chance of a ghost on each place of the grid
  std::optional<SwingUnit> swings;
  double least = 1, most = 1;  // the ratio
  bool linear = false, noKeeper = false, triplets = false;
  TempoKind tempo = TempoKind::kSteady;
  double clock = 3, motor = 2, colour = 1;
  bool silence = false, pickup = false, countIn = false;
  bool flat = false, loop = false, crashes = true, fills = true;
  std::vector<double> fair;
  std::vector<Meter> fairMeters;
};

Style styleOf(const std::string& kind, Random& random) {
  Style s;
  const bool coin = pick(random, 0, 1) == 0;
  const auto swung = [&](SwingUnit unit, double least, double most) {
    s.swings = unit;
    s.least = least;
    s.most = most;
  };
  if (kind == "rock eighths") {
    s.slowest = 60, s.fastest = 200;
  } else if (kind == "sixteenths") {
    s.slowest = 60, s.fastest = 130;
    s.hat = s.grid = 0.25, s.more = 0.15, s.ghosts = 0.1;
  } else if (kind == "5/4" || kind == "7/8") {
    const bool five = kind == "5/4";
    s.meter = five ? Meter{5, 4} : Meter{7, 8};
    s.slowest = 80, s.fastest = 170;
    s.snares = five ? (coin ? std::vector<double>{1, 3} : std::vector<double>{2, 4})
                    : (coin ? std::vector<double>{1, 3} : std::vector<double>{1, 2.5});
    s.kicks = five ? std::vector<double>{0, 2.5} : std::vector<double>{0, 2};
    s.more = 0.1;
  } else if (kind == "3/4") {
    s.meter = {3, 4};
    s.slowest = 80, s.fastest = 180;
    s.snares = coin ? std::vector<double>{1, 2} : std::vector<double>{2};
    s.hat = pick(random, 0, 2) == 0 ? 1 : 0.5;
    s.more = 0.12;
  } else if (kind == "6/4") {
    s.meter = {6, 4};
    s.slowest = 90, s.fastest = 170;
    s.snares = coin ? std::vector<double>{1, 3, 5} : std::vector<double>{2, 5};
    s.kicks = coin ? std::vector<double>{0, 2.5, 4} : std::vector<double>{0, 3.5};
    s.fairMeters = {{3, 4}, {2, 4}};
  } else if (kind == "2/4") {
    s.meter = {2, 4};
    s.slowest = 80, s.fastest = 130;
    s.snares = {1};
    s.hat = coin ? 0.25 : 0.5, s.grid = 0.25, s.more = 0.12;
    s.fairMeters = {{4, 4}};
  } else if (kind == "6/8" || kind == "9/8" || kind == "12/8") {
    const int n = kind == "6/8" ? 6 : kind == "9/8" ? 9 : 12;
    s.meter = {n, 8};
    s.slowest = 75, s.fastest = 195;  // dotted beats from 50 to 130
    s.snares = n == 9   ? std::vector<double>{3}
               : n == 6 ? std::vector<double>{1.5}
                        : std::vector<double>{1.5, 4.5};
    if (n == 12) s.kicks = {0, 3};
    s.more = 0.12;
    s.fair = {2.0 / 3, 1.0 / 3, 4.0 / 3};
    if (n != 9) s.fairMeters = {n == 6 ? Meter{12, 8} : Meter{6, 8}};
  } else if (kind == "half-time shuffle") {
    s.slowest = 120, s.fastest = 190;
    s.triplets = true;
    s.hats = {0, 2.0 / 3, 1, 5.0 / 3, 2, 8.0 / 3, 3, 11.0 / 3};
    s.snares = {2};
    s.kicks = {0};
    s.grid = 1.0 / 3, s.more = 0.08, s.ghosts = 0.22;
    swung(SwingUnit::kEighth, 2, 2);
    s.fair = {0.5};
  } else if (kind == "linear sixteenths") {
    s.slowest = 80, s.fastest = 120;
    s.linear = true;
    s.grid = 0.25;
  } else if (kind == "kick and snare") {
    s.slowest = 70, s.fastest = 180;
    s.noKeeper = true;
    s.more = 0.25;
  } else if (kind == "slow sixteenths") {
    s.slowest = 50, s.fastest = 66;
    s.hat = s.grid = 0.25, s.more = 0.15, s.ghosts = coin ? 0.08 : 0;
  } else if (kind == "swung eighths") {
    swung(SwingUnit::kEighth, 1.05, 2.2);
    s.slowest = 80, s.fastest = 180;
  } else if (kind == "hard swung eighths") {
    swung(SwingUnit::kEighth, 2.95, 3.5);
    s.slowest = 70, s.fastest = 130;
  } else if (kind == "swung sixteenths") {
    swung(SwingUnit::kSixteenth, 1.1, 2.2);
    s.slowest = 70, s.fastest = 115;
    s.hat = s.grid = 0.25, s.more = 0.14, s.ghosts = 0.12;
  } else if (kind == "jazz ride") {
    swung(SwingUnit::kEighth, 1.5, 2.6);
    s.slowest = 110, s.fastest = 220;
    s.keeper = piece::kRide;
    s.hats = {0, 1, 1.5, 2, 3, 3.5};
    s.kicks = {};
    s.snares = {};
    s.more = 0.15, s.ghosts = 0.15;
    s.fair = {0.5};
  } else if (kind == "drift") {
    s.colour = pick(random, 0, 2);
    s.clock = 4;
    s.hat = coin ? 0.5 : 0.25;
    s.fastest = coin ? 150 : 110;
  } else if (kind == "silence") {
    s.silence = true;
  } else if (kind == "pickup") {
    s.pickup = true;
  } else if (kind == "count-in") {
    s.countIn = true;
  } else if (kind == "waves" || kind == "small waves") {
    s.tempo = kind == "waves" ? TempoKind::kWaves : TempoKind::kSmallWaves;
    s.slowest = 75, s.fastest = 150;
    s.hat = coin || s.fastest > 130 ? 0.5 : 0.25;
  } else if (kind == "step") {
    s.tempo = TempoKind::kStep;
  } else if (kind == "ritardando") {
    s.tempo = TempoKind::kRitardando;
  }
  // Not everybody varies, fills, crashes or strikes accents.
  s.loop = pick(random, 0, 3) == 0;
  s.fills = !s.loop && pick(random, 0, 2) > 0;
  s.crashes = s.fills && pick(random, 0, 2) > 0;
  s.flat = pick(random, 0, 6) == 0;
  s.more *= pickReal(random, 0.5, 1.6);
  if (s.meter == Meter{4, 4} && s.snares == std::vector<double>{1, 3}) {
    const int which = pick(random, 0, 9);
    if (which == 0) {
      s.snares = {2};
      s.fair.push_back(0.5);
    }
    if (which == 1) s.snares = {3};
    if (which == 2 && s.hats.empty() && s.hat == 0.5) s.hats = {0.5, 1.5, 2.5, 3.5};
    if (which == 3 && s.hats.empty() && s.hat == 0.5) s.hats = {0, 1, 2, 3};
  }
  return s;
}

double tempoAt(TempoKind kind, double bpm, double share, double bars, int times) {
  switch (kind) {
    case TempoKind::kSteady:
      return bpm;
    case TempoKind::kWaves:
      return bpm * (1 + 0.03 * std::sin(2 * 3.14159265358979 * share * bars / (4 * times)));
    case TempoKind::kSmallWaves:
      return bpm * (1 + 0.005 * std::sin(2 * 3.14159265358979 * share * bars / (8 * times)));
    case TempoKind::kStep:
      return share * bars < 8 ? bpm : bpm * (times == 1 ? 1.12 : 1 / 1.12);
    case TempoKind::kRitardando:
      return share * bars < bars - 4 ? bpm : bpm * (1 - 0.3 * (share * bars - bars + 4) / 4);
  }
  return bpm;
}

// Noise of spectrum 1/f^colour about: sums of slower and slower parts; standard deviation 1.
class Clock {
 public:
  Clock(Random& random, double colour) : random_(random), colour_(colour) {}
  double next() {
    double sum = 0, all = 0;
    for (std::size_t i = 0; i < parts_.size(); ++i) {
      const double keep = std::exp(-1.0 / std::pow(3.0, static_cast<double>(i)));
      parts_[i] = keep * parts_[i] + std::sqrt(1 - keep * keep) * normal();
      const double weight = std::pow(3.0, (colour_ - 1) * static_cast<double>(i) / 2);
      sum += weight * parts_[i];
      all += weight * weight;
    }
    return sum / std::sqrt(all);
  }
  double normal() {
    double sum = -6;
    for (int i = 0; i < 12; ++i) sum += pickReal(random_, 0, 1);
    return sum;
  }

 private:
  Random& random_;
  double colour_;
  std::array<double, 5> parts_{};
};

bool on(double at, double step) {
  return std::abs(at / step - std::round(at / step)) < 1e-6;
}

Bar drawn(const Style& s, double length, Random& random) {
  Bar out;
  const auto chance = [&](double p) { return pickReal(random, 0, 1) < p; };
  const auto put = [&](double at, PieceId piece, double velocity) {
    for (const Struck& other : out)
      if (other.piece == piece && std::abs(other.at - at) < 1e-6) return;
    out.push_back({at, piece, velocity + pick(random, -4, 4)});
  };
  if (s.linear) {
    // Kick or snare on the beats, one hand or foot after the other between them.
    const bool full = chance(0.5);
    for (int i = 0; i < 16; ++i) {
      const double at = i / 4.0;
      if (i == 0)
        put(at, piece::kKick, 108);
      else if (i == 4 || i == 12)
        put(at, piece::kSnare, 112);
      else if (i % 4 == 0) {
        // A draw in a statement of its own: compilers differ in which argument comes first.
        const double loud = chance(0.5) ? 98 : 40;
        put(at, chance(0.7) ? piece::kKick : piece::kSnare, loud);
      } else if (chance(0.15))
        put(at, piece::kKick, 96);
      else if (chance(0.2))
        put(at, piece::kSnare, 34);
      else if (full || chance(0.9))
        put(at, piece::kHat, 72);
    }
    return out;
  }
  std::vector<double> hats = s.hats;
  if (hats.empty())
    for (int i = 0; i * s.hat < length - 1e-9; ++i) hats.push_back(i * s.hat);
  if (!s.noKeeper)
    for (const double at : hats) put(at, s.keeper, on(at, 1) ? 84 : 68);
  for (const double at : s.kicks) put(at, piece::kKick, 106);
  for (const double at : s.snares) put(at, piece::kSnare, 112);
  const auto snareAt = [&](double at) {
    return std::any_of(s.snares.begin(), s.snares.end(),
                       [&](double snare) { return std::abs(snare - at) < 1e-6; });
  };
  for (int i = 0; i * s.grid < length - 1e-9; ++i) {
    const double at = i * s.grid;
    if (snareAt(at)) continue;
    if (chance(s.more * (on(at, 0.5) ? 1.4 : 0.7)))
      put(at, piece::kKick, 98);
    else if (chance(s.ghosts))
      put(at, piece::kSnare, s.keeper == piece::kRide ? 70 : 32);
  }
  if (s.keeper == piece::kRide)
    for (const double at : {1.0, 3.0}) put(at, piece::kHatFoot, 80);
  return out;
}

Bar filled(Bar bar, double length, double step, Random& random) {
  const double from = length - pick(random, 1, 2);
  std::erase_if(bar, [&](const Struck& s) { return s.at >= from - 1e-9; });
  const PieceId toms[] = {piece::kSnare, piece::kTomHigh, piece::kTomFloor};
  for (int i = 0; from + i * step < length - 1e-9; ++i) {
    if (pick(random, 0, 5) == 0) continue;
    bar.push_back({from + i * step, toms[std::min(2, i / 3)], 90.0 + pick(random, -10, 10)});
  }
  return bar;
}

double swung(const Style& s, double ratio, double at) {
  if (!s.swings || s.triplets) return at;
  const double pair = *s.swings == SwingUnit::kEighth ? 1 : 0.5, t = ratio / (1 + ratio);
  const double start = std::floor(at / pair + 1e-9) * pair, p = (at - start) / pair;
  return start + pair * (p <= 0.5 ? p * t / 0.5 : t + (p - 0.5) * (1 - t) / 0.5);
}

}  // namespace

std::vector<std::string> playedKinds() {
  return {"rock eighths",
          "sixteenths",
          "5/4",
          "7/8",
          "3/4",
          "6/4",
          "2/4",
          "6/8",
          "9/8",
          "12/8",
          "half-time shuffle",
          "linear sixteenths",
          "kick and snare",
          "slow sixteenths",
          "swung eighths",
          "hard swung eighths",
          "swung sixteenths",
          "jazz ride",
          "drift",
          "silence",
          "pickup",
          "count-in",
          "waves",
          "small waves",
          "step",
          "ritardando"};
}

PlayedTake playedTake(const std::string& kind, unsigned seed, int bars) {
  Random random(seed * 7'919);
  for (const char c : kind)
    random = Random(static_cast<unsigned>(random()) + static_cast<unsigned char>(c));
  const Style s = styleOf(kind, random);
  PlayedTake out;
  out.kind = kind;
  out.meter = s.meter;
  out.fair = s.fair;
  out.fairMeters = s.fairMeters;
  out.moves = s.tempo != TempoKind::kSteady;
  out.unit = s.swings.value_or(SwingUnit::kEighth);
  out.ratio = s.swings ? pickReal(random, s.least, s.most) : 1;
  out.reference = s.noKeeper ? piece::kKick : s.keeper;
  out.lean[s.keeper] = pickReal(random, -4, 2);
  out.lean[piece::kSnare] = pickReal(random, -4, 14);
  out.lean[piece::kKick] = pickReal(random, -5, 6);
  const double bpm = s.slowest * std::pow(s.fastest / s.slowest, pickReal(random, 0, 1));
  const double length = s.meter.barLength().toDouble();
  const int times = pick(random, 1, 2);
  const double late = pickReal(random, 0.1, 3);
  // Two bars by turns, one a little other now and then, and a fill every eight or four.
  const std::array<Bar, 2> usual = {drawn(s, length, random), drawn(s, length, random)};
  const int every = pick(random, 0, 2) == 0 ? 4 : 8;
  const bool alike = s.loop || pick(random, 0, 2) == 0;
  // The grid in seconds, by sixty-fourths.
  constexpr int kParts = 16;
  const double all = length * bars;
  std::vector<double> seconds{late};
  for (int i = 0; i < static_cast<int>(all * kParts) + kParts; ++i) {
    const double share = std::min(1.0, (i + 0.5) / (all * kParts));
    seconds.push_back(seconds.back() + 60 / tempoAt(s.tempo, bpm, share, bars, times) / kParts);
  }
  const auto gridAt = [&](double quarters) {
    const double at = std::max(0.0, quarters * kParts);
    const auto i = std::min(seconds.size() - 2, static_cast<std::size_t>(at));
    return seconds[i] + (at - static_cast<double>(i)) * (seconds[i + 1] - seconds[i]);
  };
  Clock clock(random, s.colour);
  std::vector<double> drift;
  for (int i = 0; i < static_cast<int>(all * 4) + 8; ++i) drift.push_back(s.clock * clock.next());
  const auto strike = [&](double quarters, PieceId piece, double velocity, double away) {
    Onset o;
    const auto cell = std::min(drift.size() - 1,
                               static_cast<std::size_t>(std::max(0.0, std::round(quarters * 4))));
    o.seconds = gridAt(quarters) + away +
                (drift[cell] + s.motor * clock.normal() +
                 (out.lean.contains(piece) ? out.lean.at(piece) : 0)) /
                    1'000;
    o.piece = piece;
    o.velocity = s.flat ? 100 : std::clamp(std::round(velocity + 3 * clock.normal()), 1.0, 127.0);
    out.onsets.push_back(o);
  };
  const double beat = s.meter.d == 8 && s.meter.n % 3 == 0 ? 1.5 : 1;
  if (s.countIn)
    for (int i = 0; i < 4; ++i) strike(0, piece::kHatFoot, 80, -(4 - i) * beat * 60 / bpm);
  if (s.pickup)
    for (const double at : {-0.5, -0.25}) strike(0, piece::kSnare, 80, at * 60 / bpm);
  for (int b = 0; b < bars; ++b) {
    out.bars.push_back(gridAt(b * length));
    if (s.silence && b == 6) continue;
    Bar bar = usual[alike ? 0 : static_cast<std::size_t>(b % 2)];
    if (pick(random, 0, 4) == 0 && !s.linear && !s.loop)
      bar.push_back(
          {s.grid * pick(random, 1, static_cast<int>(length / s.grid) - 1), piece::kKick, 94});
    const bool fills = s.fills && (b + 1) % every == 0;
    if (fills)
      bar = filled(bar, length,
                   s.triplets                                         ? 1.0 / 3
                   : s.swings == SwingUnit::kEighth || s.meter.d == 8 ? 0.5
                                                                      : 0.25,
                   random);
    if (s.crashes && b > 0 && b % every == 0 && !s.linear && !s.noKeeper)
      bar.push_back({0, piece::kCrash, 104});
    for (const Struck& h : bar)
      strike(b * length + swung(s, out.ratio, h.at), h.piece, h.velocity, 0);
  }
  out.bpm = 60 * all / (gridAt(all) - gridAt(0));
  std::stable_sort(out.onsets.begin(), out.onsets.end(),
                   [](const Onset& a, const Onset& b) { return a.seconds < b.seconds; });
  for (Onset& o : out.onsets) o.seconds = std::round(o.seconds * 1e6) / 1e6;
  return out;
}

double rmsBetween(const std::vector<Onset>& laid, const std::vector<Onset>& played) {
  constexpr double kNear = 0.06;
  double sum = 0, n = 0;
  for (const Onset& mine : laid) {
    double nearest = kNear;
    for (const Onset& theirs : played) {
      if (theirs.piece == mine.piece)
        nearest = std::min(nearest, std::abs(theirs.seconds - mine.seconds));
    }
    if (nearest >= kNear) continue;
    sum += nearest * nearest;
    n += 1;
  }
  return n > 0 ? 1'000 * std::sqrt(sum / n) : -1;
}

bool rightPulse(const PlayedTake& take, double bpm) {
  const double within = take.moves ? 0.02 : 0.01;
  std::vector<double> fair = take.fair;
  fair.push_back(1);
  return std::any_of(fair.begin(), fair.end(),
                     [&](double f) { return std::abs(bpm / (f * take.bpm) - 1) < within; });
}

bool rightMeter(const PlayedTake& take, const PlayedAnswer& told) {
  if (told.meter == take.meter) return true;
  return std::any_of(take.fairMeters.begin(), take.fairMeters.end(),
                     [&](Meter m) { return m == told.meter; });
}

bool rightSwing(const PlayedTake& take, const PlayedAnswer& told) {
  // A triplet feel under half the pulse swings in sixteenths.
  constexpr double kStraight = 1.12;
  if (take.ratio < kStraight) return told.ratio < kStraight + 0.05;
  return std::abs(told.ratio / take.ratio - 1) < 0.15;
}

}  // namespace uneven::testing
