// SPDX-License-Identifier: GPL-3.0-or-later
// What is offered mends: each mending is tried on a copy, and kept where the finding goes and
// nothing heavier comes. In songs with more findings than 30,000 strokes of trials are enough for,
// the last ones are offered theirs untried.
#pragma once

#include "core/check/check.h"

namespace uneven {

// `findings` are of the take. Threads: a pure function.
void keepWhatMends(const Take& take, const Profile& profile, const KitMap& map,
                   std::vector<Finding>& findings, const std::stop_token& stop);

}  // namespace uneven
