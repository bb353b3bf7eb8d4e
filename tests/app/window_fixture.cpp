// SPDX-License-Identifier: GPL-3.0-or-later
// Driving the window.
#include "tests/app/window_fixture.h"

#include <QApplication>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QWheelEvent>
#include <cmath>

#include "app/edit/editing.h"
#include "app/strike/strike_stage.h"
#include "layout/hit_test.h"

namespace uneven::testing {

WindowTest::WindowTest()
    : settings(std::make_unique<QSettings>(QString::fromStdString(folder.file("settings.ini")),
                                           QSettings::IniFormat)) {
  // Strokes that sound as they are put have tests of their own.
  settings->setValue(QStringLiteral("sound/by-ear"), false);
  settings->setValue(QStringLiteral("sound/cautioned"), true);
  settings->setValue(QStringLiteral("rehearse/caution-read"), true);
  window = makeWindow();
}

double HandOutput::pull(int frames) {
  std::vector<float> left(static_cast<std::size_t>(frames)), right(left.size());
  // As much at once as a device takes.
  for (int at = 0; at < frames; at += 480) {
    player_.pull(left.data() + at, right.data() + at, std::min(480, frames - at),
                 std::chrono::steady_clock::now());
  }
  double sum = 0;
  for (const float s : left) sum += static_cast<double>(s) * s;
  return std::sqrt(sum / frames);
}

std::unique_ptr<MainWindow> WindowTest::makeWindow(std::vector<StageEntry> entries) {
  auto made = std::make_unique<MainWindow>(Surroundings{files, prompts, *settings, path("unsaved"),
                                                        [this] { return now; }, autosaveMs,
                                                        std::move(entries), outputs});
  made->resize(1280, 800);
  made->show();
  made->activateWindow();
  QApplication::processEvents();
  return made;
}

void WindowTest::openDemo() {
  window->fileDesk().openDemo();
  QApplication::processEvents();
}

bool WindowTest::hasHit(Beat at, PieceId piece) {
  return indexOf(groove(), {at, piece}).has_value();
}

const Hit& WindowTest::hitAt(Beat at, PieceId piece) {
  static const Hit none;
  const auto index = indexOf(groove(), {at, piece});
  EXPECT_TRUE(index) << "no hit at " << at.toString();
  return index ? groove().hits[*index] : none;
}

QString WindowTest::status() {
  return child<QLabel>("status").text();
}

void WindowTest::openTool(const std::string& name) {
  showStage("strike");
  stage<StrikeStage>("strike").openTool(name);
}

QPoint WindowTest::slotPoint(Beat at, PieceId piece) {
  const StrikeScene& scene = lanes().scene();
  const auto line = lineAt(scene, at);
  EXPECT_TRUE(line) << at.toString();
  for (const LaneShape& lane : scene.lanes) {
    if (lane.piece != piece || !line) continue;
    return {static_cast<int>(std::lround(scene.lines[*line].x)),
            static_cast<int>(std::lround(lane.baseline)) - 3};
  }
  ADD_FAILURE() << "no such lane";
  return {};
}

QPoint WindowTest::headPoint(Beat at, PieceId piece) {
  for (const StickShape& stick : lanes().scene().sticks) {
    if (stick.ref == HitRef{at, piece}) {
      return {static_cast<int>(std::lround(stick.head.x)),
              static_cast<int>(std::lround(stick.head.y))};
    }
  }
  ADD_FAILURE() << "no such stick";
  return {};
}

void WindowTest::press(Qt::Key key, Qt::KeyboardModifiers modifiers) {
  lanes().setFocus();
  QTest::keyClick(&lanes(), key, modifiers);
}

void WindowTest::click(QPoint p, Qt::KeyboardModifiers modifiers) {
  QTest::mouseClick(&lanes(), Qt::LeftButton, modifiers, p);
}

void WindowTest::drag(QPoint from, QPoint to, Qt::KeyboardModifiers modifiers) {
  QTest::mousePress(&lanes(), Qt::LeftButton, modifiers, from);
  constexpr int kSteps = 8;
  for (int i = 1; i <= kSteps; ++i) {
    const QPoint p = from + (to - from) * i / kSteps;
    QMouseEvent move(QEvent::MouseMove, p, lanes().mapToGlobal(p), Qt::NoButton, Qt::LeftButton,
                     modifiers);
    QApplication::sendEvent(&lanes(), &move);
  }
  QTest::mouseRelease(&lanes(), Qt::LeftButton, modifiers, to);
}

void WindowTest::type(QLineEdit& field, const char* text) {
  field.setFocus();
  if (field.isReadOnly()) QTest::keyClick(&field, Qt::Key_F2);
  field.selectAll();
  QTest::keyClicks(&field, QString::fromUtf8(text));
  QTest::keyClick(&field, Qt::Key_Return);
}

void WindowTest::choose(QComboBox& field, const QString& word) {
  const int index = field.findText(word);
  ASSERT_GE(index, 0) << word.toStdString();
  field.setFocus();
  // With the keyboard, as a person does who does not open the list.
  while (field.currentIndex() != index) {
    const int before = field.currentIndex();
    QTest::keyClick(&field, before < index ? Qt::Key_Down : Qt::Key_Up);
    ASSERT_NE(field.currentIndex(), before);
  }
}

void WindowTest::wheel(QWidget& widget, int notches, Qt::KeyboardModifiers modifiers) {
  const QPointF middle = widget.rect().center();
  QWheelEvent event(middle, widget.mapToGlobal(middle), {}, QPoint(0, 120 * notches), Qt::NoButton,
                    modifiers, Qt::NoScrollPhase, false);
  QApplication::sendEvent(&widget, &event);
}

}  // namespace uneven::testing
