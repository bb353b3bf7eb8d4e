// SPDX-License-Identifier: GPL-3.0-or-later
// SQLite.
#include "store/sqlite.h"

#include <sqlite3.h>

namespace uneven {
namespace {

constexpr int kWaitMs = 2'000;  // for another program that writes

ErrorCode codeOf(int code) {
  switch (code & 0xFF) {
    case SQLITE_CORRUPT:
    case SQLITE_NOTADB:
      return ErrorCode::kSyntax;
    case SQLITE_FULL:
      return ErrorCode::kNoSpace;
    case SQLITE_PERM:
    case SQLITE_READONLY:
    case SQLITE_AUTH:
      return ErrorCode::kPermission;
    case SQLITE_CANTOPEN:
      return ErrorCode::kNotFound;
    default:
      return ErrorCode::kInputOutput;
  }
}

}  // namespace

void Database::Close::operator()(sqlite3* handle) const {
  sqlite3_close_v2(handle);
}

Result<Database> Database::open(const std::string& file, Mode mode) {
  Database out;
  out.file_ = file;
  sqlite3* handle = nullptr;
  const int flags =
      (mode == Mode::kRead ? SQLITE_OPEN_READONLY : SQLITE_OPEN_READWRITE | SQLITE_OPEN_CREATE) |
      SQLITE_OPEN_NOMUTEX;
  const int code = sqlite3_open_v2(file.c_str(), &handle, flags, nullptr);
  out.handle_.reset(handle);
  if (code != SQLITE_OK) return out.error(code);
  sqlite3_busy_timeout(handle, kWaitMs);
  return out;
}

Error Database::error(int code) const {
  const char* message = handle_ == nullptr ? sqlite3_errstr(code) : sqlite3_errmsg(handle_.get());
  return Error{codeOf(code), std::string("the practice log: ") + message, {file_, 0, 0, {}}};
}

Status Database::run(const std::string& sql) {
  const int code = sqlite3_exec(handle_.get(), sql.c_str(), nullptr, nullptr, nullptr);
  if (code != SQLITE_OK) return error(code);
  return Done{};
}

void Query::Finish::operator()(sqlite3_stmt* statement) const {
  sqlite3_finalize(statement);
}

Query::Query(const Database& database, std::string_view sql) : database_(database) {
  sqlite3_stmt* statement = nullptr;
  check(sqlite3_prepare_v2(database.handle(), sql.data(), static_cast<int>(sql.size()), &statement,
                           nullptr));
  statement_.reset(statement);
}

void Query::check(int code) {
  if (code != SQLITE_OK && !error_) error_ = database_.error(code);
}

Query& Query::put(std::int64_t value) {
  if (!error_) check(sqlite3_bind_int64(statement_.get(), ++at_, value));
  return *this;
}

Query& Query::put(double value) {
  if (!error_) check(sqlite3_bind_double(statement_.get(), ++at_, value));
  return *this;
}

Query& Query::put(std::string_view value) {
  if (!error_) {
    check(sqlite3_bind_text(statement_.get(), ++at_, value.data(), static_cast<int>(value.size()),
                            SQLITE_TRANSIENT));
  }
  return *this;
}

Query& Query::put(const std::optional<double>& value) {
  if (value) return put(*value);
  if (!error_) check(sqlite3_bind_null(statement_.get(), ++at_));
  return *this;
}

bool Query::next() {
  if (error_) return false;
  const int code = sqlite3_step(statement_.get());
  if (code == SQLITE_ROW) return true;
  if (code != SQLITE_DONE) error_ = database_.error(code);
  return false;
}

Status Query::done() {
  while (next()) {
  }
  at_ = 0;
  if (statement_ != nullptr) sqlite3_reset(statement_.get());
  if (error_) return *error_;
  return Done{};
}

std::int64_t Query::whole(int column) const {
  return sqlite3_column_int64(statement_.get(), column);
}

double Query::number(int column) const {
  return sqlite3_column_double(statement_.get(), column);
}

std::optional<double> Query::maybe(int column) const {
  if (sqlite3_column_type(statement_.get(), column) == SQLITE_NULL) return std::nullopt;
  return number(column);
}

std::string Query::text(int column) const {
  const unsigned char* at = sqlite3_column_text(statement_.get(), column);
  const int size = sqlite3_column_bytes(statement_.get(), column);
  return at == nullptr
             ? std::string()
             : std::string(reinterpret_cast<const char*>(at), static_cast<std::size_t>(size));
}

}  // namespace uneven
