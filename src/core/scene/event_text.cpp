// SPDX-License-Identifier: MIT
#include "scene/event_text.hpp"

namespace hushed::detail {

namespace {

/// "1st", "2nd", "3rd", "4th", "11th", ...
std::string ordinal(int number) {
  const int last = number % 10, last_two = number % 100;
  const bool is_teen = last_two >= 11 && last_two <= 13;
  const char* ending = is_teen || last > 3 || last == 0 ? "th" : last == 1 ? "st" : last == 2 ? "nd" : "rd";
  return std::to_string(number) + ending;
}

}  // namespace

bool comes_before(const Registry& registry, const Event& a, const Event& b) {
  if (a.time != b.time) return a.time < b.time;
  const auto name = [&](Object subject) {
    return subject.generation == 0 ? std::string_view{} : std::string_view{registry.objects[subject.index].name};
  };
  const int by_name = name(a.subject).compare(name(b.subject));
  if (by_name != 0) return by_name < 0;
  return a.behaviour.index < b.behaviour.index;
}

std::string describe(const Registry& registry, const Event& event) {
  if (!event.why.empty() && event.name != "failed") return event.why;
  const auto name = [&](Object object) {
    const bool known =
        object.index < registry.objects.size() && registry.presences[object.index].generation == object.generation;
    return known ? registry.name(object.index) : std::string{"an object that has ended"};
  };
  const std::string subject =
      registry.alive(event.behaviour) ? registry.path_of(event.behaviour.index) : name(event.subject);
  if (event.name == "reached") return subject + " reached point " + std::to_string(event.number);
  if (event.name == "lost") return subject + " lost " + name(event.other);
  if (event.name == "gathered")
    return name(event.other) + " gathered " + name(event.subject) + ", its " + ordinal(event.number);
  if (event.name == "fired") return "rule " + std::string{event.rule} + " fired";
  if (event.name == "failed") return (event.subject.generation == 0 ? "" : subject + " failed: ") + event.why;
  return std::string{event.name} + " was raised" + (event.rule.empty() ? "" : " by rule " + std::string{event.rule});
}

}  // namespace hushed::detail
