// SPDX-License-Identifier: GPL-3.0-or-later
// POSIX files; errno is mapped here and nowhere else.
#include "core/io/file_system.h"

#include <dirent.h>
#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <array>
#include <atomic>
#include <cerrno>
#include <climits>
#include <csignal>
#include <cstdio>
#include <cstdlib>
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

Error errorAt(const std::string& path, ErrorCode code, std::string message) {
  return {code, std::move(message), {path, 0, 0, std::nullopt}};
}

constexpr int kPipeWaitMs = 10'000;  // for somebody to read

constexpr const char* kNotPlain = "is a device, a pipe or a socket, not a file";

class PosixLock final : public FileLock {
 public:
  explicit PosixLock(int fd) : file_(fd) {}

 private:
  Descriptor file_;
};

// Names of what is being written, where a signal's handler can read them: no locks, no allocation.
class Unfinished {
 public:
  explicit Unfinished(const std::string& path) {
    if (path.size() >= kLongest) return;
    for (Slot& slot : slots()) {
      int is = kFree;
      if (!slot.state.compare_exchange_strong(is, kFilling)) continue;
      std::memcpy(slot.path, path.c_str(), path.size() + 1);
      slot.state = kNamed;
      return;
    }
  }
  static void forget(const std::string& path) {
    for (Slot& slot : slots()) {
      int is = kNamed;
      if (slot.state == kNamed && path == slot.path) slot.state.compare_exchange_strong(is, kFree);
    }
  }
  static void removeAll(int signal) {
    for (Slot& slot : slots()) {
      if (slot.state == kNamed) ::unlink(slot.path);
    }
    ::signal(signal, SIG_DFL);
    ::raise(signal);
  }

 private:
  static constexpr std::size_t kLongest = 4096, kSlots = 64;
  static constexpr int kFree = 0, kFilling = 1, kNamed = 2;
  struct Slot {
    std::atomic<int> state = kFree;
    char path[kLongest] = {};
  };
  static std::array<Slot, kSlots>& slots() {
    static std::array<Slot, kSlots> all;
    return all;
  }
};

// A pipe whose reader has gone is an error of this write, not the end of the program.
class WithoutPipeSignal {
 public:
  WithoutPipeSignal() {
    sigemptyset(&pipe_);
    sigaddset(&pipe_, SIGPIPE);
    pthread_sigmask(SIG_BLOCK, &pipe_, &before_);
  }
  ~WithoutPipeSignal() {
    const timespec now{};
    while (sigtimedwait(&pipe_, nullptr, &now) > 0) {
    }
    pthread_sigmask(SIG_SETMASK, &before_, nullptr);
  }
  WithoutPipeSignal(const WithoutPipeSignal&) = delete;
  WithoutPipeSignal& operator=(const WithoutPipeSignal&) = delete;

 private:
  sigset_t pipe_{}, before_{};
};

// A pipe that nobody reads from would have us wait for ever.
int openToWrite(const std::string& path) {
  constexpr int kTriesMost = 100;
  for (int i = 0;; ++i) {
    const int fd = ::open(path.c_str(), O_WRONLY | O_CLOEXEC | O_NOCTTY | O_NONBLOCK);
    if (fd >= 0) {
      ::fcntl(fd, F_SETFL, ::fcntl(fd, F_GETFL) & ~O_NONBLOCK);
      return fd;
    }
    if (errno != ENXIO || i == kTriesMost) return fd;
    ::usleep(kPipeWaitMs * 1'000 / kTriesMost);
  }
}

bool writeAll(int fd, std::string_view bytes) {
  while (!bytes.empty()) {
    const ssize_t put = ::write(fd, bytes.data(), bytes.size());
    if (put < 0 && errno == EINTR) continue;
    if (put < 0) return false;
    bytes.remove_prefix(static_cast<std::size_t>(put));
  }
  return true;
}

std::string folderOf(const std::string& path) {
  const std::size_t slash = path.rfind('/');
  return slash == std::string::npos ? "." : path.substr(0, slash + 1);
}

// A file that its owner has protected, or that is another user's, is not to be replaced by ours,
// though the folder would let us.
std::string protectionOf(const struct stat& info) {
  if ((info.st_mode & 0222) == 0) return "is write-protected";
  if (info.st_uid != ::geteuid()) return "belongs to another user";
  return {};
}

}  // namespace

