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

}  // namespace uneven
