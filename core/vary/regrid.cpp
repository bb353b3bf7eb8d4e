// SPDX-License-Identifier: GPL-3.0-or-later
// Other grids, and cells.
#include "core/vary/regrid.h"

#include <fmt/format.h>

#include <algorithm>
#include <numeric>
#include <sstream>

#include "core/base/number.h"
#include "core/tools/groups.h"
#include "core/vary/walk_call.h"

namespace uneven {

Beat commonMultiple(Beat a, Beat b) {
  // Over one denominator, of whole numbers.
  const std::int64_t den = std::lcm(a.den(), b.den());
  return {std::lcm(a.num() * (den / a.den()), b.num() * (den / b.den())), den};
}

Figure replayed(const Groove& groove, Beat from, Beat to) {
  const Beat times = to / from;
  Figure out;
  out.length = groove.length() * times;
  out.hits.reserve(groove.hits.size());
  for (Hit hit : groove.hits) {
    hit.at = hit.at * times;
    hit.openFor = hit.openFor * times;
    hit.ornamentFor = hit.ornamentFor * times;
    out.hits.push_back(std::move(hit));
  }
  return out;
}

Relaid relaidAs(Beat lasts, Beat bar, Beat times) {
  Relaid out;
  out.quarters = lasts;
  out.times = times;
  const Beat whole = commonMultiple(lasts, bar);
  out.meetsAfterBars = (whole / bar).num();
  out.rounds = (whole / lasts).num();
  return out;
}

namespace {

constexpr std::int64_t kLaidMost = 20'000;  // strokes

void putFigure(std::vector<Hit>& out, const Figure& figure, Beat start, Beat from, Beat to) {
  for (const Hit& hit : figure.hits) {
    const Beat at = start + hit.at;
    if (at < from || at >= to) continue;
    out.push_back(hit);
    out.back().at = at;
  }
}

bool isAccentedSnare(const Hit& hit) {
  return hit.piece == piece::kSnare && hit.role == Role::kAccent;
}

}  // namespace

Groove laid(const Groove& core, const Figure& figure, Grid grid, Lay lay, int bars, Beat beats) {
  Groove out = core.withoutHits();
  const Beat bar = core.meter.barLength();
  const bool fill = lay == Lay::kFill || lay == Lay::kFillBackbeat;
  if (fill) {
    const Beat end = core.length();
    const Beat from = std::max(Beat(0), end - beats);
    for (const Hit& hit : core.hits) {
      if (hit.at < from) out.hits.push_back(hit);
    }
    if (out.pedal)
      std::erase_if(out.pedal->moves, [&](const PedalMove& m) { return m.at >= from; });
    // Where a round of the figure begins: its end on the next 1, or a backbeat on the core's.
    Beat start = end;
    if (lay == Lay::kFillBackbeat) {
      const auto mine = std::find_if(core.hits.rbegin(), core.hits.rend(), isAccentedSnare);
      const auto theirs = std::find_if(figure.hits.begin(), figure.hits.end(), isAccentedSnare);
      if (mine != core.hits.rend() && theirs != figure.hits.end() && mine->at >= from)
        start = mine->at - theirs->at;
    }
    while (start > from) start -= figure.length;
    for (; start < end; start += figure.length) putFigure(out.hits, figure, start, from, end);
  } else {
    if (lay == Lay::kStretch) {
      out.meter = meterOfLength(figure.length / Beat(core.bars)).value_or(core.meter);
      bars = core.bars;
    }
    if (lay == Lay::kCycle)
      bars = static_cast<int>(
          std::min<std::int64_t>(kBarsMax, relaidAs(figure.length, bar, Beat(1)).meetsAfterBars));
    out.bars = std::clamp(bars, 1, kBarsMax);
    out.grid = grid;
    out.beatGrids.clear();
    if (out.pedal) out.pedal->moves.clear();
    const Beat end = out.length();
    for (Beat start; start < end && std::ssize(out.hits) < kLaidMost; start += figure.length)
      putFigure(out.hits, figure, start, Beat(0), end);
  }
  std::stable_sort(out.hits.begin(), out.hits.end(), writtenBefore);
  keepLoudest(out.hits);
  return out;
}

std::optional<Meter> meterOfLength(Beat length) {
  constexpr std::int64_t kBeatsMost = 64;
  for (const int d : {4, 8, 16, 32}) {
    const Beat n = length * Beat(d, 4);
    if (n.den() == 1 && n.num() >= 1 && n.num() <= kBeatsMost)
      return Meter{static_cast<int>(n.num()), d};
  }
  return std::nullopt;
}

std::optional<Cell> readCell(const std::string& text, Beat slot) {
  constexpr std::int64_t kMost = 256;
  Cell out;
  if (text.find('/') != std::string::npos) {
    const auto share = Beat::parse(text);
    if (!share || *share <= Beat(0) || *share > Beat(kMost) || share->den() > 64)
      return std::nullopt;
    out.length = *share * Beat(4);
    out.starts = {Beat(0)};
    return out;
  }
  std::istringstream words(text);
  std::string word;
  std::int64_t sum = 0;
  while (words >> word) {
    const auto number = wholeNumber(word);
    if (!number || *number < 1 || *number > kMost) return std::nullopt;
    out.starts.push_back(Beat(sum) * slot);
    sum += *number;
    if (sum > kMost) return std::nullopt;
  }
  if (sum == 0) return std::nullopt;
  out.length = Beat(sum) * slot;
  return out;
}

// --- As walks ---

namespace {

Walk regridWalk(WalkCall& call) {
  const auto from = Grid::parse(call.text("from_grid")), to = Grid::parse(call.text("to_grid"));
  if (!from || !to) {
    call.fail(ErrorCode::kUnknown, "from_grid, to_grid: 1/8T, 1/16 and the like are");
    return {};
  }
  const Beat a = from->step(), b = to->step(), bar = call.core().meter.barLength();
  const Figure figure = replayed(call.core(), a, b);
  for (const Hit& hit : figure.hits) {
    if (hit.at.den() <= kDenominatorMax && hit.at.valid()) continue;
    call.fail(ErrorCode::kLimit, fmt::format("a stroke would fall on {}, finer than can be written",
                                             hit.at.toString()));
    return {};
  }
  Walk out;
  out.voice = piece::kSnare;
  Relaid told = relaidAs(figure.length, bar, a / b);
  told.cycle = fmt::format("{} over {}", told.times.num(), told.times.den());
  if (told.meetsAfterBars > kBarsMax)
    call.note(fmt::format("it meets the bar after {} bars; {} are written", told.meetsAfterBars,
                          kBarsMax));
  out.relaid = told;
  struct Way {
    Lay lay;
    std::string name;
  };
  const std::string what = fmt::format("{} as {}", from->toString(), to->toString());
  const int bars = call.text("bars") == "core" ? call.core().bars : call.whole("bars");
  const Beat beats = call.length("beats");
  std::vector<Way> ways;
  const std::string& lay = call.text("lay");
  if (lay == "cycle" || lay == "all") ways.push_back({Lay::kCycle, what + ", the whole cycle"});
  if (lay == "bars" || lay == "all")
    ways.push_back({Lay::kBars, fmt::format("{}, {} bar{}", what, bars, bars == 1 ? "" : "s")});
  if (lay == "fill" || lay == "all") {
    ways.push_back({Lay::kFill, what + ", as a fill that lands on 1"});
    ways.push_back({Lay::kFillBackbeat, what + ", as a fill whose backbeat lands"});
  }
  const auto meter = meterOfLength(figure.length / Beat(call.core().bars));
  if (lay == "stretch" || (lay == "all" && meter)) {
    if (!meter) {
      call.fail(ErrorCode::kLimit,
                fmt::format("a bar would last {} quarters, which no meter has: lay it over bars",
                            (figure.length / Beat(call.core().bars)).toString()));
      return {};
    }
    ways.push_back({Lay::kStretch, fmt::format("{}, the bar is {}", what, meter->toString())});
  }
  const bool pulse = call.flag("pulse");
  std::vector<Variant> all;
  for (const Way& way : ways) {
    Variant v;
    v.name = way.name;
    v.groove = laid(call.core(), figure, *to, way.lay, bars, beats);
    if (pulse) {
      const Beat count = call.core().meter.countUnit();
      for (Beat at; at < v.groove.length(); at += count) {
        if (!indexOf(v.groove, {at, piece::kHatFoot}))
          v.groove = withHit(std::move(v.groove), call.fresh(piece::kHatFoot, at));
      }
    }
    v.key = fmt::format("{}: {}", v.name,
                        keyOf(call.core(), changesBetween(call.core(), v.groove), call.kit()));
    const bool there =
        std::any_of(all.begin(), all.end(), [&](const Variant& o) { return o.groove == v.groove; });
    if (!there) all.push_back(std::move(v));
  }
  out.count = all.size();
  out.at = [all](std::uint64_t i) { return all[i]; };
  return out;
}

Walk againstWalk(WalkCall& call) {
  const PieceId piece = *call.piece("piece");
  const Beat bar = call.core().meter.barLength();
  const auto cell = readCell(call.text("cell"), call.step());
  if (!cell) {
    call.fail(ErrorCode::kSyntax,
              "cell: a length as 3/8, or groups of slots as 3 3 2, up to 256 slots");
    return {};
  }
  Relaid told = relaidAs(cell->length, bar, Beat(1));
  // So many of it over so many quarters.
  const Beat whole = commonMultiple(cell->length, Beat(1));
  told.cycle = fmt::format("{} over {}", (whole / cell->length).num(), whole.num());
  const int bars = static_cast<int>(std::min<std::int64_t>(told.meetsAfterBars, kBarsMax));
  if (told.meetsAfterBars > kBarsMax)
    call.note(fmt::format("it meets the bar after {} bars; {} are written", told.meetsAfterBars,
                          kBarsMax));
  // What it strikes: the piece's own first strokes, or every slot, or the starts alone.
  Figure figure;
  figure.length = cell->length;
  const std::string& strokes = call.text("strokes");
  if (strokes == "core") {
    for (const Hit& hit : call.core().hits) {
      if (hit.piece == piece && hit.at < cell->length) figure.hits.push_back(hit);
    }
  }
  if (figure.hits.empty() && strokes != "starts") {
    for (Beat at; at < cell->length; at += call.step())
      figure.hits.push_back(call.fresh(piece, at));
  }
  for (const Beat at : cell->starts) {
    const auto here = std::find_if(figure.hits.begin(), figure.hits.end(),
                                   [&](const Hit& hit) { return hit.at == at; });
    if (here == figure.hits.end()) figure.hits.push_back(call.fresh(piece, at));
  }
  std::sort(figure.hits.begin(), figure.hits.end(), writtenBefore);
  const std::string& mark = call.text("mark");
  for (Hit& hit : figure.hits) {
    const bool start =
        std::find(cell->starts.begin(), cell->starts.end(), hit.at) != cell->starts.end();
    if (mark == "accent") {
      const Role role = start ? Role::kAccent : Role::kNormal;
      hit.velocity = call.fresh(piece, hit.at, role).velocity;
      hit.role = role;
    }
    if (mark == "open" && piece == piece::kHat) hit.open = start ? call.real("open") : 0;
  }
  Variant v;
  v.name = fmt::format("{} of {} against {}", call.text("cell"), call.pieceName(piece),
                       call.core().meter.toString());
  v.groove = withMeter(call.core().withoutHits(), call.core().meter, std::max(bars, 1));
  const Beat length = v.groove.length();
  for (Beat start; start < length; start += call.core().length()) {
    for (const Hit& hit : call.core().hits) {
      if (hit.piece == piece || start + hit.at >= length) continue;
      v.groove.hits.push_back(hit);
      v.groove.hits.back().at = start + hit.at;
    }
  }
  std::vector<Beat> meets;
  for (Beat start; start < length && std::ssize(v.groove.hits) < kLaidMost; start += cell->length)
    putFigure(v.groove.hits, figure, start, Beat(0), length);
  std::stable_sort(v.groove.hits.begin(), v.groove.hits.end(), writtenBefore);
  keepLoudest(v.groove.hits);
  for (const Hit& hit : v.groove.hits) {
    if (!call.isBackbeat(hit)) continue;
    const Beat inCell = hit.at - Beat(hit.at.floorDiv(cell->length)) * cell->length;
    if (inCell == Beat(0)) meets.push_back(hit.at);
  }
  call.note(meets.empty() ? std::string("no backbeat falls on the cell's start")
                          : "the cell begins anew on the backbeats on " + call.places(meets));
  v.key = fmt::format("against: {}",
                      keyOf(call.core(), changesBetween(call.core(), v.groove), call.kit()));
  Walk out;
  out.voice = piece;
  out.relaid = told;
  out.count = 1;
  out.at = [v](std::uint64_t) { return v; };
  return out;
}

}  // namespace

std::vector<WalkKind> gridWalks() {
  std::vector<WalkKind> out(2);
  out[0] = {
      {"regrid",
       "Laid on another grid",
       "The strokes replayed at another subdivision; the pulse stays, the tempo seems another",
       {textParameter("from_grid", "1/8T", "the grid that it is written on, as 1/8T"),
        textParameter("to_grid", "1/16", "the grid that it is replayed on, as 1/16"),
        choiceParameter("lay", "the whole cycle, so many bars, as a fill, or each of them",
                        {"cycle", "bars", "fill", "stretch", "all"}),
        {"bars",
         ParameterKind::kWhole,
         "core",
         "of lay=bars; core: as the groove",
         1,
         kBarsMax,
         {}},
        lengthParameter("beats", "4", "of a fill, quarter notes", 0.25, 256),
        flagParameter("pulse", "no", "the foot keeps the pulse on the hats")},
       {}},
      regridWalk};
  out[1] = {
      {"against",
       "Against the bar",
       "A cell of any length kept up by a voice over the meter, until it meets the bar again",
       inSpan({textParameter("cell", "3/8", "its length as 3/8, or groups of slots as 3 3 2"),
               pieceParameter("piece", "hat", "the voice"),
               choiceParameter("strokes", "its own first strokes, every slot, the starts alone",
                               {"core", "all", "starts"}),
               choiceParameter("mark", "how its restart is marked", {"accent", "open", "none"}),
               realParameter("open", "0.6", "how far with mark=open", 0.01, 1)}),
       {}},
      againstWalk};
  return out;
}

}  // namespace uneven
