// SPDX-License-Identifier: GPL-3.0-or-later
// RtMidi, loaded when a port is first asked for. Always ALSA's interface: on JACK without a server,
// opening a port ends the process.
#include "sound/midi/ports.h"

#include <rtmidi/rtmidi_c.h>
#include <unistd.h>

#include <algorithm>

#include "sound/midi/input.h"
#include "sound/synth/shared_library.h"

namespace uneven {
namespace {

struct RtMidiApiFunctions {
  decltype(&::rtmidi_out_create) create = nullptr;
  decltype(&::rtmidi_out_free) free = nullptr;
  decltype(&::rtmidi_get_port_count) count = nullptr;
  decltype(&::rtmidi_get_port_name) name = nullptr;
  decltype(&::rtmidi_open_port) open = nullptr;
  decltype(&::rtmidi_open_virtual_port) openOwn = nullptr;
  decltype(&::rtmidi_out_send_message) send = nullptr;
  decltype(&::rtmidi_in_create) createIn = nullptr;
  decltype(&::rtmidi_in_free) freeIn = nullptr;
  decltype(&::rtmidi_in_set_callback) listen = nullptr;
  Status status = Done{};
};

const RtMidiApiFunctions& rtMidi() {
  static const RtMidiApiFunctions functions = [] {
    RtMidiApiFunctions out;
    // Its constructor fails noisily where there is no sequencer.
    if (::access("/dev/snd/seq", R_OK | W_OK) != 0) {
      out.status =
          Error{ErrorCode::kNotFound, "this machine has no MIDI sequencer (/dev/snd/seq)", {}};
      return out;
    }
    SharedLibrary library("librtmidi.so.6");
    library.find(out.create, "rtmidi_out_create");
    library.find(out.free, "rtmidi_out_free");
    library.find(out.count, "rtmidi_get_port_count");
    library.find(out.name, "rtmidi_get_port_name");
    library.find(out.open, "rtmidi_open_port");
    library.find(out.openOwn, "rtmidi_open_virtual_port");
    library.find(out.send, "rtmidi_out_send_message");
    library.find(out.createIn, "rtmidi_in_create");
    library.find(out.freeIn, "rtmidi_in_free");
    library.find(out.listen, "rtmidi_in_set_callback");
    out.status = library.status();
    return out;
  }();
  return functions;
}

std::vector<std::string> namesOf(RtMidiPtr device) {
  std::vector<std::string> out;
  const unsigned count = rtMidi().count(device);
  for (unsigned i = 0; i < count; ++i) {
    int length = 0;
    rtMidi().name(device, i, nullptr, &length);
    std::string name(static_cast<std::size_t>(std::max(length, 1)), '\0');
    rtMidi().name(device, i, name.data(), &length);
    out.emplace_back(name.c_str());
  }
  return out;
}

// Names what is wrong, or gives a device that is.
class Port final : public MidiSink {
 public:
  static Result<std::unique_ptr<Port>> make() {
    const RtMidiApiFunctions& api = rtMidi();
    if (!api.status) return api.status.error();
    RtMidiOutPtr device = api.create(RTMIDI_API_LINUX_ALSA, "uneven-stick");
    if (device == nullptr || !device->ok) {
      const std::string why =
          device != nullptr && device->msg != nullptr ? device->msg : "no answer";
      if (device != nullptr) api.free(device);
      return Error{ErrorCode::kNotFound, "the MIDI sequencer cannot be used: " + why, {}};
    }
    return std::unique_ptr<Port>(new Port(device));
  }
  Port(const Port&) = delete;
  Port& operator=(const Port&) = delete;
  ~Port() override { rtMidi().free(device_); }

  std::vector<std::string> names() const { return namesOf(device_); }
  Status open(const std::string& name) {
    const std::vector<std::string> all = names();
    const auto found = std::find(all.begin(), all.end(), name);
    if (found == all.end()) {
      return Error{ErrorCode::kNotFound, "there is no MIDI port \"" + name + "\"", {}};
    }
    rtMidi().open(device_, static_cast<unsigned>(found - all.begin()), "out");
    return opened(name);
  }
  Status openOwn() {
    rtMidi().openOwn(device_, "out");
    return opened("our own port");
  }
  std::string name() const override { return name_; }
  bool send(std::span<const std::uint8_t> message) override {
    return rtMidi().send(device_, message.data(), static_cast<int>(message.size())) >= 0 &&
           device_->ok;
  }

