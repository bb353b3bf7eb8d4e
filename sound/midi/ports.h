// SPDX-License-Identifier: GPL-3.0-or-later
// The machine's MIDI ports, through RtMidi on ALSA's sequencer.
#pragma once

#include "sound/midi/live_midi.h"

namespace uneven {

// Ports that can be sent to, by name. None where the machine has no sequencer or RtMidi is missing.
std::vector<std::string> midiOutputs();

// Errors: kNotFound where there is no such port, no sequencer, or RtMidi is missing.
Result<std::unique_ptr<MidiSink>> openMidiOutput(const std::string& name);
// A port of our own that others can connect to. Errors: likewise.
Result<std::unique_ptr<MidiSink>> openOwnMidiOutput();

}  // namespace uneven
