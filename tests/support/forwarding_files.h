// SPDX-License-Identifier: GPL-3.0-or-later
// The machine's files, to be overridden where a test wants a device to fail.
#pragma once

#include "core/io/file_system.h"

namespace uneven::testing {

class ForwardingFiles : public FileSystem {
 public:
  Result<std::string> read(const std::string& path) override { return real_.read(path); }
  FileInfo inspect(const std::string& path) override { return real_.inspect(path); }
  Status writeNew(const std::string& path, std::string_view bytes,
                  std::optional<unsigned> mode) override {
    return real_.writeNew(path, bytes, mode);
  }
  Status writeThrough(const std::string& path, std::string_view bytes) override {
    return real_.writeThrough(path, bytes);
  }
  Status rename(const std::string& from, const std::string& to) override {
    return real_.rename(from, to);
  }
  Status link(const std::string& from, const std::string& to) override {
    return real_.link(from, to);
  }
  Status remove(const std::string& path) override { return real_.remove(path); }
  std::vector<std::string> namesIn(const std::string& folder, std::string_view start) override {
    return real_.namesIn(folder, start);
  }
  std::unique_ptr<FileLock> tryLock(const std::string& path) override {
    return real_.tryLock(path);
  }

 private:
  PosixFileSystem real_;
};

}  // namespace uneven::testing
