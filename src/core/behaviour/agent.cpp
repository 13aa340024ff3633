// SPDX-License-Identifier: MIT
#include "behaviour/agent.hpp"
#include "any_urge.hpp"

#include <algorithm>
#include <array>
#include <cmath>

#include <hushed/seeded.hpp>

#include "behaviour/obstruction.hpp"
#include "lanes/clock.hpp"
#include "lanes/conversions.hpp"
#include "lanes/facing.hpp"
#include "lanes/places.hpp"

namespace hushed::detail {

namespace {

using V = VecOf<double>;

/// The neighbour query of an urge, if it has one.
std::optional<NeighbourQuery> query_of(const Urge& urge, bool planar) {
  if (const auto* one = urge.as<urge::Separation>())
    return NeighbourQuery{NeighbourQuery::Of::separation, one->tag.name, one->within, planar};
  if (const auto* one = urge.as<urge::Alignment>())
    return NeighbourQuery{NeighbourQuery::Of::neighbours, one->tag.name, one->within, planar};
  if (const auto* one = urge.as<urge::Cohesion>())
    return NeighbourQuery{NeighbourQuery::Of::neighbours, one->tag.name, one->within, planar};
  if (const auto* one = urge.as<urge::Avoid>()) return NeighbourQuery{NeighbourQuery::Of::obstacles, one->tag.name};
  return std::nullopt;
}

/// The target of a pursuit or an evasion.
const Place* whom_it_meets(const Urge& urge) {
  if (const auto* pursue = urge.as<urge::Pursue>()) return &pursue->target;
  if (const auto* evade = urge.as<urge::Evade>()) return &evade->target;
  return nullptr;
}

/// Normalised, also where very long or short; scaled first only where the square would overflow or underflow.
V in_unit_length(const V& v) {
  const double squared = squared_length(v);
  return squared > 1e-200 && squared < 1e200 ? v * (1.0 / square_root(squared)) : unit_of(v);
}
double length_of(const V& v) { return square_root(squared_length(v)); }
/// The length of a tick in s, rounded to the unit of `Time`.
double length_of_tick(Time tick, double rate) {
  const auto number = std::llround(in_seconds(tick) * rate);
  return in_seconds(frame_time(number + 1, rate) - tick);
}
/// The time until a target at `way` with constant velocity can be met at a speed: the least t > 0 with
/// |way + velocity t| = speed t.
std::optional<double> time_to_meet(const V& way, const V& velocity, double speed) {
  constexpr double far = 1e12;
  if (!(length_of(way) < far && length_of(velocity) < far)) return std::nullopt;
  const double a = squared_length(velocity) - speed * speed, b = dot(way, velocity), c = squared_length(way);
  if (absolute(a) <= 1e-12 * speed * speed) return b < 0.0 ? std::optional{-0.5 * c / b} : std::nullopt;
  const double under_root = b * b - a * c;
  if (under_root < 0.0) return std::nullopt;
  const double q = -(b + (b < 0.0 ? -1.0 : 1.0) * square_root(under_root));
  std::optional<double> least;
  for (const double t : {q / a, q != 0.0 ? c / q : -1.0})
    if (t > 0.0 && (!least || t < *least)) least = t;
  return least;
}

/// The velocity that an urge wants, and its strength from 0 to 1.
struct Want {
  Want(const V& wanted, double how_strongly = 1.0) : velocity{wanted}, strength{how_strongly} {}
  V velocity;
  double strength;
};

/// The decision of one agent at a tick.
class Agent {
 public:
  Agent(const AgentMotion& body, AgentState& agent, TrackedTarget* tracked_targets, const Surroundings& surroundings)
      : body_{body},
        agent_{agent},
        params_{*agent.params},
        tracked_targets_{tracked_targets},
        parent_{surroundings.parent},
        now_{surroundings.now},
        query_{surroundings.query},
        knows_others_{surroundings.knows_others},
        sensed_{knows_others_ ? query_.neighbour_sums(agent.behaviour) : std::span<const NeighbourSums>{}},
        x_{body.place},
        v_{body.velocity},
        tick_{params_.has_even_ticks ? 1.0 / params_.tick_rate : length_of_tick(now_, params_.tick_rate)} {
    if (squared_length(v_) > 1e-18) heading_ = in_unit_length(v_);
  }

