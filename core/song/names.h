// SPDX-License-Identifier: GPL-3.0-or-later
// The words of files and of the interface for each choice.
//
// textOf(Role::kGhost) == "ghost" is what files hold; spokenName gives what people read: "Ghost".
// fromText is the inverse of textOf and gives nothing for an unknown word.
#pragma once

#include <optional>
#include <span>
#include <string>
#include <string_view>

#include "core/song/song.h"

namespace uneven {

template <typename E>
struct Named {
  E value;
  std::string_view text;    // in files
  std::string_view spoken;  // on screen
};

// Every value of an enumeration with its words, in the order choices are shown. Defined for Role,
// StrokeKind, Limb, Side, Ornament, SwingUnit, Written, PedalTechnique, PumpPhase,
// FillAfter and WalkMark.
template <typename E>
std::span<const Named<E>> namesOf();

// "": none of its values.
template <typename E>
std::string_view textOf(E value) {
  for (const Named<E>& n : namesOf<E>()) {
    if (n.value == value) return n.text;
  }
  return {};
}

// "right hand"
template <typename E>
std::string_view spokenName(E value) {
  for (const Named<E>& n : namesOf<E>()) {
    if (n.value == value) return n.spoken;
  }
  return {};
}

// Nothing: no such word. Case counts.
template <typename E>
std::optional<E> fromText(std::string_view text) {
  for (const Named<E>& n : namesOf<E>()) {
    if (n.text == text) return n.value;
  }
  return std::nullopt;
}

// "accent, normal, ghost, grace": for messages that say what is allowed.
template <typename E>
std::string allowedWords() {
  std::string out;
  for (const Named<E>& n : namesOf<E>()) {
    if (!out.empty()) out += ", ";
    out += n.text;
  }
  return out;
}

// "R" or "L" for hands and feet alike; empty for automatic.
std::string_view limbLetter(Limb limb);

}  // namespace uneven
