// SPDX-License-Identifier: GPL-3.0-or-later
// Findings about the hats' pedal.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <optional>
#include <tuple>

#include "core/check/finding.h"
#include "core/song/slots.h"

namespace uneven {
namespace {

double percent(double share) {
  return std::round(100 * share);
}

class HatCheck {
 public:
  HatCheck(const Score& score, const Performance& performance)
      : score_(score), performance_(performance) {}

  std::vector<Finding> run() {
    for (std::uint32_t i = 0; i < performance_.strokes.size(); ++i) {
      const Stroke& s = performance_.strokes[i];
      const bool hats = s.piece == piece::kHat || s.piece == piece::kHatFoot;
      if (hats && s.part == 0) strokes_.push_back(i);
    }
    for (std::size_t i = 0; i < strokes_.size(); ++i) {
      if (hitOf(i).piece == piece::kHat && hitOf(i).open > 0) checkOpening(i);
    }
    std::stable_sort(found_.begin(), found_.end(), [](const Finding& a, const Finding& b) {
      return a.bar != b.bar ? a.bar < b.bar : a.at < b.at;
    });
    return std::move(found_);
  }

 private:
  const Stroke& stroke(std::size_t i) const { return performance_.strokes[strokes_[i]]; }
  const Groove& grooveOf(std::size_t i) const { return *score_.blocks[stroke(i).block].groove; }
  const Hit& hitOf(std::size_t i) const { return grooveOf(i).hits[stroke(i).hit]; }
  bool meantShut(std::size_t i) const {
    const auto& pedal = grooveOf(i).pedal;
    return hitOf(i).piece == piece::kHat && hitOf(i).open == 0 && !(pedal && pedal->pump);
  }
  Milliseconds gap(std::size_t a, std::size_t b) const {
    return toMilliseconds(stroke(b).time - stroke(a).time);
  }
  Bpm tempoAt(std::size_t i) const {
    const Score::Block& block = score_.blocks[stroke(i).block];
    return Bpm{60'000'000.0 /
               static_cast<double>(score_.tempo.tempoAt(block.start + hitOf(i).at).usPerQuarter)};
  }

  void add(FindingKind kind, std::size_t opening, std::size_t suffers, std::string text,
           std::string fixText, std::function<Groove(Groove)> fix) {
    const HitRef ref = refOf(grooveOf(opening), stroke(opening).hit);
    const auto key = std::make_tuple(grooveOf(opening).id, ref, kind);
    if (const auto before = index_.find(key); before != index_.end()) {
      ++found_[before->second].times;
      return;
    }
    index_[key] = found_.size();
    Finding finding;
    finding.kind = kind;
    finding.groove = grooveOf(opening).id;
    finding.hit = ref;
    finding.bar = stroke(suffers).bar;
    finding.at = stroke(suffers).at;
    finding.text = std::move(text);
    finding.fixText = std::move(fixText);
    finding.fix = std::move(fix);
    found_.push_back(std::move(finding));
  }

  // Heel up where that is quick enough, else as far as there is time for.
  struct Mend {
    std::string text;
    std::function<Groove(Groove)> fix;
  };
  Mend quicker(std::size_t i, Milliseconds room) const {
    const Hit& hit = hitOf(i);
    const auto& pedal = grooveOf(i).pedal;
    const bool ownTravel = pedal && pedal->travel.count() > 0;
    const bool heelDown = !pedal || pedal->technique == PedalTechnique::kHeelDown;
    if (!ownTravel && heelDown && kTravelHeelUp * hit.open <= room) {
      return {"play it heel up", [](Groove groove) {
                if (!groove.pedal) groove.pedal.emplace();
                groove.pedal->technique = PedalTechnique::kHeelUp;
                return groove;
              }};
    }
    const Milliseconds travel = travelOf(pedal);
    const double less = std::floor(100 * std::max(0.0, room / travel)) / 100;
    const HitRef ref = refOf(grooveOf(i), stroke(i).hit);
    return {fmt::format("open only {} %", percent(less)), [ref, less](Groove groove) {
              if (const auto index = indexOf(groove, ref)) groove.hits[*index].open = less;
              return groove;
            }};
  }

  void checkOpening(std::size_t i) {
    const Hit& hit = hitOf(i);
    const Milliseconds way = travelOf(grooveOf(i).pedal) * hit.open;
    if (i > 0) checkBefore(i, way);
    checkAfter(i, way);
    checkEarlyClose(i);
  }

