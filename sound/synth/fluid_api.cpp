// SPDX-License-Identifier: GPL-3.0-or-later
// Finding FluidSynth.
#include "sound/synth/fluid_api.h"

#include "sound/synth/shared_library.h"

namespace uneven {
namespace {

struct LoadedFluid {
  FluidApi api;
  Status status = Done{};
};

LoadedFluid loadFluid() {
  LoadedFluid out;
  SharedLibrary library("libfluidsynth.so.3");
#define USTICK_FIND(name) library.find(out.api.name, #name);
  USTICK_FLUID_FUNCTIONS(USTICK_FIND)
#undef USTICK_FIND
  out.status = library.status();
  if (out.status) {
    for (const int level : {FLUID_PANIC, FLUID_ERR, FLUID_WARN, FLUID_INFO, FLUID_DBG}) {
      out.api.fluid_set_log_function(level, nullptr, nullptr);
    }
  }
  return out;
}

}  // namespace

Result<const FluidApi*> fluidApi() {
  static const LoadedFluid loaded = loadFluid();
  if (!loaded.status) return loaded.status.error();
  return &loaded.api;
}

}  // namespace uneven
