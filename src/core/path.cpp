#include <hushed/path.hpp>

#include <algorithm>
#include <array>
#include <cmath>

#include "lanes/geometry.hpp"
#include "lanes/newton.hpp"

namespace hushed {

using inside::nodes;
using inside::numbers;
using inside::squared_length;
using inside::vector;
using Vec = inside::VecOf<double>;

namespace {

constexpr std::size_t most_parts =
    64;  ///< of one segment; more come only from a cusp, where the rest is next to nothing

double distance_between(const Vec3& a, const Vec3& b) { return std::sqrt(squared_length(numbers(b) - numbers(a))); }

Vec at_u(const Vec3 (&c)[4], double u) {
  return numbers(c[0]) + (numbers(c[1]) + (numbers(c[2]) + numbers(c[3]) * u) * u) * u;
}
Vec slope(const Vec3 (&c)[4], double u) {
  return numbers(c[1]) + (numbers(c[2]) * 2.0 + numbers(c[3]) * (3.0 * u)) * u;
}

double speed(const Vec3 (&c)[4], double u) { return std::sqrt(squared_length(slope(c, u))); }

/// The length from u0 to u1 by Gauss and Legendre's eight points (Abramowitz and Stegun 25.4.30).
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

/// The parameter `length` after u0, at most u1, by Newton's method.
double parameter_after(const Vec3 (&c)[4], double u0, double length, double u1) {
  if (!(length > 0.0)) return u0;
  double u = std::min(u0 + length / speed(c, u0), u1);
  for (int i = 0; i < 8; ++i) {
    const double correction = (length - eight_point_length(c, u0, u)) / speed(c, u);
    if (!std::isfinite(correction)) break;
    u = std::min(std::max(u + correction, u0), u1);
    if (std::abs(correction) <= 1e-8 * (u1 - u0)) break;  // the next would be its square
  }
  return u;
}

struct ValueAndSlope {
  double value, slope;
};

/// Newton's polynomial through the nodes, and its derivative.
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
  segments_.reserve(points + 1);
  parts_.reserve((points + 1) * (shape == PathShape::smooth ? most_parts + 1 : 1));
}

void Path::set(std::span<const Vec3> points, PathShape shape, bool closed, Readings readings) {
  readings_ = readings;
  closed_ = closed;
  length_ = 0.0;
  unique_.clear();
  distances_.clear();
  segments_.clear();
  parts_.clear();
  for (const Vec3& point : points)
    if (unique_.empty() || distance_between(unique_.back(), point) > 0.0) unique_.push_back(point);
  if (closed && unique_.size() > 1 && distance_between(unique_.back(), unique_.front()) == 0.0) unique_.pop_back();
  const std::size_t count = unique_.size();
  smooth_ = shape == PathShape::smooth && count > 2;  // through two points there is one line

  const std::size_t legs = count < 2 ? 0 : closed ? count : count - 1;
  const auto point = [&](std::size_t i) { return numbers(unique_[i % count]); };
  for (std::size_t leg = 0; leg < legs; ++leg) {
    const Vec p1 = point(leg), p2 = point(leg + 1);
    const auto index = static_cast<std::uint32_t>(leg);
    if (!smooth_) {
      segments_.push_back({{vector(p1), vector(p2), Vec3::Zero(), Vec3::Zero()}});
      const double way = std::sqrt(squared_length(p2 - p1));
      parts_.push_back({length_, way, {}, index});
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
    segments_.push_back({{vector(p1), vector(m1), vector(way * 3.0 - m1 * 2.0 - m2), vector(m1 + m2 - way * 2.0)}});
    add_smooth(index);
  }

  // How far along each of the points is, those in one place alike.
  std::size_t segment = 0;
  double reached = 0.0;
  for (std::size_t i = 0, part = 0; i < points.size(); ++i) {
    if (i > 0 && distance_between(points[i - 1], points[i]) > 0.0) {
      ++segment;
      while (part < parts_.size() && parts_[part].segment < segment) ++part;
      reached = part < parts_.size() ? parts_[part].begin : length_;
    }
    distances_.push_back(reached);
  }
}

/// Cuts a segment into parts from its start to its end, each halved until it is good enough.
void Path::add_smooth(std::uint32_t segment) {
  const Segment& curve = segments_[segment];
  const double whole = eight_point_length(curve.c, 0.0, 0.5) + eight_point_length(curve.c, 0.5, 1.0);
  std::array<double, 48> ends;
  std::size_t open = 0;
  ends[open++] = 1.0;
  double u = 0.0;
  for (std::size_t made = 0; open > 0;) {
    const double end = ends[open - 1];
    Part part{length_, 0.0, {}, segment};
    const bool halve = !fits(curve, u, end, whole, part) && open < ends.size() && made + open < most_parts;
    if (halve) {
      ends[open++] = 0.5 * (u + end);
      continue;
    }
    --open;
    u = end;
    if (!(part.length > 0.0)) continue;
    parts_.push_back(part);
    length_ += part.length;
    ++made;
  }
}

/// Makes the part from u0 to u1, and says whether it is good enough: its length, and how evenly it is swept.
bool Path::fits(const Segment& curve, double u0, double u1, double whole, Part& part) const {
  const auto& c = curve.c;
  const double middle = 0.5 * (u0 + u1), way = u1 - u0;
  part.length = eight_point_length(c, u0, middle) + eight_point_length(c, middle, u1);
  const bool is_measured = std::abs(part.length - eight_point_length(c, u0, u1)) <= 1e-12 * whole;

  if (readings_ == Readings::few) {
    part.u = {u0, u1};
    return is_measured;
  }

  // The parameter at each node, by Newton's method from the one before, then the divided differences.
  part.u[0] = u0;
  for (std::size_t j = 1; j < nodes.size(); ++j) {
    const double step = (nodes[j] - nodes[j - 1]) * part.length;
    const double u = is_measured ? parameter_after(c, part.u[j - 1], step, u1) : u0 + way * nodes[j];
    part.u[j] = j + 1 == nodes.size() ? u1 : u;
  }
  for (std::size_t order = 1; order < nodes.size(); ++order)
    for (std::size_t j = nodes.size() - 1; j >= order; --j)
      part.u[j] = (part.u[j] - part.u[j - 1]) / (nodes[j] - nodes[j - order]);

  bool is_even = is_measured;
  for (const double x : {0.0, 0.07, 0.33, 0.67, 0.93, 1.0}) {
    const auto [u, slope_of_u] = polynomial(part.u, x);
    is_even = is_even && std::abs(speed(c, u) * slope_of_u / part.length - 1.0) <= 1e-7;
  }
  if (is_even) return true;
  part.u.fill(0.0);  // should this be the last cut: a straight sweep
  part.u[0] = u0;
  part.u[1] = way;
  return part.length <= 1e-12 * whole;
}

double Path::parameter_at(const Part& part, double share) const {
  if (readings_ == Readings::many) return polynomial(part.u, share).value;
  return parameter_after(segments_[part.segment].c, part.u[0], share * part.length, part.u[1]);
}

Path::Spot Path::at(double distance, Side side) const {
  std::uint32_t near = 0;
  return at(distance, side, near);
}

std::pair<std::uint32_t, double> Path::find(double distance, Side side, std::uint32_t near) const {
  const bool behind = side == Side::behind;
  double s = distance;
  if (closed_) {
    s -= std::floor(s / length_) * length_;
    if (!(s >= 0.0 && s < length_)) s = 0.0;
    if (behind && s == 0.0) s = length_;
  } else {
    s = std::min(std::max(s, 0.0), length_);
  }
  // The last part that begins at or before s; seen from behind, before it.
  const auto begins = [&](std::size_t i) { return behind ? parts_[i].begin < s : parts_[i].begin <= s; };
  const bool is_near =
      near < parts_.size() && (near == 0 || begins(near)) && (near + 1 == parts_.size() || !begins(near + 1));
  if (is_near) return {near, s};
  std::size_t low = 0, high = parts_.size();
  while (high - low > 1) {
    const std::size_t middle = (low + high) / 2;
    (begins(middle) ? low : high) = middle;
  }
  return {static_cast<std::uint32_t>(low), s};
}

namespace {

Path::Spot spot_on_line(const Vec3 (&c)[4], double length, double share) {
  const Vec a = numbers(c[0]), b = numbers(c[1]);
  return {vector(inside::between(a, b, share)), length > 0.0 ? vector((b - a) * (1.0 / length)) : Vec3{Vec3::Zero()}};
}

Path::Spot spot_on_curve(const Vec3 (&c)[4], double u) {
  Vec along = slope(c, u);
  double length = std::sqrt(squared_length(along));
  if (!(length > 1e-150)) {  // on a cusp: the way it came there, or goes on
    along = at_u(c, std::min(u + 1e-3, 1.0)) - at_u(c, std::max(u - 1e-3, 0.0));
    length = std::sqrt(squared_length(along));
  }
  return {vector(at_u(c, u)), vector(along * (length > 0.0 ? 1.0 / length : 0.0))};
}

}  // namespace

Path::Spot Path::Arc::at(double share) const {
  return is_line ? spot_on_line(c, length, share) : spot_on_curve(c, polynomial(u, share).value);
}

Path::Arc Path::arc_at(double distance, Side side, std::uint32_t& near) const {
  Arc arc;
  if (parts_.empty()) {
    if (!unique_.empty()) arc.c[0] = arc.c[1] = unique_.front();
    return arc;
  }
  near = find(distance, side, near).first;
  const Part& part = parts_[near];
  arc.begin = part.begin;
  arc.length = part.length;
  arc.is_line = !smooth_;
  std::copy(std::begin(segments_[part.segment].c), std::end(segments_[part.segment].c), arc.c);
  arc.u = part.u;
  return arc;
}

Path::Spot Path::at(double distance, Side side, std::uint32_t& near) const {
  if (parts_.empty()) return {unique_.empty() ? Vec3{Vec3::Zero()} : unique_.front(), Vec3::Zero()};
  const auto [index, s] = find(distance, side, near);
  near = index;
  const Part& part = parts_[index];
  const Segment& segment = segments_[part.segment];
  const double share = std::min((s - part.begin) / part.length, 1.0);
  return smooth_ ? spot_on_curve(segment.c, parameter_at(part, share)) : spot_on_line(segment.c, part.length, share);
}

}  // namespace hushed
