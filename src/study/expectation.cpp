// SPDX-License-Identifier: MIT
#include <hushed/expectation.hpp>

#include <algorithm>

namespace hushed {

namespace {

std::string words_of(const Measured& measured, std::string_view unit) {
  if (!measured.value) return "does not exist";
  std::string words = "is " + as_text(measured, unit);
  if (measured.at) words += " at " + as_text(Measured{in_seconds(*measured.at)}, "s");
  return words;
}

bool is_met(const Expectation& expected, const Measured& measured) {
  if (!measured.value) return !expected.exists;
  if (!expected.exists) return false;
  return (!expected.above || *measured.value > *expected.above) &&
         (!expected.below || *measured.value < *expected.below);
}

}  // namespace

std::string Expectation::words() const {
  std::string text = measure;
  if (!exists) return text + " never";
  if (above) text += " above " + as_text(*above);
  if (above && below) text += " and";
  if (below) text += " below " + as_text(*below);
  return text;
}

std::vector<Tested> test_expectations(const std::function<Scene()>& make, std::span<const Expectation> expectations,
                                      Time length, const std::function<bool(std::size_t)>& goes_on) {
  std::vector<Tested> results;
  for (const Expectation& expected : expectations) {
    if (goes_on && !goes_on(results.size())) break;
    Scene scene = make();
    const Measure wanted{expected.measure, scene};
    const std::function<bool(double)> still =
        goes_on ? [&](double) { return goes_on(results.size()); } : std::function<bool(double)>{};
    const std::vector<Measured> found = measure(scene, {&wanted, 1}, expected.over.value_or(length), still);
    if (found.empty()) break;
    results.push_back({is_met(expected, found.front()), found.front(), words_of(found.front(), wanted.unit())});
  }
  return results;
}

}  // namespace hushed
