// SPDX-License-Identifier: GPL-3.0-or-later
// POSIX files; errno is mapped here and nowhere else.
#include "core/io/file_system.h"

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <cstdio>
#include <cstring>

namespace uneven {
namespace {

Error errnoError(const std::string& doing, const std::string& path) {
  const int code = errno;
  ErrorCode kind = ErrorCode::kInputOutput;
  if (code == ENOENT || code == ENOTDIR) kind = ErrorCode::kNotFound;
  if (code == EACCES || code == EPERM || code == EROFS) kind = ErrorCode::kPermission;
  if (code == ENOSPC || code == EDQUOT || code == EFBIG) kind = ErrorCode::kNoSpace;
  return {kind, doing + ": " + std::strerror(code), {path, 0, 0, std::nullopt}};
}

class Descriptor {
 public:
  explicit Descriptor(int fd) : fd_(fd) {}
  ~Descriptor() {
    if (fd_ >= 0) ::close(fd_);
  }
  Descriptor(const Descriptor&) = delete;
  Descriptor& operator=(const Descriptor&) = delete;
  int get() const { return fd_; }
  bool close() {
    const int fd = fd_;
    fd_ = -1;
    return ::close(fd) == 0;
  }

 private:
  int fd_;
};

}  // namespace

Result<std::string> PosixFileSystem::read(const std::string& path) {
  const Descriptor file(::open(path.c_str(), O_RDONLY | O_CLOEXEC));
  if (file.get() < 0) return errnoError("cannot open it", path);
  struct stat info {};
  if (::fstat(file.get(), &info) != 0) return errnoError("cannot read it", path);
  if (S_ISDIR(info.st_mode)) {
    return Error{ErrorCode::kInputOutput, "is a folder, not a file", {path, 0, 0, std::nullopt}};
  }
  std::string bytes;
  if (info.st_size > 0) bytes.reserve(static_cast<std::size_t>(info.st_size));
  char buffer[65536];
  for (;;) {
    const ssize_t got = ::read(file.get(), buffer, sizeof buffer);
    if (got < 0 && errno == EINTR) continue;
    if (got < 0) return errnoError("cannot read it", path);
    if (got == 0) return bytes;
    bytes.append(buffer, static_cast<std::size_t>(got));
    if (bytes.size() > kFileMost) {
      return Error{ErrorCode::kLimit, "is larger than 1 GiB", {path, 0, 0, std::nullopt}};
    }
  }
}

Status PosixFileSystem::writeDurably(const std::string& path, std::string_view bytes) {
  Descriptor file(::open(path.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0666));
  if (file.get() < 0) return errnoError("cannot write it", path);
  while (!bytes.empty()) {
    const ssize_t put = ::write(file.get(), bytes.data(), bytes.size());
    if (put < 0 && errno == EINTR) continue;
    if (put < 0) return errnoError("cannot write it", path);
    bytes.remove_prefix(static_cast<std::size_t>(put));
  }
  if (::fsync(file.get()) != 0 || !file.close()) return errnoError("cannot write it", path);
  return Done{};
}

Status PosixFileSystem::rename(const std::string& from, const std::string& to) {
  if (::rename(from.c_str(), to.c_str()) != 0) return errnoError("cannot write it", to);
  const std::size_t slash = to.rfind('/');
  const std::string folder = slash == std::string::npos ? "." : to.substr(0, slash + 1);
  const Descriptor dir(::open(folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC));
  // The new file is complete by now; a folder that cannot be synced is not worth a failure.
  if (dir.get() >= 0) ::fsync(dir.get());
  return Done{};
}

Status PosixFileSystem::remove(const std::string& path) {
  if (::unlink(path.c_str()) != 0 && errno != ENOENT) return errnoError("cannot remove it", path);
  return Done{};
}

}  // namespace uneven
