// SPDX-License-Identifier: GPL-3.0-or-later
// Devices through FluidSynth's drivers, and the silent output.
#include "sound/play/audio_output.h"

#include <dlfcn.h>

#include <algorithm>
#include <array>
#include <cstdlib>
#include <map>
#include <regex>
#include <sstream>

#include "sound/synth/fluid_api.h"

namespace uneven {

SilentOutput::SilentOutput(Player& player)
    : thread_([this, &player] {
        // Ten milliseconds at once, as a device would.
        constexpr int kFrames = kSoundRate / 100;
        std::array<float, kFrames> left{}, right{};
        auto next = std::chrono::steady_clock::now();
        while (!over_.load(std::memory_order_relaxed)) {
          player.pull(left.data(), right.data(), kFrames, next);
          next += std::chrono::milliseconds(10);
          // After a long sleep of the machine it goes on from now rather than hurrying after.
          next = std::max(next, std::chrono::steady_clock::now() - std::chrono::seconds(1));
          std::this_thread::sleep_until(next);
        }
      }) {}

SilentOutput::~SilentOutput() {
  over_ = true;
  thread_.join();
}

namespace {

constexpr std::size_t kLineMost = 400;  // of what a kernel says of a card

class FluidOutput final : public AudioOutput {
 public:
  FluidOutput(const FluidApi& api, Player& player, std::string driver)
      : api_(api), name_(std::move(driver)), settings_(api.new_fluid_settings()) {
    api_.fluid_settings_setnum(settings_, "synth.sample-rate", kSoundRate);
    const std::string kind = name_.substr(0, name_.find(':'));
    api_.fluid_settings_setstr(settings_, "audio.driver", kind.c_str());
    if (kind.size() < name_.size()) {
      api_.fluid_settings_setstr(settings_, ("audio." + kind + ".device").c_str(),
                                 name_.c_str() + kind.size() + 1);
    }
    api_.fluid_settings_setstr(settings_, "audio.jack.id", "uneven-stick");
    driver_ = api_.new_fluid_audio_driver2(settings_, &FluidOutput::pull, &player);
  }
  FluidOutput(const FluidOutput&) = delete;
  FluidOutput& operator=(const FluidOutput&) = delete;
  ~FluidOutput() override {
    if (driver_ != nullptr) api_.delete_fluid_audio_driver(driver_);
    api_.delete_fluid_settings(settings_);
  }
  bool open() const { return driver_ != nullptr; }
  std::string name() const override { return name_; }

 private:
  static int pull(void* player, int frames, int /*effects*/, float** /*effect*/, int outs,
                  float** out) {
    if (outs < 2) return FLUID_FAILED;
    static_cast<Player*>(player)->pull(out[0], out[1], frames);
    return FLUID_OK;
  }

  const FluidApi& api_;
  std::string name_;
  fluid_settings_t* settings_;
  fluid_audio_driver_t* driver_ = nullptr;
};

}  // namespace

std::vector<std::string> audioDrivers() {
  std::vector<std::string> out;
  const Result<const FluidApi*> api = fluidApi();
  if (!api) return out;
  fluid_settings_t* settings = (*api)->new_fluid_settings();
  (*api)->fluid_settings_foreach_option(
      settings, "audio.driver", &out, [](void* data, const char*, const char* option) {
        // "file" writes to a file; the others are wrappers around these.
        static constexpr std::array<std::string_view, 4> kKnown{"pipewire", "pulseaudio", "jack",
                                                                "alsa"};
        if (std::find(kKnown.begin(), kKnown.end(), option) != kKnown.end()) {
          static_cast<std::vector<std::string>*>(data)->emplace_back(option);
        }
      });
  (*api)->delete_fluid_settings(settings);
  const auto rank = [](const std::string& driver) {
    return driver == "pipewire" ? 0 : driver == "pulseaudio" ? 1 : driver == "alsa" ? 2 : 3;
  };
  std::sort(out.begin(), out.end(),
            [&](const auto& a, const auto& b) { return rank(a) < rank(b); });
  return out;
}

std::vector<AudioCard> alsaCards(const std::string& cards, const std::string& pcm) {
  // " 0 [PCH            ]: HDA-Intel - HDA Intel PCH"
  static const std::regex kCard(R"(^\s*(\d+) \[(\S+)\s*\]: \S+ - (.+)$)");
  // "00-00: ALC269VC Analog : ALC269VC Analog : playback 1 : capture 1"
  static const std::regex kPcm(R"(^(\d+)-(\d+): ([^:]+) : .*playback \d+.*$)");
  struct Card {
    std::string id, name;
  };
  std::map<int, Card> known;
  std::smatch m;
  std::istringstream cardLines(cards), pcmLines(pcm);
  for (std::string line; std::getline(cardLines, line);) {
    if (line.size() < kLineMost && std::regex_match(line, m, kCard)) {
      known[std::atoi(m[1].str().c_str())] = {m[2], m[3]};
    }
  }
  std::vector<AudioCard> out;
  for (std::string line; std::getline(pcmLines, line);) {
    if (line.size() >= kLineMost || !std::regex_match(line, m, kPcm)) continue;
    const auto card = known.find(std::atoi(m[1].str().c_str()));
    if (card == known.end()) continue;
    out.push_back({"alsa:plughw:CARD=" + card->second.id +
                       ",DEV=" + std::to_string(std::atoi(m[2].str().c_str())),
                   card->second.name + ", " + m[3].str()});
  }
  return out;
}

namespace {

void saidNothing(const char* /*file*/, int /*line*/, const char* /*function*/, int /*error*/,
                 const char* /*format*/, ...) {}

// ALSA's library writes to stderr what it does not find; that there is no device is said in words.
void keepAlsaSilent() {
  static const bool done = [] {
    void* alsa = ::dlopen("libasound.so.2", RTLD_NOW | RTLD_NOLOAD);
    if (alsa == nullptr) return true;
    using Handler = void (*)(const char*, int, const char*, int, const char*, ...);
    using Set = int (*)(Handler);
    if (const auto set = reinterpret_cast<Set>(::dlsym(alsa, "snd_lib_error_set_handler"))) {
      set(saidNothing);
    }
    return true;
  }();
  (void)done;
}

}  // namespace

Result<std::unique_ptr<AudioOutput>> openDevice(Player& player, const std::string& driver) {
  const Result<const FluidApi*> api = fluidApi();
  if (!api) return api.error();
  keepAlsaSilent();
  auto output = std::make_unique<FluidOutput>(**api, player, driver);
  if (!output->open()) {
    return Error{ErrorCode::kNotFound, "no sound device or server answers to " + driver, {}};
  }
  return std::unique_ptr<AudioOutput>(std::move(output));
}

}  // namespace uneven
