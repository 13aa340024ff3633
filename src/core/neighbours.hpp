// SPDX-License-Identifier: MIT
#pragma once

// Who is near whom: movers in the cells of a uniform grid, found by a counting sort and kept in the order of the cells.
//
// The grid is wrapped round on each axis, so that it has no bounds: two flocks far apart, or one that has flown away,
// cost no more than one, and cells that share a place only give more to look through. It has about twice as many places
// as there are movers, on each axis as they have need of them. Each sort goes through them in the order of the last,
// which is nearly the new one: what it writes lies together. Nothing is allocated once there is room.

#include <array>
#include <cstdint>
#include <span>
#include <vector>

#include "lanes/geometry.hpp"

namespace hushed::detail {

/// Where somebody is, and was: in a line of the caches.
struct alignas(64) Move {
  VecOf<double> now, before;
};

class Neighbours {
 public:
  /// Makes room for so many.
  void reserve(std::size_t movers);

  /// Takes the moves of all, of which the absent ones are left out; whoever is looked for is no further than `reach`
  /// from who looks. There must be as many as there was room made for.
  void sort(std::span<const Move> moves, std::span<const std::uint8_t> is_there, double reach);

  /// Those no further than `reach` from the one at a place in the order of the cells, itself left out, and perhaps some
  /// a little further: their places, but in the order of their numbers among the movers. Valid until the next call.
  std::span<const std::uint32_t> around(std::uint32_t place);
  /// Those no further than `reach` from any point, and perhaps some a little further, in the order of their numbers;
  /// the one of number `but` is left out. Valid until the next call.
  std::span<const std::uint32_t> around(const VecOf<double>& point, std::uint32_t but);

  /// The numbers of those that are there, in the order of the cells.
  std::span<const std::uint32_t> in_order() const { return {numbers_.data(), count_}; }
  VecOf<double> point(std::uint32_t place) const { return {x_[place], y_[place], z_[place]}; }
  /// What it has moved by.
  const VecOf<double>& way(std::uint32_t place) const { return ways_[place]; }

 private:
  void choose_shape(std::span<const Move> moves, std::span<const std::uint8_t> is_there);
  std::uint32_t slot_of(const VecOf<double>& point) const;
  void find_slots(std::span<const Move> moves, std::span<const std::uint8_t> is_there);
  void put_in_cells(std::span<const Move> moves);
  std::uint32_t last(std::size_t axis) const { return (1U << bits_[axis]) - 1U; }
  std::uint32_t row(std::uint32_t y, std::uint32_t z) const;
  void gather_around(std::uint32_t slot, const VecOf<double>& point);
  void add_candidates(std::uint32_t from, std::uint32_t to);
  bool is_by(const VecOf<double>& point) const;
  std::span<const std::uint32_t> found_near(const VecOf<double>& point, std::uint32_t but);
  void find_near(const VecOf<double>& point, std::uint32_t but);
  void put_in_order();

  double reach_ = 0.0;
  double cells_per_metre_ = 0.0;
  std::array<int, 3> bits_ = {};  ///< of a slot, the place in the table, for each axis
  std::size_t count_ = 0;
  std::vector<std::uint32_t> starts_;        ///< of each slot, and of the absent ones
  std::vector<std::uint32_t> slots_;         ///< of each mover
  std::vector<std::uint32_t> last_numbers_;  ///< the order of the last sort

  // In the order of the cells: the movers' numbers, slots, where they are, and what they have moved by.
  std::vector<std::uint32_t> numbers_, slots_by_cell_;
  std::vector<double> x_, y_, z_;
  std::vector<VecOf<double>> ways_;

  // What stands in the cells around one, for all who look from that cell.
  std::uint32_t middle_ = 0;
  std::size_t candidates_ = 0;
  VecOf<double> origin_{};                                      ///< that they are measured from
  std::vector<float> candidate_x_, candidate_y_, candidate_z_;  ///< in half the bytes, for a first look
  std::vector<std::uint32_t> candidate_places_;

  std::size_t found_ = 0;
  std::vector<std::uint32_t> found_places_, in_order_;
  std::vector<std::int32_t> found_numbers_;
};

}  // namespace hushed::detail
