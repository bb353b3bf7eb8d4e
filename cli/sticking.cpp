// SPDX-License-Identifier: GPL-3.0-or-later
// Hands on the command line.
#include "cli/sticking.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "cli/load.h"
#include "core/base/number.h"
#include "core/io/json_line.h"
#include "core/io/profile_json.h"
#include "core/playing/ways.h"
#include "core/song/names.h"

namespace uneven::cli {
namespace {

constexpr int kAlternativesMost = 20;
constexpr std::string_view kThirdHand = "a third hand at once";

// A stroke as it is told.
struct Told {
  std::uint32_t stroke = 0;
  std::string_view limb;
  std::string_view state;
};

class Writer {
 public:
  explicit Writer(const HandReport& report)
      : report_(report), third_(report.part.thirdHand.begin(), report.part.thirdHand.end()) {
    for (std::size_t i = 0; i < report.part.hands.size(); ++i) {
      told_.push_back({report.part.hands[i].stroke, textOf(report.plan.hands[i]),
                       stateWord(report.strains.hands[i])});
    }
    for (std::size_t i = 0; i < report.part.feet.size(); ++i) {
      if (report.part.feet[i].closing) continue;
      told_.push_back({report.part.feet[i].stroke, textOf(report.part.feet[i].limb),
                       stateWord(report.strains.feet[i])});
    }
    for (const std::uint32_t stroke : third_) told_.push_back({stroke, "none", "not-playable"});
    addMotions();
    std::sort(told_.begin(), told_.end(),
              [](const Told& a, const Told& b) { return a.stroke < b.stroke; });
  }

  const std::vector<Told>& told() const { return told_; }
  const Stroke& at(std::uint32_t stroke) const { return report_.take->strokes()[stroke]; }
  int bar(std::uint32_t stroke) const {
    return at(stroke).bar - report_.take->score().blocks[at(stroke).block].firstBar + 1;
  }
  std::string_view piece(std::uint32_t stroke) const {
    return (*report_.take->score().kit)[at(stroke).piece].id;
  }

  // With a third hand nothing can be played at any tempo.
  double bpm(double pace) const { return third_.empty() ? ceilingBpm(report_, pace) : 0; }
  double comfortable(double pace) const {
    return third_.empty() ? comfortableBpm(report_, pace) : 0;
  }
  struct Limit {
    std::uint32_t stroke = 0;
    std::string_view limb, reason;
  };
  std::optional<Limit> limit() const {
    if (!third_.empty()) return Limit{third_.front(), "none", kThirdHand};
    const Ceiling& c = report_.ceiling;
    if (c.playable * report_.bpm >= kBpmMax) return std::nullopt;
    if (c.hand) {
      return Limit{report_.part.hands[*c.hand].stroke, textOf(c.hands[*c.hand]),
                   reasonText(c.at.reason)};
    }
    if (c.foot) {
      return Limit{report_.part.feet[*c.foot].stroke, textOf(report_.part.feet[*c.foot].limb),
                   reasonText(c.at.reason)};
    }
    return std::nullopt;
  }

 private:
  // The other strokes of a bounce and of a roll, in the hand that makes them.
  void addMotions() {
    std::map<std::uint32_t, std::vector<Told>> ofHit;  // in order of time
    for (const Told& told : told_) ofHit[at(told.stroke).hit].push_back(told);
    const std::vector<Stroke>& strokes = report_.take->strokes();
    for (std::uint32_t i = 0; i < strokes.size(); ++i) {
      const Stroke& s = strokes[i];
      const auto known = ofHit.find(s.hit);
      if (s.part == 0 || known == ofHit.end()) continue;
      std::vector<Told>& parts = known->second;
      const auto same = [&](const Told& t) { return t.stroke == i; };
      if (std::any_of(parts.begin(), parts.end(), same)) continue;
      const Ornament ornament = report_.take->score().blocks[s.block].groove->hits[s.hit].ornament;
      std::sort(parts.begin(), parts.end(),
                [](const Told& a, const Told& b) { return a.stroke < b.stroke; });
      if (ornament == Ornament::kDrag || ornament == Ornament::kRuff) {
        told_.push_back({i, parts.front().limb, parts.front().state});
      } else if (ornament == Ornament::kRoll && parts.size() == 2) {
        const Told& by = parts[s.part % 2];
        told_.push_back({i, by.limb, by.state});
      }
    }
  }

