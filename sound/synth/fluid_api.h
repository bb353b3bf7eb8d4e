// SPDX-License-Identifier: GPL-3.0-or-later
// The functions of FluidSynth that are used, found when sound is first asked for.
#pragma once

#include <fluidsynth.h>

#include "core/base/result.h"

namespace uneven {

#define USTICK_FLUID_FUNCTIONS(X)  \
  X(new_fluid_settings)            \
  X(delete_fluid_settings)         \
  X(fluid_settings_setint)         \
  X(fluid_settings_setnum)         \
  X(fluid_settings_setstr)         \
  X(fluid_settings_foreach_option) \
  X(new_fluid_synth)               \
  X(delete_fluid_synth)            \
  X(fluid_synth_sfload)            \
  X(fluid_synth_get_sfont_by_id)   \
  X(fluid_sfont_iteration_start)   \
  X(fluid_sfont_iteration_next)    \
  X(fluid_sfont_get_preset)        \
  X(fluid_preset_get_banknum)      \
  X(fluid_preset_get_num)          \
  X(fluid_synth_set_channel_type)  \
  X(fluid_synth_program_select)    \
  X(fluid_synth_set_gen)           \
  X(fluid_synth_noteon)            \
  X(fluid_synth_noteoff)           \
  X(fluid_synth_all_sounds_off)    \
  X(fluid_synth_write_float)       \
  X(new_fluid_audio_driver2)       \
  X(delete_fluid_audio_driver)     \
  X(fluid_set_log_function)        \
  X(new_fluid_defsfloader)         \
  X(fluid_sfloader_set_callbacks)  \
  X(fluid_synth_add_sfloader)

struct FluidApi {
// NOLINTNEXTLINE(bugprone-macro-parentheses): a name that is declared
#define USTICK_DECLARE(name) decltype(&::name) name = nullptr;
  USTICK_FLUID_FUNCTIONS(USTICK_DECLARE)
#undef USTICK_DECLARE
};

// Errors: kNotFound where the library is not installed. What it would print is kept silent.
Result<const FluidApi*> fluidApi();

}  // namespace uneven
