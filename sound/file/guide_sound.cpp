// SPDX-License-Identifier: GPL-3.0-or-later
// A recording, read.
#include "sound/file/guide_sound.h"

#include <algorithm>
#include <cmath>

#include "sound/file/audio_reader.h"
#include "sound/file/resampler.h"

namespace uneven {

Result<std::shared_ptr<const GuideSound>> readGuide(const std::string& file,
                                                    const ListenProgress& progress) {
  Result<std::unique_ptr<AudioReader>> reader = AudioReader::open(file);
  if (!reader) return reader.error();
  AudioReader& audio = **reader;
  Resampler resampler(audio.rate(), kSoundRate);
  auto out = std::make_shared<GuideSound>();
  std::vector<float> piece(std::size_t{1} << 16);
  const auto keep = [&](std::span<const float> samples) {
    for (const float s : samples) {
      const float held = std::isfinite(s) ? std::clamp(s, -1.0F, 1.0F) : 0.0F;
      out->samples.push_back(static_cast<std::int16_t>(std::lrintf(held * 32'767)));
    }
  };
  std::int64_t done = 0;
  for (;;) {
    const Result<std::size_t> got = audio.readStereo(piece);
    if (!got) return got.error();
    if (*got == 0) break;
    done += static_cast<std::int64_t>(*got);
    if (static_cast<double>(done) > kGuideMostSeconds * audio.rate())
      return Error{ErrorCode::kLimit,
                   "lasts more than half an hour: too long to sound beside the part",
                   {file, 0, 0, std::nullopt}};
    keep(resampler.pass(std::span(piece).first(2 * *got), false));
    const double share =
        static_cast<double>(done) / static_cast<double>(std::max<std::int64_t>(1, audio.frames()));
    if (progress && !progress(std::min(1.0, share))) return givenUp(file);
  }
  if (resampler.changes()) keep(resampler.pass({}, true));
  return std::shared_ptr<const GuideSound>(std::move(out));
}

}  // namespace uneven
