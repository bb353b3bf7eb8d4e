// SPDX-License-Identifier: GPL-3.0-or-later
// Reading plain hits.
#include "core/io/quick_hit.h"

#include "core/base/number.h"
#include "core/song/hit_fields.h"
#include "core/song/names.h"

namespace uneven {
namespace {

class QuickHit {
 public:
  QuickHit(const JsonTree& tree, const Kit& kit, Beat length)
      : tree_(tree), kit_(kit), length_(length) {}

  std::optional<Hit> read(JsonTree::Id id) {
    if (tree_[id].kind != JsonKind::kObject) return std::nullopt;
    for (JsonTree::Id child = tree_[id].firstChild; child != 0; child = tree_[child].nextSibling) {
      const Key key = keyOf(tree_.rawKey(child));
      const unsigned bit = 1U << static_cast<unsigned>(key);
      if (key == Key::kOther || (seen_ & bit) != 0 || !take(key, child)) return std::nullopt;
      seen_ |= bit;
    }
    constexpr unsigned kNeeded = 1U << static_cast<unsigned>(Key::kAt) |
                                 1U << static_cast<unsigned>(Key::kPiece) |
                                 1U << static_cast<unsigned>(Key::kVelocity);
    if ((seen_ & kNeeded) != kNeeded) return std::nullopt;
    return hit_;
  }

 private:
  enum class Key {
    kAt,
    kPiece,
    kVelocity,
    kRole,
    kStroke,
    kLimb,
    kOrnament,
    kOpen,
    kOpenFor,
    kNudge,
    kOther
  };

  // By length first: few keys are as long as another.
  static Key keyOf(std::string_view key) {
    const auto is = [&](std::string_view text, Key value) {
      return key == text ? value : Key::kOther;
    };
    switch (key.size()) {
      case 2:
        return is(hit_field::kAt.name, Key::kAt);
      case 4:
        return key[0] == 'r'   ? is(hit_field::kRole.name, Key::kRole)
               : key[0] == 'o' ? is(hit_field::kOpen.name, Key::kOpen)
                               : is(hit_field::kLimb.name, Key::kLimb);
      case 5:
        return key[0] == 'p' ? is(hit_field::kPiece.name, Key::kPiece)
                             : is(hit_field::kNudge.name, Key::kNudge);
      case 6:
        return is(hit_field::kStroke.name, Key::kStroke);
      case 8:
        return key[0] == 'v'   ? is(hit_field::kVelocity.name, Key::kVelocity)
               : key[1] == 'r' ? is(hit_field::kOrnament.name, Key::kOrnament)
                               : is(hit_field::kOpenFor.name, Key::kOpenFor);
      default:
        return Key::kOther;
    }
  }

  // The text of a string without escapes; empty for anything else, which no key allows.
  std::string_view text(JsonTree::Id id) const {
    if (tree_[id].kind != JsonKind::kString) return {};
    const std::string_view source = tree_.source(id);
    return source.find('\\') == std::string_view::npos ? source.substr(1, source.size() - 2)
                                                       : std::string_view();
  }
  bool beat(JsonTree::Id id, Beat& out) const {
    const auto value = Beat::parse(text(id));
    if (!value || *value < Beat(0) || *value > kPositionMost || value->den() > kDenominatorMax) {
      return false;
    }
    out = *value;
    return true;
  }
  template <typename E>
  bool word(JsonTree::Id id, E& out) const {
    const auto value = fromText<E>(text(id));
    if (value) out = *value;
    return value.has_value();
  }
  bool real(JsonTree::Id id, const HitField& field, double& out) const {
    const JsonKind kind = tree_[id].kind;
    if (kind != JsonKind::kWhole && kind != JsonKind::kReal) return false;
    const auto value = decimalNumber(tree_.source(id));
    if (!value || !field.allows(*value)) return false;
    out = *value;
    return true;
  }

  bool take(Key key, JsonTree::Id id) {
    switch (key) {
      case Key::kAt:
        return beat(id, hit_.at) && hit_.at < length_;
      case Key::kPiece: {
        const auto piece = kit_.find(text(id));
        hit_.piece = piece.value_or(PieceId{});
        return piece.has_value();
      }
      case Key::kVelocity: {
        const auto value =
            tree_[id].kind == JsonKind::kWhole ? wholeNumber(tree_.source(id)) : std::nullopt;
        if (!value || !hit_field::kVelocity.allows(static_cast<double>(*value))) return false;
        hit_.velocity = Velocity(static_cast<int>(*value));
        return true;
      }
      case Key::kRole:
        return word(id, hit_.role);
      case Key::kStroke:
        return word(id, hit_.stroke);
      case Key::kLimb:
        return word(id, hit_.limb);
      case Key::kOrnament:
        return word(id, hit_.ornament);
      case Key::kOpen:
        return real(id, hit_field::kOpen, hit_.open);
      case Key::kOpenFor:
        return beat(id, hit_.openFor);
      case Key::kNudge: {
        double ms = 0;
        if (!real(id, hit_field::kNudge, ms)) return false;
        hit_.nudge = Milliseconds(ms);
        return true;
      }
      case Key::kOther:
        break;
    }
    return false;
  }

  const JsonTree& tree_;
  const Kit& kit_;
  Beat length_;
  Hit hit_;
  unsigned seen_ = 0;
};

}  // namespace

std::optional<Hit> quickHit(const JsonTree& tree, JsonTree::Id id, const Kit& kit, Beat length) {
  return QuickHit(tree, kit, length).read(id);
}

}  // namespace uneven