  const HandReport& report_;
  std::vector<std::uint32_t> third_;
  std::vector<Told> told_;
};

std::string told(const OtherWay& way, const Writer& writer) {
  return fmt::format("{}: comfortable to {:.0f} BPM, playable to {:.0f}", way.text,
                     std::floor(writer.comfortable(way.ceiling.comfortable)),
                     std::floor(writer.bpm(way.ceiling.playable)));
}

std::string asJson(const HandReport& report, const Writer& writer,
                   const std::vector<OtherWay>& ways) {
  TextOut out;
  JsonLine all(out);
  const auto place = [&](JsonLine& line, std::uint32_t stroke) {
    line.number("bar", writer.bar(stroke)).text("at", writer.at(stroke).at.toString());
  };
  out.put("\n  ");
  const char* before = "[\n    ";
  all.key("strokes", "");
  if (writer.told().empty()) out.put("[");
  for (const Told& told : writer.told()) {
    out.put(before);
    before = ",\n    ";
    JsonLine line(out);
    place(line, told.stroke);
    line.text("piece", writer.piece(told.stroke)).text("limb", told.limb);
    line.text("state", told.state).end();
  }
  out.put("]");
  constexpr std::string_view kNext = ",\n  ";
  all.number("cost", roundedTo(report.plan.cost, 1'000), kNext);
  JsonLine ceiling(all.key("ceiling_bpm", kNext));
  ceiling.number("comfortable", writer.comfortable(report.ceiling.comfortable));
  ceiling.number("playable", writer.bpm(report.ceiling.playable)).end();
  if (const auto limit = writer.limit()) {
    JsonLine line(all.key("limited_by", kNext));
    place(line, limit->stroke);
    line.text("limb", limit->limb).text("reason", limit->reason).end();
  } else {
    all.key("limited_by", kNext).put("null");
  }
  all.key("alternatives", kNext);
  before = "[\n    ";
  if (ways.empty()) out.put("[");
  for (const OtherWay& way : ways) {
    out.put(before);
    before = ",\n    ";
    JsonLine line(out);
    line.number("cost", roundedTo(way.plan.cost, 1'000));
    line.key("changes");
    const char* between = "[";
    for (std::size_t i = 0; i < way.plan.hands.size(); ++i) {
      if (report.part.hands[i].grace) continue;
      if (way.plan.hands[i] == report.plan.hands[i]) continue;
      out.put(between);
      between = ", ";
      JsonLine change(out);
      place(change, report.part.hands[i].stroke);
      change.text("limb", textOf(way.plan.hands[i])).end();
    }
    out.put("]");
    line.text("text", told(way, writer)).text("way", way.word);
    JsonLine to(line.key("ceiling_bpm"));
    to.number("comfortable", writer.comfortable(way.ceiling.comfortable));
    to.number("playable", writer.bpm(way.ceiling.playable)).end();
    line.end();
  }
  out.put("]\n");
  all.end();
  out.put('\n');
  return out.take();
}

std::string asText(const HandReport& report, const Writer& writer,
                   const std::vector<OtherWay>& ways) {
  std::string out;
  for (const Told& told : writer.told()) {
    out += fmt::format("bar {}, {}: {}: {}, {}\n", writer.bar(told.stroke),
                       writer.at(told.stroke).at.toString(), writer.piece(told.stroke), told.limb,
                       told.state);
  }
  out += fmt::format("cost {}\n", roundedTo(report.plan.cost, 1'000));
  out += fmt::format("comfortable to {} BPM, playable to {} BPM\n",
                     writer.comfortable(report.ceiling.comfortable),
                     writer.bpm(report.ceiling.playable));
  if (const auto limit = writer.limit()) {
    out +=
        fmt::format("limited by the {} at bar {}, {}: {}\n", limit->limb, writer.bar(limit->stroke),
                    writer.at(limit->stroke).at.toString(), limit->reason);
  }
  for (const OtherWay& way : ways) {
    out += fmt::format("or, at cost {}: {}\n", roundedTo(way.cost, 1'000), told(way, writer));
  }
  return out;
}

}  // namespace

Result<Profile> loadProfile(FileSystem& files, const std::string& file) {
  if (file.empty()) return Profile{};
  const Result<std::string> text = files.read(file);
  if (!text) return text.error();
  return readProfile(*text, file);
}

Result<Output> sticking(FileSystem& files, const StickingCall& call) {
  if (call.bpm && !(*call.bpm >= kBpmMin && *call.bpm <= kBpmMax)) {
    return Error{ErrorCode::kLimit, fmt::format("--bpm is {} to {}", kBpmMin, kBpmMax), {}};
  }
  if (call.alternatives < 0 || call.alternatives > kAlternativesMost) {
    return Error{
        ErrorCode::kLimit, fmt::format("--alternatives is 0 to {}", kAlternativesMost), {}};
  }
  Result<Loaded> loaded = load(files, call.song);
  if (!loaded) return loaded.error();
  const Result<Profile> profile = loadProfile(files, call.profile);
  if (!profile) return profile.error();
  const Result<HandReport> report = handReport(loaded->song, call.groove, *profile, call.bpm);
  if (!report) return report.error();
  const Writer writer(*report);
  const std::vector<OtherWay> ways = otherWays(*report, *profile, call.alternatives);
  Output out;
  out.notices = std::move(loaded->notes);
  out.text = call.format == CheckFormat::kJson ? asJson(*report, writer, ways)
                                               : asText(*report, writer, ways);
  return out;
}

}  // namespace uneven::cli