  V decide() {
    V wanted = mean_of_urges([](std::string_view, const Want&, double) {});
    if (params_.planar) wanted.y = 0.0;
    obstacle_query_ = 0;
    for (const Urge& urge : params_.urges)
      if (const auto* avoid = urge.as<urge::Avoid>()) wanted = turned_aside(*avoid, wanted);
    for (const Urge& urge : params_.urges)
      if (const auto* contain = urge.as<urge::Contain>()) add_walls(*contain);
    agent_.decided = now_;
    if (limits_.is_empty()) return wanted;
    return held_back(limits_, v_, wanted, body_.max_acceleration * tick_).value_or(wanted);
  }

  std::vector<UrgeShare> shares() {
    std::vector<UrgeShare> all;
    double weights = 0.0;
    const auto in_world = [this](const V& v) {
      const auto frame = numbers(parent_);
      return vector(rotate(frame.rotation, by_factors(frame.scale, v)));
    };
    mean_of_urges([&](std::string_view name, const Want& want, double weight) {
      all.push_back({name, in_world(want.velocity), weight});
      weights += weight;
    });
    for (UrgeShare& each : all) each.share /= larger(weights, 1e-300);
    tracked_ = neighbour_query_ = 0;
    aims_ = {};
    all.push_back({"wanted", in_world(decide()), 1.0});
    return all;
  }

 private:
  /// The weighted mean of all urges; where none is at full strength, the remaining weight pulls the velocity towards
  /// zero. Calls `visit(name, want, weight)` for each.
  template <class Visit>
  V mean_of_urges(Visit&& visit) {
    V sum{0.0, 0.0, 0.0};
    double weights = 0.0, heaviest = 0.0, strongest = 0.0;
    const auto add = [&](std::string_view name, const std::optional<Want>& want, double weight) {
      if (!want || weight == 0.0) return;
      visit(name, *want, weight * want->strength);
      sum = sum + want->velocity * (weight * want->strength);
      weights += weight * want->strength;
      heaviest = larger(heaviest, weight);
      strongest = larger(strongest, want->strength);
    };
    for (const Urge& urge : params_.urges)
      std::visit([&](const auto& one) { add(urge.name(), wants(one), one.weight); }, detail::AnyUrge::of(urge));
    weights += heaviest * (1.0 - strongest);
    return weights > 1e-300 ? sum * (1.0 / weights) : V{0.0, 0.0, 0.0};
  }

  double speed() const { return body_.max_speed; }
  bool has_decided() const { return agent_.decided != AgentState::never; }
  V level(V v) const {
    if (params_.planar) v.y = 0.0;
    return v;
  }
  /// At full speed in that direction; nothing where the direction is zero.
  std::optional<V> at_full_speed(const V& way) const {
    const double length = length_of(way);
    if (length < same_place) return std::nullopt;
    return length < furthest ? way * (speed() / length) : unit_of(way) * speed();
  }
  std::optional<V> away_from(const V& way) const {
    if (const auto wanted = at_full_speed(way * -1.0)) return wanted;
    const V faced = rotate(body_.facing, V{0.0, 0.0, 1.0});
    return at_full_speed(squared_length(heading_) > 0.0 ? heading_ : level(faced));
  }
  std::optional<V> rest_at(const V& way, double slow_radius) const {
    const double distance = length_of(way);
    if (distance < same_place) return V{0.0, 0.0, 0.0};
    // With slightly less than its acceleration, because ticks may differ by one time unit.
    double pace = smaller(speed(), braking_speed(distance, body_.max_acceleration * (1.0 - 4e-6), tick_));
    if (distance < slow_radius) pace = smaller(pace, speed() * (distance / slow_radius));
    return in_unit_length(way) * pace;
  }

