// SPDX-License-Identifier: GPL-3.0-or-later
// A value that copies share until one of them is changed.
//
// Undo keeps many Songs, and most of them differ in one groove. With the grooves behind a
// SharedValue a copy of a Song is a few pointers. It compares by value:
//
//   SharedValue<Groove> a{groove}, b = a;
//   b.edit([](Groove& g) { g.name = "Verse B"; });   // a still has its own name
//
// Threads: reading from several threads is safe, as what is shared is const; edit() replaces only
// this copy's pointer.
#pragma once

#include <memory>
#include <utility>

namespace uneven {

template <typename T>
class SharedValue {
 public:
  SharedValue() : value_(nothing()) {}
  SharedValue(T value)  // NOLINT(google-explicit-constructor)
      : value_(std::make_shared<const T>(std::move(value))) {}

  const T& operator*() const { return *value_; }
  const T* operator->() const { return value_.get(); }

  // To know the very same value again without keeping it alive.
  std::weak_ptr<const T> watch() const { return value_; }

  template <typename Change>
  void edit(Change change) {
    T copy = *value_;
    change(copy);
    value_ = std::make_shared<const T>(std::move(copy));
  }

  friend bool operator==(const SharedValue& a, const SharedValue& b) {
    return a.value_ == b.value_ || *a.value_ == *b.value_;
  }

 private:
  // One for all that are made without a value.
  static const std::shared_ptr<const T>& nothing() {
    static const auto kNothing = std::make_shared<const T>();
    return kNothing;
  }

  std::shared_ptr<const T> value_;
};

}  // namespace uneven
