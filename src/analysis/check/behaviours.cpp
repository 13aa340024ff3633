// SPDX-License-Identifier: MIT
// Checks of single kinds of behaviour.

#include <hushed/behaviour/face.hpp>
#include <hushed/behaviour/follow.hpp>
#include <hushed/behaviour/spring.hpp>
#include <hushed/detail/constants.hpp>
#include <hushed/field.hpp>

#include "check/checked.hpp"

namespace hushed::detail {

namespace {

/// The behaviour that is checked, and its object.
struct Who {
  const Played& played;
  std::size_t object;
  AnyBehaviour behaviour;

  const std::string& name() const { return played.world.objects[object]; }
  std::string path() const { return played.scene.path(behaviour); }
  std::size_t number_of(Object other) const {
    return static_cast<std::size_t>(std::find(played.objects.begin(), played.objects.end(), other) -
                                    played.objects.begin());
  }
  const Pose& world(std::size_t frame) const { return played.world.at(frame, object); }
};

// --- follow ---

/// The distances from the goal, frame by frame.
std::vector<double> errors_of(const Follow& follow, const Who& who) {
  const std::size_t leader = who.number_of(follow.target.object);
  const Recording& world = who.played.world;
  std::vector<double> errors;
  const auto arm = [&](std::size_t frame) {
    const Vec3 way = who.world(frame).position - world.at(frame, leader).position;
    return follow.offset_space == Space::target ? Vec3{world.at(frame, leader).rotation.conjugate() * way} : way;
  };
  const bool has_band = follow.min_distance || follow.max_distance;
  const Vec3 offset = follow.offset ? *follow.offset : has_band ? Vec3{Vec3::Zero()} : arm(0);
  for (std::size_t frame = 0; frame < world.frames(); ++frame) {
    const double distance = (arm(frame) - offset).norm();
    errors.push_back(has_band ? std::max(distance - follow.max_distance.value_or(1e300), 0.0) : distance);
  }
  return errors;
}

double largest_speed(const Recording& world, std::size_t object, double fps) {
  double fastest = 0.0;
  for (std::size_t frame = 1; frame < world.frames(); ++frame)
    fastest = std::max(fastest, (world.at(frame, object).position - world.at(frame - 1, object).position).norm() * fps);
  return fastest;
}

void check_follow(const Follow& follow, const Who& who, const CheckOptions& options, Findings& to) {
  const Recording& world = who.played.world;
  const bool goes_there =
      std::find(follow.channels.begin(), follow.channels.end(), Channel::position) != follow.channels.end();
  const std::size_t leader = who.number_of(follow.target.object);
  if (!goes_there || leader == who.played.objects.size() || world.frames() < 8) return;
  const std::vector<double> errors = errors_of(follow, who);
  const std::size_t last = errors.size() - 1;
  const double start = errors[last / 4], half = errors[last / 2], late = errors[last * 3 / 4], end = errors[last];
  const std::string name = world.objects[leader];
  if (end > 1.0 && start < 0.95 * half && half < 0.95 * late && late < 0.95 * end && end > 2.0 * start) {
    to.add("falls-behind", Severity::mistake, who.name(), last,
           who.path() + " is " + few_digits(start) + " m behind " + name + " after a quarter of the play, and " +
               few_digits(end) + " m at its end",
           follow.max_speed ? "raise max_speed above the leader's speed" : "shorten its half_life, or slow the leader");
    return;
  }
  // Exponential smoothing of a target at constant speed lags by this distance: that is the meaning of a half-life.
  const double lag = largest_speed(world, leader, options.frames_per_second) *
                     (in_seconds(follow.half_life) / ln_2 + in_seconds(follow.trail));
  const auto nearest = std::min_element(errors.begin() + static_cast<std::ptrdiff_t>(last / 2), errors.end());
  if (*nearest > 1.0 + follow.deadzone + 1.5 * lag)
    to.add("never-reaches", Severity::mistake, who.name(), static_cast<std::size_t>(nearest - errors.begin()),
           who.path() + " never comes closer than " + few_digits(*nearest) + " m to its goal beside " + name,
           follow.max_speed ? "raise max_speed"
                            : "shorten its half_life, or check whether a later behaviour moves it away");
}

// --- face ---

void check_face(const Face& face, const Who& who, Findings& to) {
  const Place& place = face.target.place;
  if (face.target.is_travel || face.only == Turns::yaw) return;
  const Scene& scene = who.played.scene;
  const auto parent = scene.parent(who.played.objects[who.object]);
  const std::size_t outer_number = parent ? who.number_of(*parent) : 0;
  const std::size_t target_number = who.number_of(place.target.object);
  for (std::size_t frame = 0; frame < who.played.world.frames(); ++frame) {
    const Pose outer = parent ? who.played.world.at(frame, outer_number) : Pose{};
    Vec3 there = compose(outer, at(place.point)).position;
    if (place.moves()) {
      const Pose& target = who.played.world.at(frame, target_number);
      there =
          target.position + (place.offset_space == Space::target ? Vec3{target.rotation * place.point} : place.point);
    }
    const Vec3 view = there - who.world(frame).position, above = outer.rotation * face.up;
    if (view.norm() < 1e-9) continue;
    const double across = view.normalized().cross(above.normalized()).norm();
    if (across > 0.01) continue;
    to.add("up-along-view", Severity::mistake, who.name(), frame,
           who.path() + " points along its up direction, to within " +
               few_digits(radians(std::asin(across)).in_degrees()) + " degrees",
           "choose another up, set only = \"yaw\", or keep the target from passing directly above or below");
    return;
  }
}

// --- spring ---

/// True where the goal of a spring does not move.
bool has_still_goal(const Spring& spring, const Who& who) {
  if (spring.target.is_given) return !spring.target.place.moves();
  const auto stack = who.played.scene.behaviours(who.played.objects[who.object]);
  return stack.front() == who.behaviour && spring.space == Space::parent;
}

/// One component of the difference from the goal.
double place_in(const Spring& spring, const Pose& pose, const Pose& from) {
  switch (spring.channel) {
    case Channel::position: return (pose.position - from.position).norm();
    case Channel::rotation: return angle_between(from.rotation, pose.rotation).in_degrees();
    case Channel::scale: return (pose.scale - from.scale).norm();
  }
  return 0.0;
}

void check_spring(const Spring& spring, const Who& who, Findings& to) {
  const Recording& local = who.played.local;
  if (has_still_goal(spring, who)) {
    const std::size_t last = local.frames() - 1;
    double widest = 0.0, late = 0.0;
    for (std::size_t frame = 0; frame <= last; ++frame) {
      const double out = place_in(spring, local.at(frame, who.object), local.at(last, who.object));
      widest = std::max(widest, out);
      if (frame > last - last / 10) late = std::max(late, out);
    }
    if (late > 0.05 * widest && late > 1e-6)
      to.add("unsettled", Severity::doubt, who.name(), last,
             who.path() + " still swings by " + few_digits(100.0 * late / widest) +
                 " % of its largest swing at the end of the play",
             "raise its damping or its frequency, or play longer");
  }
  const double settles = in_seconds(settling_time(spring));
  constexpr double very_long = 20.0;
  if (spring.frequency > 0.0 && settles > very_long)
    to.add("rings", Severity::doubt, who.name(), std::nullopt,
           spring.damping > 0.0 ? who.path() + " rings for " + few_digits(settles) + " s after a push"
                                : who.path() + " has no damping, so it rings for ever",
           "raise its damping: 0.1 to 0.3 rings briefly, 1 not at all");
}

// --- round things, and poses ---

bool is_even(double a, double b) { return std::abs(a - b) <= 1e-9 * std::max(a, b); }

/// True where a rotation is invisible: about the axis of symmetry of its shape, without other motion and without
/// children.
void check_round(const Played& played, std::size_t object, Findings& to) {
  const Scene& scene = played.scene;
  const auto& shape = scene.shape(played.objects[object]);
  if (!shape || shape->kind == Shape::Kind::box || !is_even(shape->size.x(), shape->size.z())) return;
  const bool is_ball = shape->kind == Shape::Kind::sphere && is_even(shape->size.x(), shape->size.y());
  for (const Object other : played.objects)
    if (scene.parent(other) == played.objects[object]) return;
  std::optional<std::size_t> turns_at;
  for (std::size_t frame = 1; frame < played.local.frames(); ++frame) {
    const Pose &a = played.local.at(frame - 1, object), &b = played.local.at(frame, object);
    if ((b.position - a.position).norm() + (b.scale - a.scale).norm() > 1e-9) return;
    const Vec3 turn = rotation_vector(a.rotation.conjugate() * b.rotation);  // in its own axes
    if (turn.norm() < 1e-6) continue;
    if (!is_ball && Vec3{turn.x(), 0.0, turn.z()}.norm() > 1e-6 * turn.norm()) return;
    if (!turns_at) turns_at = frame;
  }
  if (turns_at)
    to.add("round-turn", Severity::mistake, played.world.objects[object], *turns_at,
           "it turns about the axis of symmetry of its shape, so the turn is invisible",
           "turn it about another axis, or give it a shape or a child that shows the turn");
}

void check_poses(const Played& played, std::size_t object, Findings& to) {
  const Scene& scene = played.scene;
  for (const std::string& pose : scene.poses(played.objects[object])) {
    bool is_used = false;
    for (const AnyBehaviour behaviour : scene.behaviours(played.objects[object])) {
      for (const FieldInfo& field : scene.fields(behaviour)) {
        const auto value = scene.get(scene.path(behaviour) + "." + std::string{field.name});
        is_used = is_used || (value && value->as<std::string>() && *value->as<std::string>() == pose);
      }
    }
    for (const std::string& name : played.scene.rules())
      for (const Action& action : played.scene.rule(name).then)
        is_used = is_used || (action.object.object == played.objects[object] && action.word == pose);
    if (!is_used)
      to.add("unused", Severity::doubt, played.world.objects[object], std::nullopt,
             "nothing uses its pose \"" + pose + "\"", "use it in a glide or a rule, or remove it");
  }
}

}  // namespace

void check_behaviours(const Played& played, const CheckOptions& options, Findings& to) {
  for (std::size_t object = 0; object < played.objects.size(); ++object) {
    if (!played.scene.alive(played.objects[object])) continue;
    for (const AnyBehaviour behaviour : played.scene.behaviours(played.objects[object])) {
      const Who who{played, object, behaviour};
      if (const Follow* follow = played.scene.values_if<Follow>(behaviour)) check_follow(*follow, who, options, to);
      if (const Face* face = played.scene.values_if<Face>(behaviour)) check_face(*face, who, to);
      if (const Spring* spring = played.scene.values_if<Spring>(behaviour)) check_spring(*spring, who, to);
    }
    check_round(played, object, to);
    check_poses(played, object, to);
  }
}

}  // namespace hushed::detail
