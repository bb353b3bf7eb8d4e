// SPDX-License-Identifier: GPL-3.0-or-later
// Hits as CSV. No field needs quotes: ids, words and numbers hold no comma.
#include "core/io/hits_csv.h"

#include <fmt/format.h>

#include <algorithm>
#include <iterator>
#include <optional>

#include "core/base/number.h"
#include "core/song/hit_fields.h"
#include "core/song/names.h"
#include "core/song/positions.h"

namespace uneven {
namespace {

using hit_field::kAll;

std::string columnNames() {
  std::string out;
  for (const HitField& field : kAll) out += (out.empty() ? "" : ", ") + std::string(field.name);
  return out;
}

class CsvReader {
 public:
  CsvReader(std::string_view text, const Kit& kit, const std::string& file)
      : text_(text), kit_(kit), file_(file) {}

  Result<Groove> read(std::vector<std::string>* notes) {
    Groove groove;
    groove.id = "hits";
    groove.name = "Hits";
    std::size_t start = 0;
    while (start < text_.size() && !error_) {
      std::size_t end = text_.find('\n', start);
      if (end == std::string_view::npos) end = text_.size();
      std::string_view line = text_.substr(start, end - start);
      if (line.ends_with('\r')) line.remove_suffix(1);
      ++line_;
      if (line_ == 1) {
        readHeader(line);
      } else if (!line.empty()) {
        groove.hits.push_back(readHit(line));
      }
      start = end + 1;
    }
    if (line_ == 0) fail(1, "an empty file: the first line must name the columns");
    if (error_) return *error_;
    std::stable_sort(groove.hits.begin(), groove.hits.end(), writtenBefore);
    const int gone = keepLoudest(groove.hits);
    if (gone > 0 && notes != nullptr) notes->push_back(leftOutNote(gone));
    if (!groove.hits.empty()) {
      groove.bars = static_cast<int>(groove.hits.back().at.floorDiv(Beat(4))) + 1;
    }
    return groove;
  }

 private:
  void fail(std::size_t column, std::string message) {
    if (error_) return;
    error_ =
        Error{ErrorCode::kSyntax, std::move(message), {file_, line_, static_cast<int>(column), {}}};
  }
  void refuse(std::string_view name, std::string_view value, const std::string& allowed) {
    fail(column_, fmt::format("{}: \"{}\" is not allowed; {}", name, value, allowed));
  }

  static std::vector<std::string_view> fieldsOf(std::string_view line) {
    std::vector<std::string_view> out;
    for (std::size_t start = 0;;) {
      const std::size_t comma = line.find(',', start);
      out.push_back(line.substr(start, comma - start));
      if (comma == std::string_view::npos) return out;
      start = comma + 1;
    }
  }

  void readHeader(std::string_view line) {
    for (const std::string_view name : fieldsOf(line)) {
      const auto* field = std::find_if(std::begin(kAll), std::end(kAll),
                                       [&](const HitField& f) { return f.name == name; });
      if (field == std::end(kAll)) {
        return fail(static_cast<std::size_t>(name.data() - line.data()) + 1,
                    fmt::format("\"{}\" is no column; {} are", name, columnNames()));
      }
      order_.push_back(name);
    }
    for (const std::string_view needed :
         {hit_field::kAt.name, hit_field::kPiece.name, hit_field::kVelocity.name}) {
      if (std::find(order_.begin(), order_.end(), needed) == order_.end()) {
        fail(1, fmt::format("the column \"{}\" is missing", needed));
      }
    }
  }

  Hit readHit(std::string_view line) {
    Hit hit;
    const std::vector<std::string_view> fields = fieldsOf(line);
    if (fields.size() != order_.size()) {
      fail(1, fmt::format("{} fields; the first line names {}", fields.size(), order_.size()));
      return hit;
    }
    for (std::size_t i = 0; i < fields.size() && !error_; ++i) {
      column_ = static_cast<std::size_t>(fields[i].data() - line.data()) + 1;
      readField(order_[i], fields[i], hit);
    }
    return hit;
  }

