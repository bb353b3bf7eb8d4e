// SPDX-License-Identifier: GPL-3.0-or-later
// tools/check-floors: includes go down the floors only, and the check can fail.
#include <gtest/gtest.h>

#include <filesystem>

#include "tests/support/process.h"

namespace uneven {
namespace {

class Floors : public ::testing::Test {
 protected:
  Floors() {
    for (const char* room :
         {"core/base", "core/song", "layout", "sound/bank", "sound/play", "store", "cli",
          "app/controls", "app/lean", "app/rehearse", "app/frame"}) {
      std::filesystem::create_directories(folder_.file(room));
    }
    has("core/song/a.h", "#include \"core/base/b.h\"\n");
    has("app/frame/a.h", "#include \"app/lean/b.h\"\n#include <QWidget>\n");
  }
  void has(const std::string& file, const std::string& text) {
    testing::writeText(folder_.file(file), text);
  }
  testing::ProcessResult check() const {
    return testing::runProcess({SOURCE_DIR "/tools/check-floors", folder_.file("")});
  }
  void refused(const std::string& place) const {
    const auto checked = check();
    EXPECT_EQ(checked.exitCode, 1) << checked.out;
    EXPECT_EQ(checked.out.find(place + ":1: "), 0U) << checked.out;
  }
  testing::TemporaryFolder folder_;
};

TEST_F(Floors, OfTheseSourcesHold) {
  const auto checked = testing::runProcess({SOURCE_DIR "/tools/check-floors", SOURCE_DIR});
  EXPECT_EQ(checked.exitCode, 0) << checked.out;
}

TEST_F(Floors, DownwardIsFine) {
  EXPECT_EQ(check().exitCode, 0) << check().out;
}

TEST_F(Floors, CoreDoesNotReadUpward) {
  has("core/base/b.h", "#include \"core/song/a.h\"\n");
  refused("core/base/b.h");
}

TEST_F(Floors, AWindowChangesNoSongByItself) {
  has("app/frame/a.cpp", "song.title = \"x\";\n");
  refused("app/frame/a.cpp");
  has("app/frame/a.cpp", "if (song.title == \"x\") return;\n");
  EXPECT_EQ(check().exitCode, 0) << check().out;
}

TEST_F(Floors, CoreAndLayoutSeeNoQt) {
  has("layout/b.h", "#include <QPointF>\n");
  refused("layout/b.h");
}

TEST_F(Floors, SoundSeesNoQtAndItsBanksNoPlayer) {
  has("sound/play/b.h", "#include <QObject>\n");
  refused("sound/play/b.h");
  has("sound/play/b.h", "#include \"sound/bank/a.h\"\n");
  has("sound/bank/a.h", "#include \"sound/play/b.h\"\n");
  refused("sound/bank/a.h");
}

TEST_F(Floors, CoreDoesNotReadTheApplication) {
  has("core/base/b.h", "#include \"app/controls/theme.h\"\n");
  refused("core/base/b.h");
}

TEST_F(Floors, ControlsDoNotReadTheFrame) {
  has("app/controls/b.h", "#include \"app/frame/a.h\"\n");
  refused("app/controls/b.h");
}

TEST_F(Floors, StagesDoNotReadEachOtherThoughNobodyNamedThem) {
  has("app/rehearse/b.h", "#include \"app/lean/b.h\"\n");
  refused("app/rehearse/b.h");
}

TEST_F(Floors, ANewFolderOfTheCoreMustBeGivenItsFloor) {
  std::filesystem::create_directories(folder_.file("core/attic"));
  has("core/attic/b.h", "#include \"core/base/b.h\"\n");
  refused("core/attic/b.h");
}

}  // namespace
}  // namespace uneven
