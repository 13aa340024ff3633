// SPDX-License-Identifier: MIT
#include "ranges.hpp"

#include <charconv>
#include <cmath>
#include <optional>
#include <vector>

#include <hushed/error.hpp>
#include <hushed/field.hpp>
#include <hushed/load.hpp>
#include <hushed/watch.hpp>

#include "command.hpp"

namespace hushed::cli {

namespace {

/// The numbers between colons; nothing where one of them is no number.
std::optional<std::vector<double>> numbers_in(const std::string& text) {
  std::vector<double> numbers;
  for (std::size_t from = 0; from <= text.size();) {
    const std::size_t end = std::min(text.find(':', from), text.size());
    double number = 0.0;
    const auto [stop, error] = std::from_chars(text.data() + from, text.data() + end, number);
    if (error != std::errc{} || stop != text.data() + end || !std::isfinite(number)) return std::nullopt;
    numbers.push_back(number);
    from = end + 1;
  }
  return numbers;
}

/// The usual range of a value, for which its field has a slider.
std::optional<Slider> usual_range(const Scene& scene, const std::string& path) {
  const std::size_t dot = path.rfind('.');
  if (dot == std::string::npos) return std::nullopt;
  const auto behaviour = scene.find_behaviour(path.substr(0, dot));
  if (!behaviour) return std::nullopt;
  for (const FieldInfo& field : scene.fields(*behaviour))
    if (field.name == path.substr(dot + 1)) return field.slider;
  return std::nullopt;
}

}  // namespace

Varied read_varied(const std::string& text) {
  const auto refuse = [&](const std::string& why) {
    throw WrongCommandLine{"--vary " + text + ": " + why +
                           "give PATH=LOW:HIGH:COUNT or PATH=A,B,C, such as hook.spring.damping=0.1:1:10."};
  };
  const std::size_t equals = text.find('=');
  if (equals == std::string::npos || equals == 0 || equals + 1 == text.size()) refuse("");
  Varied varied{.path = text.substr(0, equals)};
  const std::string rest = text.substr(equals + 1);
  if (rest.find(':') != std::string::npos && rest.find_first_of("\"[{") == std::string::npos) {
    const auto numbers = numbers_in(rest);
    if (!numbers || numbers->size() > 3) refuse("");
    varied.low = numbers->at(0);
    varied.high = numbers->at(1);
    if (varied.low > varied.high) refuse("the lower end comes first; ");
    if (numbers->size() == 2) return varied;
    const double count = numbers->at(2);
    if (!(count >= 1.0 && count <= 1e6) || count != std::floor(count))
      refuse("the count is a whole number from 1 to 1000000; ");
    varied.count = static_cast<std::size_t>(count);
    return varied;
  }
  for (const std::string& value : split_watches(rest)) {
    try {
      varied.values.push_back(parse_value(value));
    } catch (const Error& error) {
      throw WrongCommandLine{"--vary " + text + ": " + error.what()};
    }
  }
  return varied;
}

Change read_change(const std::string& text, const Scene& scene) {
  const std::size_t equals = text.find('=');
  const std::string path = text.substr(0, equals);
  if (equals == std::string::npos) {
    const std::optional<Slider> range = usual_range(scene, path);
    if (!range)
      throw WrongCommandLine{"--change " + text + ": this value has no usual range; give one, " + text + "=LOW:HIGH."};
    return {path, range->low, range->high};
  }
  const auto numbers = numbers_in(text.substr(equals + 1));
  if (!numbers || numbers->size() != 2 || !(numbers->at(0) < numbers->at(1)))
    throw WrongCommandLine{"--change " + text + ": give PATH=LOW:HIGH, such as hook.spring.damping=0.1:1."};
  return {path, numbers->at(0), numbers->at(1)};
}

}  // namespace hushed::cli
