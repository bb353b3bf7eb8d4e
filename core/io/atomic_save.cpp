// SPDX-License-Identifier: GPL-3.0-or-later
// Atomic save.
#include "core/io/atomic_save.h"

#include <unistd.h>

#include <filesystem>

namespace uneven {

Status saveAtomically(FileSystem& files, const std::string& path, std::string_view bytes) {
  std::error_code ignored;
  const std::filesystem::path real = std::filesystem::canonical(path, ignored);
  const std::string target = ignored ? path : real.string();
  if (std::filesystem::is_directory(target, ignored)) {
    return Error{ErrorCode::kInputOutput, "is a folder, not a file", {path, 0, 0, std::nullopt}};
  }
  const std::string beside = target + ".saving-" + std::to_string(::getpid());
  Status status = files.writeDurably(beside, bytes);
  if (status) {
    const auto old = std::filesystem::status(target, ignored);
    if (!ignored && std::filesystem::is_regular_file(old)) {
      std::filesystem::permissions(beside, old.permissions(), ignored);
    }
    status = files.rename(beside, target);
  }
  if (status) return Done{};
  (void)files.remove(beside);
  Error error = status.error();
  error.where.file = path;
  return error;
}

}  // namespace uneven
