// SPDX-License-Identifier: GPL-3.0-or-later
// Running other programs, and a folder that vanishes with the test.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

namespace uneven::testing {

struct ProcessResult {
  int exitCode = -1;
  std::string out;
  std::string err;
};
// Without a shell. exitCode is 128 + the signal for one that was killed.
ProcessResult runProcess(const std::vector<std::string>& words);

class TemporaryFolder {
 public:
  TemporaryFolder();
  ~TemporaryFolder();
  TemporaryFolder(const TemporaryFolder&) = delete;
  TemporaryFolder& operator=(const TemporaryFolder&) = delete;
  std::string file(const std::string& name) const { return (path_ / name).string(); }
  std::size_t fileCount() const;

 private:
  std::filesystem::path path_;
};

std::string readText(const std::string& file);
void writeText(const std::string& file, const std::string& text);

}  // namespace uneven::testing
