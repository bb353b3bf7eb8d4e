// SPDX-License-Identifier: GPL-3.0-or-later
// The files of the machine, behind an interface so that tests can make a device fail.
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"

namespace uneven {

// What stands under a path, links followed.
struct FileInfo {
  enum class Kind : std::uint8_t {
    kNone,    // nothing
    kPlain,   // a file
    kStream,  // a device or a pipe: bytes go through it
    kFolder,
    kBrokenLink,  // a link to nothing
    kOther,       // a socket, or what is gone while it is open
  };
  Kind kind = Kind::kNone;
  std::string path;          // of a plain file: without links
  unsigned mode = 0;         // of a plain file: its permissions
  std::string stamp;         // of a plain file: another once it has been written
  std::string whyProtected;  // of a plain file that must not be replaced; empty: it may
};

// Held as long as it lives; the system lets go of it when its process ends, however it ends.
class FileLock {
 public:
  virtual ~FileLock() = default;
};

class FileSystem {
 public:
  virtual ~FileSystem() = default;

  // Errors of all calls: kNotFound, kPermission, kNoSpace, kInputOutput, kLimit, with the file's
  // name.
  virtual Result<std::string> read(const std::string& path) = 0;
  virtual FileInfo inspect(const std::string& path) = 0;
  // A new file beside others, locked while it is written; writes all, and waits until the device
  // has it. `mode`: its permissions from the first byte on; nothing: the user's usual ones. An
  // error leaves no file.
  virtual Status writeNew(const std::string& path, std::string_view bytes,
                          std::optional<unsigned> mode) = 0;
  // Through a device or a pipe.
  virtual Status writeThrough(const std::string& path, std::string_view bytes) = 0;
  // Replaces `to` in one step, and waits until the folder has it.
  virtual Status rename(const std::string& from, const std::string& to) = 0;
  // A second name for a file. Not every file system has them.
  virtual Status link(const std::string& from, const std::string& to) = 0;
  // Not there is no error.
  virtual Status remove(const std::string& path) = 0;
  // Names in the folder that begin so.
  virtual std::vector<std::string> namesIn(const std::string& folder, std::string_view start) = 0;
  // Makes the file where there is none. Nothing: somebody holds it.
  virtual std::unique_ptr<FileLock> tryLock(const std::string& path) = 0;
};

// Files larger than this are refused before they are read.
inline constexpr std::uint64_t kFileMost = std::uint64_t{1} << 30;
// A device gives at most this much: /dev/zero never ends.
inline constexpr std::uint64_t kDeviceMost = std::uint64_t{1} << 16;

// From here on SIGTERM, SIGINT and SIGHUP take away what this process is writing beside its places,
// before they end it. What was ignored when the program began, as under nohup, still is. Threads:
// once, at the start of main.
void removeUnfinishedWhenKilled();

// Whether both paths lead to one file, by whatever links.
bool isSameFile(const std::string& a, const std::string& b);

// The machine's own. Threads: keeps no state.
class PosixFileSystem final : public FileSystem {
 public:
  // Scripts read from pipes and write to devices; a window that did would wait for whoever is at
  // the other end, so for it all but plain files are errors.
  enum class Streams : std::uint8_t { kRefused, kAllowed };
  explicit PosixFileSystem(Streams streams = Streams::kRefused) : streams_(streams) {}

  Result<std::string> read(const std::string& path) override;
  FileInfo inspect(const std::string& path) override;
  Status writeNew(const std::string& path, std::string_view bytes,
                  std::optional<unsigned> mode) override;
  Status writeThrough(const std::string& path, std::string_view bytes) override;
  Status rename(const std::string& from, const std::string& to) override;
  Status link(const std::string& from, const std::string& to) override;
  Status remove(const std::string& path) override;
  std::vector<std::string> namesIn(const std::string& folder, std::string_view start) override;
  std::unique_ptr<FileLock> tryLock(const std::string& path) override;

 private:
  Streams streams_;
};

}  // namespace uneven
