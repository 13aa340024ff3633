// SPDX-License-Identifier: MIT
#include "behaviour/obstruction.hpp"

#include <limits>

#include "lanes/conversions.hpp"
#include "lanes/facing.hpp"

namespace hushed::detail {

namespace {

using V = VecOf<double>;

constexpr double nowhere = std::numeric_limits<double>::infinity();

/// A direction that just passes a surface keeps this distance from it, so that rounding does not lead inside.
double skin(double size) { return 1e-3 + 1e-3 * size; }

std::array<double, 3> as_array(const V& v) { return {v.x, v.y, v.z}; }
V as_vector(const std::array<double, 3>& v) { return {v[0], v[1], v[2]}; }
V flat(const V& v) { return {v.x, 0.0, v.z}; }

/// A unit vector perpendicular to a unit vector.
V across(const V& direction) {
  const V side = absolute(direction.y) < 0.9 ? V{direction.z, 0.0, -direction.x} : V{0.0, -direction.z, direction.y};
  return unit_of(side);
}

Clearance clearance_of_ball(const Solid& solid, const V& point) {
  const V away = point - solid.centre;
  const double distance = square_root(squared_length(away));
  return {distance - solid.half.x, distance > same_place ? away * (1.0 / distance) : V{0.0, 1.0, 0.0}};
}

Clearance clearance_of_box(const Solid& solid, const V& point) {
  const auto local = as_array(rotate(inverse(solid.rotation), point - solid.centre));
  const auto half = as_array(solid.half);
  std::array<double, 3> over{};
  double least = nowhere;
  std::size_t nearest_face = 0;
  for (std::size_t i = 0; i < 3; ++i) {
    const double beyond = absolute(local[i]) - half[i];
    if (beyond > 0.0) over[i] = local[i] > 0.0 ? beyond : -beyond;
    if (-beyond < least) {
      least = -beyond;
      nearest_face = i;
    }
  }
  const double distance = square_root(squared_length(as_vector(over)));
  if (distance > 0.0) return {distance, rotate(solid.rotation, as_vector(over) * (1.0 / distance))};
  std::array<double, 3> face{};
  face[nearest_face] = local[nearest_face] < 0.0 ? -1.0 : 1.0;
  return {-least, rotate(solid.rotation, as_vector(face))};
}

double free_way_past_ball(const Solid& solid, const V& from, const V& direction) {
  const V away = from - solid.centre;
  const double along = dot(away, direction);
  const double outside = squared_length(away) - solid.half.x * solid.half.x;
  if (along >= 0.0) return nowhere;
  if (outside <= 0.0) return 0.0;
  const double under_root = along * along - outside;
  return under_root > 0.0 ? outside / (-along + square_root(under_root)) : nowhere;
}

double free_way_past_box(const Solid& solid, const V& from, const V& direction) {
  const auto local = as_array(rotate(inverse(solid.rotation), from - solid.centre));
  const auto way = as_array(rotate(inverse(solid.rotation), direction));
  const auto half = as_array(solid.half);
  double enter = -nowhere, leave = nowhere;
  for (std::size_t i = 0; i < 3; ++i) {
    if (absolute(way[i]) < 1e-12) {
      if (absolute(local[i]) >= half[i]) return nowhere;
      continue;
    }
    const double one = (-half[i] - local[i]) / way[i], other = (half[i] - local[i]) / way[i];
    enter = larger(enter, smaller(one, other));
    leave = smaller(leave, larger(one, other));
  }
  return enter < leave && leave > 0.0 ? larger(enter, 0.0) : nowhere;
}

/// Visits every direction that just passes the solid.
template <class Visit>
void for_sides_of_ball(const Solid& solid, const V& from, const V& wanted, bool level, Visit&& visit) {
  V to = solid.centre - from;
  double radius = solid.half.x + skin(solid.half.x);
  if (level) {
    const double squared = radius * radius - to.y * to.y;
    if (squared <= 0.0) return;
    radius = square_root(squared);
    to = flat(to);
  }
  const double distance = square_root(squared_length(to));
  if (distance <= same_place) return;
  const V ahead = to * (1.0 / distance);
  const double sine = smaller(radius / distance, 1.0), cosine = square_root(1.0 - sine * sine);
  const V beside = wanted - ahead * dot(wanted, ahead);
  const bool is_straight = squared_length(beside) < 1e-12;
  const V side = level ? V{ahead.z, 0.0, -ahead.x} : is_straight ? across(ahead) : unit_of(beside);
  visit(ahead * cosine + side * sine);
  visit(ahead * cosine - side * sine);
  if (level) return;
  const V other = cross(ahead, side);
  visit(ahead * cosine + other * sine);
  visit(ahead * cosine - other * sine);
}

template <class Visit>
void for_sides_of_box(const Solid& solid, const V& from, const V& wanted, bool level, Visit&& visit) {
  const auto local = as_array(rotate(inverse(solid.rotation), from - solid.centre));
  const auto way = as_array(rotate(inverse(solid.rotation), wanted));
  auto half = as_array(solid.half);
  for (double& each : half) each += skin(each);
  const auto pass = [&](const std::array<double, 3>& point) {
    const V to = rotate(solid.rotation, as_vector(point) - as_vector(local));
    const V direction = level ? flat(to) : to;
    if (squared_length(direction) > same_place * same_place) visit(unit_of(direction));
  };
  for (unsigned corner = 0; corner < 8; ++corner) {
    std::array<double, 3> point = half;
    for (std::size_t i = 0; i < 3; ++i)
      if ((corner >> i & 1U) != 0) point[i] = -point[i];
    pass(point);
  }
  if (level) return;
  // The point of each edge that is nearest to the wanted ray, seen along the edge.
  for (std::size_t along = 0; along < 3; ++along) {
    const std::size_t j = (along + 1) % 3, k = (along + 2) % 3;
    const double squared = way[j] * way[j] + way[k] * way[k];
    for (unsigned edge = 0; edge < 4; ++edge) {
      std::array<double, 3> point{};
      point[j] = (edge & 1U) != 0 ? half[j] : -half[j];
      point[k] = (edge & 2U) != 0 ? half[k] : -half[k];
      const double ahead = (point[j] - local[j]) * way[j] + (point[k] - local[k]) * way[k];
      const double s = squared > 1e-12 ? larger(ahead / squared, 0.0) : 0.0;
      point[along] = larger(smaller(local[along] + s * way[along], half[along]), -half[along]);
      pass(point);
    }
  }
}

double free_way(const Solids& solids, const V& from, const V& direction) {
  double least = nowhere;
  for (const Solid& solid : solids) least = smaller(least, detail::free_way(solid, from, direction));
  return least;
}

/// Projects onto each limit in turn, which converges to a point that meets all limits if there is one (Kaczmarz 1937).
V within(const Limits& limits, V velocity) {
  constexpr int rounds = 8;
  for (int i = 0; i < rounds; ++i) {
    bool is_met = true;
    for (const Limit& limit : limits) {
      const double lack = limit.least - dot(limit.normal, velocity);
      if (lack <= 0.0) continue;
      velocity = velocity + limit.normal * lack;
      is_met = false;
    }
    if (is_met) break;
  }
  return velocity;
}

/// The point on the way from one point to another, at most a distance from the first.
V toward(const V& from, const V& to, double most) {
  const V way = to - from;
  const double length = square_root(squared_length(way));
  return length > most ? from + way * (most / length) : to;
}

}  // namespace

Solid solid_of(const Obstacle& obstacle, double margin) {
  return {obstacle.is_round, numbers(obstacle.pose.position), numbers(obstacle.pose.rotation),
          numbers(obstacle.half) + V{margin, margin, margin}, numbers(obstacle.velocity)};
}

Clearance clearance(const Solid& solid, const V& point) {
  return solid.is_round ? clearance_of_ball(solid, point) : clearance_of_box(solid, point);
}

double free_way(const Solid& solid, const V& from, const V& direction) {
  return solid.is_round ? free_way_past_ball(solid, from, direction) : free_way_past_box(solid, from, direction);
}

FreeDirection find_free(const Solids& solids, const V& from, const V& wanted, const V& heading, double reach,
                        bool level) {
  FreeDirection furthest{wanted, free_way(solids, from, wanted)};
  if (furthest.way >= reach) return furthest;
  constexpr double faithfulness = 0.1;
  FreeDirection nearest{};
  double best = -nowhere;
  const auto consider = [&](const V& direction) {
    const double fit = dot(direction, wanted) + faithfulness * dot(direction, heading);
    if (fit <= best) return;
    const double way = free_way(solids, from, direction);
    if (way > furthest.way) furthest = {direction, way};
    if (way < reach) return;
    best = fit;
    nearest = {direction, way};
  };
  for (const Solid& solid : solids)
    solid.is_round ? for_sides_of_ball(solid, from, wanted, level, consider)
                   : for_sides_of_box(solid, from, wanted, level, consider);
  return best > -nowhere ? nearest : furthest;
}

double braking_speed(double distance, double acceleration, double tick) {
  if (!(acceleration > 0.0)) return 0.0;
  const double loss = acceleration * tick;  // m/s per tick
  const double ticks = std::floor(0.5 + square_root(0.25 + 2.0 * distance / (loss * tick)));
  constexpr double uncountable = 1e12;
  if (!(ticks < uncountable)) return square_root(2.0 * acceleration * distance);
  return distance / (ticks * tick) + 0.5 * loss * (ticks - 1.0);
}

std::optional<V> held_back(const Limits& limits, const V& now, const V& wanted, double change) {
  const V needed = within(limits, now);
  const V first = toward(now, needed, change);
  const V left = needed - now;
  const double rest = larger(change - square_root(squared_length(left)), 0.0);
  const V next = toward(first, wanted, rest);
  const V held = rest > 0.0 ? within(limits, next) : first;
  const V difference = held - toward(now, wanted, change);
  if (squared_length(difference) == 0.0) return std::nullopt;
  return held;
}

}  // namespace hushed::detail
