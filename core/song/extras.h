// SPDX-License-Identifier: GPL-3.0-or-later
// Keys of a file that this program does not know, kept so that saving loses nothing.
#pragma once

#include <memory>
#include <string>
#include <utility>
#include <vector>

namespace uneven {

// Pairs of key and JSON text in the file's order. Empty costs one null pointer, since every hit
// carries one of these. Threads: a plain value; what is shared is const.
class Extras {
 public:
  using Pairs = std::vector<std::pair<std::string, std::string>>;

  Extras() = default;
  explicit Extras(Pairs pairs) {
    if (!pairs.empty()) pairs_ = std::make_shared<const Pairs>(std::move(pairs));
  }
  const Pairs& pairs() const {
    static const Pairs none;
    return pairs_ ? *pairs_ : none;
  }
  friend bool operator==(const Extras& a, const Extras& b) { return a.pairs() == b.pairs(); }

 private:
  std::shared_ptr<const Pairs> pairs_;
};

}  // namespace uneven
