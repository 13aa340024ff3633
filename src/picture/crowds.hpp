// SPDX-License-Identifier: MIT
#pragma once

// Crowds in a picture: too many to be told apart, so that where they were, and which way they go, says more than
// their paths.

#include <string>
#include <vector>

#include "travellers.hpp"

namespace hushed::detail {

struct Crowd {
  std::string name;  ///< that its members have before their numbers: "gull" of "gull-1", "gull-2", ...
  std::vector<Traveller> members;

  bool has(const Traveller& each) const;
};

/// More than a dozen that move, whose names differ in their numbers alone.
std::vector<Crowd> crowds_among(const std::vector<Traveller>& travellers);

/// The stronger the colour, the more of them were there, by the logarithm.
void draw_density(Canvas& canvas, const Crowd& crowd, const View& view, const Area& plot);
/// A small arrowhead for each, where it is at the end, along the way that it goes.
void draw_headings(Canvas& canvas, const Crowd& crowd, const View& view);
/// The place of the member in the middle of all.
Point middle_of(const Crowd& crowd, const View& view);

}  // namespace hushed::detail
