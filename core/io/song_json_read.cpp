// SPDX-License-Identifier: GPL-3.0-or-later
// Reading song files. JsonTree keeps the first failure, so the functions here read on with
// defaults and readSong asks once at the end.
#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <set>

#include "core/base/number.h"
#include "core/io/json_tree.h"
#include "core/io/kit_reader.h"
#include "core/io/song_json.h"
#include "core/perform/score.h"
#include "core/song/names.h"
#include "core/song/positions.h"
#include "core/song/slots.h"

namespace uneven {
namespace {

class SongReader : private KitReader {
 public:
  explicit SongReader(JsonTree& tree, ReadWatch* watch = nullptr)
      : KitReader(tree), watch_(watch) {}

  Song read() {
    JsonObject root(tree_, JsonTree::kRoot);
    checkHead(root, "song");
    song_.title = root.text("title", "");
    readTempo(root);
    if (const auto kit = root.take("kit")) readKit(*kit);
    if (const auto aim = root.take("separation_db")) readAim(*aim);
    song_.map = root.text("map", song_.map);
    if (const auto mixer = root.take("mixer")) readMixer(*mixer);
    if (const auto check = root.take("check")) readCheck(*check);
    if (const auto audio = root.take("audio")) readAudio(*audio);
    for (const Id id : root.array("feels")) {
      if (tree_.failed()) break;
      song_.feels.push_back(readFeel(id));
      checkNewId(id, "feel", song_.feels.back().id, feelIds_);
    }
    for (const Id id : root.array("grooves")) {
      if (tree_.failed()) break;
      Groove groove = readGroove(id);
      if (!groove.core.empty()) cores_.emplace_back(groove.core, coreId_);
      song_.grooves.emplace_back(std::move(groove));
      checkNewId(id, "groove", song_.grooves.back()->id, grooveIds_);
    }
    for (const auto& [core, id] : cores_) {
      if (!grooveIds_.contains(core)) unknown(id, "groove", core);
    }
    for (const Id id : root.array("arrangement")) {
      if (tree_.failed()) break;
      song_.arrangement.push_back(readSection(id));
    }
    song_.extras = root.extras();
    checkLength(root);
    return std::move(song_);
  }

  // A feel alone, for a kit that is known.
  Feel readFeelFile(const Kit& kit) {
    JsonObject root(tree_, JsonTree::kRoot);
    checkHead(root, "feel");
    song_.kit = SharedValue<Kit>(kit);
    const auto feel = root.need("feel");
    return feel && !tree_.failed() ? readFeel(*feel) : Feel{};
  }

