// SPDX-License-Identifier: MIT
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include <hushed/detail/export.hpp>

namespace hushed HUSHED_API {

/// A colour in sRGB.
struct Colour {
  std::uint8_t red = 0, green = 0, blue = 0;
  bool operator==(const Colour&) const = default;
};

/// The colour of a CSS text: "#fc8", "#ffcc88" or a name such as "gold". Nothing for any other text.
std::optional<Colour> colour_of_css(std::string_view text);
/// "#ffcc88".
std::string css_of(const Colour& colour);
/// The names of colours in CSS.
std::vector<std::string_view> colour_names();

}  // namespace hushed
