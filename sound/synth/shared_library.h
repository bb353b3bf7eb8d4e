// SPDX-License-Identifier: GPL-3.0-or-later
// Libraries that are loaded when they are first needed: a program that makes no sound does not wait
// for what the sound libraries bring along.
#pragma once

#include <dlfcn.h>

#include <initializer_list>
#include <string>

#include "core/base/result.h"

namespace uneven {

class SharedLibrary {
 public:
  // The library by its name, as in "libsndfile.so.1". It stays until the program ends.
  explicit SharedLibrary(const char* name)
      : name_(name), handle_(::dlopen(name, RTLD_NOW | RTLD_LOCAL)) {}

  template <typename Function>
  void find(Function*& function, const char* symbol) {
    function = handle_ == nullptr ? nullptr : reinterpret_cast<Function*>(::dlsym(handle_, symbol));
    if (function == nullptr) complete_ = false;
  }
  // An error where the library or one of the functions asked for is not there.
  Status status() const {
    if (handle_ != nullptr && complete_) return Done{};
    return Error{
        ErrorCode::kNotFound,
        "the library " + name_ + " is missing or too old; install it from your system's packages",
        {}};
  }

 private:
  std::string name_;
  void* handle_;
  bool complete_ = true;
};

// The functions of a library in a struct of ours, found when they are first asked for: `find` gets
// the library and the struct. One for each `find`.
template <typename Api, typename Find>
Result<const Api*> functionsOf(const char* name, Find find) {
  struct Loaded {
    Api api;
    Status status = Done{};
  };
  static const Loaded loaded = [&] {
    Loaded out;
    SharedLibrary library(name);
    find(library, out.api);
    out.status = library.status();
    return out;
  }();
  if (!loaded.status) return loaded.status.error();
  return &loaded.api;
}

}  // namespace uneven