 private:
  explicit Port(RtMidiOutPtr device) : device_(device) {}
  Status opened(std::string name) {
    name_ = std::move(name);
    if (device_->ok) return Done{};
    return Error{ErrorCode::kNotFound, name_ + " cannot be opened", {}};
  }

  RtMidiOutPtr device_;
  std::string name_;
};

// Notes of a port, with the moment they came.
class RtMidiSource final : public MidiSource {
 public:
  explicit RtMidiSource(NoteQueue& queue) : queue_(queue) {}
  RtMidiSource(const RtMidiSource&) = delete;
  RtMidiSource& operator=(const RtMidiSource&) = delete;
  ~RtMidiSource() override {
    if (device_ != nullptr) rtMidi().freeIn(device_);
  }
  Status create() {
    const RtMidiApiFunctions& api = rtMidi();
    if (!api.status) return api.status.error();
    device_ = api.createIn(RTMIDI_API_LINUX_ALSA, "uneven-stick", 100);
    if (device_ != nullptr && device_->ok) return Done{};
    return Error{ErrorCode::kNotFound, "the MIDI sequencer cannot be used", {}};
  }
  std::vector<std::string> names() const { return namesOf(device_); }
  Status open(const std::string& name) {
    const std::vector<std::string> all = names();
    const auto found = std::find(all.begin(), all.end(), name);
    if (found != all.end()) {
      rtMidi().listen(device_, &RtMidiSource::heard, this);
      rtMidi().open(device_, static_cast<unsigned>(found - all.begin()), "in");
      name_ = name;
      if (device_->ok) return Done{};
    }
    return Error{ErrorCode::kNotFound, "there is no MIDI port \"" + name + "\"", {}};
  }
  std::string name() const override { return name_; }

 private:
  static void heard(double /*since*/, const unsigned char* message, std::size_t size, void* self) {
    if (size != 3) return;
    const int kind = message[0] & 0xF0, number = message[1] & 0x7F, value = message[2] & 0x7F;
    NoteIn in{std::chrono::steady_clock::now(), number, value};
    constexpr int kNoteOn = 0x90, kControl = 0xB0;
    if (kind == kControl) in.controller = number;
    if (kind == kControl || (kind == kNoteOn && value > 0))
      static_cast<RtMidiSource*>(self)->queue_.put(in);
  }

  NoteQueue& queue_;
  RtMidiInPtr device_ = nullptr;
  std::string name_;
};

}  // namespace

std::vector<std::string> midiOutputs() {
  const Result<std::unique_ptr<Port>> port = Port::make();
  return port ? (*port)->names() : std::vector<std::string>{};
}

Result<std::unique_ptr<MidiSink>> openMidiOutput(const std::string& name) {
  Result<std::unique_ptr<Port>> port = Port::make();
  if (!port) return port.error();
  if (const Status opened = (*port)->open(name); !opened) return opened.error();
  return std::unique_ptr<MidiSink>(*std::move(port));
}

Result<std::unique_ptr<MidiSink>> openOwnMidiOutput() {
  Result<std::unique_ptr<Port>> port = Port::make();
  if (!port) return port.error();
  if (const Status opened = (*port)->openOwn(); !opened) return opened.error();
  return std::unique_ptr<MidiSink>(*std::move(port));
}

std::vector<std::string> midiInputs() {
  NoteQueue unused;
  RtMidiSource listener(unused);
  return listener.create() ? listener.names() : std::vector<std::string>{};
}

Result<std::unique_ptr<MidiSource>> openMidiInput(const std::string& name, NoteQueue& queue) {
  auto listener = std::make_unique<RtMidiSource>(queue);
  if (const Status created = listener->create(); !created) return created.error();
  if (const Status opened = listener->open(name); !opened) return opened.error();
  return std::unique_ptr<MidiSource>(std::move(listener));
}

}  // namespace uneven
