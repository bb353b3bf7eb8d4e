// SPDX-License-Identifier: GPL-3.0-or-later
// The words of findings.
#include "core/check/finding.h"

#include <array>

namespace uneven {
namespace {

struct Words {
  FindingKind kind;
  std::string_view word;   // of files and scripts
  std::string_view title;  // of screens
};

constexpr std::array kWords{
    Words{FindingKind::kUnisonSpread, "unison-spread", "Flam"},
    Words{FindingKind::kThirdHand, "third-hand", "A third hand"},
    Words{FindingKind::kNotPlayable, "not-playable", "Not playable"},
    Words{FindingKind::kHard, "hard", "Hard"},
    Words{FindingKind::kSeparation, "separation", "Ghosts and accents"},
    Words{FindingKind::kGhostStandsOut, "ghost-stands-out", "Ghost stands out"},
    Words{FindingKind::kHatsHeavy, "hats-heavy", "Hats over the backbeat"},
    Words{FindingKind::kBackbeatUneven, "backbeat-uneven", "Uneven backbeats"},
    Words{FindingKind::kBackbeatMissing, "backbeat-missing", "No backbeat"},
    Words{FindingKind::kSoftUnison, "soft-unison", "Unison too loud"},
    Words{FindingKind::kUnevenNotes, "uneven-notes", "Uneven notes"},
    Words{FindingKind::kLeadFoot, "lead-foot", "Lead foot changes"},
    Words{FindingKind::kTooClose, "too-close", "Too close"},
    Words{FindingKind::kBeforeStart, "before-start", "Before the start"},
    Words{FindingKind::kNoSound, "no-sound", "No sound"},
    Words{FindingKind::kFlatVelocity, "flat-velocity", "Flat velocities"},
    Words{FindingKind::kFlatDynamics, "flat-dynamics", "Like a machine"},
    Words{FindingKind::kHeld, "held", "Held"},
    Words{FindingKind::kSqueezed, "squeezed", "Squeezed ornament"},
    Words{FindingKind::kShortBuzz, "short-buzz", "Short buzz"},
    Words{FindingKind::kNotLinear, "not-linear", "Not linear"},
    Words{FindingKind::kBarLate, "bar-late", "A bar late"},
    Words{FindingKind::kCoreLost, "core-lost", "Core left out"},
    Words{FindingKind::kCutOpening, "cut-opening", "Opening cut short"},
    Words{FindingKind::kLateClose, "late-close", "Late close"},
    Words{FindingKind::kEarlyClose, "early-close", "Early close"},
    Words{FindingKind::kEarlyOpening, "early-opening", "Early opening"},
    Words{FindingKind::kNoRoom, "no-room", "No room"},
    Words{FindingKind::kTwoPlaces, "two-places", "Foot in two places"},
};

const Words& wordsOf(FindingKind kind) {
  for (const Words& w : kWords) {
    if (w.kind == kind) return w;
  }
  return kWords.front();
}

}  // namespace

std::string_view findingWord(FindingKind kind) {
  return wordsOf(kind).word;
}

std::string_view findingTitle(FindingKind kind) {
  return wordsOf(kind).title;
}

std::string_view severityWord(Severity severity) {
  switch (severity) {
    case Severity::kNote:
      return "note";
    case Severity::kFinding:
      return "finding";
    case Severity::kError:
      break;
  }
  return "error";
}

}  // namespace uneven