  /// The vector from the agent to the place; nothing where the place is lost.
  std::optional<V> way_to(const Place& place) const {
    if (place.moves() && !query_.is_there(place.target.object)) return std::nullopt;
    return level(numbers(where_is(place, parent_, query_, agent_.behaviour)) - x_);
  }
  std::optional<V> way_to_aim(const Place& place) {
    const auto way = way_to(place);
    if (way) aims_.add(x_ + *way);
    return way;
  }

  std::optional<V> wants(const urge::Seek& seek) {
    const auto way = way_to_aim(seek.target);
    return way ? at_full_speed(*way) : std::nullopt;
  }
  std::optional<V> wants(const urge::Flee& flee) {
    const auto way = way_to(flee.target);
    if (!way || length_of(*way) > flee.within.value_or(for_ever)) return std::nullopt;
    return away_from(*way);
  }
  std::optional<V> wants(const urge::Arrive& arrive) {
    const auto way = way_to_aim(arrive.target);
    return way ? rest_at(*way, arrive.slow_radius) : std::nullopt;
  }

  std::optional<V> wants(const urge::Wander& wander) {
    V& point = agent_.wander_point;
    if (has_decided() && agent_.decided != now_) {
      const std::uint64_t seed = static_cast<std::uint64_t>(wander.seed) + agent_.number;
      const auto number = static_cast<std::uint64_t>(std::llround(in_seconds(now_) * params_.tick_rate));
      const double spread = wander.rate.in_radians() * square_root(3.0 * tick_);
      const auto drawn = [&](std::uint64_t i) { return spread * (2.0 * seeded_number(seed, 3 * number + i) - 1.0); };
      const V strayed = level(point + V{drawn(0), drawn(1), drawn(2)});
      if (length_of(strayed) > same_place) point = in_unit_length(strayed);
    }
    const V wanted = heading_ * wander.distance + point * wander.radius;
    return at_full_speed(length_of(wanted) < same_place ? point : wanted);
  }

  /// The vectors to the meeting point and to the target's present position.
  struct Meeting {
    V way, present;
  };
  std::optional<Meeting> meeting(const Place& target) {
    TrackedTarget& tracked = tracked_targets_[tracked_++];
    const auto way = way_to(target);
    if (!way) {
      tracked.is_known = false;
      return std::nullopt;
    }
    const V place = x_ + *way;
    if (!tracked.is_known)
      tracked.velocity = {0.0, 0.0, 0.0};
    else if (has_decided() && now_ > agent_.decided)
      tracked.velocity = (place - tracked.place) * (1.0 / in_seconds(now_ - agent_.decided));
    tracked.place = place;
    tracked.is_known = true;
    const auto time = time_to_meet(*way, tracked.velocity, speed());
    return Meeting{time ? *way + tracked.velocity * *time : *way, *way};
  }
  std::optional<V> wants(const urge::Pursue& pursue) {
    const auto met = meeting(pursue.target);
    if (!met) return std::nullopt;
    aims_.add(x_ + met->way);
    return at_full_speed(met->way);
  }
  std::optional<V> wants(const urge::Evade& evade) {
    const auto met = meeting(evade.target);
    if (!met || length_of(met->present) > evade.within.value_or(for_ever)) return std::nullopt;
    return away_from(length_of(met->way) < same_place ? met->present : met->way);
  }

