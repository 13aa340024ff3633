// SPDX-License-Identifier: MIT
#include <hushed/error.hpp>

#include <utility>

namespace hushed {

namespace {

std::string describe(const std::vector<std::string>& members) {
  std::string text = "dependency cycle: ";
  for (const auto& member : members) text += member + " -> ";
  return text + (members.empty() ? "" : members.front()) +
         ".\n    Let one of them read the others as they were at the last tick: reads = \"last tick\".";
}

}  // namespace

DependencyCycle::DependencyCycle(std::vector<std::string> members)
    : Error{describe(members)}, members_{std::move(members)} {}

VersionFails::VersionFails(const std::string& behaviour, std::string problem)
    : Error{behaviour + ": the new version fails: " + problem}, problem_{std::move(problem)} {}

}  // namespace hushed
