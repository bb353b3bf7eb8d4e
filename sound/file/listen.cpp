// SPDX-License-Identifier: GPL-3.0-or-later
// Strokes of a file.
#include "sound/file/listen.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/io/times_csv.h"
#include "core/match/strokes.h"
#include "core/midi/onsets.h"
#include "core/midi/smf.h"
#include "sound/file/audio_reader.h"

namespace uneven {
namespace {

bool endsIn(const std::string& file, std::string_view ending) {
  if (file.size() < ending.size()) return false;
  return std::equal(ending.begin(), ending.end(),
                    file.end() - static_cast<std::ptrdiff_t>(ending.size()),
                    [](char a, char b) { return a == (b >= 'A' && b <= 'Z' ? b + 32 : b); });
}

// How loud it is, moment by moment.
class EnergyMeter {
 public:
  explicit EnergyMeter(double rate) : each_(rate / kEnergyRate) {}
  void push(std::span<const float> samples) {
    for (const float s : samples) {
      if (std::isfinite(s)) sum_ += double{s} * s;
      ++count_;
      if (++total_ < each_ * static_cast<double>(out_.size() + 1)) continue;
      out_.push_back(static_cast<float>(std::sqrt(sum_ / static_cast<double>(count_))));
      sum_ = 0;
      count_ = 0;
    }
  }
  std::vector<float> take() { return std::move(out_); }

 private:
  double each_, sum_ = 0, total_ = 0;
  std::int64_t count_ = 0;
  std::vector<float> out_;
};

Result<Recording> ofAudio(const std::string& file, const ListenProgress& progress) {
  Result<std::unique_ptr<AudioReader>> reader = AudioReader::open(file);
  if (!reader) return reader.error();
  AudioReader& audio = **reader;
  StrokeFinder finder(audio.rate());
  EnergyMeter meter(audio.rate());
  std::vector<float> piece(1 << 16);
  std::int64_t done = 0;
  for (;;) {
    const Result<std::size_t> got = audio.readMono(piece);
    if (!got) return got.error();
    if (*got == 0) break;
    done += static_cast<std::int64_t>(*got);
    // A head can lie.
    if (static_cast<double>(done) > kAudioMostSeconds * audio.rate())
      return Error{ErrorCode::kLimit, "lasts more than two hours", {file, 0, 0, std::nullopt}};
    finder.push(std::span(piece).first(*got));
    meter.push(std::span(piece).first(*got));
    const double share =
        static_cast<double>(done) / static_cast<double>(std::max<std::int64_t>(1, audio.frames()));
    if (progress && !progress(std::min(1.0, share))) return givenUp(file);
  }
  Recording out;
  out.file = file;
  out.seconds = static_cast<double>(done) / audio.rate();
  out.onsets = finder.finish();
  out.energy = meter.take();
  out.foundWithin = Seconds(StrokeFinder::kFoundWithin);
  if (done < audio.frames())
    out.notes.push_back(fmt::format("{} ends early: {:.1f} s could be read", file, out.seconds));
  return out;
}

}  // namespace

Result<Recording> listen(FileSystem& files, const std::string& file, const Kit& kit,
                         const KitMap* map, const ListenProgress& progress) {
  const bool midi = endsIn(file, ".mid") || endsIn(file, ".midi");
  if (!midi && !endsIn(file, ".csv")) return ofAudio(file, progress);
  const Result<std::string> bytes = files.read(file);
  if (!bytes) return bytes.error();
  Recording out;
  out.file = file;
  if (midi) {
    const Result<MidiSequence> sequence = readSmf(*bytes, file);
    if (!sequence) return sequence.error();
    MidiOnsets found = onsetsOf(*sequence, kit, map);
    out.onsets = std::move(found.onsets);
    out.line = std::move(found.line);
    out.meter = found.meter;
    if (!out.onsets.empty())
      out.notes.push_back(fmt::format("notes are read by the map {}", found.map));
    if (found.strange > 0)
      out.notes.push_back(
          fmt::format("{} notes are of no piece that the map knows", found.strange));
  } else {
    Result<std::vector<Onset>> times = readTimesCsv(*bytes, kit, file);
    if (!times) return times.error();
    out.onsets = *std::move(times);
  }
  if (!out.onsets.empty()) out.seconds = std::max(0.0, out.onsets.back().seconds);
  return out;
}

}  // namespace uneven
