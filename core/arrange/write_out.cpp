// SPDX-License-Identifier: GPL-3.0-or-later
// Writing out and folding.
#include "core/arrange/write_out.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>
#include <string_view>

#include "core/arrange/sections.h"
#include "core/perform/score.h"

namespace uneven {
namespace {

// Free ids made from a word, without looking through the song for each.
class FreeIds {
 public:
  explicit FreeIds(const Song& song) {
    for (const auto& groove : song.grooves) taken_.insert(groove->id);
    for (const Feel& feel : song.feels) taken_.insert(feel.id);
  }
  std::string next(const std::string& wanted) {
    int& number = last_[wanted];
    std::string id;
    do id = fmt::format("{}-{}", wanted, ++number);
    while (!taken_.insert(id).second);
    return id;
  }

 private:
  std::set<std::string> taken_;
  std::map<std::string, int> last_;
};

// What a section is, but for what it plays.
Section without(Section section) {
  section.groove.clear();
  section.grooves.clear();
  section.name.clear();
  section.repeat = 1;
  return section;
}

}  // namespace

Result<Song> writtenOut(Song song, std::optional<std::size_t> only) {
  song.arrangement = song.sections();
  if (only && *only >= song.arrangement.size()) {
    return Error{
        ErrorCode::kLimit,
        fmt::format("there is no section {}; the song has {}", *only + 1, song.arrangement.size()),
        {}};
  }
  for (std::size_t i = 0; i < song.arrangement.size(); ++i) {
    const Section& section = song.arrangement[i];
    if (only && i != *only) continue;
    const std::size_t passes = section.pass().size() * static_cast<std::size_t>(section.repeat);
    if (passes <= kPassMost) continue;
    return Error{ErrorCode::kLimit,
                 fmt::format("\"{}\" would be {} grooves; at most {} are written out", section.name,
                             passes, kPassMost),
                 {}};
  }
  const Result<Score> score = arrange(song);
  if (!score) return score.error();
  FreeIds ids(song);
  std::map<std::uint32_t, std::vector<std::string>> played;
  for (const Score::Block& block : score->blocks) {
    if (only && block.section != *only) continue;
    const Section& section = song.arrangement[block.section];
    auto& list = played[block.section];
    Groove groove = *block.groove;
    groove.origin = section.pass()[list.size() % section.pass().size()];
    groove.walk.clear();
    groove.name = fmt::format("{}, bar {}", section.name, block.firstBar + 1);
    groove.id = ids.next(groove.origin);
    list.push_back(groove.id);
    song.grooves.emplace_back(std::move(groove));
  }
  FillAfter after = FillAfter::kNothing;
  for (std::uint32_t s = 0; s < song.arrangement.size(); ++s) {
    Section& section = song.arrangement[s];
    const FillAfter before = after;
    after = section.fill && section.fill->fills(section.repeat - 1, section.repeat)
                ? section.fill->after
                : FillAfter::kNothing;
    const auto list = played.find(s);
    if (list == played.end()) continue;
    section.groove = list->second.front();
    section.grooves = list->second.size() == 1 ? std::vector<std::string>{} : list->second;
    section.repeat = 1;
    section.fill.reset();
    section.mute.clear();
    section.swap.clear();
    after = FillAfter::kNothing;
    // What a fill before it puts there would take the place of its own crash.
    if (before != FillAfter::kCrash) section.crash.reset();
  }
  return song;
}

namespace {

// Whether one groove can be played for the other, and what differs then.
bool alike(const Groove& a, const Groove& b, const FoldTolerance& tolerance, Folded& told) {
  if (a.hits.size() != b.hits.size()) return false;
  Groove x = a.withoutHits(), y = b.withoutHits();
  for (Groove* g : {&x, &y}) {
    g->id.clear();
    g->name.clear();
    g->origin.clear();
    g->walk.clear();
    g->core.clear();
  }
  if (!(x == y)) return false;
  int hits = 0, velocity = 0;
  Milliseconds nudge{0};
  for (std::size_t i = 0; i < a.hits.size(); ++i) {
    Hit hit = b.hits[i];
    const int louder = std::abs(hit.velocity.value() - a.hits[i].velocity.value());
    const Milliseconds moved{std::abs(hit.nudge.count() - a.hits[i].nudge.count())};
    if (louder > tolerance.velocity || moved > tolerance.nudge) return false;
    hit.velocity = a.hits[i].velocity;
    hit.nudge = a.hits[i].nudge;
    if (!(hit == a.hits[i])) return false;
    hits += louder > 0 || moved.count() > 0 ? 1 : 0;
    velocity = std::max(velocity, louder);
    nudge = std::max(nudge, moved);
  }
  told.hits += hits;
  told.velocity = std::max(told.velocity, velocity);
  told.nudge = std::max(told.nudge, nudge);
  return true;
}

// What two grooves that are alike have in common.
std::string shapeOf(const Groove& groove) {
  std::string out = fmt::format("{} {} {} {}", groove.meter.toString(), groove.bars, groove.feel,
                                groove.grid.toString());
  for (const Hit& hit : groove.hits)
    out += fmt::format(" {} {}", hit.at.toString(), hit.piece.value);
  return out;
}

std::size_t periodOf(const std::vector<std::string>& list) {
  for (std::size_t p = 1; p <= list.size() / 2; ++p) {
    if (list.size() % p != 0) continue;
    if (std::equal(list.begin() + static_cast<std::ptrdiff_t>(p), list.end(), list.begin()))
      return p;
  }
  return list.size();
}

}  // namespace

Folded foldedUp(Song song, const FoldTolerance& tolerance) {
  Folded out;
  song.arrangement = song.sections();
  std::set<std::string> played;
  for (const Section& section : song.arrangement) {
    for (const std::string& id : section.pass()) played.insert(id);
    if (!section.fill) continue;
    for (const std::string& id : section.fill->takes()) played.insert(id);
  }
  // Where a groove came from is asked first, so that what was written out is what it was.
  std::map<std::string, std::vector<const Groove*>> byShape;
  std::map<std::string_view, const Groove*> byId;
  for (const auto& groove : song.grooves) byId.emplace(groove->id, &*groove);
  std::map<std::string, std::string> instead;
  for (const auto& groove : song.grooves) {
    if (!played.contains(groove->id)) continue;
    const std::string shape = shapeOf(*groove);
    auto& known = byShape[shape];
    const auto from = byId.find(groove->origin);
    const Groove* origin = from == byId.end() ? nullptr : from->second;
    if (origin != nullptr && origin != &*groove && !instead.contains(origin->id) &&
        shapeOf(*origin) == shape && alike(*origin, *groove, tolerance, out)) {
      instead[groove->id] = origin->id;
      continue;
    }
    const auto same = std::find_if(known.begin(), known.end(), [&](const Groove* one) {
      return alike(*one, *groove, tolerance, out);
    });
    if (same == known.end()) {
      known.push_back(&*groove);
    } else if (groove->walk.empty()) {
      instead[groove->id] = (*same)->id;
    }
  }
  const auto replace = [&](std::string& id) {
    for (auto to = instead.find(id); to != instead.end(); to = instead.find(id)) id = to->second;
  };
  for (Section& section : song.arrangement) {
    replace(section.groove);
    for (std::string& id : section.grooves) replace(id);
    if (section.fill) {
      replace(section.fill->groove);
      for (std::string& id : section.fill->grooves) replace(id);
      continue;  // it counts passes
    }
    if (section.grooves.empty()) continue;
    const std::size_t period = periodOf(section.grooves);
    const auto times = static_cast<int>(section.grooves.size() / period);
    if (section.repeat > kSongBarsMax / times) continue;
    section.repeat *= times;
    section.grooves.resize(period);
    section.groove = section.grooves.front();
    if (period == 1) section.grooves.clear();
  }
  // Neighbours that play the same under the same name, or under the names that they were given
  // when each bar was a section, are one.
  const auto givenName = [&](const Section& section) {
    const auto groove = byId.find(section.groove);
    return section.name == section.groove ||
           (groove != byId.end() && section.name == groove->second->name);
  };
  for (std::size_t i = 0; i + 1 < song.arrangement.size();) {
    const Section& a = song.arrangement[i];
    const Section& b = song.arrangement[i + 1];
    const bool same = without(a) == without(b) && a.pass() == b.pass() && !a.fill && !a.crash &&
                      !a.toLevelDb && a.morph == Beat(0) &&
                      (a.name == b.name || (givenName(a) && givenName(b)));
    if (!same || a.repeat + b.repeat > kSongBarsMax) {
      ++i;
      continue;
    }
    song.arrangement[i].repeat += b.repeat;
    song.arrangement.erase(song.arrangement.begin() + static_cast<std::ptrdiff_t>(i) + 1);
    ++out.sections;
  }
  for (LeftAlone& left : song.check.ignored) replace(left.groove);
  const auto before = song.grooves.size();
  std::erase_if(song.grooves, [&](const auto& groove) { return instead.contains(groove->id); });
  out.grooves = static_cast<int>(before - song.grooves.size());
  for (auto& groove : song.grooves) {
    const auto to = instead.find(groove->core);
    if (to == instead.end()) continue;
    const std::string core = to->second == groove->id ? std::string() : to->second;
    groove.edit([&](Groove& g) { g.core = core; });
  }
  out.song = std::move(song);
  return out;
}

std::string foldText(const Folded& folded) {
  if (folded.grooves == 0 && folded.sections == 0) return "nothing is written twice";
  std::string out = fmt::format("{} groove{} played by equal ones", folded.grooves,
                                folded.grooves == 1 ? "" : "s");
  if (folded.sections > 0) out += fmt::format(", {} sections joined", folded.sections);
  if (folded.hits > 0)
    out += fmt::format("; {} hits changed, by {} steps and {:.1f} ms at most", folded.hits,
                       folded.velocity, folded.nudge.count());
  return out;
}

}  // namespace uneven
