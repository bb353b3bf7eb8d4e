// SPDX-License-Identifier: GPL-3.0-or-later
// Reads the chunks of a sound bank and writes them again with longer samples.
#include "sound/bank/lead.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <optional>
#include <vector>

namespace uneven::bank {
namespace {

constexpr std::size_t kHead = 8;         // id and size of a chunk
constexpr std::size_t kSampleHead = 46;  // of a sample's header
constexpr std::size_t kGap = 46;         // frames of silence after a sample
constexpr int kRomSample = 0x8000, kCompressed = 0x10;

std::uint32_t u32(std::string_view bytes, std::size_t at) {
  std::uint32_t out = 0;
  for (std::size_t i = 4; i-- > 0;) out = (out << 8) | static_cast<unsigned char>(bytes[at + i]);
  return out;
}
void put32(std::string& bytes, std::size_t at, std::uint32_t value) {
  for (std::size_t i = 0; i < 4; ++i) bytes[at + i] = static_cast<char>(value >> (8 * i));
}
std::string chunk(std::string_view id, std::string_view body) {
  std::string out(id);
  out.append(4, '\0');
  put32(out, 4, static_cast<std::uint32_t>(body.size()));
  out += body;
  if (body.size() % 2 != 0) out += '\0';
  return out;
}

struct Piece {
  std::string_view id, body;
  std::size_t at = 0;  // of the body, in the file
};

class Reader {
 public:
  Reader(std::string_view bytes, const std::string& file) : bytes_(bytes), file_(file) {}

  Result<LedBank> run() {
    if (bytes_.size() < 12 || bytes_.substr(0, 4) != "RIFF" || bytes_.substr(8, 4) != "sfbk") {
      return fail(0, "is not a sound bank (.sf2)");
    }
    std::string info, rest;
    std::vector<Piece> preset;
    Piece samples;
    // What the file says of its own size is not asked: a file that is cut off shows below.
    for (const Piece& list : chunks(12, bytes_.size())) {
      if (list.id != "LIST" || list.body.size() < 4) continue;
      const std::string_view kind = list.body.substr(0, 4);
      if (kind == "INFO") info = chunk("LIST", list.body);
      const std::vector<Piece> inside = chunks(list.at + 4, list.at + list.body.size());
      if (error_) break;
      for (const Piece& piece : inside) {
        if (kind == "sdta" && piece.id == "smpl") samples = piece;
      }
      if (kind == "pdta") preset = inside;
    }
    if (error_) return *error_;
    if (samples.body.empty())
      return fail(bytes_.size(), "has no samples: it is cut off or damaged");
    Piece heads;
    for (const Piece& piece : preset) {
      if (piece.id == "shdr") heads = piece;
    }
    if (heads.body.size() < 2 * kSampleHead || heads.body.size() % kSampleHead != 0) {
      return fail(heads.at, "does not say where its samples are: it is cut off or damaged");
    }
    std::string newHeads;
    const std::optional<std::string> longer = lengthen(samples, heads, newHeads);
    if (!longer) return *error_;
    std::string presets = "pdta";
    for (const Piece& piece : preset) {
      presets += chunk(piece.id, piece.id == "shdr" ? std::string_view(newHeads) : piece.body);
    }
    const std::string body =
        "sfbk" + info + chunk("LIST", "sdta" + chunk("smpl", *longer)) + chunk("LIST", presets);
    return LedBank{chunk("RIFF", body), rate_};
  }

 private:
  Error fail(std::size_t at, std::string message) {
    error_ = Error{ErrorCode::kSyntax, std::move(message), {file_, 0, 0, at}};
    return *error_;
  }

  std::vector<Piece> chunks(std::size_t at, std::size_t end) {
    std::vector<Piece> out;
    while (at + kHead <= end && !error_) {
      const std::size_t size = u32(bytes_, at + 4);
      if (size > end - at - kHead) {
        fail(at, "is cut off: a part of it goes beyond its end");
        break;
      }
      out.push_back({bytes_.substr(at, 4), bytes_.substr(at + kHead, size), at + kHead});
      at += kHead + size + size % 2;
    }
    return out;
  }

  // Every sample with its lead; `heads` as they are then. Samples that share frames get frames of
  // their own.
  std::optional<std::string> lengthen(const Piece& samples, const Piece& heads, std::string& out) {
    const std::size_t frames = samples.body.size() / 2;
    std::size_t total = 0;
    std::map<std::uint32_t, int> rates;
    out = std::string(heads.body);
    std::string longer;
    for (std::size_t at = 0; at + kSampleHead < heads.body.size(); at += kSampleHead) {
      const std::uint32_t start = u32(out, at + 20), end = u32(out, at + 24);
      const int type =
          static_cast<unsigned char>(out[at + 44]) | static_cast<unsigned char>(out[at + 45]) << 8;
      if ((type & kCompressed) != 0) {
        error_ = Error{ErrorCode::kVersion, "has compressed samples", {file_, 0, 0, heads.at + at}};
        return std::nullopt;
      }
      if ((type & kRomSample) != 0) continue;
      if (start > end || end > frames) {
        fail(heads.at + at, "has a sample beyond its end: it is cut off or damaged");
        return std::nullopt;
      }
      total += end - start + kLeadFrames + kGap;
      if (total > 2 * frames + (heads.body.size() / kSampleHead) * (kLeadFrames + kGap)) {
        fail(heads.at + at, "has samples that lie over each other many times");
        return std::nullopt;
      }
      const auto begin = static_cast<std::uint32_t>(longer.size() / 2);
      longer.append(std::size_t{2} * kLeadFrames, '\0');
      longer += samples.body.substr(2 * std::size_t{start}, 2 * std::size_t{end - start});
      longer.append(2 * kGap, '\0');
      const auto moved = [&](std::size_t field) {
        const std::uint32_t frame = std::clamp(u32(out, at + field), start, end);
        put32(out, at + field, frame - start + begin + kLeadFrames);
      };
      for (const std::size_t field : {std::size_t{24}, std::size_t{28}, std::size_t{32}})
        moved(field);
      put32(out, at + 20, begin);
      ++rates[u32(out, at + 36)];
    }
    int most = 0;
    for (const auto& [rate, count] : rates) {
      if (count > most) {
        most = count;
        rate_ = static_cast<int>(rate);
      }
    }
    return longer;
  }

  std::string_view bytes_;
  const std::string& file_;
  std::optional<Error> error_;
  int rate_ = 48'000;
};

}  // namespace

Result<LedBank> withLead(std::string_view bytes, const std::string& file) {
  return Reader(bytes, file).run();
}

}  // namespace uneven::bank
