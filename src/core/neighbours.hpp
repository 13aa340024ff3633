// SPDX-License-Identifier: MIT
#pragma once

// Neighbours within a radius: movers in a uniform grid, sorted into the order of its cells by counting sort.
//
// The grid wraps on each axis and so has no bounds: distant flocks cost no more than one, and cells that coincide by
// wrapping only add candidates. It has about twice as many cells as movers, distributed over the axes by their spread.
// Each sort runs in the order of the last, which is nearly the new one, so that it writes contiguously. Nothing is
// allocated after `reserve`.

#include <array>
#include <cstdint>
#include <span>
#include <vector>

#include "lanes/geometry.hpp"

namespace hushed::detail {

/// The present and the previous position of a mover.
struct alignas(64) Move {
  VecOf<double> now, before;
};

class Neighbours {
 public:
  /// Reserves memory for so many movers.
  void reserve(std::size_t movers);

  /// Sorts all movers that are present. Queries have a radius of at most `reach`. The number of movers must be that of
  /// `reserve`.
  void sort(std::span<const Move> moves, std::span<const std::uint8_t> is_there, double reach);

  /// The neighbours within `reach` of the mover at an index in the order of cells, without itself, and possibly some
  /// slightly further: their indices in that order, sorted by their numbers among the movers. Valid until the next
  /// call.
  std::span<const std::uint32_t> around(std::uint32_t place);
  /// The neighbours within `reach` of a point, and possibly some slightly further, sorted by their numbers, without the
  /// mover of number `but`. Valid until the next call.
  std::span<const std::uint32_t> around(const VecOf<double>& point, std::uint32_t but);

  /// The numbers of the present movers, in the order of cells.
  std::span<const std::uint32_t> in_order() const { return {numbers_.data(), count_}; }
  VecOf<double> point(std::uint32_t place) const { return {x_[place], y_[place], z_[place]}; }
  /// Its movement since the previous position.
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
  std::array<int, 3> bits_ = {};  ///< number of bits of a cell's index, for each axis
  std::size_t count_ = 0;
  std::vector<std::uint32_t> starts_;        ///< first index of each cell, and of the absent movers
  std::vector<std::uint32_t> slots_;         ///< the cell of each mover
  std::vector<std::uint32_t> last_numbers_;  ///< the order of the last sort

  // In the order of cells: numbers, cells, positions and movements of the movers.
  std::vector<std::uint32_t> numbers_, slots_by_cell_;
  std::vector<double> x_, y_, z_;
  std::vector<VecOf<double>> ways_;

  // The candidates around one cell, for all queries from that cell.
  std::uint32_t middle_ = 0;
  std::size_t candidates_ = 0;
  VecOf<double> origin_{};                                      ///< origin of the candidates' coordinates
  std::vector<float> candidate_x_, candidate_y_, candidate_z_;  ///< as floats, for the first selection
  std::vector<std::uint32_t> candidate_places_;

  std::size_t found_ = 0;
  std::vector<std::uint32_t> found_places_, in_order_;
  std::vector<std::int32_t> found_numbers_;
};

}  // namespace hushed::detail