  /// The neighbours' velocity plus full speed in a direction; the strength is the length of the direction, at most 1.
  std::optional<Want> beside(const NeighbourSums& neighbours, const V& way) const {
    const double length = length_of(way);
    if (length < same_place) return std::nullopt;
    return Want{mean_velocity(neighbours) + way * (speed() / length), smaller(length, 1.0)};
  }
  std::optional<Want> wants(const urge::Separation&) {
    const NeighbourSums& found = neighbour_sums();
    return beside(found, level(numbers(found.sum)));
  }
  std::optional<Want> wants(const urge::Cohesion& cohesion) {
    const NeighbourSums& found = neighbour_sums();
    if (found.count == 0.0 || cohesion.within < same_place) return std::nullopt;
    return beside(found, level(numbers(found.sum)) * (1.0 / (found.count * cohesion.within)));
  }
  std::optional<V> wants(const urge::Alignment&) {
    const NeighbourSums& found = neighbour_sums();
    return found.count > 0.0 ? std::optional{mean_velocity(found)} : std::nullopt;
  }
  /// Limited to the maximum speed.
  V mean_velocity(const NeighbourSums& neighbours) const {
    const V mean = level(numbers(neighbours.velocity)) * (1.0 / neighbours.count);
    return squared_length(mean) > speed() * speed() ? in_unit_length(mean) * speed() : mean;
  }
  const NeighbourSums& neighbour_sums() {
    static const NeighbourSums no_neighbours;
    const std::size_t answer = params_.answers[neighbour_query_++];
    return answer < sensed_.size() ? sensed_[answer] : no_neighbours;
  }

  /// A point on a line of points.
  struct OnLine {
    double along = 0.0;         ///< m from its first point
    double squared = for_ever;  ///< m^2: squared distance from the query
    V place{}, direction{};
  };
  template <class Visit>
  void for_legs(const urge::Path& path, Visit&& visit) const {
    std::optional<V> last;
    double along = 0.0;
    for (const Place& point : path.points) {
      const auto way = way_to(point);
      if (!way) continue;
      const V here = x_ + *way;
      if (last) {
        const double length = length_of(here - *last);
        if (length > same_place) visit(*last, here, length, along);
        along += length;
      }
      last = here;
    }
    if (last && along == 0.0) visit(*last, *last, 0.0, 0.0);
  }
  OnLine nearest_on(const urge::Path& path, const V& point, double& length, V& first, V& last) const {
    OnLine nearest;
    bool any = false;
    for_legs(path, [&](const V& from, const V& to, double leg, double along) {
      const V direction = leg > 0.0 ? (to - from) * (1.0 / leg) : V{0.0, 0.0, 0.0};
      const double s = larger(0.0, smaller(leg, dot(point - from, direction)));
      const V place = s <= 0.0 ? from : s >= leg ? to : from + direction * s;
      const double squared = squared_length(point - place);
      // A corner is equally near on both of its legs; the leg that begins there counts. For the first point of a loop,
      // that leg came first.
      const bool is_tie = squared == nearest.squared && nearest.along > 0.0;
      if (!any || squared < nearest.squared || is_tie) nearest = {along + s, squared, place, direction};
      if (!any) first = from;
      last = to;
      length = along + leg;
      any = true;
    });
    return nearest;
  }
  /// Follows the point on the line `ahead` beyond its present one. That point only moves forward, whatever the heading
  /// does, so that no corner makes the agent oscillate.
  std::optional<V> wants(const urge::Path& path) {
    double length = 0.0;
    V first{}, last{};
    const OnLine here = nearest_on(path, x_, length, first, last);
    if (here.squared == for_ever) return std::nullopt;
    const bool is_loop = length > 0.0 && length_of(last - first) < same_place;
    double sought = here.along + path.ahead;
    if (!is_loop && sought >= length - same_place) {
      aims_.add(last);
      return rest_at(last - x_, path.ahead);
    }
    if (is_loop && sought >= length) sought -= length;
    OnLine there{length, 0.0, last, here.direction};
    for_legs(path, [&](const V& from, const V& to, double leg, double along) {
      if (sought >= along && sought < along + leg)
        there = {sought, 0.0, from + (to - from) * ((sought - along) / leg), (to - from) * (1.0 / leg)};
    });
    // Within half the width it moves along the line, beyond the full width toward it, with a blend in between.
    const double half = 0.5 * path.width, beside = square_root(here.squared) - half;
    const double share = beside <= 0.0 ? 0.0 : beside < half ? beside / half : 1.0;
    const V way = there.place - x_;
    const V toward = length_of(way) < same_place ? there.direction : unit_of(way);
    return at_full_speed(between(there.direction, toward, share));
  }

