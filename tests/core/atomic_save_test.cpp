// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/io/atomic_save.h"

#include <gtest/gtest.h>
#include <sys/stat.h>
#include <unistd.h>

#include "tests/support/process.h"

namespace uneven {
namespace {

using testing::readText;
using testing::TemporaryFolder;
using testing::writeText;

// A device that is full after some bytes, or that fails as the file takes its place.
class FailingDevice final : public FileSystem {
 public:
  std::size_t room = 1'000'000;
  bool renameFails = false;

  Result<std::string> read(const std::string& path) override { return real_.read(path); }
  Status writeDurably(const std::string& path, std::string_view bytes) override {
    const Status written = real_.writeDurably(path, bytes.substr(0, room));
    if (!written || bytes.size() <= room) return written;
    return Error{ErrorCode::kNoSpace, "no space left on device", {path, 0, 0, std::nullopt}};
  }
  Status rename(const std::string& from, const std::string& to) override {
    if (renameFails) return Error{ErrorCode::kInputOutput, "failed", {to, 0, 0, std::nullopt}};
    return real_.rename(from, to);
  }
  Status remove(const std::string& path) override { return real_.remove(path); }

 private:
  PosixFileSystem real_;
};

TEST(AtomicSave, ReplacesTheFileAndLeavesNothingElse) {
  const TemporaryFolder folder;
  PosixFileSystem files;
  ASSERT_TRUE(saveAtomically(files, folder.file("a"), "one"));
  ASSERT_TRUE(saveAtomically(files, folder.file("a"), "two"));
  EXPECT_EQ(readText(folder.file("a")), "two");
  EXPECT_EQ(folder.fileCount(), 1U);
}

TEST(AtomicSave, AFailingDeviceLeavesTheOldFile) {
  const TemporaryFolder folder;
  writeText(folder.file("a"), "old");
  FailingDevice full;
  full.room = 2;
  const Status status = saveAtomically(full, folder.file("a"), "new and longer");
  ASSERT_FALSE(status);
  EXPECT_EQ(status.error().code, ErrorCode::kNoSpace);
  EXPECT_EQ(status.error().where.file, folder.file("a"));
  FailingDevice stuck;
  stuck.renameFails = true;
  EXPECT_FALSE(saveAtomically(stuck, folder.file("a"), "new"));
  EXPECT_EQ(readText(folder.file("a")), "old");
  EXPECT_EQ(folder.fileCount(), 1U) << "nothing is left beside it";
}

TEST(AtomicSave, SaysWhyItCannot) {
  const TemporaryFolder folder;
  PosixFileSystem files;
  EXPECT_EQ(saveAtomically(files, folder.file("no/such"), "x").error().code, ErrorCode::kNotFound);
  EXPECT_EQ(saveAtomically(files, folder.file(""), "x").error().message, "is a folder, not a file");
  EXPECT_EQ(files.read(folder.file("none")).error().code, ErrorCode::kNotFound);
  EXPECT_EQ(files.read(folder.file("")).error().code, ErrorCode::kInputOutput);
}

TEST(AtomicSave, FollowsALinkAndKeepsPermissions) {
  const TemporaryFolder folder;
  writeText(folder.file("real"), "old");
  ::chmod(folder.file("real").c_str(), 0640);
  ASSERT_EQ(::symlink(folder.file("real").c_str(), folder.file("link").c_str()), 0);
  PosixFileSystem files;
  ASSERT_TRUE(saveAtomically(files, folder.file("link"), "new"));
  EXPECT_EQ(readText(folder.file("real")), "new");
  EXPECT_TRUE(std::filesystem::is_symlink(folder.file("link")));
  struct stat info {};
  ASSERT_EQ(::stat(folder.file("real").c_str(), &info), 0);
  EXPECT_EQ(info.st_mode & 0777, 0640U);
}

}  // namespace
}  // namespace uneven
