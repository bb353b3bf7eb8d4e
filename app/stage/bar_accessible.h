// SPDX-License-Identifier: GPL-3.0-or-later
// Views of bars as tables on the accessibility bus.
#pragma once

namespace uneven {

class BarView;

// Once a program; more calls do nothing.
void installBarAccessible();

// The cell at the cursor has the focus now.
void tellCellFocused(BarView& view);
// The song is another; the cell at the cursor says what it is now.
void tellTableChanged(BarView& view);

}  // namespace uneven