 private:
  void checkHead(JsonObject& root, std::string_view what) {
    if (tree_.failed()) return;
    const auto format = root.need("format");
    if (format && jsonText(tree_, *format) != fmt::format("uneven-stick-{}", what)) {
      tree_.fail(ErrorCode::kSyntax, *format,
                 fmt::format("this is not a {0}: \"uneven-stick-{0}\" must stand here", what));
    }
    const auto version = root.need("version");
    if (!version) return;
    const std::int64_t number = jsonWhole(tree_, *version, 1, 1'000'000'000);
    if (number > kSongVersion) {
      tree_.fail(ErrorCode::kVersion, *version,
                 fmt::format("written by a newer program (version {} of the song format, this one "
                             "reads up to {}); update Uneven Stick to open it",
                             number, kSongVersion));
    }
  }

  void readTempo(JsonObject& root) {
    const auto list = root.need("tempo");
    if (!list) return;
    song_.tempo.clear();
    Id lastRamp = 0;
    for (const Id id : jsonList(tree_, *list)) {
      if (tree_.failed()) return;
      JsonObject o(tree_, id);
      TempoMark mark;
      const auto at = o.need("at");
      if (at) mark.at = position(*at, kSongMost);
      const auto bpm = o.need("bpm");
      if (bpm) mark.bpm = Bpm{jsonReal(tree_, *bpm, kBpmMin, kBpmMax)};
      if (const auto ramp = o.take("ramp")) {
        mark.ramp = jsonText(tree_, *ramp) == "linear";
        if (!mark.ramp) tree_.fail(ErrorCode::kSyntax, *ramp, "a ramp is \"linear\"");
        lastRamp = *ramp;
      }
      mark.relation = o.text("relation", "");
      mark.extras = o.extras();
      if (at && song_.tempo.empty() && mark.at != Beat(0)) {
        tree_.fail(ErrorCode::kLimit, *at, "the first tempo must stand at \"0\"");
      }
      if (at && !song_.tempo.empty() && mark.at <= song_.tempo.back().at) {
        tree_.fail(ErrorCode::kLimit, *at, "tempos must stand in ascending order");
      }
      song_.tempo.push_back(mark);
    }
    if (!song_.tempo.empty() && song_.tempo.back().ramp) {
      tree_.fail(ErrorCode::kLimit, lastRamp,
                 "the last tempo cannot ramp: there is none after it to go to");
    }
    if (const std::int64_t steps = song_.rampSteps(); steps > kRampStepsMax) {
      tree_.fail(ErrorCode::kLimit, lastRamp,
                 fmt::format("the tempos ramp over {} sixteenths; at most {} are allowed", steps,
                             kRampStepsMax));
    }
    if (song_.tempo.empty()) {
      tree_.fail(ErrorCode::kLimit, *list, "at least one tempo is needed, the first at \"0\"");
    }
  }

  Feel readFeel(Id id) {
    JsonObject o(tree_, id);
    Feel feel;
    feel.id = o.needText("id");
    feel.name = o.text("name", feel.id);
    if (const auto swing = o.take("swing")) feel.swing = readSwing(*swing);
    if (const auto displacement = o.take("displacement")) {
      JsonObject pieces(tree_, *displacement);
      for (const Id child : objectChildren(*displacement)) {
        feel.displacement[pieceOf(child, tree_.key(child))] = shift(child);
      }
    }
    forWords<Limb>(o, "limb_displacement",
                   [&](Limb limb, Id child) { feel.limbDisplacement[limb] = shift(child); });
    forWords<Role>(o, "limits", [&](Role role, Id child) {
      feel.limits[role] = Milliseconds(jsonReal(tree_, child, 0, kShiftMax.count()));
    });
    if (const auto bpm = o.take("share_of_bpm")) {
      feel.shareOf = Bpm{jsonReal(tree_, *bpm, kBpmMin, kBpmMax)};
    }
    for (const Id slot : o.array("slots")) {
      if (tree_.failed()) break;
      feel.slots.push_back(readSlot(slot));
    }
    if (const auto drift = o.take("drift")) feel.drift = readDrift(*drift);
    feel.note = o.text("note", "");
    feel.extras = o.extras();
    return feel;
  }

  Swing readSwing(Id id) {
    JsonObject o(tree_, id);
    Swing swing;
    swing.unit = choice(o, "unit", swing.unit);
    swing.ratio = o.real("ratio", swing.ratio, kRatioMin, kRatioMax);
    swing.linked = flag(o, "tempo_linked", false);
    swing.written = choice(o, "written", swing.written);
    if (const auto depth = o.take("depth")) {
      JsonObject pieces(tree_, *depth);
      for (const Id child : objectChildren(*depth)) {
        swing.depth[pieceOf(child, tree_.key(child))] = jsonReal(tree_, child, 0, 1);
      }
    }
    forWords<Limb>(o, "limb_depth", [&](Limb limb, Id child) {
      swing.limbDepth[limb] = jsonReal(tree_, child, 0, 1);
    });
    swing.extras = o.extras();
    return swing;
  }

  Slot readSlot(Id id) {
    JsonObject o(tree_, id);
    Slot slot;
    if (const auto at = o.need("at")) slot.at = position(*at, Beat(std::int64_t{4} * 64));
    if (const auto ms = o.take("ms")) slot.shift = shift(*ms);
    slot.velocity = static_cast<int>(o.whole("velocity", 0, -126, 126));
    if (const auto piece = o.take("piece")) slot.piece = pieceOf(*piece, jsonText(tree_, *piece));
    slot.extras = o.extras();
    return slot;
  }

  MeasuredClock readMeasured(Id id) {
    JsonObject o(tree_, id);
    MeasuredClock clock;
    if (const auto list = o.need("clock_ms")) {
      for (const Id one : jsonList(tree_, *list)) {
        if (tree_.failed()) break;
        clock.ms.push_back(jsonReal(tree_, one, -kShiftMax.count(), kShiftMax.count()));
        if (clock.ms.size() > kMeasuredMost)
          tree_.fail(ErrorCode::kLimit, one, fmt::format("more than {} figures", kMeasuredMost));
      }
    }
    clock.unit = grid(o, "unit", clock.unit);
    clock.extras = o.extras();
    return clock;
  }

  Drift readDrift(Id id) {
    JsonObject o(tree_, id);
    Drift drift;
    drift.clock = Milliseconds(o.real("clock_ms", 0, 0, kShiftMax.count()));
    drift.motor = Milliseconds(o.real("motor_ms", 0, 0, kShiftMax.count()));
    drift.velocity = o.real("velocity", 0, 0, Velocity::kMax);
    drift.exponent = o.real("exponent", 1, 0, kExponentMax);
    drift.seed = static_cast<std::uint64_t>(o.whole("seed", 1, 0, INT64_MAX));
    forWords<Limb>(o, "limbs",
                   [&](Limb limb, Id child) { drift.limbs[limb] = jsonReal(tree_, child, 0, 4); });
    if (const auto measured = o.take("measured")) drift.measured = readMeasured(*measured);
    drift.extras = o.extras();
    return drift;
  }

  // "2+2+3"
  std::vector<int> readGrouping(Id id, const Meter& meter) {
    const std::string text = jsonText(tree_, id);
    std::vector<int> out;
    int sum = 0;
    for (std::size_t from = 0; from <= text.size();) {
      const std::size_t plus = std::min(text.find('+', from), text.size());
      int group = 0;
      const auto read = std::from_chars(text.data() + from, text.data() + plus, group);
      if (read.ec != std::errc() || read.ptr != text.data() + plus || group < 1 ||
          group > meter.n) {
        sum = -1;
        break;
      }
      out.push_back(group);
      sum += group;
      from = plus + 1;
    }
    if (sum != meter.n) {
      tree_.fail(ErrorCode::kLimit, id,
                 fmt::format("\"{}\" does not group the {} counts of {}; \"2+2+3\" groups 7", text,
                             meter.n, meter.toString()));
    }
    return out;
  }

  Groove readGroove(Id id) {
    JsonObject o(tree_, id);
    Groove groove;
    groove.id = o.needText("id");
    groove.name = o.text("name", groove.id);
    if (const auto meter = o.take("meter")) {
      const std::string text = jsonText(tree_, *meter);
      const auto parsed = Meter::parse(text);
      if (!parsed) {
        tree_.fail(ErrorCode::kLimit, *meter,
                   fmt::format("\"{}\" is not allowed; 1..64 over 1, 2, 4, 8, 16 or 32 is, as "
                               "\"7/8\"",
                               text));
      }
      groove.meter = parsed.value_or(Meter{});
    }
    if (const auto grouping = o.take("grouping"))
      groove.grouping = readGrouping(*grouping, groove.meter);
    groove.bars = static_cast<int>(o.whole("bars", 1, 1, kBarsMax));
    groove.grid = grid(o, "grid", groove.grid);
    for (const Id own : o.array("beat_grids")) {
      if (tree_.failed()) break;
      readBeatGrid(own, groove);
    }
    if (const auto core = o.take("core")) {
      groove.core = jsonText(tree_, *core);
      coreId_ = *core;
      if (groove.core == groove.id) {
        tree_.fail(ErrorCode::kLimit, *core, "a groove cannot be its own core");
      }
    }
    groove.feel = knownFeel(o);
    groove.origin = o.text("origin", "");
    const Beat length = groove.length();
    const std::vector<Id> hits = o.array("hits");
    groove.hits.reserve(hits.size());
    for (const Id hit : hits) {
      if (tree_.failed()) break;
      groove.hits.push_back(readHit(hit, length));
      if (groove.hits.size() % kTellEvery == 0) tellProgress(hit);
    }
    if (!std::is_sorted(groove.hits.begin(), groove.hits.end(), writtenBefore)) {
      std::stable_sort(groove.hits.begin(), groove.hits.end(), writtenBefore);
    }
    if (const auto pedal = o.take("pedal")) groove.pedal = readPedal(*pedal, length);
    keepOneAtAPlace(groove);
    for (const Id note : o.array("walk")) {
      if (tree_.failed()) break;
      JsonObject n(tree_, note);
      WalkNote walk;
      walk.placement = n.needText("placement");
      walk.mark = choice(n, "mark", walk.mark);
      walk.note = n.text("note", "");
      walk.extras = n.extras();
      groove.walk.push_back(std::move(walk));
    }
    groove.linear = flag(o, "linear", false);
    groove.extras = o.extras();
    return groove;
  }

  void tellProgress(Id id) {
    if (watch_ == nullptr || !watch_->progress || watch_->progress(tree_.share(id))) return;
    const Error given = givenUp();
    tree_.fail(given.code, id, given.message);
  }

  void keepOneAtAPlace(Groove& groove) {
    const int hits = keepLoudest(groove.hits);
    const int openings = groove.pedal ? keepWidest(groove.pedal->moves) : 0;
    if (watch_ == nullptr) return;
    if (hits > 0) {
      watch_->notes.push_back(fmt::format("groove \"{}\": {}", groove.id, leftOutNote(hits)));
    }
    if (openings > 0) {
      watch_->notes.push_back(fmt::format(
          "groove \"{}\": {} left out, since a wider one begins at the same position", groove.id,
          openings == 1 ? "1 drawn opening was" : fmt::format("{} drawn openings were", openings)));
    }
  }

  void readBeatGrid(Id id, Groove& groove) {
    JsonObject o(tree_, id);
    const auto at = o.need("at");
    if (!at) return;
    const Beat start = position(*at, kSongMost);
    if (tree_.failed()) return;
    if (start >= groove.length() || beatStart(groove, start) != start) {
      tree_.fail(ErrorCode::kLimit, *at,
                 fmt::format("\"{}\" is not the start of a beat of this groove; beats are {} "
                             "quarter notes long",
                             start.toString(), groove.meter.countUnit().toString()));
    }
    groove.beatGrids[start] = grid(o, "grid", groove.grid);
  }

  void readAim(Id id) {
    JsonObject o(tree_, id);
    song_.aim.low = o.real("low", song_.aim.low, 0, kAimMax);
    song_.aim.high = o.real("high", song_.aim.high, 0, kAimMax);
    if (song_.aim.low > song_.aim.high) {
      tree_.fail(ErrorCode::kLimit, id, "\"low\" must not lie above \"high\"");
    }
  }

  void readMixer(Id id) {
    JsonObject pieces(tree_, id);
    for (const Id child : objectChildren(id)) {
      const PieceId piece = pieceOf(child, tree_.key(child));
      if (tree_.failed()) return;
      JsonObject o(tree_, child);
      MixSetting mix = houseMix(*song_.kit, piece);
      mix.levelDb = o.real("level_db", mix.levelDb, kMixDbMin, kMixDbMax);
      mix.pan = o.real("pan", mix.pan, -1, 1);
      mix.roomDb = o.real("room_db", 0, kMixDbMin, kMixDbMax);
      mix.extras = o.extras();
      song_.mixer[piece] = std::move(mix);
    }
  }

  void readCheck(Id id) {
    JsonObject o(tree_, id);
    for (const Id entry : o.array("ignored")) {
      if (tree_.failed()) return;
      JsonObject e(tree_, entry);
      LeftAlone left;
      left.kind = e.needText("kind");
      left.groove = e.text("groove", "");
      if (const auto at = e.take("at")) left.at = position(*at, kSongMost);
      for (const Id piece : e.array("pieces")) left.pieces.push_back(jsonText(tree_, piece));
      left.why = e.text("why", "");
      left.extras = e.extras();
      song_.check.ignored.push_back(std::move(left));
    }
    song_.check.profile = o.text("profile", "");
    song_.check.extras = o.extras();
  }

  void readAudio(Id id) {
    JsonObject o(tree_, id);
    Guide guide;
    guide.file = o.needText("file");
    guide.offset =
        Milliseconds(o.real("offset_ms", 0, -kGuideOffsetMost.count(), kGuideOffsetMost.count()));
    guide.extras = o.extras();
    song_.audio = std::move(guide);
  }

  Section readSection(Id id) {
    JsonObject o(tree_, id);
    Section section;
    section.grooves = grooveList(o);
    if (section.grooves.empty()) {
      if (const auto groove = o.need("groove")) section.groove = knownGroove(*groove);
    } else if (const auto groove = o.take("groove")) {
      section.groove = knownGroove(*groove);
    } else {
      section.groove = section.grooves.front();
    }
    section.name = o.text("name", section.groove);
    section.repeat = static_cast<int>(o.whole("repeat", 1, 1, kSongBarsMax));
    section.feel = knownFeel(o);
    if (const auto morph = o.take("morph")) section.morph = position(*morph, kSongMost);
    if (const auto fill = o.take("fill")) section.fill = readFill(*fill);
    section.levelDb = o.real("level_db", 0, -kLevelDbMost, kLevelDbMost);
    if (const auto to = o.take("to_level_db"))
      section.toLevelDb = jsonReal(tree_, *to, -kLevelDbMost, kLevelDbMost);
    for (const Id word : o.array("mute")) {
      if (tree_.failed()) break;
      section.mute.push_back(jsonText(tree_, word));
      const std::string& muted = section.mute.back();
      if (!fromText<Limb>(muted)) (void)pieceOf(word, muted);
    }
    if (const auto swap = o.take("swap")) {
      JsonObject pieces(tree_, *swap);
      for (const Id child : objectChildren(*swap)) {
        const std::string from(tree_.key(child)), to = jsonText(tree_, child);
        (void)pieceOf(child, from);
        (void)pieceOf(child, to);
        section.swap[from] = to;
      }
    }
    if (const auto crash = o.take("crash")) section.crash = readCrash(*crash);
    section.extras = o.extras();
    return section;
  }

  // The grooves that are played in turn; empty where there is no such list.
  std::vector<std::string> grooveList(JsonObject& o) {
    std::vector<std::string> out;
    const auto grooves = o.take("grooves");
    if (!grooves) return out;
    for (const Id one : jsonList(tree_, *grooves)) {
      if (tree_.failed()) break;
      out.push_back(knownGroove(one));
      if (out.size() > kPassMost)
        tree_.fail(ErrorCode::kLimit, one, fmt::format("more than {} grooves in turn", kPassMost));
    }
    if (out.empty()) tree_.fail(ErrorCode::kLimit, *grooves, "at least one groove is needed");
    return out;
  }

  std::string knownGroove(Id id) {
    std::string groove = jsonText(tree_, id);
    if (!grooveIds_.contains(groove)) unknown(id, "groove", groove);
    return groove;
  }

  SectionFill readFill(Id id) {
    JsonObject o(tree_, id);
    SectionFill fill;
    fill.grooves = grooveList(o);
    if (const auto groove = fill.grooves.empty() ? o.need("groove") : o.take("groove")) {
      fill.groove = knownGroove(*groove);
    } else if (!fill.grooves.empty()) {
      fill.groove = fill.grooves.front();
    }
    if (const auto beats = o.need("beats")) {
      fill.beats = position(*beats, kSongMost);
      if (fill.beats <= Beat(0)) tree_.fail(ErrorCode::kLimit, *beats, "a fill is longer than 0");
    }
    fill.every = static_cast<int>(o.whole("every", 0, 1, kSongBarsMax));
    fill.after = choice(o, "after", fill.after);
    fill.extras = o.extras();
    return fill;
  }

  SectionCrash readCrash(Id id) {
    JsonObject o(tree_, id);
    SectionCrash crash;
    if (const auto piece = o.need("piece")) {
      crash.piece = jsonText(tree_, *piece);
      (void)pieceOf(*piece, crash.piece);
    }
    crash.velocity = Velocity(static_cast<int>(
        o.whole("velocity", crash.velocity.value(), Velocity::kMin, Velocity::kMax)));
    crash.extras = o.extras();
    return crash;
  }

  // The limits that only the whole song can break.
  void checkLength(const JsonObject& root) {
    if (tree_.failed()) return;
    if (const Result<Score> score = arrange(song_); !score) {
      tree_.fail(score.error().code, root.id(), score.error().message);
    }
  }

  std::string knownFeel(JsonObject& o) {
    const auto id = o.take("feel");
    if (!id) return {};
    std::string feel = jsonText(tree_, *id);
    if (!feel.empty() && !feelIds_.contains(feel)) unknown(*id, "feel", feel);
    return feel;
  }

  static constexpr std::size_t kTellEvery = 4096;

  ReadWatch* watch_ = nullptr;
  std::vector<std::pair<std::string, Id>> cores_;  // asked for before all grooves are known
  Id coreId_ = 0;
  std::set<std::string> feelIds_;
  std::set<std::string> grooveIds_;
};

}  // namespace

Result<Feel> readFeel(std::string_view text, const std::string& file, const Kit& kit) {
  Result<JsonTree> tree = JsonTree::parse(text, file);
  if (!tree) return tree.error();
  Feel feel = SongReader(*tree).readFeelFile(kit);
  if (tree->failed()) return tree->error();
  return feel;
}

Result<Song> readSong(std::string_view text, const std::string& file, ReadWatch* watch) {
  Result<JsonTree> tree = JsonTree::parse(text, file);
  if (!tree) return tree.error();
  Song song = SongReader(*tree, watch).read();
  if (tree->failed()) return tree->error();
  return song;
}

}  // namespace uneven
