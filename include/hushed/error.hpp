// SPDX-License-Identifier: MIT
#pragma once

#include <stdexcept>
#include <string>
#include <vector>

#include <hushed/detail/export.hpp>

namespace hushed HUSHED_API {

/// What every error of this library is. They are thrown while a scene is built, loaded or changed, and
/// never while it plays.
class Error : public std::runtime_error {
 public:
  using std::runtime_error::runtime_error;
};

/// A handle whose object or behaviour is no longer in the scene, or belongs to another scene.
class StaleHandle : public Error {
 public:
  using Error::Error;
};

/// A value outside its range, a name that is taken, a path that leads nowhere.
class BadValue : public Error {
 public:
  using Error::Error;
};

/// Objects that would have to be evaluated each after the other, in a circle.
class DependencyCycle : public Error {
 public:
  explicit DependencyCycle(std::vector<std::string> members);

  /// The names along the circle; the first is not repeated at the end.
  const std::vector<std::string>& members() const { return members_; }

 private:
  std::vector<std::string> members_;
};

}  // namespace hushed
