// SPDX-License-Identifier: GPL-3.0-or-later
// Reading lists of times.
#include "core/io/times_csv.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/number.h"
#include "core/base/text.h"

namespace uneven {
namespace {

constexpr double kUsualVelocity = 80;

class TimesReader {
 public:
  TimesReader(std::string_view text, const Kit& kit, const std::string& file)
      : text_(text), kit_(kit), file_(file) {}

  Result<std::vector<Onset>> read() {
    std::vector<Onset> out;
    for (std::size_t start = 0; start < text_.size() && !error_;) {
      const std::size_t end = std::min(text_.find('\n', start), text_.size());
      line_ = text_.substr(start, end - start);
      ++number_;
      start = end + 1;
      if (trimmed(line_).empty()) continue;
      if (columns_.empty() && readHeader()) continue;
      if (out.size() == kTimesMost) {
        fail(0, ErrorCode::kLimit, fmt::format("more than {} times", kTimesMost));
        break;
      }
      out.push_back(readTime());
    }
    if (error_) return *error_;
    if (number_ == 0)
      return Error{
          ErrorCode::kSyntax, "an empty file: times in seconds stand here", {file_, 1, 1, {}}};
    std::stable_sort(out.begin(), out.end(),
                     [](const Onset& a, const Onset& b) { return a.seconds < b.seconds; });
    return out;
  }

 private:
  enum class Column : std::uint8_t { kSeconds, kPiece, kVelocity };
  struct Field {
    std::string_view text;
    std::size_t at = 0;
  };

  std::vector<Field> fields() const {
    std::vector<Field> out;
    for (std::size_t start = 0;;) {
      const std::size_t comma = line_.find(',', start);
      out.push_back({trimmed(line_.substr(start, comma - start)), start});
      if (comma == std::string_view::npos) return out;
      start = comma + 1;
    }
  }
  void fail(std::size_t at, ErrorCode code, std::string message) {
    if (!error_)
      error_ = Error{code, std::move(message), {file_, number_, static_cast<int>(at) + 1, {}}};
  }

  // False where the first line is a time already.
  bool readHeader() {
    if (decimalNumber(fields().front().text)) {
      columns_ = {Column::kSeconds, Column::kPiece, Column::kVelocity};
      return false;
    }
    for (const Field& f : fields()) {
      if (f.text == "seconds") {
        columns_.push_back(Column::kSeconds);
      } else if (f.text == "piece") {
        columns_.push_back(Column::kPiece);
      } else if (f.text == "velocity") {
        columns_.push_back(Column::kVelocity);
      } else {
        fail(f.at, ErrorCode::kSyntax,
             fmt::format("\"{}\" is no column; seconds, piece and velocity are", f.text));
        return true;
      }
    }
    if (std::find(columns_.begin(), columns_.end(), Column::kSeconds) == columns_.end())
      fail(0, ErrorCode::kSyntax, "the column \"seconds\" is missing");
    headed_ = true;
    return true;
  }

  Onset readTime() {
    Onset o;
    o.velocity = kUsualVelocity;
    const std::vector<Field> all = fields();
    if (all.size() > columns_.size() || (headed_ && all.size() != columns_.size())) {
      fail(0, ErrorCode::kSyntax,
           fmt::format("{} fields; there are {} columns", all.size(), columns_.size()));
      return o;
    }
    for (std::size_t i = 0; i < all.size(); ++i) readField(columns_[i], all[i], o);
    return o;
  }

  void readField(Column column, const Field& field, Onset& o) {
    if (column == Column::kPiece) {
      if (field.text.empty()) return;
      const auto piece = kit_.find(field.text);
      if (!piece)
        return fail(field.at, ErrorCode::kUnknown,
                    fmt::format("no piece is called \"{}\"", field.text));
      o.piece = *piece;
      return;
    }
    if (column == Column::kVelocity && field.text.empty()) return;
    const auto value = decimalNumber(field.text);
    if (!value)
      return fail(field.at, ErrorCode::kSyntax, fmt::format("\"{}\" is no number", field.text));
    if (column == Column::kVelocity) {
      if (!(*value >= 1 && *value <= 127))
        return fail(field.at, ErrorCode::kLimit, "a velocity is 1 to 127");
      o.velocity = *value;
    } else {
      if (!(*value >= -kTimesMostSeconds && *value <= kTimesMostSeconds))
        return fail(field.at, ErrorCode::kLimit, "a time is within a day, in seconds");
      o.seconds = *value;
    }
  }

  std::string_view text_;
  const Kit& kit_;
  std::string file_;
  std::string_view line_;
  int number_ = 0;
  bool headed_ = false;
  std::vector<Column> columns_;
  std::optional<Error> error_;
};

}  // namespace

Result<std::vector<Onset>> readTimesCsv(std::string_view text, const Kit& kit,
                                        const std::string& file) {
  return TimesReader(text, kit, file).read();
}

}  // namespace uneven
