// SPDX-License-Identifier: GPL-3.0-or-later
// The quick way through JSON beside the library: what it takes, the library takes.
#include <nlohmann/json.hpp>

#include "core/io/json_scan.h"
#include "fuzz/support.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace uneven;
  const auto text = fuzz::textOf(data, size);
  std::vector<JsonNode> nodes;
  if (!scanJson(text, nodes)) return 0;
  fuzz::insist(nlohmann::json::accept(text), "the library takes it too");
  for (std::size_t i = 1; i < nodes.size(); ++i) {
    const JsonNode& node = nodes[i];
    fuzz::insist(node.begin < node.end && node.end <= size, "a value lies inside the text");
    fuzz::insist(nlohmann::json::accept(text.substr(node.begin, node.end - node.begin)),
                 "and is a value by itself");
  }
  return 0;
}
