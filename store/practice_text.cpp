// SPDX-License-Identifier: GPL-3.0-or-later
// The practice log as CSV and JSON, out and in, by one table of fields.
#include <fmt/format.h>

#include <array>
#include <nlohmann/json.hpp>

#include "core/base/number.h"
#include "core/base/utf8.h"
#include "core/rehearse/plan.h"
#include "store/practice_log.h"

namespace uneven {
namespace {

using Json = nlohmann::ordered_json;

constexpr std::array<std::string_view, 3> kResults = {"broken off", "clean", "not yet"};
constexpr double kMost = 1e12;

struct Field {
  const char* name;
  bool number;  // in JSON
  std::function<std::string(const LoggedTime&)> get;
  std::function<bool(LoggedTime&, std::string_view)> set;
};

bool put(double& to, std::string_view text) {
  const auto value = decimalNumber(text);
  if (!value || !(std::abs(*value) <= kMost)) return false;
  to = *value;
  return true;
}
bool put(std::optional<double>& to, std::string_view text) {
  to.reset();
  return text.empty() || put(to.emplace(), text);
}
bool put(std::int64_t& to, std::string_view text) {
  const auto value = wholeNumber(text);
  if (!value) return false;
  to = *value;
  return true;
}
bool put(int& to, std::string_view text) {
  std::int64_t value = 0;
  if (!put(value, text) || value < 0 || value > 1'000'000) return false;
  to = static_cast<int>(value);
  return true;
}
bool put(std::string& to, std::string_view text) {
  to = text;
  return true;
}
std::string textOf(const std::string& value) {
  return value;
}
std::string textOf(double value) {
  return shortest(value);
}
std::string textOf(const std::optional<double>& value) {
  return value ? shortest(*value) : std::string();
}
template <std::integral T>
std::string textOf(T value) {
  return std::to_string(value);
}

// A member as it stands.
template <typename T>
Field plain(const char* name, T TimeThrough::*member) {
  return {name, !std::is_same_v<T, std::string>,
          [member](const LoggedTime& t) { return textOf(t.through.*member); },
          [member](LoggedTime& t, std::string_view text) { return put(t.through.*member, text); }};
}
Field plain(const char* name, std::string LoggedGroove::*member) {
  return {name, false, [member](const LoggedTime& t) { return t.groove.*member; },
          [member](LoggedTime& t, std::string_view text) { return put(t.groove.*member, text); }};
}

const std::vector<Field>& fields() {
  static const std::vector<Field> all = {
      {"uid", false, [](const LoggedTime& t) { return t.through.uid; },
       [](LoggedTime& t, std::string_view text) {
         t.through.uid = text;
         return !text.empty() && text.size() <= 64;
       }},
      plain("begun_ms", &TimeThrough::begun),
      {"day", false, [](const LoggedTime& t) { return t.through.day; },
       [](LoggedTime& t, std::string_view text) {
         t.through.day = text;
         return readDate(text).has_value();
       }},
      plain("song_file", &LoggedGroove::songFile),
      plain("song", &LoggedGroove::songTitle),
      plain("groove", &LoggedGroove::id),
      plain("name", &LoggedGroove::name),
      plain("mark", &LoggedGroove::mark),
      plain("step", &TimeThrough::step),
      {"whole", true, [](const LoggedTime& t) { return std::string(t.through.whole ? "1" : "0"); },
       [](LoggedTime& t, std::string_view text) {
         t.through.whole = text == "1";
         return text == "1" || text == "0";
       }},
      plain("bpm", &TimeThrough::bpm),
      plain("seconds", &TimeThrough::seconds),
      plain("source", &TimeThrough::source),
      {"result", false,
       [](const LoggedTime& t) {
         return std::string(kResults[static_cast<std::size_t>(t.through.result)]);
       },
       [](LoggedTime& t, std::string_view text) {
         const auto found = std::find(kResults.begin(), kResults.end(), text);
         if (found == kResults.end()) return false;
         t.through.result = static_cast<Through>(found - kResults.begin());
         return true;
       }},
      plain("strokes", &TimeThrough::strokes),
      plain("missing", &TimeThrough::missing),
      plain("extra", &TimeThrough::extra),
      plain("wrong", &TimeThrough::wrong),
      plain("mean_ms", &TimeThrough::meanMs),
      plain("sd_ms", &TimeThrough::sdMs),
      plain("unison_ms", &TimeThrough::unisonMs),
      plain("ghosts_db", &TimeThrough::ghostsDb),
      plain("felt", &TimeThrough::felt),
  };
  return all;
}

// RFC 4180: quoted where it must be.
std::string quoted(const std::string& text) {
  if (text.find_first_of(",\"\r\n") == std::string::npos) return text;
  std::string out = "\"";
  for (const char c : text) {
    if (c == '"') out += '"';
    out += c;
  }
  return out + '"';
}

// A record at a time; `line` counts those of the file.
class CsvRecords {
 public:
  explicit CsvRecords(std::string_view text) : text_(text) {}
  bool atEnd() const { return at_ >= text_.size(); }
  int line() const { return line_; }
  // Nothing: a quote that does not end.
  std::optional<std::vector<std::string>> next() {
    std::vector<std::string> out(1);
    bool inside = false;
    while (at_ < text_.size()) {
      const char c = text_[at_++];
      if (c == '\n') ++line_;
      if (inside) {
        if (c != '"') {
          out.back() += c;
        } else if (at_ < text_.size() && text_[at_] == '"') {
          out.back() += '"';
          ++at_;
        } else {
          inside = false;
        }
      } else if (c == '"') {
        inside = true;
      } else if (c == ',') {
        out.emplace_back();
      } else if (c == '\n') {
        return out;
      } else if (c != '\r') {
        out.back() += c;
      }
    }
    if (inside) return std::nullopt;
    return out;
  }

