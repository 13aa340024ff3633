#include <hushed/behaviour/steer.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <memory>
#include <mutex>

#include <hushed/seeded.hpp>

#include "behaviour/obstruction.hpp"
#include "lanes/clock.hpp"
#include "lanes/facing.hpp"
#include "lanes/lane_kind.hpp"
#include "lanes/loop.hpp"
#include "lanes/memory.hpp"
#include "lanes/places.hpp"

namespace hushed {

namespace {

using namespace inside;
using V = VecOf<double>;

constexpr double same_place = 1e-9;  // m

/// Where a target was last, and how fast it went.
struct Sighting {
  V place{}, velocity{};
  bool is_known = false;
};

/// What an urge looks about for, if it does.
std::optional<Sense> sense_of(const Urge& urge) {
  if (const auto* one = std::get_if<urge::Separation>(&urge.is))
    return Sense{Sense::Of::separation, one->tag.name, one->within};
  if (const auto* one = std::get_if<urge::Alignment>(&urge.is))
    return Sense{Sense::Of::neighbours, one->tag.name, one->within};
  if (const auto* one = std::get_if<urge::Cohesion>(&urge.is))
    return Sense{Sense::Of::neighbours, one->tag.name, one->within};
  if (const auto* one = std::get_if<urge::Avoid>(&urge.is)) return Sense{Sense::Of::obstacles, one->tag.name};
  return std::nullopt;
}

/// Of several urges that look about for the same neighbours, the first asks for all.
std::vector<Sense> senses_of(const std::vector<Urge>& urges) {
  std::vector<Sense> all;
  for (const Urge& urge : urges)
    if (const auto sense = sense_of(urge))
      if (sense->of == Sense::Of::obstacles || std::find(all.begin(), all.end(), *sense) == all.end())
        all.push_back(*sense);
  return all;
}

/// What agents with the same values have in common.
struct Wishes {
  std::vector<Urge> urges;
  bool planar;
  double tick_rate;

  std::vector<std::size_t> answers;  ///< which, to each urge in turn that goes by neighbours
  void find_answers() {
    auto senses = senses_of(urges);
    std::erase_if(senses, [](const Sense& sense) { return sense.of == Sense::Of::obstacles; });
    for (const Urge& urge : urges)
      if (const auto sense = sense_of(urge); sense && sense->of != Sense::Of::obstacles)
        answers.push_back(static_cast<std::size_t>(std::find(senses.begin(), senses.end(), *sense) - senses.begin()));
  }
  bool are(const Steer& steer, double rate) const {
    return planar == steer.planar && tick_rate == rate && urges == steer.urges;
  }
};

/// The same for all who wish the same, so that a flock reads one. May be called from any thread.
std::shared_ptr<const Wishes> shared_wishes(const Steer& steer, double tick_rate) {
  static std::mutex mutex;
  static std::array<std::weak_ptr<const Wishes>, 16> lately;
  static std::size_t next = 0;
  const std::scoped_lock lock{mutex};
  for (const auto& each : lately)
    if (auto same = each.lock(); same && same->are(steer, tick_rate)) return same;
  auto made = std::make_shared<Wishes>(Wishes{steer.urges, steer.planar, tick_rate, {}});
  made->find_answers();
  lately[next++ % lately.size()] = made;
  return made;
}

/// What an agent decides by, in a line of the caches.
struct alignas(64) Mind {
  const Wishes* wishes = nullptr;
  std::uint64_t number = 0;  ///< of its name
  V straying{};              ///< the point of its wandering, on the unit sphere
  Time decided = never;      ///< when it last decided what it wants
  std::uint32_t behaviour = 0, object = 0;

  static constexpr Time never = Time::min();
};

struct SteerState {
  Mind mind;
  double tick_rate = 0.0;
  std::shared_ptr<const Wishes> wishes;
  std::vector<Sighting> sightings;  ///< of whom it pursues and evades, in their order

