// SPDX-License-Identifier: GPL-3.0-or-later
// Drum tab text.
#include "core/io/drum_tab.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <optional>

#include "core/song/positions.h"

namespace uneven {
namespace {

constexpr std::string_view kSigns = "-xXoOgfdb";

struct LaneName {
  std::string_view text;
  PieceId piece;
};
// The first name of a piece is the one that is written.
constexpr LaneName kLaneNames[] = {
    {"HH", piece::kHat},      {"H", piece::kHat},      {"HF", piece::kHatFoot},
    {"R", piece::kRide},      {"RD", piece::kRide},    {"C", piece::kCrash},
    {"CC", piece::kCrash},    {"S", piece::kSnare},    {"SN", piece::kSnare},
    {"SD", piece::kSnare},    {"T1", piece::kTomHigh}, {"HT", piece::kTomHigh},
    {"T2", piece::kTomMid},   {"MT", piece::kTomMid},  {"T3", piece::kTomFloor},
    {"FT", piece::kTomFloor}, {"B", piece::kKick},     {"BD", piece::kKick},
    {"K", piece::kKick}};

constexpr Velocity kTabAccent{112}, kTabNormal{84}, kTabGhost{30};
constexpr double kTabOpen = 0.6;

std::optional<PieceId> laneOf(const std::string& name, const Kit& kit, const LaneNames& further) {
  if (const auto found = further.find(name); found != further.end()) return found->second;
  for (const LaneName& lane : kLaneNames) {
    if (lane.text == name) return lane.piece;
  }
  return kit.find(name);
}

std::string nameOf(PieceId piece, const Kit& kit) {
  for (const LaneName& lane : kLaneNames) {
    if (lane.piece == piece) return std::string(lane.text);
  }
  return kit[piece].id;
}

void readSign(char sign, Hit& hit) {
  const bool hats = hit.piece == piece::kHat;
  hit.velocity = kTabNormal;
  switch (sign) {
    case 'X':
      hit.role = Role::kAccent;
      break;
    case 'O':
      hit.role = Role::kAccent;
      hit.open = hats ? 1 : 0;
      break;
    case 'o':
      hit.open = hats ? kTabOpen : 0;
      break;
    case 'g':
      hit.role = Role::kGhost;
      break;
    case 'f':
      hit.ornament = Ornament::kFlam;
      break;
    case 'd':
      hit.ornament = Ornament::kDrag;
      break;
    case 'b':
      hit.ornament = Ornament::kBuzz;
      break;
    default:
      break;
  }
  if (hit.role == Role::kAccent) hit.velocity = kTabAccent;
  if (hit.role == Role::kGhost) hit.velocity = kTabGhost;
}

char signOf(const Hit& hit) {
  if (hit.ornament == Ornament::kFlam) return 'f';
  if (hit.ornament == Ornament::kDrag || hit.ornament == Ornament::kRuff) return 'd';
  if (hit.ornament == Ornament::kBuzz || hit.ornament == Ornament::kRoll) return 'b';
  const bool open = hit.piece == piece::kHat && hit.open > 0;
  if (hit.role == Role::kGhost || hit.role == Role::kGrace) return 'g';
  if (hit.role == Role::kAccent) return open ? 'O' : 'X';
  return open ? 'o' : 'x';
}

// What stands before the first | of a line, without blanks.
std::string laneName(std::string_view line) {
  std::string name(line.substr(0, line.find('|')));
  std::erase_if(name, [](char c) { return c == ' ' || c == '\t'; });
  return name;
}

struct TabForm {
  Meter meter;
  Grid grid;
  bool operator==(const TabForm&) const = default;
};

// What so many characters to a bar mean where nothing says it: common lengths of a 4/4 bar first,
// then odd meters in eighths or sixteenths.
std::optional<TabForm> guessed(int perBar) {
  struct Guess {
    int perBar;
    TabForm form;
  };
  static constexpr Guess kGuesses[] = {
      {8, {{4, 4}, {8, 0}}},   {16, {{4, 4}, {16, 0}}}, {32, {{4, 4}, {32, 0}}},
      {12, {{4, 4}, {8, 3}}},  {24, {{4, 4}, {16, 3}}}, {6, {{3, 4}, {8, 0}}},
      {14, {{7, 8}, {16, 0}}}, {7, {{7, 8}, {8, 0}}},   {10, {{5, 8}, {16, 0}}},
      {20, {{5, 4}, {16, 0}}}, {18, {{9, 8}, {16, 0}}}};
  for (const Guess& guess : kGuesses) {
    if (guess.perBar == perBar) return guess.form;
  }
  return std::nullopt;
}

// How many slots of the grid a bar has; 0 where it is no whole number of them.
int slotsInBar(const TabForm& form) {
  const Beat bar = form.meter.barLength();
  const std::int64_t slots = bar.floorDiv(form.grid.step());
  return Beat(slots) * form.grid.step() == bar ? static_cast<int>(slots) : 0;
}

// "5/4 in 1/8"
constexpr std::string_view kIn = " in ";
std::optional<TabForm> formOf(std::string_view line) {
  while (line.ends_with(' ')) line.remove_suffix(1);
  const std::size_t in = line.find(kIn);
  if (in == std::string_view::npos) return std::nullopt;
  const auto meter = Meter::parse(line.substr(0, in));
  const auto grid = Grid::parse(line.substr(in + kIn.size()));
  if (!meter || !grid || slotsInBar({*meter, *grid}) == 0) return std::nullopt;
  return TabForm{*meter, *grid};
}

class TabReader {
 public:
  TabReader(std::string_view text, const Kit& kit, const std::string& file, const LaneNames& names)
      : text_(text), kit_(kit), file_(file), names_(names) {}

