// SPDX-License-Identifier: GPL-3.0-or-later
// The tables behind names.h.
#include "core/song/names.h"

namespace uneven {

template <>
std::span<const Named<Role>> namesOf<Role>() {
  static constexpr Named<Role> kNames[] = {{Role::kAccent, "accent", "Accent"},
                                           {Role::kNormal, "normal", "Normal"},
                                           {Role::kGhost, "ghost", "Ghost"},
                                           {Role::kGrace, "grace", "Grace"}};
  return kNames;
}

template <>
std::span<const Named<StrokeKind>> namesOf<StrokeKind>() {
  static constexpr Named<StrokeKind> kNames[] = {
      {StrokeKind::kNormal, "normal", "Normal"},
      {StrokeKind::kRimShot, "rim-shot", "Rim shot"},
      {StrokeKind::kCrossStick, "cross-stick", "Cross-stick"},
      {StrokeKind::kEdge, "edge", "Edge"},
      {StrokeKind::kBell, "bell", "Bell"},
      {StrokeKind::kBuzz, "buzz", "Buzz"},
      {StrokeKind::kSplash, "splash", "Foot splash"}};
  return kNames;
}

template <>
std::span<const Named<Limb>> namesOf<Limb>() {
  static constexpr Named<Limb> kNames[] = {{Limb::kAutomatic, "automatic", "Automatic"},
                                           {Limb::kRightHand, "right-hand", "Right hand"},
                                           {Limb::kLeftHand, "left-hand", "Left hand"},
                                           {Limb::kRightFoot, "right-foot", "Right foot"},
                                           {Limb::kLeftFoot, "left-foot", "Left foot"}};
  return kNames;
}

template <>
std::span<const Named<Side>> namesOf<Side>() {
  static constexpr Named<Side> kNames[] = {{Side::kRight, "right", "Right-handed"},
                                           {Side::kLeft, "left", "Left-handed"}};
  return kNames;
}

template <>
std::span<const Named<Ornament>> namesOf<Ornament>() {
  static constexpr Named<Ornament> kNames[] = {
      {Ornament::kNone, "none", "None"},       {Ornament::kFlam, "flam", "Flam"},
      {Ornament::kDrag, "drag", "Drag"},       {Ornament::kRuff, "ruff", "Four-stroke ruff"},
      {Ornament::kDiddle, "diddle", "Diddle"}, {Ornament::kBuzz, "buzz", "Buzz"},
      {Ornament::kRoll, "roll", "Roll"}};
  return kNames;
}

template <>
std::span<const Named<SwingUnit>> namesOf<SwingUnit>() {
  static constexpr Named<SwingUnit> kNames[] = {{SwingUnit::kEighth, "1/8", "Eighths"},
                                                {SwingUnit::kSixteenth, "1/16", "Sixteenths"}};
  return kNames;
}

template <>
std::span<const Named<Written>> namesOf<Written>() {
  static constexpr Named<Written> kNames[] = {{Written::kStraight, "straight", "Straight"},
                                              {Written::kTriplet, "triplet", "In triplets"}};
  return kNames;
}

template <>
std::span<const Named<PedalTechnique>> namesOf<PedalTechnique>() {
  static constexpr Named<PedalTechnique> kNames[] = {
      {PedalTechnique::kHeelDown, "heel-down", "Heel down"},
      {PedalTechnique::kHeelUp, "heel-up", "Heel up"}};
  return kNames;
}

template <>
std::span<const Named<PumpPhase>> namesOf<PumpPhase>() {
  static constexpr Named<PumpPhase> kNames[] = {{PumpPhase::kOn, "on", "On the beat"},
                                                {PumpPhase::kOff, "off", "On the offbeats"}};
  return kNames;
}

template <>
std::span<const Named<FillAfter>> namesOf<FillAfter>() {
  static constexpr Named<FillAfter> kNames[] = {{FillAfter::kNothing, "nothing", "Nothing"},
                                                {FillAfter::kCrash, "crash", "Crash and kick"},
                                                {FillAfter::kOpenHats, "open-hats", "Open hats"}};
  return kNames;
}

template <>
std::span<const Named<WalkMark>> namesOf<WalkMark>() {
  static constexpr Named<WalkMark> kNames[] = {{WalkMark::kGood, "good", "Good"},
                                               {WalkMark::kAwkward, "awkward", "Awkward"},
                                               {WalkMark::kNotForMe, "not-for-me", "Not for me"}};
  return kNames;
}

std::string_view limbLetter(Limb limb) {
  switch (limb) {
    case Limb::kAutomatic:
      return "";
    case Limb::kRightHand:
    case Limb::kRightFoot:
      return "R";
    case Limb::kLeftHand:
    case Limb::kLeftFoot:
      return "L";
  }
  return "";
}

}  // namespace uneven
