// SPDX-License-Identifier: GPL-3.0-or-later
// libsndfile, writing into memory.
#include "sound/file/audio_writer.h"

#include <sndfile.h>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <vector>

#include "core/base/number.h"
#include "sound/synth/shared_library.h"

namespace uneven {
namespace {

struct SndfileApi {
  decltype(&::sf_open_virtual) open = nullptr;
  decltype(&::sf_writef_float) writeFloat = nullptr;
  decltype(&::sf_writef_int) writeInt = nullptr;
  decltype(&::sf_close) close = nullptr;
  decltype(&::sf_strerror) error = nullptr;
  decltype(&::sf_command) command = nullptr;
};

Result<const SndfileApi*> sndfileApi() {
  return functionsOf<SndfileApi>("libsndfile.so.1", [](SharedLibrary& library, SndfileApi& api) {
    library.find(api.open, "sf_open_virtual");
    library.find(api.writeFloat, "sf_writef_float");
    library.find(api.writeInt, "sf_writef_int");
    library.find(api.close, "sf_close");
    library.find(api.error, "sf_strerror");
    library.find(api.command, "sf_command");
  });
}

struct Memory {
  std::string bytes;
  std::size_t at = 0;
};
sf_count_t lengthOf(void* data) {
  return static_cast<sf_count_t>(static_cast<Memory*>(data)->bytes.size());
}
sf_count_t seekTo(sf_count_t offset, int whence, void* data) {
  auto& memory = *static_cast<Memory*>(data);
  const auto size = static_cast<sf_count_t>(memory.bytes.size());
  const sf_count_t base = whence == SEEK_SET   ? 0
                          : whence == SEEK_CUR ? static_cast<sf_count_t>(memory.at)
                                               : size;
  memory.at = static_cast<std::size_t>(std::clamp<sf_count_t>(base + offset, 0, size));
  return static_cast<sf_count_t>(memory.at);
}
sf_count_t readFrom(void* into, sf_count_t count, void* data) {
  auto& memory = *static_cast<Memory*>(data);
  const std::size_t most =
      std::min(static_cast<std::size_t>(count), memory.bytes.size() - memory.at);
  std::memcpy(into, memory.bytes.data() + memory.at, most);
  memory.at += most;
  return static_cast<sf_count_t>(most);
}
sf_count_t writeTo(const void* from, sf_count_t count, void* data) {
  auto& memory = *static_cast<Memory*>(data);
  const auto n = static_cast<std::size_t>(count);
  if (memory.at + n > memory.bytes.size()) memory.bytes.resize(memory.at + n);
  std::memcpy(memory.bytes.data() + memory.at, from, n);
  memory.at += n;
  return count;
}
sf_count_t tellOf(void* data) {
  return static_cast<sf_count_t>(static_cast<Memory*>(data)->at);
}

// Two draws make a triangle.
class Dither {
 public:
  double next() { return draw() - draw(); }

 private:
  double draw() {
    state_ = state_ * 6364136223846793005ULL + 1442695040888963407ULL;  // Knuth's MMIX
    return static_cast<double>(state_ >> 33) * 0x1p-31;
  }
  std::uint64_t state_ = 1;
};

class SndfileWriter final : public AudioWriter {
 public:
  SndfileWriter(const SndfileApi& api, const AudioFormat& format) : api_(api), format_(format) {}
  ~SndfileWriter() override {
    if (file_ != nullptr) api_.close(file_);
  }

  Status begin() {
    SF_INFO info{};
    info.samplerate = format_.rate;
    info.channels = 2;
    const int depth = format_.bits == AudioBits::k16   ? SF_FORMAT_PCM_16
                      : format_.bits == AudioBits::k24 ? SF_FORMAT_PCM_24
                                                       : SF_FORMAT_FLOAT;
    info.format = (format_.kind == AudioKind::kFlac ? SF_FORMAT_FLAC : SF_FORMAT_WAV) | depth;
    SF_VIRTUAL_IO io{lengthOf, seekTo, readFrom, writeTo, tellOf};
    file_ = api_.open(&io, SFM_WRITE, &info, &memory_);
    if (file_ == nullptr) return Error{ErrorCode::kUsage, api_.error(nullptr), {}};
    // The chunk of peaks holds the time of day: the same song gives the same bytes.
    api_.command(file_, SFC_SET_ADD_PEAK_CHUNK, nullptr, SF_FALSE);
    return Done{};
  }

  Status write(std::span<const float> frames) override {
    const auto count = static_cast<sf_count_t>(frames.size() / 2);
    if (format_.bits == AudioBits::kFloat) {
      return check(api_.writeFloat(file_, frames.data(), count), count);
    }
    const int shift = format_.bits == AudioBits::k16 ? 16 : 8;
    const double most = format_.bits == AudioBits::k16 ? 32'767 : 8'388'607;
    whole_.resize(frames.size());
    for (std::size_t i = 0; i < frames.size(); ++i) {
      const double noise = frames[i] == 0 ? 0 : dither_.next();
      const double value = std::clamp(static_cast<double>(frames[i]) * most + noise, -most, most);
      whole_[i] = static_cast<int>(roundToInt(value)) * (1 << shift);
    }
    return check(api_.writeInt(file_, whole_.data(), count), count);
  }

  Result<std::string> finish() override {
    const int failed = api_.close(std::exchange(file_, nullptr));
    if (failed != 0) return Error{ErrorCode::kInputOutput, "the audio file could not be ended", {}};
    return std::move(memory_.bytes);
  }

 private:
  Status check(sf_count_t written, sf_count_t wanted) const {
    if (written == wanted) return Done{};
    return Error{ErrorCode::kInputOutput, api_.error(file_), {}};
  }

  const SndfileApi& api_;
  AudioFormat format_;
  Memory memory_;
  SNDFILE* file_ = nullptr;
  Dither dither_;
  std::vector<int> whole_;
};

}  // namespace

Result<std::unique_ptr<AudioWriter>> AudioWriter::open(const AudioFormat& format) {
  if (format.kind == AudioKind::kFlac && format.bits == AudioBits::kFloat) {
    return Error{ErrorCode::kUsage, "FLAC has 16 or 24 bits, not float; write WAV for that", {}};
  }
  const Result<const SndfileApi*> api = sndfileApi();
  if (!api) return api.error();
  auto writer = std::make_unique<SndfileWriter>(**api, format);
  if (const Status begun = writer->begin(); !begun) return begun.error();
  return std::unique_ptr<AudioWriter>(std::move(writer));
}

}  // namespace uneven
