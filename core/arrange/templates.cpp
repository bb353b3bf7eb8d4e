// SPDX-License-Identifier: GPL-3.0-or-later
// Sections by template.
#include "core/arrange/templates.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "core/arrange/sections.h"
#include "core/arrange/write_out.h"
#include "core/body/part.h"
#include "core/perform/passage.h"
#include "core/song/limbs.h"
#include "core/song/names.h"
#include "core/song/positions.h"

namespace uneven {
namespace {

constexpr TempoGoes kAlong = TempoGoes::kAlong;

bool goesOn(const Kit& kit, PieceId piece) {
  return keepsTime(kit, piece) || piece == piece::kHatFoot;
}

Error notSo(std::string text) {
  return {ErrorCode::kLimit, std::move(text), {}};
}

// Each groove of the section's passes as another, which is added to the song.
Song withVersions(Song song, std::size_t index, const std::function<Groove(const Groove&)>& change,
                  const std::string& word) {
  Section section = song.arrangement[index];
  std::map<std::string, std::string> made;
  const auto versionOf = [&](const std::string& id) {
    const auto known = made.find(id);
    if (known != made.end()) return known->second;
    const Groove* base = song.findGroove(id);
    if (base == nullptr) return id;
    Groove version = change(*base);
    version.origin = id;
    version.core.clear();
    version.walk.clear();
    version.name += ", " + word;
    return made[id] = addGroove(song, std::move(version), id + "-" + word);
  };
  for (std::string& id : section.grooves) id = versionOf(id);
  section.groove = section.grooves.empty() ? versionOf(section.groove) : section.grooves.front();
  song.arrangement[index] = std::move(section);
  return song;
}

Result<Templated> fillEvery(Song song, std::size_t index, const TemplateAsked& asked, int every,
                            bool whole) {
  Section section = song.arrangement[index];
  const int passes = std::max(every, (section.repeat + every - 1) / every * every);
  Templated out;
  if (whole && passes != section.repeat) {
    song = withSectionRepeated(std::move(song), index, passes, kAlong);
    out.note = fmt::format("{} passes now", passes);
  } else if (section.repeat < every) {
    return notSo(
        fmt::format("\"{}\" has {} passes: there is no {}th", section.name, section.repeat, every));
  }
  if (section.fill) {
    song.arrangement[index].fill->every = every;
    out.song = std::move(song);
    return out;
  }
  FillPlan plan = asked.fill;
  plan.every = every;
  Result<Song> filled = withFill(std::move(song), index, plan);
  if (!filled) return filled.error();
  out.song = *std::move(filled);
  return out;
}

Result<Templated> aaab(Song song, std::size_t index, const TemplateAsked& asked) {
  Section section = song.arrangement[index];
  const std::string a = section.pass().front();
  std::string b = asked.groove;
  if (!b.empty() && song.findGroove(b) == nullptr)
    return Error{ErrorCode::kUnknown, fmt::format("there is no groove \"{}\"", b), {}};
  if (b.empty()) {
    Result<Groove> fill = makeFill(*song.findGroove(a), *song.kit, asked.fill.asked);
    if (!fill) return fill.error();
    // As long as the groove itself: its first bars, then the fill.
    const Groove& base = *song.findGroove(a);
    PassChange change;
    change.fill = FillSpan{base.length() - fill->length(), base.length(), &*fill, Beat(0)};
    Groove whole = passageOf(base, Section{}, *song.kit, change);
    whole.name = fill->name;
    whole.origin = a;
    whole.core.clear();
    whole.walk.clear();
    b = addGroove(song, std::move(whole), a + "-b");
  }
  const int bars = sectionBars(song, section);
  section.groove = a;
  section.grooves = {a, a, a, b};
  section.fill.reset();
  section.repeat = 1;
  const int four = sectionBars(song, section);
  section.repeat = std::max(1, (bars + four - 1) / four);
  Templated out;
  out.song = withSectionChanged(std::move(song), index, section, kAlong);
  out.note = fmt::format("{} bars", section.repeat * four);
  return out;
}

Result<Templated> build(Song song, std::size_t index) {
  const Section section = song.arrangement[index];
  const Kit& kit = *song.kit;
  std::set<PieceId> struck;
  for (const std::string& id : section.pass()) {
    for (const Hit& hit : song.findGroove(id)->hits) struck.insert(hit.piece);
  }
  // Who comes in with whom: the kick, time, the snare, all else.
  std::vector<std::vector<std::string>> voices(4);
  for (const PieceId piece : struck) {
    const std::size_t turn = piece == piece::kKick          ? 0
                             : goesOn(kit, piece)           ? 1
                             : kit[piece].kind() == "snare" ? 2
                                                            : 3;
    voices[turn].push_back(kit[piece].id);
  }
  std::erase_if(voices, [](const auto& voice) { return voice.empty(); });
  const auto parts = std::min<std::size_t>(voices.size(), static_cast<std::size_t>(section.repeat));
  if (parts < 2) return notSo("a build takes two voices and two passes at least");
  // With fewer passes than voices the last ones come in together.
  Templated out;
  out.song = std::move(song);
  int left = section.repeat;
  for (std::size_t part = 0; part + 1 < parts; ++part) {
    const int passes = left / static_cast<int>(parts - part);
    Result<Song> split = withSectionSplit(out.song, index + part, passes);
    if (!split) return split.error();
    out.song = *std::move(split);
    Section& now = out.song.arrangement[index + part];
    for (std::size_t later = part + 1; later < voices.size(); ++later)
      now.mute.insert(now.mute.end(), voices[later].begin(), voices[later].end());
    now.name = fmt::format("{}, build {}", section.name, part + 1);
    left -= passes;
  }
  out.sections = parts;
  return out;
}

Result<Templated> onlyOne(Song song, std::size_t index, Limb limb) {
  Section& section = song.arrangement[index];
  bool plays = false;
  for (const std::string& id : section.pass()) {
    const std::vector<Limb> by = limbsOf(*song.findGroove(id), *song.kit);
    plays = plays || std::find(by.begin(), by.end(), limb) != by.end();
  }
  if (!plays) {
    return notSo(fmt::format("the {} plays nothing in \"{}\"", spokenName(limb), section.name));
  }
  section.mute.clear();
  for (const Limb other : {Limb::kRightHand, Limb::kLeftHand, Limb::kRightFoot, Limb::kLeftFoot}) {
    if (other != limb) section.mute.emplace_back(textOf(other));
  }
  return Templated{std::move(song), 1, {}};
}

Groove halfTime(const Groove& base, const Kit& kit) {
  Groove out = base;
  out.bars = 2 * base.bars;
  out.hits.clear();
  for (Hit hit : base.hits) {
    if (goesOn(kit, hit.piece)) {
      out.hits.push_back(hit);
      hit.at += base.length();
    } else {
      hit.at = hit.at * Beat(2);
    }
    out.hits.push_back(std::move(hit));
  }
  out.beatGrids.clear();
  for (const auto& [beat, grid] : base.beatGrids) {
    out.beatGrids[beat] = grid;
    out.beatGrids[beat + base.length()] = grid;
  }
  return out;
}

Groove doubleTime(const Groove& base, const Kit& kit) {
  Groove out = base;
  out.hits.clear();
  for (Hit hit : base.hits) {
    if (goesOn(kit, hit.piece)) {
      out.hits.push_back(hit);
      continue;
    }
    if (hit.role == Role::kGhost || hit.role == Role::kGrace) continue;
    hit.at = hit.at / Beat(2);
    if (hit.at.den() > kDenominatorMax) continue;
    out.hits.push_back(hit);
    hit.at += base.length() / Beat(2);
    out.hits.push_back(std::move(hit));
  }
  return out;
}

Result<Templated> stretched(Song song, std::size_t index, bool half) {
  const Section before = song.arrangement[index];
  for (const std::string& id : before.pass()) {
    if (half && 2 * song.findGroove(id)->bars > kBarsMax)
      return notSo(fmt::format("\"{}\" would have more than {} bars", id, kBarsMax));
  }
  const auto sorted = [half, kit = song.kit](const Groove& base) {
    Groove out = half ? halfTime(base, *kit) : doubleTime(base, *kit);
    std::stable_sort(out.hits.begin(), out.hits.end(), writtenBefore);
    keepLoudest(out.hits);
    return out;
  };
  Templated out;
  out.song = withVersions(std::move(song), index, sorted, half ? "half time" : "double time");
  Section section = out.song.arrangement[index];
  if (half && section.repeat % 2 == 0) {
    section.repeat /= 2;
    out.song.arrangement[index] = section;
    if (section.fill && section.fill->every > 1) out.note = "its fills go by the longer passes";
  } else if (half) {
    // It gets longer, and what comes later goes along.
    out.song.arrangement[index] = before;
    out.song = withSectionChanged(std::move(out.song), index, section, kAlong);
    out.note = "twice as many bars: its passes are odd in number";
  }
  return out;
}

Groove opened(const Groove& base, double open) {
  Groove out = base;
  for (Hit& hit : out.hits) {
    if (hit.piece == piece::kHat) hit.open = open + (1 - open) * hit.open;
  }
  return out;
}

Result<Templated> lastOpen(Song song, std::size_t index) {
  constexpr double kOpen = 0.5;
  Templated out;
  if (song.arrangement[index].repeat > 1) {
    Result<Song> split = withSectionSplit(song, index, song.arrangement[index].repeat - 1);
    if (!split) return split.error();
    song = *std::move(split);
    out.sections = 2;
    ++index;
    song.arrangement[index].name += ", last time";
  }
  const auto version = [](const Groove& base) { return opened(base, kOpen); };
  out.song = withVersions(std::move(song), index, version, "open hats");
  return out;
}

}  // namespace

const std::vector<SectionTemplate>& sectionTemplates() {
  static const std::vector<SectionTemplate> all = {
      {"three-and-fill", "Three times and a fill", "passes by four, the last of each with a fill"},
      {"every-4", "A fill every 4th time", "in every fourth pass"},
      {"every-8", "A fill every 8th time", "in every eighth pass"},
      {"aaab", "A A A B", "the groove three times, then another"},
      {"build", "Build", "voices come in one after the other"},
      {"break", "Break", "one limb alone"},
      {"half-time", "Half time", "what keeps time stays, all else half as fast"},
      {"double-time", "Double time", "what keeps time stays, all else twice as fast"},
      {"last-open", "The last time open", "the last pass with the hats open"}};
  return all;
}

Result<Templated> withTemplate(Song song, std::size_t index, const TemplateAsked& asked) {
  song.arrangement = song.sections();
  if (index >= song.arrangement.size()) {
    return notSo(
        fmt::format("there is no section {}; the song has {}", index + 1, song.arrangement.size()));
  }
  for (const std::string& id : song.arrangement[index].pass()) {
    if (song.findGroove(id) == nullptr)
      return Error{ErrorCode::kUnknown, fmt::format("there is no groove \"{}\"", id), {}};
  }
  if (asked.id == "three-and-fill") return fillEvery(std::move(song), index, asked, 4, true);
  if (asked.id == "every-4") return fillEvery(std::move(song), index, asked, 4, false);
  if (asked.id == "every-8") return fillEvery(std::move(song), index, asked, 8, false);
  if (asked.id == "aaab") return aaab(std::move(song), index, asked);
  if (asked.id == "build") return build(std::move(song), index);
  if (asked.id == "break") return onlyOne(std::move(song), index, asked.limb);
  if (asked.id == "half-time") return stretched(std::move(song), index, true);
  if (asked.id == "double-time") return stretched(std::move(song), index, false);
  if (asked.id == "last-open") return lastOpen(std::move(song), index);
  std::string all;
  for (const SectionTemplate& one : sectionTemplates())
    all += (all.empty() ? "" : ", ") + std::string(one.id);
  return Error{
      ErrorCode::kUnknown, fmt::format("there is no template \"{}\"; {} are", asked.id, all), {}};
}

Result<Song> withHatsOpened(Song song, std::size_t index, double from, double to) {
  from = std::clamp(from, 0.0, 1.0);
  to = std::clamp(to, 0.0, 1.0);
  song.arrangement = song.sections();
  if (index >= song.arrangement.size()) return notSo("there is no such section");
  if (from == to) {
    if (from == 0) return song;
    const auto version = [&](const Groove& base) { return opened(base, from); };
    return withVersions(std::move(song), index, version, fmt::format("{:.0f} % open", 100 * from));
  }
  Result<Song> written = writtenOut(std::move(song), index);
  if (!written) return written.error();
  const Section& section = written->arrangement[index];
  const double length = sectionLength(*written, section).toDouble();
  Beat start;
  for (const std::string& id : section.pass()) {
    for (auto& groove : written->grooves) {
      if (groove->id != id) continue;
      groove.edit([&](Groove& g) {
        for (Hit& hit : g.hits) {
          if (hit.piece != piece::kHat) continue;
          const double x = std::lerp(from, to, (start + hit.at).toDouble() / length);
          hit.open = x + (1 - x) * hit.open;
        }
      });
      start += groove->length();
      break;
    }
  }
  return written;
}

}  // namespace uneven
