// SPDX-License-Identifier: GPL-3.0-or-later
// What plays.
#include "sound/synth/load_instrument.h"

#include "sound/synth/fluid_instrument.h"
#include "sound/synth/house_instrument.h"

namespace uneven {

Result<std::unique_ptr<Instrument>> loadInstrument(FileSystem& files, const std::string& bank) {
  return bank.empty() ? HouseInstrument::load(files, houseBankFile())
                      : FluidInstrument::load(files, bank);
}

}  // namespace uneven
