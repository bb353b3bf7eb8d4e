// SPDX-License-Identifier: GPL-3.0-or-later
// What plays: the house kit, or somebody's sound bank.
#pragma once

#include <memory>
#include <string>

#include "core/io/file_system.h"
#include "sound/synth/instrument.h"

namespace uneven {

// `bank`: a sound bank's file; empty: the house kit. Errors: those of HouseInstrument::load and
// FluidInstrument::load.
Result<std::unique_ptr<Instrument>> loadInstrument(FileSystem& files, const std::string& bank);

}  // namespace uneven