  Result<TabReading> read() {
    std::size_t start = 0;
    while (start <= text_.size() && !error_) {
      std::size_t end = text_.find('\n', start);
      if (end == std::string_view::npos) end = text_.size();
      std::string_view line = text_.substr(start, end - start);
      if (line.ends_with('\r')) line.remove_suffix(1);
      ++line_;
      readLine(line);
      start = end + 1;
    }
    endSystem();
    if (!error_ && slots_ == 0) fail(1, "no lanes found: write them as HH|x-x-x-x-|");
    if (error_) return *error_;
    return finish();
  }

 private:
  struct Sign {
    PieceId piece;
    int slot;
    char sign;
  };

  void fail(std::size_t column, std::string message, ErrorCode code = ErrorCode::kSyntax) {
    if (error_) return;
    error_ = Error{code, std::move(message), {file_, line_, static_cast<int>(column), {}}};
  }

  void readLine(std::string_view line) {
    const std::size_t bar = line.find('|');
    if (bar == std::string_view::npos) {
      if (line.find_first_not_of(" \t") == std::string_view::npos) return endSystem();
      const auto form = formOf(line);
      if (!form || form_ || slots_ + systemSlots_ > 0) {
        return fail(1,
                    "a line without |: write lanes as HH|x-x-|, and above them meter and grid, as "
                    "5/4 in 1/8");
      }
      form_ = form;
      perBar_ = slotsInBar(*form);
      return;
    }
    const std::string name = laneName(line);
    const auto piece = laneOf(name, kit_, names_);
    if (!piece) {
      return fail(1,
                  fmt::format("there is no lane \"{}\"; HH S B R C T1 T2 T3 HF and the ids of "
                              "pieces are",
                              name),
                  ErrorCode::kUnknown);
    }
    int slot = 0;
    int inBar = 0;
    for (std::size_t i = bar + 1; i < line.size() && !error_; ++i) {
      const char c = line[i];
      if (c == '|') {
        closeBar(i + 1, inBar);
        inBar = 0;
      } else if (kSigns.find(c) == std::string_view::npos) {
        if (c == ' ') continue;
        fail(i + 1, fmt::format("\"{}\" is no sign; - x X o O g f d b are", c),
             ErrorCode::kUnknown);
      } else {
        if (c != '-') signs_.push_back({*piece, slots_ + slot, c});
        ++slot;
        ++inBar;
      }
    }
    closeBar(line.size() + 1, inBar);
    if (systemSlots_ == 0) systemSlots_ = slot;
    if (!error_ && slot != systemSlots_) {
      fail(line.size(),
           fmt::format("this lane has {} characters, the one above {}", slot, systemSlots_));
    }
  }
  void closeBar(std::size_t column, int inBar) {
    if (inBar == 0) return;
    if (perBar_ == 0) perBar_ = inBar;
    if (inBar != perBar_) {
      fail(column, fmt::format("this bar has {} characters, others have {}", inBar, perBar_));
    }
  }
  void endSystem() {
    slots_ += systemSlots_;
    systemSlots_ = 0;
  }

