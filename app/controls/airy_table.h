// SPDX-License-Identifier: GPL-3.0-or-later
// Tables of numbers on paper: no grid, air at both sides of each cell.
#pragma once

class QScrollBar;
class QTableView;

namespace uneven {

void makeAiry(QTableView& table);
void makeAiry(QScrollBar& bar);

}  // namespace uneven