  Vec3 place = Vec3::Zero(), velocity = Vec3::Zero();
  Vec3 wanted = Vec3::Zero();  ///< m/s, from the last tick to the next
  Quat facing = Quat::Identity();
  Time until = {};  ///< when it was last advanced
};

/// What an agent is at a tick.
struct Body {
  V place, velocity;
  QuatOf<double> facing;
  double max_speed, max_acceleration;
};

struct SteerBlock {
  Row place[3], velocity[3], wanted[3], facing[4];
  Row max_speed, max_acceleration;
  Row turning;  ///< rad/s that its facing may turn by
  Advanced advanced;
  Mind minds[lanes];
  Sighting* sightings[lanes];
};

/// In unit length, however long or short it is, unless it is 0: without scaling where its square is a plain number.
V in_unit_length(const V& v) {
  const double squared = squared_length(v);
  return squared > 1e-200 && squared < 1e200 ? v * (1.0 / square_root(squared)) : unit_of(v);
}
double length_of(const V& v) { return square_root(squared_length(v)); }
/// How long until something at `way` that keeps its velocity is met at a speed: the least t > 0 with
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

/// The velocity that an urge wants, and how strongly, from 0 to 1.
struct Want {
  Want(const V& wanted, double how_strongly = 1.0) : velocity{wanted}, strength{how_strongly} {}
  V velocity;
  double strength;
};

/// What one agent sees at a tick, and what its urges make of it: each wants something, or nothing.
class Agent {
 public:
  Agent(const Body& body, Mind& mind, Sighting* sightings, const Pose& parent, Time now, const Sight& sight)
      : body_{body},
        mind_{mind},
        wishes_{*mind.wishes},
        sightings_{sightings},
        parent_{parent},
        now_{now},
        sight_{sight},
        sensed_{sight.sensed(mind.behaviour)},
        x_{body.place},
        v_{body.velocity},
        tick_{1.0 / wishes_.tick_rate} {
    if (squared_length(v_) > 1e-18) heading_ = in_unit_length(v_);
  }

  V decide() {
    V wanted = mean_of_urges([](std::string_view, const Want&, double) {});
    if (wishes_.planar) wanted.y = 0.0;
    obstacle_sense_ = 0;
    for (const Urge& urge : wishes_.urges)
      if (const auto* avoid = std::get_if<urge::Avoid>(&urge.is)) wanted = turned_aside(*avoid, wanted);
    for (const Urge& urge : wishes_.urges)
      if (const auto* contain = std::get_if<urge::Contain>(&urge.is)) add_walls(*contain);
    mind_.decided = now_;
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
    sighting_ = neighbour_sense_ = 0;
    aims_ = {};
    all.push_back({"wanted", in_world(decide()), 1.0});
    return all;
  }

 private:
  /// Where none is at full strength, rest has what is missing. `tell(name, want, weight)` hears of each.
  template <class Tell>
  V mean_of_urges(Tell&& tell) {
    V sum{0.0, 0.0, 0.0};
    double weights = 0.0, heaviest = 0.0, strongest = 0.0;
    const auto hear = [&](std::string_view name, const std::optional<Want>& want, double weight) {
      if (!want || weight == 0.0) return;
      tell(name, *want, weight * want->strength);
      sum = sum + want->velocity * (weight * want->strength);
      weights += weight * want->strength;
      heaviest = larger(heaviest, weight);
      strongest = larger(strongest, want->strength);
    };
    for (const Urge& urge : wishes_.urges)
      std::visit([&](const auto& one) { hear(one.name, wants(one), one.weight); }, urge.is);
    weights += heaviest * (1.0 - strongest);
    return weights > 0.0 ? sum * (1.0 / weights) : sum;
  }

  double speed() const { return body_.max_speed; }
  bool has_decided() const { return mind_.decided != Mind::never; }
  V level(V v) const {
    if (wishes_.planar) v.y = 0.0;
    return v;
  }
  /// At full speed that way, if it is one.
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
    double pace = smaller(speed(), braking_speed(distance, body_.max_acceleration, tick_));
    if (slow_radius > 0.0) pace = smaller(pace, speed() * (distance / slow_radius));
    return in_unit_length(way) * pace;
  }

  /// From the agent to the place, unless that is lost.
  std::optional<V> way_to(const Place& place) const {
    if (place.moves() && !sight_.is_there(place.target.object)) return std::nullopt;
    return level(numbers(where_is(place, parent_, sight_, mind_.behaviour)) - x_);
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
    V& point = mind_.straying;
    if (has_decided() && mind_.decided != now_) {
      const std::uint64_t seed = static_cast<std::uint64_t>(wander.seed) + mind_.number;
      const auto number = static_cast<std::uint64_t>(std::llround(in_seconds(now_) * wishes_.tick_rate));
      const double spread = wander.rate.in_radians() * square_root(3.0 * tick_);
      const auto drawn = [&](std::uint64_t i) { return spread * (2.0 * seeded_number(seed, 3 * number + i) - 1.0); };
      const V strayed = level(point + V{drawn(0), drawn(1), drawn(2)});
      if (length_of(strayed) > same_place) point = in_unit_length(strayed);
    }
    const V wanted = heading_ * wander.distance + point * wander.radius;
    return at_full_speed(length_of(wanted) < same_place ? point : wanted);
  }

