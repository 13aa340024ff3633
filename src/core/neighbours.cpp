// SPDX-License-Identifier: MIT
#include "neighbours.hpp"

#include <algorithm>
#include <bit>
#include <cmath>
#include <limits>
#include <numeric>

#include "lanes/caches.hpp"
#include "lanes/loop.hpp"

namespace hushed::detail {

namespace {

/// The ratio of cell size to radius. Slightly above 1, so that rounding never puts a cell between neighbours.
constexpr double slack = 1.0 + 0x1p-20;
/// Points further out belong to the last cell on that side, which keeps neighbours in neighbouring cells.
constexpr double furthest_cell = 0x1p30;
constexpr double least_reach = 1e-6;
/// Candidates are copied in groups of this size, wanted or not, to avoid branches.
constexpr std::size_t at_once = 8, spare = 32;
/// Distance of prefetching for scattered data.
constexpr std::size_t soon = 16;
/// The first selection, in floats, uses a slightly larger radius, so that rounding excludes no neighbour.
constexpr double rounded = 1.0 + 1e-4;

[[gnu::always_inline]] inline void take_some(const double* __restrict from, double origin, float* __restrict to) {
  for (std::size_t i = 0; i < at_once; ++i) to[i] = static_cast<float>(from[i] - origin);
}
[[gnu::always_inline]] inline void count_on(std::uint32_t first, std::uint32_t* to) {
  for (std::uint32_t i = 0; i < at_once; ++i) to[i] = first + i;
}

}  // namespace

void Neighbours::reserve(std::size_t movers) {
  starts_.resize(std::bit_ceil(std::max<std::size_t>(64, 2 * movers)) + 1);
  slots_.resize(movers);
  slots_by_cell_.resize(movers);
  ways_.resize(movers);
  last_numbers_.resize(movers);
  for (auto* const each : {&x_, &y_, &z_}) each->resize(movers + spare);
  for (auto* const each : {&candidate_x_, &candidate_y_, &candidate_z_}) each->resize(movers + spare);
  for (auto* const each : {&candidate_places_, &found_places_, &in_order_}) each->resize(movers + spare);
  found_numbers_.resize(movers + spare);
  numbers_.resize(movers);
  std::iota(numbers_.begin(), numbers_.end(), 0U);
}

[[gnu::always_inline]] inline std::uint32_t Neighbours::slot_of(const VecOf<double>& point) const {
  const auto along = [this](double metres, std::size_t axis) {
    const double cell = floor_of(larger(smaller(metres * cells_per_metre_, furthest_cell), -furthest_cell));
    return static_cast<std::uint32_t>(static_cast<std::int32_t>(cell)) & last(axis);
  };
  return row(along(point.y, 1), along(point.z, 2)) | along(point.x, 0);
}

/// The index of the first cell of the row with that y and z.
inline std::uint32_t Neighbours::row(std::uint32_t y, std::uint32_t z) const { return (z << bits_[1] | y) << bits_[0]; }

/// Chooses the number of cells on each axis from the mean distance of the movers from their median; outliers are
/// limited. At least four, so that adjacent cells are different.
void Neighbours::choose_shape(std::span<const Move> moves, std::span<const std::uint8_t> is_there) {
  int bits = std::countr_zero(starts_.size() - 1);
  const double most = square_root(static_cast<double>(starts_.size()));
  constexpr std::size_t sample = 63;
  std::array<double, 3> spread{};
  for (std::size_t axis = 0; axis < 3; ++axis) {
    const auto along = [&](const VecOf<double>& at) { return axis == 0 ? at.x : axis == 1 ? at.y : at.z; };
    std::array<double, sample> some{};
    std::size_t count = 0;
    const std::size_t stride = moves.size() / sample + 1;
    for (std::size_t i = 0; i < moves.size(); i += stride)
      if (is_there[i]) some[count++] = along(moves[i].now);
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

void Neighbours::sort(std::span<const Move> moves, std::span<const std::uint8_t> is_there, double reach) {
  reach_ = reach;
  cells_per_metre_ = 1.0 / (larger(reach, least_reach) * slack);
  choose_shape(moves, is_there);
  in_lanes<&Neighbours::find_slots>(*this, moves, is_there);
  put_in_cells(moves);
  count_ = starts_.back();
  middle_ = static_cast<std::uint32_t>(starts_.size() - 1);
}

/// Absent movers get a cell of their own behind all others.
void Neighbours::find_slots(std::span<const Move> moves, std::span<const std::uint8_t> is_there) {
  const auto absent = static_cast<std::uint32_t>(starts_.size() - 1);
  std::fill(starts_.begin(), starts_.end(), 0U);
  for (std::size_t i = 0; i < moves.size(); ++i) {
    slots_[i] = is_there[i] ? slot_of(moves[i].now) : absent;
    ++starts_[slots_[i]];
  }
}

/// Turns counts into the ends of cells; filling from the last mover back turns these into the beginnings.
void Neighbours::put_in_cells(std::span<const Move> moves) {
  std::uint32_t sum = 0;
  for (std::uint32_t& start : starts_) start = sum += start;
  std::swap(numbers_, last_numbers_);
  for (std::size_t i = moves.size(); i-- > 0;) {
    if (i >= soon) fetch(moves[last_numbers_[i - soon]]);
    const std::uint32_t number = last_numbers_[i], place = --starts_[slots_[number]];
    const Move& move = moves[number];
    numbers_[place] = number;
    slots_by_cell_[place] = slots_[number];
    x_[place] = move.now.x;
    y_[place] = move.now.y;
    z_[place] = move.now.z;
    ways_[place] = move.now - move.before;
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

/// Visits nine rows of three cells; each row is contiguous unless it wraps.
void Neighbours::gather_around(std::uint32_t slot, const VecOf<double>& point) {
  middle_ = slot;
  origin_ = point;
  candidates_ = 0;
  const std::uint32_t left = (slot - 1) & last(0), y = slot >> bits_[0] & last(1), z = slot >> (bits_[0] + bits_[1]);
  for (std::uint32_t dz = 0; dz < 3; ++dz) {
    for (std::uint32_t dy = 0; dy < 3; ++dy) {
      const std::uint32_t* const starts = starts_.data() + row((y + dy - 1) & last(1), (z + dz - 1) & last(2));
      if (left + 2 <= last(0)) {
        add_candidates(starts[left], starts[left + 3]);
      } else {
        add_candidates(starts[left], starts[last(0) + 1]);
        add_candidates(starts[0], starts[left + 2 - last(0)]);
      }
    }
  }
}

/// Computes one bit for each of 32 candidates, then visits those whose bit is set.
void Neighbours::find_near(const VecOf<double>& point, std::uint32_t but) {
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

/// Rank sort: without a branch, and fastest for the small number of neighbours that is usual.
void Neighbours::put_in_order() {
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

/// Points that share a cell by wrapping may be too far apart for floats.
inline bool Neighbours::is_by(const VecOf<double>& point) const {
  const VecOf<double> way = point - origin_;
  return larger(larger(absolute(way.x), absolute(way.y)), absolute(way.z)) * cells_per_metre_ <= 2.0;
}

std::span<const std::uint32_t> Neighbours::around(std::uint32_t place) {
  const std::uint32_t number = numbers_[place], slot = slots_by_cell_[place];
  const VecOf<double> here{x_[place], y_[place], z_[place]};
  if (middle_ != slot || !is_by(here)) in_lanes<&Neighbours::gather_around>(*this, slot, here);
  return found_near(here, number);
}

std::span<const std::uint32_t> Neighbours::around(const VecOf<double>& point, std::uint32_t but) {
  const std::uint32_t slot = slot_of(point);
  if (middle_ != slot || !is_by(point)) in_lanes<&Neighbours::gather_around>(*this, slot, point);
  return found_near(point, but);
}

std::span<const std::uint32_t> Neighbours::found_near(const VecOf<double>& point, std::uint32_t but) {
  in_lanes<&Neighbours::find_near>(*this, point, but);
  in_lanes<&Neighbours::put_in_order>(*this);
  return {in_order_.data(), found_};
}

}  // namespace hushed::detail
