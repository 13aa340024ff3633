// SPDX-License-Identifier: MIT
#pragma once

#include <stdexcept>
#include <string>
#include <vector>

#include <hushed/detail/export.hpp>

namespace hushed HUSHED_API {

/// The base class of all errors of this library. They are thrown while a scene is built, loaded or changed, never by
/// `advance`.
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

/// A dependency cycle: objects that would all have to be evaluated before each other.
class DependencyCycle : public Error {
 public:
  explicit DependencyCycle(std::vector<std::string> members);

  /// The names of the objects along the cycle; the first is not repeated at the end.
  const std::vector<std::string>& members() const { return members_; }

 private:
  std::vector<std::string> members_;
};

/// A new version of a kind, such as a changed script, fails for a behaviour that plays; see `Scene::hot_reload`.
class VersionFails : public Error {
 public:
  VersionFails(const std::string& behaviour, std::string problem);

  /// What the new version reports: "circling.lua:12: text" for a script.
  const std::string& problem() const { return problem_; }

 private:
  std::string problem_;
};

}  // namespace hushed