  /// The way to where it meets the target, and to where that is now.
  struct Meeting {
    V way, present;
  };
  std::optional<Meeting> meeting(const Place& target) {
    Sighting& sighting = sightings_[sighting_++];
    const auto way = way_to(target);
    if (!way) {
      sighting.is_known = false;
      return std::nullopt;
    }
    const V place = x_ + *way;
    if (!sighting.is_known)
      sighting.velocity = {0.0, 0.0, 0.0};
    else if (has_decided() && now_ > mind_.decided)
      sighting.velocity = (place - sighting.place) * (1.0 / in_seconds(now_ - mind_.decided));
    sighting.place = place;
    sighting.is_known = true;
    const auto time = time_to_meet(*way, sighting.velocity, speed());
    return Meeting{time ? *way + sighting.velocity * *time : *way, *way};
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

  /// With its neighbours, and that way beside them at full speed; the more strongly the longer it is, up to 1.
  std::optional<Want> beside(const Sensed& neighbours, const V& way) const {
    const double length = length_of(way);
    if (length < same_place) return std::nullopt;
    return Want{mean_velocity(neighbours) + way * (speed() / length), smaller(length, 1.0)};
  }
  std::optional<Want> wants(const urge::Separation&) {
    const Sensed& found = sensed();
    return beside(found, level(numbers(found.sum)));
  }
  std::optional<Want> wants(const urge::Cohesion& cohesion) {
    const Sensed& found = sensed();
    if (found.count == 0.0 || cohesion.within == 0.0) return std::nullopt;
    return beside(found, level(numbers(found.sum)) * (1.0 / (found.count * cohesion.within)));
  }
  std::optional<V> wants(const urge::Alignment&) {
    const Sensed& found = sensed();
    return found.count > 0.0 ? std::optional{mean_velocity(found)} : std::nullopt;
  }
  /// No longer than it could have it.
  V mean_velocity(const Sensed& neighbours) const {
    const V mean = level(numbers(neighbours.velocity)) * (1.0 / neighbours.count);
    return squared_length(mean) > speed() * speed() ? in_unit_length(mean) * speed() : mean;
  }
  const Sensed& sensed() {
    static const Sensed nobody;
    const std::size_t answer = wishes_.answers[neighbour_sense_++];
    return answer < sensed_.size() ? sensed_[answer] : nobody;
  }

  /// A place on a line of points.
  struct OnLine {
    double along = 0.0;         ///< m from its first point
    double squared = for_ever;  ///< m^2 from where it was looked for
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
      const V place = from + direction * s;
      const double squared = squared_length(point - place);
      if (!any || squared < nearest.squared) nearest = {along + s, squared, place, direction};
      if (!any) first = from;
      last = to;
      length = along + leg;
      any = true;
    });
    return nearest;
  }
  std::optional<V> wants(const urge::Path& path) {
    double length = 0.0;
    V first{}, last{};
    const OnLine nearest = nearest_on(path, x_ + heading_ * path.ahead, length, first, last);
    if (nearest.squared == for_ever) return std::nullopt;
    const bool is_loop = length > 0.0 && length_of(last - first) < same_place;
    if (!is_loop && nearest.along >= length - same_place) {
      aims_.add(last);
      return rest_at(last - x_, path.ahead);
    }
    double ignored = 0.0;
    const double off = nearest_on(path, x_, ignored, first, last).squared;
    if (square_root(larger(off, nearest.squared)) <= 0.5 * path.width) return nearest.direction * speed();
    double sought = nearest.along + path.ahead;
    if (is_loop && sought > length) sought -= length;
    V place = last;
    for_legs(path, [&](const V& from, const V& to, double leg, double along) {
      if (sought >= along && sought < along + leg) place = from + (to - from) * ((sought - along) / leg);
    });
    return at_full_speed(place - x_);
  }

