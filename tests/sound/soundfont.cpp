// SPDX-License-Identifier: GPL-3.0-or-later
// The writer of sound banks.
#include "tests/sound/soundfont.h"

#include <fmt/format.h>

namespace uneven::bank {
namespace {

// Generators of the specification, section 8.1.2.
enum Generator : std::uint16_t {
  kReleaseVolume = 38,
  kInstrument = 41,
  kKeyRange = 43,
  kVelocityRange = 44,
  kSampleId = 53,
  kSampleModes = 54,
  kRootKey = 58,
};
constexpr std::uint16_t kDrumBank = 128;
constexpr int kGapFrames = 46;  // of zeros after each sample, as the specification wants
constexpr std::size_t kNameBytes = 20;

// Little-endian bytes.
class Bytes {
 public:
  Bytes& u8(int v) {
    text_ += static_cast<char>(v);
    return *this;
  }
  Bytes& u16(int v) { return u8(v & 0xFF).u8((v >> 8) & 0xFF); }
  Bytes& u32(std::uint32_t v) {
    return u16(static_cast<int>(v & 0xFFFF)).u16(static_cast<int>(v >> 16));
  }
  Bytes& name(const std::string& v) {
    text_ += v;
    text_.append(kNameBytes - v.size(), '\0');
    return *this;
  }
  Bytes& text(const std::string& v) {
    text_ += v;
    return *this;
  }
  // Text that ends in one zero or two, whichever makes it even.
  Bytes& zeroed(const std::string& v) {
    text_ += v;
    text_.append(v.size() % 2 == 0 ? 2 : 1, '\0');
    return *this;
  }
  const std::string& str() const { return text_; }

 private:
  std::string text_;
};

// A RIFF chunk; all of ours are even.
std::string chunk(const char* id, const std::string& body) {
  return Bytes().text(id).u32(static_cast<std::uint32_t>(body.size())).text(body).str();
}
std::string list(const char* kind, const std::string& body) {
  return chunk("LIST", kind + body);
}

void generator(Bytes& out, Generator what, int amount) {
  out.u16(what).u16(amount);
}
void range(Bytes& out, Generator what, int from, int to) {
  out.u16(what).u8(from).u8(to);
}

std::string info(const SoundFont& font) {
  return list("INFO", chunk("ifil", Bytes().u16(2).u16(1).str()) +
                          chunk("isng", Bytes().zeroed("EMU8000").str()) +
                          chunk("INAM", Bytes().zeroed(font.name).str()));
}

std::string samples(const SoundFont& font) {
  Bytes out;
  for (const Zone& zone : font.zones) {
    for (const std::int16_t s : zone.samples) out.u16(s);
    for (int i = 0; i < kGapFrames; ++i) out.u16(0);
  }
  return list("sdta", chunk("smpl", out.str()));
}

constexpr int kGeneratorsOfZone = 6;

std::string zones(const SoundFont& font) {
  Bytes bags, generators, headers;
  int index = 0;
  std::uint32_t start = 0;
  for (const Zone& zone : font.zones) {
    bags.u16(index * kGeneratorsOfZone).u16(0);
    range(generators, kKeyRange, zone.note, zone.note);
    range(generators, kVelocityRange, zone.velocityFrom, zone.velocityTo);
    generator(generators, kReleaseVolume, kShutTimecents);
    generator(generators, kRootKey, zone.note);
    generator(generators, kSampleModes, 0);
    generator(generators, kSampleId, index);
    const std::uint32_t end = start + static_cast<std::uint32_t>(zone.samples.size());
    headers.name(zone.name).u32(start).u32(end).u32(start).u32(end);
    headers.u32(static_cast<std::uint32_t>(font.rate)).u8(zone.note).u8(0).u16(0).u16(1);
    start = end + kGapFrames;
    ++index;
  }
  bags.u16(index * kGeneratorsOfZone).u16(0);
  generators.u32(0);
  headers.name("EOS").u32(0).u32(0).u32(0).u32(0).u32(0).u8(0).u8(0).u16(0).u16(0);
  const std::string noModulators(10, '\0');
  const std::string instruments = Bytes().name("Kit").u16(0).name("EOI").u16(index).str();
  return chunk("inst", instruments) + chunk("ibag", bags.str()) + chunk("imod", noModulators) +
         chunk("igen", generators.str()) + chunk("shdr", headers.str());
}

std::string preset(const SoundFont& font) {
  Bytes headers;
  headers.name(font.name).u16(0).u16(kDrumBank).u16(0).u32(0).u32(0).u32(0);
  headers.name("EOP").u16(0).u16(0).u16(1).u32(0).u32(0).u32(0);
  const std::string bags = Bytes().u16(0).u16(0).u16(1).u16(0).str();
  Bytes generators;
  generator(generators, kInstrument, 0);
  generators.u32(0);
  return chunk("phdr", headers.str()) + chunk("pbag", bags) + chunk("pmod", std::string(10, '\0')) +
         chunk("pgen", generators.str());
}

}  // namespace

Result<std::string> writeSoundFont(const SoundFont& font) {
  const auto limit = [](std::string message) {
    return Error{ErrorCode::kLimit, std::move(message), {}};
  };
  if (font.zones.empty()) return limit("a sound bank without sounds");
  if (font.name.size() >= kNameBytes) return limit(fmt::format("\"{}\" is too long", font.name));
  for (const Zone& zone : font.zones) {
    if (zone.name.size() >= kNameBytes) return limit(fmt::format("\"{}\" is too long", zone.name));
    if (zone.note < 0 || zone.note > 127 || zone.velocityFrom < 0 || zone.velocityTo > 127 ||
        zone.velocityFrom > zone.velocityTo || zone.samples.empty()) {
      return limit(fmt::format("\"{}\" has no note, no velocity or no sound", zone.name));
    }
  }
  const std::string body =
      "sfbk" + info(font) + samples(font) + list("pdta", preset(font) + zones(font));
  return chunk("RIFF", body);
}

}  // namespace uneven::bank
