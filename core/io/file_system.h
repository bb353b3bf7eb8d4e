// SPDX-License-Identifier: GPL-3.0-or-later
// The files of the machine, behind an interface so that tests can make a device fail.
#pragma once

#include <string>
#include <string_view>

#include "core/base/result.h"

namespace uneven {

class FileSystem {
 public:
  virtual ~FileSystem() = default;

  // Errors of all calls: kNotFound, kPermission, kNoSpace, kInputOutput, with the file's name.
  virtual Result<std::string> read(const std::string& path) = 0;
  // Creates or truncates, writes all, and waits until the device has it.
  virtual Status writeDurably(const std::string& path, std::string_view bytes) = 0;
  // Replaces `to` in one step, and waits until the folder has it.
  virtual Status rename(const std::string& from, const std::string& to) = 0;
  // Not there is no error.
  virtual Status remove(const std::string& path) = 0;
};

// Files larger than this are refused before they are read.
inline constexpr std::uint64_t kFileMost = std::uint64_t{1} << 30;

// The machine's own. Threads: keeps no state.
class PosixFileSystem final : public FileSystem {
 public:
  Result<std::string> read(const std::string& path) override;
  Status writeDurably(const std::string& path, std::string_view bytes) override;
  Status rename(const std::string& from, const std::string& to) override;
  Status remove(const std::string& path) override;
};

}  // namespace uneven
