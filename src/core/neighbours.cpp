#include "neighbours.hpp"

#include <algorithm>
#include <bit>
#include <cmath>
#include <limits>

#include "lanes/loop.hpp"

namespace hushed::inside {

namespace {

/// A cell is a little larger than the reach, so that no rounding puts two cells between neighbours.
constexpr double slack = 1.0 + 0x1p-20;
/// Whoever is further out counts as in the last cell there, which keeps neighbours in neighbouring cells.
constexpr double furthest_cell = 0x1p30;
constexpr double least_reach = 1e-6;
/// Some are copied and looked at whether they are wanted or not, which goes without a branch.
constexpr std::size_t at_once = 8, spare = 32;
/// What a first look may take for near: a little more than what is, so that rounding to floats leaves nobody out.
constexpr double rounded = 1.0 + 1e-4;

[[gnu::always_inline]] inline void take_some(const double* __restrict from, double origin, float* __restrict to) {
  for (std::size_t i = 0; i < at_once; ++i) to[i] = static_cast<float>(from[i] - origin);
}
[[gnu::always_inline]] inline void count_on(std::uint32_t first, std::uint32_t* to) {
  for (std::uint32_t i = 0; i < at_once; ++i) to[i] = first + i;
}

}  // namespace

void Neighbours::reserve(std::size_t points) {
  starts_.resize(std::bit_ceil(std::max<std::size_t>(64, 2 * points)) + 1);
  slots_.resize(points);
  for (auto* const each : {&x_, &y_, &z_}) each->resize(points + spare);
  for (auto* const each : {&candidate_x_, &candidate_y_, &candidate_z_}) each->resize(points + spare);
  for (auto* const each : {&numbers_, &candidate_places_, &found_places_, &in_order_}) each->resize(points + spare);
  found_numbers_.resize(points + spare);
}

Neighbours::Cell Neighbours::cell_of(const VecOf<double>& point) const {
  const auto along = [this](double metres) {
    return static_cast<std::int32_t>(
        floor_of(larger(smaller(metres * cells_per_metre_, furthest_cell), -furthest_cell)));
  };
  return {along(point.x), along(point.y), along(point.z)};
}

/// Where the row of cells with that y and z begins in the table.
std::uint32_t Neighbours::row(std::int32_t y, std::int32_t z) const {
  const auto wrapped = [](std::int32_t cell, int bits) {
    return static_cast<std::uint32_t>(cell) & ((1U << bits) - 1U);
  };
  return (wrapped(z, bits_[2]) << bits_[1] | wrapped(y, bits_[1])) << bits_[0];
}

/// As many places on each axis as the points spread over, by their mean distance from the median; those that are far
/// away count no more than some. Four at least, so that the cells beside one another are at places of their own.
void Neighbours::choose_shape(std::span<const VecOf<double>> points, std::span<const std::uint8_t> is_there) {
  int bits = std::countr_zero(starts_.size() - 1);
  const double most = square_root(static_cast<double>(starts_.size()));
  constexpr std::size_t sample = 63;
  std::array<double, 3> spread{};
  for (std::size_t axis = 0; axis < 3; ++axis) {
    const auto along = [&](std::size_t i) { return axis == 0 ? points[i].x : axis == 1 ? points[i].y : points[i].z; };
    std::array<double, sample> some{};
    std::size_t count = 0;
    const std::size_t stride = points.size() / sample + 1;
    for (std::size_t i = 0; i < points.size(); i += stride)
      if (is_there[i]) some[count++] = along(i);
    if (count == 0) continue;
    std::nth_element(some.begin(), some.begin() + count / 2, some.begin() + count);
    const double median = some[count / 2];
    for (std::size_t i = 0; i < count; ++i)
      spread[axis] += smaller(absolute(some[i] - median) * cells_per_metre_, most) / static_cast<double>(count);
  }
  bits_ = {2, 2, 2};
  for (bits -= 6; bits > 0; --bits) {
    std::size_t widest = 0;
    for (const std::size_t axis : {1U, 2U})
      if (std::ldexp(spread[axis], -bits_[axis]) > std::ldexp(spread[widest], -bits_[widest])) widest = axis;
    ++bits_[widest];
  }
}

void Neighbours::sort(std::span<const VecOf<double>> points, std::span<const std::uint8_t> is_there, double reach) {
  reach_ = reach;
  middle_.reset();
  cells_per_metre_ = 1.0 / (larger(reach, least_reach) * slack);
  choose_shape(points, is_there);
  const std::uint32_t last_x = (1U << bits_[0]) - 1U;
  std::fill(starts_.begin(), starts_.end(), 0U);
  count_ = 0;
  for (std::size_t i = 0; i < points.size(); ++i) {
    if (!is_there[i]) continue;
    const Cell cell = cell_of(points[i]);
    slots_[i] = row(cell.y, cell.z) | (static_cast<std::uint32_t>(cell.x) & last_x);
    ++starts_[slots_[i]];
    ++count_;
  }
  // Each count becomes where its cell ends; taken from the last point back, where it begins.
  std::uint32_t sum = 0;
  for (std::uint32_t& start : starts_) start = sum += start;
  for (std::size_t i = points.size(); i-- > 0;) {
    if (!is_there[i]) continue;
    const std::uint32_t place = --starts_[slots_[i]];
    numbers_[place] = static_cast<std::uint32_t>(i);
    x_[place] = points[i].x;
    y_[place] = points[i].y;
    z_[place] = points[i].z;
  }
}

[[gnu::always_inline]] inline void Neighbours::add_candidates(std::uint32_t from, std::uint32_t to) {
  for (std::uint32_t place = from; place < to; place += at_once) {
    take_some(x_.data() + place, origin_.x, candidate_x_.data() + candidates_);
    take_some(y_.data() + place, origin_.y, candidate_y_.data() + candidates_);
    take_some(z_.data() + place, origin_.z, candidate_z_.data() + candidates_);
    count_on(place, candidate_places_.data() + candidates_);
    candidates_ += std::min<std::size_t>(at_once, to - place);
  }
}

/// Nine rows of three cells, each in one piece unless it is wrapped round.
HUSHED_KERNEL void Neighbours::gather_around(const Cell& cell, const VecOf<double>& point) {
  middle_ = cell;
  origin_ = point;
  candidates_ = 0;
  const std::uint32_t last_x = (1U << bits_[0]) - 1U, x = static_cast<std::uint32_t>(cell.x - 1) & last_x;
  for (std::int32_t z = cell.z - 1; z <= cell.z + 1; ++z) {
    for (std::int32_t y = cell.y - 1; y <= cell.y + 1; ++y) {
      const std::uint32_t begin = row(y, z);
      if (x + 2 <= last_x) {
        add_candidates(starts_[begin + x], starts_[begin + x + 3]);
      } else {
        add_candidates(starts_[begin + x], starts_[begin + last_x + 1]);
        add_candidates(starts_[begin], starts_[begin + (x + 3 - last_x - 1)]);
      }
    }
  }
}

/// A bit for each of 32 candidates, then a look at those alone whose bit is set.
HUSHED_KERNEL void Neighbours::find_near(const VecOf<double>& point, std::uint32_t but) {
  const auto px = static_cast<float>(point.x - origin_.x), py = static_cast<float>(point.y - origin_.y),
             pz = static_cast<float>(point.z - origin_.z);
  const auto most = static_cast<float>(reach_ * reach_ * rounded);
  const float *const x = candidate_x_.data(), *const y = candidate_y_.data(), *const z = candidate_z_.data();
  std::size_t found = 0;
  constexpr std::size_t word = 32;
  for (std::size_t from = 0; from < candidates_; from += word) {
    std::uint32_t near = 0;
    for (std::uint32_t i = 0; i < word; ++i) {
      const float dx = x[from + i] - px, dy = y[from + i] - py, dz = z[from + i] - pz;
      near |= (dx * dx + dy * dy + dz * dz <= most ? 1U : 0U) << i;
    }
    if (candidates_ - from < word) near &= (1U << (candidates_ - from)) - 1U;
    for (; near != 0; near &= near - 1) {
      const std::uint32_t place = candidate_places_[from + static_cast<std::size_t>(std::countr_zero(near))];
      found_places_[found] = place;
      found_numbers_[found] = static_cast<std::int32_t>(numbers_[place]);
      found += numbers_[place] != but ? 1 : 0;
    }
  }
  found_ = found;
}

/// Each goes to where as many come before it: without a branch, and the fastest for the few that most have.
HUSHED_KERNEL void Neighbours::put_in_order() {
  constexpr std::size_t few = 64, lane_count = 8;
  const std::size_t count = found_;
  if (count <= few) {
    std::int32_t* const numbers = found_numbers_.data();
    std::fill_n(numbers + count, lane_count, std::numeric_limits<std::int32_t>::max());
    for (std::size_t i = 0; i < count; ++i) {
      std::int32_t before = 0;
      for (std::size_t j = 0; j < count; j += lane_count)
        for (std::size_t k = 0; k < lane_count; ++k) before += numbers[j + k] < numbers[i] ? 1 : 0;
      in_order_[static_cast<std::size_t>(before)] = found_places_[i];
    }
    return;
  }
  std::copy_n(found_places_.begin(), count, in_order_.begin());
  std::sort(in_order_.begin(), in_order_.begin() + static_cast<std::ptrdiff_t>(count),
            [this](std::uint32_t a, std::uint32_t b) { return numbers_[a] < numbers_[b]; });
}

/// Of those in the outermost cells some may be far apart, too far for floats.
bool Neighbours::is_by(const VecOf<double>& point) const {
  const VecOf<double> way = point - origin_;
  return larger(larger(absolute(way.x), absolute(way.y)), absolute(way.z)) * cells_per_metre_ <= 2.0;
}

std::span<const std::uint32_t> Neighbours::around(const VecOf<double>& point, std::uint32_t but) {
  const Cell cell = cell_of(point);
  if (middle_ != cell || !is_by(point)) gather_around(cell, point);
  find_near(point, but);
  put_in_order();
  return {in_order_.data(), found_};
}

}  // namespace hushed::inside
