// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/io/atomic_save.h"

#include <fcntl.h>
#include <gtest/gtest.h>
#include <sys/socket.h>
#include <sys/stat.h>
#include <sys/un.h>
#include <unistd.h>

#include <thread>

#include "tests/support/forwarding_files.h"
#include "tests/support/process.h"

namespace uneven {
namespace {

using testing::readText;
using testing::TemporaryFolder;
using testing::writeText;

// A device that is full after some bytes, or that fails as the file takes its place.
class FailingDevice final : public testing::ForwardingFiles {
 public:
  std::size_t room = 1'000'000;
  bool renameFails = false;

  Status writeNew(const std::string& path, std::string_view bytes,
                  std::optional<unsigned> mode) override {
    const Status written = ForwardingFiles::writeNew(path, bytes.substr(0, room), mode);
    if (!written || bytes.size() <= room) return written;
    return Error{ErrorCode::kNoSpace, "no space left on device", {path, 0, 0, std::nullopt}};
  }
  Status rename(const std::string& from, const std::string& to) override {
    if (renameFails) return Error{ErrorCode::kInputOutput, "failed", {to, 0, 0, std::nullopt}};
    return ForwardingFiles::rename(from, to);
  }
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

unsigned modeOf(const std::string& path) {
  struct stat info {};
  return ::stat(path.c_str(), &info) == 0 ? info.st_mode & 07777 : 0;
}

TEST(AtomicSave, WritesThroughDevicesAndPipesAsTheyAre) {
  const TemporaryFolder folder;
  PosixFileSystem files(PosixFileSystem::Streams::kAllowed);
  ASSERT_EQ(::mkfifo(folder.file("pipe").c_str(), 0600), 0);
  std::string got;
  std::thread reader([&] { got = readText(folder.file("pipe")); });
  EXPECT_TRUE(saveAtomically(files, folder.file("pipe"), "through"));
  reader.join();
  EXPECT_EQ(got, "through");
  struct stat info {};
  ASSERT_EQ(::stat(folder.file("pipe").c_str(), &info), 0);
  EXPECT_TRUE(S_ISFIFO(info.st_mode)) << "it is still a pipe";
  ASSERT_EQ(::symlink("/dev/null", folder.file("null").c_str()), 0);
  EXPECT_TRUE(saveAtomically(files, folder.file("null"), "x"));
  ASSERT_EQ(::stat("/dev/null", &info), 0);
  EXPECT_TRUE(S_ISCHR(info.st_mode));
  // A window would stand still before a pipe.
  PosixFileSystem window;
  EXPECT_EQ(saveAtomically(window, folder.file("pipe"), "x").error().message,
            "is a device, a pipe or a socket, not a file");
  EXPECT_EQ(window.read(folder.file("pipe")).error().message,
            "is a device, a pipe or a socket, not a file");
}

TEST(AtomicSave, RefusesWhatIsNotToBeReplaced) {
  const TemporaryFolder folder;
  PosixFileSystem files(PosixFileSystem::Streams::kAllowed);
  ASSERT_EQ(::symlink("nowhere", folder.file("dangling").c_str()), 0);
  EXPECT_EQ(saveAtomically(files, folder.file("dangling"), "x").error().code,
            ErrorCode::kInputOutput);
  EXPECT_TRUE(std::filesystem::is_symlink(folder.file("dangling")));
  EXPECT_FALSE(std::filesystem::exists(folder.file("nowhere")));

  writeText(folder.file("kept"), "old");
  ::chmod(folder.file("kept").c_str(), 0444);
  const Status kept = saveAtomically(files, folder.file("kept"), "x");
  EXPECT_EQ(kept.error().code, ErrorCode::kPermission);
  EXPECT_EQ(kept.error().message,
            "is write-protected and was not replaced; save under another name");
  EXPECT_EQ(readText(folder.file("kept")), "old");

  const int socket = ::socket(AF_UNIX, SOCK_STREAM, 0);
  sockaddr_un address{};
  address.sun_family = AF_UNIX;
  folder.file("s").copy(address.sun_path, sizeof address.sun_path - 1);
  ASSERT_EQ(::bind(socket, reinterpret_cast<sockaddr*>(&address), sizeof address), 0);
  EXPECT_FALSE(saveAtomically(files, folder.file("s"), "x"));
  ::close(socket);
  EXPECT_EQ(folder.fileCount(), 3U) << "nothing is left beside them";

  if (::geteuid() != 0) return;  // only root can give a file away
  writeText(folder.file("theirs"), "old");
  ASSERT_EQ(::chown(folder.file("theirs").c_str(), 12345, 12345), 0);
  EXPECT_EQ(saveAtomically(files, folder.file("theirs"), "x").error().message,
            "belongs to another user and was not replaced; save under another name");
}

TEST(AtomicSave, ANewFileHasTheOldOnesModeFromItsFirstByte) {
  const TemporaryFolder folder;
  PosixFileSystem files;
  const mode_t mask = ::umask(022);
  EXPECT_TRUE(files.writeNew(folder.file("a"), "x", 0640));
  EXPECT_EQ(modeOf(folder.file("a")), 0640U);
  EXPECT_TRUE(files.writeNew(folder.file("b"), "x", std::nullopt));
  EXPECT_EQ(modeOf(folder.file("b")), 0644U);
  ::umask(mask);
  EXPECT_FALSE(files.writeNew(folder.file("a"), "y", 0640)) << "it stands there already";
  ASSERT_EQ(::symlink(folder.file("c").c_str(), folder.file("link").c_str()), 0);
  EXPECT_FALSE(files.writeNew(folder.file("link"), "y", 0640));
  EXPECT_FALSE(std::filesystem::exists(folder.file("c")));
  EXPECT_EQ(readText(folder.file("a")), "x");
}

TEST(AtomicSave, LongNamesWorkAndWhatKilledSavesLeftGoes) {
  const TemporaryFolder folder;
  PosixFileSystem files;
  const std::string longName = folder.file(std::string(243, 'n') + ".ustick");
  ASSERT_TRUE(saveAtomically(files, longName, "one"));
  ASSERT_TRUE(saveAtomically(files, longName, "two"));
  EXPECT_EQ(folder.fileCount(), 1U);
  // As an earlier version named them, and of another file, which is none of ours.
  writeText(folder.file("a.saving-4711"), "half");
  writeText(folder.file("b.saving-4711"), "half");
  writeText(folder.file("a.saving-for-later"), "somebody's own");
  ASSERT_TRUE(saveAtomically(files, folder.file("a"), "whole"));
  EXPECT_FALSE(std::filesystem::exists(folder.file("a.saving-4711")));
  EXPECT_TRUE(std::filesystem::exists(folder.file("b.saving-4711")));
  EXPECT_EQ(readText(folder.file("a.saving-for-later")), "somebody's own");
  // One that is being written is left alone.
  const auto held = files.tryLock(folder.file("a.saving-4712"));
  ASSERT_NE(held, nullptr);
  EXPECT_EQ(files.tryLock(folder.file("a.saving-4712")), nullptr);
  ASSERT_TRUE(saveAtomically(files, folder.file("a"), "again"));
  EXPECT_TRUE(std::filesystem::exists(folder.file("a.saving-4712")));
}

TEST(AtomicSave, AHugeFileIsRefusedBeforeRoomIsMadeForIt) {
  const TemporaryFolder folder;
  writeText(folder.file("sparse"), "");
  ASSERT_EQ(::truncate(folder.file("sparse").c_str(), off_t{100} << 30), 0);
  PosixFileSystem files;
  EXPECT_EQ(files.read(folder.file("sparse")).error().message, "is larger than 1 GiB");
}

TEST(AtomicSave, ASetIsRefusedBeforeAnythingIsWrittenWhereItWouldDestroyWhatIsRead) {
  const TemporaryFolder folder;
  const std::string song = folder.file("song"), other = folder.file("other");
  writeText(song, "read");
  writeText(other, "mine");
  ASSERT_EQ(::symlink(song.c_str(), folder.file("link").c_str()), 0);
  ASSERT_EQ(::link(song.c_str(), folder.file("hard").c_str()), 0);
  for (const std::string& name :
       {song, folder.file("link"), folder.file("hard"),
        folder.file("../") +
            std::filesystem::path(folder.file("")).parent_path().filename().string() + "/song"}) {
    const Status refused = refuseOverwriting({"", song}, {other, name});
    ASSERT_FALSE(refused) << name;
    EXPECT_EQ(refused.error().code, ErrorCode::kUsage);
    EXPECT_EQ(refused.error().where.file, name);
  }
  EXPECT_TRUE(refuseOverwriting({song}, {other, folder.file("new"), ""}));
  EXPECT_FALSE(refuseOverwriting({}, {folder.file("new"), folder.file("./new")})) << "one file";
  EXPECT_FALSE(refuseOverwriting({}, {folder.file("link"), folder.file("hard")}));
  EXPECT_TRUE(refuseOverwriting({}, {"/dev/null", "/dev/null"})) << "a device can be both";
}

// Of a set that fails no part is left, whichever part it is, and what stood there before is back.
TEST(AtomicSave, ASetThatFailsLeavesNoPartOfIt) {
  const TemporaryFolder folder;
  PosixFileSystem streams(PosixFileSystem::Streams::kAllowed);
  writeText(folder.file("a"), "old");
  ASSERT_EQ(::symlink("/dev/full", folder.file("z").c_str()), 0);
  {
    AtomicSaves set(streams);
    ASSERT_TRUE(set.stage(folder.file("a"), "new"));
    ASSERT_TRUE(set.stage(folder.file("b"), "new"));
    ASSERT_TRUE(set.stage(folder.file("z"), "new"));
    const Status status = set.commit();
    ASSERT_FALSE(status);
    EXPECT_EQ(status.error().where.file, folder.file("z"));
  }
  EXPECT_EQ(readText(folder.file("a")), "old");
  EXPECT_EQ(folder.fileCount(), 2U) << "the old one and the link";
  // A file that cannot take its place, after others have.
  class ThirdFails final : public testing::ForwardingFiles {
   public:
    int renames = 0;
    Status rename(const std::string& from, const std::string& to) override {
      if (++renames == 3) return Error{ErrorCode::kInputOutput, "failed", {to, 0, 0, std::nullopt}};
      return ForwardingFiles::rename(from, to);
    }
  } files;
  {
    AtomicSaves set(files);
    for (const char* name : {"a", "b", "c"}) ASSERT_TRUE(set.stage(folder.file(name), "new"));
    EXPECT_FALSE(set.commit());
  }
  EXPECT_EQ(readText(folder.file("a")), "old");
  EXPECT_EQ(folder.fileCount(), 2U);
  AtomicSaves set(files);
  for (const char* name : {"a", "b", "c"}) ASSERT_TRUE(set.stage(folder.file(name), "new"));
  EXPECT_TRUE(set.commit());
  EXPECT_EQ(readText(folder.file("a")), "new");
  EXPECT_EQ(folder.fileCount(), 4U) << "and nothing beside them";
}

TEST(AtomicSave, AReaderThatGoesAwayIsAnErrorAndNotTheEnd) {
  const TemporaryFolder folder;
  ASSERT_EQ(::mkfifo(folder.file("pipe").c_str(), 0600), 0);
  PosixFileSystem files(PosixFileSystem::Streams::kAllowed);
  std::thread reader([&] {
    const int fd = ::open(folder.file("pipe").c_str(), O_RDONLY);
    ::close(fd);
  });
  const Status status = files.writeThrough(folder.file("pipe"), std::string(1 << 20, 'x'));
  reader.join();
  EXPECT_FALSE(status);
}

TEST(AtomicSave, ADeviceWithoutEndIsRefusedSoon) {
  PosixFileSystem files(PosixFileSystem::Streams::kAllowed);
  const Result<std::string> zero = files.read("/dev/zero");
  ASSERT_FALSE(zero);
  EXPECT_EQ(zero.error().code, ErrorCode::kLimit);
  EXPECT_EQ(zero.error().message, "is a device that gives more than 64 kB");
}

}  // namespace
}  // namespace uneven
