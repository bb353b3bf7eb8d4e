// SPDX-License-Identifier: GPL-3.0-or-later
// Reading a recording that is to sound beside the part.
#pragma once

#include "sound/file/listen.h"
#include "sound/play/guide.h"

namespace uneven {

// At kSoundRate, two channels. Errors: those of AudioReader::open; kUsage "given up" where progress
// said so.
Result<std::shared_ptr<const GuideSound>> readGuide(const std::string& file,
                                                    const ListenProgress& progress = {});

}  // namespace uneven
