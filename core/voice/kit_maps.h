// SPDX-License-Identifier: GPL-3.0-or-later
// The kit maps there are: those that come with the program, those in the user's folder, and what
// has been read from elsewhere since the start. Of one id the latest counts.
//
// The folder is maps/ in the program's data ($XDG_DATA_HOME/uneven-stick, else
// ~/.local/share/uneven-stick): songs name their map by id, and find it there whether the window or
// the command line plays them. It is read when a map is first asked for. Threads: belongs to one.
#pragma once

#include <deque>
#include <string>
#include <string_view>
#include <vector>

#include "core/io/file_system.h"
#include "core/voice/kit_map.h"

namespace uneven {

// Where the user's maps are, by the environment; empty where there is no home.
std::string usersKitMapFolder();

class KitMapLibrary {
 public:
  // No folder: what comes with the program alone.
  KitMapLibrary() = default;
  KitMapLibrary(FileSystem& files, std::string folder)
      : files_(&files), folder_(std::move(folder)) {}

  std::vector<const KitMap*> maps() const;
  const KitMap* find(std::string_view id) const;       // nullptr when there is none
  const KitMap& orDefault(std::string_view id) const;  // General MIDI when there is none
  // "general-midi, house-keys are; not read: FILE:1:2: …", for messages.
  std::string words() const;
  // A file, or else a map by its id. Errors: of the file; kUnknown with the ids there are.
  Result<KitMap> named(const std::string& fileOrId) const;
  // Until the program ends.
  void add(KitMap map);
  // And in the user's folder, in place of one of its id. Errors: as for saveAtomically; then it is
  // there until the program ends.
  Status keep(const KitMap& map);
  // Of the folder: what could not be read, and why.
  const std::vector<std::string>& unread() const;

 private:
  void readFolder() const;
  std::string fileFor(std::string_view id) const;

  FileSystem* files_ = nullptr;
  std::string folder_;
  mutable bool read_ = false;
  mutable std::deque<KitMap> maps_;  // besides those that come with the program
  mutable std::vector<std::string> unread_;
};

}  // namespace uneven
