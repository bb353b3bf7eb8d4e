// SPDX-License-Identifier: GPL-3.0-or-later
// Saving so that a file is either the old one or the new one, whatever happens in between.
#pragma once

#include <string>
#include <string_view>

#include "core/io/file_system.h"

namespace uneven {

// Writes beside the file, waits for the device, then takes the file's place in one step. On an
// error the file is as it was and nothing is left beside it; what saves that were killed have left
// beside it is cleared away. A link is followed, so that the file it points to is replaced; the old
// file's permissions are kept from the first byte on.
//
// Only plain files are replaced. A device or a pipe is written through as it is. What else stands
// there is refused with kPermission or kInputOutput: a folder, a socket, a link to nothing, a file
// that is write-protected or another user's.
Status saveAtomically(FileSystem& files, const std::string& path, std::string_view bytes);

// Several files that belong together: all are written beside their places first, then take them.
// What has not been committed when this ends leaves no trace. Errors: as for saveAtomically.
class AtomicSaves {
 public:
  explicit AtomicSaves(FileSystem& files) : files_(files) {}
  AtomicSaves(const AtomicSaves&) = delete;
  AtomicSaves& operator=(const AtomicSaves&) = delete;
  ~AtomicSaves();

  Status stage(const std::string& path, std::string bytes);
  Status commit();

 private:
  struct Staged {
    std::string path;    // as it was given
    std::string place;   // links followed
    std::string beside;  // empty: a device or pipe
    std::string bytes;   // for that
  };
  FileSystem& files_;
  std::vector<Staged> staged_;
};

// An error where writing `out` would destroy what is read from `in`.
Status refuseSameFile(const std::string& in, const std::string& out);

}  // namespace uneven
