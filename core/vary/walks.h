// SPDX-License-Identifier: GPL-3.0-or-later
// The walks, in one table for the interface and the command line.
//
//   Result<Walk> walk = makeWalk("placement", song, "verse", {{"piece", "kick"}}, {});
//   for (std::uint64_t i = 0; i < walk->count; ++i) hear(walk->at(i));
//
// All take the span (`from`, `to`), its `grid`, what is kept (`keep`), an `order` (own: the walk's;
// last-first, first-last, nearest, easiest, least-syncopated) and filters (`only`, `together`,
// `changes`, `first`). A walk's count is known before anything is made; orders and filters that
// have to look at every variant are refused above kSortedMost of them, those that
// ask how fast each goes above kSortedHitsMost hits in all.
//
// Errors: those of the tools' arguments (core/tools/tool.h), kLimit. Threads: pure functions.
#pragma once

#include <functional>

#include "core/body/profile.h"
#include "core/tools/tool.h"
#include "core/vary/variant.h"

namespace uneven {

class WalkCall;

struct WalkKind : Tool {
  std::function<Walk(WalkCall&)> begin;
};

// In the order they are offered in.
const std::vector<WalkKind>& walks();
// nullptr when there is none of that name.
const WalkKind* findWalk(std::string_view name);

inline constexpr std::uint64_t kSortedMost = 20'000, kSortedHitsMost = 2'000'000;

// Told how far it is, 0..1; false gives it up, with givenUp().
using WalkProgress = std::function<bool(double)>;
Result<Walk> makeWalk(std::string_view name, const Song& song, const std::string& grooveId,
                      const Arguments& arguments, const Profile& profile,
                      const WalkProgress& progress = {});

}  // namespace uneven