  std::optional<V> wants(const urge::Avoid&) { return std::nullopt; }
  std::optional<V> wants(const urge::Contain& contain) {
    const double horizon = body_.max_acceleration > 0.0 ? smaller(speed() / body_.max_acceleration, 1e9) : 1.0;
    const V ahead = x_ + v_ * horizon;
    const auto mirrored = [](double at, double low, double high) {
      const double image = at < low ? low + (low - at) : at > high ? high - (at - high) : at;
      return larger(low, smaller(high, image));
    };
    const Box& box = contain.box;
    const V image{mirrored(ahead.x, box.min.x(), box.max.x()), mirrored(ahead.y, box.min.y(), box.max.y()),
                  mirrored(ahead.z, box.min.z(), box.max.z())};
    if (squared_length(level(image - ahead)) == 0.0) return std::nullopt;
    return at_full_speed(level(image - x_));
  }

  // --- walls and obstacles ---

  /// A third of its acceleration: it may have to brake for several walls at once, and between two at 40 degrees it
  /// needs three times the braking of one.
  double brakes() const { return body_.max_acceleration * (1.0 / 3.0); }
  double stopping() const { return brakes() > 0.0 ? speed() * speed() / (2.0 * brakes()) : 0.0; }
  /// The least velocity away from a wall at a distance from it.
  double least_out(double distance) const {
    constexpr double skin = 1e-6;
    if (distance > skin) return -braking_speed(distance - skin, brakes(), tick_);
    return smaller(speed(), (skin - distance) / tick_);
  }

  V turned_aside(const urge::Avoid& avoid, const V& wanted) {
    const std::size_t query = obstacle_query_++;
    if (avoid.weight == 0.0) return wanted;
    const double pace = length_of(wanted);
    const double reach = speed() > 0.0 ? avoid.ahead * smaller(pace / speed(), 1.0) : 0.0;
    Solids in_the_way;
    for (const Obstacle& obstacle :
         knows_others_ ? query_.obstacles(agent_.behaviour, query) : std::span<const Obstacle>{}) {
      if (obstacle.object.index == agent_.object) continue;
      const double braking = stopping() + (speed() + length_of(numbers(obstacle.velocity))) * (2.0 * tick_);
      const double far = larger(braking, reach) + obstacle.radius + 2.0 * avoid.margin;
      if (squared_length(numbers(obstacle.pose.position) - x_) > far * far) continue;
      const Solid solid = solid_of(obstacle, avoid.margin);
      const Clearance clear = clearance(solid, x_);
      const V out = level(clear.out);
      if (clear.distance <= braking && length_of(out) > 1e-6)
        limits_.add(
            {in_unit_length(out), (dot(clear.out, solid.velocity) + least_out(clear.distance)) / length_of(out)});
      if (clear.distance > 0.0 && clear.distance < reach && !holds_an_aim(solid)) in_the_way.add(solid);
    }
    if (pace < same_place) return wanted;
    const FreeDirection free = find_free(in_the_way, x_, in_unit_length(wanted), heading_, reach, params_.planar);
    const V aside = free.direction * smaller(pace, braking_speed(smaller(free.way, 1e9), brakes(), tick_));
    return free.way >= reach && squared_length(free.direction - in_unit_length(wanted)) == 0.0
               ? wanted
               : between(wanted, aside, smaller(avoid.weight, 1.0));
  }
  /// True where the urge's own target is closer than the obstacle.
  bool holds_an_aim(const Solid& solid) const {
    for (const V& aim : aims_)
      if (clearance(solid, aim).distance < 0.0) return true;
    return false;
  }

  void add_walls(const urge::Contain& contain) {
    if (contain.weight == 0.0) return;
    for (int axis = 0; axis < 3; ++axis) {
      if (params_.planar && axis == 1) continue;
      const double at = axis == 0 ? x_.x : axis == 1 ? x_.y : x_.z;
      const auto add = [&](double distance, double sign) {
        V normal{0.0, 0.0, 0.0};
        (axis == 0 ? normal.x : axis == 1 ? normal.y : normal.z) = sign;
        if (distance <= stopping() + speed() * (2.0 * tick_)) limits_.add({normal, least_out(distance)});
      };
      add(at - contain.box.min[axis], 1.0);
      add(contain.box.max[axis] - at, -1.0);
    }
  }

