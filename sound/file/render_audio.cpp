// SPDX-License-Identifier: GPL-3.0-or-later
// Rendering twice: to measure, then to write.
#include "sound/file/render_audio.h"

#include <ebur128.h>
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <optional>
#include <set>

#include "core/io/atomic_save.h"
#include "core/midi/render.h"
#include "core/song/names.h"
#include "core/voice/notes.h"
#include "sound/file/resampler.h"
#include "sound/play/sequencer.h"
#include "sound/synth/load_instrument.h"

namespace uneven {
namespace {

constexpr double kTailMost = 15;               // seconds after the last stroke
constexpr double kQuiet = 1e-5;                // -100 dB: all has rung out
constexpr double kQuietFor = 0.1;              // seconds
constexpr std::size_t kAtOnce = 4'096;         // frames that are handed on together
constexpr std::size_t kKeptMost = 64'000'000;  // numbers: 11 minutes, 256 MB

Error limit(std::string message) {
  return Error{ErrorCode::kLimit, std::move(message), {}};
}

// Integrated loudness (EBU R 128, ITU-R BS.1770), by libebur128.
class Loudness {
 public:
  explicit Loudness(int rate)
      : state_(ebur128_init(2, static_cast<unsigned>(rate), EBUR128_MODE_I)) {}
  Loudness(const Loudness&) = delete;
  Loudness& operator=(const Loudness&) = delete;
  ~Loudness() { ebur128_destroy(&state_); }
  void add(std::span<const float> frames) {
    if (state_ != nullptr) ebur128_add_frames_float(state_, frames.data(), frames.size() / 2);
  }
  // Minus infinity where nothing is loud enough to be measured.
  double lufs() const {
    double out = -HUGE_VAL;
    if (state_ != nullptr) ebur128_loudness_global(state_, &out);
    return out;
  }

 private:
  ebur128_state* state_;
};

// A part of the whole: who is heard in a file.
struct Part {
  std::string name;  // behind the file's; empty: the mix
  Listening listening;
  ClickPlan click;
};

class Job {
 public:
  Job(const Take& take, const KitMap& map, const AudioCall& call, Instrument& instrument)
      : take_(take), map_(map), instrument_(instrument) {
    const Score& score = take.score();
    const Beat bar =
        score.blocks.empty() ? Beat(4) : score.blocks.front().groove->meter.barLength();
    lead_ =
        toMoment(score.tempo.tempoAt(Beat(0)).quarter() * (Beat(call.leadInBars) * bar).toDouble());
  }

  // Plays a part from the file's start until it has rung out or for `frames`. False:
  // given up.
  bool play(const Part& part, std::int64_t frames, const std::function<bool(double)>& progress,
            const std::function<bool(std::span<const float>, bool)>& put) {
    Programme programme = programmeOf(take_, map_, part.listening, part.click);
    // What comes before the file's start is put there.
    for (SoundEvent& e : programme.events) e.time = std::max(e.time, -lead_);
    lastEvent_ = programme.events.empty() ? Moment(0) : programme.events.back().time;
    const Moment end = std::max(programme.end, lastEvent_) + lead_;
    const auto music =
        static_cast<std::int64_t>(static_cast<double>(end.count()) * kSoundRate / 1e9);
    const std::int64_t most =
        frames > 0 ? frames : music + static_cast<std::int64_t>(kTailMost * kSoundRate);
    instrument_.silence();
    Sequencer sequencer(instrument_);
    sequencer.play(programme, -lead_, 1);
    std::vector<float> block;
    std::int64_t made = -Sequencer::kLatency;
    int quiet = 0;
    while (made < most) {
      float left[kBlock], right[kBlock];
      sequencer.render(left, right);
      float peak = 0;
      for (int i = 0; i < kBlock; ++i, ++made) {
        if (made < 0 || made >= most) continue;
        block.push_back(left[i]);
        block.push_back(right[i]);
        peak = std::max({peak, std::abs(left[i]), std::abs(right[i])});
      }
      quiet = peak < kQuiet ? quiet + kBlock : 0;
      const bool rungOut = frames == 0 && made >= music && quiet >= kQuietFor * kSoundRate;
      if (block.size() >= 2 * kAtOnce || made >= most || rungOut) {
        const bool last = made >= most || rungOut;
        if (!put(block, last)) return false;
        block.clear();
        if (!progress(static_cast<double>(made) /
                      static_cast<double>(std::max<std::int64_t>(1, frames > 0 ? frames : music))))
          return false;
        if (last) break;
      }
    }
    played_ = made;
    return true;
  }
  std::int64_t played() const { return std::max<std::int64_t>(played_, 1); }

