// SPDX-License-Identifier: GPL-3.0-or-later
// The fields that numbers and fractions are typed into, by themselves.
#include <gtest/gtest.h>

#include <QSignalSpy>
#include <QTest>
#include <QWheelEvent>

#include "app/controls/beat_field.h"
#include "app/controls/number_field.h"

namespace uneven {
namespace {

template <typename Field>
void typeOver(Field& field, const QString& text) {
  field.selectAll();
  // keyClicks knows no true minus.
  for (const QChar c : text) {
    QTest::sendKeyEvent(QTest::Click, &field, Qt::Key_unknown, QString(c), Qt::NoModifier);
  }
  QTest::keyClick(&field, Qt::Key_Return);
}

TEST(BeatFieldTest, TakesExactFractionsAndRefusesTheRest) {
  BeatField field({Beat(0), Beat(4), false});
  field.show();
  field.setFocus();
  field.setValue(Beat(3, 2));
  QSignalSpy edited(&field, &BeatField::edited);
  QSignalSpy refused(&field, &BeatField::refused);
  EXPECT_EQ(field.text(), "3/2");
  typeOver(field, "7/4");
  ASSERT_EQ(edited.size(), 1);
  EXPECT_EQ(field.value(), Beat(7, 4));
  for (const char* bad : {"4", "-1", "x", "1/0", "1/10081", "7/4/2", "99999999999999999999"}) {
    typeOver(field, QString::fromLatin1(bad));
    EXPECT_TRUE(field.wrong()) << bad;
    EXPECT_EQ(field.value(), Beat(7, 4)) << "the value stays: " << bad;
  }
  EXPECT_EQ(edited.size(), 1);
  EXPECT_EQ(refused.size(), 7);
  EXPECT_EQ(refused.first().first().toString(),
            "4 is not taken: 0 to below 4 quarter notes, as 7/4");
  QTest::keyClick(&field, Qt::Key_Escape);
  EXPECT_FALSE(field.wrong());
  EXPECT_EQ(field.text(), "7/4") << "Escape brings it back";
}

TEST(BeatFieldTest, NothingTypedIsZeroWhereZeroHasWords) {
  BeatField field({Beat(0), Beat(256)});
  field.setValue(Beat(0));
  EXPECT_EQ(field.text(), "0");
  field.setZeroWords("next stroke");
  EXPECT_EQ(field.text(), "");
  EXPECT_EQ(field.placeholderText(), "next stroke");
  field.setValue(Beat(1, 4));
  QSignalSpy edited(&field, &BeatField::edited);
  field.selectAll();
  QTest::keyClick(&field, Qt::Key_Backspace);
  QTest::keyClick(&field, Qt::Key_Return);
  ASSERT_EQ(edited.size(), 1);
  EXPECT_EQ(field.value(), Beat(0));
  typeOver(field, "256");
  EXPECT_EQ(field.value(), Beat(256)) << "the most itself is taken";
  field.setValue(std::nullopt);
  EXPECT_EQ(field.text(), "");
  EXPECT_EQ(field.placeholderText(), QStringLiteral("–")) << "several values";
}

TEST(NumberFieldTest, IsTypedWithUnitCommaAndTrueMinus) {
  NumberField field(QStringLiteral("ms"), {-50, 50, 1, 1, true});
  QSignalSpy edited(&field, &NumberField::edited);
  QSignalSpy refused(&field, &NumberField::refused);
  field.setValue(-4);
  EXPECT_EQ(field.text(), QStringLiteral("−4.0 ms"));
  for (const auto& [text, value] : std::initializer_list<std::pair<const char*, double>>{
           {"12,5", 12.5}, {"+3 ms", 3}, {"−7.25", -7.25}, {" 0 ", 0}}) {
    typeOver(field, QString::fromUtf8(text));
    EXPECT_EQ(field.value(), value) << text;
    EXPECT_EQ(edited.last().at(1).toBool(), false) << "typed, not stepped";
  }
  EXPECT_EQ(field.text(), QStringLiteral("0.0 ms")) << "zero has no sign";
  for (const char* bad : {"51", "-50.1", "1e3", "nan", "ms", "1 2"}) {
    typeOver(field, QString::fromLatin1(bad));
    EXPECT_TRUE(field.wrong()) << bad;
    EXPECT_EQ(field.value(), 0) << bad;
  }
  EXPECT_EQ(edited.size(), 4);
  EXPECT_EQ(refused.size(), 6);
}

TEST(NumberFieldTest, StepsByKeysAndWheelOnItsOwnLatticeWithinItsRange) {
  NumberField field({}, {20, 400, 1, 2, false});
  field.setValue(92.37);
  QSignalSpy edited(&field, &NumberField::edited);
  QTest::keyClick(&field, Qt::Key_Up);
  EXPECT_EQ(field.value(), 93);
  QTest::keyClick(&field, Qt::Key_Down, Qt::ShiftModifier);
  EXPECT_EQ(field.value(), 83);
  QWheelEvent wheel({5, 5}, field.mapToGlobal(QPointF(5, 5)), {}, {0, -120}, Qt::NoButton,
                    Qt::NoModifier, Qt::NoScrollPhase, false);
  QApplication::sendEvent(&field, &wheel);
  EXPECT_EQ(field.value(), 82);
  EXPECT_TRUE(edited.last().at(1).toBool()) << "stepped: many may follow";
  field.setValue(25);
  QTest::keyClick(&field, Qt::Key_Down, Qt::ShiftModifier);
  EXPECT_EQ(field.value(), 20) << "held at the end";
  const auto before = edited.size();
  QTest::keyClick(&field, Qt::Key_Down);
  EXPECT_EQ(edited.size(), before) << "nothing changed, nothing told";
  field.setValue(std::nullopt);
  QTest::keyClick(&field, Qt::Key_Up);
  EXPECT_EQ(field.value(), std::nullopt) << "several values are not stepped as one";
}

}  // namespace
}  // namespace uneven
