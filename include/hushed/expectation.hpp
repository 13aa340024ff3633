// SPDX-License-Identifier: MIT
#pragma once

// What a motion must be: the tables `[[expect]]` of a scene file. They are tested by the library HushedOrbit::study.

#include <functional>
#include <optional>
#include <span>
#include <string>
#include <vector>

#include <hushed/detail/export.hpp>
#include <hushed/measure.hpp>
#include <hushed/time.hpp>
#include <hushed/value.hpp>

namespace hushed HUSHED_API {

/// A measure and its limits.
struct Expectation {
  std::string name;     ///< in reports; the measure and its limits where it is empty
  std::string measure;  ///< its text, such as "closest(ferry, tug)"
  std::optional<double> above = {}, below = {};
  bool exists = true;             ///< false: the measure must not exist: a time that must never be reached
  std::optional<Time> over = {};  ///< of the play, from its beginning; nothing for that of the test
  TextPlace place = {};           ///< in the file

  /// "closest(ferry, tug) above 5"
  std::string words() const;
};

/// The result of a test.
struct Tested {
  bool is_met;
  Measured measured;
  std::string words;  ///< what was measured: "4.2 m at 3.5 s"
};

/// Tests expectations, each on a new scene that `make` gives. `length`: of the plays of those that have none. Throws
/// `BadValue` where a measure is none. `goes_on`, if given, gets the number of finished tests; where it returns false,
/// the results are those of the finished tests.
std::vector<Tested> test_expectations(const std::function<Scene()>& make, std::span<const Expectation> expectations,
                                      Time length, const std::function<bool(std::size_t)>& goes_on = nullptr);

}  // namespace hushed
