// SPDX-License-Identifier: MIT
// Checks of the motion itself, whatever its cause.

#include <hushed/behaviour/glide.hpp>
#include <hushed/behaviour/route.hpp>
#include <hushed/detail/constants.hpp>

#include "check/checked.hpp"

namespace hushed::detail {

namespace {

/// The movements of an object from each frame to the next, in its parent's space.
struct Steps {
  std::vector<Vec3> moves;      ///< m
  std::vector<double> lengths;  ///< m
  std::vector<Vec3> turns;      ///< degrees, as rotation vectors
  std::vector<double> angles;   ///< degrees
};

Steps steps_of(const Recording& local, std::size_t object) {
  Steps steps;
  for (std::size_t frame = 1; frame < local.frames(); ++frame) {
    const Pose &a = local.at(frame - 1, object), &b = local.at(frame, object);
    steps.moves.push_back(b.position - a.position);
    steps.lengths.push_back(steps.moves.back().norm());
    steps.turns.push_back(rotation_vector(b.rotation * a.rotation.conjugate()) * degrees_per_radian);
    steps.angles.push_back(steps.turns.back().norm());
  }
  return steps;
}

/// The continuation of a motion after the last frame.
enum class Seam { none, begins_anew, turns_round };

Seam seam_of(const Scene& scene, Object object) {
  for (const AnyBehaviour behaviour : scene.behaviours(object)) {
    const Glide* glide = scene.values_if<Glide>(behaviour);
    const Route* route = scene.values_if<Route>(behaviour);
    if (glide && glide->ends == GlideEnds::repeat) return Seam::begins_anew;
    if (glide && glide->ends == GlideEnds::come_back) return Seam::turns_round;
    if (route && route->ends == RouteEnds::come_back) return Seam::turns_round;
  }
  return Seam::none;
}

/// The largest number, if it is far larger than nearly all others that are not 0, by more than `least`.
std::optional<std::size_t> outlier(const std::vector<double>& values, double least) {
  std::vector<double> some;
  std::copy_if(values.begin(), values.end(), std::back_inserter(some), [](double value) { return value > 1e-9; });
  const double usual = quantile(some, 0.9);
  const auto largest = std::max_element(values.begin(), values.end());
  if (largest == values.end() || *largest <= 10.0 * usual + least) {
    // A motion that jumps now and then, and rests between.
    const bool all_jumps = !some.empty() && some.size() * 10 < values.size() && quantile(some, 0.1) > 10.0 * least;
    if (!all_jumps) return std::nullopt;
  }
  return static_cast<std::size_t>(largest - values.begin());
}

/// Without a jump of the position, the velocity may still jump.
void check_kink(const std::string& name, const Steps& steps, Seam seam, double fps, Findings& to) {
  std::vector<double> changes, sizes;
  constexpr double per_degree = 0.02;  // m: the movement by a degree at about 1.1 m from the axis
  for (std::size_t i = 0; i < steps.moves.size(); ++i) {
    sizes.push_back(steps.lengths[i] + per_degree * steps.turns[i].norm());
    if (i > 0)
      changes.push_back((steps.moves[i] - steps.moves[i - 1]).norm() +
                        per_degree * (steps.turns[i] - steps.turns[i - 1]).norm());
  }
  const auto kink = std::max_element(changes.begin(), changes.end());
  if (kink == changes.end() || *kink <= 10.0 * quantile(changes, 0.9) || *kink <= 0.2 * quantile(sizes, 0.9)) return;
  const std::size_t frame = static_cast<std::size_t>(kink - changes.begin()) + 1;
  const double change = (steps.moves[frame] - steps.moves[frame - 1]).norm() * fps;
  const double turning = (steps.turns[frame] - steps.turns[frame - 1]).norm() * fps;
  to.add("seam", Severity::doubt, name, frame,
         std::string{seam == Seam::turns_round ? "where it turns back" : "where the loop begins again"} +
             " its velocity jumps by " +
             (change > 0.0 ? few_digits(change) + " m/s" : few_digits(turning) + " degrees a second"),
         "use an easing whose speed is 0 at both ends, such as \"in-out-sine\"");
}

void check_jumps(const Played& played, std::size_t object, const Steps& steps, double fps, Findings& to) {
  const std::string& name = played.world.objects[object];
  const Seam seam = seam_of(played.scene, played.objects[object]);
  const bool has_seam = seam == Seam::begins_anew;
  const std::string hint = has_seam
                               ? "let it end where it begins, set ends = \"return\", or hide the object during the jump"
                               : "check what changes there: a restart, a step in an easing, a target that jumps";
  for (const auto& [values, least, unit] : {std::tuple{&steps.lengths, 0.02, "m"}, {&steps.angles, 3.0, "degrees"}}) {
    const auto found = outlier(*values, least);
    if (!found) continue;
    to.add(has_seam ? "seam" : "jump", has_seam ? Severity::mistake : Severity::doubt, name, *found + 1,
           "it moves " + few_digits((*values)[*found]) + " " + unit + " in one frame, " +
               few_digits((*values)[*found] * fps) + " " + unit + " a second",
           hint);
    return;
  }
  if (seam != Seam::none) check_kink(name, steps, seam, fps, to);
}

void check_shiver(const Played& played, std::size_t object, const Steps& steps, Findings& to) {
  constexpr int many = 6;
  int in_a_row = 0;
  for (std::size_t i = 1; i < steps.moves.size(); ++i) {
    const bool is_back = steps.moves[i].dot(steps.moves[i - 1]) < -0.25 * steps.lengths[i] * steps.lengths[i - 1] &&
                         std::min(steps.lengths[i], steps.lengths[i - 1]) > 1e-5;
    in_a_row = is_back ? in_a_row + 1 : 0;
    if (in_a_row < many) continue;
    to.add("shiver", Severity::mistake, played.world.objects[object], i + 1 - many,
           "its direction is reversed in each of " + std::to_string(many) + " frames, by " +
               few_digits(steps.lengths[i]) + " m",
           "lower a frequency that is close to half the frame rate, or remove one of two behaviours that oppose each "
           "other");
    return;
  }
}

bool ever_changes(const Recording& local, std::size_t object) {
  const Pose& first = local.at(0, object);
  for (std::size_t frame = 1; frame < local.frames(); ++frame) {
    const Pose& pose = local.at(frame, object);
    if ((pose.position - first.position).norm() + (pose.scale - first.scale).norm() > 1e-9 ||
        angle_between(first.rotation, pose.rotation).in_degrees() > 1e-6)
      return true;
  }
  return false;
}

void check_never_moves(const Played& played, std::size_t object, Findings& to) {
  if (played.answers[object]) return;
  if (played.scene.behaviours(played.objects[object]).empty() || ever_changes(played.local, object)) return;
  const std::string first = played.scene.path(played.scene.behaviours(played.objects[object]).front());
  to.add(
      "never-moves", Severity::mistake, played.world.objects[object], std::nullopt,
      "it has behaviours, but does not move during the play",
      "check whether " + first + " has started, is enabled, and has an amplitude, a speed or a goal; or play longer");
}

void check_area(const Played& played, std::size_t object, const CheckOptions& options, Findings& to) {
  if (!options.area || !ever_changes(played.world, object)) return;
  const auto is_outside = [&](const Vec3& place) {
    return (place.array() < options.area->min.array()).any() || (place.array() > options.area->max.array()).any();
  };
  for (std::size_t frame = 0; frame < played.world.frames(); ++frame) {
    const Vec3& place = played.world.at(frame, object).position;
    if (!is_outside(place)) continue;
    to.add("leaves-view", Severity::mistake, played.world.objects[object], frame,
           "it is at " + few_digits(place.x()) + ", " + few_digits(place.y()) + ", " + few_digits(place.z()) +
               ", outside [view] area",
           "limit its path, let it turn back, or enlarge area in [view]");
    return;
  }
}

}  // namespace

void check_motion(const Played& played, const CheckOptions& options, Findings& to) {
  for (std::size_t object = 0; object < played.objects.size(); ++object) {
    if (!played.scene.alive(played.objects[object])) continue;
    const Steps steps = steps_of(played.local, object);
    check_never_moves(played, object, to);
    check_jumps(played, object, steps, options.frames_per_second, to);
    check_shiver(played, object, steps, to);
    check_area(played, object, options, to);
  }
}

}  // namespace hushed::detail