  Result<TabReading> finish() {
    const std::optional<TabForm> form = form_ ? form_ : guessed(perBar_);
    if (!form) {
      line_ = 1;
      fail(1, fmt::format("bars of {} characters: 6 7 8 10 12 14 16 18 20 24 and 32 are understood "
                          "as they are; for others write meter and grid above, as 5/4 in 1/8",
                          perBar_));
      return *error_;
    }
    const int bars = slots_ / perBar_;
    if (bars > kBarsMax) {
      fail(1, fmt::format("{} bars; a groove holds at most {}", bars, kBarsMax), ErrorCode::kLimit);
      return *error_;
    }
    TabReading out;
    out.groove.id = "tab";
    out.groove.name = "Tab";
    out.groove.meter = form->meter;
    out.groove.grid = form->grid;
    out.groove.bars = bars;
    for (const Sign& sign : signs_) {
      Hit hit;
      const Beat bar = Beat(sign.slot / perBar_) * form->meter.barLength();
      hit.at = bar + Beat(sign.slot % perBar_) * form->grid.step();
      hit.piece = sign.piece;
      readSign(sign.sign, hit);
      if (hit.open > 0) hit.openFor = form->grid.step();
      out.groove.hits.push_back(std::move(hit));
    }
    std::stable_sort(out.groove.hits.begin(), out.groove.hits.end(), writtenBefore);
    out.notes.push_back(form_
                            ? fmt::format("{} in {}, as its first line says", form->grid.toString(),
                                          form->meter.toString())
                            : fmt::format("guessed {} in {} from {} characters to a bar",
                                          form->grid.toString(), form->meter.toString(), perBar_));
    if (const int gone = keepLoudest(out.groove.hits); gone > 0) {
      out.notes.push_back(leftOutNote(gone));
    }
    return out;
  }

  std::string_view text_;
  const Kit& kit_;
  std::string file_;
  const LaneNames& names_;
  int line_ = 0;
  int slots_ = 0;
  int systemSlots_ = 0;
  int perBar_ = 0;
  std::optional<TabForm> form_;  // where a line says it
  std::vector<Sign> signs_;
  std::optional<Error> error_;
};

// The coarsest grid that loses the fewest hits.
Grid gridFor(const Groove& groove) {
  static constexpr Grid kGrids[] = {{8, 0},  {8, 3},  {16, 0}, {16, 3}, {32, 0}, {8, 5},
                                    {16, 5}, {32, 5}, {8, 7},  {16, 7}, {32, 7}, {32, 3}};
  Grid best = groove.grid;
  std::size_t fewest = groove.hits.size() + 1;
  for (const Grid& grid : kGrids) {
    if (slotsInBar({groove.meter, grid}) == 0) continue;
    const auto lost = static_cast<std::size_t>(
        std::count_if(groove.hits.begin(), groove.hits.end(), [&](const Hit& hit) {
          return Beat(hit.at.floorDiv(grid.step())) * grid.step() != hit.at;
        }));
    if (lost < fewest) {
      fewest = lost;
      best = grid;
    }
  }
  return best;
}

}  // namespace

std::vector<std::string> unknownLanes(std::string_view text, const Kit& kit,
                                      const LaneNames& names) {
  std::vector<std::string> out;
  while (!text.empty()) {
    const std::string_view line = text.substr(0, text.find('\n'));
    text.remove_prefix(std::min(text.size(), line.size() + 1));
    if (line.find('|') == std::string_view::npos) continue;
    const std::string name = laneName(line);
    if (laneOf(name, kit, names) || std::find(out.begin(), out.end(), name) != out.end()) continue;
    out.push_back(name);
  }
  return out;
}

Result<TabReading> readDrumTab(std::string_view text, const Kit& kit, const std::string& file,
                               const LaneNames& names) {
  return TabReader(text, kit, file, names).read();
}

TabWriting writeDrumTab(const Groove& groove, const Kit& kit) {
  TabWriting out;
  const Grid grid = gridFor(groove);
  const Beat step = grid.step();
  const auto perBar = static_cast<std::size_t>(groove.meter.barLength().floorDiv(step));
  const std::size_t slots = perBar * static_cast<std::size_t>(groove.bars);
  std::map<PieceId, std::string> lanes;
  int lost = 0;
  for (const Hit& hit : groove.hits) {
    const std::int64_t slot = hit.at.floorDiv(step);
    if (Beat(slot) * step != hit.at || static_cast<std::size_t>(slot) >= slots) {
      ++lost;
      continue;
    }
    auto [lane, fresh] = lanes.try_emplace(hit.piece, std::string(slots, '-'));
    lane->second[static_cast<std::size_t>(slot)] = signOf(hit);
  }
  if (lanes.empty()) lanes.try_emplace(piece::kHat, std::string(slots, '-'));
  const TabForm form{groove.meter, grid};
  if (guessed(static_cast<int>(perBar)) != form) {
    out.text = fmt::format("{}{}{}\n", groove.meter.toString(), kIn, grid.toString());
  }
  std::size_t widest = 0;
  for (const auto& [piece, signs] : lanes) widest = std::max(widest, nameOf(piece, kit).size());
  for (const auto& [piece, signs] : lanes) {
    std::string name = nameOf(piece, kit);
    name.resize(widest, ' ');
    out.text += name + "|";
    for (std::size_t i = 0; i < slots; i += perBar) out.text += signs.substr(i, perBar) + "|";
    out.text += "\n";
  }
  out.notes.push_back(fmt::format("in {} of {}", grid.toString(), groove.meter.toString()));
  if (lost > 0) out.notes.push_back(fmt::format("{} hits off that grid left out", lost));
  return out;
}

}  // namespace uneven
