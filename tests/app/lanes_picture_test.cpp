// SPDX-License-Identifier: GPL-3.0-or-later
// What the lanes show: that what differs looks different, and what is told by colour is told
// another way too.
#include <QComboBox>
#include <QLineEdit>

#include "app/strike/strike_stage.h"
#include "core/song/edit.h"
#include "core/song/names.h"
#include "tests/app/window_fixture.h"

namespace uneven::testing {
namespace {

class LanesPictureTest : public WindowTest {
 protected:
  QImage shown() {
    QApplication::processEvents();
    return lanes().grab().toImage();
  }
  // One hit on the snare's 2, and the picture of its stick.
  QImage picture(const std::function<void(Hit&)>& change) {
    Song changed = window->document().song();
    changed.grooves[0].edit([&](Groove& g) {
      Hit hit;
      hit.at = Beat(1);
      hit.piece = piece::kSnare;
      hit.velocity = Velocity(100);
      change(hit);
      g.hits = {hit};
    });
    window->document().apply("one hit", changed);
    window->editing().select({});
    lanes().clearFocus();
    const StickShape& stick = lanes().scene().sticks.back();
    const QPoint head(static_cast<int>(stick.head.x), static_cast<int>(stick.head.y));
    const int down = static_cast<int>(stick.foot.y - stick.head.y) + 30;
    return shown().copy(QRect(head - QPoint(90, 20), QSize(180, down)));
  }
  static QImage grey(const QImage& image) {
    return image.convertToFormat(QImage::Format_Grayscale8);
  }
};

// All pairs differ.
void expectAllDifferent(const std::vector<std::pair<std::string, QImage>>& pictures) {
  for (std::size_t a = 0; a < pictures.size(); ++a) {
    for (std::size_t b = 0; b < a; ++b) {
      EXPECT_NE(pictures[a].second, pictures[b].second)
          << pictures[a].first << " looks like " << pictures[b].first;
    }
  }
}

TEST_F(LanesPictureTest, EveryRoleHasAHeadOfItsOwnWithoutItsColour) {
  std::vector<std::pair<std::string, QImage>> pictures;
  for (const Named<Role>& role : namesOf<Role>()) {
    if (role.value == Role::kGrace) continue;
    pictures.emplace_back(role.text, grey(picture([&](Hit& hit) { hit.role = role.value; })));
  }
  ASSERT_EQ(pictures.size(), 3U);
  expectAllDifferent(pictures);
}

TEST_F(LanesPictureTest, EveryStrokeHasAMarkOfItsOwn) {
  std::vector<std::pair<std::string, QImage>> pictures;
  for (const Named<StrokeKind>& stroke : namesOf<StrokeKind>()) {
    pictures.emplace_back(stroke.text, grey(picture([&](Hit& hit) { hit.stroke = stroke.value; })));
  }
  ASSERT_GE(pictures.size(), 6U);
  expectAllDifferent(pictures);
}

TEST_F(LanesPictureTest, EveryOrnamentIsDrawn) {
  std::vector<std::pair<std::string, QImage>> pictures;
  for (const Named<Ornament>& ornament : namesOf<Ornament>()) {
    pictures.emplace_back(ornament.text, picture([&](Hit& hit) {
                            hit.ornament = ornament.value;
                            // Room for what lasts, in sight of the main stroke.
                            hit.ornamentGap = Milliseconds(15);
                          }));
  }
  ASSERT_GE(pictures.size(), 6U);
  expectAllDifferent(pictures);
}

TEST_F(LanesPictureTest, RightAndLeftAreToldByALetterToo) {
  const auto letter = [&](Limb limb) {
    picture([&](Hit& hit) { hit.limb = limb; });
    const StickShape& stick = lanes().scene().sticks.back();
    const QPoint foot(static_cast<int>(stick.foot.x), static_cast<int>(stick.foot.y));
    const QImage image = shown().copy(QRect(foot + QPoint(-6, 1), QSize(12, 14)));
    // Ink or paper: the colour of the ink does not count.
    QImage ink(image.size(), QImage::Format_Mono);
    for (int y = 0; y < image.height(); ++y) {
      for (int x = 0; x < image.width(); ++x) {
        ink.setPixel(x, y, qGray(image.pixel(x, y)) < 150 ? 1 : 0);
      }
    }
    return ink;
  };
  EXPECT_NE(letter(Limb::kRightHand), letter(Limb::kLeftHand));
}

TEST_F(LanesPictureTest, LanesByLimbShowWhoStrikesWhat) {
  openDemo();
  const QImage byPiece = shown();
  lanes().setShowLimbs(true);
  const QImage byLimb = shown();
  EXPECT_NE(byLimb, byPiece);
  ASSERT_EQ(lanes().scene().lanes.size(), 4U) << "two hands, two feet";
  const auto foreign = [&] {
    std::vector<PieceId> pieces;
    for (const StickShape& stick : lanes().scene().sticks) {
      if (stick.foreign) pieces.push_back(stick.ref.piece);
    }
    return pieces;
  };
  const std::size_t before = foreign().size();
  // A crash by the right hand, on the lane that is the hats' for most: named at its head.
  Song song = window->document().song();
  song.grooves[0].edit([](Groove& g) {
    Hit crash;
    crash.at = Beat(5, 2);
    crash.piece = piece::kCrash;
    crash.limb = Limb::kRightHand;
    g = withHit(withoutHits(std::move(g), {{Beat(5, 2), piece::kHat}}), crash);
  });
  window->document().apply("a crash", song);
  const std::vector<PieceId> after = foreign();
  EXPECT_EQ(after.size(), before + 1);
  EXPECT_TRUE(std::find(after.begin(), after.end(), piece::kCrash) != after.end());
  EXPECT_NE(shown(), byLimb);
  window->document().undoStack().undo();
  EXPECT_EQ(shown(), byLimb);
  lanes().setShowLimbs(false);
  EXPECT_EQ(shown(), byPiece) << "and back";
}

TEST_F(LanesPictureTest, StepEntryShowsItsLettersAndAToolItsPreview) {
  openDemo();
  lanes().clearFocus();
  const QImage plain = shown();
  lanes().setStepEntry(true);
  const QImage lettered = shown();
  EXPECT_NE(lettered, plain);
  lanes().setStepEntry(false);
  lanes().clearFocus();
  EXPECT_EQ(shown(), plain);
  openTool("reverse");
  QApplication::processEvents();
  EXPECT_TRUE(lanes().previewScene().has_value());
  lanes().clearFocus();
  EXPECT_NE(shown(), plain) << "what would go is faint, what would come stands on a plate";
  stage<StrikeStage>("strike").closeTool();
  lanes().clearFocus();
  EXPECT_FALSE(lanes().previewScene().has_value());
  EXPECT_EQ(shown(), plain);
}

TEST_F(LanesPictureTest, APieceLaidBackNamesItsMilliseconds) {
  openDemo();
  const auto name = [&] {
    for (const LaneShape& lane : lanes().scene().lanes) {
      if (lane.piece == piece::kSnare) {
        return shown().copy(QRect(0, static_cast<int>(lane.baseline) - 18, 110, 36));
      }
    }
    return QImage();
  };
  const QImage late = name();
  auto song = window->document().song();
  song = withFeelChanged(song, window->document().grooveId(),
                         [](Feel& f) { f.displacement.erase(piece::kSnare); });
  window->document().apply("on the grid", song);
  EXPECT_NE(name(), late);
}

}  // namespace
}  // namespace uneven::testing
