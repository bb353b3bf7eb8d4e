// SPDX-License-Identifier: GPL-3.0-or-later
// How well takes by a drummer who is not ours are understood, class by class, as a table:
//
//   ear [takes of a class] [first seed] [class]
//   ear --sound [takes] [first seed] [class]        the same in sampled kits, with others around
//   ear --learn [takes of a class] [first seed]     the weights of core/match/readings.cpp
#include <fmt/format.h>

#include <cmath>
#include <cstdlib>
#include <future>
#include <map>
#include <memory>
#include <mutex>
#include <string>
#include <vector>

#include "core/match/fit.h"
#include "core/match/numbers.h"
#include "core/match/pulses.h"
#include "core/match/readings.h"
#include "core/match/strokes.h"
#include "tests/sound/sampled_kit.h"
#include "tests/support/played_takes.h"

namespace uneven {
namespace {

using testing::PlayedAnswer;
using testing::PlayedTake;

struct Tally {
  int n = 0, pulse = 0, meter = 0, swing = 0, whole = 0, bars = 0, barsOf = 0;
  std::vector<double> lean, confidence;
  int held = 0, leans = 0;
  std::vector<std::pair<double, bool>> told;  // confidence, and whether it is right
  int surelyWrong = 0, surelyOffBeat = 0;     // at kRather and more: anything of it, its pulse
  void add(const Tally& o) {
    n += o.n, pulse += o.pulse, meter += o.meter, swing += o.swing, whole += o.whole;
    bars += o.bars, barsOf += o.barsOf, held += o.held, leans += o.leans;
    lean.insert(lean.end(), o.lean.begin(), o.lean.end());
    surelyWrong += o.surelyWrong;
    surelyOffBeat += o.surelyOffBeat;
    confidence.insert(confidence.end(), o.confidence.begin(), o.confidence.end());
    told.insert(told.end(), o.told.begin(), o.told.end());
  }
};

void judge(const PlayedTake& take, const std::optional<Fit>& found, double within, Tally& tally,
           bool verbose, unsigned seed) {
  ++tally.n;
  if (!found) {
    tally.told.emplace_back(0, false);
    return;
  }
  const PlayedAnswer told{found->bpm.value, found->grid.meter, found->swing.unit,
                          found->swing.ratio};
  const bool pulse = rightPulse(take, told.bpm), meter = pulse && rightMeter(take, told);
  const bool swing = pulse && rightSwing(take, told);
  tally.pulse += pulse ? 1 : 0;
  tally.meter += meter ? 1 : 0;
  tally.swing += swing ? 1 : 0;
  const bool whole = pulse && meter && swing;
  tally.whole += whole ? 1 : 0;
  tally.told.emplace_back(found->confidence, whole);
  constexpr double kRather = 0.6;
  if (found->confidence >= kRather) {
    tally.surelyWrong += whole ? 0 : 1;
    tally.surelyOffBeat += pulse ? 0 : 1;
  }
  tally.confidence.push_back(found->confidence);
  if (verbose && !whole) {
    fmt::print(
        "  seed {}: {:.2f} {} {:.2f} told {:.2f} {} {} {:.2f} confidence {:.2f} ({} strokes)\n",
        seed, take.bpm, take.meter.toString(), take.ratio, told.bpm, told.meter.toString(),
        told.unit == SwingUnit::kEighth ? "8" : "16", told.ratio, found->confidence,
        take.onsets.size());
  }
  if (!pulse) return;
  for (const double bar : take.bars) {
    // The nearest beat there is to the true bar line, against the reference's lean.
    const double lean = found->against == LeanAgainst::kGrid ? 0
                        : take.lean.contains(take.reference) ? take.lean.at(take.reference) / 1'000
                                                             : 0;
    const double at = found->grid.line.quartersAt(bar + lean);
    const double step = take.meter.d == 8 ? 0.5 : 1;
    const double off =
        std::abs(found->grid.line.secondsAt(std::round(at / step) * step) - bar - lean);
    ++tally.barsOf;
    tally.bars += off < within ? 1 : 0;
  }
  const auto reference = found->pieces.find(take.reference);
  if (reference == found->pieces.end()) return;
  for (const PieceId piece : {piece::kKick, piece::kSnare}) {
    const auto of = found->pieces.find(piece);
    if (of == found->pieces.end() || piece == take.reference) continue;
    const double truth = take.lean.at(piece) - take.lean.at(take.reference);
    const double error = (of->second.lean - reference->second.lean).count() - truth;
    tally.lean.push_back(std::abs(error));
    ++tally.leans;
    tally.held += std::abs(error) <= 1.96 * of->second.se.count() ? 1 : 0;
  }
}

void print(const std::string& name, const Tally& t) {
  const auto percent = [](int part, int of) { return of == 0 ? 0 : 100.0 * part / of; };
  std::vector<double> lean = t.lean;
  fmt::print("{:20} {:4} {:6.0f} {:6.0f} {:6.0f} {:6.0f} {:6.1f} {:6.0f} {:6.0f} {:6.2f}\n", name,
             t.n, percent(t.pulse, t.n), percent(t.meter, t.n), percent(t.swing, t.n),
             percent(t.bars, t.barsOf), medianOfReals(lean),
             percent(static_cast<int>(
                         std::count_if(lean.begin(), lean.end(), [](double e) { return e <= 3; })),
                     static_cast<int>(lean.size())),
             percent(t.held, t.leans), medianOfReals(t.confidence));
}

void tellConfidence(const Tally& all) {
  fmt::print("\nof what is told with confidence ... so many are right in pulse, meter and swing\n");
  for (double from = 0; from < 1; from += 0.1) {
    int n = 0, right = 0;
    for (const auto& [sure, is] : all.told) {
      if (sure < from || (sure >= from + 0.1 && from < 0.85)) continue;
      ++n;
      right += is ? 1 : 0;
    }
    if (n > 0) fmt::print("{:.1f}..  {:4}  {:5.1f} %\n", from, n, 100.0 * right / n);
  }
  fmt::print("at 0.6 and more and wrong: {:.1f} % of all, in their pulse {:.1f} %\n",
             100.0 * all.surelyWrong / all.n, 100.0 * all.surelyOffBeat / all.n);
}

// --- Sound ---

struct Program {
  const char* bank;
  int number;
};
constexpr Program kPrograms[] = {{"tim", 0},    {"tim", 8},   {"tim", 16},  {"tim", 24},
                                 {"tim", 25},   {"fluid", 0}, {"fluid", 8}, {"fluid", 16},
                                 {"fluid", 24}, {"fluid", 25}};

// A take in a sampled kit, with others around.
std::vector<Onset> heard(const PlayedTake& take, unsigned seed,
                         std::map<std::string, std::unique_ptr<testing::SampledKit>>& kits,
                         std::string& program, std::size_t& which) {
  testing::Random random(seed);
  const Program& p = kPrograms[static_cast<std::size_t>(testing::pick(random, 0, 9))];
  which = static_cast<std::size_t>(testing::pick(random, 0, 6));
  testing::Around a;
  a.room = which == 1 || which == 4;
  a.bass = which >= 2 && which <= 4;
  a.band = which == 3 || which == 4;
  a.level = which == 4 ? 0 : -6;
  a.clipped = which == 5;
  a.noise = which == 6 ? 20 : 0;
  auto& kit = kits[p.bank];
  if (!kit) kit = std::make_unique<testing::SampledKit>(p.bank);
  kit->choose(p.number);
  program = fmt::format("{} {}", p.bank, p.number);
  StrokeFinder finder(testing::kTakeRate);
  finder.push(testing::soundOf(take, *kit, a, seed));
  return finder.finish();
}

// How strokes of a piece are found: moments and names.
struct Found {
  int there = 0, found = 0, told = 0;
  std::vector<double> off;
};
void compareStrokes(const PlayedTake& take, const std::vector<Onset>& onsets,
                    std::map<PieceId, Found>& out) {
  for (const PieceId piece : {piece::kKick, piece::kSnare, piece::kHat}) {
    Found& f = out[piece];
    std::vector<double> told;
    for (const Onset& o : onsets)
      if (o.piece == piece) told.push_back(o.seconds);
    f.told += static_cast<int>(told.size());
    for (const Onset& o : take.onsets) {
      if (o.piece != piece || o.velocity < 60) continue;
      ++f.there;
      const auto near = std::min_element(told.begin(), told.end(), [&](double a, double b) {
        return std::abs(a - o.seconds) < std::abs(b - o.seconds);
      });
      if (near == told.end() || std::abs(*near - o.seconds) > 0.03) continue;
      ++f.found;
      f.off.push_back(1'000 * (*near - o.seconds));
    }
  }
}

void listen(int takes, unsigned first, const std::string& only) {
  const std::vector<std::string> kinds = {
      "rock eighths", "sixteenths", "swung eighths", "swung sixteenths",  "jazz ride",
      "5/4",          "7/8",        "6/8",           "half-time shuffle", "linear sixteenths",
      "waves",        "drift",      "kick and snare"};
  const char* around[] = {"dry", "room", "bass -6", "band -6", "band 0", "clipped", "noise 20"};
  std::map<std::string, Tally> byKind, byProgram, byAround;
  std::map<std::string, std::map<PieceId, Found>> strokes;
  std::mutex lock;
  const auto run = [&](unsigned part) {
    std::map<std::string, std::unique_ptr<testing::SampledKit>> kits;
    for (unsigned i = part; i < static_cast<unsigned>(takes); i += 2) {
      const std::string kind = only.empty() ? kinds[i % kinds.size()] : only;
      const PlayedTake take = testing::playedTake(kind, first + i);
      std::string name;
      std::size_t which = 0;
      const std::vector<Onset> onsets = heard(take, first + i, kits, name, which);
      FitWanted wanted;
      wanted.foundWithin = Seconds(StrokeFinder::kFoundWithin);
      const auto found = fit(onsets, wanted);
      const std::scoped_lock locked(lock);
      for (Tally* tally :
           {&byKind[kind], &byProgram[name], &byAround[around[which]], &byKind["~ all"]})
        judge(take, found, 0.02, *tally,
              tally == &byKind["~ all"] && (takes < 100 || !only.empty()), first + i);
      compareStrokes(take, onsets, strokes[name]);
      compareStrokes(take, onsets, strokes["~ all"]);
    }
  };
  auto other = std::async(std::launch::async, run, 1U);
  run(0);
  other.get();
  for (const auto& [name, tally] : byProgram) print(name, tally);
  for (const auto& [name, tally] : byAround) print(name, tally);
  for (const auto& [name, tally] : byKind) print(name, tally);
  fmt::print(
      "\nstrokes of kick, snare, hats: found of those that are there, told beside them, median and "
      "spread of the error in ms\n");
  for (auto& [name, pieces] : strokes) {
    fmt::print("{:12}", name);
    for (auto& [piece, f] : pieces)
      fmt::print("  {:4.0f} % {:5.2f} {:+6.2f} {:5.2f}", 100.0 * f.found / std::max(1, f.there),
                 static_cast<double>(f.told) / std::max(1, f.there), medianOfReals(f.off),
                 robustSpread(f.off));
    fmt::print("\n");
  }
  tellConfidence(byKind["~ all"]);
}

// --- Weights ---

// As sound would give them: some missed, some that were none, some taken for another.
std::vector<Onset> worn(std::vector<Onset> onsets, testing::Random& random) {
  const double missed = testing::pickReal(random, 0, 0.2),
               wrong = testing::pickReal(random, 0, 0.1), ms = testing::pickReal(random, 0, 5);
  std::vector<Onset> out;
  const PieceId pieces[] = {piece::kKick, piece::kSnare, piece::kHat};
  for (Onset o : onsets) {
    const double lost = o.velocity < 60 ? 2 * missed : missed / 2;
    if (testing::pickReal(random, 0, 1) < lost) continue;
    if (testing::pickReal(random, 0, 1) < wrong) o.piece = pieces[testing::pick(random, 0, 2)];
    if (o.piece == piece::kTomHigh || o.piece == piece::kTomFloor)
      o.piece = pieces[testing::pick(random, 0, 2)];
    if (o.piece == piece::kCrash || o.piece == piece::kRide || o.piece == piece::kHatFoot)
      o.piece = piece::kHat;
    o.seconds += testing::pickReal(random, -ms, ms) / 1'000;
    out.push_back(o);
    if (testing::pickReal(random, 0, 1) < wrong / 2) {
      o.seconds += testing::pickReal(random, 0.03, 0.3);
      o.piece = pieces[testing::pick(random, 0, 2)];
      o.velocity = 50;
      out.push_back(o);
    }
  }
  std::stable_sort(out.begin(), out.end(),
                   [](const Onset& a, const Onset& b) { return a.seconds < b.seconds; });
  return out;
}

struct Example {
  std::vector<Traits> traits;
  std::vector<bool> right;
};

bool isRight(const PlayedTake& take, const Reading& r, const std::vector<Beats>& lines, bool fair) {
  const PlayedAnswer told{r.bpm.value, r.meter, r.swing.unit, r.triplets ? 2 : r.swing.ratio};
  const double within = take.moves ? 0.02 : 0.01;
  if (fair ? !rightPulse(take, r.bpm.value) : std::abs(r.bpm.value / take.bpm - 1) > within)
    return false;
  if (!fair && take.meter != r.meter) return false;
  if (fair && !rightMeter(take, told) && std::abs(r.bpm.value / take.bpm - 1) < within)
    return false;
  if (!rightSwing(take, told)) return false;
  if (!fair && take.ratio > 1.12 && !r.triplets && told.unit != take.unit) return false;
  const double bar = r.meter.barLength().toDouble();
  for (const std::size_t b : {std::size_t{1}, take.bars.size() / 2}) {
    const double at = lines[r.of].line.quartersAt(take.bars[b]) / r.times - r.zero;
    const double length = fair ? 0.5 : bar;
    if (std::abs(at - length * std::round(at / length)) > 0.17) return false;
  }
  return true;
}

double scoreOf(const Traits& traits, const Traits& weights) {
  double sum = 0;
  for (std::size_t i = 0; i < traits.size(); ++i) sum += traits[i] * weights[i];
  return sum;
}

struct Material {
  PlayedTake take;
  std::vector<Onset> onsets;
};

void learn(int takes, unsigned first) {
  Traits weights = readingWeights();
  const auto kinds = testing::playedKinds();
  constexpr std::size_t kKept = 250;
  std::array<std::vector<Material>, 2> materials;
  const auto make = [&](unsigned part) {
    std::map<std::string, std::unique_ptr<testing::SampledKit>> kits;
    for (std::size_t k = part; k < kinds.size(); k += 2) {
      for (int i = 0; i < takes; ++i) {
        testing::Random random(first + static_cast<unsigned>(i) * 31 + static_cast<unsigned>(k));
        const int bars = testing::pick(random, 0, 2) == 0 ? testing::pick(random, 6, 30) : 16;
        Material m{testing::playedTake(kinds[k], first + static_cast<unsigned>(i), bars), {}};
        std::string program;
        std::size_t which = 0;
        m.onsets = i % 3 == 0 ? m.take.onsets
                   : i % 3 == 1
                       ? worn(m.take.onsets, random)
                       : heard(m.take, first + static_cast<unsigned>(i) * 7, kits, program, which);
        materials[part].push_back(std::move(m));
      }
    }
  };
  {
    auto other = std::async(std::launch::async, make, 1U);
    make(0);
    other.get();
  }
  for (int mined = 0; mined < 2; ++mined) {
    std::vector<std::vector<Example>> parts(2);
    int none = 0;
    const auto gather = [&](unsigned part) {
      for (const Material& m : materials[part]) {
        const std::vector<Pulse> pulses = pulsesOf(m.onsets);
        const std::vector<Beats> lines = sharpestBeats(pulses, basesOf(pulses), kTempoFreedom);
        std::vector<Reading> readings = readingsOf(m.onsets, lines, {});
        for (Reading& r : readings) r.likelihood = scoreOf(r.traits, weights);
        std::stable_sort(readings.begin(), readings.end(), [](const Reading& a, const Reading& b) {
          return a.likelihood > b.likelihood;
        });
        Example e;
        // What is told of a plain bar of four at half its pulse is as right.
        const bool plain = m.take.meter == Meter{4, 4};
        for (const bool fair : {false, true}) {
          for (std::size_t r = 0; r < readings.size(); ++r) {
            const bool right = isRight(m.take, readings[r], lines, fair) ||
                               (plain && isRight(m.take, readings[r], lines, true));
            if (r >= kKept && !right) continue;
            e.traits.push_back(readings[r].traits);
            e.right.push_back(right);
          }
          if (std::count(e.right.begin(), e.right.end(), true) > 0) break;
          e = {};
        }
        if (e.traits.empty()) {
          ++none;
          continue;
        }
        parts[part].push_back(std::move(e));
      }
    };
    auto other = std::async(std::launch::async, gather, 1U);
    gather(0);
    other.get();
    std::vector<Example> examples = std::move(parts[0]);
    for (Example& e : parts[1]) examples.push_back(std::move(e));
    // Adam (Kingma & Ba 2015).
    Traits m{}, v{};
    double loss = 0;
    int right = 0;
    for (int step = 1; step <= 1'500; ++step) {
      Traits gradient{};
      loss = 0;
      right = 0;
      for (const Example& e : examples) {
        std::vector<double> p(e.traits.size());
        double top = -1e300, all = 0, good = 0;
        std::size_t best = 0;
        for (std::size_t r = 0; r < p.size(); ++r) {
          p[r] = scoreOf(e.traits[r], weights);
          if (p[r] > top) best = r;
          top = std::max(top, p[r]);
        }
        for (std::size_t r = 0; r < p.size(); ++r) {
          all += p[r] = std::exp(p[r] - top);
          if (e.right[r]) good += p[r];
        }
        right += e.right[best] ? 1 : 0;
        // A few takes that nobody could tell shall not turn all others.
        const double share = 0.98 * good / all + 0.02 / 50;
        loss -= std::log(share);
        for (std::size_t r = 0; r < p.size(); ++r) {
          const double by = p[r] / all * (1 - (e.right[r] ? all / std::max(good, 1e-12) : 0)) *
                            (0.98 * good / all / share);
          for (std::size_t i = 0; i < weights.size(); ++i) gradient[i] += by * e.traits[r][i];
        }
      }
      for (std::size_t i = 0; i < weights.size(); ++i) {
        const double g = gradient[i] / static_cast<double>(examples.size()) + 2e-4 * weights[i];
        m[i] = 0.9 * m[i] + 0.1 * g;
        v[i] = 0.999 * v[i] + 0.001 * g * g;
        weights[i] -= 0.05 * (m[i] / (1 - std::pow(0.9, step))) /
                      (std::sqrt(v[i] / (1 - std::pow(0.999, step))) + 1e-8);
      }
    }
    fmt::print("round {}: {} examples, {} without a right reading, loss {:.4f}, right {:.1f} %\n",
               mined, examples.size(), none, loss / static_cast<double>(examples.size()),
               100.0 * right / static_cast<double>(examples.size()));
    for (std::size_t i = 0; i < weights.size(); ++i)
      fmt::print("{:.3f},{}", weights[i], i % 8 == 7 ? "\n" : " ");
    fmt::print("\n");
    std::fflush(stdout);
  }
}

}  // namespace
}  // namespace uneven

int main(int argc, char** argv) {
  using namespace uneven;
  if (argc > 1 && std::string(argv[1]) == "--learn") {
    learn(argc > 2 ? std::atoi(argv[2]) : 40,
          argc > 3 ? static_cast<unsigned>(std::atoi(argv[3])) : 1'000);
    return 0;
  }
  if (argc > 1 && std::string(argv[1]) == "--sound") {
    listen(argc > 2 ? std::atoi(argv[2]) : 130,
           argc > 3 ? static_cast<unsigned>(std::atoi(argv[3])) : 1, argc > 4 ? argv[4] : "");
    return 0;
  }
  const int takes = argc > 1 ? std::atoi(argv[1]) : 24;
  const unsigned first = argc > 2 ? static_cast<unsigned>(std::atoi(argv[2])) : 1;
  const std::string only = argc > 3 ? argv[3] : "";
  fmt::print("{:20} {:>4} {:>6} {:>6} {:>6} {:>6} {:>6} {:>6} {:>6} {:>6}\n", "class", "n", "pulse",
             "meter", "swing", "bars", "lean", "<3 ms", "hold", "sure");
  Tally all;
  std::vector<std::future<Tally>> running;
  const auto kinds = testing::playedKinds();
  for (const std::string& kind : kinds) {
    if (!only.empty() && kind != only) continue;
    const auto run = [&](unsigned from, unsigned step) {
      Tally tally;
      for (unsigned i = from; i < static_cast<unsigned>(takes); i += step) {
        const PlayedTake take = testing::playedTake(kind, first + i);
        judge(take, fit(take.onsets, {}), 0.02, tally, !only.empty(), first + i);
      }
      return tally;
    };
    auto other = std::async(std::launch::async, run, 1U, 2U);
    Tally tally = run(0, 2);
    tally.add(other.get());
    print(kind, tally);
    all.add(tally);
  }
  print("all", all);
  tellConfidence(all);
  return 0;
}