bool isSameFile(const std::string& a, const std::string& b) {
  struct stat first {};
  struct stat second {};
  return ::stat(a.c_str(), &first) == 0 && ::stat(b.c_str(), &second) == 0 &&
         first.st_dev == second.st_dev && first.st_ino == second.st_ino;
}

Result<std::string> PosixFileSystem::read(const std::string& path) {
  // Without waiting: a pipe would have us stand here until somebody writes.
  const bool streams = streams_ == Streams::kAllowed;
  const int wait = streams ? 0 : O_NONBLOCK;
  const Descriptor file(::open(path.c_str(), O_RDONLY | O_CLOEXEC | wait));
  if (file.get() < 0) return errnoError("cannot open it", path);
  struct stat info {};
  if (::fstat(file.get(), &info) != 0) return errnoError("cannot read it", path);
  if (S_ISDIR(info.st_mode)) {
    return errorAt(path, ErrorCode::kInputOutput, "is a folder, not a file");
  }
  if (!streams && !S_ISREG(info.st_mode)) {
    return errorAt(path, ErrorCode::kInputOutput, kNotPlain);
  }
  const std::uint64_t most =
      S_ISCHR(info.st_mode) && ::isatty(file.get()) == 0 ? kDeviceMost : kFileMost;
  const Error tooLarge = errorAt(
      path, ErrorCode::kLimit,
      most == kFileMost ? "is larger than 1 GiB" : "is a device that gives more than 64 kB");
  std::string bytes;
  if (S_ISREG(info.st_mode) && info.st_size > 0) {
    if (static_cast<std::uint64_t>(info.st_size) > kFileMost) return tooLarge;
    bytes.reserve(static_cast<std::size_t>(info.st_size));
  }
  char buffer[65536];
  for (;;) {
    const ssize_t got = ::read(file.get(), buffer, sizeof buffer);
    if (got < 0 && errno == EINTR) continue;
    if (got < 0) return errnoError("cannot read it", path);
    if (got == 0) return bytes;
    bytes.append(buffer, static_cast<std::size_t>(got));
    if (bytes.size() > most) return tooLarge;
  }
}

FileInfo PosixFileSystem::inspect(const std::string& path) {
  using Kind = FileInfo::Kind;
  FileInfo out;
  out.path = path;
  struct stat info {};
  if (::stat(path.c_str(), &info) != 0) {
    const bool link = ::lstat(path.c_str(), &info) == 0 && S_ISLNK(info.st_mode);
    out.kind = link ? Kind::kBrokenLink : Kind::kNone;
    return out;
  }
  if (S_ISDIR(info.st_mode)) {
    out.kind = Kind::kFolder;
  } else if (S_ISFIFO(info.st_mode) || S_ISCHR(info.st_mode) || S_ISBLK(info.st_mode)) {
    out.kind = streams_ == Streams::kAllowed ? Kind::kStream : Kind::kOther;
  } else if (!S_ISREG(info.st_mode)) {
    out.kind = Kind::kOther;
  } else {
    char real[PATH_MAX];
    if (::realpath(path.c_str(), real) == nullptr || !isSameFile(path, real)) {
      out.kind = Kind::kOther;  // as /dev/stdout, where the file behind it has been removed
      return out;
    }
    out.kind = Kind::kPlain;
    out.path = real;
    out.mode = info.st_mode & 07777;
    out.stamp = std::to_string(info.st_ino) + '-' + std::to_string(info.st_size) + '-' +
                std::to_string(info.st_mtim.tv_sec) + '.' + std::to_string(info.st_mtim.tv_nsec);
    out.whyProtected = protectionOf(info);
  }
  return out;
}