 private:
  const Take& take_;
  const KitMap& map_;
  Instrument& instrument_;
  Moment lead_{0};
  Moment lastEvent_{0};
  std::int64_t played_ = 0;
};

std::vector<Part> partsOf(const Take& take, const AudioCall& call) {
  std::vector<Part> out{Part{}};
  const Kit& kit = *take.score().kit;
  if (call.stems != Stems::kNone) {
    // Also what the foot sounds by itself.
    std::set<PieceId> pieces;
    std::set<Limb> limbs;
    forEachSound(take.performance(), kit, [&](const Stroke& s) {
      pieces.insert(s.piece);
      if (s.piece == piece::kHatFoot) limbs.insert(s.limb);
      return true;
    });
    if (call.stems == Stems::kLimbs) limbs.insert(take.limbs().begin(), take.limbs().end());
    if (call.stems == Stems::kPieces) {
      for (const PieceId piece : pieces) {
        // The click's own file has the shorter name.
        const bool taken = call.click && kit[piece].id == "click";
        Part part{"-" + kit[piece].id + (taken ? "-piece" : ""), {}, {}};
        part.listening.solo = {piece};
        out.push_back(part);
      }
    } else {
      for (const Limb limb : limbs) {
        Part part{"-" + std::string(textOf(limb)), {}, {}};
        part.listening.soloLimbs = {limb};
        out.push_back(part);
      }
    }
  }
  if (call.click) {
    Part part{"-click", {}, {}};
    part.listening.strokes = false;
    part.click.unit = ClickUnit::kQuarters;
    out.push_back(part);
  }
  return out;
}

// "groove.wav" and "-kick": "groove-kick.wav".
std::string nameOf(const std::string& out, const std::string& part) {
  const std::size_t dot = out.rfind('.');
  return out.substr(0, dot) + part + out.substr(dot);
}

Status check(const Take& take, const AudioCall& call) {
  if (std::find(std::begin(kAudioRates), std::end(kAudioRates), call.format.rate) ==
      std::end(kAudioRates)) {
    return limit(fmt::format("{} Hz is not offered; 44100, 48000 and 96000 are", call.format.rate));
  }
  if (call.leadInBars < 0 || call.leadInBars > kLeadInMax) {
    return limit(
        fmt::format("a lead-in of {} bars; 0..{} are allowed", call.leadInBars, kLeadInMax));
  }
  const double seconds =
      toMilliseconds(toMoment(take.score().tempo.msAt(take.score().length))).count() / 1000;
  const double bytes = (seconds + kTailMost) * call.format.rate * call.format.bytesPerFrame();
  if (bytes > static_cast<double>(kFileMost)) {
    return limit(
        fmt::format("{:.0f} minutes at {} Hz would be {:.1f} GB; at most 1 GB is written, so "
                    "take a lower rate, fewer bits, or a part of the song",
                    seconds / 60, call.format.rate, bytes / 1e9));
  }
  return Done{};
}

std::vector<std::string> noticesOf(const Take& take, const KitMap& map, const AudioCall& call) {
  std::vector<std::string> out;
  const Notes notes = voice(take, map);
  const auto strokes = [](std::size_t n) {
    return n == 1 ? std::string("1 stroke") : fmt::format("{} strokes", n);
  };
  for (const auto& [piece, count] : notes.unmapped) {
    out.push_back(fmt::format("the map \"{}\" has no note for {}: {} left out", map.name,
                              (*take.score().kit)[piece].name,
                              strokes(static_cast<std::size_t>(count))));
  }
  const std::size_t early = take.between(Moment::min(), Moment(0)).end;
  if (early > 0 && call.leadInBars == 0) {
    out.push_back(
        fmt::format("{} before the start of the file, the earliest by {:.1f} ms, put at its "
                    "start (a lead-in keeps what comes early)",
                    strokes(early), -toMilliseconds(take.strokes().front().time).count()));
  }
  return out;
}

}  // namespace

std::string audioText(const AudioReport& report) {
  std::string out = fmt::format("{:.1f} s, ", report.seconds);
  if (std::isinf(report.peakDb)) return out + "silent";
  if (std::isfinite(report.lufs)) out += fmt::format("{:.1f} LUFS, ", report.lufs);
  out += fmt::format("peak {:.1f} dBFS", report.peakDb);
  if (std::abs(report.gainDb) >= 0.05) {
    out += fmt::format(", turned {} by {:.1f} dB", report.gainDb < 0 ? "down" : "up",
                       std::abs(report.gainDb));
  }
  return out;
}

Result<AudioReport> renderAudio(FileSystem& files, const Take& take, const KitMap& givenMap,
                                const AudioCall& call, const Progress& progress) {
  if (const Status ok = check(take, call); !ok) return ok.error();
  const KitMap& map = call.bank.empty() ? houseSounds() : givenMap;
  Result<std::unique_ptr<Instrument>> instrument = loadInstrument(files, call.bank);
  if (!instrument) return instrument.error();
  (*instrument)->setRoom(call.room);
  const std::vector<Part> parts = partsOf(take, call);
  std::vector<std::string> outs;
  outs.reserve(parts.size());
  for (const Part& part : parts) outs.push_back(nameOf(call.out, part.name));
  if (const Status safe = refuseOverwriting(call.reads, outs); !safe) return safe.error();
  const double steps = static_cast<double>(parts.size()) + 1;
  double done = 0;
  const auto within = [&](double share) {
    return !progress || progress((done + std::min(1.0, share)) / steps);
  };

  Job job(take, map, call, **instrument);
  double peak = 0;
  Loudness loudness(call.format.rate);
  std::vector<float> mix;  // kept for writing unless it is long
  bool kept = true;
  {
    Resampler resampler(kSoundRate, call.format.rate);
    const bool whole =
        job.play(parts.front(), 0, within, [&](std::span<const float> in, bool last) {
          const std::span<const float> out = resampler.pass(in, last);
          for (const float s : out) peak = std::max<double>(peak, std::abs(s));
          loudness.add(out);
          kept = kept && mix.size() + out.size() <= kKeptMost;
          if (kept) mix.insert(mix.end(), out.begin(), out.end());
          return true;
        });
    if (!whole) return givenUp();
  }
  if (!kept) mix = {};
  const std::int64_t length = job.played();
  done = 1;
  AudioReport report;
  report.notices = noticesOf(take, map, call);
  report.seconds = static_cast<double>(length) / kSoundRate;
  // As loud as it is asked to be, or as full scale lets it, whichever comes first.
  const double before = loudness.lufs();
  report.gainDb = peak > 0 ? kPeakDb - 20 * std::log10(peak) : 0;
  if (std::isfinite(before)) report.gainDb = std::min(report.gainDb, kLufs - before);
  const double gain = std::pow(10, report.gainDb / 20);
  report.lufs = before + report.gainDb;
  report.peakDb = peak > 0 ? 20 * std::log10(peak * gain) : -INFINITY;

  AtomicSaves saves(files);
  for (const Part& part : parts) {
    Result<std::unique_ptr<AudioWriter>> writer = AudioWriter::open(call.format);
    if (!writer) return writer.error();
    Resampler resampler(kSoundRate, call.format.rate);
    Status written = Done{};
    std::vector<float> turned;
    const auto put = [&](std::span<const float> out) {
      turned.assign(out.begin(), out.end());
      for (float& s : turned) s = static_cast<float>(s * gain);
      written = (*writer)->write(turned);
      return static_cast<bool>(written);
    };
    bool whole = true;
    if (&part == &parts.front() && kept) {
      for (std::span<const float> rest(mix); !rest.empty() && whole && written;) {
        const std::span<const float> some = rest.first(std::min(rest.size(), 2 * kAtOnce));
        whole = put(some) &&
                within(1 - static_cast<double>(rest.size()) / static_cast<double>(mix.size()));
        rest = rest.subspan(some.size());
      }
      mix = {};
    } else {
      whole = job.play(part, length, within, [&](std::span<const float> in, bool last) {
        return put(resampler.pass(in, last));
      });
    }
    if (!written) return written.error();
    if (!whole) return givenUp();
    const Result<std::string> bytes = (*writer)->finish();
    if (!bytes) return bytes.error();
    report.files.push_back(nameOf(call.out, part.name));
    if (const Status staged = saves.stage(report.files.back(), *bytes); !staged)
      return staged.error();
    ++done;
  }
  if (const Status saved = saves.commit(); !saved) return saved.error();
  return report;
}

}  // namespace uneven
