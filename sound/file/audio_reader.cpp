// SPDX-License-Identifier: GPL-3.0-or-later
// libsndfile, reading.
#include "sound/file/audio_reader.h"

#include <fmt/format.h>
#include <sndfile.h>

#include <vector>

#include "sound/synth/shared_library.h"

namespace uneven {
namespace {

struct ReadingApi {
  decltype(&::sf_open) open = nullptr;
  decltype(&::sf_readf_float) read = nullptr;
  decltype(&::sf_close) close = nullptr;
  decltype(&::sf_strerror) error = nullptr;
};

Result<const ReadingApi*> readingApi() {
  return functionsOf<ReadingApi>("libsndfile.so.1", [](SharedLibrary& library, ReadingApi& api) {
    library.find(api.open, "sf_open");
    library.find(api.read, "sf_readf_float");
    library.find(api.close, "sf_close");
    library.find(api.error, "sf_strerror");
  });
}

class SndfileReader final : public AudioReader {
 public:
  SndfileReader(const ReadingApi& api, SNDFILE* file, const SF_INFO& info)
      : api_(api), file_(file), info_(info) {}
  ~SndfileReader() override { api_.close(file_); }

  double rate() const override { return info_.samplerate; }
  int channels() const override { return info_.channels; }
  std::int64_t frames() const override { return info_.frames; }
  Result<std::size_t> readMono(std::span<float> into) override {
    Result<std::size_t> got = next(into.size());
    if (!got) return got;
    const auto channels = static_cast<std::size_t>(info_.channels);
    for (std::size_t i = 0; i < *got; ++i) {
      float sum = 0;
      for (std::size_t c = 0; c < channels; ++c) sum += frames_[i * channels + c];
      into[i] = sum / static_cast<float>(channels);
    }
    return got;
  }
  Result<std::size_t> readStereo(std::span<float> into) override {
    Result<std::size_t> got = next(into.size() / 2);
    if (!got) return got;
    const auto channels = static_cast<std::size_t>(info_.channels);
    for (std::size_t i = 0; i < *got; ++i) {
      into[2 * i] = frames_[i * channels];
      into[2 * i + 1] = frames_[i * channels + (channels > 1 ? 1 : 0)];
    }
    return got;
  }

 private:
  Result<std::size_t> next(std::size_t frames) {
    frames_.resize(frames * static_cast<std::size_t>(info_.channels));
    const sf_count_t got = api_.read(file_, frames_.data(), static_cast<sf_count_t>(frames));
    if (got < 0) return Error{ErrorCode::kInputOutput, api_.error(file_), {}};
    return static_cast<std::size_t>(got);
  }

  const ReadingApi& api_;
  SNDFILE* file_;
  SF_INFO info_;
  std::vector<float> frames_;
};

}  // namespace

Result<std::unique_ptr<AudioReader>> AudioReader::open(const std::string& file) {
  const Result<const ReadingApi*> api = readingApi();
  if (!api) return api.error();
  SF_INFO info{};
  SNDFILE* opened = (*api)->open(file.c_str(), SFM_READ, &info);
  const auto refuse = [&](ErrorCode code, std::string why) {
    if (opened != nullptr) (*api)->close(opened);
    return Error{code, std::move(why), {file, 0, 0, std::nullopt}};
  };
  if (opened == nullptr) {
    return refuse(ErrorCode::kSyntax,
                  fmt::format("cannot be read as audio ({})", (*api)->error(nullptr)));
  }
  constexpr int kChannelsMost = 64;
  if (info.samplerate < 8'000 || info.samplerate > 384'000 || info.channels < 1 ||
      info.channels > kChannelsMost) {
    return refuse(
        ErrorCode::kLimit,
        fmt::format("{} samples a second on {} channels; 8000 to 384000 on 1 to {} are read",
                    info.samplerate, info.channels, kChannelsMost));
  }
  if (static_cast<double>(info.frames) > kAudioMostSeconds * info.samplerate) {
    return refuse(ErrorCode::kLimit,
                  fmt::format("it lasts {:.0f} minutes; up to {:.0f} are read",
                              static_cast<double>(info.frames) / info.samplerate / 60,
                              std::floor(kAudioMostSeconds / 3'600) * 60));
  }
  return std::unique_ptr<AudioReader>(new SndfileReader(**api, opened, info));
}

}  // namespace uneven
