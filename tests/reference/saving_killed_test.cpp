// SPDX-License-Identifier: GPL-3.0-or-later
// Killing a program while it saves, again and again, never leaves a broken file.
#include <gtest/gtest.h>
#include <signal.h>
#include <sys/wait.h>
#include <unistd.h>

#include "core/io/atomic_save.h"
#include "core/io/song_json.h"
#include "core/song/edit.h"
#include "tests/support/process.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

// A song of several hundred kilobytes, so that a kill has something to cut through.
std::string longSongText(int velocity) {
  Song song = blankSong();
  song.grooves[0].edit([&](Groove& g) {
    g.bars = 64;
    for (int i = 0; i < 4096; ++i) {
      Hit hit;
      hit.at = Beat(i, 16);
      hit.velocity = Velocity(velocity);
      g.hits.push_back(hit);
    }
  });
  return writeSong(song);
}

TEST(Saving, KilledAtAnyMomentTheFileIsWhole) {
  const testing::TemporaryFolder folder;
  const std::string file = folder.file("song.ustick");
  const std::string soft = longSongText(20);
  const std::string loud = longSongText(120);
  PosixFileSystem files;
  ASSERT_TRUE(saveAtomically(files, file, soft));
  testing::Random random(51);
  bool sawSoft = false, sawLoud = false;
  for (int i = 0; i < 200; ++i) {
    const pid_t child = ::fork();
    if (child == 0) {
      for (;;) {
        (void)saveAtomically(files, file, loud);
        (void)saveAtomically(files, file, soft);
      }
    }
    ::usleep(static_cast<useconds_t>(testing::pick(random, 0, 12'000)));
    ::kill(child, SIGKILL);
    ::waitpid(child, nullptr, 0);
    const std::string now = testing::readText(file);
    ASSERT_TRUE(now == soft || now == loud) << "after kill " << i << ": " << now.size() << " bytes";
    sawSoft = sawSoft || now == soft;
    sawLoud = sawLoud || now == loud;
  }
  ASSERT_TRUE(saveAtomically(files, file, soft));
  EXPECT_EQ(folder.fileCount(), 1U) << "what the killed ones left is cleared away";
  EXPECT_TRUE(sawSoft && sawLoud) << "the kills must have cut through real saves";
}

// A signal that asks for the end takes what is half written with it.
TEST(Saving, AskedToEndNothingIsLeftBeside) {
  const testing::TemporaryFolder folder;
  const std::string file = folder.file("song.ustick");
  const std::string text = longSongText(20);
  PosixFileSystem files;
  ASSERT_TRUE(saveAtomically(files, file, text));
  testing::Random random(52);
  for (int i = 0; i < 60; ++i) {
    const int signal = i % 2 == 0 ? SIGTERM : SIGINT;
    const pid_t child = ::fork();
    if (child == 0) {
      // What runs in the background may have been begun with it ignored.
      ::signal(signal, SIG_DFL);
      removeUnfinishedWhenKilled();
      for (;;) (void)saveAtomically(files, file, text);
    }
    ::usleep(static_cast<useconds_t>(testing::pick(random, 1'000, 12'000)));
    ::kill(child, signal);
    int status = 0;
    ::waitpid(child, &status, 0);
    EXPECT_TRUE(WIFSIGNALED(status) && WTERMSIG(status) == signal);
    ASSERT_EQ(folder.fileCount(), 1U) << "after " << i;
  }
}

// As nohup begins a program that is to outlive its terminal.
TEST(Saving, WhatWasIgnoredBeforeEndsNothing) {
  for (const int signal : {SIGHUP, SIGINT, SIGTERM}) {
    const pid_t child = ::fork();
    if (child == 0) {
      ::signal(signal, SIG_IGN);
      removeUnfinishedWhenKilled();
      ::raise(signal);
      ::_exit(7);
    }
    int status = 0;
    ::waitpid(child, &status, 0);
    EXPECT_TRUE(WIFEXITED(status) && WEXITSTATUS(status) == 7) << signal;
  }
}

}  // namespace
}  // namespace uneven