  void noRoom(std::size_t i, std::size_t suffers, Milliseconds way, Milliseconds room,
              const char* what) {
    const Mend mend = quicker(i, room);
    add(FindingKind::kNoRoom, i, suffers,
        fmt::format("the foot needs {:.0f} ms to {} and has {:.0f}; it would work up to {:.0f} BPM",
                    way.count(), what, room.count(),
                    std::floor(tempoAt(i).value * std::max(0.0, room / way))),
        mend.text, mend.fix);
  }

  void checkBefore(std::size_t i, Milliseconds way) {
    const std::size_t before = i - 1;
    if (!meantShut(before)) return;
    const double loose = performance_.pedal.openingAt(stroke(before).time);
    const Milliseconds room = gap(before, i);
    if (room <= Milliseconds(0) || way <= room) return;
    noRoom(i, i, way, room, "open");
    // What an opening before that has left open is that one's fault.
    const bool own = before == 0 || hitOf(before - 1).open == 0;
    if (!own || loose <= kLoose) return;
    const Mend mend = quicker(i, room);
    add(FindingKind::kEarlyOpening, i, before,
        fmt::format("already {} % open at the stroke before", percent(loose)), mend.text, mend.fix);
  }

  void checkAfter(std::size_t i, Milliseconds way) {
    if (i + 1 >= strokes_.size()) return;
    const std::size_t next = i + 1;
    const Hit& hit = hitOf(i);
    const bool byFoot = hitOf(next).piece == piece::kHatFoot;
    if (byFoot && hit.openFor > Beat(0)) {
      const Beat foot = score_.blocks[stroke(next).block].start + hitOf(next).at;
      const Beat opening = score_.blocks[stroke(i).block].start + hit.at;
      const Beat held = foot - opening;
      if (held > Beat(0) && held < hit.openFor) {
        const HitRef ref = refOf(grooveOf(i), stroke(i).hit);
        add(FindingKind::kTwoPlaces, i, next,
            fmt::format("the foot strikes while the hats are held open for {} quarter notes",
                        hit.openFor.toString()),
            "shut them with the foot's stroke", [ref, held](Groove groove) {
              if (const auto index = indexOf(groove, ref)) groove.hits[*index].openFor = held;
              return groove;
            });
      }
    }
    if (!byFoot && !meantShut(next)) return;
    const Milliseconds room = gap(i, next);
    if (way <= room) return;
    noRoom(i, next, way, room, "shut");
    const double open = stroke(next).opening;
    if (byFoot || open <= kLoose) return;
    const Mend mend = quicker(i, room);
    add(FindingKind::kLateClose, i, next,
        fmt::format("still {} % open at the next stroke, shut {:.0f} ms late", percent(open),
                    (way - room).count()),
        mend.text, mend.fix);
  }

  // Shut between two slots, half a slot or more before the next: it sounds as an extra note.
  void checkEarlyClose(std::size_t i) {
    const Hit& hit = hitOf(i);
    if (hit.openFor <= Beat(0)) return;
    const Groove& groove = grooveOf(i);
    const Beat shut = hit.at + hit.openFor;
    if (shut >= groove.length()) return;
    const Beat before = slotBefore(groove, slotAfter(groove, shut));
    if (before == shut) return;
    const Beat next = slotAfter(groove, shut);
    if ((next - shut) * Beat(2) < next - before) return;
    const double start = score_.blocks[stroke(i).block].start.toDouble();
    const Milliseconds early =
        score_.tempo.msAt(start + next.toDouble()) - score_.tempo.msAt(start + shut.toDouble());
    const Beat right = next - hit.at;
    const HitRef ref = refOf(groove, stroke(i).hit);
    add(FindingKind::kEarlyClose, i, i,
        fmt::format("shut {:.0f} ms before the next slot: it sounds as an extra note",
                    early.count()),
        fmt::format("shut it on the slot, after {} quarter notes", right.toString()),
        [ref, right](Groove changed) {
          if (const auto index = indexOf(changed, ref)) changed.hits[*index].openFor = right;
          return changed;
        });
  }

  const Score& score_;
  const Performance& performance_;
  std::vector<std::uint32_t> strokes_;  // of the hats, by hand and foot
  std::map<std::tuple<std::string, HitRef, FindingKind>, std::size_t> index_;
  std::vector<Finding> found_;
};

}  // namespace

std::string_view findingWord(FindingKind kind) {
  switch (kind) {
    case FindingKind::kLateClose:
      return "late-close";
    case FindingKind::kEarlyClose:
      return "early-close";
    case FindingKind::kEarlyOpening:
      return "early-opening";
    case FindingKind::kNoRoom:
      return "no-room";
    case FindingKind::kTwoPlaces:
      return "two-places";
  }
  return {};
}

std::vector<Finding> hatFindings(const Score& score, const Performance& performance) {
  return HatCheck(score, performance).run();
}

}  // namespace uneven