 private:
  std::string_view text_;
  std::size_t at_ = 0;
  int line_ = 1;
};

Error wrong(const std::string& file, int line, std::string message) {
  return Error{ErrorCode::kSyntax, std::move(message), {file, line, 0, {}}};
}

std::string notAllowed(const Field& field, std::string_view text) {
  return fmt::format("{}: \"{}\" is not allowed", field.name, text);
}

Result<std::vector<LoggedTime>> readCsv(std::string_view text, const std::string& file) {
  CsvRecords records(text);
  const auto header = records.next();
  if (!header) return wrong(file, 1, "a quotation mark that does not end");
  std::vector<const Field*> columns;
  for (const std::string& name : *header) {
    const auto found = std::find_if(fields().begin(), fields().end(),
                                    [&](const Field& f) { return f.name == name; });
    columns.push_back(found == fields().end() ? nullptr : &*found);
  }
  for (const Field& field : fields()) {
    if (std::find(columns.begin(), columns.end(), &field) == columns.end())
      return wrong(file, 1, fmt::format("the first line names no column \"{}\"", field.name));
  }
  std::vector<LoggedTime> out;
  while (!records.atEnd()) {
    const int line = records.line();
    const auto record = records.next();
    if (!record) return wrong(file, line, "a quotation mark that does not end");
    if (record->size() == 1 && record->front().empty()) continue;
    if (record->size() != columns.size()) {
      return wrong(
          file, line,
          fmt::format("{} fields where the first line has {}", record->size(), columns.size()));
    }
    LoggedTime& time = out.emplace_back();
    for (std::size_t i = 0; i < columns.size(); ++i) {
      if (columns[i] != nullptr && !columns[i]->set(time, (*record)[i]))
        return wrong(file, line, notAllowed(*columns[i], (*record)[i]));
    }
  }
  return out;
}

Result<std::vector<LoggedTime>> readJson(std::string_view text, const std::string& file) {
  const Json all = Json::parse(text, nullptr, false);
  if (!all.is_array()) return wrong(file, 0, "neither CSV nor an array of JSON");
  std::vector<LoggedTime> out;
  for (const Json& one : all) {
    const std::size_t number = out.size() + 1;
    LoggedTime& time = out.emplace_back();
    for (const Field& field : fields()) {
      const auto at = one.is_object() ? one.find(field.name) : one.end();
      if (!one.is_object() || at == one.end())
        return wrong(file, 0, fmt::format("entry {} has no \"{}\"", number, field.name));
      const std::string value = at->is_string()   ? at->get<std::string>()
                                : at->is_number() ? at->dump()
                                                  : std::string();
      if (!field.set(time, value))
        return wrong(file, 0, fmt::format("entry {}: {}", number, notAllowed(field, value)));
    }
  }
  return out;
}

}  // namespace

std::string practiceCsv(const std::vector<LoggedTime>& times) {
  std::string out;
  for (const Field& field : fields()) out += (out.empty() ? "" : ",") + std::string(field.name);
  out += "\r\n";
  for (const LoggedTime& time : times) {
    const char* before = "";
    for (const Field& field : fields()) {
      out += before + quoted(field.get(time));
      before = ",";
    }
    out += "\r\n";
  }
  return out;
}

std::string practiceJson(const std::vector<LoggedTime>& times) {
  Json out = Json::array();
  for (const LoggedTime& time : times) {
    Json one = Json::object();
    for (const Field& field : fields()) {
      const std::string text = field.get(time);
      if (!field.number) {
        one[field.name] = text;
      } else {
        one[field.name] = text.empty() ? Json(nullptr) : Json::parse(text);
      }
    }
    out.push_back(std::move(one));
  }
  return out.dump(1, ' ', false, Json::error_handler_t::replace) + "\n";
}

Result<std::vector<LoggedTime>> readPractice(std::string_view text, const std::string& file) {
  if (text.starts_with("\xEF\xBB\xBF")) text.remove_prefix(3);
  if (!isUtf8(text)) return wrong(file, 0, "not UTF-8 text");
  const std::size_t first = text.find_first_not_of(" \t\r\n");
  if (first != std::string_view::npos && text[first] == '[') return readJson(text, file);
  return readCsv(text, file);
}

}  // namespace uneven