Status PosixFileSystem::writeNew(const std::string& path, std::string_view bytes,
                                 std::optional<unsigned> mode) {
  // With O_EXCL a name that stands there already, be it a link, is an error.
  constexpr int kFlags = O_WRONLY | O_CREAT | O_EXCL | O_NOFOLLOW | O_CLOEXEC;
  const Unfinished named(path);
  Descriptor file(::open(path.c_str(), kFlags, mode ? 0600 : 0666));
  if (file.get() < 0) {
    const Error error = errnoError("cannot write it", path);
    Unfinished::forget(path);
    return error;
  }
  const bool done = ::flock(file.get(), LOCK_EX | LOCK_NB) == 0 &&
                    (!mode || ::fchmod(file.get(), *mode) == 0) && writeAll(file.get(), bytes) &&
                    ::fsync(file.get()) == 0 && file.close();
  if (done) return Done{};
  const Error error = errnoError("cannot write it", path);
  ::unlink(path.c_str());
  Unfinished::forget(path);
  return error;
}

Status PosixFileSystem::writeThrough(const std::string& path, std::string_view bytes) {
  const WithoutPipeSignal quiet;
  Descriptor file(openToWrite(path));
  if (file.get() < 0 && errno == ENXIO)
    return errorAt(path, ErrorCode::kInputOutput, "is a pipe that nobody reads from");
  if (file.get() < 0 || !writeAll(file.get(), bytes) || !file.close()) {
    return errnoError("cannot write it", path);
  }
  return Done{};
}

Status PosixFileSystem::rename(const std::string& from, const std::string& to) {
  if (::rename(from.c_str(), to.c_str()) != 0) return errnoError("cannot write it", to);
  Unfinished::forget(from);
  const Descriptor dir(::open(folderOf(to).c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC));
  // The new file is complete by now; a folder that cannot be synced is not worth a failure.
  if (dir.get() >= 0) ::fsync(dir.get());
  return Done{};
}

Status PosixFileSystem::link(const std::string& from, const std::string& to) {
  if (::link(from.c_str(), to.c_str()) != 0) return errnoError("cannot link it", to);
  const Unfinished named(to);
  return Done{};
}

Status PosixFileSystem::remove(const std::string& path) {
  if (::unlink(path.c_str()) != 0 && errno != ENOENT) return errnoError("cannot remove it", path);
  Unfinished::forget(path);
  return Done{};
}

std::vector<std::string> PosixFileSystem::namesIn(const std::string& folder,
                                                  std::string_view start) {
  std::vector<std::string> out;
  const std::unique_ptr<DIR, int (*)(DIR*)> dir(::opendir(folder.c_str()), ::closedir);
  if (!dir) return out;
  while (const dirent* entry = ::readdir(dir.get())) {
    if (std::string_view(entry->d_name).starts_with(start)) out.emplace_back(entry->d_name);
  }
  std::sort(out.begin(), out.end());
  return out;
}

void removeUnfinishedWhenKilled() {
  for (const int signal : {SIGTERM, SIGINT, SIGHUP}) {
    if (::signal(signal, Unfinished::removeAll) == SIG_IGN) ::signal(signal, SIG_IGN);
  }
}

std::unique_ptr<FileLock> PosixFileSystem::tryLock(const std::string& path) {
  constexpr int kFlags = O_RDWR | O_CREAT | O_NOFOLLOW | O_NONBLOCK | O_CLOEXEC;
  const int fd = ::open(path.c_str(), kFlags, 0600);
  if (fd < 0) return nullptr;
  auto lock = std::make_unique<PosixLock>(fd);
  struct stat held {};
  struct stat named {};
  // Whoever held it before may have removed it since: then it is not the file of that name any
  // more.
  const bool ours = ::flock(fd, LOCK_EX | LOCK_NB) == 0 && ::fstat(fd, &held) == 0 &&
                    ::lstat(path.c_str(), &named) == 0 && held.st_ino == named.st_ino;
  if (!ours) return nullptr;
  return lock;
}

}  // namespace uneven
