// SPDX-License-Identifier: GPL-3.0-or-later
// The program as it was built, for tests that are scripts.
#pragma once

#include <gtest/gtest.h>

#include <algorithm>

#include "tests/support/process.h"

namespace uneven::testing {

inline const std::string kDemo = std::string(SOURCE_DIR) + "/data/demo/lock-gate-nine.ustick";

inline ProcessResult ustick(std::vector<std::string> words) {
  words.insert(words.begin(), USTICK_PROGRAM);
  return runProcess(words);
}

inline void expectRefusal(const ProcessResult& r, const std::string& start) {
  EXPECT_EQ(r.exitCode, 2) << r.err;
  EXPECT_EQ(r.out, "");
  EXPECT_EQ(std::count(r.err.begin(), r.err.end(), '\n'), 1) << r.err;
  EXPECT_EQ(r.err.substr(0, start.size()), start) << r.err;
}

}  // namespace uneven::testing
