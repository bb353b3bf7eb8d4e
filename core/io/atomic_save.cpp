// SPDX-License-Identifier: GPL-3.0-or-later
// Atomic save.
#include "core/io/atomic_save.h"

#include <fmt/format.h>
#include <unistd.h>

#include <atomic>
#include <filesystem>
#include <utility>

namespace uneven {
namespace {

constexpr std::string_view kSaving = ".saving-";

struct Folder {
  std::string path;  // with its slash; empty: where we are
  std::string name;  // in it
};
Folder split(const std::string& path) {
  const std::size_t slash = path.rfind('/');
  if (slash == std::string::npos) return {{}, path};
  return {path.substr(0, slash + 1), path.substr(slash + 1)};
}

// Short, however long the file's own name is, and its own: other files are saved here too.
std::string startOfBeside(const std::string& name) {
  std::uint64_t hash = 0xCBF29CE484222325ULL;  // FNV-1a
  for (const char c : name) hash = (hash ^ static_cast<unsigned char>(c)) * 0x100000001B3ULL;
  return fmt::format("{}{:016x}-", kSaving, hash);
}

// A save holds a lock on what it writes: what nobody holds was left by one that was killed.
void clearLeft(FileSystem& files, const Folder& folder) {
  const std::string where = folder.path.empty() ? "." : folder.path;
  for (const std::string& start :
       {startOfBeside(folder.name), folder.name + std::string(kSaving)}) {
    for (const std::string& left : files.namesIn(where, start)) {
      // Ours end in numbers; a file of that beginning may be somebody's own.
      if (left.find_first_not_of("0123456789-", start.size()) != std::string::npos) continue;
      if (const auto lock = files.tryLock(folder.path + left)) {
        (void)files.remove(folder.path + left);
      }
    }
  }
}

std::optional<std::string> refusalOf(const FileInfo& info) {
  switch (info.kind) {
    case FileInfo::Kind::kFolder:
      return "is a folder, not a file";
    case FileInfo::Kind::kBrokenLink:
      return "is a link to a file that does not exist; it is not written through";
    case FileInfo::Kind::kOther:
      return "is a device, a pipe or a socket, not a file";
    default:
      return std::nullopt;
  }
}

// Where a file is to go, once it is clear that it may.
Result<FileInfo> placeOf(FileSystem& files, const std::string& path) {
  FileInfo info = files.inspect(path);
  const auto refused = [&](ErrorCode code, const std::string& why) {
    return Error{code, why, {path, 0, 0, std::nullopt}};
  };
  if (const auto why = refusalOf(info)) return refused(ErrorCode::kInputOutput, *why);
  if (info.kind == FileInfo::Kind::kStream) return info;
  if (!info.whyProtected.empty()) {
    return refused(ErrorCode::kPermission,
                   info.whyProtected + " and was not replaced; save under another name");
  }
  if (split(info.path).name.empty()) {
    return refused(ErrorCode::kInputOutput, "is a folder, not a file");
  }
  return info;
}

std::string freshBeside(const Folder& folder) {
  static std::atomic<unsigned> count{0};
  return fmt::format("{}{}{}-{}", folder.path, startOfBeside(folder.name), ::getpid(), ++count);
}

Status writeBeside(FileSystem& files, const std::string& beside, const FileInfo& info,
                   std::string_view bytes) {
  const bool replaces = info.kind == FileInfo::Kind::kPlain;
  return files.writeNew(beside, bytes, replaces ? std::optional(info.mode) : std::nullopt);
}

}  // namespace

Status saveAtomically(FileSystem& files, const std::string& path, std::string_view bytes) {
  const Result<FileInfo> info = placeOf(files, path);
  if (!info) return info.error();
  if (info->kind == FileInfo::Kind::kStream) return files.writeThrough(path, bytes);
  const Folder folder = split(info->path);
  clearLeft(files, folder);
  Error error;
  // Another save of the same file may clear ours away in the moment when nobody holds it.
  for (int attempt = 0; attempt < 3; ++attempt) {
    const std::string beside = freshBeside(folder);
    Status status = writeBeside(files, beside, *info, bytes);
    const bool written = static_cast<bool>(status);
    if (status) status = files.rename(beside, info->path);
    if (status) return Done{};
    (void)files.remove(beside);
    error = status.error();
    if (!written || error.code != ErrorCode::kNotFound) break;
  }
  error.where.file = path;
  return error;
}

void clearUnfinished(FileSystem& files, const std::string& path) {
  clearLeft(files, split(files.inspect(path).path));
}

AtomicSaves::~AtomicSaves() {
  for (const Staged& staged : staged_) {
    if (!staged.beside.empty()) (void)files_.remove(staged.beside);
    if (!staged.before.empty()) (void)files_.remove(staged.before);
  }
}

Status AtomicSaves::stage(const std::string& path, std::string bytes) {
  const Result<FileInfo> info = placeOf(files_, path);
  if (!info) return info.error();
  if (info->kind == FileInfo::Kind::kStream) {
    staged_.push_back({path, path, {}, std::move(bytes), {}, false});
    return Done{};
  }
  const Folder folder = split(info->path);
  clearLeft(files_, folder);
  Staged staged{path, info->path, freshBeside(folder), {}, {}, false};
  const Status written = writeBeside(files_, staged.beside, *info, bytes);
  if (!written) {
    Error error = written.error();
    error.where.file = path;
    return error;
  }
  staged_.push_back(std::move(staged));
  return Done{};
}

void AtomicSaves::takeBack() {
  for (Staged& staged : staged_) {
    if (!std::exchange(staged.placed, false)) continue;
    if (staged.before.empty()) {
      (void)files_.remove(staged.place);
    } else {
      (void)files_.rename(std::exchange(staged.before, {}), staged.place);
    }
  }
}

Status AtomicSaves::commit() {
  const auto failed = [&](const Staged& staged, Error error) {
    takeBack();
    error.where.file = staged.path;
    return error;
  };
  for (const Staged& staged : staged_) {
    if (!staged.beside.empty()) continue;
    if (const Status put = files_.writeThrough(staged.place, staged.bytes); !put)
      return failed(staged, put.error());
  }
  for (Staged& staged : staged_) {
    if (staged.beside.empty()) continue;
    const bool replaces = files_.inspect(staged.place).kind == FileInfo::Kind::kPlain;
    const std::string aside = freshBeside(split(staged.place));
    // A second name for what stands there. Not every file system has them: then there is no way
    // back.
    if (replaces && files_.link(staged.place, aside)) staged.before = aside;
    if (const Status put = files_.rename(staged.beside, staged.place); !put)
      return failed(staged, put.error());
    staged.beside.clear();
    staged.placed = !replaces || !staged.before.empty();
  }
  for (const Staged& staged : staged_) {
    if (!staged.before.empty()) (void)files_.remove(staged.before);
  }
  staged_.clear();
  return Done{};
}

namespace {

// Devices can be written to twice; of files that are not there yet the names tell.
bool isOneFile(const std::string& a, const std::string& b) {
  std::error_code no;
  if (std::filesystem::exists(a, no) || std::filesystem::exists(b, no))
    return isSameFile(a, b) && std::filesystem::is_regular_file(a, no);
  return std::filesystem::absolute(a, no).lexically_normal() ==
         std::filesystem::absolute(b, no).lexically_normal();
}

}  // namespace

Status refuseOverwriting(const std::vector<std::string>& ins,
                         const std::vector<std::string>& outs) {
  const auto error = [](const std::string& out, const char* why) {
    return Error{ErrorCode::kUsage, why, {out, 0, 0, std::nullopt}};
  };
  for (std::size_t i = 0; i < outs.size(); ++i) {
    if (outs[i].empty()) continue;
    for (const std::string& in : ins) {
      if (!in.empty() && isSameFile(in, outs[i])) {
        return error(outs[i],
                     "is what is read; it would be destroyed, so write under another name");
      }
    }
    for (std::size_t j = 0; j < i; ++j) {
      if (!outs[j].empty() && isOneFile(outs[j], outs[i]))
        return error(outs[i], "would be written twice, so write under another name");
    }
  }
  return Done{};
}

}  // namespace uneven
