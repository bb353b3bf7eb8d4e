// SPDX-License-Identifier: GPL-3.0-or-later
// Reading and writing player profiles.
#include "core/io/profile_json.h"

#include <fmt/format.h>

#include "core/io/json_line.h"
#include "core/io/json_tree.h"
#include "core/song/names.h"

namespace uneven {
namespace {

constexpr int kProfileVersion = 1;
constexpr const char* kFormat = "uneven-stick-player";

class ProfileReader {
 public:
  explicit ProfileReader(JsonTree& tree) : tree_(tree) {}

  Profile read() {
    JsonObject root(tree_, JsonTree::kRoot);
    if (const auto format = root.need("format"); format && jsonText(tree_, *format) != kFormat) {
      tree_.fail(ErrorCode::kSyntax, *format,
                 fmt::format("this is not a player: \"{}\" must stand here", kFormat));
    }
    if (const auto version = root.need("version");
        version && jsonWhole(tree_, *version, 1, 1'000'000'000) > kProfileVersion) {
      tree_.fail(ErrorCode::kVersion, *version,
                 fmt::format("written by a newer program; this one reads up to version {}",
                             kProfileVersion));
    }
    Profile p;
    p.id = root.needText("id");
    p.name = root.text("name", p.id);
    runs(root, "hand", p.hand);
    leadHand(root, p);
    runs(root, "foot", p.foot);
    runs(root, "hat_foot", p.hatFoot);
    p.weakHand = root.real("weak_hand", p.weakHand, kWeakMin, kWeakMax);
    p.weakFoot = root.real("weak_foot", p.weakFoot, kWeakMin, kWeakMax);
    limit(root, "pull_out", p.pullOut);
    if (const auto ways = root.take("ways")) {
      JsonObject o(tree_, *ways);
      time(o, "neighbour", p.neighbour, 0);
      time(o, "across", p.across, 0);
      time(o, "crossed", p.crossed, 0);
      p.nearby = o.real("nearby", p.nearby, 0, kPlanMax);
    }
    time(root, "run_gap", p.runGap, kLimitMinMs);
    p.oneHandUpTo = root.real("one_hand_up_to", p.oneHandUpTo, 0, 1);
    p.bySlot = choice(root, "hand_to_hand", "by-slot", "in-turn", p.bySlot);
    p.leadTakesCymbal = choice(root, "cymbal", "lead", "side", p.leadTakesCymbal);
    p.ruffInTurn = choice(root, "ruff", "in-turn", "bounce", p.ruffInTurn);
    if (const auto plan = root.take("plan")) {
      for (const JsonTree::Id place : jsonChildren(*plan)) {
        const auto xy = pair(place, kPlanMin, kPlanMax);
        if (xy) p.plan[tree_.key(place)] = {xy->first, xy->second};
      }
    }
    if (const auto setup = root.take("setup")) {
      JsonObject o(tree_, *setup);
      uneven::Setup s;
      s.kit = side(o, "handed");
      s.lead = side(o, "lead");
      s.openHanded = flag(o, "open_handed");
      s.doublePedal = flag(o, "double_pedal");
      p.setup = s;
    }
    return p;
  }

 private:
  // The members of an object whose keys are names.
  std::vector<JsonTree::Id> jsonChildren(JsonTree::Id id) {
    if (tree_[id].kind != JsonKind::kObject) {
      tree_.fail(ErrorCode::kSyntax, id, "an object must stand here");
      return {};
    }
    return tree_.children(id);
  }

  std::optional<std::pair<double, double>> pair(JsonTree::Id id, double min, double max) {
    const std::vector<JsonTree::Id> two = jsonList(tree_, id);
    if (tree_.failed()) return std::nullopt;
    if (two.size() != 2) {
      tree_.fail(ErrorCode::kSyntax, id, "two numbers must stand here");
      return std::nullopt;
    }
    const double first = jsonReal(tree_, two[0], min, max);
    return std::pair(first, jsonReal(tree_, two[1], min, max));
  }

  void limit(JsonObject& o, std::string_view key, TimeLimit& out) {
    const auto id = o.take(key);
    if (!id) return;
    const auto two = pair(*id, kLimitMinMs, kLimitMaxMs);
    if (!two) return;
    if (two->first < two->second) {
      tree_.fail(ErrorCode::kLimit, *id, "comfortable comes first and is no shorter than playable");
    }
    out = {Milliseconds(two->first), Milliseconds(two->second)};
  }

  // The word of a technique, or limits like the others'.
  void leadHand(JsonObject& root, Profile& p) {
    const auto id = root.take("lead_hand");
    if (!id) return;
    if (tree_[*id].kind == JsonKind::kString) {
      const std::string word = jsonText(tree_, *id);
      std::string words;
      for (const Technique& technique : techniques()) {
        if (technique.id == word) p.leadHand = technique.limits;
        words += fmt::format("{}\"{}\"", words.empty() ? "" : ", ", technique.id);
      }
      if (!p.leadHand) tree_.fail(ErrorCode::kUnknown, *id, fmt::format("{} are allowed", words));
      return;
    }
    p.leadHand = p.hand;
    runs(*id, *p.leadHand);
  }

  void runs(JsonObject& root, std::string_view key, RunLimits& out) {
    if (const auto id = root.take(key)) runs(*id, out);
  }
  void runs(JsonTree::Id id, RunLimits& out) {
    JsonObject o(tree_, id);
    limit(o, "second", out.second);
    limit(o, "run", out.run);
    limit(o, "sustained", out.sustained);
    const auto falls = [](const TimeLimit& a, const TimeLimit& b) {
      return b.comfortable < a.comfortable || b.playable < a.playable;
    };
    if (falls(out.second, out.run) || falls(out.run, out.sustained)) {
      tree_.fail(ErrorCode::kLimit, id, "no limit falls as a run gets longer");
    }
  }

  static void time(JsonObject& o, std::string_view key, Milliseconds& out, double min) {
    out = Milliseconds(o.real(key, out.count(), min, kLimitMaxMs));
  }

  Side side(JsonObject& o, std::string_view key) {
    const auto id = o.take(key);
    if (!id) return Side::kRight;
    const auto value = fromText<Side>(jsonText(tree_, *id));
    if (!value) {
      tree_.fail(ErrorCode::kUnknown, *id, fmt::format("{} are allowed", allowedWords<Side>()));
    }
    return value.value_or(Side::kRight);
  }

  bool flag(JsonObject& o, std::string_view key) {
    const auto id = o.take(key);
    if (!id) return false;
    if (tree_[*id].kind != JsonKind::kBool) {
      tree_.fail(ErrorCode::kSyntax, *id, "true or false must stand here");
    }
    return tree_.source(*id) == "true";
  }

  // Whether the first of two words stands there.
  bool choice(JsonObject& o, std::string_view key, std::string_view yes, std::string_view no,
              bool usual) {
    const auto id = o.take(key);
    if (!id) return usual;
    const std::string word = jsonText(tree_, *id);
    if (word != yes && word != no)
      tree_.fail(ErrorCode::kUnknown, *id, fmt::format("\"{}\", \"{}\" are allowed", yes, no));
    return word == yes;
  }

  JsonTree& tree_;
};

}  // namespace

Result<Profile> readProfile(std::string_view text, const std::string& file) {
  Result<JsonTree> parsed = JsonTree::parse(text, file);
  if (!parsed) return parsed.error();
  Profile profile = ProfileReader(*parsed).read();
  if (parsed->failed()) return parsed->error();
  return profile;
}

std::string writeProfile(const Profile& p) {
  TextOut out;
  JsonLine line(out);
  constexpr std::string_view kNext = ",\n  ";
  const auto pair = [](TextOut& to, double a, double b) {
    to.put('[').put(a).put(", ").put(b).put(']');
  };
  const auto limit = [&](TextOut& to, const TimeLimit& l) {
    pair(to, l.comfortable.count(), l.playable.count());
  };
  const auto runs = [&](std::string_view key, const RunLimits& r) {
    JsonLine inner(line.key(key, kNext));
    limit(inner.key("second"), r.second);
    limit(inner.key("run"), r.run);
    limit(inner.key("sustained"), r.sustained);
    inner.end();
  };
  line.text("format", kFormat);
  line.number("version", kProfileVersion);
  putQuoted(line.key("id", kNext), p.id);
  putQuoted(line.key("name", kNext), p.name);
  runs("hand", p.hand);
  if (p.leadHand) {
    if (const Technique* technique = techniqueOf(*p.leadHand)) {
      putQuoted(line.key("lead_hand", kNext), technique->id);
    } else {
      runs("lead_hand", *p.leadHand);
    }
  }
  runs("foot", p.foot);
  runs("hat_foot", p.hatFoot);
  line.number("weak_hand", p.weakHand, kNext).number("weak_foot", p.weakFoot, kNext);
  limit(line.key("pull_out", kNext), p.pullOut);
  JsonLine ways(line.key("ways", kNext));
  ways.number("neighbour", p.neighbour.count()).number("across", p.across.count());
  ways.number("crossed", p.crossed.count()).number("nearby", p.nearby).end();
  line.number("run_gap", p.runGap.count(), kNext);
  line.number("one_hand_up_to", p.oneHandUpTo, kNext);
  putQuoted(line.key("hand_to_hand", kNext), p.bySlot ? "by-slot" : "in-turn");
  putQuoted(line.key("cymbal", kNext), p.leadTakesCymbal ? "lead" : "side");
  putQuoted(line.key("ruff", kNext), p.ruffInTurn ? "in-turn" : "bounce");
  JsonLine plan(line.key("plan", kNext));
  for (const auto& [piece, place] : p.plan) {
    plan.quotedKey(piece);
    pair(out, place.x, place.y);
  }
  plan.end();
  if (p.setup) {
    JsonLine setup(line.key("setup", kNext));
    setup.text("handed", textOf(p.setup->kit)).text("lead", textOf(p.setup->lead));
    setup.raw("open_handed", p.setup->openHanded ? "true" : "false");
    setup.raw("double_pedal", p.setup->doublePedal ? "true" : "false").end();
  }
  line.end();
  out.put('\n');
  return out.take();
}

}  // namespace uneven