  std::optional<V> wants(const urge::Avoid&) { return std::nullopt; }
  std::optional<V> wants(const urge::Contain& contain) {
    const double horizon = body_.max_acceleration > 0.0 ? speed() / body_.max_acceleration : 1.0;
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

  // --- what must not be entered ---

  /// A third of what it can brake by: it may have to brake on several sides at once, and between two that come together
  /// at 40 degrees it has to brake three times as hard as before one.
  double brakes() const { return body_.max_acceleration * (1.0 / 3.0); }
  double stopping() const { return brakes() > 0.0 ? speed() * speed() / (2.0 * brakes()) : 0.0; }
  /// The least velocity along the way out of something, or into a box, at a distance from the wall.
  double least_out(double distance) const {
    constexpr double skin = 1e-6;
    if (distance > skin) return -braking_speed(distance - skin, brakes(), tick_);
    return smaller(speed(), (skin - distance) / tick_);
  }

  V turned_aside(const urge::Avoid& avoid, const V& wanted) {
    const std::size_t sense = obstacle_sense_++;
    if (avoid.weight == 0.0) return wanted;
    const double pace = length_of(wanted);
    const double reach = speed() > 0.0 ? avoid.ahead * smaller(pace / speed(), 1.0) : 0.0;
    Solids in_the_way;
    for (const Obstacle& obstacle : sight_.obstacles(mind_.behaviour, sense)) {
      if (obstacle.object.index == mind_.object) continue;
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
    const FreeDirection free = find_free(in_the_way, x_, in_unit_length(wanted), heading_, reach, wishes_.planar);
    const V aside = free.direction * smaller(pace, braking_speed(smaller(free.way, 1e9), brakes(), tick_));
    return free.way >= reach && squared_length(free.direction - in_unit_length(wanted)) == 0.0
               ? wanted
               : between(wanted, aside, smaller(avoid.weight, 1.0));
  }
  /// What it wants to get to cannot be gone past.
  bool holds_an_aim(const Solid& solid) const {
    for (const V& aim : aims_)
      if (clearance(solid, aim).distance < 0.0) return true;
    return false;
  }

  void add_walls(const urge::Contain& contain) {
    if (contain.weight == 0.0) return;
    for (int axis = 0; axis < 3; ++axis) {
      if (wishes_.planar && axis == 1) continue;
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

  const Body body_;
  Mind& mind_;
  const Wishes& wishes_;
  Sighting* sightings_;
  const Pose& parent_;
  Time now_;
  const Sight& sight_;
  std::span<const Sensed> sensed_;
  V x_, v_, heading_{};
  double tick_;
  std::size_t sighting_ = 0, neighbour_sense_ = 0, obstacle_sense_ = 0;
  Few<V, 8> aims_;
  Limits limits_;
};

HUSHED_KERNEL void step_on(const SteerBlock& block, const Row& step, Row (&velocity)[3], Row (&place)[3]) {
  for_each_lane([&](int lane) {
    const auto v = load<Real>(block.velocity, lane), wanted = load<Real>(block.wanted, lane);
    const Real dt = load<Real>(step, lane);
    const auto change = wanted - v;
    const Real length = square_root(squared_length(change)), most = load<Real>(block.max_acceleration, lane) * dt;
    const auto is_far = length > most;
    const auto near = v + change * (most / select(is_far, length, Real{1.0}));
    VecOf<Real> next{select(is_far, near.x, wanted.x), select(is_far, near.y, wanted.y),
                     select(is_far, near.z, wanted.z)};
    const Real speed = square_root(squared_length(next)), fastest = load<Real>(block.max_speed, lane);
    const auto is_fast = speed > fastest;
    next = next * select(is_fast, fastest / select(is_fast, speed, Real{1.0}), Real{1.0});
    store(velocity, lane, next);
    store(place, lane, load<Real>(block.place, lane) + next * dt);
  });
}

/// Toward the way it goes, no faster than `turning`: what is slow can turn round on the spot, what it shows does not
/// flip.
HUSHED_KERNEL void face_travel(const SteerBlock& block, const Row& step, const Row (&velocity)[3], Row (&to)[4]) {
  for_each_lane([&](int lane) {
    const auto v = load<Real>(velocity, lane);
    const auto from = load<Real>(block.facing, lane);
    const auto found = facing(v, VecOf<Real>{0.0, 1.0, 0.0});
    const Real is_good = select(squared_length(v) > 1e-12, found.is_good, Real{0.0});
    const auto way = rotation_vector_of(found.rotation * inverse(from));
    const Real angle = square_root(squared_length(way));
    const Real most = load<Real>(block.turning, lane) * load<Real>(step, lane);
    const Real is_long = select(angle > most, Real{1.0}, Real{0.0});
    const auto part = near_unit(rotation_by(way * (most / select(angle > most, angle, Real{1.0}))) * from);
    store(to, lane, choose(is_good, choose(is_long, part, found.rotation), from));
  });
}

struct SteerRoom {
  using Values = Steer;
  using State = SteerState;
  using Block = SteerBlock;

  static constexpr bool listens = true;
  static constexpr unsigned faces = 1;

  static bool needs_all(const Steer&) { return false; }
  static void prepare(State& state, const Steer& steer, const Owner& owner) {
    state.tick_rate = owner.tick_rate;
    state.mind.number = owner.number;
    state.mind.behaviour = owner.behaviour;
    state.mind.object = owner.object.index;
    take(state, steer);
  }
  static unsigned variant(const Steer& steer, const State&) { return steer.face == SteerFacing::travel ? faces : 0U; }
  static unsigned touches(unsigned variant) {
    return variant == faces ? part::position | part::rotation : unsigned{part::position};
  }

  static std::vector<Sense> senses(const Steer& steer) { return senses_of(steer.urges); }

  static void begin(State& state, const Steer& steer, const Start& start) {
    state.velocity = state.wanted = Vec3::Zero();
    state.mind.decided = Mind::never;
    std::fill(state.sightings.begin(), state.sightings.end(), Sighting{});
    state.place = start.in.position;
    state.facing = start.in.rotation;
    state.until = start.moment.time;
    V faced = rotate(numbers(start.in.rotation), V{0.0, 0.0, 1.0});
    if (steer.planar) faced.y = 0.0;
    state.mind.straying = length_of(faced) > same_place ? in_unit_length(faced) : V{0.0, 0.0, 1.0};
    // At the very start nobody has been seen yet; all decide once everything is shown.
    if (start.moment.time == Time{}) return;
    const Body body{
        numbers(state.place), {0.0, 0.0, 0.0}, numbers(state.facing), steer.max_speed, steer.max_acceleration};
    Agent agent{body, state.mind, state.sightings.data(), start.moment.parent, start.moment.time, *start.moment.sight};
    state.wanted = vector(agent.decide());
  }
  static void absorb(State& state, const Steer& steer, OwnTime, const Start& now, const Steer& next) {
    if (!meets_the_same(steer, next)) state.sightings.clear();
    take(state, next);
    if (next.face == SteerFacing::travel) state.facing = now.in.rotation;
  }
  static void kick(State& state, const Steer&, const Vec3& by) { state.velocity += by; }

  static void fill(Block& block, int lane, const Steer& steer, State& state) {
    take(state, steer);
    store(block.place, lane, numbers(state.place));
    store(block.velocity, lane, numbers(state.velocity));
    store(block.wanted, lane, numbers(state.wanted));
    store(block.facing, lane, numbers(state.facing));
    block.max_speed.at[lane] = steer.max_speed;
    block.max_acceleration.at[lane] = steer.max_acceleration;
    block.turning.at[lane] = turning(steer);
    block.advanced.set(lane, state.until);
    block.minds[lane] = state.mind;
    block.sightings[lane] = state.sightings.data();
  }
  static void collect(const Block& block, int lane, State& state) {
    state.place = vector(load<double>(block.place, lane));
    state.velocity = vector(load<double>(block.velocity, lane));
    state.wanted = vector(load<double>(block.wanted, lane));
    state.facing = vector(load<double>(block.facing, lane));
    state.until = block.advanced.of(lane);
    state.mind = block.minds[lane];
  }

  static void evaluate(Block& block, unsigned variant, PoseBlock& poses, const BlockMoment& moment) {
    const Steps steps = block.advanced.steps(moment);
    Row velocity[3];
    const Row step = steps.row();
    step_on(block, step, velocity, poses.position);
    if (variant == faces) face_travel(block, step, velocity, poses.rotation);
    if (moment.remember == Remember::nothing) return;
    if (moment.remember != Remember::standing_still) {
      keep_active(moment, velocity, block.velocity);
      keep_active(moment, poses.position, block.place);
      if (variant == faces) keep_active(moment, poses.rotation, block.facing);
    }
    block.advanced.to(moment);
  }

  static void decide(Block& block, const BlockMoment& moment) {
    for (int lane = 0; lane < lanes; ++lane) {
      if (!moment.is_active(lane)) continue;
      const Pose parent = moment.in_world ? Pose{} : lane_of(*moment.parent, lane);
      Agent agent{body(block, lane), block.minds[lane], block.sightings[lane], parent, moment.time, *moment.sight};
      store(block.wanted, lane, agent.decide());
    }
  }

  /// Wandering stays where it is, as if it had just been decided.
  static std::vector<UrgeShare> urges(const Block& block, int lane, const BlockMoment& moment) {
    Mind mind = block.minds[lane];
    mind.decided = moment.time;
    const Sighting* const first = block.sightings[lane];
    std::vector<Sighting> sightings(first, first + count_of_meetings(mind.wishes->urges));
    const Pose parent = moment.in_world ? Pose{} : lane_of(*moment.parent, lane);
    return Agent{body(block, lane), mind, sightings.data(), parent, moment.time, *moment.sight}.shares();
  }

  static std::optional<Complaint> check(const Steer& steer, const Pose*) {
    constexpr std::size_t most = 32;
    if (steer.urges.empty()) return Complaint{{}, "urges: there is none; give it one, such as { urge = \"wander\" }."};
    if (steer.urges.size() > most)
      return Complaint{{}, "urges: these are " + std::to_string(steer.urges.size()) + "; give at most 32."};
    int wanders = 0;
    for (const Urge& urge : steer.urges) {
      if (std::holds_alternative<urge::Wander>(urge.is) && ++wanders > 1)
        return Complaint{{}, "urges: it cannot wander twice at once; keep one wander."};
      if (const auto* path = std::get_if<urge::Path>(&urge.is); path && path->points.empty())
        return Complaint{{}, "urges: path: points: there is none; give at least one."};
      if (const auto* contain = std::get_if<urge::Contain>(&urge.is))
        if ((contain->box.min.array() > contain->box.max.array()).any())
          return Complaint{{},
                           "urges: contain: box: a lower bound is above the upper one; give the lower corner first."};
    }
    return std::nullopt;
  }

 private:
  static Body body(const Block& block, int lane) {
    return {load<double>(block.place, lane), load<double>(block.velocity, lane), load<double>(block.facing, lane),
            block.max_speed.at[lane], block.max_acceleration.at[lane]};
  }
  static const Place* whom_it_meets(const Urge& urge) {
    if (const auto* pursue = std::get_if<urge::Pursue>(&urge.is)) return &pursue->target;
    if (const auto* evade = std::get_if<urge::Evade>(&urge.is)) return &evade->target;
    return nullptr;
  }
  static std::size_t count_of_meetings(const std::vector<Urge>& urges) {
    return static_cast<std::size_t>(
        std::count_if(urges.begin(), urges.end(), [](const Urge& urge) { return whom_it_meets(urge) != nullptr; }));
  }
  static bool meets_the_same(const Steer& a, const Steer& b) {
    return std::equal(a.urges.begin(), a.urges.end(), b.urges.begin(), b.urges.end(),
                      [](const Urge& one, const Urge& other) {
                        const Place *before = whom_it_meets(one), *now = whom_it_meets(other);
                        return before && now ? *before == *now : before == now;
                      });
  }
  /// As fast as its way turns at a quarter of its speed: a / (s / 4).
  static double turning(const Steer& steer) {
    return steer.max_acceleration > 0.0 && steer.max_speed > 0.0
               ? smaller(4.0 * steer.max_acceleration / steer.max_speed, 1e6)
               : 1e6;
  }
  static void take(State& state, const Steer& steer) {
    if (!state.wishes || !state.wishes->are(steer, state.tick_rate))
      state.wishes = shared_wishes(steer, state.tick_rate);
    state.mind.wishes = state.wishes.get();
    state.sightings.resize(count_of_meetings(steer.urges));
  }
};

}  // namespace

template <>
const inside::Kind& inside::kind_of<Steer>() {
  static const LaneKind<SteerRoom> kind;
  return kind;
}

}  // namespace hushed
