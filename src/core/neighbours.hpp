#pragma once

// Who is near whom: points in the cells of a uniform grid, found by a counting sort and kept in the order of the cells.
//
// The grid is wrapped round on each axis, so that it has no bounds: two flocks far apart, or one that has flown away,
// cost no more than one, and cells that share a place only give more to look through. It has about twice as many places
// as there are points, on each axis as the points have need of them. Nothing is allocated once there is room.

#include <array>
#include <cstdint>
#include <optional>
#include <span>
#include <vector>

#include "lanes/geometry.hpp"

namespace hushed::inside {

class Neighbours {
 public:
  /// Makes room for so many.
  void reserve(std::size_t points);

  /// Takes the points (x, y and z of each), of which the absent ones are left out; whoever is looked for is no
  /// further than `reach` from who looks.
  void sort(std::span<const VecOf<double>> points, std::span<const std::uint8_t> is_there, double reach);

  /// Those no further than `reach` from a point, and perhaps some a little further, by their places in the order of the
  /// cells, but in the order of their numbers among the points; the one of number `but` is left out. Valid until the
  /// next call.
  std::span<const std::uint32_t> around(const VecOf<double>& point, std::uint32_t but);

  /// The points in the order of the cells.
  std::span<const std::uint32_t> in_order() const { return {numbers_.data(), count_}; }
  VecOf<double> point(std::uint32_t place) const { return {x_[place], y_[place], z_[place]}; }

 private:
  struct Cell {
    std::int32_t x, y, z;
    bool operator==(const Cell&) const = default;
  };
  Cell cell_of(const VecOf<double>& point) const;
  void choose_shape(std::span<const VecOf<double>> points, std::span<const std::uint8_t> is_there);
  std::uint32_t row(std::int32_t y, std::int32_t z) const;
  void gather_around(const Cell& cell, const VecOf<double>& point);
  void add_candidates(std::uint32_t from, std::uint32_t to);
  bool is_by(const VecOf<double>& point) const;
  void find_near(const VecOf<double>& point, std::uint32_t but);
  void put_in_order();

  double reach_ = 0.0;
  double cells_per_metre_ = 0.0;
  std::array<int, 3> bits_ = {};  ///< of the place in the table, for each axis
  std::size_t count_ = 0;
  std::vector<std::uint32_t> starts_;   ///< of each place in the table; one more at the end
  std::vector<std::uint32_t> slots_;    ///< of each point
  std::vector<std::uint32_t> numbers_;  ///< of the points, in the order of the cells
  std::vector<double> x_, y_, z_;       ///< theirs

  // What stands in the cells around one, for all who look from that cell.
  std::optional<Cell> middle_;
  std::size_t candidates_ = 0;
  VecOf<double> origin_{};                                      ///< that they are measured from
  std::vector<float> candidate_x_, candidate_y_, candidate_z_;  ///< in half the bytes, for a first look
  std::vector<std::uint32_t> candidate_places_;

  std::size_t found_ = 0;
  std::vector<std::uint32_t> found_places_, in_order_;
  std::vector<std::int32_t> found_numbers_;
};

}  // namespace hushed::inside
