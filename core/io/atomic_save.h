// SPDX-License-Identifier: GPL-3.0-or-later
// Saving so that a file is either the old one or the new one, whatever happens in between.
#pragma once

#include <string>
#include <string_view>
#include <vector>

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

// Clears away what saves of this file that were killed have left beside it; what somebody is
// writing stays.
void clearUnfinished(FileSystem& files, const std::string& path);

// Several files that belong together: all are written beside their places first, then take them.
// Devices and pipes, which may fail half-way, get their bytes before any file takes its place;
// where a file cannot take its own, those that have are put back as they were. What has not been
// committed when this ends leaves no trace. Errors: as for saveAtomically.
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
    std::string before;  // once it has taken its place: what stood there, aside; empty: nothing
    bool placed = false;
  };
  void takeBack();
  FileSystem& files_;
  std::vector<Staged> staged_;
};

// Before anything is written: an error where one of `outs` is a file that is read from `ins`, by
// whatever links, or where two of them are one file. Empty names are passed over. Errors: kUsage,
// with the name that must be another.
Status refuseOverwriting(const std::vector<std::string>& ins, const std::vector<std::string>& outs);

}  // namespace uneven
