// SPDX-License-Identifier: GPL-3.0-or-later
// Variants and their keys.
#include "core/vary/variant.h"

#include <fmt/format.h>

#include <algorithm>
#include <memory>

#include "core/base/number.h"
#include "core/song/names.h"

namespace uneven {
namespace {

constexpr std::size_t kKeyMost = 160, kKeyKept = 120;

std::uint64_t hashOf(const std::string& text) {
  std::uint64_t hash = 0xcbf29ce484222325ULL;
  for (const char c : text) {
    hash ^= static_cast<unsigned char>(c);
    hash *= 0x100000001b3ULL;
  }
  return hash;
}

// What distinguishes a hit beyond its place, in words; empty for a plain one.
std::string words(const Hit& h, bool velocity) {
  std::string out;
  const auto add = [&](std::string_view word) { out += fmt::format(" {}", word); };
  if (h.role != Role::kNormal) add(textOf(h.role));
  if (h.stroke != StrokeKind::kNormal) add(textOf(h.stroke));
  if (h.limb != Limb::kAutomatic) add(textOf(h.limb));
  if (h.ornament != Ornament::kNone) add(textOf(h.ornament));
  if (h.open != 0) out += fmt::format(" open {}", shortest(h.open));
  if (h.openFor != Beat(0)) out += fmt::format(" for {}", h.openFor.toString());
  if (h.nudge.count() != 0) out += fmt::format(" {} ms", shortest(h.nudge.count()));
  if (velocity) out += fmt::format(" v{}", h.velocity.value());
  return out;
}

// In writing order beside each other.
template <typename Both, typename First, typename Second>
void mergeHits(const std::vector<Hit>& a, const std::vector<Hit>& b, Both both, First first,
               Second second) {
  std::size_t i = 0, k = 0;
  while (i < a.size() || k < b.size()) {
    if (k == b.size() || (i < a.size() && writtenBefore(a[i], b[k]))) {
      first(a[i++]);
    } else if (i == a.size() || writtenBefore(b[k], a[i])) {
      second(b[k++]);
    } else {
      both(a[i++], b[k++]);
    }
  }
}

}  // namespace

Changes changesBetween(const Groove& core, const Groove& variant) {
  Changes out;
  mergeHits(
      core.hits, variant.hits,
      [&](const Hit& a, const Hit& b) {
        if (!(a == b)) out[{b.at, b.piece}] = b;
      },
      [&](const Hit& a) {
        out[{a.at, a.piece}] = std::nullopt;
      },
      [&](const Hit& b) {
        out[{b.at, b.piece}] = b;
      });
  return out;
}

Groove withChanges(const Groove& core, const Changes& changes) {
  Groove out = core.withoutHits();
  out.hits.reserve(core.hits.size() + changes.size());
  auto change = changes.begin();
  const auto put = [&] {
    if (change->second) out.hits.push_back(*change->second);
    ++change;
  };
  for (const Hit& hit : core.hits) {
    const HitRef here{hit.at, hit.piece};
    while (change != changes.end() && change->first < here) put();
    if (change != changes.end() && change->first == here) {
      put();
    } else {
      out.hits.push_back(hit);
    }
  }
  while (change != changes.end()) put();
  return out;
}

Changes effective(const Groove& core, Changes changes) {
  std::erase_if(changes, [&](const auto& entry) {
    const auto here = indexOf(core, entry.first);
    if (!entry.second) return !here;
    return here && core.hits[*here] == *entry.second;
  });
  return changes;
}

std::string keyOf(const Groove& core, const Changes& changes, const Kit& kit) {
  std::string out;
  for (const auto& [ref, hit] : changes) {
    const auto before = indexOf(core, ref);
    if (!out.empty()) out += "; ";
    const char sign = !hit ? '-' : before ? '~' : '+';
    out += fmt::format("{}{} {}", sign, ref.at.toString(), kit[ref.piece].id);
    if (!hit) continue;
    // How hard it is counts where nothing else tells it from what stood there.
    const bool velocity = before && words(core.hits[*before], false) == words(*hit, false);
    out += words(*hit, velocity);
  }
  if (out.empty()) return "as it is";
  if (out.size() <= kKeyMost) return out;
  const std::uint64_t hash = hashOf(out);
  out.resize(kKeyKept);
  // Names of pieces may be in any letters: none is cut in two.
  while (!out.empty() && (static_cast<unsigned char>(out.back()) & 0x80U) != 0) out.pop_back();
  return fmt::format("{}... #{:016x}", out, hash);
}

Walk reordered(const Walk& walk, std::vector<std::uint64_t> order) {
  Walk out = walk;
  out.count = order.size();
  out.at = [at = walk.at, list = std::make_shared<const std::vector<std::uint64_t>>(
                              std::move(order))](std::uint64_t i) { return at((*list)[i]); };
  return out;
}

const WalkNote* verdictOf(const Groove& groove, const std::string& key) {
  const auto found = std::find_if(groove.walk.begin(), groove.walk.end(),
                                  [&](const WalkNote& n) { return n.placement == key; });
  return found == groove.walk.end() ? nullptr : &*found;
}

Groove withVerdict(Groove groove, const std::string& key, WalkMark mark, std::string note) {
  auto found = std::find_if(groove.walk.begin(), groove.walk.end(),
                            [&](const WalkNote& n) { return n.placement == key; });
  if (found == groove.walk.end()) {
    groove.walk.emplace_back();
    found = std::prev(groove.walk.end());
    found->placement = key;
  }
  found->mark = mark;
  found->note = std::move(note);
  return groove;
}

std::string verdictReport(const Song& song, VerdictFormat format) {
  const auto quoted = [](std::string text) {
    for (std::size_t at = 0; (at = text.find('"', at)) != std::string::npos; at += 2)
      text.insert(at, 1, '"');
    return '"' + text + '"';
  };
  std::string out = format == VerdictFormat::kCsv ? "groove,variant,mark,note\n" : "";
  for (const auto& groove : song.grooves) {
    for (const WalkNote& n : groove->walk) {
      if (format == VerdictFormat::kCsv) {
        out += fmt::format("{},{},{},{}\n", quoted(groove->id), quoted(n.placement), textOf(n.mark),
                           quoted(n.note));
      } else {
        out += fmt::format("{}: {}: {}{}{}\n", groove->name, n.placement, textOf(n.mark),
                           n.note.empty() ? "" : ", ", n.note);
      }
    }
  }
  return out;
}

}  // namespace uneven
