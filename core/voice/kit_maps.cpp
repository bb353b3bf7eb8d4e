// SPDX-License-Identifier: GPL-3.0-or-later
// The user's kit maps.
#include "core/voice/kit_maps.h"

#include <fmt/format.h>

#include <algorithm>
#include <cstdlib>
#include <filesystem>

#include "core/io/atomic_save.h"

namespace uneven {
namespace {

constexpr std::string_view kMapEnding = ".json";

void put(std::deque<KitMap>& maps, KitMap map) {
  const auto old =
      std::find_if(maps.begin(), maps.end(), [&](const KitMap& m) { return m.id == map.id; });
  if (old == maps.end()) {
    maps.push_back(std::move(map));
  } else {
    *old = std::move(map);
  }
}

}  // namespace

std::string usersKitMapFolder() {
  const char* data = std::getenv("XDG_DATA_HOME");
  // What is no full path is to be left out (XDG Base Directory Specification).
  if (data != nullptr && data[0] == '/') return std::string(data) + "/uneven-stick/maps";
  const char* home = std::getenv("HOME");
  if (home == nullptr || home[0] == '\0') return {};
  return std::string(home) + "/.local/share/uneven-stick/maps";
}

void KitMapLibrary::readFolder() const {
  if (read_ || files_ == nullptr || folder_.empty()) return;
  read_ = true;
  std::vector<std::string> names = files_->namesIn(folder_, "");
  std::sort(names.begin(), names.end());
  for (const std::string& name : names) {
    if (!name.ends_with(kMapEnding)) continue;
    const std::string path = folder_ + "/" + name;
    const Result<std::string> text = files_->read(path);
    Result<KitMap> map = text ? readKitMap(*text, path) : text.error();
    if (!map) {
      unread_.push_back(map.error().line());
    } else if (std::none_of(maps_.begin(), maps_.end(),
                            [&](const KitMap& m) { return m.id == map->id; })) {
      maps_.push_back(*std::move(map));
    }
  }
}

const std::vector<std::string>& KitMapLibrary::unread() const {
  readFolder();
  return unread_;
}

std::vector<const KitMap*> KitMapLibrary::maps() const {
  readFolder();
  std::vector<const KitMap*> out;
  for (const KitMap& map : builtInKitMaps()) out.push_back(find(map.id));
  for (const KitMap& map : maps_) {
    if (builtInKitMap(map.id) == nullptr) out.push_back(&map);
  }
  return out;
}

const KitMap* KitMapLibrary::find(std::string_view id) const {
  readFolder();
  for (const KitMap& map : maps_) {
    if (map.id == id) return &map;
  }
  return builtInKitMap(id);
}

const KitMap& KitMapLibrary::orDefault(std::string_view id) const {
  const KitMap* map = find(id);
  return map == nullptr ? builtInKitMaps().front() : *map;
}

std::string KitMapLibrary::words() const {
  std::string out;
  for (const KitMap* map : maps()) out += (out.empty() ? "" : ", ") + map->id;
  out += " are";
  for (const std::string& why : unread_) out += "; not read: " + why;
  return out;
}

Result<KitMap> KitMapLibrary::named(const std::string& fileOrId) const {
  if (files_ != nullptr) {
    const Result<std::string> text = files_->read(fileOrId);
    if (text) return readKitMap(*text, fileOrId);
    if (find(fileOrId) == nullptr) {
      Error error = text.error();
      error.message += fmt::format("; nor is it a kit map that is here ({})", words());
      return error;
    }
  }
  if (const KitMap* map = find(fileOrId)) return *map;
  return Error{
      ErrorCode::kUnknown, fmt::format("there is no kit map \"{}\" ({})", fileOrId, words()), {}};
}

void KitMapLibrary::add(KitMap map) {
  readFolder();
  put(maps_, std::move(map));
}

// An id may be any text; a file's name may not. Another map's file is never taken.
std::string KitMapLibrary::fileFor(std::string_view id) const {
  std::string plain;
  for (const char c : id) {
    const bool fits = (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') ||
                      c == '-' || c == '_';
    plain += fits ? c : '-';
  }
  constexpr std::size_t kLongest = 80;
  plain = plain.empty() ? "map" : plain.substr(0, kLongest);
  for (int i = 1;; ++i) {
    std::string path =
        fmt::format("{}/{}{}{}", folder_, plain, i == 1 ? "" : fmt::format("-{}", i), kMapEnding);
    const Result<std::string> text = files_->read(path);
    if (!text) return path;  // nothing is there, or saving tells what is wrong
    const Result<KitMap> there = readKitMap(*text, path);
    if (there && there->id == id) return path;
  }
}

Status KitMapLibrary::keep(const KitMap& map) {
  add(map);
  if (files_ == nullptr || folder_.empty())
    return Error{ErrorCode::kPermission, "there is no folder for kit maps", {}};
  std::error_code why;  // saving tells it better
  std::filesystem::create_directories(folder_, why);
  return saveAtomically(*files_, fileFor(map.id), writeKitMap(map));
}

}  // namespace uneven
