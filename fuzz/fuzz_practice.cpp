// SPDX-License-Identifier: GPL-3.0-or-later
// Practice logs as CSV and JSON, and the plans that go by them.
#include "fuzz/support.h"
#include "store/practice_log.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace uneven;
  const auto times = readPractice(fuzz::textOf(data, size), "fuzzed");
  if (!times) {
    fuzz::insistOnOneLine(times.error());
    return 0;
  }
  for (const std::string& text : {practiceCsv(*times), practiceJson(*times)}) {
    const auto again = readPractice(text, "again");
    fuzz::insist(again && practiceCsv(*again) == practiceCsv(*times),
                 "a log is read as it was written");
  }
  return 0;
}