  void readField(std::string_view name, std::string_view value, Hit& hit) {
    if (name == hit_field::kAt.name || name == hit_field::kOpenFor.name ||
        name == hit_field::kOrnamentFor.name) {
      const auto beat = Beat::parse(value);
      const Beat bars(std::int64_t{4} * kBarsMax);
      const bool far = name == hit_field::kOpenFor.name ? beat > kPositionMost
                       : name == hit_field::kAt.name    ? beat >= bars
                                                        : beat > Beat(kLengthMax);
      if (!beat || *beat < Beat(0) || far || beat->den() > kDenominatorMax) {
        return refuse(name, value,
                      name == hit_field::kAt.name ? "0 to below 256 quarter notes are, as 7/4"
                      : name == hit_field::kOpenFor.name ? "lengths in quarter notes are, as 7/4"
                                                         : "0..256 quarter notes are, as 7/4");
      }
      (name == hit_field::kAt.name        ? hit.at
       : name == hit_field::kOpenFor.name ? hit.openFor
                                          : hit.ornamentFor) = *beat;
    } else if (name == hit_field::kPiece.name) {
      const auto piece = kit_.find(value);
      if (!piece) return refuse(name, value, "the kit has no such piece");
      hit.piece = *piece;
    } else if (name == hit_field::kVelocity.name) {
      const auto velocity = wholeNumber(value);
      if (!velocity || !hit_field::kVelocity.allows(static_cast<double>(*velocity)))
        return refuse(name, value, "1..127 is");
      hit.velocity = Velocity(static_cast<int>(*velocity));
    } else if (name == hit_field::kOrnamentGap.name) {
      const auto ms = decimalNumber(value);
      if (!ms || !hit_field::kOrnamentGap.allows(*ms))
        return refuse(name, value, "0 and 5..100 are");
      hit.ornamentGap = Milliseconds(*ms);
    } else if (name == hit_field::kOrnamentVelocity.name) {
      const auto percent = wholeNumber(value);
      if (!percent || !hit_field::kOrnamentVelocity.allows(static_cast<double>(*percent)))
        return refuse(name, value, "0..100 is");
      hit.ornamentPercent = static_cast<std::uint8_t>(*percent);
    } else if (name == hit_field::kOpen.name) {
      const auto open = decimalNumber(value);
      if (!open || !hit_field::kOpen.allows(*open)) return refuse(name, value, "0..1 is");
      hit.open = *open;
    } else if (name == hit_field::kNudge.name) {
      const auto ms = decimalNumber(value);
      if (!ms || !hit_field::kNudge.allows(*ms)) return refuse(name, value, "-200..200 is");
      hit.nudge = Milliseconds(*ms);
    } else {
      readWord(name, value, hit);
    }
  }

  void readWord(std::string_view name, std::string_view value, Hit& hit) {
    const auto take = [&](auto& field) {
      using E = std::remove_reference_t<decltype(field)>;
      const auto word = fromText<E>(value);
      if (!word) return refuse(name, value, allowedWords<E>() + " are");
      field = *word;
    };
    if (name == hit_field::kRole.name) take(hit.role);
    if (name == hit_field::kStroke.name) take(hit.stroke);
    if (name == hit_field::kLimb.name) take(hit.limb);
    if (name == hit_field::kOrnament.name) take(hit.ornament);
  }

  std::string_view text_;
  const Kit& kit_;
  std::string file_;
  int line_ = 0;
  std::size_t column_ = 1;
  std::vector<std::string_view> order_;
  std::optional<Error> error_;
};

}  // namespace

std::string writeHitsCsv(const Groove& groove, const Kit& kit) {
  std::string out;
  for (const HitField& field : kAll) out += (out.empty() ? "" : ",") + std::string(field.name);
  out += "\n";
  for (const Hit& hit : groove.hits) {
    fmt::format_to(std::back_inserter(out), "{},{},{},{},{},{},{},{},{},{},{},{},{}\n",
                   hit.at.toString(), kit[hit.piece].id, hit.velocity.value(), textOf(hit.role),
                   textOf(hit.stroke), textOf(hit.limb), textOf(hit.ornament),
                   hit.ornamentFor.toString(), shortest(hit.ornamentGap.count()),
                   hit.ornamentPercent, shortest(hit.open), hit.openFor.toString(),
                   shortest(hit.nudge.count()));
  }
  return out;
}

Result<Groove> readHitsCsv(std::string_view text, const Kit& kit, const std::string& file,
                           std::vector<std::string>* notes) {
  return CsvReader(text, kit, file).read(notes);
}

}  // namespace uneven
