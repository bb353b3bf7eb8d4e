// SPDX-License-Identifier: GPL-3.0-or-later
// The house kit: every sound of it, computed. A stand-in for the producer's own sounds, plausible
// enough to judge dynamics and time by.
//
// Drums are the modes of a circular membrane (ratios of Bessel zeros) with noise for stick and
// wires; cymbals are hundreds of inharmonic partials whose energy climbs to the high ones and dies
// from the top, with noise (after N. H. Fletcher & T. D. Rossing, The Physics of Musical
// Instruments). Pitches and decays: from memory and common practice.
//
// A louder stroke is brighter: two or three layers of velocity, all brought to one level, so that
// how loud a stroke is goes by the synthesiser's curve alone, 40 log10(v / 127) dB.
#pragma once

#include "sound/bank/soundfont.h"

namespace uneven::bank {

SoundFont houseKit();

}  // namespace uneven::bank
