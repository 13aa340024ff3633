#include <hushed/error.hpp>

#include <utility>

namespace hushed {

namespace {

std::string in_words(const std::vector<std::string>& members) {
  std::string text = "these follow each other in a circle: ";
  for (const auto& member : members) text += member + " -> ";
  return text + (members.empty() ? "" : members.front()) +
         ".\n    Let one of them read the others as they were: reads = \"last tick\".";
}

}  // namespace

Circle::Circle(std::vector<std::string> members) : Error{in_words(members)}, members_{std::move(members)} {}

}  // namespace hushed