  const AgentMotion body_;
  AgentState& agent_;
  const SteeringParams& params_;
  TrackedTarget* tracked_targets_;
  const Pose& parent_;
  Time now_;
  const SceneQuery& query_;
  const bool knows_others_;
  std::span<const NeighbourSums> sensed_;
  V x_, v_, heading_{};
  double tick_;
  std::size_t tracked_ = 0, neighbour_query_ = 0, obstacle_query_ = 0;
  Few<V, 8> aims_;
  Limits limits_;
};

}  // namespace

/// The neighbour queries of all urges, without duplicates.
std::vector<NeighbourQuery> neighbour_queries_of(const std::vector<Urge>& urges, bool planar) {
  std::vector<NeighbourQuery> all;
  for (const Urge& urge : urges)
    if (const auto query = query_of(urge, planar))
      if (query->of == NeighbourQuery::Of::obstacles || std::find(all.begin(), all.end(), *query) == all.end())
        all.push_back(*query);
  return all;
}

SteeringParams::SteeringParams(const Steer& steer, double rate)
    : urges{steer.urges},
      planar{steer.planar},
      tick_rate{rate},
      has_even_ticks{std::fmod(static_cast<double>(units_per_second), rate) == 0.0} {
  auto neighbour_queries = neighbour_queries_of(urges, planar);
  std::erase_if(neighbour_queries,
                [](const NeighbourQuery& query) { return query.of == NeighbourQuery::Of::obstacles; });
  for (const Urge& urge : urges) {
    if (const auto query = query_of(urge, planar); query && query->of != NeighbourQuery::Of::obstacles)
      answers.push_back(static_cast<std::size_t>(std::find(neighbour_queries.begin(), neighbour_queries.end(), *query) -
                                                 neighbour_queries.begin()));
    if (whom_it_meets(urge)) ++tracked_count;
  }
}

bool SteeringParams::are(const Steer& steer, double rate) const {
  return planar == steer.planar && tick_rate == rate && urges == steer.urges;
}

std::shared_ptr<const SteeringParams> shared_params(const Steer& steer, double tick_rate) {
  // By thread, so that scenes on different threads never wait for each other.
  thread_local std::array<std::weak_ptr<const SteeringParams>, 16> lately;
  thread_local std::size_t next = 0;
  for (const auto& each : lately)
    if (auto same = each.lock(); same && same->are(steer, tick_rate)) return same;
  auto made = std::make_shared<const SteeringParams>(steer, tick_rate);
  lately[next++ % lately.size()] = made;
  return made;
}

bool track_same_targets(const std::vector<Urge>& a, const std::vector<Urge>& b) {
  return std::equal(a.begin(), a.end(), b.begin(), b.end(), [](const Urge& one, const Urge& other) {
    const Place *before = whom_it_meets(one), *now = whom_it_meets(other);
    return before && now ? *before == *now : before == now;
  });
}

void start_wander(AgentState& agent, const Quat& facing) {
  V faced = rotate(numbers(facing), V{0.0, 0.0, 1.0});
  if (agent.params->planar) faced.y = 0.0;
  agent.wander_point = length_of(faced) > same_place ? in_unit_length(faced) : V{0.0, 0.0, 1.0};
}

V decide(const AgentMotion& body, AgentState& agent, TrackedTarget* tracked_targets, const Surroundings& surroundings) {
  return Agent{body, agent, tracked_targets, surroundings}.decide();
}

std::vector<UrgeShare> shares(const AgentMotion& body, const AgentState& agent, const TrackedTarget* tracked_targets,
                              const Surroundings& surroundings) {
  AgentState now = agent;
  now.decided = surroundings.now;
  std::vector<TrackedTarget> tracked(tracked_targets, tracked_targets + agent.params->tracked_count);
  return Agent{body, now, tracked.data(), surroundings}.shares();
}

}  // namespace hushed::detail
