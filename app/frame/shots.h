// SPDX-License-Identifier: GPL-3.0-or-later
// Pictures of the main views, made from the demo song.
#pragma once

#include <QString>

namespace uneven {

// Writes one PNG of 1280x800 for each view into `folder`, made if need be. The same pictures from
// run to run: fixed size, the shipped font, no settings of the user's. 0, or 2 with a line on
// stderr.
int takeShots(const QString& folder);

}  // namespace uneven
