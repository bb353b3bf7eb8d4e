// SPDX-License-Identifier: GPL-3.0-or-later
// A look at a whole song, kind by kind. Only the files of this folder know it.
//
//   limbs.cpp    hands and feet            strokes.cpp  strokes in time, what cannot sound
//   levels.cpp   how loud beside others    written.cpp  what is written: evenness, feet, bars
#pragma once

#include <map>
#include <set>
#include <tuple>
#include <unordered_set>

#include "core/body/song_hands.h"
#include "core/check/check.h"
#include "core/measure/level.h"
#include "core/measure/unison.h"

namespace uneven {

// dB; and a figure to a tenth, as findings tell it.
inline double levelOfHit(const Hit& hit) {
  return levelOf(hit.velocity).value;
}
double tenth(double value);

class SongCheck {
 public:
  SongCheck(const Take& take, const Profile& profile, const KitMap& map,
            const std::stop_token& stop)
      : take_(take),
        score_(take.score()),
        strokes_(take.strokes()),
        kit_(*take.score().kit),
        body_(kit_, profile),
        map_(map),
        stop_(stop) {}

  // Stopped: what was found until then.
  std::vector<Finding> run();

 private:
  bool isStopped() const { return stop_.stop_requested(); }
  const Groove& grooveOf(const Stroke& s) const { return *score_.blocks[s.block].groove; }
  const Hit& hitOf(const Stroke& s) const { return grooveOf(s).hits[s.hit]; }
  Moment plain(const Stroke& s) const { return s.time - s.drift; }
  double bpmAt(const Stroke& s) const {
    const Beat at = score_.blocks[s.block].start + hitOf(s).at;
    return score_.tempo.tempoAt(at).bpm().value;
  }
  std::string names(const std::vector<PieceId>& pieces) const {
    std::string out;
    for (std::size_t i = 0; i < pieces.size(); ++i) {
      out += i == 0 ? "" : i + 1 == pieces.size() ? " and " : ", ";
      out += kit_[pieces[i]].name;
    }
    return out;
  }
  std::vector<PieceId> inKitOrder(const std::set<PieceId>& pieces) const {
    std::vector<PieceId> out;
    for (const PieceId p : kit_.order) {
      if (pieces.contains(p)) out.push_back(p);
    }
    return out;
  }

  // A finding about a stroke; `about` tells two of one kind in one groove apart. The same in a
  // later repetition is counted, and told again where it is worse. Returns what is still to be
  // worded.
  using About = std::tuple<Beat, std::vector<PieceId>, int, int>;
  Finding* at(FindingKind kind, const Stroke& s, const About& about, std::vector<PieceId> pieces,
              double value, bool worse) {
    const auto key = std::tuple(&grooveOf(s), kind, about);
    const auto known = index_.find(key);
    if (known != index_.end()) {
      Finding& f = found_[known->second];
      f.times += weight_;
      if (!worse || value <= f.value) return nullptr;
      f.value = value;
      return &f;
    }
    index_[key] = found_.size();
    Finding f;
    f.times = weight_;
    f.kind = kind;
    f.groove = grooveOf(s).id;
    f.bar = s.bar;
    f.at = s.at;
    f.inGroove = hitOf(s).at;
    f.pieces = std::move(pieces);
    f.value = value;
    found_.push_back(std::move(f));
    return &found_.back();
  }

  // A finding about what is written in a groove.
  Finding& written(FindingKind kind, const Groove& groove, Beat at, std::vector<PieceId> pieces,
                   double value, const char* unit, std::string text) {
    Finding f;
    f.kind = kind;
    f.groove = groove.id;
    const std::int64_t bar = at.floorDiv(groove.meter.barLength());
    f.bar = score_.blocks[block_].firstBar + static_cast<std::int32_t>(bar);
    f.at = at - Beat(bar) * groove.meter.barLength();
    f.inGroove = at;
    f.times = times_;
    f.pieces = std::move(pieces);
    f.value = value;
    f.unit = unit;
    f.text = std::move(text);
    found_.push_back(std::move(f));
    return found_.back();
  }

  static std::vector<Finding> asOne(std::vector<Finding> found);

  // limbs.cpp
  void checkLimbs();
  void tellStrains(const BodyPart& part, const std::vector<BodyStroke>& strokes,
                   const std::vector<Strain>& all);
  // All strokes of a groove that strain one limb for one reason, and the worst of them with those
  // of its limb before it, from the first of its run.
  struct Strained {
    Strain worst;
    std::vector<const Stroke*> run;
    Selection set;                             // whose hand is set, of all the runs
    Selection before;                          // each one's stroke before, in its limb
    std::unordered_set<std::uint32_t> looked;  // hits of the groove, for that
    bool hand = false;
  };
  void offerMends(Finding& f, const Strained& strained);
  void checkSecondPedal(const BodyPart& part);
  static std::string spoken(Limb limb);

  // strokes.cpp
  void checkUnisons();
  std::map<PieceId, Milliseconds> leanOf(const Unison& u) const;
  void offerPulls();
  bool tellLean(const Unison& u, const std::vector<PieceId>& pieces);
  void checkStrokes();
  void checkBuzz(const Stroke& s);
  void checkNotes();

  // levels.cpp
  void checkGhosts(const Groove& groove);
  void checkStandingOut(const Groove& groove, PieceId piece, const std::vector<std::size_t>& hits);
  void checkBackbeat(const Groove& groove);
  void missing(const Groove& groove, std::int64_t bar, std::int64_t like, int others);
  void checkHats(const Groove& groove, double backbeat);
  void checkSoftUnisons(const Groove& groove);
  void checkFlat(const Groove& groove);
  void checkMachine(const Groove& groove);
  std::set<std::int64_t> fills(const Groove& groove) const;
  Beat fillFrom(const Groove& groove) const;

  // written.cpp
  void checkTriplets(const Groove& groove);
  void checkEvenness(const Groove& groove);
  void checkFeet(const Groove& groove);
  void checkLinear(const Groove& groove);
  void checkBars(const Groove& groove);
  void checkCore(const Groove& groove);

  // One more way to mend a finding, of its groove; what it changes is filled in by the caller.
  static Mend& offer(Finding& f, MendKind kind, std::string text, std::vector<HitRef> hits = {}) {
    Mend& mend = f.mends.emplace_back();
    mend.kind = kind;
    mend.text = std::move(text);
    mend.groove = f.groove;
    mend.hits = std::move(hits);
    return mend;
  }
  static Mend& offerLevel(Finding& f, MendKind kind, std::string text, double value) {
    Mend& mend = offer(f, kind, std::move(text));
    mend.pieces = f.pieces;
    mend.value = value;
    return mend;
  }

  const Take& take_;
  const Score& score_;
  const std::vector<Stroke>& strokes_;
  const Kit& kit_;
  Body body_;
  const KitMap& map_;
  const std::stop_token& stop_;
  std::vector<Finding> found_;
  std::map<std::tuple<const Groove*, FindingKind, About>, std::size_t> index_;
  // A feel's spread of some pieces: its finding, where they lie, and the widest place in ms.
  struct Lean {
    std::size_t finding = 0;
    std::map<PieceId, Milliseconds> lean;
    double worst = 0;
  };
  std::map<std::pair<std::string, std::vector<PieceId>>, Lean> leans_;  // by feel and pieces
  std::set<const Groove*> mixed_;  // that are played under more than one feel
  std::size_t block_ = 0;          // where the groove at hand is played first
  int times_ = 1;                  // how often
  FoldedBlocks folded_;            // for what bodies are asked
  int weight_ = 1;                 // how many strokes the one at hand stands for
};

}  // namespace uneven
