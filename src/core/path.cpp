// SPDX-License-Identifier: MIT
#include <hushed/path.hpp>

#include <algorithm>
#include <array>
#include <cmath>

#include "lanes/conversions.hpp"
#include "lanes/geometry.hpp"
#include "lanes/newton.hpp"

namespace hushed {

using detail::nodes;
using detail::numbers;
using detail::squared_length;
using detail::vector;
using Vec = detail::VecOf<double>;

namespace {

/// The limit of halvings between two points. Only a cusp reaches it, where the remaining length is nearly 0.
constexpr std::size_t most_arcs = 64;

double distance_between(const Vec3& a, const Vec3& b) { return std::sqrt(squared_length(numbers(b) - numbers(a))); }

Vec at_u(const Vec3 (&c)[4], double u) {
  return numbers(c[0]) + (numbers(c[1]) + (numbers(c[2]) + numbers(c[3]) * u) * u) * u;
}
Vec slope(const Vec3 (&c)[4], double u) {
  return numbers(c[1]) + (numbers(c[2]) * 2.0 + numbers(c[3]) * (3.0 * u)) * u;
}

double speed(const Vec3 (&c)[4], double u) { return std::sqrt(squared_length(slope(c, u))); }

/// The arc length from u0 to u1 by Gauss-Legendre quadrature with eight points (Abramowitz and Stegun 25.4.30).
double eight_point_length(const Vec3 (&c)[4], double u0, double u1) {
  constexpr std::array<std::array<double, 2>, 4> gauss{{{0.1834346424956498, 0.3626837833783620},
                                                        {0.5255324099163290, 0.3137066458778873},
                                                        {0.7966664774136267, 0.2223810344533745},
                                                        {0.9602898564975363, 0.1012285362903763}}};
  const double middle = 0.5 * (u0 + u1), half = 0.5 * (u1 - u0);
  double sum = 0.0;
  for (const auto& [x, weight] : gauss) sum += weight * (speed(c, middle - half * x) + speed(c, middle + half * x));
  return sum * half;
}

/// The parameter at the arc length `length` after u0, at most u1, by Newton's method.
double parameter_after(const Vec3 (&c)[4], double u0, double length, double u1) {
  if (!(length > 0.0)) return u0;
  double u = std::min(u0 + length / speed(c, u0), u1);
  for (int i = 0; i < 8; ++i) {
    const double correction = (length - eight_point_length(c, u0, u)) / speed(c, u);
    if (!std::isfinite(correction)) break;
    u = std::min(std::max(u + correction, u0), u1);
    if (std::abs(correction) <= 1e-8 * (u1 - u0)) break;  // the next correction would be its square
  }
  return u;
}

struct ValueAndSlope {
  double value, slope;
};

/// The Newton polynomial through the nodes, and its derivative.
ValueAndSlope polynomial(const std::array<double, 10>& differences, double x) {
  double value = differences[9], slope = 0.0;
  for (std::size_t j = 9; j-- > 0;) {
    slope = value + (x - nodes[j]) * slope;
    value = differences[j] + (x - nodes[j]) * value;
  }
  return {value, slope};
}

}  // namespace

Path::Path(std::span<const Vec3> points, PathShape shape, bool closed) { set(points, shape, closed); }

void Path::reserve(std::size_t points, PathShape shape) {
  unique_.reserve(points + 1);
  distances_.reserve(points);
  arcs_.reserve((points + 1) * (shape == PathShape::smooth ? most_arcs + 1 : 1));
}

void Path::set(std::span<const Vec3> points, PathShape shape, bool closed, Readings readings) {
  readings_ = readings;
  closed_ = closed;
  length_ = 0.0;
  unique_.clear();
  distances_.clear();
  arcs_.clear();
  for (const Vec3& point : points)
    if (unique_.empty() || distance_between(unique_.back(), point) > 0.0) unique_.push_back(point);
  if (closed && unique_.size() > 1 && distance_between(unique_.back(), unique_.front()) == 0.0) unique_.pop_back();
  const std::size_t count = unique_.size();
  smooth_ = shape == PathShape::smooth && count > 2;  // two points give a straight line

  // The distance of each point along the path. Equal neighbouring points have equal distances.
  std::size_t next = 0;
  const auto pass_point = [&] {
    do distances_.push_back(length_);
    while (++next < points.size() && distance_between(points[next - 1], points[next]) == 0.0);
  };
  const std::size_t legs = count < 2 ? 0 : closed ? count : count - 1;
  const auto point = [&](std::size_t i) { return numbers(unique_[i % count]); };
  if (count == 1) arcs_.push_back({0.0, 0.0, {unique_[0], unique_[0]}, {}});
  for (std::size_t leg = 0; leg < legs; ++leg) {
    const Vec p1 = point(leg), p2 = point(leg + 1);
    pass_point();
    if (!smooth_) {
      const double way = std::sqrt(squared_length(p2 - p1));
      arcs_.push_back({length_, way, {vector(p1), vector(p2), Vec3::Zero(), Vec3::Zero()}, {}});
      length_ += way;
      continue;
    }
    const Vec p0 = leg > 0 ? point(leg - 1) : closed ? point(count - 1) : p1 * 2.0 - p2;
    const Vec p3 = leg + 2 < count || closed ? point(leg + 2) : p2 * 2.0 - p1;
    const auto knot = [](const Vec& a, const Vec& b) { return std::sqrt(std::sqrt(squared_length(b - a))); };
    const double d0 = knot(p0, p1), d1 = knot(p1, p2), d2 = knot(p2, p3);
    const auto over = [](const Vec& v, double d) { return v * (1.0 / d); };
    const Vec m1 = (over(p1 - p0, d0) - over(p2 - p0, d0 + d1) + over(p2 - p1, d1)) * d1;
    const Vec m2 = (over(p2 - p1, d1) - over(p3 - p1, d1 + d2) + over(p3 - p2, d2)) * d1;
    const Vec way = p2 - p1;
    add_smooth({vector(p1), vector(m1), vector(way * 3.0 - m1 * 2.0 - m2), vector(m1 + m2 - way * 2.0)});
  }
  while (next < points.size()) pass_point();
}

/// Divides the curve between two points into arcs, each halved until its polynomial is accurate enough.
void Path::add_smooth(const Vec3 (&curve)[4]) {
  const double whole = eight_point_length(curve, 0.0, 0.5) + eight_point_length(curve, 0.5, 1.0);
  std::array<double, 48> ends;
  std::size_t open = 0;
  ends[open++] = 1.0;
  double u = 0.0;
  for (std::size_t made = 0; open > 0;) {
    const double end = ends[open - 1];
    Arc arc{length_, 0.0, {curve[0], curve[1], curve[2], curve[3]}, {}};
    const bool halve = !fits(u, end, whole, arc) && open < ends.size() && made + open < most_arcs;
    if (halve) {
      ends[open++] = 0.5 * (u + end);
      continue;
    }
    --open;
    u = end;
    if (!(arc.length > 0.0)) continue;
    arcs_.push_back(arc);
    length_ += arc.length;
    ++made;
  }
}

/// Computes the arc from u0 to u1. Returns true where it is accurate enough: its length, and the evenness of its speed.
bool Path::fits(double u0, double u1, double whole, Arc& arc) const {
  const auto& c = arc.c;
  const double middle = 0.5 * (u0 + u1), way = u1 - u0;
  arc.length = eight_point_length(c, u0, middle) + eight_point_length(c, middle, u1);
  const bool is_measured = std::abs(arc.length - eight_point_length(c, u0, u1)) <= 1e-12 * whole;

  if (readings_ == Readings::few) {
    arc.u = {u0, u1};
    return is_measured;
  }

  // The parameter at each node, by Newton's method from the previous one, then the divided differences.
  arc.u[0] = u0;
  for (std::size_t j = 1; j < nodes.size(); ++j) {
    const double step = (nodes[j] - nodes[j - 1]) * arc.length;
    const double u = is_measured ? parameter_after(c, arc.u[j - 1], step, u1) : u0 + way * nodes[j];
    arc.u[j] = j + 1 == nodes.size() ? u1 : u;
  }
  for (std::size_t order = 1; order < nodes.size(); ++order)
    for (std::size_t j = nodes.size() - 1; j >= order; --j)
      arc.u[j] = (arc.u[j] - arc.u[j - 1]) / (nodes[j] - nodes[j - order]);

  bool is_even = is_measured;
  for (const double x : {0.0, 0.07, 0.33, 0.67, 0.93, 1.0}) {
    const auto [u, slope_of_u] = polynomial(arc.u, x);
    is_even = is_even && std::abs(speed(c, u) * slope_of_u / arc.length - 1.0) <= 1e-7;
  }
  if (is_even) return true;
  arc.u.fill(0.0);  // used if this is the last halving: linear
  arc.u[0] = u0;
  arc.u[1] = way;
  return arc.length <= 1e-12 * whole;
}

double Path::parameter_at(const Arc& arc, double share) const {
  if (readings_ == Readings::many) return polynomial(arc.u, share).value;
  return parameter_after(arc.c, arc.u[0], share * arc.length, arc.u[1]);
}

Path::Spot Path::at(double distance, Side side) const {
  std::uint32_t near = 0;
  return at(distance, side, near);
}

Path::OnArc Path::find(double distance, Side side, std::uint32_t near) const {
  const bool behind = side == Side::behind;
  double s = distance;
  if (closed_) {
    s -= std::floor(s / length_) * length_;
    if (!(s >= 0.0 && s < length_)) s = 0.0;
    if (behind && s == 0.0) s = length_;
  } else {
    s = std::min(std::max(s, 0.0), length_);
  }
  // The last arc that begins at or before s; for the side behind a corner, before s.
  const auto begins = [&](std::size_t i) { return behind ? arcs_[i].begin < s : arcs_[i].begin <= s; };
  const bool is_near =
      near < arcs_.size() && (near == 0 || begins(near)) && (near + 1 == arcs_.size() || !begins(near + 1));
  if (is_near) return {near, s};
  std::size_t low = 0, high = arcs_.size();
  while (high - low > 1) {
    const std::size_t middle = (low + high) / 2;
    (begins(middle) ? low : high) = middle;
  }
  return {static_cast<std::uint32_t>(low), s};
}

namespace {

Path::Spot spot_on_line(const Vec3 (&c)[4], double length, double share) {
  const Vec a = numbers(c[0]), b = numbers(c[1]);
  return {vector(detail::between(a, b, share)), length > 0.0 ? vector((b - a) * (1.0 / length)) : Vec3{Vec3::Zero()}};
}

Path::Spot spot_on_curve(const Vec3 (&c)[4], double u) {
  Vec along = slope(c, u);
  double length = std::sqrt(squared_length(along));
  if (!(length > 1e-150)) {  // at a cusp: the direction of arrival or departure
    along = at_u(c, std::min(u + 1e-3, 1.0)) - at_u(c, std::max(u - 1e-3, 0.0));
    length = std::sqrt(squared_length(along));
  }
  return {vector(at_u(c, u)), vector(along * (length > 0.0 ? 1.0 / length : 0.0))};
}

}  // namespace

Path::Spot Path::at_share(const Arc& arc, double share) const {
  return smooth_ ? spot_on_curve(arc.c, parameter_at(arc, share)) : spot_on_line(arc.c, arc.length, share);
}

Path::Spot Path::at(double distance, Side side, std::uint32_t& near) const {
  if (arcs_.empty()) return {};
  const auto [index, s] = find(distance, side, near);
  near = index;
  const Arc& arc = arcs_[index];
  return at_share(arc, arc.length > 0.0 ? std::min((s - arc.begin) / arc.length, 1.0) : 0.0);
}

}  // namespace hushed
