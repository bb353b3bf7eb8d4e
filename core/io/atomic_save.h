// SPDX-License-Identifier: GPL-3.0-or-later
// Saving so that a file is either the old one or the new one, whatever happens in between.
#pragma once

#include <string>
#include <string_view>

#include "core/io/file_system.h"

namespace uneven {

// Writes beside the file, waits for the device, then takes the file's place in one step. On an
// error the file is as it was and nothing is left beside it. A link is followed, so that the file
// it points to is replaced; the old file's permissions are kept.
Status saveAtomically(FileSystem& files, const std::string& path, std::string_view bytes);

}  // namespace uneven
