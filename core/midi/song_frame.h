// SPDX-License-Identifier: GPL-3.0-or-later
// Tempo, meters, markers and the density of notes of a Standard MIDI File.
#pragma once

#include <string>
#include <string_view>

#include "core/arrange/frame.h"

namespace uneven {

// Positions are rounded to 960ths of a quarter note. Errors: those of readSmf; kLimit for a tempo
// outside kBpmMin..kBpmMax, a meter outside what Meter can be, more than 20 000 tempos or markers.
Result<SongFrame> readFrame(std::string_view bytes, const std::string& file);

}  // namespace uneven
