// SPDX-License-Identifier: GPL-3.0-or-later
// Edits of the song's sections.
#include "core/arrange/sections.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <string_view>
#include <unordered_map>

#include "core/base/number.h"
#include "core/base/text.h"
#include "core/perform/passage.h"
#include "core/song/edit.h"

namespace uneven {
namespace {

// Grooves by their ids: songs may have thousands, each a section of its own.
class ById {
 public:
  explicit ById(const Song& song) {
    for (const auto& groove : song.grooves) known_.emplace(groove->id, &*groove);
  }
  Beat length(const Section& section) const {
    Beat out;
    const auto add = [&](const std::string& id) {
      const auto found = known_.find(id);
      if (found != known_.end()) out += found->second->length();
    };
    if (section.grooves.empty()) add(section.groove);
    for (const std::string& id : section.grooves) add(id);
    return Beat(section.repeat) * out;
  }

 private:
  std::unordered_map<std::string_view, const Groove*> known_;
};

// The marks of a stretch of the song, from its start; the first stands at 0.
struct TempoSlice {
  Beat length;
  std::vector<TempoMark> marks;
  std::optional<double> last;  // where the last one ramps to, at the end
};

TempoSlice sliceOf(const std::vector<TempoMark>& marks, Beat from, Beat to) {
  TempoSlice out;
  out.length = to - from;
  const auto first = std::upper_bound(marks.begin(), marks.end(), from,
                                      [](Beat x, const TempoMark& mark) { return x < mark.at; });
  TempoMark begin = *std::prev(first);
  if (begin.at != from) {
    begin.bpm = bpmAt(marks, from);
    begin.relation.clear();
    begin.extras = {};
  }
  begin.at = Beat(0);
  out.marks.push_back(begin);
  for (auto mark = first; mark != marks.end() && mark->at < to; ++mark) {
    out.marks.push_back(*mark);
    out.marks.back().at -= from;
  }
  if (out.marks.back().ramp && from + out.marks.back().at < marks.back().at)
    out.last = bpmAt(marks, to).value;
  return out;
}

// One after the other. A ramp that does not lead to what follows ends a sixteenth before it.
// `tail`: marks behind the song's end, which stay where the song still ends as it did.
std::vector<TempoMark> joined(const std::vector<TempoSlice>& slices,
                              const std::vector<TempoMark>& tail) {
  const Beat sixteenth(1, 4);
  std::vector<TempoMark> out;
  Beat start;
  std::optional<double> rampsTo;
  double holds = 0;  // the tempo where the slice before ends
  for (const TempoSlice& slice : slices) {
    const TempoMark& first = slice.marks.front();
    const bool leads = rampsTo && std::abs(*rampsTo - first.bpm.value) < 1e-9;
    if (rampsTo && !leads) {
      const Beat at = std::max(out.back().at, start - sixteenth);
      if (at > out.back().at) {
        TempoMark end;
        end.at = at;
        end.bpm = Bpm{*rampsTo};
        out.push_back(end);
      } else {
        out.back().ramp = false;
      }
    }
    for (const TempoMark& mark : slice.marks) {
      const bool isFirst = &mark == &slice.marks.front();
      const bool needed = out.empty() || !isFirst || mark.ramp || rampsTo ||
                          mark.bpm.value != holds || !mark.relation.empty() ||
                          !mark.extras.pairs().empty();
      if (!needed) continue;
      out.push_back(mark);
      out.back().at += start;
    }
    start += slice.length;
    rampsTo = slice.last;
    holds = slice.last.value_or(slice.marks.back().bpm.value);
  }
  if (!tail.empty()) {
    for (const TempoMark& mark : tail) {
      out.push_back(mark);
      out.back().at += start;
    }
  } else if (rampsTo) {
    TempoMark end;
    end.at = start;
    end.bpm = Bpm{*rampsTo};
    out.push_back(end);
  }
  if (!out.empty()) out.back().ramp = false;
  return out;
}

// The sections in a new order or number.
struct Stretch {
  Section section;
  std::optional<std::size_t> was;  // which section's tempo goes with it; nothing: what holds there
};

std::vector<Stretch> stretches(const Song& song) {
  std::vector<Stretch> out;
  for (const Section& section : song.sections()) out.push_back({section, out.size()});
  return out;
}

// What holds where the marks end, for so long.
TempoSlice heldOn(const std::vector<TempoSlice>& slices, Bpm first, Beat length) {
  TempoSlice slice;
  slice.length = length;
  TempoMark same;
  same.bpm = first;
  if (!slices.empty())
    same.bpm = Bpm{slices.back().last.value_or(slices.back().marks.back().bpm.value)};
  slice.marks.push_back(same);
  return slice;
}

// Shorter: what stood behind its end goes; a ramp leads to where it led.
void fit(TempoSlice& slice, Beat length) {
  std::erase_if(slice.marks,
                [&](const TempoMark& mark) { return mark.at != Beat(0) && mark.at >= length; });
  if (!slice.marks.back().ramp) slice.last.reset();
  slice.length = length;
}

Song assembled(Song song, const std::vector<Stretch>& all, TempoGoes goes) {
  const std::vector<Beat> starts = sectionStarts(song);
  const ById grooves(song);
  const std::size_t last = starts.size() - 2;
  song.arrangement.clear();
  for (const Stretch& stretch : all) song.arrangement.push_back(stretch.section);
  if (goes == TempoGoes::kStays || all.empty()) return song;
  std::vector<TempoSlice> slices;
  std::vector<TempoMark> tail;
  for (std::size_t i = 0; i < all.size();) {
    const Beat length = grooves.length(all[i].section);
    if (!all[i].was) {
      slices.push_back(heldOn(slices, song.tempo.front().bpm, length));
      ++i;
      continue;
    }
    // Neighbours that stay neighbours keep what goes over the seam between them.
    const std::size_t first = *all[i].was;
    Beat whole = length;
    std::size_t count = 1;
    while (i + count < all.size() && all[i + count].was == first + count &&
           whole == starts[first + count] - starts[first]) {
      whole += grooves.length(all[i + count].section);
      ++count;
    }
    const Beat end = starts[first + count];
    slices.push_back(sliceOf(song.tempo, starts[first], end));
    if (whole != slices.back().length) fit(slices.back(), whole);
    i += count;
    // What stands behind the song's end stays there.
    if (i < all.size() || first + count - 1 != last) continue;
    for (const TempoMark& mark : song.tempo) {
      if (mark.at < end) continue;
      tail.push_back(mark);
      tail.back().at -= end;
    }
  }
  song.tempo = joined(slices, tail);
  return song;
}

Error noSection(std::size_t index, std::size_t count) {
  return {ErrorCode::kLimit,
          fmt::format("there is no section {}; the song has {}", index + 1, count),
          {}};
}

std::vector<std::string> unrolled(const Section& section) {
  std::vector<std::string> out;
  for (int pass = 0; pass < section.repeat; ++pass) {
    for (const std::string& id : section.pass()) out.push_back(id);
  }
  return out;
}

void playInTurn(Section& section, std::vector<std::string> grooves) {
  section.groove = grooves.front();
  section.grooves = grooves.size() == 1 ? std::vector<std::string>{} : std::move(grooves);
}

}  // namespace

Beat passLength(const Song& song, const Section& section) {
  Beat out;
  for (const std::string& id : section.pass()) {
    if (const Groove* groove = song.findGroove(id)) out += groove->length();
  }
  return out;
}

Beat sectionLength(const Song& song, const Section& section) {
  return Beat(section.repeat) * passLength(song, section);
}

int sectionBars(const Song& song, const Section& section) {
  int bars = 0;
  for (const std::string& id : section.pass()) {
    if (const Groove* groove = song.findGroove(id)) bars += groove->bars;
  }
  return section.repeat * bars;
}

std::vector<Beat> sectionStarts(const Song& song) {
  std::vector<Beat> out{Beat(0)};
  const ById grooves(song);
  for (const Section& section : song.sections())
    out.push_back(out.back() + grooves.length(section));
  return out;
}

Song withSectionAt(Song song, std::size_t index, Section section, TempoGoes tempo) {
  std::vector<Stretch> all = stretches(song);
  index = std::min(index, all.size());
  all.insert(all.begin() + static_cast<std::ptrdiff_t>(index), {std::move(section), std::nullopt});
  return assembled(std::move(song), all, tempo);
}

Song withSectionChanged(Song song, std::size_t index, Section section, TempoGoes tempo) {
  std::vector<Stretch> all = stretches(song);
  if (index >= all.size()) return song;
  all[index].section = std::move(section);
  return assembled(std::move(song), all, tempo);
}

Result<Song> withSectionSplit(Song song, std::size_t index, int passes) {
  song.arrangement = song.sections();
  if (index >= song.arrangement.size()) return noSection(index, song.arrangement.size());
  Section first = song.arrangement[index];
  const auto inPass = static_cast<int>(first.grooves.size());
  // A section of one pass through several grooves is split between those.
  const bool inside = first.repeat == 1 && inPass > 1;
  const int most = inside ? inPass : first.repeat;
  if (passes < 1 || passes >= most) {
    return Error{ErrorCode::kLimit,
                 fmt::format("section \"{}\" can be split after 1 to {} of its {} passes",
                             first.name, most - 1, most),
                 {}};
  }
  if (first.fill && !inside && first.fill->every > 0 && passes % first.fill->every != 0) {
    return Error{ErrorCode::kLimit,
                 fmt::format("section \"{}\" has a fill in every {} passes: split it after {}, or "
                             "its fills would fall elsewhere",
                             first.name, first.fill->every,
                             first.fill->every * std::max(1, passes / first.fill->every)),
                 {}};
  }
  const Beat length = sectionLength(song, first);
  Section second = first;
  if (inside) {
    playInTurn(first, {first.grooves.begin(), first.grooves.begin() + passes});
    playInTurn(second, {second.grooves.begin() + passes, second.grooves.end()});
  } else {
    first.repeat = passes;
    second.repeat -= passes;
  }
  const Beat cut = sectionLength(song, first);
  if (first.morph > cut) {
    return Error{ErrorCode::kLimit,
                 fmt::format("section \"{}\" turns into its feel over {} quarter notes: split it "
                             "behind them",
                             first.name, first.morph.toString()),
                 {}};
  }
  if (first.fill && second.fill->beats > passLength(song, second)) {
    return Error{
        ErrorCode::kLimit, "the fill is longer than what would be left of the section", {}};
  }
  second.morph = Beat(0);
  second.crash.reset();
  if (first.toLevelDb) {
    const double level = sectionLevel(first, cut.toDouble() / length.toDouble());
    first.toLevelDb = level;
    second.levelDb = level;
  }
  if (first.fill && first.fill->every == 0) {
    first.fill.reset();
  } else if (second.fill && !second.fill->grooves.empty()) {
    auto& takes = second.fill->grooves;
    const auto done = static_cast<std::size_t>(passes / second.fill->every) % takes.size();
    std::rotate(takes.begin(), takes.begin() + static_cast<std::ptrdiff_t>(done), takes.end());
  }
  song.arrangement[index] = std::move(first);
  song.arrangement.insert(song.arrangement.begin() + static_cast<std::ptrdiff_t>(index) + 1,
                          std::move(second));
  return song;
}

Result<Song> withSectionsJoined(Song song, std::size_t index) {
  song.arrangement = song.sections();
  if (index + 1 >= song.arrangement.size()) return noSection(index + 1, song.arrangement.size());
  const Section& a = song.arrangement[index];
  const Section& b = song.arrangement[index + 1];
  const auto refuse = [&](std::string_view what) {
    return Error{ErrorCode::kLimit,
                 fmt::format("\"{}\" and \"{}\" cannot be one section: {}", a.name, b.name, what),
                 {}};
  };
  if (a.feel != b.feel) return refuse("their feels differ");
  if (a.mute != b.mute) return refuse("they leave out different voices");
  if (a.swap != b.swap) return refuse("they play voices on different pieces");
  if (b.crash) return refuse("the second begins with a crash");
  const Beat lengthA = sectionLength(song, a), lengthB = sectionLength(song, b);
  const Beat length = lengthA + lengthB;
  Section out = a;
  const double endA = sectionLevel(a, 1), endB = sectionLevel(b, 1);
  const double along = lengthA.toDouble() / length.toDouble();
  constexpr double kSameDb = 0.005;
  const bool even = std::abs(endA - b.levelDb) < kSameDb &&
                    std::abs(std::lerp(a.levelDb, endB, along) - endA) < kSameDb;
  if (!even) return refuse("their levels are no one line");
  if (a.toLevelDb || b.toLevelDb) out.toLevelDb = endB;
  if (a.pass() == b.pass()) {
    out.repeat = a.repeat + b.repeat;
    const bool onlyLast = !a.fill && b.fill && b.fill->every == 0;
    if (a.fill != b.fill && !onlyLast) return refuse("their fills differ");
    if (a.fill && (a.fill->every == 0 || a.repeat % a.fill->every != 0))
      return refuse("the first one's fill would be lost");
    if (a.fill && a.fill->grooves.size() > 1) return refuse("their fills go in turn");
    out.fill = b.fill;
  } else {
    if (a.fill || (b.fill && b.repeat > 1)) return refuse("their fills fall on passes");
    std::vector<std::string> grooves = unrolled(a);
    const std::vector<std::string> more = unrolled(b);
    grooves.insert(grooves.end(), more.begin(), more.end());
    if (grooves.size() > kPassMost)
      return refuse(fmt::format("that would be more than {} grooves in turn", kPassMost));
    playInTurn(out, std::move(grooves));
    out.repeat = 1;
    out.fill = b.fill;
  }
  if (out.repeat > kSongBarsMax) return refuse("that would be too many passes");
  song.arrangement[index] = std::move(out);
  song.arrangement.erase(song.arrangement.begin() + static_cast<std::ptrdiff_t>(index) + 1);
  return song;
}

Song withSectionMoved(Song song, std::size_t index, std::size_t to, TempoGoes tempo) {
  std::vector<Stretch> all = stretches(song);
  if (index >= all.size()) return song;
  Stretch moved = std::move(all[index]);
  all.erase(all.begin() + static_cast<std::ptrdiff_t>(index));
  to = std::min(to, all.size());
  all.insert(all.begin() + static_cast<std::ptrdiff_t>(to), std::move(moved));
  return assembled(std::move(song), all, tempo);
}

Song withSectionDoubled(Song song, std::size_t index, TempoGoes tempo) {
  std::vector<Stretch> all = stretches(song);
  if (index >= all.size()) return song;
  all.insert(all.begin() + static_cast<std::ptrdiff_t>(index), Stretch(all[index]));
  return assembled(std::move(song), all, tempo);
}

Song withSectionRepeated(Song song, std::size_t index, int repeat, TempoGoes tempo) {
  const std::vector<Section> sections = song.sections();
  if (index >= sections.size()) return song;
  Section section = sections[index];
  section.repeat = std::clamp(repeat, 1, kSongBarsMax);
  return withSectionChanged(std::move(song), index, std::move(section), tempo);
}

Song withSectionNamed(Song song, std::size_t index, std::string name) {
  song.arrangement = song.sections();
  if (index < song.arrangement.size()) song.arrangement[index].name = std::move(name);
  return song;
}

Song withoutSection(Song song, std::size_t index, TempoGoes tempo) {
  std::vector<Stretch> all = stretches(song);
  if (index >= all.size() || all.size() == 1) return song;
  all.erase(all.begin() + static_cast<std::ptrdiff_t>(index));
  return assembled(std::move(song), all, tempo);
}

Song withTempoOfOrder(const Song& before, Song after,
                      const std::vector<std::optional<std::size_t>>& order) {
  std::vector<Stretch> all;
  for (std::size_t i = 0; i < after.arrangement.size(); ++i)
    all.push_back({after.arrangement[i], order[i]});
  after.arrangement = before.sections();
  return assembled(std::move(after), all, TempoGoes::kAlong);
}

Song withTempoMark(Song song, Beat at, Bpm bpm, bool ramp, std::string relation) {
  auto& marks = song.tempo;
  auto there = std::lower_bound(marks.begin(), marks.end(), at,
                                [](const TempoMark& mark, Beat x) { return mark.at < x; });
  if (there == marks.end() || there->at != at) {
    TempoMark mark;
    mark.at = at;
    there = marks.insert(there, mark);
  }
  there->bpm = Bpm{std::clamp(bpm.value, kBpmMin, kBpmMax)};
  there->relation = std::move(relation);
  there->ramp = ramp && std::next(there) != marks.end();
  marks.back().ramp = false;
  return song;
}

Song withoutTempoMark(Song song, Beat at) {
  std::erase_if(song.tempo, [&](const TempoMark& mark) { return mark.at == at && at != Beat(0); });
  song.tempo.back().ramp = false;
  return song;
}

Song withTempoMarkMoved(Song song, std::size_t index, Beat at) {
  auto& marks = song.tempo;
  if (index == 0 || index >= marks.size()) return song;
  const Beat least(1, 4);
  const Beat low = marks[index - 1].at + least;
  const Beat high = index + 1 < marks.size() ? marks[index + 1].at - least : kPositionMost;
  if (low <= high) marks[index].at = std::clamp(at, low, high);
  return song;
}

Result<TempoRelation> readRelation(const std::string& text) {
  const std::size_t equals = text.find('=');
  if (equals != std::string::npos) {
    const auto before = Grid::parse(trimmed(std::string_view(text).substr(0, equals)));
    const auto after = Grid::parse(trimmed(std::string_view(text).substr(equals + 1)));
    if (before && after) return TempoRelation{*before, *after};
  }
  return Error{ErrorCode::kSyntax,
               fmt::format("\"{}\" relates no two note values; \"1/8T = 1/8\" does: the old "
                           "triplet is the new eighth",
                           text),
               {}};
}

Result<Song> withTempoRelation(Song song, std::size_t section, const TempoRelation& relation) {
  const std::vector<Beat> starts = sectionStarts(song);
  if (section == 0 || section + 1 >= starts.size()) {
    if (section != 0) return noSection(section, starts.size() - 1);
    return Error{ErrorCode::kLimit, "the first section has no tempo before it", {}};
  }
  const Beat at = starts[section];
  // Where a ramp leads to it, what the ramp has come to.
  const Beat eve = at - Beat(1, 10'000);
  const double held = bpmAt(song.tempo, eve).value;
  const double bpm = roundedTo(held * relation.factor(), 1e4);
  if (bpm < kBpmMin || bpm > kBpmMax) {
    return Error{ErrorCode::kLimit,
                 fmt::format("{} would make {:.1f} BPM of {:.1f}; {:g} to {:g} are allowed",
                             relation.text(), bpm, held, kBpmMin, kBpmMax),
                 {}};
  }
  const auto there = std::find_if(song.tempo.begin(), song.tempo.end(),
                                  [&](const TempoMark& mark) { return mark.at == at; });
  const bool ramp = there != song.tempo.end() && there->ramp;
  return withTempoMark(std::move(song), at, Bpm{bpm}, ramp, relation.text());
}

}  // namespace uneven
