// SPDX-License-Identifier: GPL-3.0-or-later
// Form as text.
#include "core/arrange/form.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <map>
#include <optional>

#include "core/arrange/fills.h"
#include "core/base/number.h"
#include "core/base/text.h"

namespace uneven {
namespace {

bool digit(char c) {
  return c >= '0' && c <= '9';
}

struct Item {
  std::string name;
  std::optional<int> bars;
  bool fill = false;
};

Error wrong(std::size_t item, std::string text, ErrorCode code = ErrorCode::kSyntax) {
  return {code, fmt::format("item {}: {}", item + 1, std::move(text)), {}};
}

Result<std::vector<Item>> itemsOf(std::string_view text) {
  std::vector<Item> out;
  std::size_t at = 0;
  while (at <= text.size()) {
    // Up to a comma that stands in no quotes.
    std::size_t end = at;
    bool quoted = false;
    while (end < text.size() && (quoted || text[end] != ',')) {
      if (text[end] == '"') quoted = !quoted;
      ++end;
    }
    if (quoted) return wrong(out.size(), "a quote that does not end");
    std::string_view part = trimmed(text.substr(at, end - at));
    at = end + 1;
    if (part.empty()) {
      if (at > text.size() && !out.empty()) break;
      return wrong(out.size(), "nothing stands there; \"Verse 8 + fill\" is an item");
    }
    Item item;
    constexpr std::string_view kFill = "+ fill";
    if (part.ends_with(kFill)) {
      item.fill = true;
      part = trimmed(part.substr(0, part.size() - kFill.size()));
    }
    std::string_view name = part;
    if (part.starts_with('"')) {
      const std::size_t close = part.find('"', 1);
      name = part.substr(1, close - 1);
      part = trimmed(part.substr(close + 1));
    } else {
      const std::size_t space = part.rfind(' ');
      const bool number =
          space != std::string_view::npos &&
          std::all_of(part.begin() + static_cast<std::ptrdiff_t>(space) + 1, part.end(), digit);
      name = number ? trimmed(part.substr(0, space)) : part;
      part = number ? trimmed(part.substr(space + 1)) : std::string_view();
    }
    if (name.empty()) return wrong(out.size(), "a name is needed");
    item.name = std::string(name);
    if (!part.empty()) {
      const auto bars = wholeNumber(part);
      if (!bars || *bars < 1 || *bars > kSongBarsMax)
        return wrong(out.size(), fmt::format("\"{}\" is no number of bars", part));
      item.bars = static_cast<int>(*bars);
    }
    out.push_back(std::move(item));
  }
  return out;
}

std::string lower(std::string text) {
  std::transform(text.begin(), text.end(), text.begin(),
                 [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
  return text;
}

bool sameName(std::string_view a, std::string_view b) {
  return std::equal(a.begin(), a.end(), b.begin(), b.end(), [](unsigned char x, unsigned char y) {
    return std::tolower(x) == std::tolower(y);
  });
}

}  // namespace

std::string formText(const Song& song) {
  std::string out;
  for (const Section& section : song.sections()) {
    if (!out.empty()) out += ", ";
    std::string name = section.name.empty() ? section.groove : section.name;
    std::erase(name, '"');
    const bool quoted = name.find(',') != std::string::npos || name.ends_with("+ fill") ||
                        trimmed(name) != name || (!name.empty() && digit(name.back()));
    out += quoted ? '"' + name + '"' : name;
    out += fmt::format(" {}", sectionBars(song, section));
    if (section.fill) out += " + fill";
  }
  return out;
}

Result<Song> withForm(Song song, const std::string& text, TempoGoes tempo) {
  const Result<std::vector<Item>> items = itemsOf(text);
  if (!items) return items.error();
  const std::vector<Section> before = song.sections();
  const std::vector<Beat> starts = sectionStarts(song);
  std::map<std::string, std::size_t> seen;
  std::map<std::string, std::vector<std::size_t>> named;
  for (std::size_t s = 0; s < before.size(); ++s) {
    std::string name = before[s].name.empty() ? before[s].groove : before[s].name;
    std::erase(name, '"');
    named[lower(std::move(name))].push_back(s);
  }
  struct Taken {
    Section section;
    std::optional<std::size_t> from;  // of the sections before
  };
  std::vector<Taken> wanted;
  std::vector<std::size_t> toFill;
  for (std::size_t i = 0; i < items->size(); ++i) {
    const Item& item = (*items)[i];
    const std::string key = lower(item.name);
    const auto known = named.find(key);
    const std::vector<std::size_t> same =
        known == named.end() ? std::vector<std::size_t>{} : known->second;
    Taken taken;
    if (!same.empty()) {
      const std::size_t turn = std::min(seen[key]++, same.size() - 1);
      taken.from = same[turn];
      taken.section = before[same[turn]];
    } else {
      const auto groove =
          std::find_if(song.grooves.begin(), song.grooves.end(), [&](const auto& g) {
            return sameName(g->id, item.name) || sameName(g->name, item.name);
          });
      if (groove == song.grooves.end()) {
        return wrong(i, fmt::format("no section and no groove is called \"{}\"", item.name),
                     ErrorCode::kUnknown);
      }
      taken.section.name = (*groove)->name;
      taken.section.groove = (*groove)->id;
    }
    Section& section = taken.section;
    section.repeat = item.bars || same.empty() ? 1 : section.repeat;
    const int pass = sectionBars(song, section) / section.repeat;
    if (item.bars) {
      if (pass == 0 || *item.bars % pass != 0) {
        return wrong(i,
                     fmt::format("\"{}\" goes by {} bars, so {} are no whole times", item.name,
                                 pass, *item.bars),
                     ErrorCode::kLimit);
      }
      section.repeat = *item.bars / pass;
    }
    if (!item.fill) section.fill.reset();
    if (item.fill && !section.fill) toFill.push_back(i);
    wanted.push_back(std::move(taken));
  }
  // The tempo that goes along is that of the sections before; what is new holds what is there.
  Song out = song;
  out.arrangement.clear();
  for (const Taken& taken : wanted) out.arrangement.push_back(taken.section);
  if (tempo == TempoGoes::kAlong) {
    std::vector<std::optional<std::size_t>> order;
    order.reserve(wanted.size());
    for (const Taken& taken : wanted) order.push_back(taken.from);
    out = withTempoOfOrder(song, std::move(out), order);
  }
  for (const std::size_t i : toFill) {
    FillPlan plan;
    plan.asked.bpm = out.tempoMap().tempoAt(sectionStarts(out)[i + 1] - Beat(1)).bpm().value;
    const Beat pass = passLength(out, out.arrangement[i]);
    plan.asked.beats = std::min({Beat(2), pass});
    Result<Song> filled = withFill(out, i, plan);
    // What has no time to go over the toms has a stroke and a gap.
    if (!filled) {
      plan.asked.recipe = "gap";
      filled = withFill(out, i, plan);
    }
    if (!filled) return wrong(i, filled.error().message, filled.error().code);
    out = *std::move(filled);
  }
  return out;
}

}  // namespace uneven
