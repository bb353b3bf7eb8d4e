// SPDX-License-Identifier: GPL-3.0-or-later
// SQLite as values and Results: one connection, statements that let go of themselves.
//
// Errors: kSyntax where the file is damaged or no database, kVersion as the caller sees it,
// kNoSpace, kPermission, else kInputOutput; each with the file's name. Threads: a connection
// belongs to one thread at a time.
#pragma once

#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"

struct sqlite3;
struct sqlite3_stmt;

namespace uneven {

class Database {
 public:
  enum class Mode : std::uint8_t { kRead, kWrite };
  static Result<Database> open(const std::string& file, Mode mode);

  Status run(const std::string& sql);  // one or more statements, without rows
  Error error(int code) const;         // what went wrong last
  sqlite3* handle() const { return handle_.get(); }
  const std::string& file() const { return file_; }

 private:
  struct Close {
    void operator()(sqlite3* handle) const;
  };
  std::unique_ptr<sqlite3, Close> handle_;
  std::string file_;
};

// What is asked of it, once; kept while it is asked often.
//
//   Query query(database, "SELECT name FROM people WHERE age > ?");
//   query.put(30);
//   while (query.next()) names.push_back(query.text(0));
//   if (query.error()) …
class Query {
 public:
  Query(const Database& database, std::string_view sql);

  Query& put(std::int64_t value);
  Query& put(double value);
  Query& put(std::string_view value);
  Query& put(const std::optional<double>& value);

  bool next();    // a row; false: no more of them, or an error
  Status done();  // runs it to its end; it can be asked again
  const std::optional<Error>& error() const { return error_; }

  std::int64_t whole(int column) const;
  double number(int column) const;
  std::optional<double> maybe(int column) const;
  std::string text(int column) const;

 private:
  void check(int code);
  struct Finish {
    void operator()(sqlite3_stmt* statement) const;
  };
  const Database& database_;
  std::unique_ptr<sqlite3_stmt, Finish> statement_;
  int at_ = 0;
  std::optional<Error> error_;
};

}  // namespace uneven
