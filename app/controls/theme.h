// SPDX-License-Identifier: GPL-3.0-or-later
// The look: colours and fonts, in one place. No style sheet for the whole application: matching its
// rules against every widget takes longer than all the rest of the start.
#pragma once

#include <QColor>
#include <QFont>

#include "core/song/kit.h"

class QApplication;
class QWidget;

namespace uneven::theme {

inline const QColor kPaper{0xf7, 0xf2, 0xe8};
inline const QColor kBar{0xec, 0xe3, 0xd1};
inline const QColor kCard{0xff, 0xfa, 0xf0};
inline const QColor kLine{0xd5, 0xc9, 0xb2};
inline const QColor kFaintLine{0xe8, 0xdf, 0xce};
inline const QColor kInk{0x2b, 0x27, 0x22};
inline const QColor kQuiet{0x67, 0x5d, 0x4f};
inline const QColor kDisabled{0x9a, 0x8f, 0x7e};
inline const QColor kBrass{0xd3, 0xa0, 0x37};
inline const QColor kBrassEdge{0x8a, 0x64, 0x14};
inline const QColor kChosen{0xef, 0xe1, 0xbd};
inline const QColor kChosenEdge{0xc9, 0xa2, 0x4a};
inline const QColor kRailChosen{0xe3, 0xd6, 0xba};
inline const QColor kLaneLine{0xbf, 0xb1, 0x97};
inline const QColor kBarLine{0xa8, 0x9a, 0x82};
inline const QColor kAttention{0xa3, 0x12, 0x1f};
inline const QColor kGood{0x2a, 0x70, 0x38};

QColor limbColor(Limb limb);

// A style sheet with @paper, @card, @line, @ink, @quiet and @chosen in place of colours.
QString sheet(const char* text);

// Paints a bar (menu, status) in the colour of bars.
void makeBar(QWidget& widget);

// The shipped family at a size in pixels.
enum class Weight { kRegular, kSemiBold };
QFont font(int pixels, Weight weight = Weight::kRegular);

// Loads the fonts and sets font, palette and tooltips of the whole application.
void install(QApplication& app);

}  // namespace uneven::theme
