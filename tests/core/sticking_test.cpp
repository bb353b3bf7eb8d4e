// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/tools/sticking.h"

#include <gtest/gtest.h>

#include <map>

namespace uneven {
namespace {

// As the Percussive Arts Society prints it: capitals for main strokes, small letters for the grace
// notes of flams (one) and drags (two) before them, in the hand that plays them.
std::string published(const Rudiment& rudiment) {
  const Result<Sticking> sticking = readSticking(rudiment.sticking);
  EXPECT_TRUE(sticking) << rudiment.name;
  std::string out;
  for (const auto& slot : *sticking) {
    for (const StickingStroke& stroke : slot) {
      const char other = stroke.who == 'R' ? 'l' : 'r';
      if (stroke.ornament == Ornament::kFlam) out += other;
      if (stroke.ornament == Ornament::kDrag) out += std::string(2, other);
      out += stroke.who;
    }
  }
  return out;
}

TEST(Rudiments, HaveThePublishedStickings) {
  // Percussive Arts Society, International Drum Rudiments; typed in from memory, once through from
  // the right hand (and from the left where the rudiment alternates within two beats).
  const std::map<std::string, std::string> standard = {
      {"single-stroke-roll", "RLRLRLRL"},
      {"single-stroke-four", "RLRL"},
      {"single-stroke-seven", "RLRLRLR"},
      {"multiple-bounce-roll", "RLRL"},
      {"triple-stroke-roll", "RRRLLL"},
      {"double-stroke-open-roll", "RRLLRRLL"},
      {"five-stroke-roll", "RRLLR"},
      {"six-stroke-roll", "RLLRRL"},
      {"seven-stroke-roll", "RRLLRRL"},
      {"nine-stroke-roll", "RRLLRRLLR"},
      {"ten-stroke-roll", "RRLLRRLLRL"},
      {"eleven-stroke-roll", "RRLLRRLLRRL"},
      {"thirteen-stroke-roll", "RRLLRRLLRRLLR"},
      {"fifteen-stroke-roll", "RRLLRRLLRRLLRRL"},
      {"seventeen-stroke-roll", "RRLLRRLLRRLLRRLLR"},
      {"single-paradiddle", "RLRRLRLL"},
      {"double-paradiddle", "RLRLRRLRLRLL"},
      {"triple-paradiddle", "RLRLRLRRLRLRLRLL"},
      {"single-paradiddle-diddle", "RLRRLL"},
      {"flam", "lRrL"},
      {"flam-accent", "lRLRrLRL"},
      {"flam-tap", "lRRrLL"},
      {"flamacue", "lRLRLlR"},
      {"flam-paradiddle", "lRLRRrLRLL"},
      {"single-flammed-mill", "lRRLRrLLRL"},
      {"flam-paradiddle-diddle", "lRLRRLLrLRLLRR"},
      {"pataflafla", "lRLRrL"},
      {"swiss-army-triplet", "lRRLlRRL"},
      {"inverted-flam-tap", "lRLrLR"},
      {"flam-drag", "lRLLRrLRRL"},
      {"drag", "llRrrL"},
      {"single-drag-tap", "llRLrrLR"},
      {"double-drag-tap", "llRllRLrrLrrLR"},
      {"lesson-25", "llRLRllRLR"},
      {"single-dragadiddle", "RRLRRLLRLL"},
      {"drag-paradiddle-1", "RllRLRRLrrLRLL"},
      {"drag-paradiddle-2", "RllRllRLRRLrrLrrLRLL"},
      {"single-ratamacue", "llRLRLrrLRLR"},
      {"double-ratamacue", "llRllRLRLrrLrrLRLR"},
      {"triple-ratamacue", "llRllRllRLRLrrLrrLrrLRLR"}};
  EXPECT_EQ(standard.size(), 40U);
  ASSERT_EQ(rudiments().size(), 40U);
  for (const Rudiment& rudiment : rudiments()) {
    ASSERT_TRUE(standard.contains(std::string(rudiment.name))) << rudiment.name;
    EXPECT_EQ(published(rudiment), standard.at(std::string(rudiment.name))) << rudiment.name;
  }
}

TEST(Rudiments, AnOddNumberOfAlternatingStrokesLeavesTheOtherHandNext) {
  // Common practice: seven single strokes from the right end on the right; the left leads next.
  EXPECT_EQ(published(*findRudiment("single-stroke-seven")).back(), 'R');
  EXPECT_EQ(published(*findRudiment("single-stroke-four")).back(), 'L');
}

TEST(Sticking, ReadsAccentsGhostsRestsAndUnisons) {
  const Result<Sticking> s = readSticking("R l [R] >L | (R+K) . ~r");
  ASSERT_TRUE(s) << s.error().line();
  ASSERT_EQ(s->size(), 7U);
  EXPECT_EQ((*s)[1][0].role, Role::kGhost);
  EXPECT_EQ((*s)[2][0].role, Role::kGhost);
  EXPECT_EQ((*s)[3][0].role, Role::kAccent);
  EXPECT_EQ((*s)[4].size(), 2U);
  EXPECT_EQ((*s)[4][1].who, 'K');
  EXPECT_TRUE((*s)[5].empty());
  EXPECT_EQ((*s)[6][0].ornament, Ornament::kFlam);
}

TEST(Sticking, ErrorsPointAtTheLetter) {
  const std::pair<const char*, int> bad[] = {{"RLX", 3}, {"R+", 3},   {"+R", 1}, {"(R", 3},
                                             {"R)", 2},  {"[RL]", 3}, {">", 2},  {"", 1}};
  for (const auto& [text, column] : bad) {
    const Result<Sticking> s = readSticking(text);
    ASSERT_FALSE(s) << text;
    EXPECT_EQ(s.error().where.line, 1);
    EXPECT_EQ(s.error().where.column, column) << text << ": " << s.error().message;
  }
}

}  // namespace
}  // namespace uneven
