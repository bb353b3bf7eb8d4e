// SPDX-License-Identifier: GPL-3.0-or-later
// The table of walks, their orders and filters, and what they share.
#include "core/vary/walks.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <memory>

#include "core/measure/level.h"
#include "core/song/names.h"
#include "core/song/slots.h"
#include "core/take/take.h"
#include "core/time/count.h"
#include "core/tools/groups.h"
#include "core/vary/measures.h"
#include "core/vary/walk_call.h"

namespace uneven {
namespace {

constexpr std::uint64_t kFirstMost = 100'000;

std::vector<ToolParameter> sharedParameters() {
  return {
      choiceParameter(
          "order", "own: the walk's; else by place, distance, ceiling, syncopation",
          {"own", "last-first", "first-last", "nearest", "easiest", "least-syncopated"}),
      choiceParameter("only", "what can be played at the song's tempo, or has one stroke at once",
                      {"any", "playable", "comfortable", "linear"}),
      wholeParameter("together", "0", "strokes at once at most; 0: any", 0, 16),
      wholeParameter("changes", "0", "hits that differ at most; 0: any", 0, 10'000),
      wholeParameter("first", "0", "so many variants from the beginning; 0: all", 0,
                     static_cast<double>(kFirstMost))};
}

int mostTogether(const Groove& groove) {
  int most = 0, here = 0;
  for (std::size_t i = 0; i < groove.hits.size(); ++i) {
    here = i > 0 && groove.hits[i].at == groove.hits[i - 1].at ? here + 1 : 1;
    most = std::max(most, here);
  }
  return most;
}

// By the place of the first change; of what has none by the walk's own order.
Beat firstChange(const Groove& core, const Groove& variant) {
  const Changes changes = changesBetween(core, variant);
  return changes.empty() ? Beat(0) : changes.begin()->first.at;
}

Result<Walk> inOrder(Walk walk, const WalkCall& call, const Profile& profile,
                     const WalkProgress& progress) {
  const std::string& order = call.text("order");
  const std::string& only = call.text("only");
  const int together = only == "linear" ? 1 : call.whole("together");
  const int changes = call.whole("changes");
  const bool places = order == "last-first" || order == "first-last";
  const bool keeps = order == "own" || (walk.kind == "placement" && places);
  const bool filters = only != "any" || together > 0 || changes > 0;
  if (keeps && !filters) return walk;
  if (walk.count > kSortedMost) {
    return Error{ErrorCode::kLimit,
                 fmt::format("{}: {} variants are too many to be put in order or sifted; up to {} "
                             "are: take a shorter span or fewer strokes",
                             walk.kind, walk.count, kSortedMost),
                 {}};
  }
  // How fast each goes asks its hands for all of it.
  const std::uint64_t hits = walk.count * call.core().hits.size();
  const bool ceilings = order == "easiest" || only == "playable" || only == "comfortable";
  if (ceilings && hits > kSortedHitsMost) {
    return Error{
        ErrorCode::kLimit,
        fmt::format("{}: {} variants of {} hits are too many to be measured; up to {} hits in "
                    "all are: take a shorter span",
                    walk.kind, walk.count, call.core().hits.size(), kSortedHitsMost),
        {}};
  }
  const double bpm = [&] {
    const Result<SharedTake> take = Take::ofGroove(call.song(), call.core().id);
    return take ? 60'000 / (*take)
                               ->score()
                               .tempo.tempoAt((*take)->score().blocks.front().start)
                               .quarter()
                               .count()
                : 120;
  }();
  const Measurer measurer(call.core(), walk.voice);
  std::vector<std::pair<double, std::uint64_t>> kept;
  for (std::uint64_t i = 0; i < walk.count; ++i) {
    if (progress && !progress(static_cast<double>(i) / static_cast<double>(walk.count)))
      return givenUp();
    const Variant v = walk.at(i);
    if (together > 0 && mostTogether(v.groove) > together) continue;
    if (changes > 0 && std::ssize(changesBetween(call.core(), v.groove)) > changes) continue;
    double ceiling = 0;
    if (ceilings) {
      const Result<VariantCeiling> c = ceilingOf(call.song(), v.groove, profile);
      if (!c) return c.error();
      ceiling = only == "comfortable" ? c->comfortable : c->playable;
      if (only != "any" && ceiling < bpm) continue;
    }
    double by = static_cast<double>(i);
    if (order == "easiest") by = -ceiling;
    if (order == "nearest") by = grooveDistance(call.core(), v.groove);
    if (order == "least-syncopated") by = measurer.of(v.groove).syncopation;
    if (places && !keeps) {
      by = firstChange(call.core(), v.groove).toDouble();
      if (order == "last-first") by = -by;
    }
    kept.emplace_back(by, i);
  }
  std::stable_sort(kept.begin(), kept.end(),
                   [](const auto& a, const auto& b) { return a.first < b.first; });
  std::vector<std::uint64_t> list;
  list.reserve(kept.size());
  for (const auto& [by, i] : kept) list.push_back(i);
  return reordered(walk, std::move(list));
}

}  // namespace

std::vector<ToolParameter> inSpan(std::vector<ToolParameter> list) {
  list.push_back(spanFrom());
  list.push_back(spanTo());
  list.push_back(gridParameter());
  list.push_back(
      choiceParameter("keep", "what no variant changes", {"none", "backbeat", "hands", "feet"}));
  list.push_back({"counts",
                  ParameterKind::kText,
                  "",
                  "only on these counts, as a or &, 2 a, numbers; nothing: on all",
                  0,
                  0,
                  {}});
  return list;
}

const std::vector<WalkKind>& walks() {
  static const std::vector<WalkKind> all = [] {
    std::vector<WalkKind> out;
    const auto add = [&](const char* group, std::vector<WalkKind> list) {
      for (WalkKind& kind : list) {
        kind.group = group;
        for (ToolParameter& p : sharedParameters()) kind.parameters.push_back(std::move(p));
        out.push_back(std::move(kind));
      }
    };
    add("Put and take away", placeWalks());
    add("Move", moveWalks());
    add("Loud and soft", loudWalks());
    add("Feet", footWalks());
    add("Hands", handWalks());
    add("On another grid", gridWalks());
    add("Free", freeWalks());
    return out;
  }();
  return all;
}

const WalkKind* findWalk(std::string_view name) {
  const auto& all = walks();
  const auto found =
      std::find_if(all.begin(), all.end(), [&](const WalkKind& k) { return k.name == name; });
  return found == all.end() ? nullptr : &*found;
}

Result<Walk> makeWalk(std::string_view name, const Song& song, const std::string& grooveId,
                      const Arguments& arguments, const Profile& profile,
                      const WalkProgress& progress) {
  const WalkKind* kind = findWalk(name);
  if (kind == nullptr) {
    return Error{ErrorCode::kUnknown,
                 fmt::format("there is no walk \"{}\"; ustick vary --list names them", name),
                 {}};
  }
  const Groove* groove = song.findGroove(grooveId);
  if (groove == nullptr)
    return Error{ErrorCode::kUnknown, fmt::format("there is no groove \"{}\"", grooveId), {}};
  WalkCall call(*kind, song, *groove, arguments);
  if (call.failed()) return call.error();
  Walk walk = kind->begin(call);
  if (call.failed()) return call.error();
  walk.kind = kind->name;
  walk.core = SharedValue<Groove>(*groove);
  for (std::string& note : call.notes()) walk.notes.push_back(std::move(note));
  Result<Walk> out = inOrder(std::move(walk), call, profile, progress);
  if (!out) return out;
  if (const auto first = static_cast<std::uint64_t>(call.whole("first")); first > 0)
    out->count = std::min(out->count, first);
  return out;
}

// --- What walks share ---

std::vector<Beat> WalkCall::spanSlots() const {
  const Beat from = this->from(), to = this->to(), bar = core().meter.barLength();
  const auto grid = Grid::parse(text("grid"));
  std::vector<Beat> out;
  if (!grid) {
    out = slotsOf(core(), from, to);
    std::erase_if(out, [&](Beat at) { return !onCounts(at); });
    return out;
  }
  for (std::int64_t k = from.floorDiv(bar); Beat(k) * bar < to; ++k) {
    for (Beat at; at < bar; at += grid->step()) {
      const Beat here = Beat(k) * bar + at;
      if (here >= from && here < to && onCounts(here)) out.push_back(here);
    }
  }
  return out;
}

Beat WalkCall::step() const {
  const auto grid = Grid::parse(text("grid"));
  return grid ? grid->step() : core().grid.step();
}

bool WalkCall::isBackbeat(const Hit& hit) const {
  if (hit.piece != piece::kSnare || hit.role != Role::kAccent) return false;
  const Beat bar = core().meter.barLength();
  const Beat inBar = hit.at - Beat(hit.at.floorDiv(bar)) * bar;
  const Beat count = core().meter.countUnit();
  return inBar > Beat(0) && Beat(inBar.floorDiv(count)) * count == inBar;
}

void WalkCall::fix() {
  const auto& parameters = values();
  if (const auto asked = parameters.find("counts"); asked != parameters.end()) {
    std::string word;
    for (const char c : asked->second + ",") {
      if (c != ',') {
        word += c;
        continue;
      }
      const std::size_t from = word.find_first_not_of(' '), to = word.find_last_not_of(' ');
      if (from != std::string::npos) counts_.push_back(word.substr(from, to - from + 1));
      word.clear();
    }
  }
  const auto keep = parameters.find("keep");
  if (keep == parameters.end() || keep->second == "none") return;
  for (const Hit& hit : core().hits) {
    const Limb limb = limbOf(hit);
    const bool foot = isFoot(limb);
    const bool stays = keep->second == "backbeat" ? isBackbeat(hit)
                       : keep->second == "hands"  ? !foot
                                                  : foot;
    if (stays) kept_.insert({hit.at, hit.piece});
  }
}

std::vector<Hit> WalkCall::free() const {
  std::vector<Hit> out;
  for (const Hit& hit : core().hits) {
    if (concerns(hit) && !kept_.contains({hit.at, hit.piece}) && onCounts(hit.at))
      out.push_back(hit);
  }
  return out;
}

std::string WalkCall::place(Beat at) const {
  return placeName(at, core().meter);
}

bool WalkCall::onCounts(Beat at) const {
  if (counts_.empty()) return true;
  const Beat bar = core().meter.barLength();
  const CountName name = countName(at - Beat(at.floorDiv(bar)) * bar, core().meter);
  return std::any_of(counts_.begin(), counts_.end(), [&](const std::string& wanted) {
    if (wanted == "numbers") return name.partial.empty();
    return wanted == name.text() || (!name.partial.empty() && wanted == name.partial);
  });
}

bool WalkCall::tooMany(std::size_t entries, std::size_t each) {
  if (entries <= kListMost && entries * std::max<std::size_t>(1, each) <= kListHitsMost)
    return false;
  fail(
      ErrorCode::kLimit,
      fmt::format("{} variants would be too many: take a shorter span, a coarser grid or one piece",
                  entries));
  return true;
}

std::string joinedWords(const std::vector<std::string>& words) {
  std::string out;
  for (std::size_t i = 0; i < words.size(); ++i) {
    if (i > 0) out += i + 1 == words.size() ? " and " : ", ";
    out += words[i];
  }
  return out;
}

std::string WalkCall::places(const std::vector<Beat>& all) const {
  std::vector<std::string> words;
  words.reserve(all.size());
  for (const Beat at : all) words.push_back(place(at));
  return joinedWords(words);
}

std::string WalkCall::pieceName(PieceId piece) const {
  std::string out = kit()[piece].name;
  if (!out.empty()) out[0] = static_cast<char>(std::tolower(static_cast<unsigned char>(out[0])));
  return out;
}

Hit WalkCall::fresh(PieceId piece, Beat at) const {
  return fresh(piece, at, Role::kNormal);
}

Hit WalkCall::fresh(PieceId piece, Beat at, Role role) const {
  std::vector<int> like;
  for (const Hit& hit : core().hits) {
    if (hit.piece == piece && hit.role == role) like.push_back(hit.velocity.value());
  }
  Hit out;
  out.at = at;
  out.piece = piece;
  out.role = role;
  constexpr int kNormal = 92, kAccent = 112, kGhost = 30;
  const int usual = role == Role::kAccent ? kAccent : role == Role::kGhost ? kGhost : kNormal;
  out.velocity = Velocity(like.empty() ? usual : static_cast<int>(medianOf(like)));
  return out;
}

std::string lengthName(Beat length) {
  struct Known {
    Beat length;
    const char *one, *many;
  };
  static const Known kKnown[] = {
      {Beat(1), "quarter", "quarters"},        {Beat(1, 2), "eighth", "eighths"},
      {Beat(1, 4), "sixteenth", "sixteenths"}, {Beat(1, 8), "thirty-second", "thirty-seconds"},
      {Beat(1, 3), "triplet", "triplets"},     {Beat(1, 6), "sextuplet", "sextuplets"}};
  for (const Known& k : kKnown) {
    const Beat times = length / k.length;
    if (times.den() != 1) continue;
    return times == Beat(1) ? fmt::format("one {}", k.one)
                            : fmt::format("{} {}", times.num(), k.many);
  }
  return fmt::format("{} quarters", length.toString());
}

void WalkList::add(std::string name, Changes changes) {
  changes = effective(call_.core(), std::move(changes));
  for (const auto& [ref, hit] : changes) {
    if (call_.kept().contains(ref)) return;
    if (ref.at < Beat(0) || ref.at >= call_.core().length()) return;
  }
  if (changes.empty() && !core_) return;
  std::string key = keyOf(call_.core(), changes, call_.kit());
  if (keys_.insert(key).second)
    all_.push_back({std::move(name), std::move(key), std::move(changes)});
}

void WalkList::addInstead(std::string name, const Hit& before, std::optional<Hit> after) {
  Changes changes;
  changes[{before.at, before.piece}] = std::nullopt;
  if (after) changes[{after->at, after->piece}] = *after;
  add(std::move(name), std::move(changes));
}

Walk WalkList::walk(PieceId voice) && {
  Walk out;
  out.voice = voice;
  out.count = all_.size();
  out.at = [core = SharedValue<Groove>(call_.core()),
            all = std::make_shared<const std::vector<Entry>>(std::move(all_))](std::uint64_t i) {
    const Entry& e = (*all)[i];
    return Variant{e.name, e.key, withChanges(*core, e.changes)};
  };
  return out;
}

}  // namespace uneven
