// SPDX-License-Identifier: MIT
#pragma once

// Crowds in a picture: objects that are too many to be distinguished. Their density and their directions are drawn
// instead of their paths.

#include <string>
#include <vector>

#include "travellers.hpp"

namespace hushed::detail {

struct Crowd {
  std::string name;  ///< the common part of its members' names: "gull" for "gull-1", "gull-2", ...
  std::vector<Traveller> members;

  bool has(const Traveller& each) const;
};

/// Finds the crowds: more than a dozen moving objects whose names differ in their numbers only.
std::vector<Crowd> crowds_among(const std::vector<Traveller>& travellers);

/// Draws the density of a crowd: the opacity of the colour is the logarithm of the number of visits.
void draw_density(Canvas& canvas, const Crowd& crowd, const View& view, const Area& plot);
/// Draws a small arrowhead for each member, at its last position, in its direction of motion.
void draw_headings(Canvas& canvas, const Crowd& crowd, const View& view);
/// The position of the member nearest to the middle of the crowd.
Point middle_of(const Crowd& crowd, const View& view);

}  // namespace hushed::detail
